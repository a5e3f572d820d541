<script setup lang="ts">
import { computed } from 'vue'
import type { Bit } from '../api/types'

/** A bit lying on its side, tip to the left, one scale for all. */
const props = defineProps<{ bit: Bit; fresh: boolean; scale?: number }>()
const s = computed(() => props.scale ?? 0.72)
const shape = computed(() => {
  const r = Math.max(1.2, (props.bit.diameter_mm / 2) * s.value)
  const cut = props.bit.cutting_length_mm * s.value
  const point = props.bit.form === 'drill' || props.bit.form === 'v' ? Math.min(cut, r / Math.tan((props.bit.included_angle_deg * Math.PI) / 360)) : 0
  const out = Math.max(cut + 4, props.bit.stickout_mm * s.value)
  const shank = Math.max(1.2, (props.bit.shank_diameter_mm / 2) * s.value)
  const tip = props.bit.form === 'ball' ? `M${r} ${-r}A${r} ${r} 0 0 0 ${r} ${r}` : `M${point} ${-r}L0 0L${point} ${r}`
  if (props.bit.form === 'taper') {
    const half = (props.bit.included_angle_deg * Math.PI) / 360
    const [x, y] = [r * (1 - Math.sin(half)), r * Math.cos(half)]
    const wide = y + Math.max(0, cut - x) * Math.tan(half)
    const body = `M${x} ${-y}A${r} ${r} 0 0 0 ${x} ${y}L${cut} ${wide}V${-wide}Z`
    return { r, cut, out, shank, body, high: Math.max(wide, shank) * 2 + 2 }
  }
  if (props.bit.form === 'round') {
    const c = props.bit.corner_radius_mm * s.value
    const t = (props.bit.tip_diameter_mm / 2) * s.value
    return { r, cut, out, shank, body: `M0 ${-t}A${c} ${c} 0 0 0 ${c} ${-t - c}V${-r}H${cut}V${r}H${c}V${t + c}A${c} ${c} 0 0 0 0 ${t}Z`, high: Math.max(r, shank) * 2 + 2 }
  }
  return { r, cut, out, shank, body: point || props.bit.form === 'ball' ? `${tip}H${cut}V${-r}Z` : `M0 ${-r}H${cut}V${r}H0Z`, high: Math.max(r, shank) * 2 + 2 }
})
</script>

<template>
  <svg :width="Math.min(52, shape.out + 1)" :height="shape.high" :viewBox="`0 ${-shape.high / 2} ${Math.min(52, shape.out + 1)} ${shape.high}`" aria-hidden="true">
    <rect :x="shape.cut" :y="-shape.shank" :width="shape.out - shape.cut" :height="2 * shape.shank" fill="#a39a8c" />
    <path :d="shape.body" :fill="fresh ? 'var(--ink)' : '#8d8477'" />
    <path v-for="k in Math.max(1, Math.floor(shape.cut / 7))" :key="k" :d="`M${k * 7 - 4} ${shape.r}L${k * 7} ${-shape.r}`" stroke="var(--paper)" stroke-width=".8" />
  </svg>
</template>
