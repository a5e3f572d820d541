<script setup lang="ts" generic="R extends { number: number }">
import { nextTick, ref, watch } from 'vue'

/** A table with a column for every fret; the one that is looked at stands out and is scrolled to. */
export interface FretLine<T> { name: string; of: (row: T) => string; rank?: (row: T) => string }
const props = defineProps<{ rows: R[]; at: number; lines: FretLine<R>[] }>()
const emit = defineEmits<{ choose: [fret: number] }>()
const body = ref<HTMLElement>()
watch(() => props.at, async (at) => {
  await nextTick()
  body.value?.querySelector(`[data-fret="${at}"]`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' })
})
</script>

<template>
  <div ref="body" class="wide" tabindex="0" role="region" aria-label="Table of frets">
    <table>
      <thead><tr><th scope="row">Fret</th>
        <th v-for="r in rows" :key="r.number" :data-fret="r.number" scope="col" :class="{ here: r.number === at }">
          <button :aria-pressed="r.number === at" @click="emit('choose', r.number)">{{ r.number || 'nut' }}</button>
        </th></tr></thead>
      <tbody>
        <tr v-for="l in lines" :key="l.name"><th scope="row">{{ l.name }}</th>
          <td v-for="r in rows" :key="r.number" :class="{ here: r.number === at }">
            <span :class="l.rank?.(r)">{{ l.of(r) }}</span></td></tr>
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
