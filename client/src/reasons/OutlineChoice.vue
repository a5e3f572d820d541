<script setup lang="ts">
import { computed } from 'vue'
import type { LastBit, Operation, School } from '../api/types'
import EditField from '../fields/EditField.vue'
import NumberLine from '../fields/NumberLine.vue'
import { edit, open, set } from '../route/store'
import { minutes } from '../units/format'
import LastPass from './LastPass.vue'

/** How an outline is cut: through with tabs, through but for a skin, or a groove for saw and bearing bit; each with its minutes. */
const props = defineProps<{
  operation: Operation; schools: School[] | undefined; places: [number, number][] | undefined
  bits: LastBit[] | undefined
}>()
const path = computed(() => `operations.${props.operation.id}`)
const chosen = computed(() => (props.operation.groove_mm !== null ? 'groove' : props.operation.skin_mm > 0 ? 'skin' : 'tabs'))
const names: Record<string, string> = { tabs: 'Through, with tabs', skin: 'Through, but for a skin', groove: 'Groove, saw, trim' }
/** The kerf seen from its end: what is left of the wood between piece and waste. */
const left: Record<string, string> = { tabs: 'M26 24h14v6h-14z', skin: 'M26 27.6h14v2.4h-14z', groove: 'M26 13h14v17h-14z' }
function choose(school: string) {
  if (school !== chosen.value) void edit([{ do: 'choose_school', operation: props.operation.id, school }], names[school])
}
const ramped = computed(() => props.operation.tabs.length > 0 && props.operation.tabs.every((t) => t.shape === 'ramped'))
function more() {
  const p = props.places?.at(-1)
  if (p) void edit([{ do: 'move_tab', operation: props.operation.id, number: props.operation.tabs.length, x_mm: p[0] + 25, y_mm: p[1] }], 'Another tab')
}
function fewer() { void set(`${path.value}.tabs`, props.operation.tabs.slice(0, -1)) }
</script>

<template>
  <div class="outline">
    <div v-if="schools" role="radiogroup" aria-label="How the outline is cut">
      <button v-for="s in schools" :key="s.school" class="school" role="radio" :aria-checked="chosen === s.school" :class="{ on: chosen === s.school }" @click="choose(s.school)">
        <svg viewBox="0 0 66 32" width="66" height="32" aria-hidden="true"><path d="M0 4h26v26H0zM40 4h26v26H40z" fill="var(--alder)" /><path :d="left[s.school]" fill="var(--inner)" /><path d="M0 30.6h66" stroke="currentColor" stroke-width="1.2" /></svg>
        <span><b>{{ names[s.school] }}</b><br /><span class="second">machine <b>{{ minutes(s.machine_min) }}</b>, bench <b>{{ minutes(s.bench_min) }}</b></span></span>
      </button>
    </div>
    <LastPass :operation="operation" :bits="bits" />
    <p v-if="chosen === 'tabs' && operation.reasons.tabs && !operation.told.includes('tabs')" class="second why">Tabs: {{ operation.reasons.tabs }}.</p>
    <template v-if="chosen === 'tabs' && operation.tabs.length">
      <div class="two">
        <EditField :path="`${path}.tabs.each.width_mm`" :value="operation.tabs[0].width_mm" label="Tabs wide" is_length />
        <EditField :path="`${path}.tabs.each.height_mm`" :value="operation.tabs[0].height_mm" label="Tabs high" is_length />
      </div>
      <v-checkbox :model-value="ramped" label="Sloped sides, climbed by the bit" @update:model-value="(v) => set(`${path}.tabs.each.shape`, v ? 'ramped' : 'square')" />
      <div class="acts"><button class="plain" @click="more">One tab more</button><button v-if="operation.tabs.length > 1" class="plain" @click="fewer">One less</button>
        <button class="plain" @click="edit([{ do: 'set', path: `${path}.tabs`, value: [] }, { do: 'choose_school', operation: operation.id, school: 'tabs' }], 'Propose the tabs again')">Propose them again</button></div>
      <p class="least">Drag a tab along the rim in the plan, or give it the keyboard and use the arrows.</p>
    </template>
    <NumberLine v-if="chosen === 'skin'" :path="`${path}.skin_mm`" :value="operation.skin_mm" label="Skin left" is_length :why="operation.reasons.skin_mm" />
    <template v-if="chosen === 'groove'">
      <NumberLine :path="`${path}.groove_mm`" :value="operation.groove_mm" label="Groove deep" is_length :why="operation.reasons.groove_mm" />
      <NumberLine path="choices.trim_bit_mm" :value="open.state!.document.choices.trim_bit_mm ?? null" label="Trimming bit’s edge" is_length />
    </template>
  </div>
</template>

<style scoped>
.outline { display: flex; flex-direction: column; gap: 6px; }
.school { display: grid; grid-template-columns: 66px 1fr; gap: 10px; align-items: center; width: 100%; padding: 5px 6px; border: 1px solid var(--rule); margin-bottom: -1px; line-height: 1.25; }
.school.on { border: 2px solid var(--ink); position: relative; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 10px; }
.acts { display: flex; gap: 12px; flex-wrap: wrap; }
p { margin: 0; }
</style>
