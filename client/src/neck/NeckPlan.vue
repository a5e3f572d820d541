<script setup lang="ts">
import { computed } from 'vue'
import type { NeckView } from '../api/types'
import { length } from '../units/format'

/** A neck across the page: its back, its side, its face with the board; a line walks along all three. */
const props = defineProps<{ view: NeckView; at: number; board_mm: number }>()
const emit = defineEmits<{ choose: [fret: number] }>()
const rows = computed(() => props.view.rows)
const row = computed(() => rows.value.find((r) => r.number === props.at) ?? rows.value[0])
const SIDE = 34
const box = computed(() => {
  const xs = props.view.outline.map((p) => p[0])
  const half = Math.max(...props.view.outline.map((p) => Math.abs(p[1])))
  const end = Math.max(...xs, ...props.view.fret_lines.map((l) => l[0][0]))
  const x0 = Math.min(...xs) - 4
  const [back, side] = [half + 8, 2 * half + 14 + 6]
  return { x0, x1: end + 6, half, back, side, face: side + SIDE + half + 4, tall: side + SIDE + 2 * half + 18 }
})
const ring = (points: number[][], up: number, y0: number) =>
  points.map(([x, y]) => `${x.toFixed(2)},${(y0 + up * y).toFixed(2)}`).join(' ')
const back = computed(() => ring(props.view.outline, 1, box.value.back))
const face = computed(() => ring(props.view.outline, -1, box.value.face))
const board = computed(() => {
  const first = props.view.fret_lines[0]
  const last = props.view.fret_lines[props.view.fret_lines.length - 1]
  const shift = props.view.heel_end_mm - Math.max(last[0][0], last[1][0])
  const past = Math.max(shift, 4)
  return ring([first[0], [last[0][0] + past, last[0][1]], [last[1][0] + past, last[1][1]], first[1]], -1,
    box.value.face)
})
const side_y = (z: number) => box.value.side + props.board_mm + z
const profile = computed(() => [
  ...props.view.face.map(([x, z]) => [x, side_y(z)]), ...[...props.view.side].reverse().map(([x, z]) => [x, side_y(z)]),
].map(([x, y]) => `${x.toFixed(2)},${y.toFixed(2)}`).join(' '))
const rod = computed(() => {
  const r = props.view.rod
  if (!r.length) return ''
  return [[r[0][0], side_y(0)], ...r.map(([x, z]) => [x, side_y(z)]), [r[r.length - 1][0], side_y(0)]]
    .map(([x, y]) => `${x},${y.toFixed(2)}`).join(' ')
})
const least = computed(() => [...props.view.least_under].sort((a, b) => a.left_mm - b.left_mm)[0])
const turns = computed(() => Math.max(0, ...props.view.strings.map((s) => s.side_deg)))
const breaks = computed(() => {
  const found = props.view.strings.map((s) => s.break_deg).filter((v): v is number => v !== null)
  return found.length ? Math.min(...found) : null
})
const said = computed(() => `Fret ${row.value.number}, ${length(row.value.x_mm)} from the nut, `
  + `${length(row.value.thick_mm, 1)} thick`)
function press(event: KeyboardEvent) {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const last = rows.value.length - 1
  if (way) emit('choose', Math.min(last, Math.max(0, props.at + way)))
  else if (event.key === 'Home') emit('choose', 0)
  else if (event.key === 'End') emit('choose', last)
  else return
  event.preventDefault()
}
/** Pressing anywhere takes the fret nearest to the place. */
function point(event: PointerEvent) {
  const svg = event.currentTarget as SVGSVGElement
  const to = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()!.inverse())
  const near = [...rows.value].sort((a, b) => Math.abs(a.x_mm - to.x) - Math.abs(b.x_mm - to.x))[0]
  emit('choose', near.number)
}
</script>

<template>
  <svg class="plan" :viewBox="`${box.x0} 0 ${box.x1 - box.x0} ${box.tall}`" tabindex="0" role="slider"
    aria-label="Fret that is looked at" :aria-valuemin="0" :aria-valuemax="rows.length - 1" :aria-valuenow="at"
    :aria-valuetext="said" @keydown="press" @pointerdown="point">
    <defs>
      <linearGradient id="neck-round" x1="0" y1="0" x2="0" y2="1">
        <stop offset="0" stop-color="#b98d5c" /><stop offset=".2" stop-color="#e3bf8d" />
        <stop offset=".45" stop-color="#f0d5ab" /><stop offset=".8" stop-color="#d9b07b" />
        <stop offset="1" stop-color="#946a41" />
      </linearGradient>
    </defs>
    <g>
      <polygon :points="back" fill="url(#neck-round)" stroke="#1d1a17" stroke-width=".5" />
      <circle v-for="(p, k) in view.posts" :key="`b${k}`" :cx="p[0]" :cy="box.back + p[1]" :r="p[2] / 2 || 3"
        :fill="p[2] ? '#1d1a17' : 'none'" stroke="#1d1a17" stroke-width=".5" />
      <line v-for="x in [view.heel_from_mm, view.head_end_mm]" :key="x" :x1="x" :x2="x"
        :y1="box.back - box.half * .72" :y2="box.back + box.half * .72" stroke="#4f4840" stroke-width=".5"
        stroke-dasharray="3 2" />
      <text :x="box.x0 + 1" y="8" class="name">Back</text>
    </g>
    <g>
      <polygon :points="profile" fill="#e3bf8d" stroke="#1d1a17" stroke-width=".5" />
      <rect x="0" :y="side_y(-board_mm)" :width="box.x1 - 6" :height="board_mm" fill="#8f5840" stroke="#1d1a17"
        stroke-width=".4" />
      <polygon v-if="rod" :points="rod" fill="#b9ae97" stroke="#1d1a17" stroke-width=".4" stroke-dasharray="2 1.4" />
      <line v-for="r in rows.slice(1)" :key="`t${r.number}`" :x1="r.x_mm" :x2="r.x_mm" :y1="side_y(-board_mm)"
        :y2="side_y(-board_mm) + 2" stroke="#1d1a17" stroke-width=".6" />
      <circle v-if="least" :cx="least.x_mm" :cy="side_y(least.left_mm > 0 ? 14 : 10)" r="0" />
      <text :x="box.x0 + 1" :y="box.side + 4" class="name">Side</text>
    </g>
    <g>
      <polygon :points="face" fill="#e3bf8d" stroke="#1d1a17" stroke-width=".5" />
      <polygon :points="board" fill="#8f5840" stroke="#1d1a17" stroke-width=".4" />
      <line v-for="(l, k) in view.fret_lines" :key="`f${k}`" :x1="l[0][0]" :x2="l[1][0]" :y1="box.face - l[0][1]"
        :y2="box.face - l[1][1]" stroke="#1d1a17" :stroke-width="k ? .7 : 1.6" />
      <g v-for="s in view.strings" :key="`s${s.string}`">
        <line :x1="s.nut[0]" :y1="box.face - s.nut[1]" :x2="s.post[0]" :y2="box.face - s.post[1]" stroke="#f4f0e8"
          stroke-width=".7" />
        <line :x1="s.nut[0]" :y1="box.face - s.nut[1]" :x2="s.post[0]" :y2="box.face - s.post[1]" stroke="#1d1a17"
          stroke-width=".25" />
      </g>
      <circle v-for="(p, k) in view.posts" :key="`p${k}`" :cx="p[0]" :cy="box.face - p[1]" :r="p[2] / 2 || 3"
        :fill="p[2] ? '#cfc7b6' : 'none'" stroke="#1d1a17" stroke-width="1" />
      <line v-if="view.retainer" :x1="view.retainer[0]" :x2="view.retainer[0]" :y1="box.face - 6" :y2="box.face - 16"
        stroke="#1d1a17" stroke-width="2" />
      <text :x="box.x0 + 1" :y="box.face - box.half + 2" class="name">Board</text>
    </g>
    <g fill="var(--ink)" stroke="var(--ink)">
      <line :x1="row.x_mm" :x2="row.x_mm" y1="5" :y2="box.tall - 5" stroke-width=".7" />
      <ellipse :cx="row.x_mm" cy="4" rx="6" ry="1.9" /><ellipse :cx="row.x_mm" :cy="box.tall - 4" rx="6" ry="1.9" />
      <text :x="row.x_mm + 8" y="8" class="mark" stroke="none">{{ row.number || 'nut' }}</text>
    </g>
  </svg>
  <p v-if="view.strings.length" class="least said">Strings turn {{ turns.toFixed(1) }}° at most at the nut<template
    v-if="breaks !== null">, and break by {{ breaks.toFixed(1) }}° at the least</template>.</p>
</template>

<style scoped>
.plan { width: 100%; display: block; max-height: 400px; cursor: ew-resize; touch-action: pan-y; }
.name { font-family: var(--word); font-size: 8.5px; font-weight: 600; fill: var(--ink); }
.mark { font-size: 8px; font-weight: 700; }
.said { margin: -2px 0 0; }
</style>
