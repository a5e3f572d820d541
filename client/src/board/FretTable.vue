<script setup lang="ts">
import { computed } from 'vue'
import type { BoardView } from '../api/types'
import { length } from '../units/format'
import FretRows from './FretRows.vue'

/** Every fret of a board with what is to be measured on it. */
const props = defineProps<{ view: BoardView; at: number }>()
const emit = defineEmits<{ choose: [fret: number] }>()
type Row = BoardView['rows'][number]
const two = computed(() => props.view.rows.some((r) => r.bass_from_nut_mm !== null))
const lowest = (r: Row) => r.under_crown_mm === null || r.under_edge_mm === null ? null
  : Math.min(r.under_crown_mm, r.under_edge_mm)
const rank = (under: number | null) => under === null ? '' : under < props.view.limits.under_stop_mm ? 'stop'
  : under < props.view.limits.under_care_mm ? 'care' : ''
const lines = computed(() => [
  { name: two.value ? 'From the nut, treble' : 'From the nut', of: (r: Row) => length(r.from_nut_mm) },
  ...(two.value ? [{ name: 'From the nut, bass', of: (r: Row) => length(r.bass_from_nut_mm) }] : []),
  { name: 'Wide', of: (r: Row) => length(r.wide_mm, 1) },
  { name: 'Edge', of: (r: Row) => length(r.edge_mm) },
  { name: 'Slot deep', of: (r: Row) => length(r.deep_mm) },
  { name: 'Under slot', of: (r: Row) => length(lowest(r)), rank: (r: Row) => rank(lowest(r)) },
])
</script>

<template>
  <FretRows :rows="view.rows" :at="at" :lines="lines" @choose="emit('choose', $event)" />
</template>
