<script setup lang="ts">
import { computed } from 'vue'
import type { Carve, ContourRead, Point } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open, set } from '../route/store'
import { length } from '../units/format'
import ContourFoot from './ContourFoot.vue'
import { FACES, between, edge_words } from './stations'

/** A carved face in section from the rim inward; its stations are typed. */
const props = defineProps<{ carve: Carve; read: ContourRead | null }>()
const path = computed(() => `piece.features.${props.carve.id}`)
function put(k: number, key: 'at_mm' | 'drop_mm', value: number | null) {
  if (value === null) return
  void set(`${path.value}.stations`, props.carve.stations.map((s, i) => (i === k ? { ...s, [key]: value } : s)))
}
const more = () => set(`${path.value}.stations`, between(props.carve.stations, 'at_mm', ['drop_mm'], 10))
/** As the core draws it; heights four times over lengths. */
const section = computed(() => {
  const drawn = open.state?.drawing.solids.find((s) => s.id === props.carve.id)?.profile
  const line = drawn ?? props.carve.stations.map((s): Point => [s.at_mm, s.drop_mm])
  const deepest = Math.max(...props.carve.stations.map((q) => q.drop_mm))
  const x = (mm: number) => 4 + (mm * 368) / Math.max(1, line.at(-1)![0])
  const y = (mm: number) => 10 + mm * 4 * Math.min(1, 12 / deepest)
  const along = line.map(([at, down]) => `${x(at).toFixed(1)} ${y(down).toFixed(1)}`).join('L')
  return { body: `M${along}V74H4Z`, dots: props.carve.stations.map((q) => [x(q.at_mm), y(q.drop_mm)]) }
})
const words = computed(() => `Section from the rim inward: ${
  props.carve.stations.map((s) => `${length(s.drop_mm, 1)} down at ${length(s.at_mm, 0)}`).join(', ')}`)
const last = computed(() => props.carve.stations.length - 1)
const where = (k: number) => (k === 0 ? 'At the rim' : k === last.value ? 'Flat from' : 'Further in')
</script>

<template>
  <div class="contour">
    <p class="head"><b>{{ carve.name }}</b>
      <button class="plain" @click="edit([{ do: 'remove_item', list: 'features', id: carve.id }],
        `Remove ${carve.name}`)">Remove</button></p>
    <svg viewBox="0 0 376 76" width="100%" role="img" :aria-label="words">
      <path d="M4 10H372" stroke="#1d1a17" stroke-dasharray="4 3" />
      <path :d="section.body" fill="#d6a679" stroke="#1d1a17" />
      <circle v-for="([cx, cy], k) in section.dots" :key="k" :cx="cx" :cy="cy" r="3.2" fill="#1d1a17" />
    </svg>
    <v-select :model-value="carve.face" :items="FACES" label="Face"
        @update:model-value="(v) => set(`${path}.face`, v)" />
    <div v-for="(s, k) in carve.stations" :key="k" class="inward">
      <span class="second">{{ where(k) }}</span>
      <NumberField v-if="k > 0" :model-value="s.at_mm" label="From the rim"
        @update:model-value="(mm) => put(k, 'at_mm', mm)" /><span v-else />
      <NumberField v-if="k < carve.stations.length - 1" :model-value="s.drop_mm" label="Drops"
        @update:model-value="(mm) => put(k, 'drop_mm', mm)" />
    </div>
    <p v-if="read" class="second">At the rim: {{ edge_words(read.stations[0]) }}</p>
    <ContourFoot :of="carve" @more="more" />
    <p class="least">A station lower than its neighbours makes a recurve. Heights are drawn larger than lengths.</p>
  </div>
</template>

<style scoped>
.inward { display: grid; grid-template-columns: 90px 1fr 1fr; gap: 8px; align-items: center; margin: 8px 0; }
</style>
