<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Hardware, Point } from '../api/types'
import EditField from '../fields/EditField.vue'
import FlagMark from '../marks/FlagMark.vue'
import Masthead from '../route/Masthead.vue'
import OfBefore from '../fields/OfBefore.vue'
import OriginTap from '../fields/OriginTap.vue'
import { BECAME, edit, findings, is_current, open, open_route, take_cure } from '../route/store'
import { few } from '../units/few'
import { length } from '../units/format'
import EndPanel from './EndPanel.vue'
import FoundAgain from './FoundAgain.vue'
import HardwareList from './HardwareList.vue'
import JigPanel from './JigPanel.vue'
import HoldRing from './HoldRing.vue'
import PiecesPanel from './PiecesPanel.vue'
import PlaceMarks from './PlaceMarks.vue'
import PullTrunk from './PullTrunk.vue'
import ZeroPanel from './ZeroPanel.vue'
import WoodPlan from '../wood/WoodPlan.vue'
import { last_step } from '../wood/lies'
import { blocks, is_round, lies_under, name_of, snapped } from './hardware'

const route = useRoute()
const room = ref(window.innerHeight)
const fit = () => { room.value = window.innerHeight }
onMounted(() => { void open_route(Number(route.params.id)); window.addEventListener('resize', fit) })
onUnmounted(() => window.removeEventListener('resize', fit))
const plan = ref<InstanceType<typeof WoodPlan>>()
const setup_at = ref(0)
type Topic = 'held' | 'hardware' | 'found' | 'jig' | 'pieces' | 'end'
const topic = ref<Topic>('held')
const TOPICS: [Topic, string][] = [['held', 'How it is held'], ['hardware', 'What holds it'],
  ['found', 'Found again'], ['jig', 'Jig'], ['pieces', 'Several'], ['end', 'On end']]
const setups = computed(() => open.state?.document.setups ?? [])
const setup = computed(() => setups.value[Math.min(setup_at.value, setups.value.length - 1)])
const blank = computed(() => open.state?.document.blank)
const chosen = ref('')
/** The operation whose holding is looked at: chosen, or the one that is held least. */
const picked = ref('')
const mine = computed(() => (open.report?.operations ?? []).filter((o) => open.state?.document.operations.some((d) => d.id === o.id && d.setup === setup.value?.id)))
const weakest = computed(() => mine.value.filter((o) => o.hold).sort((a, b) => a.hold!.factor / a.hold!.needs - b.hold!.factor / b.hold!.needs)[0])
const looked = computed(() => mine.value.find((o) => o.id === picked.value) ?? weakest.value ?? null)
const step = computed(() => {
  const d = open.state?.document
  const k = d?.operations.findIndex((o) => o.id === looked.value?.id) ?? -1
  return d && setup.value ? (k >= 0 ? k + 1 : last_step(d, setup.value.id)) : 0
})
watch(setup_at, () => { picked.value = '' })
const dragged = ref<{ id: string; x: number; y: number; angle: number } | null>(null)
const hardware = computed(() => (setup.value?.hardware ?? []).map((h) => (dragged.value?.id === h.id ? { ...h, x_mm: dragged.value.x, y_mm: dragged.value.y, angle_deg: dragged.value.angle } : h)))
const HERE = ['bed', 'hardware', 'holding', 'nest', 'piece', 'pieces', 'travel', 'zero', 'blank', 'waste_board', 'turn']
const holding = computed(() => findings.value.filter((f) => HERE.includes(f.code.split('.')[0])))
/** How far the blank reaches beyond the outline at each edge. */
const margins = computed(() => {
  const b = blank.value
  const ring = open.state?.drawing.solids.find((s) => s.kind === 'outline')?.rings[0]
  if (!b || !ring) return null
  const xs = ring.map(([x]) => x)
  const ys = ring.map(([, y]) => y)
  return { left: Math.min(...xs) - b.x_mm, right: b.x_mm + b.length_mm - Math.max(...xs), bass: Math.min(...ys) - b.y_mm, treble: b.y_mm + b.width_mm - Math.max(...ys) }
})
const nest = computed(() => { const r = open.report?.setups?.find((s) => s.id === setup.value?.id)?.nest; return r && plan.value ? `M${r.ring.map(([x, y]) => `${plan.value!.sx(x).toFixed(1)} ${plan.value!.sy(y).toFixed(1)}`).join('L')}Z` : '' })
const border = 46  // a clamp's block stands outside the blank
const hatch = computed(() => {
  const n = open.report?.no_go?.[setup.value?.id ?? '']
  if (!n || !plan.value) return ''
  const { sx, sy } = plan.value
  return n.runs.map(([row, a, b]) => {
    const [gx, gy] = plan.value!.lies?.signs ?? [1, 1]  // the rows are the setup's, sx and sy take the piece's
    const y0 = sy(gy * (n.y0_mm + (row + 1) * n.cell_mm))
    const y1 = sy(gy * (n.y0_mm + row * n.cell_mm))
    return `M${sx(gx * (n.x0_mm + a * n.cell_mm)).toFixed(1)} ${y0.toFixed(1)}H${sx(gx * (n.x0_mm + b * n.cell_mm)).toFixed(1)}V${y1.toFixed(1)}H${sx(gx * (n.x0_mm + a * n.cell_mm)).toFixed(1)}Z`
  }).join('')
})
const ring = (h: Hardware) => { const p = plan.value!; return blocks(h).map((b) => `M${b.map(([x, y]) => `${p.sx(x).toFixed(1)} ${p.sy(y).toFixed(1)}`).join('L')}Z`).join('') }
/** Where the wood is pulled hardest against its holding, and which way, as it is seen. */
const arrow = computed(() => {
  const h = looked.value?.hold
  if (!h || !plan.value) return null
  const a = (h.worst_deg * Math.PI) / 180
  const [x, y] = [plan.value.sx(h.place[0]), plan.value.sy(h.place[1])]
  return { x, y, path: `M0 0h34m-9 -6l9 6l-9 6`, deg: (-a * 180) / Math.PI }
})
function put(h: Hardware, what: string) { return edit([{ do: 'put_hardware', setup: setup.value!.id, hardware: h }], what) }
function place_of(event: PointerEvent): Point {
  const p = plan.value!
  const svg = (event.target as SVGElement).closest('svg')!.getBoundingClientRect()
  return p.back(event.clientX - svg.left, event.clientY - svg.top)
}
function down(h: Hardware, event: PointerEvent) {
  chosen.value = h.id
  ;(event.target as Element).setPointerCapture(event.pointerId)
  dragged.value = { id: h.id, x: h.x_mm, y: h.y_mm, angle: h.angle_deg }
}
function move(h: Hardware, event: PointerEvent) {
  if (dragged.value?.id !== h.id) return
  const s = snapped(h, ...place_of(event), blank.value!)
  dragged.value = { id: h.id, x: s.x_mm, y: s.y_mm, angle: s.angle_deg }
}
async function drop(h: Hardware, event: PointerEvent) {
  if (dragged.value?.id !== h.id) return
  const s = snapped(h, ...place_of(event), blank.value!)
  const before = setup.value!.hardware.find((x) => x.id === h.id)!
  if (Math.hypot(s.x_mm - before.x_mm, s.y_mm - before.y_mm) > 0.4) await put({ ...before, x_mm: s.x_mm, y_mm: s.y_mm, angle_deg: s.angle_deg }, `Move ${h.id}`)
  dragged.value = null
}
function nudge(h: Hardware, event: KeyboardEvent) {
  const by = event.shiftKey ? 10 : 1
  const way: Record<string, Point> = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }
  if (event.key === 'Delete') { event.preventDefault(); void edit([{ do: 'remove_hardware', setup: setup.value!.id, hardware: h.id }], `Remove ${h.id}`) }
  if (!way[event.key]) return
  event.preventDefault()
  event.stopPropagation()
  const [gx, gy] = plan.value?.lies?.signs ?? [1, 1]
  void put({ ...h, x_mm: h.x_mm + gx * way[event.key][0], y_mm: h.y_mm + gy * way[event.key][1] }, `Move ${h.id}`)
}
/** What the wood has come to at the end of this setup, and what holds each of it. */
const parted = computed(() => {
  const at = mine.value.findIndex((o) => o.id === looked.value?.id)
  const last = mine.value.slice(0, at + 1).filter((o) => o.pieces).at(-1)
  if (at >= 0 && at < mine.value.length - 1) return { caption: last ? `After ${last.name.toLowerCase()}` : '', pieces: last?.pieces ?? [] }
  return { caption: 'At the end of this setup', pieces: open.report?.setups?.find((s) => s.id === setup.value?.id)?.pieces ?? [] }
})
const datum = computed(() => open.state?.document.piece.features.find((f) => f.id === setup.value?.datum)?.name.toLowerCase())
async function turn(about: string) { if (await edit([{ do: 'turn_over', about }], 'Turn it over')) setup_at.value = setups.value.length - 1 }
const share = (part: number) => `${Math.round(part * 100)} %`
const contact = (id: string) => { const h = setup.value?.hardware.find((x) => x.id === id); return h ? name_of(h) : id[0].toUpperCase() + id.slice(1) }
</script>

<template>
  <main class="hold">
    <div class="left">
      <Masthead :second="setup ? `On the bed, ${setup.face} face up` : ''" />
      <div class="plan">
        <WoodPlan ref="plan" :step="step" :setup="setup?.id" :section="null" :findings="holding" :border="border">
          <template #under>
            <defs><pattern id="hatch" width="6" height="6" patternTransform="rotate(45)" patternUnits="userSpaceOnUse"><path d="M0 0V6" stroke="#1d1a17" stroke-width="1" opacity=".5" /></pattern></defs>
            <path v-if="plan && nest" :d="nest" fill="none" stroke="#1d1a17" stroke-width="5" stroke-opacity=".35" /><path v-if="plan && nest" :d="nest" fill="none" stroke="#fbf9f5" stroke-width="1.6" />
            <path v-if="plan" :d="hatch" fill="url(#hatch)" fill-rule="nonzero" />
          </template>
          <template v-if="plan">
            <g v-for="h in hardware" :key="h.id" class="thing" :class="{ chosen: h.id === chosen }" tabindex="0" role="button" :aria-label="`${name_of(h)} at ${length(h.x_mm, 1)}, ${length(h.y_mm, 1)}. Arrows move it, Delete takes it away.`"
              @pointerdown="down(h, $event)" @pointermove="move(h, $event)" @pointerup="drop(h, $event)" @keydown="nudge(h, $event)" @focus="chosen = h.id">
              <template v-if="is_round(h.kind)">
                <circle :cx="plan.sx(h.x_mm)" :cy="plan.sy(h.y_mm)" r="13" fill="transparent" />
                <circle :cx="plan.sx(h.x_mm)" :cy="plan.sy(h.y_mm)" :r="Math.max(5, (h.head_diameter_mm / 2) * plan.scale)" :fill="h.kind === 'pin' ? '#fbf9f5' : '#d7d2c8'" stroke="#1d1a17" stroke-width="1.6" />
                <path v-if="h.kind === 'screw' || h.kind === 'bolt'" :d="`M${plan.sx(h.x_mm) - 3} ${plan.sy(h.y_mm) - 3}l6 6m0 -6l-6 6`" stroke="#1d1a17" stroke-width="1.6" /><circle v-else :cx="plan.sx(h.x_mm)" :cy="plan.sy(h.y_mm)" r="2.4" fill="#1d1a17" />
                <text :x="plan.sx(h.x_mm) + 10" :y="plan.sy(h.y_mm) + 5">{{ h.id }}</text>
              </template>
              <template v-else-if="lies_under(h.kind)"><path :d="ring(h)" fill="#fbf9f5" fill-opacity=".16" stroke="#1d1a17" stroke-width="1.3" stroke-dasharray="1.5 4" /><text :x="plan.sx(h.x_mm)" :y="plan.sy(h.y_mm) + 5" text-anchor="middle">{{ h.id }}</text></template>
              <template v-else><path :d="ring(h)" fill="#e6d3a9" stroke="#1d1a17" stroke-width="1.5" /><circle v-if="h.kind === 'top_clamp'" :cx="plan.sx(h.x_mm)" :cy="plan.sy(h.y_mm)" r="4" fill="#1d1a17" /><path v-if="h.kind === 'strap'" :d="ring(h)" fill="url(#hatch)" /><text :x="plan.sx(h.x_mm) + 8" :y="plan.sy(h.y_mm) + (h.angle_deg === -90 ? 18 : -8)">{{ h.id }}</text></template>
            </g>
            <PlaceMarks v-if="topic === 'found' && setup" :setup="setup" :plan="plan" />
            <g v-if="arrow && topic === 'held'" class="worst" :transform="`translate(${arrow.x} ${arrow.y})`"><circle r="6" /><path :d="arrow.path" :transform="`rotate(${arrow.deg})`" /></g>
          </template>
        </WoodPlan>
      </div>
      <p class="second">Hatched: nothing as high as the blank may stand there; bit and collet nut pass. Drag what holds it, or move it with the arrows.</p>
    </div>
    <PullTrunk v-if="setup" :setup="setup.id" :chosen="looked?.id ?? ''" :room="room" @choose="(id) => { picked = id; topic = 'held' }" />
    <aside class="right sheet">
      <div v-if="setups.length > 1" class="turns" role="tablist" aria-label="Setups"><button v-for="(s, k) in setups" :key="s.id" role="tab" :aria-selected="k === setup_at" :class="{ here: k === setup_at }" @click="setup_at = k">{{ s.name }}</button></div>
      <div class="choice topics" role="tablist" aria-label="Holding"><button v-for="[key, name] in TOPICS" :key="key" role="tab" :aria-selected="topic === key" :class="{ on: topic === key }" @click="topic = key">{{ name }}</button></div>
      <OfBefore v-if="topic === 'held'" :stale="!is_current && open.report !== null"
        words="Of before the last change; it is being cut on paper and judged anew.">
        <template v-if="looked?.hold && setup">
          <h2>Held against {{ looked.name.toLowerCase() }}</h2>
          <HoldRing :hold="looked.hold" :signs="plan?.lies?.signs ?? [1, 1]" :name="looked.name" />
          <p><OriginTap of="pull">Pulls</OriginTap> <b>{{ Math.round(looked.hold.pulls_n) }} N</b>{{
            looked.hold.lifts ? ` and lifts ${Math.round(looked.hold.lifts * looked.hold.pulls_n)}` : '' }}. <OriginTap
            of="holding">Holds</OriginTap> <b>{{ Math.round(looked.hold.least_n) }} N</b> at the least, toward the {{
            looked.hold.toward }}: <b>{{ looked.hold.factor.toFixed(1) }} times</b>; {{
            looked.hold.needs }} is the least you want{{
            looked.hold.joined ? ', where only tabs or a skin hold it' : '' }} (dashed).</p>
          <p v-if="Object.keys(looked.hold.parts).length" class="second">
            The least rests on {{ few(Object.entries(looked.hold.parts).map(
            ([id, p]) => `${contact(id)} ${share(p)}`), 4) }}.</p>
        </template>
        <p v-else-if="looked" class="second">{{ looked.name }} pulls nothing to the side.</p>
        <p v-else class="second" role="status">{{ open.report ? 'No operation here yet.' : 'Cutting it on paper.' }}</p>
        <p v-if="open.cure" role="status"><b>{{ open.cure.letter }}, {{ BECAME[open.cure.state] }}:</b>
          {{ open.cure.sentence }}.</p>
        <h2>{{ holding.length ? 'Not yet safe' : !open.report ? 'Not judged yet' : 'Nothing in the way' }}</h2>
        <p v-if="!holding.length && open.report" class="word">
          Bit and collet nut pass everything that holds the wood, every cut is held well, and every piece that is
          cut free.</p>
        <div v-for="f in holding" :key="f.letter" class="one"><FlagMark :severity="f.severity" :letter="f.letter" />
          <div><p>{{ f.sentence }}</p><button v-for="(c, k) in f.cures" :key="k" class="cure"
          :class="{ lead: k === 0 }" @click="take_cure(f, c)">{{ c.sentence }}</button></div></div>
        <table v-if="parted.pieces.length" class="pieces"><caption><OriginTap
          of="pieces">{{ parted.caption }}</OriginTap></caption><tbody>
          <tr v-for="p in parted.pieces" :key="`${p.x_mm} ${p.y_mm}`" :class="{ loose: p.loose }"><td>{{ p.name }}</td>
            <td class="num">{{ p.kg < 0.1 ? `${Math.round(p.kg * 1000)} g` : `${p.kg.toFixed(2)} kg` }}</td>
            <td>{{ p.loose ? 'nothing holds it' : `held by ${p.held}` }}</td></tr></tbody></table>
      </OfBefore>
      <template v-else-if="topic === 'hardware' && setup">
        <HardwareList :setup="setup" :chosen="chosen" @choose="(id) => (chosen = id)" />
        <template v-if="blank">
          <h2>Blank</h2>
          <div class="three"><EditField path="blank.length_mm" :value="blank.length_mm" label="Long" is_length :places="1" /><EditField path="blank.width_mm" :value="blank.width_mm" label="Wide" is_length :places="1" /><EditField path="blank.thickness_mm" :value="blank.thickness_mm" label="Thick" is_length :places="1" />
            <EditField path="blank.skim_mm" :value="blank.skim_mm" label="Skim" is_length :places="1" /><EditField path="blank.skim_back_mm" :value="blank.skim_back_mm" label="Skim the back" is_length :places="1" /><EditField path="blank.x_mm" :value="blank.x_mm" label="Corner x" is_length :places="1" /><EditField path="blank.y_mm" :value="blank.y_mm" label="Corner y" is_length :places="1" /></div>
          <p v-if="margins" class="second">Wood beyond the outline: left {{ length(margins.left, 1) }}, right {{ length(margins.right, 1) }}, bass side {{ length(margins.bass, 1) }}, treble side {{ length(margins.treble, 1) }}.</p>
        </template>
      </template>
      <JigPanel v-else-if="topic === 'jig' && setup" :setup="setup" />
      <PiecesPanel v-else-if="topic === 'pieces' && setup" :key="setup.id" :setup="setup" />
      <EndPanel v-else-if="topic === 'end'" />
      <template v-else-if="setup">
        <ZeroPanel :key="setup.id" :setup="setup" />
        <h2>Turning over</h2>
        <p v-if="setup_at > 0" class="second">Turned about its {{ setup.turned_about }}, found again by {{ datum ?? 'edges or lines only' }}. The blank’s corner lies at {{ length(setup.blank_at_mm[0], 1) }}, {{ length(setup.blank_at_mm[1], 1) }} on the bed, so that the holes stand over the same pins.</p>
        <FoundAgain :setup="setup" :turned="setup_at > 0" />
        <div class="acts"><button v-if="setups.length < 4" class="cure" @click="turn('length')">{{ setups.length > 1 ? 'Turn it over again' : 'Turn it over' }} about its length</button><button v-if="setups.length < 4" class="cure" @click="turn('width')">about its width</button><button v-if="setups.length > 1" class="plain" @click="edit([{ do: 'remove_setup' }], 'Take the last setup away')">Take the last setup away</button></div>
      </template>
    </aside>
  </main>
</template>

<style scoped>
.hold { display: grid; grid-template-columns: minmax(500px, 1fr) 150px 392px; height: 100vh; }
.left { padding: 6px 16px 10px 34px; display: flex; flex-direction: column; min-height: 0; gap: 6px; }
.plan { flex: 1; min-height: 300px; background: var(--bed); }
.plan :deep(.box) { display: flex; flex-direction: column; justify-content: center; }
.left p { margin: 0; }
.right { padding: 14px 18px; overflow-y: auto; display: flex; flex-direction: column; gap: 9px; height: 100vh; }
.right p { margin: 0; }
table { border-collapse: collapse; width: 100%; }
td { padding: 3px 3px 3px 0; }
caption { text-align: left; color: var(--ink3); }
.pieces td { vertical-align: top; }
.pieces .num { text-align: right; padding-right: 10px; white-space: nowrap; }
.loose { color: var(--ember); font-weight: 700; }
.acts, .pair { display: flex; gap: 10px; }
.pair > * { flex: 1; }
.turns { display: flex; gap: 18px; border-bottom: 1px solid var(--rule); }
.turns button { min-height: 30px; color: var(--ink2); }
.turns .here { color: var(--ink); font-weight: 700; box-shadow: 0 3px 0 -1px var(--ink); }
.choice { flex: none; }
.choice button { flex: 1 1 auto; padding: 4px 7px; white-space: nowrap; }
.acts { flex-wrap: wrap; align-items: center; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
.thing { cursor: grab; }
.thing text { font-size: 14px; font-weight: 700; fill: #1d1a17; paint-order: stroke; stroke: #cdc4b2; stroke-width: 3px; }
.thing.chosen circle:nth-child(2), .thing.chosen path:first-child { stroke: #3c5a29; stroke-width: 3; }
.worst circle { fill: #33302b; }
.worst path { fill: none; stroke: #33302b; stroke-width: 3; }
.one { display: flex; gap: 10px; border-top: 1px solid var(--rule); padding-top: 8px; }
.one .cure { margin: 6px 8px 0 0; }
@media (max-width: 1000px) { .hold { grid-template-columns: 1fr 150px; height: auto; max-height: 100vh; overflow-y: auto; } .plan { min-height: 420px; } .right { grid-column: 1 / -1; height: auto; } }
.topics { display: grid; grid-template-columns: repeat(3, 1fr); }
.topics button { padding: 4px 8px; font-size: 14px; }
</style>
