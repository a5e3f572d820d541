<script setup lang="ts">
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { AtMachineStep } from '../api/types'
import { open_route } from '../route/store'
import CutScreen from './CutScreen.vue'
import NoteSheet from './NoteSheet.vue'
import RunClose from './RunClose.vue'
import RunTrunk from './RunTrunk.vue'
import StepScreen from './StepScreen.vue'
import { here, line, listen, note, open_line } from './line'

/** At the machine: one thing at a time, read from a metre away, ticked with a dusty hand. */
const page = useRoute()
const run = Number(page.params.run)
const noting = ref(false)
const now = ref(new Date().toISOString())
const clock = setInterval(() => { now.value = new Date().toISOString() }, 1000)
const stop_listening = ref<(() => void) | null>(null)
onMounted(async () => {
  await open_line(run)
  stop_listening.value = listen()
  if (line.state) void open_route(line.state.route)
})
onUnmounted(() => { clearInterval(clock); stop_listening.value?.() })
const at = computed(() => here.value?.steps.findIndex((s) => s.id === here.value!.current) ?? -1)
const step = computed<AtMachineStep | null>(() => (at.value < 0 ? null : here.value!.steps[at.value]))
const last = computed(() => (here.value && at.value !== 0
  ? here.value.steps[at.value < 0 ? here.value.steps.length - 1 : at.value - 1] : null))
const setup = computed(() => here.value?.setups.find((s) => s.id === step.value?.setup) ?? null)
const place = computed(() => {
  if (!here.value || at.value < 0) return 'Every step is done'
  return `Step ${at.value + 1} of ${here.value.steps.length}${setup.value ? `, ${setup.value.name.toLowerCase()}` : ''}`
})
const hour = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })
const day = (iso: string) => new Date(iso).toLocaleString([], { weekday: 'short', hour: '2-digit', minute: '2-digit' })
/** Waits that have begun and are not over, such as glue. */
const waiting = computed(() => here.value?.steps.filter((s) => s.done && s.ready_at && s.ready_at > now.value) ?? [])
const heard = computed(() => {
  if (line.silent_since) return `Desk silent since ${hour(line.silent_since)}; it goes on here`
  return line.heard_at ? `Desk heard ${hour(line.heard_at)}` : ''
})
const next = computed(() => here.value?.steps.slice(at.value + 1).find((s) => !s.done) ?? null)
function take_back() { if (last.value) note('taken_back', last.value.id) }
/** The button that goes on has the focus, so that Enter is enough. */
watch(() => [step.value?.id, step.value?.started?.at, step.value?.stopped?.at].join(), () => void nextTick(() => {
  document.querySelector<HTMLElement>('.at-machine [data-first]')?.focus()
}))
</script>

<template>
  <main class="at-machine">
    <RunTrunk v-if="here" class="log" :steps="here.steps" :current="here.current" />
    <div v-if="here" class="all">
      <header>
        <span>{{ place }}</span><span :class="{ silent: line.silent_since }" role="status">{{ heard }}</span>
      </header>
      <p v-if="line.wrong" class="ember" role="alert">{{ line.wrong }}</p>
      <p v-if="here.outdated && !here.closed" class="ember" role="alert">{{ here.job }} has been changed since these
        programs were written. Start none of them: write the programs again, then begin anew.</p>
      <p v-for="w in waiting" :key="w.id" class="wait" role="status">{{ w.title }}: ready {{ day(w.ready_at!) }}.</p>
      <RunClose v-if="!step || here.closed" :run="here" />
      <CutScreen v-else-if="step.kind === 'cut'" :key="step.id" :step="step" :run="here" :now="now" :next="next" />
      <StepScreen v-else :key="`s${step.id}`" :step="step" :bed="setup?.bed ?? null" :next="next" />
      <NoteSheet v-if="noting" :step="step?.id ?? ''" @close="noting = false" />
      <nav aria-label="Beside the step">
        <button v-if="last && !here.closed && !step?.running_since" class="beside" @click="take_back">Take back:
          {{ last.title }}</button>
        <button v-if="!here.closed" class="beside" @click="noting = !noting">Note or reading</button>
        <RouterLink class="beside" :to="`/routes/${here.route}/run`">To the run sheet</RouterLink>
      </nav>
    </div>
    <p v-else-if="line.wrong" class="all ember" role="alert">{{ line.wrong }}</p>
    <p v-else class="all word">{{ line.silent_since ? 'The desk does not answer yet; it is asked again.' : '' }}</p>
  </main>
</template>

<style scoped>
.at-machine { display: grid; grid-template-columns: 112px 1fr; height: 100vh; font-size: 20px; line-height: 1.3; }
.log { height: 100vh; }
.all { padding: 18px 30px 14px; overflow-y: auto; display: flex; flex-direction: column; gap: 10px; min-width: 0; }
header { display: flex; justify-content: space-between; gap: 20px; color: var(--ink2); }
.silent { color: var(--amber-ink); font-weight: 600; }
.ember { color: var(--ember); font-weight: 600; margin: 0; }
.wait { color: var(--amber-ink); font-weight: 600; margin: 0; }
nav { display: flex; flex-wrap: wrap; gap: 10px; margin-top: auto; padding-top: 8px; }
.beside {
  flex: 1 1 180px; min-height: 56px; padding: 6px 14px; border: 1.5px solid var(--edge); color: var(--ink);
  text-decoration: none; display: flex; align-items: center; font-size: 18px; overflow: hidden;
}
@media (max-width: 620px) {
  .at-machine { grid-template-columns: 30px 1fr; font-size: 18px; }
  .all { padding: 12px 14px; }
}
</style>
<style>
.at-machine h1 { font-size: clamp(30px, 5vw, 52px); line-height: 1.04; }
.at-machine .words { font-family: var(--word); font-size: clamp(18px, 2.1vw, 24px); margin: 0; }
.at-machine .huge { font-size: clamp(54px, 9vw, 112px); font-weight: 700; line-height: 1; }
.at-machine .big-go, .at-machine .big-stop {
  min-height: 92px; font-size: 26px; font-weight: 650; padding: 8px 22px; border-radius: 3px; text-align: center;
}
.at-machine .big-go { background: var(--moss); color: var(--on-moss); flex: 2 1 300px; }
.at-machine .big-go:disabled { background: none; color: var(--ink2); border: 2px dashed var(--edge); opacity: 1; }
.at-machine .big-stop { border: 3px solid var(--ember); color: var(--ember); background: var(--bark); flex: 1 1 180px; }
.at-machine .press { display: flex; flex-wrap: wrap; gap: 14px; }
</style>
