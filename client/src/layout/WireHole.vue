<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Point, WireWindow } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open } from '../route/store'
import { length } from '../units/format'

/** A long drill from one cavity to another, in section through both. */
const props = defineProps<{ thickness: number; solids: { id: string; name: string; kind: string; floor_mm: number | null; face: string; rings: Point[][] }[] }>()
const pockets = computed(() => props.solids.filter((s) => s.kind === 'pocket' && s.floor_mm !== null))
const items = computed(() => pockets.value.map((p) => ({ title: p.face === 'back' ? `${p.name}, back` : p.name, value: p.id })))
const into = computed(() => { const face = pockets.value.find((p) => p.id === from.value)?.face; return items.value.filter((i) => pockets.value.find((p) => p.id === i.value)?.face === face && i.value !== from.value) })
const deep = (p: { floor_mm: number | null; face: string }) => (p.face === 'back' ? props.thickness + p.floor_mm! : -p.floor_mm!)
const from = ref('')
const to = ref('')
const hole = reactive({ drill_mm: 5, rim_mm: 0.5, floor_mm: 4 })
const found = ref<WireWindow | null>(null)
const asked = ref(false)
const wrong = ref('')
watch(pockets, (now) => { if (!from.value && now.length > 1) { from.value = now[0].id; to.value = now[1].id } }, { immediate: true })
const centre = (ring: Point[]): Point => [ring.reduce((s, p) => s + p[0], 0) / ring.length, ring.reduce((s, p) => s + p[1], 0) / ring.length]
/** How far a cavity reaches along the line between both middles: from its far rim to its near wall. */
function reach(ring: Point[], origin: Point, u: Point): [number, number] {
  let low = Infinity
  let high = -Infinity
  for (let k = 0; k < ring.length; k++) {
    const [a, b] = [ring[k], ring[(k + 1) % ring.length]]
    const [sa, sb] = [(a[0] - origin[0]) * -u[1] + (a[1] - origin[1]) * u[0], (b[0] - origin[0]) * -u[1] + (b[1] - origin[1]) * u[0]]
    if (sa === sb || sa * sb > 0) continue
    const t = sa / (sa - sb)
    const along = (a[0] + t * (b[0] - a[0]) - origin[0]) * u[0] + (a[1] + t * (b[1] - a[1]) - origin[1]) * u[1]
    low = Math.min(low, along)
    high = Math.max(high, along)
  }
  return [low, high]
}
const section = computed(() => {
  const [a, b] = [from.value, to.value].map((k) => pockets.value.find((p) => p.id === k))
  if (!a || !b || a === b || a.face !== b.face) return null
  const [ca, cb] = [centre(a.rings[0]), centre(b.rings[0])]
  const long = Math.hypot(cb[0] - ca[0], cb[1] - ca[1])
  if (long < 1) return null
  const u: Point = [(cb[0] - ca[0]) / long, (cb[1] - ca[1]) / long]
  const [ra, rb] = [reach(a.rings[0], ca, u), reach(b.rings[0], ca, u)]
  return { first_length_mm: ra[1] - ra[0], first_depth_mm: deep(a), wall_mm: rb[0] - ra[1], second_length_mm: rb[1] - rb[0], second_depth_mm: deep(b), names: [a.name, b.name] }
})
watch([section, hole, () => props.thickness], async () => {
  const s = section.value
  found.value = null
  wrong.value = ''
  asked.value = false
  if (!s) return
  if (!(s.wall_mm > 0.5)) { wrong.value = 'These two meet already; no hole is needed.'; return }
  const { names: _names, ...numbers } = s
  try { found.value = (await api.wire_hole({ ...numbers, ...hole, thickness_mm: props.thickness })).window; asked.value = true } catch (error) { wrong.value = (error as Error).message }
}, { deep: true, immediate: true })
const scale = computed(() => (section.value ? Math.min(346 / (section.value.first_length_mm + section.value.wall_mm + section.value.second_length_mm), 1.9) : 1))
/** Kept as work for the bench: after whatever cuts the two cavities, with the wedge that guides the drill. */
const kept = computed(() => open.state!.document.bench_steps.some((s) => s.id === step_id.value))
const step_id = computed(() => `wire_${from.value}_${to.value}`.slice(0, 40))
const WEDGE_MM = 100
async function keep() {
  const doc = open.state!.document
  const last = doc.operations.filter((o) => o.features.includes(from.value) || o.features.includes(to.value)).at(-1)
  const rise = WEDGE_MM * Math.tan((middle.value * Math.PI) / 180)
  const note = `Drill ${length(hole.drill_mm, 1)}, at least ${length(found.value!.drill_length_mm, 0)} long, ${
    middle.value.toFixed(1)}° below the face. It enters ${length(found.value!.enters_deep_mm, 1)} down and comes out ${
    length(found.value!.leaves_deep_mm, 1)} down. Wedge for its guide: ${length(rise, 1)} rise on ${
    length(WEDGE_MM, 0)}.`
  const [a, b] = section.value!.names
  const item = {
    id: step_id.value, name: `Drill the wire hole: ${a} into ${b}`.slice(0, 80), minutes: 6, kind: 'drill', note,
    after: last?.id ?? doc.operations.at(-1)?.id ?? null,
  }
  await edit([{ do: 'put_item', list: 'bench_steps', item }], `Keep the wire hole of ${a}`)
}
const middle = computed(() => (found.value ? (found.value.least_deg + found.value.most_deg) / 2 : 0))
</script>

<template>
  <section v-if="pockets.length > 1">
    <h2>Wire hole</h2>
    <div class="grid"><v-select v-model="from" :items="items" label="From over" />
      <v-select v-model="to" :items="into" label="Into" /><NumberField v-model="hole.drill_mm" label="Drill" />
      <NumberField v-model="hole.floor_mm" label="Wood to keep under it" /></div>
    <svg v-if="section && section.wall_mm > 0.5" :viewBox="`-2 -34 354 ${thickness * scale + 44}`" role="img" :aria-label="found ? `Drill at ${found.least_deg.toFixed(1)} to ${found.most_deg.toFixed(1)} degrees` : 'No angle works'">
      <path :d="`M0 0h8v${section.first_depth_mm * scale}h${section.first_length_mm * scale - 8}V0h${section.wall_mm * scale}v${section.second_depth_mm * scale}h${section.second_length_mm * scale - 8}V0h8V${thickness * scale}H0z`" fill="#d6a679" stroke="#1d1a17" stroke-width="1.1" />
      <g v-if="found" :transform="`translate(${section.first_length_mm * scale} ${found.enters_deep_mm * scale}) rotate(${middle})`">
        <rect :x="-section.first_length_mm * scale * 1.25" :y="(-hole.drill_mm / 2) * scale" :width="(section.first_length_mm * 1.25 + section.wall_mm * 1.06) * scale" :height="hole.drill_mm * scale" fill="#8d8477" stroke="#1d1a17" />
      </g>
    </svg>
    <p v-if="found">Between <b>{{ found.least_deg.toFixed(1) }}°</b> and <b>{{ found.most_deg.toFixed(1) }}°</b> below the face. At {{ middle.toFixed(1) }}° it enters {{ length(found.enters_deep_mm, 1) }} down, comes out {{ length(found.leaves_deep_mm, 1) }} down, and the drill is at least {{ length(found.drill_length_mm, 0) }} long.</p>
    <p v-if="found"><button class="cure"
      @click="keep">{{ kept ? 'Keep it as it is now' : 'Keep it as work for the bench' }}</button> <span v-if="kept"
        class="second">Kept: it stands among the bench steps.</span></p>
    <p v-else-if="asked" class="care">No angle works: the rim, a floor or the back would be cut. Try a thinner drill, another cavity to start from, or a longer opening.</p>
    <p v-if="wrong" class="second">{{ wrong }}</p>
  </section>
</template>

<style scoped>
svg { width: 100%; margin-top: 8px; }
p { margin: 4px 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
