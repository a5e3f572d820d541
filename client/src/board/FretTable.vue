<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { BoardView } from '../api/types'
import { length } from '../units/format'

/** Every fret with what is to be measured on it; the one that is looked at stands out. */
const props = defineProps<{ view: BoardView; at: number }>()
type Row = BoardView['rows'][number]
const emit = defineEmits<{ choose: [fret: number] }>()
const two = computed(() => props.view.rows.some((r) => r.bass_from_nut_mm !== null))
const body = ref<HTMLElement>()
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
])
watch(() => props.at, async (at) => {
  await nextTick()
  body.value?.querySelector(`[data-fret="${at}"]`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})
</script>

<template>
  <div ref="body" class="wide" tabindex="0" role="region" aria-label="Table of frets">
    <table>
      <thead><tr><th scope="row">Fret</th>
        <th v-for="r in view.rows" :key="r.number" :data-fret="r.number" scope="col" :class="{ here: r.number === at }">
          <button :aria-pressed="r.number === at" @click="emit('choose', r.number)">{{ r.number || 'nut' }}</button>
        </th></tr></thead>
      <tbody>
        <tr v-for="l in lines" :key="l.name"><th scope="row">{{ l.name }}</th>
          <td v-for="r in view.rows" :key="r.number" :class="{ here: r.number === at }">{{ l.of(r) }}</td></tr>
        <tr><th scope="row">Under slot</th>
          <td v-for="r in view.rows" :key="r.number" :class="{ here: r.number === at }">
            <span :class="rank(lowest(r))">{{ length(lowest(r)) }}</span></td></tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide { overflow-x: auto; }
table { border-collapse: collapse; font-size: 13.5px; width: 100%; }
th, td {
  font-weight: 400; text-align: center; padding: 3px 2.5px; white-space: nowrap;
  border-top: 1px solid var(--rule);
}
thead th { border-top: none; font-weight: 700; }
tbody th, thead th:first-child {
  text-align: left; color: var(--ink2); font-weight: 400; position: sticky; left: 0; background: var(--paper);
}
.here { background: var(--bark); font-weight: 700; }
button { min-width: 26px; min-height: 26px; font-weight: inherit; }
.care { background: var(--amber); color: var(--on-amber); padding: 1px 4px; }
.stop { background: var(--ember); color: var(--on-ember); padding: 1px 4px; }
</style>
