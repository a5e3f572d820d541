<script setup lang="ts">
import { computed } from 'vue'
import type { Bit } from '../api/types'
import { length } from '../units/format'

/** A bit in its collet nut, as far out as it has to stand, with a rule beside it. */
const props = defineProps<{ bit: Bit }>()
const scale = computed(() => Math.min(3.2, 190 / props.bit.stickout_mm))
const s = (mm: number) => mm * scale.value
const r = computed(() => Math.max(2, s(props.bit.diameter_mm) / 2))
const shank = computed(() => Math.max(2, s(props.bit.shank_diameter_mm) / 2))
const out = computed(() => s(props.bit.stickout_mm))
const edges = computed(() => {
  const [w, top, low] = [r.value, 70 + out.value - s(props.bit.cutting_length_mm), 70 + out.value]
  if (props.bit.form === 'ball') return `M${90 - w} ${top}V${low - w}A${w} ${w} 0 0 0 ${90 + w} ${low - w}V${top}Z`
  if (props.bit.form === 'drill' || props.bit.form === 'v') {
    const point = Math.min(low - top, w / Math.tan((props.bit.included_angle_deg * Math.PI) / 360))
    return `M${90 - w} ${top}V${low - point}L90 ${low}L${90 + w} ${low - point}V${top}Z`
  }
  return `M${90 - w} ${top}H${90 + w}V${low}H${90 - w}Z`
})
const rule = computed(() => Array.from({ length: Math.floor(props.bit.stickout_mm / 2) + 1 }, (_, k) =>
  `M170 ${70 + out.value - s(k * 2)}h${k % 5 === 0 ? 18 : 9}`).join(''))
</script>

<template>
  <svg :viewBox="`0 0 260 ${out + 84}`" class="bit" role="img"
    :aria-label="`${bit.name}, ${length(bit.stickout_mm, 1)} out of the collet nut`">
    <path d="M40 8h100v40l-22 22h-56l-22 -22z" fill="#6b6055" />
    <path d="M62 14v30M90 14v30M118 14v30" stroke="#463e36" stroke-width="7" />
    <rect :x="90 - shank" y="70" :width="2 * shank" :height="out - 2" fill="#a39a8c" />
    <path :d="edges" fill="currentColor" />
    <path :d="rule" stroke="currentColor" stroke-width="1.4" />
    <path :d="`M170 70v${out}`" stroke="currentColor" stroke-width="1.4" />
    <path :d="`M100 70h66M100 ${70 + out}h66`" stroke="currentColor" stroke-width="1.2" stroke-dasharray="5 4" />
    <text x="196" y="76">{{ length(bit.stickout_mm, 1) }}</text><text x="196" :y="76 + out">0</text>
  </svg>
</template>

<style scoped>
.bit { max-height: 46vh; width: 100%; max-width: 420px; }
text { font-size: 17px; font-weight: 700; fill: currentColor; }
</style>
