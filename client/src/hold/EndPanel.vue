<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { EndPlan } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { making } from '../route/making'
import { open } from '../route/store'
import { length } from '../units/format'

/** Work on an end or side of the piece, standing in a vice: what is up, at which angle, what is cut; made a job of its own. */
const ENDS = [['left', 'Left end'], ['right', 'Right end'], ['lower', 'Lower side'], ['upper', 'Upper side']] as const
const CUTS = [['face', 'Its face'], ['holes', 'Holes'], ['tenon', 'Tenon'], ['mortise', 'Mortise']] as const
const ANGLES = [['wanted_deg', 'Wanted'], ['wedge_deg', 'By a wedge'], ['in_blank_deg', 'In the blank']] as const
const wanted = reactive({ end: 'left', cut: 'tenon', at_mm: 0, long_mm: 60, count: 2, apart_mm: 20, across_mm: 6, wide_mm: 30, thick_mm: 6, deep_mm: 12, wanted_deg: 0, wedge_deg: 0, in_blank_deg: 0 })
type Size = 'at_mm' | 'long_mm' | 'apart_mm' | 'across_mm' | 'wide_mm' | 'thick_mm' | 'deep_mm'
const is_side = computed(() => wanted.end === 'lower' || wanted.end === 'upper')
const sizes = computed<[Size, string][]>(() => [
  ...(is_side.value ? [['at_mm', 'Middle at x'], ['long_mm', 'Between the jaws']] as [Size, string][] : []),
  ...(wanted.cut === 'holes' ? [['across_mm', 'Across'], ['apart_mm', 'Apart']] as [Size, string][] : []),
  ...(wanted.cut === 'tenon' || wanted.cut === 'mortise' ? [['wide_mm', 'Wide'], ['thick_mm', 'Thick']] as [Size, string][] : []),
  ...(wanted.cut === 'face' ? [] : [['deep_mm', wanted.cut === 'tenon' ? 'Stands up' : 'Deep']] as [Size, string][])])
const own = computed(() => open.state?.document.end_work ?? null)
const plan = ref<EndPlan | null>(null)
const { wrong, busy, make } = making()
function number(key: 'count' | 'wanted_deg' | 'wedge_deg' | 'in_blank_deg', read: number | null) {
  if (read !== null) wanted[key] = key === 'count' ? Math.round(read) : read
}
let asked = 0
async function look() {
  if (own.value || !open.state) return
  const mine = ++asked
  try {
    const found = await api.end_plan(open.state.route, { ...wanted })
    if (mine === asked) { plan.value = found; wrong.value = '' }
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (mine === asked) { plan.value = null; wrong.value = error.failure.message }
  }
}
watch(() => [{ ...wanted }, open.state?.revision], () => void look(), { immediate: true })
</script>

<template>
  <section>
    <template v-if="own"><p>This job works on an end of <b>{{ own.made_for }}</b>, standing in a vice.</p><p v-for="w in own.words" :key="w" class="second">{{ w }}</p></template>
    <template v-else>
      <p class="second">The piece stands in a vice, an end or a side up. The work there becomes a job of its own: what stands out of the jaws is its blank, the force of the jaws alone holds it.</p>
      <div class="choice" role="radiogroup" aria-label="What is up"><button v-for="[key, name] in ENDS" :key="key" role="radio" :aria-checked="wanted.end === key" :class="{ on: wanted.end === key }" @click="wanted.end = key">{{ name }}</button></div>
      <div class="choice" role="radiogroup" aria-label="What is cut"><button v-for="[key, name] in CUTS" :key="key" role="radio" :aria-checked="wanted.cut === key" :class="{ on: wanted.cut === key }" @click="wanted.cut = key">{{ name }}</button></div>
      <div class="three">
        <NumberField v-if="wanted.cut === 'holes'" kind="number" :model-value="wanted.count" label="How many"
          @update:model-value="(n) => number('count', n)" />
        <NumberField v-for="[key, name] in sizes" :key="key" :model-value="wanted[key]" :label="name"
          @update:model-value="(mm) => { if (mm !== null) wanted[key] = mm }" />
      </div>
      <div class="three"><NumberField v-for="[key, name] in ANGLES" :key="key" kind="number" :model-value="wanted[key]"
        :label="name" suffix="°" @update:model-value="(deg) => number(key, deg)" /></div>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <template v-if="plan && !wrong">
        <p><b>{{ length(plan.long_mm, 1) }} × {{ length(plan.thick_mm, 1) }}</b> up, standing <b>{{ length(plan.stands_mm, 1) }}</b> out of the jaws; <b>{{ length(plan.skim_mm) }}</b> come off at the most to true it.</p>
        <p v-for="w in plan.words" :key="w" class="second">{{ w }}</p>
        <h2>What is done</h2>
        <p>{{ plan.operations.join(', ') }}.</p>
        <p v-for="s in plan.steps" :key="s.name">{{ s.name }}, {{ s.minutes }} min. <span class="second">{{ s.note }}</span></p>
        <div class="acts"><button class="go" :disabled="busy" @click="make(() => api.make_end(open.state!.route, { ...wanted }))">Make it a job</button></div>
      </template>
    </template>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
.choice button { flex: 1; padding: 4px 6px; }
.ember { color: var(--ember); }
</style>
