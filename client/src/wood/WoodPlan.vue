<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import type { Point } from '../api/types'
import type { Lettered } from '../route/store'
import { open, wood } from '../route/store'
import { folded, kept, run_of, type SectionLine } from '../section/line'
import { lies_in, setup_of } from './lies'
import { make_painter, type Field, type Painter } from './paint'

/** The blank seen from above: wood as it is after a step, the piece's shapes over it, flags and hardware. */
const props = defineProps<{ step: number; section: SectionLine | null; findings: Lettered[]; border?: number; setup?: string; field?: (() => Field | undefined) | null; changed?: number; measuring?: boolean }>()
const emit = defineEmits<{ section: [line: SectionLine]; pick: [letter: string]; hover: [at: [number, number] | null]; place: [at: [number, number]] }>()
const canvas = ref<HTMLCanvasElement>()
const box = ref<HTMLElement>()
const room = ref({ width: 590, height: 420 })
let painter: Painter | null = null
let painted_at = 0
let sharpen = 0
const blank = computed(() => open.state?.document.blank)
const border = computed(() => props.border ?? 0)
const scale = computed(() => {
  const b = blank.value
  return b ? Math.min(room.value.width / (b.length_mm + 2 * border.value), room.value.height / (b.width_mm + 2 * border.value)) : 1
})
const size = computed(() => ({ w: ((blank.value?.length_mm ?? 1) + 2 * border.value) * scale.value, h: ((blank.value?.width_mm ?? 1) + 2 * border.value) * scale.value }))
/** Points are those of the piece; a turned setup shows it turned over. */
const lies = computed(() => { const d = open.state?.document; return d ? lies_in(d.blank, d.setups.find((s) => s.id === props.setup) ?? setup_of(d, props.step)) : null })
const sx = (x: number) => ((lies.value?.signs[0] ?? 1) * x - (lies.value?.corner[0] ?? 0) + border.value) * scale.value
const sy = (y: number) => size.value.h - ((lies.value?.signs[1] ?? 1) * y - (lies.value?.corner[1] ?? 0) + border.value) * scale.value
/** Where a place of the picture lies on the piece. */
const back = (px: number, py: number): [number, number] => {
  const l = lies.value!
  return [l.signs[0] * (px / scale.value - border.value + l.corner[0]), l.signs[1] * ((size.value.h - py) / scale.value - border.value + l.corner[1])]
}
defineExpose({ scale, sx, sy, size, back, lies })
const hidden = (s: { face: string; floor_mm: number | null; kind: string }) => s.kind !== 'outline' && s.floor_mm !== null && s.face !== (lies.value?.setup.face ?? 'front')
const inner = computed(() => ({ left: border.value * scale.value, top: border.value * scale.value, width: (blank.value?.length_mm ?? 1) * scale.value, height: (blank.value?.width_mm ?? 1) * scale.value }))
const path = (ring: [number, number][]) => `M${ring.map(([x, y]) => `${sx(x).toFixed(1)} ${sy(y).toFixed(1)}`).join('L')}Z`
const done = computed(() => new Set(open.state?.document.operations.slice(0, props.step).flatMap((o) => o.features)))

function paint() {
  const view = wood.value
  if (!view || !canvas.value || !blank.value) return
  const quick = performance.now() - painted_at < 140  // half size while it moves, sharp when it rests
  painted_at = performance.now()
  window.clearTimeout(sharpen)
  if (quick) sharpen = window.setTimeout(() => { painted_at = 0; paint() }, 180)
  const ratio = quick ? 0.5 : Math.min(2, window.devicePixelRatio || 1)
  const w = Math.round(inner.value.width * ratio)
  const h = Math.round(inner.value.height * ratio)
  if (canvas.value.width !== w || canvas.value.height !== h) Object.assign(canvas.value, { width: w, height: h })
  if (!painter) {
    const wants_flat = new URLSearchParams(window.location.search).has('flat')
    try { painter = make_painter(canvas.value, !wants_flat) } catch { painter = null }
  }
  view.show(props.step)
  painter?.paint(view, lies.value?.top_mm ?? 0, props.field?.())
}
let watcher: ResizeObserver | null = null
onMounted(() => {
  watcher = new ResizeObserver((entries) => {
    const r = entries[0].contentRect
    if (Math.abs(r.width - room.value.width) < 1 && Math.abs(r.height - room.value.height) < 1) return  // the section below follows the scale, and would push it to and fro
    room.value = { width: Math.floor(r.width), height: Math.floor(r.height) }
  })
  watcher.observe(box.value!)
})
onUnmounted(() => { watcher?.disconnect(); window.clearTimeout(sharpen) })
watch([() => props.step, () => props.field, () => props.changed, wood, inner], paint, { flush: 'post', immediate: true })

/** The section's line on the screen: its ends as they lie in this setup, left end first. */
const line = computed(() => {
  if (!props.section || !lies.value || !blank.value) return null
  const run = run_of(props.section, blank.value, lies.value)
  const px = ([x, y]: Point): Point => [sx(x * lies.value!.signs[0]), sy(y * lies.value!.signs[1])]
  const [from, to] = [px(run.from), px(run.to)]
  return { from, to, deg: (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI }
})
let turning = false
/** Turn the line about its place so that it points at the pointer; straight along, straight across and half way hold it. */
function turn_to(at: Point) {
  const [dx, dy] = [at[0] - props.section!.at[0], at[1] - props.section!.at[1]]
  if (Math.hypot(dx, dy) < 4) return
  const deg = folded((Math.atan2(dy, dx) * 180) / Math.PI)
  const held = Math.round(deg / 45) * 45
  emit('section', { at: props.section!.at, turn_deg: folded(Math.abs(deg - held) < 2.5 ? held : Math.round(deg * 2) / 2) })
}
function drag(event: PointerEvent) {
  if (!lies.value) return
  const pressed = event.type === 'pointerdown'
  const r = (event.currentTarget as Element).getBoundingClientRect()
  const at = back(event.clientX - r.left, event.clientY - r.top)
  emit('hover', at)
  if (pressed) turning = !!(event.target as Element).closest('.turns')
  if (props.measuring && pressed) emit('place', at)
  if (props.measuring || props.section === null || (!pressed && event.buttons === 0)) return
  if (turning) return turn_to(at)
  emit('section', kept({ at, turn_deg: props.section.turn_deg }, blank.value!))
}
</script>

<template>
  <div ref="box" class="box">
    <div class="plan" tabindex="-1" data-plan :style="{ width: `${size.w}px`, height: `${size.h}px` }">
      <canvas ref="canvas" class="wood" :class="{ empty: !wood }" :style="{ left: `${inner.left}px`, top: `${inner.top}px`, width: `${inner.width}px`, height: `${inner.height}px` }" role="img" :aria-label="`The wood after ${step} operations`" />
      <slot name="over" />
      <svg :width="size.w" :height="size.h" @pointerdown="drag" @pointermove="drag" @pointerleave="emit('hover', null)">
        <slot name="under" />
        <clipPath id="shown"><rect x="0" y="0" :width="size.w" :height="size.h" /></clipPath>
        <g v-for="s in open.state?.drawing.solids ?? []" :key="s.id" clip-path="url(#shown)">
          <path v-for="(ring, k) in s.rings" :key="k" :d="path(ring)" fill="none" stroke="#1d1a17" :stroke-width="done.has(s.id) ? 0.6 : 1.1" :stroke-dasharray="hidden(s) ? '1.4 3' : done.has(s.id) ? '' : '5 4'" :opacity="hidden(s) ? 0.6 : done.has(s.id) ? 0.5 : 0.85" />
        </g>
        <g v-if="line"><line :x1="line.from[0]" :y1="line.from[1]" :x2="line.to[0]" :y2="line.to[1]" stroke="#1d1a17" stroke-width="1.2" />
          <g v-for="(end, k) in [line.from, line.to]" :key="k" class="turns" :transform="`translate(${end[0]} ${end[1]}) rotate(${line.deg + 180 * k})`"><rect x="-16" y="-14" width="30" height="28" fill="transparent" /><path d="M-8 -4h10l6 4l-6 4h-10z" fill="var(--ink)" /></g></g>
        <slot />
        <g v-for="f in findings.filter((f) => f.place)" :key="f.letter" class="pin" tabindex="0" role="button" :aria-label="`Finding ${f.letter}`" @click="emit('pick', f.letter)" @keydown.enter.stop="emit('pick', f.letter)">
          <circle :cx="sx(f.place![0])" :cy="sy(f.place![1])" r="2.6" fill="#1d1a17" />
          <line :x1="sx(f.place![0])" :x2="sx(f.place![0])" :y1="sy(f.place![1])" :y2="sy(f.place![1]) - 30" stroke="#1d1a17" stroke-width="1.4" />
          <g :transform="`translate(${sx(f.place![0])} ${sy(f.place![1]) - 30})`">
            <path v-if="f.severity === 'stop'" d="M0 0H26L20 9L26 18H0Z" fill="#a5301a" />
            <path v-else-if="f.severity === 'care'" d="M0 0H18L26 9L18 18H0Z" fill="#f0b13c" stroke="#1d1a17" />
            <rect v-else width="20" height="18" fill="#fbf9f5" stroke="#1d1a17" stroke-width="1.3" />
            <text x="9.5" y="14" text-anchor="middle" font-size="13.5" font-weight="700" :fill="f.severity === 'stop' ? '#fff' : '#1d1a17'">{{ f.letter }}</text>
          </g>
        </g>
      </svg>
    </div>
  </div>
</template>

<style scoped>
.box { width: 100%; height: 100%; min-height: 0; }
.plan { position: relative; margin: 0 auto; }
.wood { position: absolute; box-shadow: 0 3px 8px rgb(0 0 0 / 0.28); background: var(--alder); }
.wood.empty { background: repeating-linear-gradient(90deg, var(--well), var(--well) 6px, var(--paper) 6px, var(--paper) 12px); }
svg { position: absolute; inset: 0; overflow: visible; touch-action: none; }
.pin { cursor: pointer; }
.turns { cursor: grab; }
</style>
