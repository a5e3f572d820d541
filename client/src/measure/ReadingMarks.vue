<script setup lang="ts">
import { computed } from 'vue'
import type { Place } from '../api/types'

/** A dash a reading, offset by its difference from the value; hollow where none was taken yet. */
const props = defineProps<{ place: Place }>()
const marks = computed(() => {
  const out = props.place.values_mm.slice(0, 6).map((value, k) => ({ dx: Math.max(-13, Math.min(13, ((value - (props.place.value_mm ?? value)) / 0.1) * 10)), off: k === props.place.outlier, taken: true }))
  while (out.length < 3) out.push({ dx: 0, off: false, taken: false })
  return out
})
</script>

<template>
  <svg width="48" :height="marks.length * 7 + 2" :viewBox="`-24 0 48 ${marks.length * 7 + 2}`" aria-hidden="true">
    <path :d="`M0 1V${marks.length * 7 + 1}`" stroke="var(--edge)" stroke-width="1" />
    <path v-for="(m, k) in marks" :key="k" :d="`M${m.dx - 8} ${k * 7 + 4}q4 -3 9 -2.4t7 2.4q-4 2.6 -8 2t-8 -2z`" :fill="m.off ? 'var(--amber)' : m.taken ? 'var(--ink)' : 'none'" :stroke="m.taken && !m.off ? 'none' : 'var(--ink2)'" stroke-width=".9" />
  </svg>
</template>
