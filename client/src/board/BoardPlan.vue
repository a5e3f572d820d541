<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView } from '../api/types'
import { length } from '../units/format'

/** A board in plan across the page: its slots, its dots, its strings, and the fret that is looked at. */
const props = defineProps<{ view: BoardView; at: number; nut_mm: number | null; glue?: boolean }>()
const emit = defineEmits<{ choose: [fret: number] }>()
const box = computed(() => {
  const xs = props.view.outline.map((p) => p[0])
  const ys = props.view.outline.map((p) => Math.abs(p[1]))
  const [x0, x1, half] = [Math.min(...xs), Math.max(...xs), Math.max(...ys)]
  return { x0: x0 - 6, x1: x1 + 6, half: half + 12, text: `${x0 - 6} ${-half - 12} ${x1 - x0 + 12} ${2 * half + 24}` }
})
/** The face as it lies; the side that is glued is its mirror about its length. */
const up = computed(() => (props.glue ? 1 : -1))
const ring = (points: number[][]) => points.map(([x, y]) => `${x},${up.value * y}`).join(' ')
const outline = computed(() => ring(props.view.outline))
const rows = computed(() => props.view.rows)
const row = computed(() => rows.value.find((r) => r.number === props.at) ?? rows.value[0])
const nut = computed(() => {
  const r = rows.value[0]
  const w = props.nut_mm ?? 0
  return w ? [[r.bass[0], r.bass[1]], [r.treble[0], r.treble[1]], [r.treble[0] - w, r.treble[1]],
    [r.bass[0] - w, r.bass[1]]].map(([x, y]) => `${x},${-y}`).join(' ') : ''
})
/** How far a fret's number stands from its neighbours' decides whether it is written. */
const numbered = computed(() => rows.value.filter((r, k) => r.number === props.at || k === 0
  || (rows.value.length < 16 || r.centre_mm - rows.value[k - 1].centre_mm > 11 || r.number % 2 === 0)))
function press(event: KeyboardEvent) {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  const last = rows.value.length - 1
  if (way) emit('choose', Math.min(last, Math.max(0, props.at + way)))
  else if (event.key === 'Home') emit('choose', 0)
  else if (event.key === 'End') emit('choose', last)
  else return
  event.preventDefault()
}
</script>

<template>
  <svg class="plan" :viewBox="box.text" tabindex="0" role="slider" aria-label="Fret that is looked at"
    :aria-valuemin="0" :aria-valuemax="rows.length - 1" :aria-valuenow="at"
    :aria-valuetext="`Fret ${at}, ${length(row.from_nut_mm)} from the nut`" @keydown="press">
    <defs>
      <clipPath id="board-edge"><polygon :points="outline" /></clipPath>
      <pattern id="board-grain" width="60" height="7" patternUnits="userSpaceOnUse">
        <path d="M0 1.2h60M0 3.1q20 .8 60 0M0 5.6q30 -.7 60 0" fill="none" stroke="#5d3323" stroke-width=".35"
          opacity=".55" />
      </pattern>
    </defs>
    <polygon v-if="view.bound.length" :points="ring(view.bound)" fill="#e9dfc9"
      stroke="#1d1a17" stroke-width=".5" />
    <polygon :points="outline" fill="#8f5840" />
    <polygon :points="outline" fill="url(#board-grain)" stroke="#1d1a17" stroke-width=".5" />
    <template v-if="!glue">
      <polygon v-if="nut" :points="nut" fill="#e9dfc9" stroke="#1d1a17" stroke-width=".4" />
      <polygon v-for="(l, k) in view.ledges" :key="`l${k}`" :points="ring(l)"
        fill="#e9dfc9" clip-path="url(#board-edge)" />
      <circle v-for="(d, k) in view.dots" :key="`d${k}`" :cx="d[0]" :cy="-d[1]" :r="d[2] / 2" fill="#f0e8d6"
        stroke="#1d1a17" stroke-width=".35" />
      <line v-for="s in view.strings" :key="`s${s.number}`" :x1="s.start[0]" :y1="-s.start[1]" :x2="s.end[0]"
        :y2="-s.end[1]" stroke="#d9d2c4" :stroke-width=".3 + .1 * (view.strings.length - s.number)" opacity=".8" />
    </template>
    <g v-for="r in rows" :key="r.number" class="fret" @click="emit('choose', r.number)">
      <line :x1="r.bass[0]" :y1="up * r.bass[1]" :x2="r.treble[0]" :y2="up * r.treble[1]" stroke="transparent"
        stroke-width="7" />
      <line :x1="r.bass[0]" :y1="up * r.bass[1]" :x2="r.treble[0]" :y2="up * r.treble[1]" stroke="#1d1a17"
        :stroke-width="r.deep_mm === null || glue ? .4 : .8"
        :stroke-dasharray="r.deep_mm === null || glue ? '1.6 1.2' : ''" />
    </g>
    <text v-for="r in numbered" :key="`n${r.number}`" :x="r.centre_mm" :y="box.half - 2.5" text-anchor="middle"
      font-size="6" :font-weight="r.number === at ? 700 : 400" fill="var(--ink)">{{ r.number || 'nut' }}</text>
    <g stroke="var(--ink)" fill="var(--ink)">
      <line :x1="row.bass[0]" :y1="-box.half + 4" :x2="row.bass[0]" :y2="Math.min(up * row.bass[1], up * row.treble[1])"
        stroke-width=".6" />
      <line :x1="row.bass[0]" :y1="up * row.bass[1]" :x2="row.treble[0]" :y2="up * row.treble[1]" stroke-width="1.4" />
      <ellipse :cx="row.bass[0]" :cy="-box.half + 3.5" rx="5.5" ry="1.7" />
    </g>
  </svg>
</template>

<style scoped>
.plan { width: 100%; display: block; max-height: 230px; }
.fret { cursor: pointer; }
</style>
