<script setup lang="ts">
import { computed, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { AtMachineState, AtMachineStep } from '../api/types'
import { minutes } from '../units/format'
import ResumePanel from './ResumePanel.vue'
import { note, open_line } from './line'
import { cut_for, meanwhile, minutes_left } from './pending'

/** A stretch under the machine: the program as it is named there, then minutes left, then that it finished. */
const props = defineProps<{
  step: AtMachineStep; run: AtMachineState; now: string; next: AtMachineStep | null
}>()
const typed = ref('')
const why = ref('')
const busy = ref(false)
const refused = ref('')
const begins = computed(() => props.step.programs.some((p) => p.begins))
const numbers = computed(() => props.step.programs.map((p) => p.number).filter((n) => n))
const right = computed(() => !begins.value || !numbers.value.length || numbers.value.includes(typed.value.trim()))
const other = computed(() => typed.value.trim().length === 4 && !right.value)
const state = computed(() => {
  if (props.step.stopped) return 'stopped'
  return props.step.running_since ? 'cuts' : 'waits'
})
const left = computed(() => minutes_left(props.step, props.now))
const back_at = computed(() => new Date(Date.parse(props.now) + left.value * 60_000)
  .toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' }))
const over = computed(() => cut_for(props.step, props.now) / 60 - props.step.minutes)
const beside = computed(() => meanwhile(props.run.steps, left.value))
const act = (kind: 'started' | 'stopped' | 'went_on' | 'ticked', said = '') => note(kind, props.step.id, { note: said })
async function write() {
  busy.value = true
  refused.value = ''
  try {
    await api.release(props.run.route, props.run.revision, {})
    await open_line(props.run.id)
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    refused.value = error.message
  } finally { busy.value = false }
}
</script>

<template>
  <section class="cut">
    <h1>{{ step.title }}</h1>
    <template v-if="state === 'waits'">
      <template v-if="!step.programs.length">
        <p class="words">Its program is not written yet: it waited for work at the bench.</p>
        <p v-if="refused" class="ember" role="alert">{{ refused }}</p>
        <div class="press"><button class="big-go" data-first :disabled="busy || run.outdated"
          @click="write">{{ busy ? 'Writing, reading back' : 'Write it now' }}</button></div>
      </template>
      <template v-else>
        <p v-if="begins" class="words">Load <b v-for="p in step.programs" :key="p.name" class="file">{{ p.name }}</b>.
          Its first line says a number: type it as the machine shows it.</p>
        <p v-else class="words">The machine stands at its stop for this bit. It goes on when you press start there.</p>
        <div v-if="begins && numbers.length" class="asked">
          <input v-model="typed" data-first inputmode="numeric" maxlength="4" autocomplete="off"
            aria-label="Number of the program" placeholder="––––" :aria-invalid="other">
          <p v-if="other" class="ember" role="alert">That is another file: the one that was read back and released says
            {{ numbers.join(', ') }}. Load that one.</p>
        </div>
        <p class="words">{{ step.programs.length > 1 ? 'One program a piece. ' : '' }}Its first move
          crosses above the wood: watch where it goes, one hand at the machine’s own stop. Spindle up to speed
          before it goes down.</p>
        <div class="press"><button class="big-go" :data-first="!begins" :disabled="!right || run.outdated"
          @click="act('started')">It cuts: started at the machine</button></div>
      </template>
    </template>
    <template v-else>
      <div class="two">
        <div>
          <p class="left"><b class="huge">{{ left }}</b><span>min left<template v-if="state === 'cuts'">, back here at
            {{ back_at }}</template></span></p>
          <p v-if="over > 1" class="words amber">It takes {{ minutes(over) }} min longer than reckoned so far.</p>
          <p v-if="state === 'stopped'" class="words amber">It stands{{
            step.stop_why ? `: ${step.stop_why}` : '' }}.</p>
          <p v-if="next" class="words">Then: {{ next.title }}.</p>
          <ul><li v-for="o in step.operations" :key="o.id">{{ o.name }} <span>{{ minutes(o.minutes) }}</span></li></ul>
        </div>
        <div v-if="beside.length" class="beside-it">
          <p class="words">Meanwhile, in sight of its stop</p>
          <button v-for="b in beside" :key="b.step.id" class="job" :class="{ long: !b.fits }"
            @click="note('ticked', b.step.id)"><span>{{ b.step.title }}</span>
            <span>{{ Math.max(1, Math.round(b.step.minutes)) }} min{{ b.fits ? '' : ', too long' }}</span></button>
        </div>
      </div>
      <div v-if="state === 'cuts'" class="press">
        <label class="why">What stopped it<input v-model="why" maxlength="200" autocomplete="off"></label>
        <button class="big-stop" @click="act('stopped', why)">It stopped</button>
        <button class="big-go" data-first @click="act('ticked')">It finished</button>
      </div>
      <ResumePanel v-if="state === 'stopped' && step.programs.length" :run="run" :step="step" />
      <div v-if="state === 'stopped'" class="press">
        <button class="big-stop" @click="act('ticked')">It is finished as it is</button>
        <button class="big-go" data-first @click="act('went_on')">It goes on, hands clear</button>
      </div>
    </template>
  </section>
</template>

<style scoped>
.cut { display: flex; flex-direction: column; gap: 14px; flex: 1; }
.two { display: flex; flex-wrap: wrap; gap: 20px 50px; flex: 1; align-items: flex-start; }
.two > div { flex: 1 1 320px; }
.left { margin: 0; display: flex; align-items: baseline; gap: 12px; flex-wrap: wrap; }
.file { overflow-wrap: anywhere; margin-right: 8px; font-family: var(--num); }
.asked input {
  font: 700 64px var(--num); width: 4.4em; min-height: 92px; border: 2px solid var(--edge); background: var(--bark);
  color: var(--ink); padding: 0 16px; letter-spacing: 0.08em;
}
.press { margin-top: auto; }
.ember { color: var(--ember); font-weight: 600; margin: 6px 0 0; }
.amber { color: var(--amber-ink); }
ul { list-style: none; padding: 0; margin: 8px 0 0; color: var(--ink2); max-width: 460px; }
li { display: flex; justify-content: space-between; gap: 12px; }
.job {
  width: 100%; min-height: 84px; border: 1.5px solid var(--edge); background: var(--bark); padding: 8px 18px;
  margin-top: 10px; display: flex; justify-content: space-between; gap: 16px; align-items: center; font-weight: 600;
}
.long { color: var(--ink2); background: none; }
.why { flex: 1 1 220px; display: flex; flex-direction: column; color: var(--ink2); font-size: 17px; }
.why input { min-height: 60px; border: 1.5px solid var(--edge); background: var(--bark); color: var(--ink);
  font-size: 20px; padding: 4px 12px; }
</style>
