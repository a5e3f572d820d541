<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { Finding, Release } from '../api/types'
import FlagMark from '../marks/FlagMark.vue'
import TrustMark from '../marks/TrustMark.vue'
import BenchSteps from '../steps/BenchSteps.vue'
import BedPlan from './BedPlan.vue'
import Masthead from '../route/Masthead.vue'
import { findings, is_current, open, open_route } from '../route/store'
import RunRecord from './RunRecord.vue'
import ZeroSteps from './ZeroSteps.vue'
import { minutes } from '../units/format'
import { reason_of } from '../units/reason'

const route = useRoute()
const id = Number(route.params.id)
const sheet = computed(() => open.report?.run_plan)
const ticked = reactive(new Set<string>())
const release = ref<Release | null>(null)
const refused = ref<Finding[]>([])
const wrong = ref('')
const busy = ref(false)
const reasons = reactive<Record<string, string>>({})
const gates = ref(0)
const stops = computed(() => findings.value.filter((f) => f.severity === 'stop'))
onMounted(() => open_route(id))
watch(() => open.state?.revision, () => { release.value = null; refused.value = []; wrong.value = '' })

async function write() {
  busy.value = true
  wrong.value = ''
  refused.value = []
  try {
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
/** A tick is held for a moment, so that a dusty sleeve does not make it. The keyboard ticks at once. */
let held = 0
function hold(key: string) { held = window.setTimeout(() => toggle(key), 350) }
function let_go() { window.clearTimeout(held) }
function toggle(key: string) { if (ticked.has(key)) ticked.delete(key); else ticked.add(key) }
const short = (digest: string) => digest.slice(0, 12)
</script>

<template>
  <main class="run">
    <Masthead second="Run sheet" />
    <div v-if="sheet" class="columns">
      <section class="steps">
        <template v-if="open.state?.document.bench_steps.some((b) => b.after === null)"><h2>Before the machine</h2><BenchSteps :route="id" part="before" @open="gates = $event" /></template>
        <p v-if="open.says?.brushes" :class="open.says.brushes.words ? 'rests' : 'second'">Brushes of the motor: {{ open.says.brushes.left_h.toFixed(1) }} hours left at its greatest speed, this job asks {{ open.says.brushes.job_h.toFixed(1) }}.</p>
        <template v-for="(u, n) in sheet.setups" :key="u.id">
        <h2>{{ sheet.setups.length > 1 ? `${u.name}: load and zero` : 'Load and zero' }}</h2>
        <p>{{ u.load }}.</p>
        <p>X and Y zero at the <b>{{ u.zero_xy }}</b>. Z zero on the <b>{{ u.zero_z }}</b>.{{ n > 0 ? ' Find both again.' : '' }}</p>
        <ZeroSteps :steps="u.zero_steps" />
        <BedPlan :bed="u.bed" />
        <div v-for="(b, k) in u.bits" :key="k" class="bit">
          <h2>T{{ b.t }}, {{ b.name }} <span class="second">{{ minutes(b.operations.reduce((s, o) => s + o.minutes, 0)) }} min</span></h2>
          <ul>
            <li v-for="c in b.checks" :key="c">
              <button class="tick" role="checkbox" :aria-checked="ticked.has(`${u.id}${k}${c}`)" :class="{ on: ticked.has(`${u.id}${k}${c}`) }" @pointerdown="hold(`${u.id}${k}${c}`)" @pointerup="let_go" @pointerleave="let_go" @keydown.enter.prevent="toggle(`${u.id}${k}${c}`)" @keydown.space.prevent="toggle(`${u.id}${k}${c}`)">
                <svg width="26" height="20" aria-hidden="true"><path v-if="ticked.has(`${u.id}${k}${c}`)" d="M3 11q3 1 5 7q6 -12 15 -17q-10 8 -14 18q-3 -5 -6 -8z" fill="var(--moss)" /><path v-else d="M3 10q5 -4 11 -3.4t9 3.4q-5 3.4 -10 3t-10 -3z" fill="none" stroke="var(--ink2)" stroke-width="1.4" /></svg>
                <span>{{ c }}</span>
              </button>
            </li>
          </ul>
          <template v-for="o in b.operations" :key="o.id"><p class="second op"><span>{{ o.name }}</span><span>{{ minutes(o.minutes) }} min</span></p>
            <p v-if="o.rests_on.once.length || o.rests_on.never.length" class="rests"><TrustMark :trust="o.rests_on.trust" /> {{ o.rests_on.never.length ? `Never measured: ${o.rests_on.never.slice(0, 3).join(', ')}.` : `Measured only once: ${o.rests_on.once.slice(0, 3).join(', ')}.` }} Hold the part against it first.</p></template>
        </div>
        </template>
        <template v-if="sheet.after.length"><h2>After the machine</h2><BenchSteps :route="id" part="after" /></template>
        <h2>Safety</h2>
        <p v-for="s in sheet.safety" :key="s">{{ s }}</p>
      </section>
      <section class="sheet programs">
        <h2>Programs</h2>
        <template v-if="stops.length && !release">
          <p class="word">{{ stops.length === 1 ? 'One stop stands.' : `${stops.length} stops stand.` }} Settle them on the Route screen, or give a written reason; it is kept and printed in the program.</p>
          <div v-for="f in stops" :key="f.letter" class="one"><FlagMark :severity="f.severity" :letter="f.letter" /><div class="grow"><p>{{ f.reason }}</p>
            <v-text-field v-if="f.may_override" v-model="reasons[f.code]" label="Reason for running it all the same" /><p v-else class="ember">This one is never overridden.</p></div></div>
        </template>
        <template v-if="gates && !release">
          <p class="word">{{ gates === 1 ? 'One bench step is' : `${gates} bench steps are` }} not done. Tick {{ gates === 1 ? 'it' : 'them' }} at the left when {{ gates === 1 ? 'it is' : 'they are' }}, or say why it runs without; that is kept and printed in the program.</p>
          <v-text-field v-model="reasons['bench.open']" label="Reason for running it without" />
        </template>
        <template v-if="!release">
          <p v-if="!stops.length" class="second">The programs are written, read back by our own reader and simulated before you get them.</p>
          <button :class="(gates && !reasons['bench.open']?.trim()) || stops.some((f) => !f.may_override || !reasons[f.code]?.trim()) ? 'blocked' : 'go'" :disabled="busy || !is_current" @click="write">{{ busy ? 'Writing, reading back, simulating' : 'Write the programs' }}</button>
        </template>
        <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
        <p v-for="(f, k) in refused" :key="k" class="ember">{{ reason_of(f) }}</p>
        <template v-if="release">
          <p class="word">Read back and simulated: the wood agrees within {{ Math.max(0.001, release.read_back.greatest_difference_mm).toFixed(3) }} mm. Computed, not proven.</p>
          <ul class="files"><li v-for="p in release.programs" :key="p.name"><a :href="`/api/routes/${id}/programs/${p.name}?revision=${release.revision}`" download>{{ p.name }}</a><span class="second">{{ p.lines }} lines, {{ minutes(p.minutes) }} min</span></li></ul>
          <a class="go" :href="`/api/routes/${id}/release.zip?revision=${release.revision}`" download>Download all, with run sheet and route file</a>
          <p class="least">Revision {{ release.revision }}, checked as {{ short(release.digest) }}. A change of the route asks for new programs.</p>
        </template>
        <p><a class="second" :href="`/api/routes/${id}/file`" download>Route file only</a></p>
        <RunRecord :route="id" />
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
.bit { border-top: 1px solid var(--rule); padding: 10px 0 6px; }
ul { list-style: none; padding: 0; margin: 6px 0; display: grid; grid-template-columns: 1fr 1fr; gap: 6px; }
.tick { width: 100%; min-height: 44px; border: 1.5px solid var(--edge); border-radius: 2px; padding: 4px 10px; display: flex; gap: 10px; align-items: center; background: var(--bark); }
.tick svg { flex: none; }
.tick.on { background: var(--moss-tint); border-color: var(--moss); }
.rests { color: var(--amber-ink); }
.op { display: flex; justify-content: space-between; max-width: 380px; }
.programs { padding: 16px 20px 20px; display: flex; flex-direction: column; gap: 10px; }
.programs p { margin: 0; }
.files { grid-template-columns: 1fr; }
.files li { display: flex; justify-content: space-between; gap: 10px; flex-wrap: wrap; }
.cure, .blocked { align-self: flex-start; }
.go { align-self: flex-start; text-decoration: none; }
.one { display: flex; gap: 10px; }
.grow { flex: 1; display: flex; flex-direction: column; gap: 6px; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
</style>
