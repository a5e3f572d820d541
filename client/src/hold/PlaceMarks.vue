<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Point, Setup } from '../api/types'
import { edit, open, set } from '../route/store'
import { length } from '../units/format'
import type { Lies } from '../wood/lies'

/** Where Z is touched off on the wood, and where the machine starts and parks: dragged, or moved with the arrows. */
interface Plan {
  sx: (x: number) => number; sy: (y: number) => number; back: (px: number, py: number) => Point; lies: Lies | null
}
const props = defineProps<{ setup: Setup; plan: Plan }>()
type Kind = 'touch' | 'park'
const dragged = ref<{ kind: Kind; at: Point } | null>(null)
const lies = computed(() => props.plan.lies)
/** The park place counts from the blank's corner as it lies in this setup; here it is a place of the piece. */
const park_at = computed<Point>(() => {
  const l = lies.value!
  return [l.signs[0] * (l.corner[0] + props.setup.park_mm[0]), l.signs[1] * (l.corner[1] + props.setup.park_mm[1])]
})
const touch_at = computed<Point>(() => [props.setup.zero.touch_x_mm, props.setup.zero.touch_y_mm])
const marks = computed(() => [
  ...(props.setup.zero.z === 'stock_top'
    ? [{ kind: 'touch' as Kind, name: 'Z is touched off', at: touch_at.value }] : []),
  { kind: 'park' as Kind, name: 'Starts and parks', at: park_at.value },
].map((m) => (dragged.value?.kind === m.kind ? { ...m, at: dragged.value.at } : m)))
const round = (v: number) => Math.round(v * 10) / 10
function put(kind: Kind, [x, y]: Point) {
  const l = lies.value!
  const path = `setups.${props.setup.id}`
  const from = [round(l.signs[0] * x - l.corner[0]), round(l.signs[1] * y - l.corner[1])]
  if (kind === 'park') return set(`${path}.park_mm`, from)
  return edit([{ do: 'set', path: `${path}.zero.touch_x_mm`, value: round(x) },
    { do: 'set', path: `${path}.zero.touch_y_mm`, value: round(y) }], 'Move where Z is touched off')
}
function place(event: PointerEvent): Point {
  const svg = (event.target as SVGElement).closest('svg')!.getBoundingClientRect()
  return props.plan.back(event.clientX - svg.left, event.clientY - svg.top)
}
function down(kind: Kind, at: Point, event: PointerEvent) {
  event.stopPropagation()
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  dragged.value = { kind, at }
}
function move(event: PointerEvent) { if (dragged.value) dragged.value = { ...dragged.value, at: place(event) } }
async function drop(event: PointerEvent) {
  const now = dragged.value
  if (!now) return
  await put(now.kind, place(event))
  dragged.value = null
}
function nudge(kind: Kind, at: Point, event: KeyboardEvent) {
  const by = event.shiftKey ? 10 : 1
  const way: Record<string, Point> = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }
  const step = way[event.key]
  if (!step) return
  event.preventDefault()
  event.stopPropagation()
  const signs = lies.value!.signs
  void put(kind, [at[0] + signs[0] * step[0], at[1] + signs[1] * step[1]])
}
const words = (m: { name: string; at: Point }) =>
  `${m.name} at ${length(m.at[0], 1)}, ${length(m.at[1], 1)}. Arrows move it.`
const caption = (kind: Kind) => (kind === 'touch' ? 'Z' : 'park')
</script>

<template>
  <g v-if="lies && open.state">
    <g v-for="m in marks" :key="m.kind" class="mark" tabindex="0" role="button" :aria-label="words(m)"
      :transform="`translate(${plan.sx(m.at[0])} ${plan.sy(m.at[1])})`" @pointerdown="down(m.kind, m.at, $event)"
      @pointermove="move" @pointerup="drop" @keydown="nudge(m.kind, m.at, $event)">
      <circle r="13" fill="transparent" />
      <path v-if="m.kind === 'touch'" d="M-8 0h16M0 -8v16" stroke="#1d1a17" stroke-width="2" />
      <path v-else d="M-7 7V-7H7V7Z" fill="#fbf9f5" stroke="#1d1a17" stroke-width="1.6" />
      <text x="11" y="5">{{ caption(m.kind) }}</text>
    </g>
  </g>
</template>

<style scoped>
.mark { cursor: grab; }
.mark text { font-size: 14px; font-weight: 700; fill: #1d1a17; paint-order: stroke; stroke: #cdc4b2;
  stroke-width: 3px; }
</style>
