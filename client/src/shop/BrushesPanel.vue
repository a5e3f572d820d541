<script setup lang="ts">
import { computed, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import EditField from '../fields/EditField.vue'
import { ask_books, open } from '../route/store'
import { value_typed } from '../units/format'

/** The brushes of a router's motor: hours behind them and left, counted by runs; spare sets. A spindle has none. */
const machine = computed(() => open.state!.document.machine)
const worn = computed(() => open.says?.brushes)
const [spares, hours, wrong] = [ref(''), ref(''), ref('')]
const number = (text: string) => { const v = value_typed(text); return v !== null && v >= 0 ? v : null }
async function note(body: { what: 'ran' | 'brushes' | 'spares'; minutes?: number; weighed_min?: number; spares?: number | null }) {
  try { await api.note_machine({ machine: machine.value.name, ...body }); wrong.value = ''; spares.value = hours.value = ''; await ask_books() } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  }
}
const keep_spares = () => { const v = number(spares.value); if (v === null || v % 1) wrong.value = 'How many spare sets: a whole number.'; else void note({ what: 'spares', spares: v }) }
const keep_hours = () => { const v = number(hours.value); if (!v) wrong.value = 'Hours it ran elsewhere: a number above 0.'; else void note({ what: 'ran', minutes: v * 60, weighed_min: v * 60 }) }
</script>

<template>
  <div class="brushes">
    <EditField path="machine.brushes_h" :value="machine.brushes_h" label="A set of brushes lasts, at the greatest speed" suffix="hours" placeholder="a spindle without any" persistent-placeholder />
    <template v-if="worn">
      <svg viewBox="0 0 100 8" preserveAspectRatio="none" role="img" :aria-label="`${worn.worn_h.toFixed(1)} of ${machine.brushes_h} hours`"><rect width="100" height="8" fill="var(--well)" /><rect :width="Math.min(100, (100 * worn.worn_h) / (machine.brushes_h ?? 1))" height="8" :fill="worn.words ? '#b9770a' : 'var(--moss)'" /></svg>
      <p><b>{{ worn.left_h.toFixed(1) }} hours</b> left at the greatest speed; it ran {{ worn.hours.toFixed(1) }} by the clock, which count as {{ worn.worn_h.toFixed(1) }}.<template v-if="worn.jobs_left !== null"> This job asks {{ worn.job_h.toFixed(2) }}: good for <b>{{ worn.jobs_left }}</b> like it.</template> {{ worn.spares === 1 ? 'One spare set' : worn.spares ? `${worn.spares} spare sets` : 'No spare set' }} in the drawer.</p>
      <p v-if="worn.words" class="care">{{ worn.words[0].toUpperCase() + worn.words.slice(1) }}.</p>
      <div class="four"><v-text-field v-model="hours" label="Ran elsewhere, at its greatest" suffix="hours" inputmode="decimal" /><button class="cure" @click="keep_hours">Count them</button><v-text-field v-model="spares" label="Spare sets" inputmode="numeric" /><button class="cure" @click="keep_spares">Keep that</button></div>
      <button class="plain" @click="note({ what: 'brushes', spares: Math.max(0, worn.spares - 1) })">New brushes went in</button>
      <p class="least">Unplug the motor before its brushes are touched. Its maker’s length and hours go before ours.</p>
    </template>
    <p v-else-if="machine.brushes_h" class="second">Their count appears when the route has been proved.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.brushes { display: flex; flex-direction: column; gap: 8px; align-items: stretch; }
p { margin: 0; }
svg { width: 100%; height: 8px; }
.four { display: grid; grid-template-columns: 1fr 110px; gap: 8px; align-items: center; }
.four .cure { justify-content: center; }
.plain { align-self: flex-start; }
.care { color: var(--amber-ink); font-weight: 600; }
.ember { color: var(--ember); }
</style>
