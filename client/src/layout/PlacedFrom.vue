<script setup lang="ts">
import { computed } from 'vue'
import type { MarkLine } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { line_from, pen, rim_beyond, side_of, type Way } from './pen'

/** One place, counted from a line of the piece and to the rim; the word that names the line changes it. */
const props = defineProps<{ lines: MarkLine[]; way: Way; at: number }>()
const emit = defineEmits<{ to: [at: number] }>()
const from = computed(() => line_from(props.lines, props.way))
const rim = computed(() => rim_beyond(props.lines, props.way, props.at))
const choices = computed(() => props.lines.filter((l) => l.along === (props.way === 'along') && !l.edge))
const off = (line: MarkLine) => Math.round(Math.abs(props.at - line.at_mm) * 1000) / 1000
/** What is typed keeps its side; a minus sign takes it to the other. */
function typed(line: MarkLine, value: number | null) {
  if (value === null) return
  emit('to', line.at_mm + (props.at < line.at_mm ? -value : value))
}
</script>

<template>
  <div v-if="from" class="from">
    <NumberField :model-value="off(from)" :places="2" negative
      :label="`${side_of(from, at)} ${from.name}`" @update:model-value="(v) => typed(from!, v)" />
    <select :value="from.id" :aria-label="way === 'along' ? 'Counted along from' : 'Counted across from'"
      @change="pen.from[way] = ($event.target as HTMLSelectElement).value">
      <option v-for="l in choices" :key="l.id" :value="l.id">{{ l.name }}</option>
    </select>
    <NumberField v-if="rim" :model-value="off(rim)" :places="2" :label="`to ${rim.name}`"
      @update:model-value="(v) => typed(rim!, v)" />
  </div>
</template>

<style scoped>
.from { display: grid; grid-template-columns: 1fr 1fr; gap: 4px 8px; }
select { grid-column: 1 / -1; grid-row: 2; color: var(--ink2); background: transparent; border: 0; font: inherit; }
select { text-decoration: underline dotted; text-underline-offset: 3px; min-height: 26px; max-width: 100%; }
option { background: var(--bark); color: var(--ink); }
</style>
