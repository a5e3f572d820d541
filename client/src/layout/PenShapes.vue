<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Point, Solid } from '../api/types'
import { length } from '../units/format'
import MarkingOut from './MarkingOut.vue'
import RulerLines from './RulerLines.vue'
import { feature_of, is_drawn, pen, place, step_mm, take_up, type Moved } from './pen'
import type { Box } from './zoom'

/** The shapes of the piece under the pen: taken, dragged, moved with the arrows; or the place of a new one pressed. */
const props = defineProps<{
  solids: Solid[]; at: (event: PointerEvent) => Point; box: Box; scale: number; saddle: number | null
}>()
const held = ref<{ id: string; from: Point; by: Point } | null>(null)
const shapes = computed(() => props.solids.filter((s) => feature_of(s.id) && (s.kind === 'pocket' || s.kind === 'hole')
  && (pen.face === 'both' || s.face === pen.face || s.floor_mm === null)))
const line = (ring: readonly Point[]) => `M${ring.map(([x, y]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`).join('L')}Z`
const whole = (s: Solid) => (s.rings as Point[][]).map(line).join('')
const moves = (id: string) => { const f = feature_of(id); return !!f && is_drawn(f) && !f.locked }
const tenth = (v: number) => Math.round(v * 10) / 10
function grab(event: PointerEvent, s: Solid) {
  take_up('')
  pen.taken = s.id
  if (!moves(s.id)) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  held.value = { id: s.id, from: props.at(event), by: [0, 0] }
}
function pull(event: PointerEvent) {
  if (!held.value) return
  const now = props.at(event)
  held.value.by = [tenth(now[0] - held.value.from[0]), tenth(now[1] - held.value.from[1])]
}
async function drop(s: Solid) {
  const by = held.value?.by
  if (by && Math.hypot(...by) > 0.4) await move(s, { dx_mm: by[0], dy_mm: by[1] }, 'Move')
  held.value = null
}
const move = (s: Solid, by: Moved, words: string) => place(s.id, by, `${words} ${s.name}`)
/** Arrows move by a step, Shift by ten, Alt by a tenth of one; R turns by 90 degrees, M mirrors. */
function key(event: KeyboardEvent, s: Solid) {
  const way: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
  const to = way[event.key]
  const letter = event.key.toLowerCase()
  if (event.ctrlKey || event.metaKey || !moves(s.id) || (!to && letter !== 'r' && letter !== 'm')) return
  event.preventDefault()
  event.stopPropagation()
  if (!to) return void move(s, letter === 'r' ? { turn_deg: 90 } : { mirror: true }, letter === 'r' ? 'Turn' : 'Mirror')
  const by = step_mm() * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1)
  void move(s, { dx_mm: to[0] * by, dy_mm: to[1] * by }, 'Move')
}
function put(event: PointerEvent) {
  const [x, y] = props.at(event)
  const zero = props.saddle ?? 0 // halves of a millimetre from where numbers are counted
  const there: Point = [zero + Math.round((x - zero) * 2) / 2, Math.round(y * 2) / 2]
  if (pen.hand === 'free') pen.points.push(there)
  else pen.at = there
}
const by_of = (id: string): Point => (held.value?.id === id ? held.value.by : [0, 0])
const shift = (id: string) => `translate(${by_of(id)[0]} ${-by_of(id)[1]})`
const middle = (s: Solid): Point => {
  const all = (s.rings as Point[][]).flat()
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])]
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2]
}
const says = (s: Solid) => `${s.name} at ${length(middle(s)[0], 1)}, ${length(middle(s)[1], 1)}. ${
  moves(s.id) ? 'Arrows move it.' : 'It stays where it is.'}`
const long = computed(() => pen.size.length_mm ?? pen.size.diameter_mm ?? 20)
const wide = computed(() => pen.size.width_mm ?? pen.size.diameter_mm ?? 20)
const is_round = computed(() => ['hole', 'row', 'oval'].includes(pen.hand))
</script>

<template>
  <g>
    <RulerLines :box="box" :scale="scale" :saddle="saddle" />
    <g v-for="s in shapes" :key="s.id" class="shape" :class="{ here: pen.taken === s.id }" tabindex="0" role="button"
      :aria-label="says(s)" :aria-pressed="pen.taken === s.id" :transform="shift(s.id)" @pointerdown="grab($event, s)"
      @pointermove="pull" @pointerup="drop(s)" @pointercancel="held = null" @keydown="key($event, s)"
      @keydown.enter="pen.taken = s.id" @keydown.space.prevent="pen.taken = s.id">
      <path :d="whole(s)" fill-rule="evenodd" :fill="pen.taken === s.id ? '#8a5f3a' : '#b98d63'"
        :fill-opacity="s.face === 'back' ? 0.25 : 1" stroke="#1d1a17" :stroke-width="pen.taken === s.id ? 1.8 : 0.7"
        :stroke-dasharray="s.face === 'back' && s.floor_mm !== null ? '1.4 2.2' : ''" />
    </g>
    <MarkingOut v-if="pen.taken && pen.places" :solids="solids" :by="by_of(pen.taken)" :scale="scale" :box="box" />
    <template v-if="pen.hand">
      <rect :x="box.x0" :y="-box.y1" :width="box.x1 - box.x0" :height="box.y1 - box.y0" fill="transparent" class="put"
        @pointerdown="put" />
      <g v-if="pen.hand === 'free'" fill="none" stroke="#3c5a29" :stroke-width="1.4 * scale" pointer-events="none">
        <path v-if="pen.points.length > 1" :d="line(pen.points)" :stroke-dasharray="`${4 * scale} ${3 * scale}`" />
        <circle v-for="(p, k) in pen.points" :key="k" :cx="p[0]" :cy="-p[1]" :r="3 * scale" fill="#fbf9f5" />
      </g>
      <g v-else-if="pen.at" pointer-events="none"
        :transform="`translate(${pen.at[0]} ${-pen.at[1]}) rotate(${-pen.angle_deg})`">
        <ellipse v-if="is_round" :rx="long / 2" :ry="wide / 2" fill="none" stroke="#3c5a29" stroke-width="1.4"
          stroke-dasharray="4 3" />
        <rect v-else :x="-long / 2" :y="-wide / 2" :width="long" :height="wide" :rx="pen.hand === 'slot' ? wide / 2 : 0"
          fill="none" stroke="#3c5a29" stroke-width="1.4" stroke-dasharray="4 3" />
        <path d="M-6 0H6M0 -6V6" stroke="#3c5a29" stroke-width="1.2" />
      </g>
    </template>
  </g>
</template>

<style scoped>
.shape { cursor: grab; }
.shape:focus-visible { outline: none !important; }
.shape:focus-visible path { stroke-width: 2.8; }
.put { cursor: crosshair; }
</style>
