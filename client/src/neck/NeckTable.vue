<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { NeckView } from '../api/types'
import { length } from '../units/format'

/** Every fret with how thick the neck is there and what stays under its rod. */
const props = defineProps<{ view: NeckView; at: number }>()
const emit = defineEmits<{ choose: [fret: number] }>()
type Row = NeckView['rows'][number]
const body = ref<HTMLElement>()
const rank = (under: number | null) => under === null ? '' : under < props.view.limits.rod_stop_mm ? 'stop'
  : under < props.view.limits.rod_floor_mm ? 'care' : ''
const lines = computed(() => [
  { name: 'From the nut', of: (r: Row) => length(r.x_mm) },
  { name: 'Wide', of: (r: Row) => length(r.wide_mm, 1) },
  { name: 'Thick', of: (r: Row) => length(r.thick_mm, 1) },
  { name: 'Girth', of: (r: Row) => length(r.girth_mm, 1) },
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
        <tr><th scope="row">Under rod</th>
          <td v-for="r in view.rows" :key="r.number" :class="{ here: r.number === at }">
            <span :class="rank(r.under_rod_mm)">{{ r.under_rod_mm === null ? '–' : length(r.under_rod_mm, 1)
            }}</span></td></tr>
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
