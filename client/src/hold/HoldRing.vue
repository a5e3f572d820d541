<script setup lang="ts">
import { computed } from 'vue'
import type { Hold } from '../api/types'

/** End grain: how far the holding reaches in every direction against the pull at its heart. A pull is small in good holding: what reaches beyond the bark is drawn at the bark. */
const props = defineProps<{ hold: Hold; signs: [number, number]; name: string }>()
const R = 118
const C = 150
const wanted = computed(() => props.hold.needs * props.hold.pulls_n)
const rim_n = computed(() => Math.max(wanted.value * 1.25, Math.min(Math.max(...props.hold.holds_n) * 1.05, wanted.value * 4)))
const r_of = (n: number) => (Math.min(n, rim_n.value) / rim_n.value) * R
const at = (deg: number, r: number): [number, number] => [C + Math.cos((deg * Math.PI) / 180) * r, C - Math.sin((deg * Math.PI) / 180) * r]
const ring = (r_at: (deg: number) => number, step = 5) => `M${Array.from({ length: 360 / step }, (_, k) => at(k * step, r_at(k * step)).map((v) => v.toFixed(1)).join(' ')).join('L')}Z`
const reach = computed(() => {
  const n = props.hold.holds_n.length
  return ring((deg) => { const a = (deg / 360) * n, k = Math.floor(a) % n, t = a - Math.floor(a); return r_of(props.hold.holds_n[k] * (1 - t) + props.hold.holds_n[(k + 1) % n] * t) }, 3)
})
/** Years of growth, wavering a little and always alike. */
const years = computed(() => Array.from({ length: 7 }, (_, k) => ring((deg) => ((k + 1) / 7.6) * R + 1.3 * Math.sin((deg * Math.PI) / 60 + k) + 0.9 * Math.sin((deg * Math.PI) / 36 + k * 2))))
const bark = computed(() => ring((deg) => R + 7 + 1.4 * Math.sin((deg * Math.PI) / 45)))
const dashes = Array.from({ length: 22 }, (_, k) => k * (360 / 22) + (k % 3) * 4)
const weak = computed(() => props.hold.factor < props.hold.needs * 0.999)
const wedge = computed(() => { const d = props.hold.worst_deg; return `M${C} ${C}L${at(d - 17, R).join(' ')}A${R} ${R} 0 0 0 ${at(d + 17, R).join(' ')}Z` })
const label = computed(() => at(props.hold.worst_deg, r_of(props.hold.least_n)))
const across = computed(() => ({ right: props.signs[0] > 0 ? 'tail' : 'neck', left: props.signs[0] > 0 ? 'neck' : 'tail', top: props.signs[1] > 0 ? 'treble' : 'bass', bottom: props.signs[1] > 0 ? 'bass' : 'treble' }))
const said = computed(() => `${props.name}: pulls ${Math.round(props.hold.pulls_n)} newtons, holds at least ${Math.round(props.hold.least_n)}, ${props.hold.factor.toFixed(1)} times, toward the ${props.hold.toward}; ${props.hold.needs} times is wanted.`)
</script>

<template>
  <svg viewBox="-14 0 330 300" width="330" height="300" role="img" :aria-label="said">
    <path :d="bark" fill="var(--trunk, #fbf9f5)" stroke="#1d1a17" stroke-width="1.6" />
    <path v-for="d in dashes" :key="d" :d="`M${at(d, R + 3).map((v) => v.toFixed(1)).join(' ')}L${at(d + 3.4, R + 4).map((v) => v.toFixed(1)).join(' ')}`" stroke="#1d1a17" stroke-width="2.4" stroke-linecap="round" />
    <circle :cx="C" :cy="C" :r="R" fill="#ecd9bd" stroke="#8a5a34" stroke-width="1.6" />
    <path v-for="(y, k) in years" :key="k" :d="y" fill="none" stroke="#a9764b" stroke-width=".8" opacity=".7" />
    <path :d="reach" fill="#bfd0a6" fill-opacity=".78" stroke="#3c5a29" stroke-width="2.4" />
    <path v-if="weak" :d="wedge" fill="#f0b13c" fill-opacity=".7" />
    <circle :cx="C" :cy="C" :r="r_of(wanted)" fill="none" stroke="#1d1a17" stroke-width="1.2" stroke-dasharray="5 4" />
    <circle :cx="C" :cy="C" :r="Math.max(3, r_of(hold.pulls_n))" fill="#33302b" />
    <circle :cx="label[0]" :cy="label[1]" r="3.4" fill="#1d1a17" />
    <g class="names"><text :x="C" y="16" text-anchor="middle">{{ across.top }}</text><text :x="C" y="294" text-anchor="middle">{{ across.bottom }}</text><text x="18" :y="C + 4" text-anchor="end">{{ across.left }}</text><text x="283" :y="C + 4">{{ across.right }}</text></g>
  </svg>
</template>

<style scoped>
svg { display: block; margin: 0 auto; max-width: 100%; }
.names text { font-size: 14px; fill: var(--ink2); }
</style>
