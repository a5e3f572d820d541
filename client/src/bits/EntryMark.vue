<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, CutAnswer } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { length } from '../units/format'

/** How the bit goes into the wood, against what its end can do: the way down at one scale, the part of the end that cuts nothing hatched. */
const props = defineProps<{ bit: Bit; answer: CutAnswer }>()
const d = computed(() => props.bit.measured_diameter_mm ?? props.bit.diameter_mm)
const deep = computed(() => props.answer.settings.depth_of_cut_mm)
const is_helix = computed(() => props.answer.entry === 'helix')
/** A helix is drawn down its turns, seen from the side; a ramp to and fro over two bits' length. */
const stroke = computed(() => (is_helix.value ? props.answer.helix_mm : 2 * d.value))
const drop = computed(() => (is_helix.value ? deep.value / props.answer.turns / 2 : (deep.value * stroke.value) / props.answer.way_mm))
const scale = computed(() => Math.min(80 / (stroke.value + d.value), 44 / Math.max(deep.value, 0.1)))
const zigzag = computed(() => {
  const [out, w] = [[] as string[], (stroke.value / 2) * scale.value]
  const count = Math.max(1, Math.ceil(deep.value / drop.value - 1e-9))
  for (let k = 0; k <= Math.min(count, 60); k++) out.push(`${k ? 'L' : 'M'}${(k % 2 ? w : -w).toFixed(1)} ${(Math.min(deep.value, k * drop.value) * scale.value).toFixed(1)}`)
  return out.join('')
})
const half = computed(() => ((stroke.value + d.value) / 2) * scale.value)
const bottom = computed(() => deep.value * scale.value)
const words = computed(() => (props.answer.entry === 'plunge' ? 'straight down' : `${props.answer.ramp_deg}°, ${length(props.answer.way_mm, 0)} of way`))
</script>

<template>
  <figure><svg width="72" height="70" viewBox="-48 -28 96 92" role="img" :aria-label="`Goes in by a ${answer.entry} of ${answer.ramp_deg} degrees: ${length(answer.way_mm, 0)} of way for ${length(deep)} deep${bit.cuts_at_centre ? '' : '; the middle of its end does not cut'}`">
    <path :d="`M-48 0H${-half}V${bottom}H${half}V0H48V64H-48Z`" fill="var(--alder)" stroke="var(--ink)" stroke-width=".8" />
    <path :d="zigzag" fill="none" stroke="var(--ink)" stroke-width="1.2" />
    <g :transform="`translate(${-(stroke / 2) * scale} 0)`"><rect :x="-(d / 2) * scale" y="-26" :width="d * scale" height="26" fill="#3a3530" stroke="var(--edge)" /><path v-if="!bit.cuts_at_centre" :d="`M${(-d / 6) * scale} -1.5h${(d / 3) * scale}`" stroke="#b9770a" stroke-width="4" /></g>
  </svg><figcaption><OriginTap of="plunge">{{ is_helix ? 'Helix' : answer.entry === 'ramp' ? 'Ramp' : 'Plunge' }}</OriginTap> <b>{{ words }}</b><br><span class="least">{{ bit.cuts_at_centre ? `${is_helix ? `${answer.turns.toFixed(1)} turns; ` : ''}its middle cuts` : 'amber: its middle does not cut' }}</span></figcaption></figure>
</template>
