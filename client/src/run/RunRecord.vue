<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { CutOutcome, Ran, RunRow } from '../api/types'
import { ask_books, edit, findings, open } from '../route/store'
import { grouped, minutes, rate, rate_unit, value_typed } from '../units/format'

/** What a run was really like: minutes, rates as they were turned at the machine, and what became of every cut. */
const props = defineProps<{ route: number }>()
const OUTCOMES = ['fine', 'slow', 'burning', 'chatter', 'torn', 'broke', 'stopped'].map((o) => ({ title: o[0].toUpperCase() + o.slice(1), value: o }))
const OF_ONE = [{ title: 'As the whole run', value: '' }, ...OUTCOMES.filter((o) => o.value !== 'stopped'), { title: 'Not run', value: 'skipped' }]
interface Line { took: string; feed: string; speed: string; went: string }
const lines = reactive<Record<string, Line>>({})
const operations = computed(() => open.report?.operations ?? [])
watch(operations, (now) => now.forEach((o) => { lines[o.id] ??= { took: '', feed: '', speed: '', went: '' } }), { immediate: true })
const [outcome, note, where, wrong, told] = [ref(''), ref(''), ref<string | null>(null), ref(''), ref('')]
const runs = ref<RunRow[]>([])
onMounted(async () => { runs.value = await api.runs(props.route).catch(() => []) })
/** Where it happened: what was cut before went well, that one did not, and after a break nothing was run. */
watch([outcome, where], () => {
  const at = operations.value.findIndex((o) => o.id === where.value)
  operations.value.forEach((o, k) => {
    if (!lines[o.id]) return
    if (!outcome.value || outcome.value === 'fine' || at < 0) lines[o.id].went = ''
    else if (k === at) lines[o.id].went = outcome.value === 'stopped' ? '' : outcome.value
    else lines[o.id].went = k < at || !['broke', 'stopped'].includes(outcome.value) ? 'fine' : 'skipped'
  })
})
const read = (text: string) => { const v = value_typed(text.replace('%', '')); return v !== null && v > 0 ? v : null }
/** A feed is typed as it was, or as a part of what was programmed. */
const feed_of = (id: string, programmed: number) => {
  const text = lines[id]?.feed ?? ''
  if (!text.includes('%')) return value_typed(text, 'rate')
  const part = read(text)
  return part === null ? null : (programmed * part) / 100
}
function summary(id: string, programmed: number): string {
  const l = lines[id]
  if (!l) return ''
  const feed = feed_of(id, programmed)
  return [l.went === 'skipped' ? 'not run' : l.went, feed && `feed ${rate(feed)}`, l.speed && `${l.speed} rpm`, l.took && `${l.took} min`].filter((w) => w).join(', ')
}
async function record() {
  wrong.value = told.value = ''
  if (!outcome.value) {
    wrong.value = 'Say first how the whole run went. What nobody has said counts for nothing.'
    return
  }
  const ran: Record<string, Ran> = {}
  const took: Record<string, number> = {}
  for (const o of operations.value) {
    const l = lines[o.id]
    const [feed, speed, min] = [feed_of(o.id, o.settings.feed_mm_min), read(l.speed), read(l.took)]
    if ([[l.feed, feed], [l.speed, speed], [l.took, min]].some(([text, v]) => text && v === null)) { wrong.value = `${o.name}: type numbers above 0, a feed also like 80%.`; return }
    if (min !== null) took[o.id] = min
    const one: Ran = { ...(l.went === 'skipped' ? { is_skipped: true } : l.went ? { outcome: l.went as CutOutcome } : {}), ...(feed === null ? {} : { feed_mm_min: feed }), ...(speed === null ? {} : { speed_rpm: speed }) }
    if (Object.keys(one).length) ran[o.id] = one
  }
  try {
    const kept = await api.record(props.route, { revision: open.state!.revision, outcome: outcome.value, note: note.value, minutes: took, ran })
    runs.value = await api.runs(props.route)
    told.value = kept.counted ? `${kept.learnt} ${kept.learnt === 1 ? 'cut' : 'cuts'} kept; bits counted.` : 'Kept. Its proof was not at hand, so neither cuts nor bits were counted.'
    note.value = ''
    where.value = null
    outcome.value = ''
    Object.keys(lines).forEach((k) => { lines[k] = { took: '', feed: '', speed: '', went: '' } })
    open.said = 'Record kept'
    await ask_books()
  } catch (error) {
    wrong.value = (error as Error).message
  }
}
/** Take a record back that was a slip: its cuts, wear and hours count no more. */
async function withdraw(r: RunRow) {
  wrong.value = told.value = ''
  try {
    runs.value = await api.withdraw_run(props.route, r.id)
    told.value = `The record of revision ${r.revision} is withdrawn: the cuts, wear and hours it told of count no more.`
    open.said = 'Record withdrawn'
    await ask_books()
  } catch (error) { wrong.value = (error as Error).message }
}
const back = computed(() => findings.value.filter((f) => f.code === 'shop.changed_at_machine'))
const name_of = (id: string) => operations.value.find((o) => o.id === id)?.name.toLowerCase() ?? id
const told_of = (r: RunRow) => Object.entries(r.ran).filter(([, v]) => v.outcome && v.outcome !== 'fine').map(([k, v]) => `${name_of(k)} ${v.outcome}`).join(', ')
</script>

<template>
  <h2>What it was really like</h2>
  <p class="second">Open an operation whose feed, speed or minutes were otherwise, or that went otherwise than the rest.</p>
  <div class="lines">
    <details v-for="o in operations" :key="o.id"><summary><span>{{ o.name }}</span><b v-if="summary(o.id, o.settings.feed_mm_min)">{{ summary(o.id, o.settings.feed_mm_min) }}</b><span v-else class="least">{{ minutes(o.machine_min) }} min, feed {{ rate(o.settings.feed_mm_min) }}</span></summary>
      <div v-if="lines[o.id]" class="took"><v-text-field v-model="lines[o.id].took" :label="`${o.name}, took`" :placeholder="minutes(o.machine_min)" persistent-placeholder suffix="min" inputmode="decimal" /><v-select v-model="lines[o.id].went" :items="OF_ONE" label="It went" />
        <v-text-field v-model="lines[o.id].feed" label="Feed as it ran" :placeholder="rate(o.settings.feed_mm_min)" persistent-placeholder :suffix="`${rate_unit} or %`" /><v-text-field v-model="lines[o.id].speed" label="Speed as it ran" :placeholder="grouped(o.settings.speed_rpm)" persistent-placeholder suffix="rpm" inputmode="decimal" /></div></details>
  </div>
  <div class="took">
    <v-select v-model="outcome" :items="OUTCOMES" label="The whole run went" placeholder="say how"
      persistent-placeholder />
    <v-select v-if="outcome && outcome !== 'fine'" v-model="where"
      :items="operations.map((o) => ({ title: o.name, value: o.id }))" label="It happened in" clearable
      placeholder="not known" persistent-placeholder />
  </div>
  <p v-if="outcome && outcome !== 'fine' && outcome !== 'slow' && !where" class="second">Say in which operation, so
    that this cut is known for the next time, and the others for good ones.</p>
  <v-textarea v-model="note" label="Note" rows="2" />
  <button class="cure" @click="record">Keep the record</button>
  <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  <p v-if="told" role="status">{{ told }}</p>
  <div v-for="f in back" :key="f.letter" class="log"><p>{{ f.sentence }}</p>
    <button v-for="c in f.cures" :key="c.sentence" class="cure"
    @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div>
  <p v-for="r in runs" :key="r.id" class="second log" :class="{ taken: r.withdrawn }"><span><b>{{ r.outcome }}</b>,
    revision {{ r.revision }}, {{ r.made_by }}, {{ new Date(r.made_at).toLocaleDateString('en-GB') }}.
    {{ told_of(r) ? `${told_of(r)}. ` : '' }}{{ Object.keys(r.minutes).length }} operations timed. {{ r.note }}</span>
    <span v-if="r.withdrawn">Withdrawn by {{ r.withdrawn }}; it counts no more.</span>
    <button v-else class="plain" :aria-label="`Withdraw the record of revision ${r.revision}, ${r.outcome}`"
      @click="withdraw(r)">Withdraw</button></p>
</template>

<style scoped>
p { margin: 0; }
.took { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
details .took { padding: 8px 0 10px; }
.lines { border-bottom: 1px solid var(--rule); }
summary { display: flex; justify-content: space-between; gap: 10px; cursor: pointer; min-height: 30px; align-items: center; border-top: 1px solid var(--rule); list-style: none; }
summary::before { content: '+'; width: 14px; flex: none; color: var(--ink2); }
details[open] summary::before { content: '−'; }
summary span:first-child { flex: 1; }
.cure { align-self: flex-start; }
.ember { color: var(--ember); }
.log { display: flex; gap: 12px; justify-content: space-between; align-items: baseline; }
.taken > span:first-child { text-decoration: line-through; }
.log { border-top: 1px solid var(--rule); padding-top: 6px; }
.log .cure { margin-top: 6px; }
</style>
