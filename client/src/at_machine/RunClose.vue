<script setup lang="ts">
import { computed, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { AtMachineState } from '../api/types'
import { minutes } from '../units/format'
import { line } from './line'

/** The end of a run: how it came out. Its record is kept with the minutes that its cuts took. */
const props = defineProps<{ run: AtMachineState }>()
const outcomes = [['fine', 'Clean'], ['chatter', 'It chattered'], ['burning', 'It burned'], ['torn', 'It tore'],
  ['broke', 'Something broke'], ['slow', 'Slower than reckoned'], ['stopped', 'Given up']] as const
const text = ref('')
const wrong = ref('')
const cuts = computed(() => props.run.steps.filter((s) => s.kind === 'cut' && s.started && s.done))
const took = computed(() => cuts.value.reduce((all, s) => all + s.cut_s / 60, 0))
const reckoned = computed(() => cuts.value.reduce((all, s) => all + s.minutes, 0))
const words = computed(() => Object.fromEntries(outcomes) as Record<string, string>)
async function close(outcome: string) {
  try { line.state = await api.close_at_machine(props.run.id, outcome, text.value) } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.message
  }
}
</script>

<template>
  <section class="end">
    <template v-if="run.closed">
      <h1>This run is closed</h1>
      <p class="words">{{ words[run.closed.outcome] }}. Its record stands on the run sheet.</p>
    </template>
    <template v-else>
      <h1>How did it come out?</h1>
      <p v-if="cuts.length" class="words">Cut in {{ minutes(took) }} min, {{ minutes(reckoned) }} reckoned. One press
        keeps the record.</p>
      <label>What should be remembered<textarea v-model="text" rows="2" maxlength="4000" /></label>
      <p v-if="line.pending.length" class="words amber">The desk has not heard everything yet; it closes when it
        has.</p>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <div class="press">
        <button v-for="([key, said], k) in outcomes" :key="key" :class="k ? 'other' : 'big-go'"
          :data-first="k === 0 || undefined" :disabled="line.pending.length > 0" @click="close(key)">{{ said }}</button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.end { display: flex; flex-direction: column; gap: 14px; }
label { display: flex; flex-direction: column; color: var(--ink2); }
textarea {
  border: 1.5px solid var(--edge); background: var(--bark); color: var(--ink); font: inherit; padding: 6px 10px;
}
.other {
  min-height: 84px; padding: 8px 20px; border: 1.5px solid var(--edge); background: var(--bark); font-weight: 600;
  flex: 1 1 200px; text-align: center;
}
.amber { color: var(--amber-ink); }
.ember { color: var(--ember); }
</style>
