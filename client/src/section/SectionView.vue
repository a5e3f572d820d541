<script setup lang="ts">
import { computed } from 'vue'
import type { Point } from '../api/types'
import { open, wood } from '../route/store'
import { length, value_typed } from '../units/format'
import { height_in, lies_in, setup_of } from '../wood/lies'
import { along, folded, inside_ring, run_of, type SectionLine } from './line'
import { cut_at } from './section'

const props = defineProps<{ step: number; line: SectionLine; scale: number; width: number; changed?: number; bit_at?: { x: number; y: number; z: number } | null }>()
const WAYS: [number, string][] = [[0, 'Along'], [90, 'Across']]
const emit = defineEmits<{ turn: [deg: number] }>()
const blank = computed(() => open.state!.document.blank)
const up = 26
const lies = computed(() => lies_in(blank.value, setup_of(open.state!.document, props.step)))
const run = computed(() => run_of(props.line, blank.value, lies.value))
/** Drawn at the plan's scale; a line longer than the blank makes it smaller, up and along alike. */
const scale = computed(() => Math.min(props.scale, props.width / (run.value.long_mm || 1)))
const drawn = computed(() => run.value.long_mm * scale.value)
/** mm along the line, and z of the setup's frame. */
const sx = (s: number) => s * scale.value
const sz = (z: number) => up + (lies.value.top_mm - z) * scale.value
const bed = computed(() => sz(lies.value.turned ? blank.value.skim_back_mm - blank.value.thickness_mm : blank.value.skim_mm - blank.value.thickness_mm))
/** A ring of the piece in the setup's frame. */
const lying = (ring: Point[] | undefined): Point[] => (ring ?? []).map(([x, y]) => [x * lies.value.signs[0], y * lies.value.signs[1]])
const outline = computed(() => lying(open.state?.drawing.solids.find((s) => s.kind === 'outline')?.rings[0]))
const within = computed(() => inside_ring(run.value, outline.value))
const cut = computed(() => (props.changed !== -1 && wood.value ? cut_at(wood.value, props.step, run.value, sx, sz, within.value) : null))
const operation = computed(() => open.state?.document.operations[props.step - 1])
const bit = computed(() => open.state?.document.bits.find((b) => b.id === operation.value?.bit))
const edge_mm = computed(() => open.state?.document.piece.edges.find((e) => e.id === operation.value?.edge)?.size_mm ?? 0)
/** Where the bit is drawn along the line: where it is, or in the middle of what it makes; null where the line does not pass there. */
const bit_s = computed(() => {
  if (props.bit_at) return along(run.value, [props.bit_at.x, props.bit_at.y])
  if (operation.value?.kind === 'face') return 30
  const solid = open.state?.drawing.solids.find((s) => s.id === operation.value?.features[0])
  const outer = operation.value?.kind === 'edge' || solid?.kind === 'outline'
  const met = outer ? within.value : inside_ring(run.value, lying(solid?.rings[0]))
  if (!met.length) return null
  return outer ? met[0][0] - (operation.value?.kind === 'edge' ? 2 : (bit.value?.diameter_mm ?? 0) / 2) : (met[0][0] + met[0][1]) / 2
})
const bit_z = computed(() => {
  if (props.bit_at) return props.bit_at.z
  const solid = open.state?.drawing.solids.find((s) => s.id === operation.value?.features[0])
  if (operation.value?.kind === 'edge') return lies.value.top_mm - (lies.value.turned ? blank.value.skim_back_mm : blank.value.skim_mm) - edge_mm.value
  return operation.value?.kind === 'face' ? 0 : solid && solid.floor_mm !== null ? height_in(lies.value, solid.floor_mm) : lies.value.top_mm - blank.value.thickness_mm
})
const signed = (mm: number) => `${mm < -0.05 ? '−' : ''}${length(Math.abs(mm), 0)}`
const side = computed(() => {
  const { at, turn_deg } = props.line
  if (Math.abs(turn_deg) < 0.05) return Math.abs(at[1]) < 0.05 ? 'on the centre line' : `${length(Math.abs(at[1]), 0)} ${at[1] > 0 ? 'treble' : 'bass'} side`
  const left = run.value.from[1] * lies.value.signs[1] < run.value.to[1] * lies.value.signs[1] ? 'bass' : 'treble'
  return `${turn_deg > 89.95 ? `across at ${signed(at[0])}` : `through ${signed(at[0])}, ${signed(at[1])}`}, ${left} side left`
})
const typed = (event: Event) => {
  const box = event.target as HTMLInputElement
  const deg = value_typed(box.value.replace('°', ''))
  if (deg !== null) emit('turn', folded(deg))
  else box.value = String(props.line.turn_deg).replace('-', '−')
}
</script>

<template>
  <div class="section">
    <div class="said"><b>Section</b> <span class="second">{{ side }}{{ lies.turned ? ', back up' : '' }}</span><span class="gap" /><template v-if="cut?.thinnest"><b class="thin">{{ length(cut.thinnest.left_mm, 1) }}</b> <span class="second">thinnest here</span></template></div>
    <svg :width="drawn" :height="bed + 16" role="img" :aria-label="`Section ${side}`">
      <clipPath id="above"><rect x="-20" y="0" :width="drawn + 40" :height="bed + 20" /></clipPath>
      <g clip-path="url(#above)"><g v-if="bit && cut && bit_s !== null" :transform="`translate(${sx(bit_s)} ${sz(bit_z)})`" opacity=".95">
        <rect :x="-(bit.diameter_mm / 2) * scale" :y="-bit.cutting_length_mm * scale" :width="bit.diameter_mm * scale" :height="bit.cutting_length_mm * scale" fill="var(--edge)" opacity=".4" />
        <rect :x="-(bit.shank_diameter_mm / 2) * scale" :y="-bit.stickout_mm * scale" :width="bit.shank_diameter_mm * scale" :height="(bit.stickout_mm - bit.cutting_length_mm) * scale" fill="var(--edge)" />
        <rect :x="-15 * scale" :y="-bit.stickout_mm * scale - 8" :width="30 * scale" height="8" fill="var(--ink3)" />
      </g></g>
      <template v-if="cut">
        <path :d="cut.to_go" fill="#ecd9bd" stroke="#1d1a17" stroke-width="1" stroke-dasharray="4 3" />
        <path :d="cut.now" fill="#d6a679" stroke="#1d1a17" stroke-width="1.2" />
        <path v-if="cut.hollow" :d="cut.hollow" fill="var(--paper)" stroke="#1d1a17" stroke-width="1" />
        <g v-if="cut.thinnest"><circle :cx="sx(cut.thinnest.s_mm)" :cy="sz(cut.thinnest.z_mm)" r="7" fill="none" stroke="var(--ink)" stroke-width="1.3" /></g>
      </template>
      <line x1="-8" :x2="drawn + 8" :y1="bed" :y2="bed" stroke="var(--ink)" stroke-width="1.4" />
      <path :d="Array.from({ length: Math.ceil(drawn / 7) }, (_, k) => `M${k * 7} ${bed + 6}l5 -5`).join('')" stroke="var(--edge)" stroke-width=".8" />
    </svg>
    <div class="said second"><span class="choice" role="radiogroup" aria-label="How the section runs"><button v-for="[deg, name] in WAYS" :key="deg" role="radio" :aria-checked="line.turn_deg === deg" :class="{ on: line.turn_deg === deg }" title="X turns it along and across" @click="emit('turn', deg)">{{ name }}</button></span>
      <label>turned <input :value="String(line.turn_deg).replace('-', '−')" inputmode="decimal" size="4" aria-label="Section turned from the length, degrees" title="Shift with Left and Right turns it" @change="typed" @keydown.enter="typed">°</label><span class="gap" /><span title="Same scale up as along">Pale wood is still to go{{ scale < props.scale - 1e-6 ? '; smaller than the plan' : '' }}.</span></div>
  </div>
</template>

<style scoped>
.said { display: flex; gap: 8px; align-items: baseline; }
.gap { flex: 1; }
.thin { font-size: 18px; }
.choice button { padding: 0 8px; }
label input { width: 46px; text-align: right; border: 0; border-bottom: 1px solid var(--edge); border-radius: 0; background: transparent; color: inherit; font: inherit; }
.said { white-space: nowrap; flex-wrap: wrap; }
svg { display: block; overflow: visible; }
</style>
