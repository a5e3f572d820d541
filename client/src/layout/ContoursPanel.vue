<script setup lang="ts">
import { computed } from 'vue'
import type { Bevel, Carve, Channel, Point } from '../api/types'
import EditField from '../fields/EditField.vue'
import { edit, findings, open, set } from '../route/store'
import NumberField from '../fields/NumberField.vue'
import { length } from '../units/format'
import ReliefPanel from './ReliefPanel.vue'
import { part_near } from './rim'

/** Slopes along the outline: where they run, how wide and how deep at each station. Their ends are dragged on the drawing. */
const doc = computed(() => open.state!.document)
const bevels = computed(() => doc.value.piece.features.filter((f): f is Bevel => f.kind === 'bevel'))
const carves = computed(() => doc.value.piece.features.filter((f): f is Carve => f.kind === 'carve'))
const channels = computed(() => doc.value.piece.features.filter((f): f is Channel => f.kind === 'channel'))
const ring = computed<Point[]>(() => open.state!.drawing.solids.find((s) => s.kind === 'outline')!.rings[0])
const faces = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const told = (id: string) => findings.value.filter((f) => f.feature === id)
const cut = (id: string) => doc.value.operations.some((o) => o.features.includes(id))
function add(kind: 'arm' | 'belly') {
  const used = new Set(doc.value.piece.features.map((f) => f.id))
  let k = 1
  while (used.has(`${kind}_${k}`)) k += 1
  const xs = ring.value.map((p) => p[0])
  const [x0, long] = [Math.min(...xs), Math.max(...xs) - Math.min(...xs)]
  const [a, b] = kind === 'arm' ? [0.55, 0.92] : [0.3, 0.62]
  const low = Math.min(...ring.value.map((p) => p[1]))
  const item = { kind: 'bevel', id: `${kind}_${k}`, name: kind === 'arm' ? 'Arm bevel' : 'Belly bevel', face: kind === 'arm' ? 'front' : 'back', start: part_near(ring.value, [x0 + a * long, low]), end: part_near(ring.value, [x0 + b * long, low]), blend_mm: 6,
    stations: kind === 'arm' ? [{ at: 0, width_mm: 6, drop_mm: 0 }, { at: 0.5, width_mm: 45, drop_mm: 12 }, { at: 1, width_mm: 6, drop_mm: 0 }] : [{ at: 0, width_mm: 6, drop_mm: 0 }, { at: 0.5, width_mm: 60, drop_mm: 15 }, { at: 1, width_mm: 6, drop_mm: 0 }] }
  void edit([{ do: 'put_item', list: 'features', item }], `Draw ${item.name.toLowerCase()}`)
}
function station(b: Bevel, k: number, key: 'at' | 'width_mm' | 'drop_mm', value: number | null) {
  if (value === null) return
  void set(`piece.features.${b.id}.stations`, b.stations.map((s, i) => (i === k ? { ...s, [key]: value } : s)))
}
function more(b: Bevel) {
  const gaps = b.stations.slice(1).map((s, k) => s.at - b.stations[k].at)
  const k = gaps.indexOf(Math.max(...gaps))
  const [p, q] = [b.stations[k], b.stations[k + 1]]
  const middle = { at: Math.round(50 * (p.at + q.at)) / 100, width_mm: Math.round(5 * (p.width_mm + q.width_mm)) / 10, drop_mm: Math.round(5 * (p.drop_mm + q.drop_mm)) / 10 }
  void set(`piece.features.${b.id}.stations`, [...b.stations.slice(0, k + 1), middle, ...b.stations.slice(k + 1)])
}
function carve() {
  const item = { kind: 'carve', id: 'carve_1', name: 'Carved top', face: 'front', stations: [{ at_mm: 0, drop_mm: 4 }, { at_mm: 7, drop_mm: 5 }, { at_mm: 16, drop_mm: 4 }, { at_mm: 45, drop_mm: 0 }] }
  void edit([{ do: 'put_item', list: 'features', item }], 'Carve the top')
}
/** The first channel is for binding; the next a wider and shallower one inside it, for purfling. */
function ledge() {
  const used = new Set(doc.value.piece.features.map((f) => f.id))
  let k = 1
  while (used.has(`channel_${k}`)) k += 1
  const before = channels.value.at(-1)
  const item = { kind: 'channel', id: `channel_${k}`, name: before ? 'Purfling channel' : 'Binding channel', face: before?.face ?? 'front', width_mm: before ? before.width_mm + 1.5 : 2, depth_mm: before ? 1.6 : 6 }
  void edit([{ do: 'put_item', list: 'features', item }], `Draw ${item.name.toLowerCase()}`)
}
function inward(c: Carve, k: number, key: 'at_mm' | 'drop_mm', value: number | null) {
  if (value !== null) void set(`piece.features.${c.id}.stations`, c.stations.map((s, i) => (i === k ? { ...s, [key]: value } : s)))
}
function one_more(c: Carve) {
  const gaps = c.stations.slice(1).map((s, k) => s.at_mm - c.stations[k].at_mm)
  const k = gaps.indexOf(Math.max(...gaps))
  const [p, q] = [c.stations[k], c.stations[k + 1]]
  void set(`piece.features.${c.id}.stations`, [...c.stations.slice(0, k + 1), { at_mm: Math.round(5 * (p.at_mm + q.at_mm)) / 10, drop_mm: Math.round(5 * (p.drop_mm + q.drop_mm)) / 10 }, ...c.stations.slice(k + 1)])
}
/** The carve in section from the rim inward, as the core draws it; heights four times over lengths. */
function section(c: Carve) {
  const line = open.state?.drawing.solids.find((s) => s.id === c.id)?.profile ?? c.stations.map((s): Point => [s.at_mm, s.drop_mm])
  const x = (mm: number) => 4 + (mm * 368) / Math.max(1, line.at(-1)![0])
  const y = (mm: number) => 10 + mm * 4 * Math.min(1, 12 / Math.max(...c.stations.map((q) => q.drop_mm)))
  return { body: `M${line.map(([at, down]) => `${x(at).toFixed(1)} ${y(down).toFixed(1)}`).join('L')}V74H4Z`, dots: c.stations.map((q) => [x(q.at_mm), y(q.drop_mm)]) }
}
const drop = (b: { id: string; name: string }) => edit([{ do: 'remove_item', list: 'features', id: b.id }], `Remove ${b.name}`)
const angle = (s: { width_mm: number; drop_mm: number }) => ((Math.atan2(s.drop_mm, s.width_mm) * 180) / Math.PI).toFixed(0)
/** The slope in section at a station, face at the top, rim at the left. */
const profile = (s: { width_mm: number; drop_mm: number }) => `M4 ${8 + s.drop_mm * 1.6}L${4 + s.width_mm * 1.6} 8H118V40H4Z`
</script>

<template>
  <section>
    <h2>Contours</h2>
    <p v-if="!bevels.length && !carves.length" class="second">A slope along the rim for the arm, the belly or the neck’s heel: it takes its shape from widths and drops at a few places. A ball bit cuts it.</p>
    <div v-for="b in bevels" :key="b.id" class="bevel">
      <p class="head"><b>{{ b.name }}</b><button class="plain" @click="drop(b)">Remove</button></p>
      <div class="grid"><v-select :model-value="b.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.features.${b.id}.face`, v)" /><EditField :path="`piece.features.${b.id}.blend_mm`" :value="b.blend_mm" label="Blended over" is_length :places="1" /></div>
      <div v-for="(s, k) in b.stations" :key="k" class="station">
        <svg width="122" height="44" viewBox="0 0 122 44" aria-hidden="true"><path :d="profile(s)" fill="#d6a679" stroke="#1d1a17" /></svg>
        <NumberField :model-value="s.width_mm" label="Wide"
          @update:model-value="(mm) => station(b, k, 'width_mm', mm)" />
          <NumberField :model-value="s.drop_mm" label="Drops"
          @update:model-value="(mm) => station(b, k, 'drop_mm', mm)" />
        <span class="second">{{ Math.round(s.at * 100) }} % along, at <input class="angle" type="number" min="0" max="70" step="1" :value="angle(s)" :aria-label="`Angle at ${Math.round(s.at * 100)} percent, degrees`" @change="(e) => station(b, k, 'drop_mm', Math.round(100 * s.width_mm * Math.tan((Math.min(70, Math.max(0, Number((e.target as HTMLInputElement).value))) * Math.PI) / 180)) / 100)" />°</span>
      </div>
      <p class="acts"><button class="plain" @click="more(b)">One station more</button><button v-if="!cut(b.id)" class="cure" @click="edit([{ do: 'propose_for', feature: b.id }], `Cut ${b.name}`)">Add the operations</button></p>
      <p v-for="f in told(b.id)" :key="f.letter" class="care">{{ f.sentence }}</p>
      <p class="least">At most {{ length(Math.max(...b.stations.map((s) => s.drop_mm)), 1) }} deep. Drag its ends and its inner rail on the drawing, or focus one and use the arrows.</p>
    </div>
    <div v-for="c in carves" :key="c.id" class="bevel">
      <p class="head"><b>{{ c.name }}</b><button class="plain" @click="drop(c)">Remove</button></p>
      <svg viewBox="0 0 376 76" width="100%" role="img" :aria-label="`Section from the rim inward: ${c.stations.map((s) => `${length(s.drop_mm, 1)} down at ${length(s.at_mm, 0)}`).join(', ')}`"><path d="M4 10H372" stroke="#1d1a17" stroke-dasharray="4 3" /><path :d="section(c).body" fill="#d6a679" stroke="#1d1a17" /><circle v-for="([cx, cy], k) in section(c).dots" :key="k" :cx="cx" :cy="cy" r="3.2" fill="#1d1a17" /></svg>
      <v-select :model-value="c.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.features.${c.id}.face`, v)" />
      <div v-for="(s, k) in c.stations" :key="k" class="inward">
        <span
        class="second">{{ k === 0 ? 'At the rim' : k === c.stations.length - 1 ? 'Flat from' : 'Further in' }}</span>
        <NumberField v-if="k > 0" :model-value="s.at_mm" label="From the rim"
        @update:model-value="(mm) => inward(c, k, 'at_mm', mm)" /><span v-else />
        <NumberField v-if="k < c.stations.length - 1" :model-value="s.drop_mm" label="Drops"
        @update:model-value="(mm) => inward(c, k, 'drop_mm', mm)" /></div>
      <p class="acts"><button class="plain" @click="one_more(c)">One station more</button><button v-if="!cut(c.id)" class="cure" @click="edit([{ do: 'propose_for', feature: c.id }], `Cut ${c.name}`)">Add the operations</button></p>
      <p v-for="f in told(c.id)" :key="f.letter" class="care">{{ f.sentence }}</p>
      <p class="least">A station lower than its neighbours makes a recurve. Heights are drawn larger than lengths.</p>
    </div>
    <div v-for="c in channels" :key="c.id" class="bevel">
      <p class="head"><b>{{ c.name }}</b><button class="plain" @click="drop(c)">Remove</button></p>
      <svg viewBox="0 0 200 66" width="200" height="66" role="img" :aria-label="`A ledge ${length(c.width_mm, 1)} wide and ${length(c.depth_mm, 1)} deep at the rim`"><path :d="`M${10 + c.width_mm * 6} 8H196V62H10V${8 + c.depth_mm * 6}H${10 + c.width_mm * 6}Z`" fill="#d6a679" stroke="#1d1a17" /><path :d="`M10 ${8 + c.depth_mm * 6}V8H${10 + c.width_mm * 6}`" fill="none" stroke="#1d1a17" stroke-dasharray="4 3" /></svg>
      <div class="three"><v-select :model-value="c.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.features.${c.id}.face`, v)" /><EditField :path="`piece.features.${c.id}.width_mm`" :value="c.width_mm" label="Wide" is_length /><EditField :path="`piece.features.${c.id}.depth_mm`" :value="c.depth_mm" label="Deep" is_length /></div>
      <p v-if="!cut(c.id)" class="acts"><button class="cure" @click="edit([{ do: 'propose_for', feature: c.id }], `Cut ${c.name}`)">Add the operation</button></p>
      <p v-for="f in told(c.id)" :key="f.letter" class="care">{{ f.sentence }}</p>
      <p class="least">Its floor follows the rim as arm bevel or carve leave it. Measure the strip, and leave room for glue.</p>
    </div>
    <p class="acts"><button class="cure" @click="ledge">{{ channels.length ? 'A purfling channel' : 'A binding channel' }}</button><button v-if="!carves.length" class="cure" @click="carve">A carved top</button><button class="cure" @click="add('arm')">An arm bevel</button><button class="cure" @click="add('belly')">A belly bevel</button></p>
    <ReliefPanel />
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
.bevel { border-top: 1px solid var(--rule); padding: 6px 0; }
.head { display: flex; justify-content: space-between; }
.three { display: grid; grid-template-columns: 1.1fr 1fr 1fr; gap: 8px; margin: 6px 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
.station { display: grid; grid-template-columns: 122px 1fr 1fr; gap: 6px 8px; align-items: center; margin: 8px 0; }
.station .second { grid-column: 2 / -1; margin-top: -4px; }
.angle { width: 52px; border: 0; border-bottom: 1px solid var(--edge); background: none; color: inherit; font: inherit; font-weight: 600; text-align: right; min-height: 24px; }
.inward { display: grid; grid-template-columns: 90px 1fr 1fr; gap: 8px; align-items: center; margin: 8px 0; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
