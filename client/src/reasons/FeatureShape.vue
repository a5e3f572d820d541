<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Operation } from '../api/types'
import NumberLine from '../fields/NumberLine.vue'
import { edit, open, set } from '../route/store'
import { length } from '../units/format'
import NumberField from '../fields/NumberField.vue'

/** What a pocket itself is: how deep, tilted, following the other face, with a ledge round it. */
const props = defineProps<{ operation: Operation }>()
const feature = computed(() => open.state!.document.piece.features.find((x) => x.id === props.operation.features[0]))
const path = computed(() => `piece.features.${feature.value?.id}`)
const hidden = computed(() => ['hidden', 'free'].includes(feature.value?.finish_class ?? ''))
const keep = computed(() => Math.max(1, feature.value?.least_floor_mm ?? 5))
const glued = computed(() => open.state!.document.blank.layers.some((l) => l.glued_before))
const wide = ref(6)
const deep = ref(2.5)
const draws = ref(false)
function ledge() {
  draws.value = false
  void edit([{ do: 'step_down', feature: feature.value!.id, width_mm: wide.value, depth_mm: deep.value }], `A ledge round ${feature.value!.name}`)
}
</script>

<template>
  <div v-if="feature && feature.kind === 'pocket'">
    <NumberLine v-if="feature.depth_mm && !feature.depth_from" :path="`${path}.depth_mm`" :value="feature.depth_mm" :label="feature.follows_mm ? 'At most deep' : 'Feature depth'" is_length />
    <NumberLine v-if="!feature.follows_mm" :path="`${path}.tilt_deg`" :value="feature.tilt_deg ?? 0" label="Floor tilts" suffix="°" why="falls toward the nut; the depth holds at the other end" />
    <template v-if="feature.follows_mm">
      <NumberLine :path="`${path}.follows_mm`" :value="feature.follows_mm" label="Wood kept under it" is_length why="its floor follows the contours of the other face, and stays level over its pockets" />
      <button class="plain" @click="set(`${path}.follows_mm`, null)">Lay the floor level</button>
    </template>
    <button v-else-if="hidden && feature.depth_mm && !feature.tilt_deg" class="plain" @click="set(`${path}.follows_mm`, keep)">Let the floor follow the other face, {{ length(keep, 1) }} away</button>
    <v-checkbox v-if="glued && feature.face !== 'back'" :model-value="feature.covered" label="Lies under the cap, cut before it is glued on" @update:model-value="(v) => edit([{ do: 'cover', feature: feature!.id, covered: !!v }], v ? `${feature!.name} under the cap` : `${feature!.name} through the cap`)" />
    <template v-if="feature.shape?.kind === 'around'">
      <NumberLine :path="`${path}.shape.by_mm`" :value="feature.shape.by_mm" label="Ledge wide" is_length :why="`goes round ${feature.shape.feature.replaceAll('_', ' ')} and follows it`" />
    </template>
    <template v-else-if="draws">
      <div class="two"><NumberField v-model="wide" label="Ledge wide" />
        <NumberField v-model="deep" label="Ledge deep" /></div>
      <button class="cure" @click="ledge">Draw the ledge</button> <button class="plain" @click="draws = false">No</button>
    </template>
    <button v-else class="plain" @click="draws = true">Draw a ledge round it</button>
  </div>
</template>

<style scoped>
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
button { display: inline-block; margin-right: 10px; }
</style>
