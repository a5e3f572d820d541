<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { HeightStack } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { open, set } from '../route/store'
import { length } from '../units/format'

/** The height stack in section: one number is found from the others. Tried here, not kept. */
const props = defineProps<{ route: number; first: HeightStack }>()
const stack = ref<HeightStack>(props.first)
const solve = ref('depth')
const tried = reactive<Record<string, number>>({})
const wrong = ref(props.first.failed ?? '')
const unknowns = [{ title: 'Pocket depth', value: 'depth' }, { title: 'Neck angle or wedge', value: 'angle' }, { title: 'Saddle height', value: 'saddle' }, { title: 'Action at the 12th', value: 'action' }, { title: 'Shim', value: 'shim' }]
const rows = computed(() => [
  { key: 'depth_mm', unknown: 'depth', label: 'Pocket deep' }, { key: 'shim_mm', unknown: 'shim', label: 'Shim under the heel' }, { key: 'saddle_mm', unknown: 'saddle', label: 'Saddle above its seat' },
  { key: 'recess_mm', unknown: '', label: 'Bridge below the face' }, { key: 'action_12th_mm', unknown: 'action', label: 'Action at the 12th' },
].map((r) => ({ ...r, value: stack.value[r.key as 'depth_mm'] })))
async function ask() {
  try {
    const found = (await api.heights(props.route, { ...tried, solve: solve.value })).heights
    wrong.value = found?.failed ?? ''
    if (found && found.failed === null) stack.value = found
  } catch (error) { wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message }
}
function change(key: string, mm: number | null) {
  if (mm === null) delete tried[key]
  else tried[key] = mm
  void ask()
}
function find(what: string) {
  solve.value = what
  for (const row of rows.value) if (row.unknown !== what && row.unknown) tried[row.key] = row.value
  delete tried[`${what}_mm`]
  if (what === 'action') delete tried.action_12th_mm
  if (what !== 'angle') tried.angle_deg = stack.value.angle_deg
  else delete tried.angle_deg
  void ask()
}
/** The pocket that takes the heel, and how its floor is tilted now. */
const heel_pocket = computed(() => open.state?.document.piece.features.find((f) => f.kind === 'pocket' && f.shape?.kind === 'heel'))
const tilt = computed(() => heel_pocket.value?.tilt_deg ?? 0)
function tilt_to(deg: number) { if (heel_pocket.value) void set(`piece.features.${heel_pocket.value.id}.tilt_deg`, deg) }
/** The section, heights eight times over lengths so that a fraction of a millimetre can be seen. */
const y = (mm: number) => 74 - mm * 1.6
const plane = (x: number) => stack.value.heel_mm + stack.value.fret_mm + stack.value.shim_mm - stack.value.depth_mm + x * Math.tan((stack.value.angle_deg * Math.PI) / 180)
const near_end = computed(() => (stack.value.travel_down_mm !== null && stack.value.travel_down_mm < 1) || (stack.value.travel_up_mm !== null && stack.value.travel_up_mm < 1))
</script>

<template>
  <section>
    <h2>Heights</h2>
    <svg viewBox="0 0 360 122" role="img" :aria-label="`Neck angle ${stack.angle_deg.toFixed(2)} degrees, saddle ${length(stack.saddle_mm)}`">
      <path :d="`M70 ${y(0)}H356V118H70z`" fill="#d6a679" /><path :d="`M70 ${y(0)}V${y(-stack.depth_mm)}H150V${y(0)}`" fill="#fbf9f5" stroke="#1d1a17" stroke-width="1.2" />
      <path :d="`M150 ${y(0)}H356M70 ${y(-stack.depth_mm)}V118`" stroke="#1d1a17" stroke-width="1.2" fill="none" />
      <g :transform="`rotate(${-stack.angle_deg} 150 ${y(-stack.depth_mm)})`"><rect x="2" :y="y(stack.heel_mm - stack.depth_mm + stack.shim_mm)" width="146" :height="stack.heel_mm * 1.6" fill="#ecd9bd" stroke="#1d1a17" /></g>
      <path :d="`M2 ${y(plane(-150) + 1)}L320 ${y(stack.saddle_mm - stack.recess_mm)}`" stroke="#1d1a17" stroke-width="1" />
      <rect x="312" :y="y(stack.saddle_mm - stack.recess_mm)" width="16" :height="stack.saddle_mm * 1.6" fill="#d9d5cc" stroke="#1d1a17" />
    </svg>
    <v-select :model-value="solve" :items="unknowns" label="Find" @update:model-value="find" />
    <div class="grid">
      <template v-for="r in rows" :key="r.key">
        <div v-if="r.unknown === solve" class="found"><span>{{ r.label }}</span><b>{{ length(r.value) }}</b></div>
        <NumberField v-else :model-value="r.value" :label="r.label" :places="2"
          @update:model-value="(mm) => change(r.key, mm)" />
      </template>
      <div class="found" :class="{ quiet: solve !== 'angle' }"><span>Neck angle</span><b>{{ stack.angle_deg.toFixed(2) }}°</b></div>
    </div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p v-else-if="Math.abs(stack.angle_deg - tilt) > 0.005">A wedge under the heel: {{ length(0, 2) }} at its thin end, <b>{{ length(stack.wedge_thick_mm) }}</b> at the thick one, over {{ length(stack.heel_length_mm, 1) }}.</p>
    <p v-if="tilt && heel_pocket">The floor of {{ heel_pocket.name }} is tilted by <b>{{ tilt.toFixed(2) }}°</b>. <button class="plain" @click="tilt_to(0)">Lay it level</button></p>
    <button v-if="heel_pocket && !wrong && Math.abs(stack.angle_deg - tilt) > 0.005" class="cure" @click="tilt_to(Math.round(stack.angle_deg * 100) / 100)">Tilt the pocket’s floor by {{ stack.angle_deg.toFixed(2) }}° instead</button>
    <p v-if="stack.travel_down_mm !== null && stack.travel_up_mm !== null" :class="{ care: near_end }">The saddles can still go {{ length(stack.travel_down_mm, 1) }} down and {{ length(stack.travel_up_mm, 1) }} up.{{ near_end ? ' That is near the end of their travel.' : '' }}</p>
    <p class="least">Tried here and not kept. The route keeps what the Measure screen says.</p>
  </section>
</template>

<style scoped>
svg { width: 100%; }
p { margin: 4px 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; margin-top: 10px; }
.found { display: flex; justify-content: space-between; align-items: center; border: 2px solid var(--moss); border-radius: 2px; padding: 2px 8px; min-height: 34px; }
.found.quiet { border: 1px dashed var(--edge); }
.ember { color: var(--ember); }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
