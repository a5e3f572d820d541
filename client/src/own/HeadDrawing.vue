<script setup lang="ts">
import { computed } from 'vue'
import type { Machine } from '../api/types'

/** What turns and rides above a bit, from the side and to scale, over the waste board; what is meant is green. */
const props = defineProps<{ machine: Machine; figure?: string }>()
const HIGH = 196
const m = computed(() => props.machine)
const tall_mm = computed(() => m.value.nut_clear_mm + m.value.nut_length_mm + (m.value.waste_board_mm ?? 18) + 30)
const k = computed(() => (HIGH - 30) / tall_mm.value)
const ground = computed(() => HIGH - (m.value.waste_board_mm ?? 18) * k.value - 6)
const nut = computed(() => ground.value - m.value.nut_clear_mm * k.value)
const nose = computed(() => nut.value - m.value.nut_length_mm * k.value)
const lit = (...names: string[]) => (props.figure && names.includes(props.figure) ? 'var(--moss)' : 'var(--ink)')
const shoe = computed(() => {
  const across = m.value.shoe_diameter_mm
  if (!across) return null
  return { w: across * k.value, y: nut.value - (m.value.shoe_up_mm ?? 10) * k.value }
})
const board_words = computed(() => ((m.value.waste_board_mm ?? 18) * k.value > 11 ? 'waste board' : ''))
</script>

<template>
  <svg width="220" :height="HIGH" viewBox="-110 0 220 196" role="img"
    aria-label="Spindle, nut and waste board from the side">
    <rect
      :x="-(m.spindle_diameter_mm / 2) * k" :y="4" :width="m.spindle_diameter_mm * k" :height="Math.max(2, nose - 4)"
      fill="var(--bed)" :stroke="lit('spindle_diameter_mm')" stroke-width="1.4"
    />
    <rect
      v-if="shoe" :x="-shoe.w / 2" :y="shoe.y - 8" :width="shoe.w" height="8" fill="var(--well)"
      :stroke="lit('shoe_diameter_mm', 'shoe_up_mm')" stroke-width="1.4"
    />
    <rect
      :x="-(m.nut_diameter_mm / 2) * k" :y="nose" :width="m.nut_diameter_mm * k" :height="nut - nose"
      fill="#6c655b" :stroke="lit('nut_diameter_mm', 'nut_length_mm')" stroke-width="1.6"
    />
    <rect x="-104" :y="ground" width="208" :height="HIGH - 6 - ground" fill="var(--pale)"
      :stroke="lit('waste_board_mm')" />
    <text x="-100" :y="HIGH - 10" font-size="11" fill="#4f4840">{{ board_words }}</text>
    <path
      :d="`M62 ${nut}V${ground}M57 ${nut}h10M57 ${ground}h10`" fill="none" stroke-width="1.2"
      :stroke="lit('nut_clear_mm')"
    />
    <path
      :d="`M86 ${nut}V${nut + m.travel_mm[2] * k}M81 ${nut}h10M81 ${nut + m.travel_mm[2] * k}h10`" fill="none"
      stroke-width="1.2" stroke-dasharray="4 3" :stroke="lit('travel_mm.2')"
    />
    <path
      :d="`M-96 ${ground + (m.waste_cut_mm ?? 0.6) * k + 1}h192`" stroke-dasharray="3 3" :stroke="lit('waste_cut_mm')"
    />
  </svg>
</template>
