<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, CutAnswer } from '../api/types'

/** What a cut is like: the chip at one scale against its window, the force round one turn of the bit, the bend enlarged. */
const props = defineProps<{ bit: Bit; answer: CutAnswer; window_mm: [number, number] }>()
const most = computed(() => Math.max(1, ...props.answer.turn_n))
const ring = computed(() => `M${props.answer.turn_n.map((f, k) => { const a = (2 * Math.PI * k) / props.answer.turn_n.length; const r = 14 + (30 * f) / most.value; return `${(r * Math.cos(a)).toFixed(1)} ${(-r * Math.sin(a)).toFixed(1)}` }).join('L')}Z`)
/** A chip as a crescent: as long as its arc, as thick as it is, both enlarged alike. */
const CHIP = 180
const crescent = (mm: number) => { const t = Math.max(1, mm * CHIP); return `M8 0Q48 ${-t * 2} 88 0Q48 ${-t * 0.35} 8 0Z` }
const chips = computed(() => [{ mm: props.window_mm[0], fill: 'none' }, { mm: props.answer.chip_mm, fill: 'var(--alder)' }, { mm: props.window_mm[1], fill: 'none' }])
const BEND = 120
const out = computed(() => 78 / props.bit.stickout_mm)
const sway = computed(() => Math.min(34, props.answer.bend_mm * BEND))
</script>

<template>
  <div class="marks">
    <figure><svg width="72" height="70" viewBox="0 -76 96 92" role="img" :aria-label="`Chip ${answer.chip_mm.toFixed(3)} mm thick at the most; ${window_mm[0].toFixed(3)} to ${window_mm[1].toFixed(3)} is its window`">
      <path v-for="(c, k) in chips" :key="k" :d="crescent(c.mm)" :fill="c.fill" stroke="var(--ink)" :stroke-width="k === 1 ? 1.4 : 0.9" :stroke-dasharray="k === 1 ? '' : '3 2'" />
    </svg><figcaption>Chip <b>{{ answer.chip_mm.toFixed(3) }}</b><br><span class="least">dashed: {{ window_mm[0].toFixed(3) }}, {{ window_mm[1].toFixed(3) }}</span></figcaption></figure>
    <figure><svg width="72" height="70" viewBox="-48 -46 96 92" role="img" :aria-label="`Force round one turn, ${Math.round(most)} N at the most`"><circle r="14" fill="var(--well)" stroke="var(--ink3)" /><path :d="ring" fill="var(--alder)" fill-opacity=".55" stroke="var(--ink)" /></svg>
      <figcaption>Pulls <b>{{ Math.round(answer.force_n) }} N</b><br><span class="least">round one turn</span></figcaption></figure>
    <figure><svg width="72" height="70" viewBox="-48 -86 96 92" role="img" :aria-label="`Bends ${answer.bend_mm.toFixed(3)} mm at its tip`"><rect x="-22" y="-86" width="44" height="8" fill="#6c655b" />
      <rect :x="-(bit.shank_diameter_mm / 2) * out" y="-78" :width="bit.shank_diameter_mm * out" height="78" fill="none" stroke="var(--ink3)" stroke-dasharray="3 2" />
      <path :d="`M${-(bit.diameter_mm / 2) * out} -78C${-(bit.diameter_mm / 2) * out} -50 ${sway * 0.4 - (bit.diameter_mm / 2) * out} -26 ${sway - (bit.diameter_mm / 2) * out} 0H${sway + (bit.diameter_mm / 2) * out}C${sway * 0.4 + (bit.diameter_mm / 2) * out} -26 ${(bit.diameter_mm / 2) * out} -50 ${(bit.diameter_mm / 2) * out} -78Z`" fill="#3a3530" stroke="var(--edge)" /></svg>
      <figcaption>Bends <b>{{ answer.bend_mm.toFixed(3) }}</b><br><span class="least">{{ Math.round(sway / Math.max(1e-6, answer.bend_mm * out)) }} times enlarged</span></figcaption></figure>
  </div>
</template>

<style scoped>
.marks { display: grid; grid-template-columns: repeat(3, 1fr); gap: 8px; }
figure { margin: 0; display: flex; gap: 6px; align-items: center; min-width: 0; }
figcaption { font-size: 13px; line-height: 1.25; }
</style>
