<script setup lang="ts">
import { computed, onMounted, reactive, ref } from 'vue'
import { api } from '../api/client'
import type { Shop, WoodBoard } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open } from '../route/store'
import { grouped, length, value_typed } from '../units/format'

/** The shop's boards: measured, weighed, kept as records. A board goes into this blank with its own density. */
const props = defineProps<{ route: number }>()
const boards = ref<WoodBoard[]>([])
const shop = ref<Shop | null>(null)
const adding = ref(false)
const wrong = ref('')
const empty = () => ({
  name: '', length_mm: null as number | null, width_mm: null as number | null, thickness_mm: null as number | null,
  weighed: '', moisture: '', figure: '', note: '',
})
const fresh = reactive({ ...empty(), wood: 'alder' })
onMounted(async () => { boards.value = await api.wood().catch(() => []); shop.value = await api.shop() })
const woods = computed(() => (shop.value?.woods ?? []).map((w) => ({ title: w.name, value: w.id })))
const there = computed(() => boards.value.filter((b) => b.state !== 'used'))
const states: Record<string, string> = { on_hand: 'on hand', in_a_job: 'in a job', used: 'used' }
const number = (text: string) => (text.trim() ? (value_typed(text) ?? text) : null)
async function keep() {
  const { weighed, moisture, ...rest } = fresh
  try {
    await api.keep_board(null, { ...rest, weighed_kg: number(weighed), moisture_pct: number(moisture) })
    boards.value = await api.wood()
    Object.assign(fresh, empty())
    adding.value = false
    wrong.value = ''
  } catch (error) { wrong.value = (error as Error).message }
}
async function say(b: WoodBoard, state: string, into: number | null) {
  const { name, wood, length_mm, width_mm, thickness_mm, weighed_kg, moisture_pct, figure, note } = b
  const said = { name, wood, length_mm, width_mm, thickness_mm, weighed_kg, moisture_pct, figure, note }
  try {
    await api.keep_board(b.board, { ...said, state, route: into })
    boards.value = await api.wood()
    wrong.value = ''
  } catch (error) { wrong.value = (error as Error).message }
}
async function take(b: WoodBoard) {
  const blank = open.state!.document.blank
  const used = new Set(blank.planks.map((p) => p.id))
  let k = 1
  while (used.has(`w${k}`)) k += 1
  const edits: { do: string; [key: string]: unknown }[] = [{ do: 'set', path: 'blank.wood', value: b.wood }, { do: 'put_item', list: 'planks', item: { id: `w${k}`, width_mm: b.width_mm, name: b.name } }, { do: 'set', path: 'blank.boards', value: blank.planks.length + 1 }]
  if (b.density_kg_m3) edits.push({ do: 'set', path: 'blank.weighed_kg', value: Math.round(b.density_kg_m3 * blank.length_mm * blank.width_mm * blank.thickness_mm * 1e-9 * 1000) / 1000 })
  if (await edit(edits, `Take ${b.name} for the blank`)) await say(b, 'in_a_job', props.route)
}
const fits = (b: WoodBoard) => { const blank = open.state?.document.blank; return !!blank && b.length_mm >= blank.length_mm && b.thickness_mm >= blank.thickness_mm }
</script>

<template>
  <section>
    <h2>Wood of the shop</h2>
    <p v-if="!there.length && !adding" class="second">No board is on record. Measure and weigh one, and its own density counts instead of the table’s.</p>
    <table v-if="there.length"><thead><tr><th>Board</th><th>long × wide × thick</th><th>kg/m³</th><th></th></tr></thead><tbody>
      <tr v-for="b in there" :key="b.board"><td>{{ b.name }}<span class="least"> {{ b.wood_name }}{{ b.figure ? `, ${b.figure}` : '' }}{{ b.state === 'on_hand' ? '' : `, ${states[b.state]}` }}</span></td><td class="num">{{ length(b.length_mm, 0) }} × {{ length(b.width_mm, 0) }} × {{ length(b.thickness_mm, 1) }}</td>
        <td class="num">{{ b.density_kg_m3 ? grouped(b.density_kg_m3) : '–' }}<span v-if="b.off_table" class="least"> {{ b.off_table > 0 ? '+' : '−' }}{{ Math.abs(Math.round(b.off_table * 100)) }} %</span></td>
        <td class="acts"><button v-if="b.state === 'on_hand'" class="cure" :title="fits(b) ? '' : 'Shorter or thinner than this blank'" @click="take(b)">{{ fits(b) ? 'Take it' : 'Take it, too small' }}</button><button v-else class="plain" @click="say(b, 'used', b.route)">Used up</button></td></tr></tbody></table>
    <div v-if="adding" class="add">
      <v-text-field v-model="fresh.name" label="Name or place" />
        <v-select v-model="fresh.wood" :items="woods" label="Wood" />
        <NumberField v-model="fresh.length_mm" label="Long" /><NumberField v-model="fresh.width_mm" label="Wide" />
        <NumberField v-model="fresh.thickness_mm" label="Thick" />
      <v-text-field v-model="fresh.weighed" label="Weighs" suffix="kg" inputmode="decimal" />
      <v-text-field v-model="fresh.moisture" label="Water in it" suffix="%" inputmode="decimal" />
      <v-text-field v-model="fresh.figure" label="Figure, grain" />
      <v-text-field v-model="fresh.note" label="Note" />
      <button class="cure lead" @click="keep">Keep the board</button><button class="plain" @click="adding = false">Leave it</button>
    </div>
    <button v-else class="cure" @click="adding = true">Put a board on record</button>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; align-items: flex-start; }
p { margin: 0; }
table { border-collapse: collapse; width: 100%; }
th { font-weight: 400; color: var(--ink3); text-align: left; }
td { border-top: 1px solid var(--rule); padding: 4px 10px 4px 0; }
td .least { margin-left: 6px; }
.num { white-space: nowrap; }
.acts { text-align: right; }
.add { display: grid; grid-template-columns: 1fr 1fr 1fr 1fr; gap: 8px; align-items: center; width: 100%; }
.ember { color: var(--ember); }
</style>
