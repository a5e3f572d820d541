<script setup lang="ts">
import { computed } from 'vue'
import type { Channel } from '../api/types'
import EditField from '../fields/EditField.vue'
import { edit, set } from '../route/store'
import { length } from '../units/format'
import ContourFoot from './ContourFoot.vue'
import { FACES } from './stations'

/** A ledge along the outline for binding or purfling. */
const props = defineProps<{ channel: Channel }>()
const path = computed(() => `piece.features.${props.channel.id}`)
const drawn = computed(() => {
  const [wide, deep] = [10 + props.channel.width_mm * 6, 8 + props.channel.depth_mm * 6]
  return { wood: `M${wide} 8H196V62H10V${deep}H${wide}Z`, taken: `M10 ${deep}V8H${wide}` }
})
const words = computed(() =>
  `A ledge ${length(props.channel.width_mm, 1)} wide and ${length(props.channel.depth_mm, 1)} deep at the rim`)
</script>

<template>
  <div class="contour">
    <p class="head"><b>{{ channel.name }}</b>
      <button class="plain" @click="edit([{ do: 'remove_item', list: 'features', id: channel.id }],
        `Remove ${channel.name}`)">Remove</button></p>
    <svg viewBox="0 0 200 66" width="200" height="66" role="img" :aria-label="words">
      <path :d="drawn.wood" fill="#d6a679" stroke="#1d1a17" />
      <path :d="drawn.taken" fill="none" stroke="#1d1a17" stroke-dasharray="4 3" />
    </svg>
    <div class="three">
      <v-select :model-value="channel.face" :items="FACES" label="Face"
        @update:model-value="(v) => set(`${path}.face`, v)" />
      <EditField :path="`${path}.width_mm`" :value="channel.width_mm" label="Wide" is_length />
      <EditField :path="`${path}.depth_mm`" :value="channel.depth_mm" label="Deep" is_length />
    </div>
    <ContourFoot :of="channel" />
    <p class="least">Its floor follows the rim as arm bevel or carve leave it. Measure the strip, and leave room for
      glue.</p>
  </div>
</template>

<style scoped>
.three { display: grid; grid-template-columns: 1.1fr 1fr 1fr; gap: 8px; margin: 6px 0; }
</style>
