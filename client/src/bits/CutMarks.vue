<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, CutAnswer, CutKind, Machine } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { fine } from '../units/format'
import EntryMark from './EntryMark.vue'
import ReachMark from './ReachMark.vue'

/** What a cut is like: the chip at one scale against its window, the force round one turn of the bit, the bend enlarged; how it goes in, how far it reaches, the ridge a ball leaves. */
const props = defineProps<{ bit: Bit; answer: CutAnswer; window_mm: [number, number]; machine: Machine; kind: CutKind; deep_mm: number | null }>()
const most = computed(() => Math.max(1, ...props.answer.turn_n))
const ring = computed(() => `M${props.answer.turn_n.map((f, k) => { const a = (2 * Math.PI * k) / props.answer.turn_n.length; const r = 14 + (30 * f) / most.value; return `${(r * Math.cos(a)).toFixed(1)} ${(-r * Math.sin(a)).toFixed(1)}` }).join('L')}Z`)
/** A chip as a crescent: as long as its arc, as thick as it is, both enlarged alike. */
const CHIP = 180
const crescent = (mm: number) => { const t = Math.max(1, mm * CHIP); return `M8 0Q48 ${-t * 2} 88 0Q48 ${-t * 0.35} 8 0Z` }
const chips = computed(() => [{ mm: props.window_mm[0], fill: 'none' }, { mm: props.answer.chip_mm, fill: 'var(--alder)' }, { mm: props.window_mm[1], fill: 'none' }])
/** Two passes of a ball beside each other: three arcs a stepover apart, as high as drawn they are so many times enlarged. */
const ridge = computed(() => {
  const [r, s] = [(props.bit.measured_diameter_mm ?? props.bit.diameter_mm) / 2, props.answer.settings.stepover_mm]
  const mm = props.answer.ridge_mm
  if (mm === null || mm <= 0 || s >= 2 * r) return null
  const wide = 96 / (2 * s)
  const up = 26 / mm
  const at = (x: number) => { const d = ((((x / wide + s / 2) % s) + s) % s) - s / 2; return (r - Math.sqrt(Math.max(0, r * r - d * d))) * up - 8 }
  const line = Array.from({ length: 65 }, (_, k) => { const x = -48 + k * 1.5; return `L${x.toFixed(1)} ${(-at(x)).toFixed(1)}` }).join('')
  return { mm, up: up / wide, at, line }
})
const BEND = 120
const out = computed(() => 78 / props.bit.stickout_mm)
const sway = computed(() => Math.min(34, props.answer.bend_mm * BEND))
const chip_words = computed(() => {
  const [low, high] = props.window_mm
  return `Chip ${fine(props.answer.chip_mm)} thick at the most; ${fine(low)} to ${fine(high)} is its window`
})
</script>

<template>
  <div class="marks">
    <figure><svg width="72" height="70" viewBox="0 -76 96 92" role="img"
      :aria-label="chip_words">
      <path v-for="(c, k) in chips" :key="k" :d="crescent(c.mm)" :fill="c.fill" stroke="var(--ink)" :stroke-width="k === 1 ? 1.4 : 0.9" :stroke-dasharray="k === 1 ? '' : '3 2'" />
    </svg><figcaption><OriginTap of="chip">Chip</OriginTap> <b>{{ fine(answer.chip_mm) }}</b><br><span class="least">dashed: {{ fine(window_mm[0]).replace(' mm', '') }}, {{ fine(window_mm[1]) }}</span></figcaption></figure>
    <figure><svg width="72" height="70" viewBox="-48 -46 96 92" role="img" :aria-label="`Force round one turn, ${Math.round(most)} N at the most`"><circle r="14" fill="var(--well)" stroke="var(--ink3)" /><path :d="ring" fill="var(--alder)" fill-opacity=".55" stroke="var(--ink)" /></svg>
      <figcaption><OriginTap of="force">Pulls</OriginTap> <b>{{ Math.round(answer.force_n) }} N</b><br><span class="least">round one turn</span></figcaption></figure>
    <figure><svg width="72" height="70" viewBox="-48 -86 96 92" role="img"
      :aria-label="`Bends ${fine(answer.bend_mm)} at its tip`">
      <rect x="-22" y="-86" width="44" height="8" fill="#6c655b" />
      <rect :x="-(bit.shank_diameter_mm / 2) * out" y="-78" :width="bit.shank_diameter_mm * out" height="78" fill="none" stroke="var(--ink3)" stroke-dasharray="3 2" />
      <path :d="`M${-(bit.diameter_mm / 2) * out} -78C${-(bit.diameter_mm / 2) * out} -50 ${sway * 0.4 - (bit.diameter_mm / 2) * out} -26 ${sway - (bit.diameter_mm / 2) * out} 0H${sway + (bit.diameter_mm / 2) * out}C${sway * 0.4 + (bit.diameter_mm / 2) * out} -26 ${(bit.diameter_mm / 2) * out} -50 ${(bit.diameter_mm / 2) * out} -78Z`" fill="#3a3530" stroke="var(--edge)" /></svg>
      <figcaption><OriginTap of="bend">Bends</OriginTap> <b>{{ fine(answer.bend_mm) }}</b><br><span class="least">{{ Math.round(sway / Math.max(1e-6, answer.bend_mm * out)) }} times enlarged</span></figcaption></figure>
    <EntryMark :bit="bit" :answer="answer" />
    <ReachMark :bit="bit" :machine="machine" :deep_mm="deep_mm" />
    <figure v-if="ridge"><svg width="72" height="70" viewBox="-48 -46 96 92" role="img"
      :aria-label="`Ridge of ${fine(ridge.mm)} between two passes`">
      <path :d="`M-48 46V${-ridge.at(-48)}${ridge.line}L48 ${-ridge.at(48)}V46Z`" fill="var(--alder)" stroke="var(--ink)" /></svg>
      <figcaption><OriginTap of="ridge">Ridge</OriginTap> <b>{{ ridge.mm < 0.1 ? `${(1000 * ridge.mm).toFixed(0)} µm` : ridge.mm.toFixed(2) }}</b><br><span class="least">{{ Math.round(ridge.up) }} times enlarged</span></figcaption></figure>
  </div>
</template>

<style scoped>
.marks { display: grid; grid-template-columns: repeat(auto-fit, minmax(126px, 1fr)); gap: 10px 8px; }
.marks :deep(figure) { margin: 0; display: flex; gap: 6px; align-items: center; min-width: 0; }
.marks :deep(figcaption) { font-size: 13px; line-height: 1.25; }
</style>
