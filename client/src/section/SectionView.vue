<script setup lang="ts">
import { computed } from 'vue'
import { open, wood } from '../route/store'
import { length } from '../units/format'
import { height_in, lies_in, setup_of } from '../wood/lies'
import { cut_at } from './section'

const props = defineProps<{ step: number; y_mm: number; scale: number; width: number; changed?: number; bit_at?: { x: number; z: number } | null }>()
const blank = computed(() => open.state!.document.blank)
const up = 26
const lies = computed(() => lies_in(blank.value, setup_of(open.state!.document, props.step)))
/** x and z of the setup's frame. */
const sx = (x: number) => (x - lies.value.corner[0]) * props.scale
const sz = (z: number) => up + (lies.value.top_mm - z) * props.scale
const bed = computed(() => sz(lies.value.turned ? blank.value.skim_back_mm - blank.value.thickness_mm : blank.value.skim_mm - blank.value.thickness_mm))
const outline = computed(() => {
  const xs = (open.state?.drawing.solids.find((s) => s.kind === 'outline')?.rings[0] ?? []).map((p) => p[0] * lies.value.signs[0])
  return [Math.min(...xs) + 1, Math.max(...xs) - 1] as [number, number]
})
const cut = computed(() => (props.changed !== -1 && wood.value ? cut_at(wood.value, props.step, props.y_mm * lies.value.signs[1], sx, sz, outline.value) : null))
const operation = computed(() => open.state?.document.operations[props.step - 1])
const bit = computed(() => open.state?.document.bits.find((b) => b.id === operation.value?.bit))
const outline_xs = computed(() => (open.state?.drawing.solids.find((s) => s.kind === 'outline')?.rings[0] ?? [[blank.value.x_mm, 0]]).map((p) => p[0] * lies.value.signs[0]))
const edge_mm = computed(() => open.state?.document.piece.edges.find((e) => e.id === operation.value?.edge)?.size_mm ?? 0)
const bit_x = computed(() => {
  if (props.bit_at) return props.bit_at.x
  const solid = open.state?.drawing.solids.find((s) => s.id === operation.value?.features[0])
  if (operation.value?.kind === 'edge') return Math.min(...outline_xs.value) - 2
  const xs = (solid?.rings[0] ?? [[blank.value.x_mm + 30, 0]]).map((p) => p[0] * lies.value.signs[0])
  return solid?.kind === 'outline' ? Math.min(...xs) - (bit.value?.diameter_mm ?? 0) / 2 : (Math.min(...xs) + Math.max(...xs)) / 2
})
const bit_z = computed(() => {
  if (props.bit_at) return props.bit_at.z
  const solid = open.state?.drawing.solids.find((s) => s.id === operation.value?.features[0])
  if (operation.value?.kind === 'edge') return lies.value.top_mm - (lies.value.turned ? blank.value.skim_back_mm : blank.value.skim_mm) - edge_mm.value
  return operation.value?.kind === 'face' ? 0 : solid && solid.floor_mm !== null ? height_in(lies.value, solid.floor_mm) : lies.value.top_mm - blank.value.thickness_mm
})
const side = computed(() => (Math.abs(props.y_mm) < 0.05 ? 'on the centre line' : `${length(Math.abs(props.y_mm), 0)} ${props.y_mm > 0 ? 'treble' : 'bass'} side`))
</script>

<template>
  <div class="section">
    <div class="said"><b>Section</b> <span class="second">{{ side }}{{ lies.turned ? ', back face up' : '' }}</span><span class="gap" /><template v-if="cut?.thinnest"><b class="thin">{{ length(cut.thinnest.left_mm, 1) }}</b> <span class="second">thinnest here</span></template></div>
    <svg :width="width" :height="bed + 16" role="img" :aria-label="`Section ${side}`">
      <clipPath id="above"><rect x="-20" y="0" :width="width + 40" :height="bed + 20" /></clipPath>
      <g clip-path="url(#above)"><g v-if="bit && cut" :transform="`translate(${sx(bit_x)} ${sz(bit_z)})`" opacity=".95">
        <rect :x="-(bit.diameter_mm / 2) * scale" :y="-bit.cutting_length_mm * scale" :width="bit.diameter_mm * scale" :height="bit.cutting_length_mm * scale" fill="var(--edge)" opacity=".4" />
        <rect :x="-(bit.shank_diameter_mm / 2) * scale" :y="-bit.stickout_mm * scale" :width="bit.shank_diameter_mm * scale" :height="(bit.stickout_mm - bit.cutting_length_mm) * scale" fill="var(--edge)" />
        <rect :x="-15 * scale" :y="-bit.stickout_mm * scale - 8" :width="30 * scale" height="8" fill="var(--ink3)" />
      </g></g>
      <template v-if="cut">
        <path :d="cut.to_go" fill="#ecd9bd" stroke="#1d1a17" stroke-width="1" stroke-dasharray="4 3" />
        <path :d="cut.now" fill="#d6a679" stroke="#1d1a17" stroke-width="1.2" />
        <path v-if="cut.hollow" :d="cut.hollow" fill="var(--paper)" stroke="#1d1a17" stroke-width="1" />
        <g v-if="cut.thinnest"><circle :cx="sx(cut.thinnest.x_mm)" :cy="sz(cut.thinnest.z_mm)" r="7" fill="none" stroke="var(--ink)" stroke-width="1.3" /></g>
      </template>
      <line x1="-8" :x2="width + 8" :y1="bed" :y2="bed" stroke="var(--ink)" stroke-width="1.4" />
      <path :d="Array.from({ length: Math.ceil(width / 7) }, (_, k) => `M${k * 7} ${bed + 6}l5 -5`).join('')" stroke="var(--edge)" stroke-width=".8" />
    </svg>
    <div class="said second"><span>Pale wood is still to go. Same scale up as along.</span><span class="gap" /><span>waste board</span></div>
  </div>
</template>

<style scoped>
.said { display: flex; gap: 8px; align-items: baseline; }
.gap { flex: 1; }
.thin { font-size: 18px; }
svg { display: block; overflow: visible; }
</style>
