<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { JigRecord, Setup } from '../api/types'
import DrawingLinks from '../fields/DrawingLinks.vue'
import OfBefore from '../fields/OfBefore.vue'
import { making } from '../route/making'
import { open } from '../route/store'
import { length } from '../units/format'
import JigShelf from './JigShelf.vue'
import NumberField from '../fields/NumberField.vue'

/** The jig for a setup, designed from what holds it: parts, how true it is, what to do; made a job of its own. A job that is a jig shows its own. */
const props = defineProps<{ setup: Setup }>()
const kind = ref<JigRecord['kind']>(props.setup.nest ? 'nest' : 'board')
const angles = reactive({ wanted_deg: 3, wedge_deg: 0, in_blank_deg: 0 })
const JIGS: [JigRecord['kind'], string][] = [['board', 'Board'], ['carrier', 'Carrier'], ['nest', 'Nest'], ['corner', 'Fences'], ['lines', 'Lines'], ['vice', 'Vice']]
const turns = computed(() => ['carrier', 'corner', 'lines'].includes(kind.value))
const all = ref(false)
const several = computed(() => (open.state?.document.setups.length ?? 1) > 1)
const wanted = computed(() => ({ setup: all.value && several.value && kind.value === 'board' ? '*' : props.setup.id, kind: kind.value, about: about.value, ...angles }))
const about = ref<'length' | 'width'>('length')
const plan = ref<(JigRecord & { job: string; steps: { name: string; minutes: number; note: string }[]; operations: number }) | null>(null)
const { wrong, busy, make } = making()
const own = computed(() => open.state?.document.jig ?? null)
const shown = computed(() => own.value ?? plan.value)
const SOURCES = { cut: 'to cut', buy: 'to buy', hand: 'on hand' }
const ANGLES: [keyof typeof angles, string][] = [['wanted_deg', 'Wanted'], ['wedge_deg', 'By a wedge'], ['in_blank_deg', 'In the blank']]
let asked = 0
const looking = ref(false) // the list is being made anew
watch(() => [props.setup.id, JSON.stringify(props.setup.hardware), kind.value, about.value, all.value, { ...angles }, open.state?.revision], () => void look(), { immediate: true })
async function look() {
  if (own.value || !open.state) return
  const mine = ++asked
  looking.value = true
  try {
    const found = await api.jig_plan(open.state.route, wanted.value)
    if (mine === asked) { plan.value = found; wrong.value = '' }
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (mine === asked) { plan.value = null; wrong.value = error.failure.message }
  } finally {
    if (mine === asked) looking.value = false
  }
}
</script>

<template>
  <section>
    <template v-if="own">
      <p>This job makes a {{ own.kind }} for <b>{{ own.made_for }}</b>.</p>
      <JigShelf v-if="open.state" :key="open.state.route" :route="open.state.route" />
    </template>
    <template v-else>
      <div class="choice" role="radiogroup" aria-label="Kind of jig"><button v-for="[key, name] in JIGS" :key="key" role="radio" :aria-checked="kind === key" :class="{ on: kind === key }" @click="kind = key">{{ name }}</button></div>
      <template v-if="kind === 'board'">
        <p class="second">Everything that holds this setup, on a board that bolts to the bed: pilots, pins or dowels, rails, gaskets, lines to see by.</p>
        <v-checkbox v-if="several" v-model="all" label="All setups as stations of one board" />
      </template>
      <template v-else-if="kind === 'vice'">
        <p class="second">A plate for a vice at the machine’s end, with a fence for work on an end of the piece. Each source of the angle counts once.</p>
        <div class="three"><NumberField v-for="[key, name] in ANGLES" :key="key" kind="number"
          :model-value="angles[key]" :label="name" suffix="°"
          @update:model-value="(deg) => { if (deg !== null) angles[key] = deg }" /></div>
      </template>
      <p v-else-if="kind === 'nest'" class="second">A window cut to the outline of the piece as it lies here, with a floor under it: for a piece that is out of its blank. Its depth and play stand under What holds it.</p>
      <p v-else-if="kind === 'corner'" class="second">A fence on either side of the axis and a stop: the same marked edge meets a fence whichever face is up, so the blank’s own width brings no error in.</p>
      <p v-else-if="kind === 'lines'" class="second">Centre lines that run out beyond the blank, to lay it by eye: the least true way of finding it again.</p>
      <p v-else class="second">A frame that the blank is wedged into; it is turned over with it, on pins that are symmetrical about the axis.</p>
      <div v-if="turns" class="choice" role="radiogroup" aria-label="Turned about"><button v-for="a in (['length', 'width'] as const)" :key="a" role="radio" :aria-checked="about === a" :class="{ on: about === a }" @click="about = a">about its {{ a }}</button></div>
    </template>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <OfBefore v-if="shown && !wrong" :stale="looking"
      words="Of before the last change; the list is being made anew.">
      <p v-if="shown.holding && 'holds' in shown && shown.holds === false" class="weak"
        role="alert">The holding this is drawn from holds {{ shown.holding.factor.toFixed(1) }} times the pull of {{ shown.holding.operation }};
        {{ shown.holding.needs }} is the least. Mend it first.</p>
      <p v-else-if="!shown.holding && ['board', 'nest'].includes(shown.kind)"
        class="second">Whether the holding it is drawn from holds is not known yet: the proof is not there.</p>
      <h2>Parts</h2>
      <table><tbody><tr v-for="(p, k) in shown.parts" :key="k"><td class="num">{{ p.count }}</td><td><b>{{ p.name }}</b><br><span class="second">{{ [p.material, p.size].filter((x) => x).join(' ') }}</span><span v-if="p.note" class="second">; {{ p.note }}</span></td><td class="from" :class="p.source">{{ SOURCES[p.source] }}</td></tr></tbody></table>
      <h2>How true it is</h2>
      <p v-for="e in shown.errors" :key="e.what">{{ e.what }} <b>±{{ length(e.off_mm) }}</b>. <span class="second">{{ e.check }}</span></p>
      <p v-for="w in shown.works_with" :key="w" class="second">{{ w }}</p>
      <template v-if="plan && !own">
        <h2>At the bench</h2>
        <p v-for="s in plan.steps" :key="s.name">{{ s.name }}, {{ s.minutes }} min. <span class="second">{{ s.note }}</span></p>
        <div class="acts"><button class="go" :disabled="busy" @click="make(() => api.make_jig(open.state!.route, wanted))">Make it a job</button><span class="second">{{ plan.operations }} operations, proposed and simulated like any other.</span></div>
      </template>
    </OfBefore>
    <DrawingLinks :of="own ? 'the jig' : 'the piece'" />
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
table { border-collapse: collapse; width: 100%; }
td { padding: 4px 6px 4px 0; vertical-align: top; border-top: 1px solid var(--rule); }
.num { width: 26px; font-weight: 700; }
.from { white-space: nowrap; text-align: right; font-weight: 600; }
.from.cut { color: var(--amber-ink); } .from.hand { color: var(--moss); }
.ember { color: var(--ember); }
.weak { background: var(--ember-tint); border-left: 4px solid var(--ember); padding: 4px 8px; }
.choice button { flex: 1; padding: 4px 6px; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
</style>
