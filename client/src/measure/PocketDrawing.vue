<script setup lang="ts">
import { computed } from 'vue'
import type { Drawing } from '../api/types'
import { length } from '../units/format'

/** The neck pocket in plan, its gap drawn twenty times over. */
const props = defineProps<{ heel: NonNullable<Drawing['heel']> }>()
const s = computed(() => Math.min(112 / props.heel.length_mm, 104 / Math.max(props.heel.end_width_mm, props.heel.mouth_width_mm)))
const d = computed(() => {
  const m = (props.heel.mouth_width_mm / 2) * s.value
  const e = (props.heel.end_width_mm / 2) * s.value
  const l = props.heel.length_mm * s.value
  const g = Math.max(-8, Math.min(8, props.heel.gap_mm * 20 * 0.9))
  return { pocket: `M${-m} 0L${-e} ${l}H${e}L${m} 0z`, heel: `M${-m + g} -14L${-e + g} ${l - g}H${e - g}L${m - g} -14z`, m, e, l }
})
</script>

<template>
  <svg width="212" height="138" viewBox="-106 -18 212 138" role="img" :aria-label="`Pocket ${length(heel.mouth_width_mm)} at the mouth, ${length(heel.end_width_mm)} at the end`">
    <rect x="-82" y="0" width="164" height="120" fill="#d6a679" />
    <path :d="d.pocket" fill="var(--bark)" stroke="#1d1a17" stroke-width="1.4" />
    <path :d="d.heel" fill="#ecd9bd" stroke="#1d1a17" />
    <g fill="#1d1a17" text-anchor="middle"><text y="24" font-weight="700" font-size="15">{{ length(heel.mouth_width_mm) }}</text><text y="38" font-size="14">mouth</text>
      <text :y="d.l - 20" font-weight="700" font-size="15">{{ length(heel.end_width_mm) }}</text><text :y="d.l - 6" font-size="14">end</text></g>
    <text x="-104" y="60" font-size="14" font-weight="700" fill="#1d1a17">{{ Math.abs(heel.taper_deg).toFixed(1) }}°</text>
  </svg>
</template>
