<script setup lang="ts">
import { computed, onMounted, onUnmounted, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { Finding, Release, RunStep } from '../api/types'
import OfBefore from '../fields/OfBefore.vue'
import FlagMark from '../marks/FlagMark.vue'
import BenchSteps from '../steps/BenchSteps.vue'
import { all_ticked, bench, bench_wrong, load_bench } from '../steps/bench'
import Masthead from '../route/Masthead.vue'
import { ask_books, findings, is_current, open, open_route } from '../route/store'
import GoToMachine from '../at_machine/GoToMachine.vue'
import RunBitSteps from './RunBitSteps.vue'
import RunFits from './RunFits.vue'
import RunRecord from './RunRecord.vue'
import RunSetup from './RunSetup.vue'
import TwinPanel from './TwinPanel.vue'
import { fine, minutes, unit } from '../units/format'

const route = useRoute()
const id = Number(route.params.id)
const sheet = computed(() => open.report?.run_plan)
const ticked = reactive(new Set<string>())
const release = ref<Release | null>(null)
const refused = ref<Finding[]>([])
const wrong = ref('')
const busy = ref(false)
const reasons = reactive<Record<string, string>>({})
const gates = computed(() => bench.value.filter((s) => s.open))
/** The run in its order: bench steps that follow one another stand together. */
const order = computed(() => {
  const out: ({ kind: 'bench'; steps: string[] } | Exclude<RunStep, { kind: 'bench' }>)[] = []
  for (const one of sheet.value?.order ?? []) {
    const last = out.at(-1)
    if (one.kind !== 'bench') out.push(one)
    else if (last?.kind === 'bench') last.steps.push(one.step)
    else out.push({ kind: 'bench', steps: [one.step] })
  }
  return out
})
const setup_of = (id: string) => sheet.value!.setups.find((s) => s.id === id)!
const first_held = computed(() => sheet.value?.order.findIndex(
  (o) => o.kind === 'bench' && gates.value.some((g) => g.id === o.step)) ?? -1)
/** Whether anything of a machine comes before the first gate that is open: then some programs are free. */
const some_free = computed(() => first_held.value < 0
  || (sheet.value?.order.slice(0, first_held.value).some((o) => o.kind === 'bit') ?? false))
const stops = computed(() => findings.value.filter((f) => f.severity === 'stop'))
onMounted(() => { void open_route(id); void load_bench(id) })
/** Quiet hours come and go while a page is open. */
const asking = setInterval(() => void ask_books(), 60_000)
onUnmounted(() => clearInterval(asking))
watch(() => open.state?.hash, () => load_bench(id))
watch(() => bench.value.map((s) => s.open).join(), () => { release.value = null; refused.value = [] })
watch(() => open.state?.revision, () => { release.value = null; refused.value = []; wrong.value = '' })

async function write() {
  busy.value = true
  wrong.value = ''
  refused.value = []
  try {
    await all_ticked()
    release.value = await api.release(id, open.state!.revision, Object.fromEntries(Object.entries(reasons).filter(([, r]) => r.trim())))
    open.said = 'Programs written, read back and simulated'
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.message
    refused.value = (error.failure.facts.findings as Finding[]) ?? []
  } finally {
    busy.value = false
  }
}
function toggle(key: string) { if (ticked.has(key)) ticked.delete(key); else ticked.add(key) }
const short = (digest: string) => digest.slice(0, 12)
</script>

<template>
  <main class="run">
    <Masthead second="Run sheet" />
    <div v-if="sheet" class="columns">
      <section class="steps"><OfBefore :stale="!is_current"
        words="This run sheet is of before the last change; the new one is being made.">
        <p v-if="open.says?.brushes" :class="open.says.brushes.words ? 'rests' : 'second'">Brushes of the motor: {{ open.says.brushes.left_h.toFixed(1) }} hours left at its greatest speed, this job asks {{ open.says.brushes.job_h.toFixed(1) }}.</p>
        <p v-if="bench_wrong" class="ember" role="alert">{{ bench_wrong }}</p>
        <template v-for="(entry, n) in order" :key="n">
          <template v-if="entry.kind === 'bench'"><h2>At the bench</h2><BenchSteps :route="id" :only="entry.steps"
            /></template>
          <RunSetup v-else-if="entry.kind === 'setup'" :setup="setup_of(entry.setup)"
            :again="sheet.setups[0].id !== entry.setup" :several="sheet.setups.length > 1" />
          <RunBitSteps v-else :bit="setup_of(entry.setup).bits[entry.bit]" :ticked="ticked"
            :name="`${entry.setup}${entry.bit}`" @toggle="toggle" />
        </template>
        <h2>Safety</h2>
        <p v-for="s in sheet.safety" :key="s">{{ s }}</p>
      </OfBefore></section>
      <section class="sheet programs">
        <template v-if="open.says?.before.length">
          <h2>Before the start</h2>
          <ul class="before"><li v-for="b in open.says.before" :key="b.kind" :class="{ binds: b.binds }"><span
            :role="b.binds ? 'alert' : undefined">{{ b.sentence }}</span></li></ul>
        </template>
        <h2>Programs</h2>
        <template v-if="stops.length && !release">
          <p class="word">{{ stops.length === 1 ? 'One stop stands.' : `${stops.length} stops stand.` }} Settle them on the Route screen, or give a written reason; it is kept and printed in the program.</p>
          <div v-for="f in stops" :key="f.letter" class="one"><FlagMark :severity="f.severity" :letter="f.letter" />
            <div class="grow"><p>{{ f.sentence }}</p>
            <v-text-field v-if="f.may_override" v-model="reasons[f.code]" label="Reason for running it all the same" /><p v-else class="ember">This one is never overridden.</p></div></div>
        </template>
        <template v-if="gates.length && !release">
          <p class="word">{{ gates.length === 1 ? 'One bench step is' : `${gates.length} bench steps are` }} not done. {{ some_free ? 'What comes before the first of them is written; what comes after it waits until it is ticked' : `Tick ${gates.length === 1 ? 'it' : 'them'} at the left when ${gates.length === 1 ? 'it is' : 'they are'}` }}, or say why it runs without; that is kept and printed in the program.</p>
          <v-text-field v-model="reasons['bench.open']" label="Reason for running it without" />
        </template>
        <template v-if="!release">
          <p v-if="!stops.length" class="second">The programs are written, read back by our own reader and simulated before you get them.</p>
          <button
            :class="(!some_free && !reasons['bench.open']?.trim()) || stops.some((f) => !f.may_override || !reasons[f.code]?.trim()) ? 'blocked' : 'go'"
            :disabled="busy || !is_current"
            @click="write">{{ busy ? 'Writing, reading back, simulating' : 'Write the programs' }}</button>
        </template>
        <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
        <p v-for="(f, k) in refused" :key="k" class="ember">{{ f.sentence }}</p>
        <template v-if="release">
          <p
            class="word">Read back and simulated: the wood agrees within {{ fine(Math.max(0.001, release.read_back.greatest_difference_mm)) }}. Computed, not proven.</p>
          <ul class="files"><li v-for="p in release.programs" :key="p.name"><a :href="`/api/routes/${id}/programs/${p.name}?revision=${release.revision}`" download>{{ p.name }}</a><span class="second">{{ p.lines }} lines, {{ minutes(p.minutes) }} min</span></li></ul>
          <template v-if="release.waiting.length">
            <h3>Waiting for the bench</h3>
            <ul class="files waiting"><li v-for="p in release.waiting" :key="p.name"><b>{{ p.name }}</b><span
              class="second">{{ minutes(p.minutes) }} min</span><span
              class="why">waits for {{ p.steps.join(', ') }}</span></li></ul>
          </template>
          <a class="go" :href="`/api/routes/${id}/release.zip?revision=${release.revision}&unit=${unit}`"
            download>{{ release.waiting.length ? 'Download what is free' : 'Download all' }}, with run sheet and route file</a>
          <p class="least">Revision {{ release.revision }}, checked as {{ short(release.digest) }}. A change of the route asks for new programs.</p>
        </template>
        <GoToMachine :route="id" :released="release !== null" />
        <p><a class="second" :href="`/api/routes/${id}/file`" download>Route file only</a></p>
        <RunFits :route="id" />
        <RunRecord :route="id" />
        <TwinPanel :route="id" />
      </section>
    </div>
    <p v-else-if="open.report?.failed" class="word ember">{{ open.report.failed.message }}</p>
    <p v-else class="word">The run sheet appears when the route has been proved.</p>
  </main>
</template>


<style scoped>
.run { padding: 6px 34px 20px; height: 100vh; overflow-y: auto; max-width: 1360px; margin: 0 auto; }
.columns { display: grid; grid-template-columns: 1fr 470px; gap: 34px; align-items: start; margin-top: 6px; }
.steps p { margin: 4px 0; }
.programs { padding: 16px 20px 20px; display: flex; flex-direction: column; gap: 10px; }
.programs p { margin: 0; }
.rests { color: var(--amber-ink); }
.files { list-style: none; padding: 0; margin: 6px 0; display: grid; gap: 6px; }
.waiting b { font-weight: 500; color: var(--ink2); }
.why { flex-basis: 100%; color: var(--amber-ink); }
h3 { margin: 8px 0 0; }
.files li { display: flex; justify-content: space-between; gap: 10px; flex-wrap: wrap; }
.cure, .blocked { align-self: flex-start; }
.go { align-self: flex-start; text-decoration: none; }
.one { display: flex; gap: 10px; }
.grow { flex: 1; display: flex; flex-direction: column; gap: 6px; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
.before { margin: 0 0 10px; padding-left: 18px; }
.before .binds { color: var(--ember); font-weight: 600; }
</style>
