<script setup lang="ts">
import { computed, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { AtMachineState, AtMachineStep, ProgramOn, StoppedAt } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { fine, length, minutes } from '../units/format'
import { note } from './line'

/** Stopped in the middle: the place by its line or by the machine's display, and the program that goes on from it. */
const props = defineProps<{ run: AtMachineState; step: AtMachineStep }>()
const program = ref(props.step.programs[0].name)
const line = ref('')
const at = ref<{ x: number | null; y: number | null; z: number | null }>({ x: null, y: null, z: null })
const spots = ref<StoppedAt[] | null>(null)
const made = ref<ProgramOn | null>(null)
const wrong = ref('')
const busy = ref(false)
const whole = computed(() => at.value.x !== null && at.value.y !== null && at.value.z !== null)
async function ask(act: () => Promise<void>) {
  busy.value = true
  wrong.value = ''
  try { await act() } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.message
  } finally { busy.value = false }
}
const find = () => ask(async () => {
  made.value = null
  const { x, y, z } = at.value
  spots.value = await api.stopped_at(props.run.id, { program: program.value, x_mm: x!, y_mm: y!, z_mm: z! })
})
const make = (from: number) => ask(async () => {
  made.value = await api.resume_at_machine(props.run.id, program.value, from)
  const m = made.value
  const said = `Goes on with ${m.name}, number ${m.number}, from line ${from} of ${program.value}`
  note('note', props.step.id, { note: said })
})
const file = computed(() => (
  made.value ? URL.createObjectURL(new Blob([made.value.text], { type: 'text/plain' })) : ''))
const comes_down = computed(() => {
  const m = made.value!
  const at_it = place(m.down_at_mm)
  if (m.back_mm < 0.05) return `It begins at ${at_it}, where that line did`
  return `It comes down at ${at_it}, ${length(m.back_mm, 1)} before it stopped, where the wood is cut already`
})
const place = (xyz: number[]) => `X ${length(xyz[0], 2)}  Y ${length(xyz[1], 2)}  Z ${length(xyz[2], 2)}`
</script>

<template>
  <section class="resume" aria-label="A program that goes on">
    <h2>It cannot go on from where it is?</h2>
    <p class="second">Power gone, a bit broken, the program lost: home, find zero, put the bit in and touch it off. Then
      say where it stopped.</p>
    <div v-if="step.programs.length > 1" class="row"><v-select v-model="program" label="Program"
      :items="step.programs.map((p) => p.name)" /></div>
    <div class="row">
      <v-text-field v-model="line" label="Line it stopped at" inputmode="numeric" autocomplete="off"
        @keydown.enter="Number(line) > 0 && make(Number(line))" />
      <button class="mid" :disabled="busy || !(Number(line) > 0)" @click="make(Number(line))">{{
        busy ? 'Cutting it from both woods' : 'Make the program that goes on' }}</button>
    </div>
    <div class="row">
      <NumberField v-model="at.x" label="X on the display" :places="2" negative />
      <NumberField v-model="at.y" label="Y on the display" :places="2" negative />
      <NumberField v-model="at.z" label="Z on the display" :places="2" negative />
      <button class="mid" :disabled="busy || !whole" @click="find">Where was that?</button>
    </div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <template v-if="spots && !made">
      <p v-if="!spots.length" class="words">Nothing of this program comes near it.</p>
      <button v-for="s in spots" :key="`${s.line} ${s.away_mm}`" class="spot" :disabled="busy" @click="make(s.line)">
        <b>Line {{ s.line }}</b><span>{{ s.operation }}</span><span>{{ place(s.at_mm) }}</span>
        <span class="second">{{ fine(s.away_mm) }} away</span></button>
    </template>
    <template v-if="made">
      <p class="words">{{ comes_down }}, and goes on from there: {{ minutes(made.minutes) }} min.
        Read back and cut from both woods,
        the line done or not: the same within {{ fine(Math.max(0.001, made.differs_mm)) }}. Computed, not proven.</p>
      <a class="mid" :href="file" :download="made.name">{{ made.name }}, number {{ made.number }}</a>
      <p class="second">Another bit in: the same diameter, touched off anew. The wood moved: find zero first; a piece
        that came loose is not gone on with.</p>
    </template>
  </section>
</template>

<style scoped>
.resume { border-top: 1px solid var(--rule); padding-top: 10px; display: flex; flex-direction: column; gap: 10px; }
p { margin: 0; }
.row { display: flex; flex-wrap: wrap; gap: 12px; align-items: center; }
.row > * { flex: 1 1 130px; }
.mid {
  min-height: 60px; border: 2px solid var(--moss); color: var(--moss-press); font-weight: 650; padding: 6px 18px;
  display: flex; align-items: center; text-decoration: none; align-self: flex-start;
}
.mid:disabled { border: 2px dashed var(--edge); color: var(--ink2); opacity: 1; }
.spot {
  min-height: 64px; border: 1.5px solid var(--edge); background: var(--bark); padding: 6px 16px; display: flex;
  flex-wrap: wrap; gap: 6px 18px; align-items: center;
}
section :deep(.v-field__input) { min-height: 58px !important; font-size: 20px; }
.ember { color: var(--ember); font-weight: 600; }
</style>
