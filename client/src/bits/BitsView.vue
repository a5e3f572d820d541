<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { Asked, CutAnswer, CutKind, CutSettings, RackRow, Shop } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import Masthead from '../route/Masthead.vue'
import { ask_books, edit, open, open_route } from '../route/store'
import { fine, grouped, length, rate, rate_unit, value_typed, unit } from '../units/format'
import BitLife from './BitLife.vue'
import BitSize from './BitSize.vue'
import CutMarks from './CutMarks.vue'
import FitCoupon from './FitCoupon.vue'
import ForFeature from './ForFeature.vue'
import RackStrip from './RackStrip.vue'
import RecordsPanel from './RecordsPanel.vue'
import TradeCurve from './TradeCurve.vue'
import WindowBar from './WindowBar.vue'
import { STANDING } from './draw'

/** The rack of the shop, and what a bit may be asked for: settings by calculation and by what was cut here. */
const route = useRoute()
const router = useRouter()
const [shop, rows] = [ref<Shop | null>(null), ref<RackRow[]>([])]
onMounted(async () => { await open_route(Number(route.params.id)); [shop.value, rows.value] = await Promise.all([api.shop(), api.rack()]) })
const doc = computed(() => open.state?.document)
const chosen = ref('')
const row = computed(() => rows.value.find((r) => r.bit.id === chosen.value) ?? rows.value.find((r) => r.bit.cuts_at_centre && doc.value?.bits.some((b) => b.id === r.bit.id)) ?? rows.value[0])
const bit = computed(() => doc.value?.bits.find((b) => b.id === row.value?.bit.id) ?? row.value?.bit)
const woods = computed(() => (shop.value?.woods ?? []).map((w) => ({ title: w.name, value: w.id })))
const names = computed(() => Object.fromEntries((shop.value?.woods ?? []).map((w) => [w.id, w.name])))
const KINDS: { title: string; value: CutKind }[] = [{ title: 'Slot, whole width', value: 'slot' }, { title: 'From the side', value: 'side' }, { title: 'Last pass along a wall', value: 'finish' }, { title: 'Skimming a face', value: 'face' }]
const what = reactive({ wood: '', kind: 'slot' as CutKind, side_mm: null as number | null, deep_mm: null as number | null, holds_n: null as number | null })
watch(doc, (d) => { if (d && !what.wood) what.wood = d.blank.wood }, { immediate: true })
const own = ref<CutSettings | null>(null)
const aim = ref<'careful' | 'fast' | 'quiet'>('careful')
const AIMS = [['careful', 'Careful'], ['fast', 'Fastest'], ['quiet', 'Quiet']] as const
const [asked, wrong, busy] = [ref<Asked | null>(null), ref(''), ref(false)]
const question = () => ({ machine: doc.value!.machine, bit: bit.value!, ...what })
let last = 0
async function ask() {
  if (!doc.value || !bit.value || !what.wood) return
  const mine = ++last
  try {
    const found = await api.ask_settings({ ...question(), settings: own.value })
    if (mine === last) { asked.value = found; wrong.value = '' }
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (mine === last) wrong.value = error.failure.message
  }
}
watch(() => [bit.value, { ...what }, own.value, doc.value?.machine], () => void ask(), { immediate: true })
watch(() => bit.value?.id, () => { what.kind = bit.value?.cuts_at_centre === false ? 'face' : what.kind === 'face' ? 'slot' : what.kind; what.side_mm = null })
watch(() => [bit.value?.id, what.kind, what.side_mm], () => { own.value = null })
const now = computed<CutAnswer | null>(() => asked.value && (asked.value.wanted ?? asked.value.answers[aim.value]))
const others = computed(() => (asked.value ? AIMS.map(([key, name]) => ({ key, name, answer: asked.value!.answers[key] })) : []))
const SHOWN = [['feed_mm_min', 'Feed rate', ''], ['speed_rpm', 'Spindle speed', 'rpm'], ['depth_of_cut_mm', 'Depth of cut', ''], ['stepover_mm', 'Meets from the side', ''], ['plunge_mm_min', 'Plunge rate', '']] as const
const ORIGINS = { feed_mm_min: 'feed', speed_rpm: 'speed', depth_of_cut_mm: 'depth', stepover_mm: 'stepover', plunge_mm_min: 'plunge' } as const
const show = (key: string) => (v: number) => (key.endsWith('_min') ? rate(v) : key === 'speed_rpm' ? grouped(v) : length(v, 2))
function type(key: keyof CutSettings, event: Event) {
  const text = (event.target as HTMLInputElement).value
  const value = value_typed(text, key === 'feed_mm_min' ? 'rate' : 'number')
  if (now.value && value !== null && value > 0) own.value = { ...now.value.settings, [key]: value }
}
function typed_length(key: 'depth_of_cut_mm' | 'stepover_mm', mm: number | null) { if (now.value && mm !== null && mm > 0) own.value = { ...now.value.settings, [key]: mm } }
async function act(what_for: () => Promise<unknown>) {
  busy.value = true
  try { await what_for(); await ask() } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  } finally { busy.value = false }
}
const keep = (outcome: string, origin: string, note: string) => act(() => api.add_trial({ machine: doc.value!.machine.name, machine_class: doc.value!.machine.machine_class, bit: bit.value!, wood: what.wood, kind: what.kind, settings: now.value!.settings, outcome, origin, note }))
const plan = ref<Awaited<ReturnType<typeof api.test_plan>> | null>(null)
watch(() => [bit.value?.id, { ...what }], () => { plan.value = null })
const find_limit = () => act(async () => { plan.value = await api.test_plan({ ...question(), settings: now.value!.settings }) })
const make_slots = () => act(async () => { const made = await api.make_slots({ ...question(), settings: now.value!.settings }); await router.push(`/routes/${made.route}/route`) })
const mine = computed(() => (doc.value?.operations ?? []).filter((o) => o.bit === bit.value?.id))
function use_for(id: string) {
  const s = now.value!.settings
  void edit((['feed_mm_min', 'plunge_mm_min', 'speed_rpm', 'depth_of_cut_mm'] as const).map((k) => ({ do: 'set', path: `operations.${id}.settings.${k}`, value: Math.round(s[k] * 1000) / 1000 })), 'Take these settings')
}
const tab = ref<'bit' | 'feature'>('bit')
const taken = ref('')
async function bring(event: Event, sheet = false) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (!file) return
  await act(async () => {
    const text = await file.text()
    if (sheet) taken.value = `${(await api.take_sheet(open.state!.route, text)).taken} settings taken in, as told by others.`
    else rows.value = await api.take_rack(text)
  })
  ;(event.target as HTMLInputElement).value = ''
}
</script>

<template>
  <main class="bits">
    <div class="head"><Masthead second="The rack: what its bits may be asked for" /></div>
    <div class="left">
      <RackStrip v-if="rows.length" :rows="rows" :chosen="row?.bit.id ?? ''" :in_route="doc?.bits.map((b) => b.id) ?? []" @choose="(id) => (chosen = id)" />
      <div class="choice" role="tablist" aria-label="Rack"><button role="tab" :aria-selected="tab === 'bit'" :class="{ on: tab === 'bit' }" @click="tab = 'bit'">{{ row?.bit.name ?? 'Bit' }}</button><button role="tab" :aria-selected="tab === 'feature'" :class="{ on: tab === 'feature' }" @click="tab = 'feature'">Which bit for which feature</button></div>
      <BitLife v-if="tab === 'bit' && row" :row="row" :rows="rows" :woods="names" :in_route="doc?.bits.some((b) => b.id === row?.bit.id) ?? true" @rows="(r) => { rows = r; void ask_books() }" />
      <ForFeature v-else-if="tab === 'feature'" @choose="(id) => (chosen = id)" />
      <details v-if="tab === 'bit'"><summary>Hang another bit on the rack</summary><BitSize :row="null" :rows="rows" @rows="(r, id) => { rows = r; chosen = id }" /></details>
      <p class="acts second">The rack as <a href="/api/rack.csv" download>CSV</a>, <label
        class="plain">bring one in<input type="file" accept=".csv,text/csv" class="visually-hidden" @change="bring" />
        </label>. Settings of {{ doc?.machine.name }} as <a
        :href="`/api/routes/${open.state?.route}/settings_sheet.pdf?unit=${unit}`" download>one page</a> or <a
        :href="`/api/routes/${open.state?.route}/settings_sheet.csv`" download>CSV</a>; <label
        class="plain">bring another shop’s in<input type="file" accept=".csv,text/csv" class="visually-hidden"
        @change="(e: Event) => bring(e, true)" /></label>. <span role="status">{{ taken }}</span></p>
    </div>
    <section class="middle">
      <h2>{{ bit?.name }} on the {{ doc?.machine.name }}</h2>
      <div class="three"><v-select v-model="what.wood" :items="woods" label="Wood" />
        <v-select v-model="what.kind" :items="KINDS" label="Kind of cut" />
        <NumberField v-if="what.kind !== 'slot'" v-model="what.side_mm" label="From the side" />
        <NumberField v-else v-model="what.deep_mm" label="Feature deep" /></div>
      <v-text-field class="holds" :model-value="what.holds_n ?? ''" label="Its holding bears, with its factor" suffix="N" placeholder="not asked" persistent-placeholder inputmode="decimal" @change="(e: Event) => { const v = Number((e.target as HTMLInputElement).value.replace(',', '.')); what.holds_n = v > 0 ? v : null }" />
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <template v-if="asked && now">
        <div class="aims" role="radiogroup" aria-label="Aim"><button v-for="o in others" :key="o.key" role="radio" :aria-checked="!own && aim === o.key" :class="{ on: !own && aim === o.key }" @click="own = null; aim = o.key"><b>{{ o.name }}</b><span>{{ rate(o.answer.settings.feed_mm_min) }} at {{ grouped(o.answer.settings.speed_rpm) }}</span><span>{{ length(o.answer.settings.depth_of_cut_mm) }} deep, {{ o.answer.removes_cm3_min.toFixed(o.answer.removes_cm3_min < 10 ? 1 : 0) }} cm³/min</span><span class="least"><span :class="o.answer.trust.standing">{{ STANDING[o.answer.trust.standing].mark }}</span> {{ o.answer.keeps ? `${Math.round(100 * o.answer.parts[o.answer.binds])} % of ${o.answer.binds}` : `passes ${o.answer.binds}` }}</span></button></div>
        <p v-if="asked.quiet_costs && asked.quiet_costs > 1.02" class="second">Quiet takes {{ asked.quiet_costs.toFixed(1) }} times as long as careful.</p>
        <TradeCurve :asked="asked" :now="now" @take="(s) => (own = s)" />
        <div class="four"><v-text-field :model-value="rate(now.settings.feed_mm_min)" label="Feed rate"
          :suffix="rate_unit" @change="(e: Event) => type('feed_mm_min', e)" />
          <v-text-field :model-value="grouped(now.settings.speed_rpm)" label="Spindle speed" suffix="rpm"
          @change="(e: Event) => type('speed_rpm', e)" /><NumberField :model-value="now.settings.depth_of_cut_mm"
          label="Depth of cut" :places="2" @update:model-value="(mm) => typed_length('depth_of_cut_mm', mm)" />
          <NumberField v-if="what.kind !== 'slot'" :model-value="now.settings.stepover_mm" label="From the side"
          :places="2" @update:model-value="(mm) => typed_length('stepover_mm', mm)" /></div>
        <CutMarks v-if="bit && doc" :bit="bit" :answer="now" :window_mm="asked.window_mm" :machine="doc.machine" :kind="what.kind" :deep_mm="what.deep_mm" />
        <p v-if="!now.keeps" class="ember">These pass a limit: {{ now.binds_words }} ({{ Math.round(100 * now.parts[now.binds]) }} %).</p>
        <WindowBar v-for="[key, name, unit] in SHOWN" :key="key" :name="name" :unit="key.endsWith('_min') ? rate_unit : unit" :setting="key" :origin="ORIGINS[key]" :now="now" :show="show(key)" :trials="asked.trials" :others="others.map((o) => ({ mark: o.key, value: o.answer.settings[key], words: o.name }))" />
        <p class="second">{{ now.reasons.feed_mm_min }}. Goes in by {{ now.entry === 'helix' ? 'a helix' : `a ramp of ${now.ramp_deg}°` }} at {{ rate(now.settings.plunge_mm_min) }} {{ rate_unit }}, {{ now.direction === 'climb' ? 'climbing' : 'conventional' }}: {{ now.reasons.direction }}. Computed from unverified figures.</p>
      </template>
    </section>
    <aside v-if="asked && now" class="right sheet">
      <RecordsPanel :asked="asked" :now="now" :busy="busy" @keep="keep" @withdraw="(id) => act(() => api.withdraw_trial(id))" @take="(s) => (own = s)" />
      <h2>Find its limit on scrap</h2>
      <p v-if="!plan" class="second">Slots one beside the other, each with a thicker chip than the last, until one tells you to stop.</p>
      <button v-if="!plan" class="cure" @click="find_limit">Plan the slots</button>
      <template v-else><table><tbody><tr v-for="s in plan.steps" :key="s.number"><td>{{ s.number }}</td><td class="num">feed <b>{{ rate(s.settings.feed_mm_min) }}</b></td><td class="num">chip {{ fine(s.chip_mm) }}</td><td :class="s.standing">{{ STANDING[s.standing].mark }}</td><td><button class="plain" @click="own = s.settings">look</button></td></tr></tbody></table><p class="second">{{ plan.rule }}</p><button class="cure" :disabled="busy" @click="make_slots">Make the slots a job</button></template>
      <FitCoupon />
      <template v-if="mine.length"><h2>In this route</h2><div class="acts"><button v-for="o in mine" :key="o.id" class="cure" @click="use_for(o.id)">Use for {{ o.name.toLowerCase() }}</button></div></template>
    </aside>
  </main>
</template>

<style scoped>
.bits { display: grid; grid-template-columns: minmax(420px, 1.05fr) minmax(380px, 1fr) 330px; grid-template-rows: auto 1fr; height: 100vh; }
.head { grid-column: 1 / 3; padding: 6px 20px 0 34px; }
.left, .middle { padding: 8px 18px 14px 34px; overflow-y: auto; min-height: 0; display: flex; flex-direction: column; gap: 8px; }
.left > *, .middle > *, .right > * { flex: none; }
.right > .cure { align-self: flex-start; }
.middle { padding: 8px 20px 14px; }
.right { grid-column: 3; grid-row: 1 / 3; padding: 16px 18px; overflow-y: auto; height: 100vh; display: flex; flex-direction: column; gap: 9px; }
p { margin: 0; }
.three { display: grid; grid-template-columns: 1fr 1.25fr 1fr; gap: 8px; }
.four { display: grid; grid-template-columns: repeat(auto-fit, minmax(104px, 1fr)); gap: 8px; }
.aims { display: grid; grid-template-columns: repeat(3, 1fr); gap: 6px; }
.aims button { border: 1.5px solid var(--edge); padding: 6px 8px; display: flex; flex-direction: column; font-size: 13.5px; line-height: 1.3; }
.aims .on { border: 2.5px solid var(--ink); padding: 5px 7px; background: var(--bark); }
summary { cursor: pointer; min-height: 26px; }
details > * + * { margin-top: 8px; }
.acts { display: flex; gap: 8px; flex-wrap: wrap; }
p.acts { display: block; }
table { border-collapse: collapse; width: 100%; }
td { border-top: 1px solid var(--rule); padding: 3px 6px 3px 0; }
.num { text-align: right; }
.proven, .covered { color: var(--moss); } .failed { color: var(--ember); }
.ember { color: var(--ember); font-weight: 600; }
@media (max-width: 1100px) {
  .bits { grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); grid-template-rows: auto auto auto; align-content: start; overflow-y: auto; }
  .head { grid-column: 1 / -1; }
  .left, .middle { overflow: visible; min-height: auto; padding-right: 16px; }
  .right { grid-column: 1 / -1; grid-row: 3; height: auto; overflow: visible; }
}
</style>
