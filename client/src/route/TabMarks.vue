<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Operation, Point } from '../api/types'
import { edit, open, set } from './store'

/** The tabs of an outline on the plan: dragged along the rim, or moved by the arrow keys. */
const props = defineProps<{ operation: Operation; places: Point[]; sx: (x: number) => number; sy: (y: number) => number; back: (px: number, py: number) => Point }>()
const dragged = ref<{ number: number; x: number; y: number } | null>(null)
const rim = computed(() => open.state?.drawing.solids.find((s) => s.id === props.operation.features[0])?.rings[0] ?? [])
const length = computed(() => rim.value.reduce((sum, [x, y], k) => { const [a, b] = rim.value[(k + 1) % rim.value.length]; return sum + Math.hypot(a - x, b - y) }, 0) || 1)
/** The place of the rim nearest to a point. */
function on_rim(x: number, y: number): Point {
  let best: Point = [x, y]
  let least = Infinity
  rim.value.forEach(([x0, y0], k) => {
    const [x1, y1] = rim.value[(k + 1) % rim.value.length]
    const l2 = (x1 - x0) ** 2 + (y1 - y0) ** 2 || 1
    const t = Math.max(0, Math.min(1, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / l2))
    const p: Point = [x0 + t * (x1 - x0), y0 + t * (y1 - y0)]
    const away = Math.hypot(p[0] - x, p[1] - y)
    if (away < least) { least = away; best = p }
  })
  return best
}
const shown = computed(() => props.places.map((p, k) => (dragged.value?.number === k ? [dragged.value.x, dragged.value.y] as Point : p)))
function place_of(event: PointerEvent): Point {
  const box = (event.target as SVGElement).closest('svg')!.getBoundingClientRect()
  return on_rim(...props.back(event.clientX - box.left, event.clientY - box.top))
}
function down(number: number, event: PointerEvent) {
  event.stopPropagation()
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  dragged.value = { number, x: props.places[number][0], y: props.places[number][1] }
}
function move(event: PointerEvent) {
  if (!dragged.value) return
  event.stopPropagation()
  const [x, y] = place_of(event)
  dragged.value = { ...dragged.value, x, y }
}
async function up(event: PointerEvent) {
  const d = dragged.value
  if (!d) return
  event.stopPropagation()
  await edit([{ do: 'move_tab', operation: props.operation.id, number: d.number, x_mm: d.x, y_mm: d.y }], `Move tab ${d.number + 1}`)
  dragged.value = null
}
function key(number: number, event: KeyboardEvent) {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (event.key === 'Delete' || event.key === 'Backspace') void set(`operations.${props.operation.id}.tabs`, props.operation.tabs.filter((_, k) => k !== number))
  else if (way) {
    const by = (way * (event.shiftKey ? 10 : 2)) / length.value
    void set(`operations.${props.operation.id}.tabs`, props.operation.tabs.map((t, k) => (k === number ? { ...t, at: (t.at + by + 1) % 1 } : t)))
  } else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <g v-for="([x, y], k) in shown" :key="k" class="tab" tabindex="0" role="button" :aria-label="`Tab ${k + 1} of ${shown.length}: arrows move it along the rim, Delete takes it away`"
    :transform="`translate(${sx(x)} ${sy(y)})`" @pointerdown="down(k, $event)" @pointermove="move" @pointerup="up" @keydown="key(k, $event)">
    <circle r="13" fill="transparent" /><path d="M-6 -6H6V6H-6Z" transform="rotate(45)" /><text y="4.5" text-anchor="middle">{{ k + 1 }}</text>
  </g>
</template>

<style scoped>
.tab { cursor: grab; touch-action: none; }
path { fill: #fbf9f5; stroke: #1d1a17; stroke-width: 1.6; }
text { font-weight: 700; font-size: 12px; fill: #1d1a17; pointer-events: none; }
</style>
