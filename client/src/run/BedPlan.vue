<script setup lang="ts">
import { computed } from 'vue'
import type { Bed, Point } from '../api/types'
import { length } from '../units/format'

/** The bed as it should look before the program starts, and how far to jog. */
const props = defineProps<{ bed: Bed; only?: number }>() // only: the one step that is marked; 0 none
const wide = 300
const steps = computed(() => props.bed.steps.filter(([n]) => props.only === undefined || n === props.only))
const s = computed(() => wide / props.bed.travel_mm[0])
const high = computed(() => props.bed.travel_mm[1] * s.value)
const p = ([x, y]: Point): Point => [x * s.value, high.value - y * s.value]
const path = (ring: Point[]) => `M${ring.map((q) => p(q).map((v) => v.toFixed(1)).join(' ')).join('L')}Z`
const signed = (mm: number) => `${mm < -0.005 ? '−' : '+'}${length(Math.abs(mm), 1)}`
const way = (xy: Point) => `X ${signed(xy[0])}, Y ${signed(xy[1])}`
const marks = computed(() => {
  const out: [string, Point][] = []
  for (const [name, at] of [['zero', props.bed.zero], ['touch off', props.bed.touch], ['park', props.bed.park], ...Object.entries(props.bed.fixed)] as [string, Point | null][]) {
    const same = at && out.find((m) => Math.hypot(m[1][0] - at[0], m[1][1] - at[1]) < 8)
    if (same) same[0] += `, ${name}`
    else if (at) out.push([name, at])
  }
  return out
})
</script>

<template>
  <figure>
    <svg :viewBox="`-2 -2 ${wide + 4} ${high + 22}`" :width="wide + 4" :height="high + 24" role="img" :aria-label="`The bed: zero at ${way(bed.jog.zero)} from the machine's home`">
      <rect x="0" y="0" :width="wide" :height="high" fill="var(--bed)" stroke="var(--edge)" />
      <rect :x="p([bed.blank[0], 0])[0]" :y="p([0, bed.blank[1] + bed.blank[3]])[1]" :width="bed.blank[2] * s" :height="bed.blank[3] * s" fill="#d6a679" stroke="#1d1a17" />
      <template v-for="(o, k) in bed.beside" :key="`b${k}`">
        <rect :x="p([o.blank[0], 0])[0]" :y="p([0, o.blank[1] + o.blank[3]])[1]" :width="o.blank[2] * s"
          :height="o.blank[3] * s" fill="#d6a679" fill-opacity=".6" stroke="#1d1a17" />
        <path :d="path(o.outline)" fill="none" stroke="#1d1a17" stroke-dasharray="4 3" /></template>
      <path :d="path(bed.outline)" fill="none" stroke="#1d1a17" stroke-dasharray="4 3" />
      <circle v-for="(h, k) in bed.index_holes" :key="`i${k}`" :cx="p(h)[0]" :cy="p(h)[1]" :r="Math.max(2.2, (bed.index_hole_mm / 2) * s)" fill="#fbf9f5" stroke="#1d1a17" />
      <path v-for="h in bed.hardware" :key="h.id" :d="path(h.ring)" :fill="h.under ? 'none' : '#e6d3a9'" stroke="#1d1a17" :stroke-dasharray="h.under ? '1.5 3' : ''" />
      <g v-for="[name, at] in marks" :key="name" :transform="`translate(${p(at)[0]} ${p(at)[1]})`"><path d="M-6 0h12M0 -6v12" stroke="#1d1a17" stroke-width="1.8" /><text :x="p(at)[0] > wide * 0.7 ? -10 : 10" :y="p(at)[1] < 20 ? 16 : -4" :text-anchor="p(at)[0] > wide * 0.7 ? 'end' : 'start'">{{ name }}</text></g>
      <g v-for="[n, at] in steps" :key="`n${n}`" :transform="`translate(${p(at)[0]} ${p(at)[1]})`"
        class="n"><circle r="7.5" fill="#fbf9f5" stroke="#1d1a17" stroke-width="1.4" />
        <text y="4" text-anchor="middle">{{ n }}</text></g>
      <text :x="p(bed.home)[0]" :y="bed.home[1] ? 12 : high + 16" class="home"
        :text-anchor="bed.home[0] ? 'end' : 'start'">home</text>
    </svg>
    <figcaption><template v-if="only === undefined && bed.steps.length">
      Numbers: where each step above is done. </template>
      From the machine’s home to zero: <b>{{ way(bed.jog.zero) }}</b>.
      <template v-if="bed.jog.touch"> From zero to the touch-off: <b>{{ way(bed.jog.touch) }}</b>.</template>
      It starts and parks {{ way(bed.jog.park) }} from zero.
      <b v-if="!bed.inside" class="ember"> One of these is beyond the travel.</b></figcaption>
  </figure>
</template>

<style scoped>
figure { margin: 6px 0; display: flex; gap: 16px; align-items: flex-start; flex-wrap: wrap; }
figcaption { flex: 1; min-width: 180px; }
text { font-size: 13px; font-weight: 700; fill: #1d1a17; paint-order: stroke; stroke: #e6dccb; stroke-width: 3px; }
.n text { font-size: 11px; stroke: none; }
.home { fill: var(--ink2); stroke: none; font-weight: 400; }
.ember { color: var(--ember); }
</style>
