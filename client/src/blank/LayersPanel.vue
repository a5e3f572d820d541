<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { Layer, Shop } from '../api/types'
import EditField from '../fields/EditField.vue'
import { edit, open, set } from '../route/store'
import { length } from '../units/format'

/** Layers of the blank from the front face to the back: cap, veneers, core. */
const shop = ref<Shop | null>(null)
onMounted(async () => { shop.value = await api.shop() })
const blank = computed(() => open.state!.document.blank)
const woods = computed(() => (shop.value?.woods ?? []).map((w) => ({ title: `${w.name}, ${w.density_kg_m3}`, value: w.id })))
const kinds = [{ title: 'Cap', value: 'cap' }, { title: 'Veneer', value: 'veneer' }, { title: 'Core', value: 'core' }, { title: 'Board', value: 'board' }]
const total = computed(() => blank.value.layers.reduce((s, l) => s + l.thickness_mm, 0))
const hue = (l: Layer, k: number) => (l.kind === 'core' ? '#d6a679' : ['#b98d63', '#8a5f3a', '#ecd9bd'][k % 3])
function add() {
  const b = blank.value
  const rest = Math.round((b.thickness_mm - 6) * 100) / 100
  const used = new Set(b.layers.map((l) => l.id))
  let k = 1
  while (used.has(`cap${k}`)) k += 1
  void (b.layers.length ? edit([{ do: 'put_item', list: 'layers', item: { id: `cap${k}`, kind: 'veneer', wood: b.wood, thickness_mm: 0.6 } }], 'Add a layer')
    : set('blank.layers', [{ id: 'cap', kind: 'cap', wood: b.wood, thickness_mm: 6 }, { id: 'core', kind: 'core', wood: b.wood, thickness_mm: rest }]))
}
/** The lowest cap or veneer over the core: it and all above it can go on after the core was worked. */
const cap = computed(() => { const at = blank.value.layers.findIndex((l) => !['cap', 'veneer'].includes(l.kind)); return at > 0 ? blank.value.layers[at - 1] : null })
const between = computed(() => blank.value.layers.some((l) => l.glued_before))
const core = computed(() => open.state!.document.setups[0])
const drop = (l: Layer) => edit([{ do: 'remove_item', list: 'layers', id: l.id }], 'Take a layer away')
</script>

<template>
  <section><h2>Layers</h2>
    <p v-if="!blank.layers.length" class="second">One wood all through.</p>
    <svg v-else :viewBox="`0 0 360 ${Math.min(90, total * 1.6) + 4}`" role="img"
      :aria-label="`${blank.layers.length} layers, ${length(total, 1)} together`">
      <rect v-for="(l, k) in blank.layers" :key="l.id" x="1"
      :y="1 + (blank.layers.slice(0, k).reduce((s, x) => s + x.thickness_mm, 0) / total) * Math.min(90, total * 1.6)"
      width="358" :height="(l.thickness_mm / total) * Math.min(90, total * 1.6)" :fill="hue(l, k)" stroke="#1d1a17" />
      </svg>
    <div v-for="l in blank.layers" :key="l.id" class="layer">
      <v-select :model-value="l.kind" :items="kinds" label="Layer" @update:model-value="(v) => set(`blank.layers.${l.id}.kind`, v)" /><v-select :model-value="l.wood" :items="woods" label="Wood" @update:model-value="(v) => set(`blank.layers.${l.id}.wood`, v)" />
      <EditField :path="`blank.layers.${l.id}.thickness_mm`" :value="l.thickness_mm" label="Thick" is_length :places="1" /><EditField :path="`blank.layers.${l.id}.grain_deg`" :value="l.grain_deg" label="Grain runs" suffix="°" />
      <button class="plain" :aria-label="`Take layer ${l.id} away`" @click="drop(l)">✕</button>
    </div>
    <p v-if="blank.layers.length" :class="{ care: Math.abs(total - blank.thickness_mm) > 0.2 }">Together {{ length(total, 1) }}; the blank is {{ length(blank.thickness_mm, 1) }} thick. The hardest layer a bit meets decides its settings.</p>
    <template v-if="cap">
      <div class="when" role="radiogroup" aria-label="When the cap is glued on">
        <button role="radio" :aria-checked="!between" :class="{ on: !between }" @click="between && edit([{ do: 'glue_between', layer: cap.id, between: false }], 'Glue the cap on before everything')">Glued on before everything</button>
        <button role="radio" :aria-checked="between" :class="{ on: between }" @click="between || edit([{ do: 'glue_between', layer: cap.id }], 'Glue the cap on after the core is cut')">After the core is cut</button>
      </div>
      <p v-if="between" class="second">{{ core.name }} comes first: chambers are cut into the bare core there, then the cap goes on and hides them. Edges, and no hole drilled before, find X and Y again. Draw chambers under Lay out, Weight.</p>
    </template>
    <button class="cure" @click="add">{{ blank.layers.length ? 'Add a layer' : 'It has a cap' }}</button>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
svg { width: 100%; }
p { margin: 0; }
.layer { display: grid; grid-template-columns: 1fr 1fr 1fr 1fr 24px; gap: 6px; align-items: center; }
.layer > :nth-child(2) { min-width: 0; }
@media (min-width: 0) { .layer { grid-template-columns: 1fr 1.3fr 24px; } .layer > :nth-child(5) { grid-row: 1; grid-column: 3; } }
.when { display: grid; grid-template-columns: 1fr 1fr; border: 1px solid var(--edge); }
.when button { min-height: 32px; padding: 4px 8px; }
.when .on { background: var(--ink); color: var(--bark); font-weight: 700; }
.cure { align-self: flex-start; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
