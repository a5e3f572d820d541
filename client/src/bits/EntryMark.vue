<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, CutAnswer } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { length } from '../units/format'

/** How the bit goes into the wood, against what its end can do: the way down at one scale, the part of the end that cuts nothing hatched. */
const props = defineProps<{ bit: Bit; answer: CutAnswer }>()
const d = computed(() => props.bit.measured_diameter_mm ?? props.bit.diameter_mm)
const deep = computed(() => props.answer.settings.depth_of_cut_mm)
const slope = computed(() => Math.tan((props.answer.ramp_deg * Math.PI) / 180))
const is_helix = computed(() => props.answer.entry === 'helix')
/** The circle a helix runs on, of its middle: as wide a hole as 1.4 bits. */
const circle = computed(() => 0.4 * d.value)
const per_turn = computed(() => Math.PI * circle.value * slope.value)
const way = computed(() => deep.value / slope.value)
/** A ramp goes to and fro over two bits' length; a helix down its turns: both seen from the side. */
const stroke = computed(() => (is_helix.value ? circle.value : 2 * d.value))
const drop = computed(() => (is_helix.value ? per_turn.value / 2 : stroke.value * slope.value))
const scale = computed(() => Math.min(80 / (stroke.value + d.value), 44 / Math.max(deep.value, 0.1)))
const zigzag = computed(() => {
  const [out, w] = [[] as string[], (stroke.value / 2) * scale.value]
  const turns = Math.max(1, Math.ceil(deep.value / drop.value - 1e-9))
  for (let k = 0; k <= Math.min(turns, 60); k++) out.push(`${k ? 'L' : 'M'}${(k % 2 ? w : -w).toFixed(1)} ${(Math.min(deep.value, k * drop.value) * scale.value).toFixed(1)}`)
  return out.join('')
})
const half = computed(() => ((stroke.value + d.value) / 2) * scale.value)
const bottom = computed(() => deep.value * scale.value)
const turns = computed(() => Math.max(1, Math.ceil(deep.value / (is_helix.value ? per_turn.value : 2 * drop.value) - 1e-9)))
const words = computed(() => (props.answer.entry === 'plunge' ? 'straight down' : `${props.answer.ramp_deg}°, ${length(way.value, 0)} of way`))
</script>

<template>
  <figure><svg width="72" height="70" viewBox="-48 -28 96 92" role="img" :aria-label="`Goes in by a ${answer.entry} of ${answer.ramp_deg} degrees: ${length(way, 0)} of way for ${length(deep)} deep${bit.cuts_at_centre ? '' : '; the middle of its end does not cut'}`">
    <path :d="`M-48 0H${-half}V${bottom}H${half}V0H48V64H-48Z`" fill="var(--alder)" stroke="var(--ink)" stroke-width=".8" />
    <path :d="zigzag" fill="none" stroke="var(--ink)" stroke-width="1.2" />
    <g :transform="`translate(${-(stroke / 2) * scale} 0)`"><rect :x="-(d / 2) * scale" y="-26" :width="d * scale" height="26" fill="#3a3530" stroke="var(--edge)" /><path v-if="!bit.cuts_at_centre" :d="`M${(-d / 6) * scale} -1.5h${(d / 3) * scale}`" stroke="#b9770a" stroke-width="4" /></g>
  </svg><figcaption><OriginTap of="plunge">{{ is_helix ? 'Helix' : answer.entry === 'ramp' ? 'Ramp' : 'Plunge' }}</OriginTap> <b>{{ words }}</b><br><span class="least">{{ bit.cuts_at_centre ? `${turns} ${is_helix ? (turns > 1 ? 'turns' : 'turn') : 'to and fro'}; its middle cuts` : 'amber: its middle does not cut' }}</span></figcaption></figure>
</template>
