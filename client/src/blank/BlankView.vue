<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { Defect, Layout, Point } from '../api/types'
import EditField from '../fields/EditField.vue'
import NumberLine from '../fields/NumberLine.vue'
import FlagMark from '../marks/FlagMark.vue'
import Masthead from '../route/Masthead.vue'
import { edit, findings, open, open_route, set } from '../route/store'
import NumberField from '../fields/NumberField.vue'
import { grouped, length } from '../units/format'
import BenchSteps from '../steps/BenchSteps.vue'
import LayersPanel from './LayersPanel.vue'
import PlankYield from './PlankYield.vue'
import StockPanel from './StockPanel.vue'

/** The blank: its boards and glue lines, its flaws, its measured thickness and weight. */
const route = useRoute()
const id = Number(route.params.id)
const layout = ref<Layout | null>(null)
onMounted(() => open_route(id))
watch(() => open.state?.hash, async (hash) => { if (hash) layout.value = await api.layout(id).catch(() => layout.value) }, { immediate: true })
const blank = computed(() => open.state?.document.blank)
const is_body = computed(() => open.state?.document.piece.kind === 'body')
const solids = computed(() => open.state?.drawing.solids ?? [])
const told = computed(() => findings.value.filter((f) => f.code.startsWith('blank.')))
const joined = computed(() => layout.value?.blank.boards ?? null)
const verdict = (d: Defect) => layout.value?.blank.defects.find((j) => j.defect === d.id)
const words: Record<string, string> = { cut_away: 'is cut away', hidden: 'stays inside the wood', shows: 'will show', structural: 'weakens it' }
const line = (ring: Point[]) => `M${ring.map(([x, y]) => `${x.toFixed(1)} ${(-y).toFixed(1)}`).join('L')}Z`
const density = computed(() => layout.value?.weight.density_kg_m3 ?? 0)
const weighs = computed(() => {
  const [has, kg] = [grouped(density.value), layout.value?.weight.kg.toFixed(2)]
  return blank.value?.weighed_kg
    ? `So this wood has ${has} kg/m³, and the piece will weigh ${kg} kg.`
    : `Until then ${has} kg/m³ from the wood table counts. The piece would weigh ${kg} kg.`
})
const next_id = (letter: string, used: string[]) => { let k = 1; while (used.includes(`${letter}${k}`)) k += 1; return `${letter}${k}` }
function add_board() {
  const planks = blank.value?.planks ?? []
  const wide = planks.length ? planks[planks.length - 1].width_mm : Math.ceil(((blank.value?.width_mm ?? 300) + 2) / 2)
  const more = planks.length ? [{ id: next_id('b', planks.map((p) => p.id)), width_mm: wide, name: '', grain_deg: 0 }] : [{ id: 'b1', width_mm: wide, name: '', grain_deg: 0 }, { id: 'b2', width_mm: wide, name: '', grain_deg: 0 }]
  void edit([{ do: 'set', path: 'blank.planks', value: [...planks, ...more] }, { do: 'set', path: 'blank.boards', value: planks.length + more.length }], 'Add a board')
}
function drop_board(name: string) {
  const planks = (blank.value?.planks ?? []).filter((p) => p.id !== name)
  void edit([{ do: 'set', path: 'blank.planks', value: planks }, { do: 'set', path: 'blank.boards', value: Math.max(1, planks.length) }], 'Take a board away')
}
function mark(event: MouseEvent) {
  const svg = event.currentTarget as SVGSVGElement
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()!.inverse())
  add_defect(Math.round(at.x), Math.round(-at.y))
}
function add_defect(x: number, y: number) {
  const defects = blank.value?.defects ?? []
  void set('blank.defects', [...defects, { id: next_id('k', defects.map((d) => d.id)), name: 'Knot', x_mm: x, y_mm: y, radius_mm: 5, top_mm: 0, deep_mm: 15 }])
}
const reading = ref<number | null>(null)
function keep_reading(mm: number | null) {
  if (mm === null) return
  void set('blank.thickness_readings_mm', [...(blank.value?.thickness_readings_mm ?? []), mm])
  reading.value = null
}
</script>

<template>
  <main class="blank">
    <div class="left">
      <Masthead :second="blank ? `Blank, ${length(blank.length_mm, 0)} × ${length(blank.width_mm, 0)} × ${length(blank.thickness_mm, 1)}` : ''" />
      <svg v-if="blank" class="plan" :viewBox="`${blank.x_mm - 8} ${-(blank.y_mm + blank.width_mm) - 8} ${blank.length_mm + 16} ${blank.width_mm + 16}`" role="img" aria-label="The blank from above. Double click marks a knot." @dblclick="mark">
        <rect :x="blank.x_mm" :y="-(blank.y_mm + blank.width_mm)" :width="blank.length_mm" :height="blank.width_mm" fill="#d6a679" stroke="#1d1a17" />
        <g v-for="(s, k) in joined?.strips ?? []" :key="k">
          <rect :x="blank.x_mm" :y="-Math.min(s[1], blank.y_mm + blank.width_mm)" :width="blank.length_mm" :height="Math.max(0, Math.min(s[1], blank.y_mm + blank.width_mm) - Math.max(s[0], blank.y_mm))" :fill="k % 2 ? '#cf9c6d' : '#dbae83'" />
          <path v-for="g in 5" :key="g" :d="`M${blank.x_mm + 6} ${-(s[0] + ((s[1] - s[0]) * g) / 6)}l${blank.length_mm - 12} ${-Math.tan((blank.planks[k]?.grain_deg ?? 0) * Math.PI / 180) * (blank.length_mm - 12) * 0.2}`" stroke="#b98a5c" stroke-width=".5" />
        </g>
        <path v-for="(s, k) in solids" :key="s.id + k" :d="s.rings.map(line).join('')" fill="none" stroke="#1d1a17" :stroke-width="s.kind === 'outline' ? 1.2 : 0.7" :stroke-dasharray="s.kind === 'outline' ? '' : '3 2'" />
        <path v-for="y in joined?.lines ?? []" :key="y" :d="`M${blank.x_mm} ${-y}h${blank.length_mm}`" stroke="#5d4335" stroke-width="1.3" stroke-dasharray="12 3" />
        <g v-for="d in blank.defects" :key="d.id">
          <circle :cx="d.x_mm" :cy="-d.y_mm" :r="d.radius_mm" :fill="verdict(d)?.verdict === 'structural' ? '#a5301a' : '#5d4335'" stroke="#1d1a17" stroke-width=".8" :fill-opacity="verdict(d)?.verdict === 'cut_away' ? 0.25 : 0.9" />
          <text :x="d.x_mm + d.radius_mm + 2" :y="-d.y_mm + 4" font-size="11" fill="#1d1a17">{{ d.id }}</text>
        </g>
      </svg>
      <p class="second">Dark dashes are glue lines. Double click on the wood where it has a knot or a crack, or add one at the right.</p>
      <PlankYield v-if="blank" :length_mm="blank.length_mm"
        :half_mm="is_body ? Math.ceil(blank.width_mm / 2 + 1) : blank.width_mm"
        :alone="is_body ? undefined : 'blank'" />
      <StockPanel v-if="blank" :route="id" />
    </div>
    <aside v-if="blank" class="right sheet">
      <section><h2>Boards</h2>
        <div v-for="(p, k) in blank.planks" :key="p.id" class="board"><span>{{ k + 1 }}</span><EditField :path="`blank.planks.${p.id}.width_mm`" :value="p.width_mm" :label="`Board ${k + 1} wide`" is_length :places="1" /><EditField :path="`blank.planks.${p.id}.grain_deg`" :value="p.grain_deg" label="Grain runs" suffix="°" /><button class="plain" :aria-label="`Take board ${k + 1} away`" @click="drop_board(p.id)">✕</button></div>
        <button class="cure" @click="add_board">{{ blank.planks.length ? 'Add a board' : 'It is glued of boards' }}</button>
        <NumberLine v-if="blank.planks.length" path="blank.joint_loss_mm" :value="blank.joint_loss_mm" label="Lost at each jointed edge" is_length />
        <p v-if="joined" :class="{ care: joined.short_mm > 0.05 }">The boards give <b>{{ length(joined.width_mm, 1) }}</b> for a blank {{ length(blank.width_mm, 1) }} wide{{ joined.short_mm > 0.05 ? `: ${length(joined.short_mm, 1)} is missing` : '' }}.<template v-if="joined.lines.length"> Glue {{ joined.lines.length === 1 ? 'line' : 'lines' }} at {{ joined.lines.map((y) => length(y, 1)).join(', ') }} from the centre line.</template></p>
        <p v-if="layout?.blank.offcuts.length" class="second">Offcuts to keep for coupons, plugs and stain: {{ layout.blank.offcuts.map((o) => `${o.side} ${length(o.length_mm, 0)} × ${length(o.width_mm, 0)}`).join(', ') }}.</p></section>
      <LayersPanel />
      <section><h2>Thickness by caliper</h2>
        <p><span v-for="(t, k) in blank.thickness_readings_mm" :key="k" class="reading">{{ length(t) }} <button class="plain" :aria-label="`Take reading ${k + 1} back`" @click="set('blank.thickness_readings_mm', blank!.thickness_readings_mm.filter((_, i) => i !== k))">✕</button></span></p>
        <NumberField :model-value="reading" label="Another place" :places="2" @update:model-value="keep_reading" />
        <p v-if="layout?.blank.thickness">From {{ length(layout.blank.thickness.least_mm) }} to {{ length(layout.blank.thickness.most_mm) }}, uneven by {{ length(layout.blank.thickness.spread_mm) }}; {{ length(blank.skim_mm) }} is skimmed.</p></section>
      <section><h2>Weigh it</h2>
        <EditField path="blank.weighed_kg" :value="blank.weighed_kg" label="The blank weighs" suffix="kg" />
        <p v-if="!layout">Being weighed.</p>
        <p
          v-else>{{ weighs }}</p>
          </section>
      <section><h2>Knots and cracks</h2>
        <div v-for="d in blank.defects" :key="d.id" class="flaw">
          <p><b>{{ d.id }}</b> {{ words[verdict(d)?.verdict ?? 'shows'] }}{{ verdict(d) ? `: ${verdict(d)!.by}` : '' }}. <button class="plain" :aria-label="`Remove ${d.id}`" @click="set('blank.defects', blank!.defects.filter((x) => x.id !== d.id))">Remove</button></p>
          <div class="five"><EditField :path="`blank.defects.${d.id}.x_mm`" :value="d.x_mm" label="x" is_length :places="0" /><EditField :path="`blank.defects.${d.id}.y_mm`" :value="d.y_mm" label="y" is_length :places="0" /><EditField :path="`blank.defects.${d.id}.radius_mm`" :value="d.radius_mm" label="Reach" is_length :places="0" /><EditField :path="`blank.defects.${d.id}.deep_mm`" :value="d.deep_mm" label="Deep" is_length :places="0" /></div>
        </div>
        <button class="cure" @click="add_defect(Math.round(blank!.x_mm + 20), Math.round(blank!.y_mm + 20))">Mark a knot</button></section>
      <section><h2>Bench work before the machine</h2>
        <BenchSteps :route="id" part="before" />
        <button class="cure" @click="edit([{ do: 'plan_bench' }], 'Plan the bench work')">Plan it from the boards</button>
        <p class="least">Programs wait for what is marked amber. Glue: what its maker says comes before these starting figures.</p></section>
      <section v-if="told.length"><h2>Look again</h2><div v-for="f in told" :key="f.letter" class="one">
        <FlagMark :severity="f.severity" :letter="f.letter" /><div><p>{{ f.sentence }}</p>
        <button v-for="c in f.cures" :key="c.sentence" class="cure lead"
        @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div></div></section>
    </aside>
  </main>
</template>

<style scoped>
.blank { display: grid; grid-template-columns: minmax(520px, 1fr) 400px; height: 100vh; }
.left { padding: 6px 24px 14px 34px; overflow-y: auto; display: flex; flex-direction: column; gap: 8px; }
.left p, .right p { margin: 2px 0; }
.plan { width: 100%; max-height: 56vh; flex: none; }
.right { padding: 16px 20px; overflow-y: auto; display: flex; flex-direction: column; gap: 18px; }
.right section { display: flex; flex-direction: column; gap: 8px; align-items: stretch; }
.right .cure { align-self: flex-start; }
.board { display: grid; grid-template-columns: 18px 1fr 1fr 24px; gap: 8px; align-items: center; }
.five { display: grid; grid-template-columns: 1fr 1fr 1fr 1fr; gap: 6px; margin-top: 6px; }
.flaw { border-top: 1px solid var(--rule); padding-top: 6px; }
.reading { margin-right: 14px; font-weight: 600; white-space: nowrap; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
.one { display: flex; gap: 10px; border-top: 1px solid var(--rule); padding-top: 8px; }
@media (max-width: 1000px) { .blank { grid-template-columns: 1fr; height: auto; max-height: 100vh; overflow-y: auto; } }
</style>
