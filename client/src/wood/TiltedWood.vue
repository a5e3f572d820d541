<script setup lang="ts">
import { onMounted, onUnmounted, reactive, ref, watch } from 'vue'
import { open, wood } from '../route/store'
import { lies_in, setup_of } from './lies'
import { make_tilt_painter, place_seen, type TiltPainter } from './tilt'

/** The wood tilted: drag or arrows turn it, the light goes round low so that ridges show. */
const props = defineProps<{ step: number; changed: number }>()
const canvas = ref<HTMLCanvasElement>()
const box = ref<HTMLElement>()
const failed = ref(false)
const pose = reactive({ turn_deg: -18, lean_deg: 48, near: 1, light_deg: 150, light_up_deg: 16, centre: [0, 0] as [number, number] })
const alone = ref(false)
let painter: TiltPainter | null = null
let masked: { setup: string; cells: Uint8Array } | null = null
let rest = 0
let frame = 0

function paint(quick: boolean) {
  if (!canvas.value || !box.value || !wood.value || failed.value) return
  const ratio = quick ? 0.6 : Math.min(2, window.devicePixelRatio || 1)
  const [w, h] = [Math.round(box.value.clientWidth * ratio), Math.round(box.value.clientHeight * ratio)]
  if (canvas.value.width !== w || canvas.value.height !== h) Object.assign(canvas.value, { width: w, height: h })
  try { painter ??= make_tilt_painter(canvas.value) } catch { failed.value = true; return }
  wood.value.show(props.step)
  painter.paint(wood.value, pose, quick, alone.value ? mask() : null)
}
/** Which cells are of the piece, in the frame of the step that is shown. */
function mask(): Uint8Array | null {
  const view = wood.value
  const ring = open.state?.drawing.solids.find((s) => s.kind === 'outline')?.rings[0]
  if (!view || !ring || !open.state) return null
  const setup = view.setup_at(props.step)
  if (masked?.setup === setup.id) return masked.cells
  const { nx, ny, cell_mm } = view.header
  const flat = new OffscreenCanvas(nx, ny).getContext('2d', { willReadFrequently: true })!
  const { signs } = lies_in(open.state.document.blank, setup_of(open.state.document, props.step))
  flat.beginPath()
  for (const [x, y] of ring) flat.lineTo((x * signs[0] - setup.x0_mm) / cell_mm, (y * signs[1] - setup.y0_mm) / cell_mm)
  flat.fill()
  const pixels = flat.getImageData(0, 0, nx, ny).data
  const cells = new Uint8Array(nx * ny)
  for (let k = 0; k < cells.length; k++) cells[k] = pixels[4 * k + 3] > 127 ? 1 : 0
  masked = { setup: setup.id, cells }
  return cells
}
/** Coarse while something moves, sharp when it rests. */
function moved() {
  cancelAnimationFrame(frame)
  frame = requestAnimationFrame(() => paint(true))
  window.clearTimeout(rest)
  rest = window.setTimeout(() => paint(false), 160)
}
function drag(event: PointerEvent) {
  if (!event.buttons) return
  if (event.shiftKey || event.buttons === 4) return shift(-event.movementX * 0.6, event.movementY * 0.6)
  turn(event.movementX * 0.4, event.movementY * 0.4)
}
/** Move what stands in the middle, mm of the plan as it is seen. */
function shift(across: number, up: number) {
  const a = (pose.turn_deg * Math.PI) / 180
  const b = blank_mm()
  const at = [pose.centre[0] + (across * Math.cos(a) - up * Math.sin(a)) / pose.near, pose.centre[1] + (across * Math.sin(a) + up * Math.cos(a)) / pose.near]
  pose.centre = [Math.max(-b[0] / 2, Math.min(b[0] / 2, at[0])), Math.max(-b[1] / 2, Math.min(b[1] / 2, at[1]))]
}
function blank_mm(): [number, number] {
  const h = wood.value?.header
  return h ? [h.nx * h.cell_mm, h.ny * h.cell_mm] : [1, 1]
}
function turn(across: number, up: number) {
  pose.turn_deg = ((pose.turn_deg - across + 540) % 360) - 180
  pose.lean_deg = Math.max(12, Math.min(90, pose.lean_deg + up))
}
/** Come nearer to the place under the pointer, or to the middle. */
function zoom(by: number, event?: WheelEvent) {
  const near = Math.max(0.7, Math.min(10, pose.near * by))
  if (event && box.value) {
    const r = box.value.getBoundingClientRect()
    const seen = place_seen(pose, Math.max(...blank_mm()), r.width / r.height, ((event.clientX - r.left) / r.width) * 2 - 1, 1 - ((event.clientY - r.top) / r.height) * 2)
    if (seen) { const part = 1 - pose.near / near; pose.centre = [pose.centre[0] + (seen[0] - pose.centre[0]) * part, pose.centre[1] + (seen[1] - pose.centre[1]) * part] }
  }
  pose.near = near
}
function key(event: KeyboardEvent) {
  const ways: Record<string, () => void> = {
    ArrowLeft: () => (event.shiftKey ? shift(-12, 0) : turn(-5, 0)), ArrowRight: () => (event.shiftKey ? shift(12, 0) : turn(5, 0)),
    ArrowUp: () => (event.shiftKey ? shift(0, 12) : turn(0, 4)), ArrowDown: () => (event.shiftKey ? shift(0, -12) : turn(0, -4)), '+': () => zoom(1.15), '-': () => zoom(1 / 1.15),
    l: () => { pose.light_deg = (pose.light_deg + 15) % 360 },
  }
  if (!ways[event.key] || event.ctrlKey || event.metaKey || event.altKey) return
  event.preventDefault()
  event.stopPropagation()
  ways[event.key]()
}
watch([pose, alone], moved)
watch(wood, () => { masked = null }, { flush: 'sync' })
watch([() => props.step, () => props.changed, wood], moved, { flush: 'post' })
let watcher: ResizeObserver | null = null
onMounted(() => { watcher = new ResizeObserver(() => paint(false)); watcher.observe(box.value!) })
onUnmounted(() => { watcher?.disconnect(); cancelAnimationFrame(frame); window.clearTimeout(rest) })
</script>

<template>
  <div class="tilted">
    <div ref="box" class="stage" tabindex="0" role="img" :aria-label="`The wood after ${step} operations, tilted. Arrows turn it, with Shift they move it, plus and minus come nearer, L moves the light.`" @pointermove="drag" @wheel.prevent="(e) => zoom(e.deltaY < 0 ? 1.12 : 1 / 1.12, e)" @keydown="key">
      <p v-if="failed" class="word">This screen cannot draw in three dimensions. The wood from above, the section and the thickness show the same wood.</p>
      <canvas v-else ref="canvas" />
    </div>
    <div class="light">
      <label>Light from <input v-model.number="pose.light_deg" type="range" min="0" max="360" step="5" aria-label="Light from, degrees"></label>
      <label>low <input v-model.number="pose.light_up_deg" type="range" min="3" max="70" step="1" aria-label="Height of the light, degrees"> high</label>
      <label><input v-model="alone" type="checkbox"> Without the waste</label>
      <span class="second visually-hidden">Drag, Shift-drag, wheel.</span>
    </div>
  </div>
</template>

<style scoped>
.tilted { height: 100%; display: flex; flex-direction: column; min-height: 0; }
.stage { flex: 1; min-height: 0; position: relative; touch-action: none; cursor: grab; }
.stage:active { cursor: grabbing; }
canvas { position: absolute; inset: 0; width: 100%; height: 100%; }
.light { display: flex; gap: 14px; align-items: center; flex-wrap: wrap; min-height: 28px; }
.light label { display: flex; gap: 6px; align-items: center; white-space: nowrap; }
input[type='range'] { accent-color: var(--ink); width: 84px; }
</style>
