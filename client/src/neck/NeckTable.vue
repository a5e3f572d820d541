<script setup lang="ts">
import { computed } from 'vue'
import type { NeckView } from '../api/types'
import FretRows from '../board/FretRows.vue'
import { length } from '../units/format'

/** Every fret with how thick the neck is there and what stays under its rod. */
const props = defineProps<{ view: NeckView; at: number }>()
const emit = defineEmits<{ choose: [fret: number] }>()
type Row = NeckView['rows'][number]
const rank = (under: number | null) => under === null ? '' : under < props.view.limits.rod_stop_mm ? 'stop'
  : under < props.view.limits.rod_floor_mm ? 'care' : ''
const lines = computed(() => [
  { name: 'From the nut', of: (r: Row) => length(r.x_mm) },
  { name: 'Wide', of: (r: Row) => length(r.wide_mm, 1) },
  { name: 'Thick', of: (r: Row) => length(r.thick_mm, 1) },
  { name: 'Girth', of: (r: Row) => length(r.girth_mm, 1) },
  { name: 'Under rod', of: (r: Row) => r.under_rod_mm === null ? '–' : length(r.under_rod_mm, 1),
    rank: (r: Row) => rank(r.under_rod_mm) },
])
</script>

<template>
  <FretRows :rows="view.rows" :at="at" :lines="lines" @choose="emit('choose', $event)" />
</template>
