<script setup lang="ts">
import { computed, ref } from 'vue'
import type { DocFeature } from '../api/types'
import EditField from '../fields/EditField.vue'
import NumberField from '../fields/NumberField.vue'
import { edit, open, set } from '../route/store'

/** How deep a drawn shape goes: from its face, by the wood it leaves, as a part needs, or through. */
const props = defineProps<{ feature: DocFeature; leaves: number | null; thickness: number }>()
const path = computed(() => `piece.features.${props.feature.id}`)
const source = computed(() => props.feature.depth_from)
const part = computed(() => open.state!.document.parts.find((p) => p.id === source.value?.part))
const asks = ref(false)
/** Readings a depth may follow: how deep, high or thick something is. */
const readings = computed(() => open.state!.document.parts.flatMap((p) =>
  [...new Set(p.readings.map((r) => r.place))].filter((r) => /depth|height|thickness/.test(r))
    .map((r) => ({ title: `${p.name}: ${r.replaceAll('_', ' ')}`, value: `${p.id}.${r}` }))))
function deep(value: number | null) {
  if (value !== null) void set(`${path.value}.depth_mm`, value)
}
function leave(value: number | null) {
  if (value === null || props.leaves === null || props.feature.depth_mm === null) return
  void set(`${path.value}.depth_mm`, Math.round((props.feature.depth_mm! + props.leaves - value) * 1000) / 1000)
}
function from_reading(value: string) {
  const [id, place] = value.split('.')
  asks.value = false
  void set(`${path.value}.depth_from`, { kind: 'reading', part: id, place, plus_mm: 0 })
}
function through(on: boolean) {
  const edits = [{ do: 'set', path: `${path.value}.depth_mm`, value: on ? null : Math.round(props.thickness / 2) }]
  if (on && source.value) edits.unshift({ do: 'set', path: `${path.value}.depth_from`, value: null } as never)
  void edit(edits, on ? `${props.feature.name} goes through` : `${props.feature.name} has a floor`)
}
const FACES = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const FINISH = [['hidden', 'Hidden'], ['shown', 'Seen'], ['fitted', 'A part fits in'], ['glued', 'Glued'],
  ['free', 'Anyhow']].map(([value, title]) => ({ value, title }))
</script>

<template>
  <div class="depth">
    <template v-if="source">
      <p class="second">As deep as {{ source.kind === 'stack' ? 'the height stack says'
        : `${part?.name ?? 'a part'} reads (${source.place?.replaceAll('_', ' ')})` }}.
        <button class="plain" @click="set(`${path}.depth_from`, null)">Type it instead</button></p>
      <EditField :path="`${path}.depth_from.plus_mm`" :value="source.plus_mm" label="And so much more" is_length
        :places="2" />
    </template>
    <div v-else-if="feature.depth_mm !== null" class="grid">
      <NumberField :model-value="feature.depth_mm ?? null" label="Deep, from its face" :places="2"
        @update:model-value="deep" />
      <NumberField v-if="leaves !== null" :model-value="leaves" label="Wood left under it" :places="2"
        @update:model-value="leave" />
    </div>
    <div class="grid">
      <v-select :model-value="feature.face" :items="FACES" label="Face"
        @update:model-value="(v) => set(`${path}.face`, v)" />
      <v-select v-if="feature.kind === 'pocket'" :model-value="feature.finish_class" :items="FINISH" label="Its walls"
        @update:model-value="(v) => set(`${path}.finish_class`, v)" />
      <v-checkbox :model-value="feature.depth_mm === null" label="Goes through" hide-details
        @update:model-value="(v) => through(!!v)" />
    </div>
    <EditField v-if="feature.kind === 'pocket' && feature.depth_mm !== null && !feature.follows_mm"
      :path="`${path}.tilt_deg`" :value="feature.tilt_deg ?? 0" label="Floor falls toward the nut" suffix="°" />
    <template v-if="feature.kind === 'pocket' && !source && feature.depth_mm !== null && readings.length">
      <button v-if="!asks" class="plain" @click="asks = true">As deep as a part needs</button>
      <v-select v-else :items="readings" label="As deep as" @update:model-value="from_reading" />
    </template>
  </div>
</template>

<style scoped>
.depth { display: flex; flex-direction: column; gap: 8px; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
p { margin: 0; }
</style>
