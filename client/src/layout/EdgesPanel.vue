<script setup lang="ts">
import { computed } from 'vue'
import type { Edge, Layout } from '../api/types'
import EditField from '../fields/EditField.vue'
import { edit, findings, open, set } from '../route/store'
import { length } from '../units/format'

/** What becomes of every rim, and where it has to stay sharp. */
const props = defineProps<{ layout: Layout }>()
const doc = computed(() => open.state!.document)
const edges = computed(() => doc.value.piece.edges)
const rims = computed(() => doc.value.piece.features.filter((f) => f.kind !== 'hole').map((f) => ({ title: f.name, value: f.id })))
const kinds = [{ title: 'Sharp', value: 'sharp' }, { title: 'Broken', value: 'broken' }, { title: 'Rounded', value: 'round' }, { title: 'Bevelled', value: 'bevel' }]
const faces = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const plan = (e: Edge) => props.layout.edges.find((p) => p.edge === e.id)
const name = (id: string) => doc.value.piece.features.find((f) => f.id === id)?.name ?? id
const told = computed(() => findings.value.filter((f) => f.code.startsWith('edge.')))
function add() {
  const used = new Set(edges.value.map((e) => e.id))
  let k = 1
  while (used.has(`edge_${k}`)) k += 1
  const outline = doc.value.piece.features.find((f) => f.kind === 'outline')!.id
  const has_front = edges.value.some((e) => e.feature === outline && e.face === 'front')
  void edit([{ do: 'put_item', list: 'edges', item: { id: `edge_${k}`, feature: outline, face: has_front ? 'back' : 'front', kind: 'round', size_mm: 6 } }], 'Add an edge')
}
const drop = (e: Edge) => edit([{ do: 'remove_item', list: 'edges', id: e.id }], 'Remove an edge')
const runs = (e: Edge) => plan(e)?.stretches.filter((s) => s.why) ?? []
</script>

<template>
  <section>
    <h2>Edges</h2>
    <p v-if="!edges.length" class="word">Every rim is sharp as it leaves the machine. Say what becomes of one, and where it must stay sharp is found from the joint and the plates.</p>
    <div v-for="e in edges" :key="e.id" class="edge">
      <div class="grid">
        <v-select :model-value="e.feature" :items="rims" label="Rim of" @update:model-value="(v) => set(`piece.edges.${e.id}.feature`, v)" /><v-select :model-value="e.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.edges.${e.id}.face`, v)" />
        <v-select :model-value="e.kind" :items="kinds" label="Becomes" @update:model-value="(v) => set(`piece.edges.${e.id}.kind`, v)" />
        <EditField v-if="e.kind !== 'sharp'" :path="`piece.edges.${e.id}.size_mm`" :value="e.size_mm" :label="e.kind === 'round' ? 'Radius' : 'Goes in'" is_length :places="1" />
        <EditField v-if="e.kind === 'bevel'" :path="`piece.edges.${e.id}.angle_deg`" :value="e.angle_deg" label="Down from the face" suffix="°" />
      </div>
      <template v-if="plan(e) && e.kind !== 'sharp'">
        <p>{{ length(plan(e)!.inward_mm, 1) }} in and {{ length(plan(e)!.down_mm, 1) }} down, over {{ length(plan(e)!.length_mm - plan(e)!.sharp_mm, 0) }} of {{ length(plan(e)!.length_mm, 0) }}.</p>
        <p v-for="(s, k) in runs(e).slice(0, 6)" :key="k" class="sharp">{{ s.why.startsWith('taken') ? 'not made for' : 'stays sharp for' }} <b>{{ length(Math.abs(s.to_mm - s.from_mm) > plan(e)!.length_mm / 2 ? plan(e)!.length_mm - Math.abs(s.to_mm - s.from_mm) : Math.abs(s.to_mm - s.from_mm), 0) }}</b>, {{ s.why }}</p>
        <p v-if="plan(e)!.land_mm !== null" :class="{ care: plan(e)!.land_mm! < plan(e)!.bearing_mm }">{{ length(plan(e)!.land_mm, 1) }} of the side stays flat for a bearing; {{ length(plan(e)!.bearing_mm, 1) }} is wanted.</p>
      </template>
      <v-checkbox v-if="e.kind !== 'sharp'" :model-value="e.machined" label="Cut by the machine" @update:model-value="(v) => edit([{ do: 'machine_edge', edge: e.id, by_machine: !!v }], v ? 'An edge by machine' : 'An edge at the bench')" />
      <button class="plain" :aria-label="`Remove the edge of ${name(e.feature)}, ${e.face}`" @click="drop(e)">Remove</button>
    </div>
    <button class="cure" @click="add">Say what becomes of an edge</button>
    <div v-for="f in told" :key="f.letter" class="care"><p>{{ f.sentence }}</p>
      <button v-for="c in f.cures" :key="c.sentence" class="cure lead"
      @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div>
    <p v-if="edges.length" class="least">Red on the drawing: where a hand-held bit must be lifted off, or the edge masked. Squares and plates sit on sharp edges.</p>
  </section>
</template>

<style scoped>
.edge { border-top: 1px solid var(--rule); padding: 8px 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
p { margin: 4px 0; }
.sharp { padding-left: 10px; border-left: 4px solid #a5301a; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; margin: 6px 0; }
</style>
