<script setup lang="ts">
import { computed } from 'vue'
import type { RackRow } from '../api/types'
import { shape } from './draw'

/** The rack: every bit hangs from its shank at one scale, tip down; a bit near the end of its life hangs over an amber line. */
const props = defineProps<{ rows: RackRow[]; chosen: string; in_route: string[] }>()
const emit = defineEmits<{ choose: [id: string] }>()
const scale = computed(() => 150 / Math.max(50, ...props.rows.map((r) => r.bit.stickout_mm)))
const wide = (r: RackRow) => Math.max(58, r.bit.diameter_mm * scale.value + 18)
</script>

<template>
  <div class="rack" role="listbox" aria-label="Bits on the rack">
    <button v-for="r in rows" :key="r.bit.id" role="option" :aria-selected="r.bit.id === chosen" :class="{ here: r.bit.id === chosen, gone: r.state !== 'on_hand' }" :style="{ width: `${wide(r)}px` }" @click="emit('choose', r.bit.id)">
      <svg :width="wide(r)" height="172" :viewBox="`${-wide(r) / 2} -14 ${wide(r)} 172`" aria-hidden="true">
        <rect :x="-wide(r) / 2" y="-14" :width="wide(r)" height="9" fill="#8a7f70" />
        <g :transform="`translate(0 ${r.bit.stickout_mm * scale - 5})`">
          <rect :x="-(r.bit.shank_diameter_mm / 2) * scale" :y="-r.bit.stickout_mm * scale" :width="r.bit.shank_diameter_mm * scale" :height="(r.bit.stickout_mm - r.bit.cutting_length_mm) * scale + 0.5" fill="#a39a8c" />
          <path :d="shape(r.bit, scale)" fill="#3a3530" stroke="var(--edge)" stroke-width=".8" />
          <path v-for="k in 3" :key="k" :d="`M${-(r.bit.diameter_mm / 2) * scale} ${-r.bit.cutting_length_mm * scale * (k / 4) + 5}L${(r.bit.diameter_mm / 2) * scale} ${-r.bit.cutting_length_mm * scale * (k / 4) - 5}`" stroke="#fbf9f5" stroke-width=".8" />
        </g>
        <path v-if="r.life.is_low" :d="`M${-wide(r) / 2 + 4} 155H${wide(r) / 2 - 4}`" stroke="#b9770a" stroke-width="4" />
      </svg>
      <span>{{ r.bit.name }}</span><span v-if="in_route.includes(r.bit.id)" class="dot" title="In this route">in this route</span>
    </button>
  </div>
</template>

<style scoped>
.rack { display: flex; overflow-x: auto; align-items: flex-start; padding-bottom: 4px; }
button { display: flex; flex-direction: column; align-items: center; text-align: center; flex: none; padding: 0 0 4px; font-size: 13px; line-height: 1.2; }
.here { background: var(--bark); font-weight: 650; }
.gone svg { opacity: .4; }
.gone span { color: var(--ink3); }
.dot { color: var(--ink3); font-size: 12px; font-weight: 400; }
</style>
