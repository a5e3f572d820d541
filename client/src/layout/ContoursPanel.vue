<script setup lang="ts">
import { computed } from 'vue'
import type { Bevel, Point } from '../api/types'
import EditField from '../fields/EditField.vue'
import { edit, findings, open, set } from '../route/store'
import LengthBox from '../start/LengthBox.vue'
import { length } from '../units/format'
import { part_near } from './rim'

/** Slopes along the outline: where they run, how wide and how deep at each station. Their ends are dragged on the drawing. */
const doc = computed(() => open.state!.document)
const bevels = computed(() => doc.value.piece.features.filter((f): f is Bevel => f.kind === 'bevel'))
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
const drop = (b: Bevel) => edit([{ do: 'remove_item', list: 'features', id: b.id }], `Remove ${b.name}`)
const angle = (s: { width_mm: number; drop_mm: number }) => ((Math.atan2(s.drop_mm, s.width_mm) * 180) / Math.PI).toFixed(0)
/** The slope in section at a station, face at the top, rim at the left. */
const profile = (s: { width_mm: number; drop_mm: number }) => `M4 ${8 + s.drop_mm * 1.6}L${4 + s.width_mm * 1.6} 8H118V40H4Z`
</script>

<template>
  <section>
    <h2>Contours</h2>
    <p v-if="!bevels.length" class="second">A slope along the rim for the arm, the belly or the neck’s heel: it takes its shape from widths and drops at a few places. A ball bit cuts it.</p>
    <div v-for="b in bevels" :key="b.id" class="bevel">
      <p class="head"><b>{{ b.name }}</b><button class="plain" @click="drop(b)">Remove</button></p>
      <div class="grid"><v-select :model-value="b.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.features.${b.id}.face`, v)" /><EditField :path="`piece.features.${b.id}.blend_mm`" :value="b.blend_mm" label="Blended over" is_length :places="1" /></div>
      <div v-for="(s, k) in b.stations" :key="k" class="station">
        <svg width="122" height="44" viewBox="0 0 122 44" aria-hidden="true"><path :d="profile(s)" fill="#d6a679" stroke="#1d1a17" /></svg>
        <LengthBox :model-value="s.width_mm" label="Wide" @update:model-value="(mm) => station(b, k, 'width_mm', mm)" /><LengthBox :model-value="s.drop_mm" label="Drops" @update:model-value="(mm) => station(b, k, 'drop_mm', mm)" />
        <span class="second">{{ Math.round(s.at * 100) }} % along, {{ angle(s) }}°</span>
      </div>
      <p class="acts"><button class="plain" @click="more(b)">One station more</button><button v-if="!cut(b.id)" class="cure" @click="edit([{ do: 'propose_for', feature: b.id }], `Cut ${b.name}`)">Add the operations</button></p>
      <p v-for="f in told(b.id)" :key="f.letter" class="care">{{ f.reason }}</p>
      <p class="least">At most {{ length(Math.max(...b.stations.map((s) => s.drop_mm)), 1) }} deep. Drag its ends on the drawing, or focus one and use the arrows.</p>
    </div>
    <p class="acts"><button class="cure" @click="add('arm')">An arm bevel</button><button class="cure" @click="add('belly')">A belly bevel</button></p>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
.bevel { border-top: 1px solid var(--rule); padding: 6px 0; }
.head { display: flex; justify-content: space-between; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
.station { display: grid; grid-template-columns: 122px 1fr 1fr; gap: 6px 8px; align-items: center; margin: 8px 0; }
.station .second { grid-column: 2 / -1; margin-top: -4px; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
