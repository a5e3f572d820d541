<script setup lang="ts">
import { computed } from 'vue'
import type { Machine } from '../api/types'
import { grouped } from '../units/format'

/** What a spindle gives over its speed, and the steps of a dial on the line; what is meant is green. */
const props = defineProps<{ machine: Machine; figure?: string }>()
const [WIDE, HIGH] = [260, 130]
const m = computed(() => props.machine)
const at = (rpm: number) => 10 + (rpm / m.value.greatest_rpm) * (WIDE - 20)
const up = (share: number) => HIGH - 22 - share * (HIGH - 52)
const power = computed(() => {
  const low = m.value.least_rpm / m.value.rated_rpm
  const most = m.value.greatest_rpm
  return `M${at(m.value.least_rpm)} ${up(Math.min(1, low))}L${at(m.value.rated_rpm)} ${up(1)}L${at(most)} ${up(1)}`
})
const lit = (...names: string[]) => (props.figure && names.includes(props.figure) ? 'var(--moss)' : 'var(--ink)')
const ends = computed(() => [
  { name: 'least_rpm', rpm: m.value.least_rpm, anchor: 'start' },
  { name: 'greatest_rpm', rpm: m.value.greatest_rpm, anchor: 'end' },
] as const)
</script>

<template>
  <svg :width="WIDE" :height="HIGH" role="img" aria-label="Power over speed">
    <path :d="`M10 ${HIGH - 22}H${WIDE - 10}`" stroke="var(--ink)" stroke-width="1.2" />
    <path :d="power" fill="none" stroke-width="2" :stroke="lit('power_w', 'rated_rpm')" />
    <text
      :x="Math.min(at(m.rated_rpm), WIDE - 60)" :y="up(1) - 8" font-size="13" font-weight="650" :fill="lit('power_w')"
    >{{ grouped(m.power_w) }} W</text>
    <path
      v-for="s in m.speeds_rpm ?? []" :key="s" :d="`M${at(s)} ${HIGH - 28}v12`" stroke-width="2"
      :stroke="lit('speeds_rpm')"
    />
    <text
      v-for="e in ends" :key="e.name" :x="e.anchor === 'end' ? WIDE - 8 : at(e.rpm)" :y="HIGH - 4"
      :text-anchor="e.anchor" font-size="12" :fill="lit(e.name)"
    >{{ grouped(e.rpm) }}</text>
  </svg>
</template>
