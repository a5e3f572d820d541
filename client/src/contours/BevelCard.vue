<script setup lang="ts">
import { computed } from 'vue'
import type { Bevel, ContourRead } from '../api/types'
import EditField from '../fields/EditField.vue'
import NumberField from '../fields/NumberField.vue'
import { edit, set } from '../route/store'
import { length } from '../units/format'
import ContourFoot from './ContourFoot.vue'
import { FACES, between, edge_words } from './stations'

/** A slope along the outline: how wide it is and how far it drops at each station, and what it leaves of the edge. */
const props = defineProps<{ bevel: Bevel; read: ContourRead | null }>()
const path = computed(() => `piece.features.${props.bevel.id}`)
type Key = 'at' | 'width_mm' | 'drop_mm'
function put(k: number, key: Key, value: number | null) {
  if (value === null) return
  void set(`${path.value}.stations`, props.bevel.stations.map((s, i) => (i === k ? { ...s, [key]: value } : s)))
}
const more = () => set(`${path.value}.stations`, between(props.bevel.stations, 'at', ['width_mm', 'drop_mm'], 100))
function less(k: number) {
  void set(`${path.value}.stations`, props.bevel.stations.filter((_, i) => i !== k))
}
type Station = Bevel['stations'][number]
const angle = (s: Station) => ((Math.atan2(s.drop_mm, s.width_mm) * 180) / Math.PI).toFixed(0)
function turned(k: number, event: Event) {
  const degrees = Math.min(70, Math.max(0, Number((event.target as HTMLInputElement).value)))
  const drop = props.bevel.stations[k].width_mm * Math.tan((degrees * Math.PI) / 180)
  put(k, 'drop_mm', Math.round(100 * drop) / 100)
}
/** The slope in section at a station, face at the top, rim at the left. */
const profile = (s: Station) => `M4 ${8 + s.drop_mm * 1.6}L${4 + s.width_mm * 1.6} 8H118V40H4Z`
const deepest = computed(() => Math.max(...props.bevel.stations.map((s) => s.drop_mm)))
</script>

<template>
  <div class="contour">
    <p class="head"><b>{{ bevel.name }}</b>
      <button class="plain" @click="edit([{ do: 'remove_item', list: 'features', id: bevel.id }],
        `Remove ${bevel.name}`)">Remove</button></p>
    <div class="grid">
      <v-select :model-value="bevel.face" :items="FACES" label="Face"
        @update:model-value="(v) => set(`${path}.face`, v)" />
      <EditField :path="`${path}.blend_mm`" :value="bevel.blend_mm" label="Blended over" is_length :places="1" />
    </div>
    <div v-for="(s, k) in bevel.stations" :key="k" class="station">
      <svg width="122" height="44" viewBox="0 0 122 44" aria-hidden="true">
        <path :d="profile(s)" fill="#d6a679" stroke="#1d1a17" />
      </svg>
      <NumberField :model-value="s.width_mm" label="Wide" @update:model-value="(mm) => put(k, 'width_mm', mm)" />
      <NumberField :model-value="s.drop_mm" label="Drops" @update:model-value="(mm) => put(k, 'drop_mm', mm)" />
      <span class="second">{{ Math.round(s.at * 100) }} % along, at
        <input class="angle" type="number" min="0" max="70" step="1" :value="angle(s)"
          :aria-label="`Angle at ${Math.round(s.at * 100)} percent, degrees`" @change="turned(k, $event)">°
        <button v-if="bevel.stations.length > 2" class="plain less" :aria-label="`Take the station at ${
          Math.round(s.at * 100)} percent away`" @click="less(k)">remove</button>
        <br v-if="read">{{ edge_words(read?.stations[k]) }}</span>
    </div>
    <ContourFoot :of="bevel" @more="more" />
    <p class="least">At most {{ length(deepest, 1) }} deep. Drag its ends and its inner rail on the drawing, or focus
      one and use the arrows.</p>
  </div>
</template>

<style scoped>
.station { display: grid; grid-template-columns: 122px 1fr 1fr; gap: 6px 8px; align-items: center; margin: 8px 0; }
.station .second { grid-column: 2 / -1; margin-top: -4px; }
.less { margin-left: 10px; }
.angle {
  width: 52px; border: 0; border-bottom: 1px solid var(--edge); background: none; color: inherit; font: inherit;
  font-weight: 600; text-align: right; min-height: 24px;
}
</style>
