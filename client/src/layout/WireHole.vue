<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Point, WireHoleAnswer } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open } from '../route/store'
import { length } from '../units/format'

/** A long drill from one cavity to another, in section through both, as the core finds it. */
const props = defineProps<{
  solids: { id: string; name: string; kind: string; floor_mm: number | null; face: string; rings: Point[][] }[]
}>()
const pockets = computed(() => props.solids.filter((s) => s.kind === 'pocket' && s.floor_mm !== null))
const named = (p: { id: string; name: string; face: string }) =>
  ({ title: p.face === 'back' ? `${p.name}, back` : p.name, value: p.id })
const items = computed(() => pockets.value.map(named))
const from = ref('')
const to = ref('')
const into = computed(() => {
  const face = pockets.value.find((p) => p.id === from.value)?.face
  return pockets.value.filter((p) => p.face === face && p.id !== from.value).map(named)
})
/** None until somebody types: what the shop's figures say. */
const asked = reactive<{ drill_mm: number | null; floor_mm: number | null }>({ drill_mm: null, floor_mm: null })
const found = ref<WireHoleAnswer | null>(null)
const wrong = ref('')
watch(pockets, (now) => {
  if (!from.value && now.length > 1) { from.value = now[0].id; to.value = now[1].id }
}, { immediate: true })
watch(into, (now) => { if (!now.some((i) => i.value === to.value)) to.value = now[0]?.value ?? '' })
let newest = 0
watch([from, to, asked, () => open.state?.hash], async () => {
  newest += 1
  const mine = newest
  if (!from.value || !to.value) { found.value = null; return }
  try {
    const answer = await api.wire_hole(open.state!.route, { first: from.value, second: to.value, ...asked })
    if (mine !== newest) return
    found.value = answer
    wrong.value = ''
  } catch (error) {
    if (mine !== newest) return
    found.value = null
    wrong.value = (error as Error).message
  }
}, { deep: true, immediate: true })
const hole = computed(() => found.value?.hole ?? null)
const window = computed(() => found.value?.window ?? null)
const middle = computed(() => found.value?.middle_deg ?? 0)
const scale = computed(() => {
  const h = hole.value
  return h ? Math.min(346 / (h.first_length_mm + h.wall_mm + h.second_length_mm), 1.9) : 1
})
const wood = computed(() => {
  const h = hole.value!
  const k = scale.value
  return `M0 0h8v${h.first_depth_mm * k}h${h.first_length_mm * k - 8}V0h${h.wall_mm * k}v${h.second_depth_mm * k}`
    + `h${h.second_length_mm * k - 8}V0h8V${h.thickness_mm * k}H0z`
})
const drill = computed(() => {
  const h = hole.value!
  const k = scale.value
  return {
    at: `translate(${h.first_length_mm * k} ${(window.value?.enters_deep_mm ?? 0) * k}) rotate(${middle.value})`,
    x: -h.first_length_mm * k * 1.25, y: (-h.drill_mm / 2) * k,
    wide: (h.first_length_mm * 1.25 + h.wall_mm * 1.06) * k, high: h.drill_mm * k,
  }
})
const drawn = computed(() => (window.value
  ? `Drill at ${window.value.least_deg.toFixed(1)} to ${window.value.most_deg.toFixed(1)} degrees` : 'No angle works'))
/** Kept as work for the bench: after whatever cuts the two cavities, with the wedge that guides the drill. */
const kept = computed(() => open.state!.document.bench_steps.some((s) => s.id === found.value?.step))
function keep() {
  const name = pockets.value.find((p) => p.id === from.value)?.name ?? from.value
  void edit([{ do: 'keep_wire_hole', first: from.value, second: to.value, ...asked }], `Keep the wire hole of ${name}`)
}
</script>

<template>
  <section v-if="pockets.length > 1">
    <h2>Wire hole</h2>
    <div class="grid"><v-select v-model="from" :items="items" label="From over" />
      <v-select v-model="to" :items="into" label="Into" />
      <NumberField :model-value="hole?.drill_mm ?? asked.drill_mm" label="Drill"
        @update:model-value="(v) => (asked.drill_mm = v)" />
      <NumberField :model-value="hole?.floor_mm ?? asked.floor_mm" label="Wood to keep under it"
        @update:model-value="(v) => (asked.floor_mm = v)" /></div>
    <svg v-if="hole" :viewBox="`-2 -34 354 ${hole.thickness_mm * scale + 44}`" role="img" :aria-label="drawn">
      <path :d="wood" fill="#d6a679" stroke="#1d1a17" stroke-width="1.1" />
      <g v-if="window" :transform="drill.at">
        <rect :x="drill.x" :y="drill.y" :width="drill.wide" :height="drill.high" fill="#8d8477" stroke="#1d1a17" />
      </g>
    </svg>
    <p v-if="window">
      Between <b>{{ window.least_deg.toFixed(1) }}°</b> and <b>{{ window.most_deg.toFixed(1) }}°</b> below the face. At
      {{ middle.toFixed(1) }}° it enters {{ length(window.enters_deep_mm, 1) }} down, comes out
      {{ length(window.leaves_deep_mm, 1) }} down, and the drill is at least
      {{ length(window.drill_length_mm, 0) }} long.
    </p>
    <p v-if="window">
      <button class="cure" @click="keep">{{ kept ? 'Keep it as it is now' : 'Keep it as work for the bench' }}</button>
      <span v-if="kept" class="second"> Kept: it stands among the bench steps.</span>
    </p>
    <p v-else-if="found" class="care">
      No angle works: the rim, a floor or the back would be cut. Try a thinner drill, another cavity to start from, or a
      longer opening.
    </p>
    <p v-if="wrong" class="second">{{ wrong }}</p>
  </section>
</template>

<style scoped>
svg { width: 100%; margin-top: 8px; }
p { margin: 4px 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
