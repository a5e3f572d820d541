<script setup lang="ts">
import { computed } from 'vue'
import { unit } from '../units/format'
import { line_from, pen } from './pen'
import type { Box } from './zoom'

/** Rulers along the lower and the left side of the drawing, counted from the lines the pen counts from. */
const props = defineProps<{ box: Box; scale: number; saddle: number | null }>()
const zero = computed(() => (pen.places && line_from(pen.places.lines, 'along')?.at_mm) ?? props.saddle ?? 0)
const step = computed(() => {
  const base = unit.value === 'mm' ? 1 : 25.4
  const least = 34 * props.scale
  return [1, 2, 5, 10, 20, 50, 100].map((n) => n * base).find((n) => n >= least) ?? 100 * base
})
const label = (mm: number) => String(Math.round(Math.abs(unit.value === 'mm' ? mm : mm / 25.4)))
function ticks(low: number, high: number, from: number) {
  const out: { at: number; text: string }[] = []
  for (let k = Math.ceil((low - from) / step.value); from + k * step.value <= high; k++) {
    out.push({ at: from + k * step.value, text: label(k * step.value) })
  }
  return out
}
const along = computed(() => ticks(props.box.x0 + 16 * props.scale, props.box.x1, zero.value))
const across = computed(() => ticks(props.box.y0 + 14 * props.scale, props.box.y1, 0))
const px = computed(() => 9 * props.scale)
</script>

<template>
  <g pointer-events="none" fill="currentColor" stroke="none" :font-size="px">
    <g v-for="t in along" :key="`x${t.at}`"><path :d="`M${t.at} ${-box.y0}v${-5 * scale}`" stroke="currentColor"
      :stroke-width="0.8 * scale" /><text :x="t.at" :y="-box.y0 - 7 * scale"
      text-anchor="middle">{{ t.text }}</text></g>
    <g v-for="t in across" :key="`y${t.at}`"><path :d="`M${box.x0} ${-t.at}h${5 * scale}`" stroke="currentColor"
      :stroke-width="0.8 * scale" /><text :x="box.x0 + 7 * scale" :y="-t.at + px * 0.35">{{ t.text }}</text></g>
  </g>
</template>
