<script setup lang="ts">
import { piece_mm } from '../wood/lies'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { Layout } from '../api/types'
import TrustMark from '../marks/TrustMark.vue'
import DrawingLinks from '../fields/DrawingLinks.vue'
import OfBefore from '../fields/OfBefore.vue'
import OriginTap from '../fields/OriginTap.vue'
import Masthead from '../route/Masthead.vue'
import { edit, findings, open, open_route } from '../route/store'
import { few } from '../units/few'
import { length } from '../units/format'
import ContoursPanel from '../contours/ContoursPanel.vue'
import DrawPanel from './DrawPanel.vue'
import EdgesPanel from './EdgesPanel.vue'
import FitsPanel from './FitsPanel.vue'
import HeightSolver from './HeightSolver.vue'
import PartsPanel from './PartsPanel.vue'
import PlanDrawing from './PlanDrawing.vue'
import { pen } from './pen'
import SaddlePanel from './SaddlePanel.vue'
import VariantsPanel from './VariantsPanel.vue'
import WeightPanel from './WeightPanel.vue'
import WireHole from './WireHole.vue'

/** Where everything stands on the body, and the numbers that put it there. */
const route = useRoute()
const id = Number(route.params.id)
const layout = ref<Layout | null>(null)
const wrong = ref('')
const layout_of = ref('') // the state of the job that the layout is of
const stale = computed(() => layout_of.value !== open.state?.hash)
const over = ref('')
const chosen = ref('')
const chamber = ref('')
const ALL = ['draw', 'saddle', 'parts', 'edges', 'fits', 'weight', 'wires'] as const
type Topic = (typeof ALL)[number]
const OF_BOARD: Topic[] = ['draw', 'edges', 'weight'] // no bridge, part or wire stands on a fretboard
const topics = computed(() => ALL.filter((t) => !open.state?.document.piece.board || OF_BOARD.includes(t)))
const titles: Record<Topic, string> = {
  draw: 'Draw', saddle: 'Saddle', parts: 'Parts', edges: 'Edges', fits: 'Fits', weight: 'Weight', wires: 'Wires',
}
const wanted = ref<Topic>(ALL.includes(route.query.topic as Topic) ? (route.query.topic as Topic) : 'saddle')
const topic = computed({
  get: () => (topics.value.includes(wanted.value) ? wanted.value : 'draw'),
  set: (now: Topic) => { wanted.value = now },
})
onMounted(async () => {
  await open_route(id)
  const shape = String(route.query.shape ?? '')
  if (open.state?.document.piece.features.some((f) => f.id === shape)) pen.taken = shape
})
watch(() => open.state?.hash, async (hash) => {
  if (!hash) return
  try {
    const found = await api.layout(id)
    if (hash !== open.state?.hash) return
    layout.value = found
    wrong.value = ''
    layout_of.value = hash
  } catch (error) { wrong.value = (error as Error).message }
}, { immediate: true })
const solids = computed(() => open.state?.drawing.solids ?? [])
const placements = computed(() => open.state?.document.piece.placements ?? [])
function turn(event: KeyboardEvent) {
  const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
  if (!way) return
  event.preventDefault()
  const all = topics.value
  topic.value = all[(all.indexOf(topic.value) + way + all.length) % all.length]
  void nextTick(() => document.getElementById(`topic-${topic.value}`)?.focus())
}
function choose(placement: string) { chosen.value = placement; topic.value = 'parts' }
const counts = computed<Record<string, number>>(() => ({ parts: findings.value.filter((f) => /^(part|hole|operation)\./.test(f.code) && f.severity !== 'note').length, edges: findings.value.filter((f) => f.code.startsWith('edge.')).length }))
const thick = computed(() => (open.state ? piece_mm(open.state.document.blank) : 45))
const left_handed = () => edit([{ do: 'mirror' }], 'Mirror for the other hand')
</script>

<template>
  <main class="layout">
    <div class="left">
      <Masthead second="Where everything stands" />
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <PlanDrawing v-if="layout" :layout="layout" :solids="solids" :placements="placements" :over="over" :show="topic" :chosen="chosen" :chamber="chamber" @over="over = $event" @choose="choose" />
      <p v-if="topic === 'draw'" class="second">Drag a shape, or focus it and use the arrows; R turns it, M mirrors
        it. The wheel goes closer. Dotted: on the back.</p>
      <p v-else class="second">Dashed: parts at their measured sizes, never cut. Dotted: on the back. Green: the saddle
        line.</p>
      <section v-if="layout && topic !== 'draw'"><OfBefore :stale="stale"><h2>Walls and floors</h2>
        <table class="rows"><thead><tr><th>Feature</th><th>rests on</th><th><OriginTap of="deep">deep</OriginTap></th>
          <th><OriginTap of="floor">floor</OriginTap></th><th><OriginTap of="outside">outside</OriginTap></th>
          <th>nearest</th><th><OriginTap of="wall">wall</OriginTap></th></tr></thead><tbody>
          <tr v-for="c in layout.clearances" :key="c.feature" :class="{ over: over === c.feature }" tabindex="0" @pointerenter="over = c.feature" @pointerleave="over = ''" @focus="over = c.feature">
            <td>{{ c.name }}<span v-if="c.face === 'back' && c.depth_mm !== null" class="least"> back</span></td><td><TrustMark :trust="c.trust" /></td><td>{{ c.depth_mm === null ? 'thru' : length(c.depth_mm, 1) }}</td><td>{{ c.floor_mm !== null ? length(c.floor_mm, 1) : c.depth_mm === null ? '–' : 'opens' }}</td><td>{{ c.to_outside_mm > 0 ? length(c.to_outside_mm, 1) : 'open' }}</td><td>{{ c.nearest ?? '–' }}</td><td>{{ length(c.wall_mm, 1) }}</td>
          </tr></tbody></table>
        <p class="least key"><TrustMark trust="measured" /> measured twice or more <TrustMark trust="single" /> once <TrustMark trust="assumed" /> never <TrustMark trust="told" /> drawn or typed</p>
        <p class="least">Other hand: <button class="plain" @click="left_handed">mirror the piece</button>, its blank and
          its holding. Bought parts are never
          mirrored.</p><DrawingLinks of="the piece" /></OfBefore></section>
    </div>
    <aside class="right sheet">
      <div class="topics" role="tablist" aria-label="Layout" @keydown="turn"><button v-for="t in topics" :id="`topic-${t}`" :key="t" role="tab" :aria-selected="topic === t" :tabindex="topic === t ? 0 : -1" :class="{ here: topic === t }" @click="topic = t">{{ titles[t] }}<sup v-if="counts[t]">{{ counts[t] }}</sup></button></div>
      <div v-if="layout && open.state" class="panel" role="tabpanel" :aria-labelledby="`topic-${topic}`">
        <p v-if="stale" class="of-before-said" role="status">What is computed here is of before the last change{{
          wrong ? ', which cannot be laid out' : '' }}.</p>
        <DrawPanel v-if="topic === 'draw'" :layout="layout" :thickness="thick" />
        <template v-else-if="topic === 'saddle'">
          <SaddlePanel :layout="layout" part="saddle" />
          <HeightSolver v-if="layout.heights && layout.heights.failed === null" :key="open.state?.hash" :route="id"
            :first="layout.heights" />
          <p v-else-if="layout.heights" class="ember" role="alert">{{ layout.heights.failed }}</p>
          <SaddlePanel :layout="layout" part="strings" />
          <VariantsPanel :layout="layout" :route="id" />
          <p v-if="layout.missing.length" class="second">Still to measure: {{ few([...new Set(layout.missing)],
            8, '; ') }}.</p>
        </template>
        <PartsPanel v-else-if="topic === 'parts'" :layout="layout" :chosen="chosen" @choose="chosen = $event" />
        <template v-else-if="topic === 'edges'"><EdgesPanel :layout="layout" />
          <ContoursPanel :layout="layout" /></template>
        <FitsPanel v-else-if="topic === 'fits'" :layout="layout" />
        <WeightPanel v-else-if="topic === 'weight'" :layout="layout" @over="chamber = $event" />
        <WireHole v-else :solids="solids" />
      </div>
    </aside>
  </main>
</template>

<style scoped>
.layout { display: grid; grid-template-columns: minmax(520px, 1fr) 420px; height: 100vh; }
.left { padding: 6px 24px 14px 34px; overflow-y: auto; display: flex; flex-direction: column; gap: 8px; min-height: 0; }
.left p { margin: 0; }
.rows { border-collapse: collapse; width: 100%; margin-top: 4px; }
.rows th { font-weight: 400; color: var(--ink3); text-align: right; }
.rows td { text-align: right; padding: 4px 0 4px 8px; border-top: 1px solid var(--rule); }
.rows th:first-child, .rows td:first-child, .rows th:nth-child(6), .rows td:nth-child(6) { text-align: left; padding-left: 8px; }
.rows th:nth-child(2), .rows td:nth-child(2) { text-align: center; }
.over { background: var(--bark); font-weight: 600; }
.key { margin-top: 6px !important; display: flex; gap: 6px; align-items: center; flex-wrap: wrap; }
.right { display: flex; flex-direction: column; min-height: 0; }
.topics { display: flex; gap: 18px; padding: 12px 20px 6px; border-bottom: 1px solid var(--rule); flex-wrap: wrap; }
.topics button { min-height: 30px; color: var(--ink2); font-size: 15px; position: relative; }
.topics .here { color: var(--ink); font-weight: 700; box-shadow: 0 3px 0 -1px var(--ink); }
.topics sup { color: var(--amber-ink); font-weight: 700; margin-left: 2px; }
.panel { padding: 14px 20px; overflow-y: auto; display: flex; flex-direction: column; gap: 16px; }
.panel p { margin: 4px 0; }
.panel :deep(h2) { margin-bottom: 6px; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .layout { grid-template-columns: 1fr; height: auto; max-height: 100vh; overflow-y: auto; } }
</style>
