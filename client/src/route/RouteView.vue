<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import ReasonsSheet from '../reasons/ReasonsSheet.vue'
import { folded, kept, type SectionLine } from '../section/line'
import SectionView from '../section/SectionView.vue'
import TrunkView from '../trunk/TrunkView.vue'
import { lay_out } from '../trunk/trunk'
import { length, minutes } from '../units/format'
import { setup_of, piece_mm } from '../wood/lies'
import PathLayer from '../wood/PathLayer.vue'
import TiltedWood from '../wood/TiltedWood.vue'
import WoodPlan from '../wood/WoodPlan.vue'
import CornersPanel from './CornersPanel.vue'
import FollowLine from './FollowLine.vue'
import { across } from './long'
import { inside, look, move_to, spot, target, type Shows } from './look'
import Masthead from './Masthead.vue'
import { begin, next, nudge, probe, put } from './probe'
import ProbeLine from './ProbeLine.vue'
import TabMarks from './TabMarks.vue'
import AddStep from '../steps/AddStep.vue'
import StepSheet from '../steps/StepSheet.vue'
import { chosen, leave, mark, mark_to, marked, move_past, put_at, step_chosen } from './chosen'
import FindingsList from './FindingsList.vue'
import HistorySheet from './HistorySheet.vue'
import KeysSheet from './KeysSheet.vue'
import OrderSheet from './OrderSheet.vue'
import SeveralSheet from './SeveralSheet.vue'
import OfBefore from '../fields/OfBefore.vue'
import OriginTap from '../fields/OriginTap.vue'
import { BECAME, edit, findings, is_current, meant, open, open_route, take_cure, wood } from './store'

const route = useRoute()
const router = useRouter()
const plan = ref<InstanceType<typeof WoodPlan>>()
const section = ref<SectionLine>({ at: [0, 0], turn_deg: 0 })
const playing = ref(0)
const strip = ref<HTMLElement>()
const { is_long, room, wide } = across(computed(() => open.state?.document), strip)
/** How wide the lines under the plan are: as wide as it, or as there is room for their words. */
const bar = computed(() => `${Math.max(plan.value?.size.w ?? 0, Math.min(470, wide.value - 20))}px`)
let waiting_for_letter = false
onMounted(() => {
  leave()
  chosen.step = ''
  void open_route(Number(route.params.id))
  window.addEventListener('keydown', key)
})
onUnmounted(() => { window.removeEventListener('keydown', key); window.clearInterval(playing.value) })
const doc = computed(() => open.state?.document)
const depth_of = (op: { features: string[]; kind: string; setup?: string; groove_mm?: number | null; edge?: string | null; down_to_mm?: number | null }) => {
  if (op.down_to_mm) return op.down_to_mm
  if (op.kind === 'face') return (doc.value?.setups.find((s) => s.id === op.setup)?.face === 'back' ? doc.value?.blank.skim_back_mm : doc.value?.blank.skim_mm) ?? 0
  const floor = open.state?.drawing.solids.find((s) => s.id === op.features[0])?.floor_mm
  if (op.groove_mm) return op.groove_mm
  if (op.kind === 'edge') return doc.value?.piece.edges.find((e) => e.id === op.edge)?.size_mm ?? null
  if (floor === null || floor === undefined) return null
  const back = open.state?.drawing.solids.find((s) => s.id === op.features[0])?.face === 'back'
  return back ? floor + piece_mm(doc.value!.blank) : -floor
}
const segments = computed(() => (doc.value ? lay_out(doc.value.operations, doc.value.bench_steps, open.report?.operations ?? [], doc.value.bits, depth_of, room.value) : []))
const selected = computed(() => Math.max(0, open.step - 1))
/** The setup of the first step that is seen in the list: the heading stands over it. */
const top = ref(0)
const heading = computed(() => {
  const d = doc.value
  if (!d) return ''
  const at = d.operations[Math.min(top.value, d.operations.length - 1)]
  return (d.setups.find((s) => s.id === at?.setup) ?? d.setups[0])?.name ?? ''
})
/** The reasons follow at once, but while the finger scrubs they wait until it rests. */
const reasons_at = ref(0)
let moved_at = 0
let resting = 0
watch(selected, (now) => {
  const quick = performance.now() - moved_at < 160
  moved_at = performance.now()
  window.clearTimeout(resting)
  if (quick) resting = window.setTimeout(() => { reasons_at.value = selected.value }, 130)
  else reasons_at.value = now
})
const bit = computed(() => doc.value?.bits.find((b) => b.id === doc.value?.operations[selected.value]?.bit))
const shown_operation = computed(() => (look.shows === 'wood' && !look.follow ? open.report?.operations.find((o) => o.id === doc.value?.operations[selected.value]?.id) : undefined))
/** The chosen operation, if it leaves tabs, with their places. */
const with_tabs = computed(() => {
  const operation = doc.value?.operations[selected.value]
  const places = open.report?.operations.find((o) => o.id === operation?.id)?.tab_places ?? []
  return operation && !probe.measuring && operation.tabs.length && places.length === operation.tabs.length ? { operation, places } : null
})
/** The operation whose way through the wood is being found, while that takes its time. */
const planned = computed(() => (open.working && open.working.done % 1 > 0 ? doc.value?.operations[Math.floor(open.working.done)] : undefined))
const stops = computed(() => findings.value.filter((f) => f.severity === 'stop'))
const second = computed(() => {
  const d = doc.value
  return d ? `${d.piece.kind[0].toUpperCase() + d.piece.kind.slice(1)}, ${d.blank.wood.replace('_', ' ')}${d.blank.boards > 1 ? ` in ${['', 'one', 'two', 'three', 'four'][d.blank.boards] ?? d.blank.boards} pieces` : ''}, ${length(piece_mm(d.blank), 1)} thick` : ''
})
watch(() => doc.value?.operations.length, (count) => { if (count !== undefined && open.step > count) open.step = count })

/** After what a new step at the bench comes: the step that is chosen, or the operation. */
const behind = computed(() => {
  const step = step_chosen.value
  if (step) return { after: step.after ?? null, step: step.id }
  return { after: doc.value?.operations[selected.value]?.id ?? null, step: '' }
})
/** Choose a step at the bench; the wood stands as it is when its turn comes. */
function choose(step: string) {
  const one = doc.value?.bench_steps.find((s) => s.id === step)
  if (!one) return
  go((doc.value?.operations.findIndex((o) => o.id === one.after) ?? -1) + 1)
  chosen.step = step
}
/** One row of the trunk up or down: an operation, or a step at the bench. */
function walk(way: 1 | -1) {
  const rows = segments.value
  const here = rows.findIndex((s) => (chosen.step ? s.key === chosen.step : s.index === open.step - 1))
  const next = here < 0 ? rows.find((s) => s.index === open.step - 1 + way) : rows[here + way]
  if (next && next.kind !== 'operation') choose(next.key)
  else go(next ? next.index + 1 : open.step + way)
}
function go(step: number) {
  chosen.step = ''
  chosen.adding = false
  open.step = Math.max(0, Math.min(step, doc.value?.operations.length ?? 0))
}
function pick(letter: string) {
  const f = findings.value.find((x) => x.letter === letter)
  if (!f) return
  const index = doc.value?.operations.findIndex((o) => o.id === f.operation) ?? -1
  if (index >= 0) go(index + 1)
  if (f.place) section.value = { at: [f.place[0], f.place[1]], turn_deg: section.value.turn_deg }
  open.said = `${f.letter}: ${f.sentence}`
  document.querySelector<HTMLElement>(`[data-letter='${f.letter}']`)?.focus()
}
function key(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).closest('input, textarea, [role=combobox], [role=listbox], .v-overlay')
  if (typing || event.ctrlKey || event.metaKey || !doc.value) return
  if (event.altKey && !probe.measuring && !['ArrowUp', 'ArrowDown'].includes(event.key)) return
  if (waiting_for_letter) {
    waiting_for_letter = false
    pick(event.key.toUpperCase())
    return
  }
  if (probe.measuring && measure_key(event)) return
  if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    const way = event.key === 'ArrowDown' ? 1 : -1
    if (event.shiftKey) shift_section(way * 2)
    else if (event.altKey) move_past(selected.value, way > 0)
    else walk(way)
  } else if (event.shiftKey && !inside.value && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
    event.preventDefault()
    turn_section(section.value.turn_deg + (event.key === 'ArrowLeft' ? 5 : -5) * seen_turn())
  } else if (inside.value && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
    event.preventDefault()
    const way = event.key === 'ArrowRight' ? 1 : -1
    move_to(event.shiftKey ? inside.value.clock[Math.max(0, (spot.value?.move ?? 0) + (way > 0 ? 1 : -1) + (way > 0 ? 0 : 1))] : look.at_s + (way * inside.value.seconds) / 100)
  } else if (event.key === 'g') waiting_for_letter = true
  else if (event.key === 't') shows('thick')
  else if (event.key === 'a') shows('target')
  else if (event.key === 'v') shows('tilted')
  else if (event.key === 'b') look.follow = !look.follow
  else if (event.key === 'm') begin(!probe.measuring)
  else if (event.key === 's') mark_here()
  else if (event.key === 'n') { event.preventDefault(); chosen.adding = true }
  else if (event.key === 'o') chosen.ordering = !chosen.ordering
  else if (event.key === 'h') chosen.history = !chosen.history
  else if (event.key === '?') chosen.keys = !chosen.keys
  else if (event.key === 'e') { event.preventDefault(); into_sheet() }
  else if (event.key === 'Escape') leave()
  else if (event.key === 'x') turn_section(section.value.turn_deg === 0 ? 90 : 0)
  else if (event.key === ' ' && !(event.target as HTMLElement).closest('button, a')) {
    event.preventDefault()
    play()
  } else if (event.key === 'Enter' && !(event.target as HTMLElement).closest('button, a, [role=button]')) {
    const lead = findings.value.find((f) => f.cures.length)
    if (lead) void take_cure(lead, lead.cures[0])
  }
}
/** Give the keyboard to the first field of the sheet. */
function into_sheet() {
  document.querySelector<HTMLElement>('.sheet input, .sheet [role=combobox], .sheet button')?.focus()
}
function mark_here() {
  const one = doc.value?.operations[selected.value]
  if (one && !chosen.step) mark(one.id)
}
/** Shift moves the section down and to the right on the screen, at a right angle to itself, whichever face is up. */
function shift_section(mm: number) {
  const signs = plan.value?.lies?.signs ?? [1, 1]
  const a = (section.value.turn_deg * signs[0] * signs[1] * Math.PI) / 180
  const [x, y] = section.value.at
  section.value = kept({ at: [x + mm * Math.sin(a) * signs[0], y - mm * Math.cos(a) * signs[1]], turn_deg: section.value.turn_deg }, doc.value!.blank)
}
const turn_section = (deg: number) => { section.value = { at: section.value.at, turn_deg: folded(deg) } }
/** Anticlockwise on the screen is clockwise on the piece where one direction is turned over. */
const seen_turn = () => (plan.value?.lies ? plan.value.lies.signs[0] * plan.value.lies.signs[1] : 1)
const shows = (what: Shows) => { look.shows = look.shows === what ? 'wood' : what }
const WAYS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
function measure_key(event: KeyboardEvent): boolean {
  if (event.key === 'Escape') begin(false)
  else if (event.key === 'Enter' && !(event.target as HTMLElement).closest('button, a')) next()
  else if (WAYS[event.key]) {
    event.preventDefault()
    const far = event.shiftKey ? 10 : event.altKey ? 0.1 : 1
    const [x, y] = WAYS[event.key]
    const signs = plan.value?.lies?.signs ?? [1, 1]
    nudge(x * far * signs[0], y * far * signs[1])
  } else return false
  return true
}
/** What is painted instead of the wood. */
const field = computed(() => {
  const view = wood.value
  const aim = target.value
  if (!view || look.shows === 'wood' || look.shows === 'tilted' || (look.shows === 'target' && !aim)) return null
  const of = look.shows
  return () => ({ of, values: of === 'thick' ? view.thickness(open.step) : view.against(open.step, aim!) })
})
watch(spot, (now) => { if (now && plan.value?.lies) section.value = { at: [now.x * plan.value.lies.signs[0], now.y * plan.value.lies.signs[1]], turn_deg: section.value.turn_deg } })
const thin = computed(() => (look.shows === 'thick' && open.step === (doc.value?.operations.length ?? -1) && is_current.value ? open.report?.thin ?? [] : []))
/** The bit runs through the operation in at most twenty seconds. */
function play_inside() {
  if (playing.value) { window.clearInterval(playing.value); playing.value = 0; return }
  if (look.at_s >= inside.value!.seconds - 1e-3) move_to(0)
  const a_turn = inside.value!.seconds / Math.min(200, Math.max(40, inside.value!.seconds * 2))
  playing.value = window.setInterval(() => {
    if (!inside.value || look.at_s >= inside.value.seconds - 1e-3) { window.clearInterval(playing.value); playing.value = 0 } else move_to(look.at_s + a_turn)
  }, 100)
}
function play() {
  if (inside.value) return play_inside()
  if (playing.value) { window.clearInterval(playing.value); playing.value = 0; return }
  if (open.step >= (doc.value?.operations.length ?? 0)) go(0)
  playing.value = window.setInterval(() => {
    if (open.step >= (doc.value?.operations.length ?? 0)) { window.clearInterval(playing.value); playing.value = 0 } else go(open.step + 1)
  }, 700)
}
/** How far the proof is, in words. */
const at_work = computed(() => (open.working && open.working.done < open.working.of
  ? `Cutting it on paper, ${open.working.done} of ${open.working.of} steps.`
  : 'Cut on paper; now it is judged.'))
</script>

<template>
  <main class="route" :class="{ long: is_long }"
    :data-shown-ms="Math.round(open.changed_to_shown_ms * 100) / 100"
    :data-judged-ms="Math.round(open.changed_to_judged_ms * 100) / 100">
    <div class="left"><div ref="strip" class="above">
      <Masthead :second="second" />
      <div class="plan" :class="{ tilts: look.shows === 'tilted' }" :style="doc && look.shows !== 'tilted' ? { aspectRatio: `${doc.blank.length_mm} / ${doc.blank.width_mm}` } : {}"><TiltedWood v-if="look.shows === 'tilted' && wood" :step="open.step" :changed="look.changed" class="over" /><WoodPlan v-show="look.shows !== 'tilted'" ref="plan" :step="open.step" :section="section" :findings="findings" :field="field" :changed="look.changed" :measuring="probe.measuring" @section="(line) => (section = line)" @pick="pick" @hover="(at) => (probe.hover = at)" @place="put">
        <template #over><PathLayer v-if="plan?.lies && inside && spot" :inside="inside" :spot="spot" :width="plan.size.w" :height="plan.size.h" :sx="plan.sx" :sy="plan.sy" :signs="plan.lies.signs" /></template>
        <clipPath v-if="plan" id="near"><rect x="-9" y="-9" :width="plan.size.w + 18" :height="plan.size.h + 18" /></clipPath>
        <g v-for="h in (open.state?.drawing.hardware ?? []).filter((x) => x.setup === (doc ? setup_of(doc, open.step).id : ''))" :key="h.id" clip-path="url(#near)"><path v-if="plan" :d="`M${h.ring.map(([x, y]) => `${plan!.sx(x).toFixed(1)} ${plan!.sy(y).toFixed(1)}`).join('L')}Z`" :fill="h.under ? 'none' : '#cfc8ba'" stroke="#1d1a17" stroke-width="1.2" :stroke-dasharray="h.under ? '1.5 4' : ''" /></g>
        <g v-for="t in plan ? thin : []" :key="`${t.x_mm} ${t.y_mm}`" :transform="`translate(${plan!.sx(t.x_mm)} ${plan!.sy(t.y_mm)})`" class="thin"><circle r="3" /><text y="-6" text-anchor="middle">{{ length(t.thick_mm, 1) }}</text></g>
        <path v-for="([band, points], k) in plan && shown_operation?.tear ? shown_operation.tear.lines : []" :key="`tear${k}`" :d="`M${points.map(([x, y]) => `${plan!.sx(x).toFixed(1)} ${plan!.sy(y).toFixed(1)}`).join('L')}`" :class="band === 2 ? 'tear likely' : 'tear'" />
        <TabMarks v-if="plan?.lies && with_tabs" :operation="with_tabs.operation" :places="with_tabs.places" :sx="plan.sx" :sy="plan.sy" :back="plan.back" />
        <g v-if="plan && probe.a" class="way"><line v-if="probe.b" :x1="plan.sx(probe.a[0])" :y1="plan.sy(probe.a[1])" :x2="plan.sx(probe.b[0])" :y2="plan.sy(probe.b[1])" />
          <path v-for="(p, k) in [probe.a, probe.b].filter((q) => q)" :key="k" :d="`M${plan.sx(p![0]) - 7} ${plan.sy(p![1])}h14M${plan.sx(p![0])} ${plan.sy(p![1]) - 7}v14`" /></g>
        <g v-if="plan?.lies && spot && bit" :transform="`translate(${plan.sx(spot.x * plan.lies.signs[0])} ${plan.sy(spot.y * plan.lies.signs[1])})`" class="bit"><circle :r="Math.max(2, (bit.diameter_mm / 2) * plan.scale)" /><path d="M-4 0h8M0 -4v8" /></g>
      </WoodPlan></div>
      <ProbeLine v-if="plan && wood" :style="{ width: bar, margin: '6px auto 0' }" />
      <FollowLine v-if="look.follow && plan" :style="{ width: bar, margin: '0 auto' }" />
      <SectionView v-if="doc && plan && look.shows !== 'tilted'" :step="open.step" :line="section" :scale="plan.scale"
        :width="plan.size.w" :changed="look.changed" :bit_at="spot" :style="{ width: bar, margin: '8px auto 0' }"
        @turn="turn_section" /></div>
      <div class="findings" role="group" aria-label="Findings">
        <p v-if="open.report?.failed" class="word ember">{{ open.report.failed.message }}</p>
        <p v-else-if="open.report && !findings.length && is_current" class="word clear">{{ meant.length ?
          'Nothing to settle. Every operation was simulated; what was found is meant so.' :
          'Nothing to settle. Every operation was simulated and nothing was found.' }}</p>
        <p v-if="open.cure" class="became" :class="open.cure.state" role="status"><b>{{ open.cure.letter }}, {{
          BECAME[open.cure.state] }}:</b> {{ open.cure.sentence }}.</p>
        <OfBefore v-if="findings.length || meant.length" :stale="!is_current"
          words="Of before the last change; it is being judged anew."><FindingsList :findings="findings"
          @pick="pick" @take="take_cure" /></OfBefore>
        <CornersPanel v-if="open.state && is_current && !open.report?.failed && doc?.operations.length" :hash="open.state.hash" />
      </div>
    </div>
    <div class="middle">
      <div class="face word"><h2>{{ heading }}</h2><span class="second">deep</span><span class="second">min</span></div>
      <TrunkView :segments="segments" :selected="selected" :findings="findings" :stale="!is_current"
        :ready="open.working?.done ?? 0" :room="room"
        :step="chosen.step" :marked="chosen.marked" @select="(i) => go(i + 1)" @choose="choose"
        @top="(index) => (top = index)" @put="(id, to) => put_at(id, to, 'Dragged')"
        @mark="(id, span) => (span ? mark_to(id) : mark(id))" />
      <div v-if="doc && !doc.operations.length" class="empty">
        <p><b>No steps yet.</b> Measure the parts, then let the route be proposed from the features.</p>
        <button class="go" @click="edit([{ do: 'propose' }])">Propose a route</button>
      </div>
    </div>
    <aside class="right sheet" :aria-busy="!is_current">
      <AddStep v-if="chosen.adding && doc" :after="behind.after" :behind="behind.step" />
      <HistorySheet v-else-if="chosen.history && doc" />
      <KeysSheet v-else-if="chosen.keys" />
      <OrderSheet v-else-if="chosen.ordering && doc?.operations.length" />
      <SeveralSheet v-else-if="marked.length > 1" />
      <StepSheet v-else-if="step_chosen" />
      <ReasonsSheet v-else-if="doc?.operations.length" :index="reasons_at" :findings="findings" />
      <div class="last">
        <p v-if="planned" class="second" role="status">Finding the way through {{ planned.name }}, {{ Math.round((open.working!.done % 1) * 100) }} %. <button class="plain" @click="edit([{ do: 'choose_clearing', operation: planned.id, clearing: 'rings' }], 'Clear by rings instead')">Stop, clear by rings</button></p>
        <p v-else-if="open.working && !open.waits" class="second" role="status">{{ at_work }}</p>
        <p v-else-if="open.report?.totals">
          <OriginTap of="minutes">Machine</OriginTap> <b>{{ minutes(open.report.totals.machine_min) }} min</b>,
          <OriginTap of="yours">hands</OriginTap> <b>{{ minutes(open.report.totals.hands_min) }} min</b>,
          <OriginTap of="pieces">piece</OriginTap> <b>{{ open.report.totals.piece_kg.toFixed(2) }} kg</b></p>
        <div class="acts">
          <button v-if="stops.length" class="blocked" @click="pick(stops[0].letter)">Settle {{ stops.map((s) => s.letter).slice(0, 4).join(', ') }}, then run it</button>
          <button v-else-if="wood && is_current" class="go" @click="router.push(`/routes/${route.params.id}/run`)">Run it</button>
          <button class="plain" @click="edit([{ do: 'propose' }], 'Propose the route again')">Propose again</button>
          <button v-if="doc?.operations.length" class="plain" :aria-pressed="chosen.ordering"
            @click="chosen.ordering = !chosen.ordering">Order</button>
          <button class="plain" :aria-pressed="chosen.history"
            @click="chosen.history = !chosen.history">History</button>
          <button class="plain" :aria-pressed="chosen.keys" @click="chosen.keys = !chosen.keys">Keys</button>
        </div>
      </div>
    </aside>
  </main>
</template>

<style scoped>
.route { display: grid; grid-template-columns: minmax(470px, 1fr) minmax(380px, 410px) 292px; height: 100vh; }
.left { padding: 6px 14px 10px 34px; display: flex; flex-direction: column; min-height: 0; gap: 4px; }
.above { display: contents; }
.plan { flex: 0 1 auto; min-height: 90px; max-height: min(470px, 52vh); }
.became { margin: 0; padding: 2px 8px; border-left: 5px solid var(--edge); background: var(--well); }
.became.settled { border-color: var(--moss); } .became.stands { border-color: var(--ember); }
.thin circle { fill: #1d1a17; }
.thin text { font-weight: 700; font-size: 14px; fill: #1d1a17; paint-order: stroke; stroke: #fbf9f5; stroke-width: 4px; }
.bit circle { fill: rgb(251 249 245 / 0.55); stroke: #1d1a17; stroke-width: 1.5; }
.bit path { stroke: #1d1a17; stroke-width: 1.2; }
.plan.tilts { max-height: none; flex: 4 1 420px; }
.tear { fill: none; stroke: #734700; stroke-width: 5; stroke-dasharray: 2 3; }
.tear.likely { stroke: #a5301a; stroke-width: 8; stroke-dasharray: 2 1.6; }
.way { stroke: #1d1a17; stroke-width: 1.6; fill: none; }
.way line { stroke-dasharray: 6 3; }
.findings { overflow-y: auto; min-height: 76px; flex: 1 1 150px; }
.clear { font-size: 15px; padding-top: 8px; }
.ember { color: var(--ember); font-size: 15px; }
.middle { position: relative; min-height: 0; height: 100vh; }
.face { position: absolute; z-index: 2; left: 104px; right: 0; top: 0; height: 48px; display: grid; grid-template-columns: 1fr 52px 34px 28px; gap: 4px; align-items: end; padding: 0 6px 4px 8px; font-family: var(--num); background: var(--paper); }
.face .second { text-align: right; font-size: 14px; }
.right { padding: 16px 16px 12px 18px; display: flex; flex-direction: column; gap: 12px; overflow-y: auto; height: 100vh; }
.last { margin-top: auto; border-top: 1px solid var(--rule); padding-top: 10px; }
.last p { margin: 0 0 8px; }
.acts { display: flex; gap: 14px; align-items: center; flex-wrap: wrap; }
.empty { position: absolute; left: 120px; top: 120px; right: 10px; }
.route.long {
  grid-template-rows: auto minmax(0, 1fr); grid-template-columns: minmax(300px, 1fr) minmax(380px, 470px) 330px;
}
.long .left { display: contents; }
.long .above { display: flex; flex-direction: column; grid-column: 1 / -1; padding: 6px 34px 6px; gap: 4px; }
.long .plan { flex: none; max-height: 34vh; }
.long .findings { padding: 0 14px 10px 34px; min-height: 0; grid-row: 2; grid-column: 1; }
.long .middle, .long .right { height: auto; min-height: 0; grid-row: 2; }
@media (max-width: 1110px) {
  .route { grid-template-columns: 1fr 360px; grid-template-rows: 1fr auto; height: auto; min-height: 100vh; overflow-y: auto; max-height: 100vh; }
  .right { grid-column: 1 / -1; height: auto; }
}
@media (max-width: 760px) {
  .route { grid-template-columns: minmax(0, 1fr); grid-template-rows: auto auto auto; }
  .left { padding: 6px 10px 10px; min-height: 86vh; height: auto; overflow-x: auto; }
  .findings { flex: none; overflow: visible; max-height: none; }
  .middle { height: 80vh; }
}
</style>
