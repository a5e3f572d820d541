<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView } from '../api/types'
import { length } from '../units/format'

/** The board cut across at one fret: its face, its slot's floor, what stays under it. */
const props = defineProps<{ view: BoardView; at: number; thickness: number; following: boolean }>()
const row = computed(() => props.view.rows.find((r) => r.number === props.at) ?? props.view.rows[0])
const half = computed(() => row.value.wide_mm / 2)
const face = (y: number) => {
  const r = row.value.radius_mm
  return row.value.crown_mm - (r - Math.sqrt(r * r - y * y))
}
const said = computed(() => {
  const r = row.value
  return `${length(r.wide_mm, 1)} wide, ${length(r.crown_mm)} at the crown, ${length(r.edge_mm)} at the edge`
})
const SCALE = 6
const sx = (y: number) => 250 + y * SCALE
const sy = (z: number) => 118 - z * SCALE
const curve = (down: number) => {
  const points = []
  for (let k = 0; k <= 40; k += 1) {
    const y = -half.value + (2 * half.value * k) / 40
    points.push(`${sx(y).toFixed(1)},${sy(face(y) - down).toFixed(1)}`)
  }
  return points.join(' ')
}
const wood = computed(() => `${curve(0)} ${sx(half.value)},${sy(0)} ${sx(-half.value)},${sy(0)}`)
const slot = computed(() => {
  const r = row.value
  if (r.deep_mm === null || r.wanted_mm === null) return null
  const [under] = [props.following ? r.under_crown_mm! : props.thickness - r.deep_mm]
  const floor = props.following ? curve(r.wanted_mm)
    : `${sx(-half.value)},${sy(under)} ${sx(half.value)},${sy(under)}`
  return { floor, under }
})
const thin = computed(() => {
  const r = row.value
  if (r.under_crown_mm === null || r.under_edge_mm === null) return null
  return Math.min(r.under_crown_mm, r.under_edge_mm)
})
</script>

<template>
  <section class="cross">
    <h2>{{ at ? `Section at fret ${at}` : 'Section at the nut' }}</h2>
    <svg viewBox="0 0 500 150" role="img"
      :aria-label="said">
      <polygon :points="wood" fill="#8f5840" stroke="#1d1a17" stroke-width="1.4" />
      <polyline v-if="slot" :points="slot.floor" fill="none" stroke="#f4f0e8" stroke-width="1.6"
        stroke-dasharray="6 4" />
      <path :d="`M${sx(-half)} 30V22H${sx(half)}V30`" fill="none" stroke="var(--ink)" />
      <text :x="250" y="17" text-anchor="middle" class="mark">{{ length(row.wide_mm, 1) }}</text>
      <path :d="`M${sx(half) + 8} ${sy(face(half))}h8V${sy(0)}h-8`" fill="none" stroke="var(--ink)" />
      <text :x="sx(half) + 20" :y="(sy(face(half)) + sy(0)) / 2 + 5" class="mark">{{ length(row.edge_mm) }}</text>
      <path :d="`M${sx(-half) - 8} ${sy(face(0))}h-8V${sy(0)}h8`" fill="none" stroke="var(--ink)" />
      <text :x="sx(-half) - 20" :y="(sy(face(0)) + sy(0)) / 2 + 5" text-anchor="end" class="mark">{{
        length(row.crown_mm) }}</text>
      <text v-if="slot" :x="250" :y="sy(slot.under / 2) + 4" text-anchor="middle" class="mark on">{{
        length(thin) }} under it</text>
    </svg>
    <p class="least">Radius {{ length(row.radius_mm, 0) }}. {{ slot ? 'Dashed: the slot’s floor.' : at
      ? 'No slot is cut here yet.' : 'The nut stands here.' }}</p>
  </section>
</template>

<style scoped>
.cross svg { width: 100%; max-width: 500px; display: block; }
.cross p { margin: 0; }
.mark { font-size: 15px; font-weight: 600; fill: var(--ink); }
.mark.on { fill: #f4f0e8; }
</style>
