<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, Machine } from '../api/types'
import { length } from '../units/format'

/** How far down the bit reaches: its edge, then its shank, then the collet nut, against the wall of a feature so deep. */
const props = defineProps<{ bit: Bit; machine: Machine; deep_mm: number | null }>()
const d = computed(() => props.bit.measured_diameter_mm ?? props.bit.diameter_mm)
const deep = computed(() => props.deep_mm ?? props.bit.cutting_length_mm)
const scale = computed(() => 70 / (Math.max(props.bit.stickout_mm, deep.value) + 12))
const nut_free = computed(() => props.bit.stickout_mm - deep.value)
const rubs = computed(() => deep.value > props.bit.cutting_length_mm + 1e-6 && props.bit.shank_diameter_mm > d.value - 1e-6)
const bad = computed(() => nut_free.value < 0 || rubs.value)
const words = computed(() => (props.deep_mm === null ? `edge to ${length(props.bit.cutting_length_mm, 0)}` : nut_free.value < 0 ? 'the nut hits the wood' : rubs.value ? `shank rubs from ${length(props.bit.cutting_length_mm, 0)}` : `nut ${length(nut_free.value, 0)} clear`))
const floor = 82
const at = (mm: number) => floor - mm * scale.value
const half = (mm: number) => (mm / 2) * scale.value
</script>

<template>
  <figure><svg width="72" height="70" viewBox="-48 -6 96 92" role="img" :aria-label="`${words}; the collet nut stands ${length(bit.stickout_mm, 1)} above the tip`">
    <path :d="`M-48 ${at(deep)}H${-half(d) - 1}V${floor}H${half(d) + 1}V${at(deep)}H48V86H-48Z`" fill="var(--alder)" stroke="var(--ink)" stroke-width=".8" />
    <rect :x="-half(d)" :y="at(bit.cutting_length_mm)" :width="2 * half(d)" :height="bit.cutting_length_mm * scale" fill="#3a3530" stroke="var(--edge)" />
    <rect :x="-half(bit.shank_diameter_mm)" :y="at(bit.stickout_mm)" :width="2 * half(bit.shank_diameter_mm)" :height="(bit.stickout_mm - bit.cutting_length_mm) * scale" :fill="rubs ? 'var(--ember)' : '#a39a8c'" stroke="var(--edge)" />
    <rect :x="-Math.min(47, half(machine.nut_diameter_mm))" :y="at(bit.stickout_mm) - 9" :width="2 * Math.min(47, half(machine.nut_diameter_mm))" height="9" :fill="nut_free < 0 ? 'var(--ember)' : '#6c655b'" />
  </svg><figcaption>Reach <b :class="{ bad }">{{ words }}</b><br><span class="least">{{ deep_mm === null ? `nut touches at ${length(bit.stickout_mm, 0)}` : `${length(deep_mm, 0)} deep, edge ${length(bit.cutting_length_mm, 0)}` }}</span></figcaption></figure>
</template>

<style scoped>
.bad { color: var(--ember); }
</style>
