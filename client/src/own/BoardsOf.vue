<script setup lang="ts">
import { reactive, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { MaterialRow, WoodBoard } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { grouped, length, value_typed } from '../units/format'

/** The boards of one material: what they measure, weigh and hold of water. */
const props = defineProps<{ row: MaterialRow; boards: WoodBoard[] }>()
const emit = defineEmits<{ changed: [] }>()
const adding = ref(false)
const wrong = ref('')
const empty = () => ({
  name: '', length_mm: null as number | null, width_mm: null as number | null, thickness_mm: null as number | null,
  weighed: '', moisture: '',
})
const fresh = reactive(empty())
async function keep() {
  wrong.value = ''
  const { weighed, moisture, ...rest } = fresh
  const number = (text: string) => (text.trim() ? (value_typed(text) ?? text) : null)
  const body = { ...rest, wood: props.row.wood.id, weighed_kg: number(weighed), moisture_pct: number(moisture) }
  try {
    await api.keep_board(null, body)
    Object.assign(fresh, empty())
    adding.value = false
    emit('changed')
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  }
}
</script>

<template>
  <section class="boards">
    <h2>Its boards</h2>
    <p v-if="row.weighed" class="word">{{ grouped(row.weighed.mean_kg_m3) }} kg/m³ from
      {{ row.weighed.count }} {{ row.weighed.count === 1 ? 'board' : 'boards'
      }}<template v-if="row.weighed.spread_kg_m3">,
        one standard deviation {{ Math.round(row.weighed.spread_kg_m3) }}</template>;
      {{ grouped(row.told_kg_m3) }} was told.</p>
    <p v-else-if="!boards.length" class="second">None is on record. Measure and weigh one: its density counts from then
      on.</p>
    <p v-if="row.moisture_pct" class="second">{{ row.moisture_pct }} % water on average.</p>
    <table v-if="boards.length">
      <thead><tr><th>Board</th><th>long × wide × thick</th><th>kg/m³</th><th>water</th></tr></thead>
      <tbody><tr v-for="b in boards" :key="b.board">
        <td>{{ b.name }}</td>
        <td class="num">{{ [b.length_mm, b.width_mm, b.thickness_mm].map((v) => length(v, 0)).join(' × ') }}</td>
        <td class="num">{{ b.density_kg_m3 ? grouped(b.density_kg_m3) : '–' }}</td>
        <td class="num">{{ b.moisture_pct ? `${b.moisture_pct} %` : '–' }}</td>
      </tr></tbody>
    </table>
    <form v-if="adding" class="add" @submit.prevent="keep">
      <v-text-field v-model="fresh.name" label="Name or place" maxlength="80" class="wide" />
      <NumberField v-model="fresh.length_mm" label="Long" /><NumberField v-model="fresh.width_mm" label="Wide" />
      <NumberField v-model="fresh.thickness_mm" label="Thick" />
      <v-text-field v-model="fresh.weighed" label="Weighs" suffix="kg" inputmode="decimal" />
      <v-text-field v-model="fresh.moisture" label="Water in it" suffix="%" inputmode="decimal" />
      <p v-if="wrong" class="ember wide" role="alert">{{ wrong }}</p>
      <div class="acts wide"><button class="cure lead" type="submit">Keep the board</button>
        <button class="plain" type="button" @click="adding = false">Leave it</button></div>
    </form>
    <button v-else class="cure" @click="adding = true">Put a board on record</button>
  </section>
</template>

<style scoped>
.boards {
  border-top: 1px solid var(--rule); padding-top: 12px; margin-top: 16px; display: flex;
  flex-direction: column; gap: 8px;
  align-items: flex-start;
}
p { margin: 0; }
table { border-collapse: collapse; width: 100%; }
th { font-weight: 400; color: var(--ink3); text-align: left; }
td { border-top: 1px solid var(--rule); padding: 4px 8px 4px 0; }
.num { white-space: nowrap; }
.add { display: grid; grid-template-columns: 1fr 1fr; gap: 10px; width: 100%; }
.wide { grid-column: 1 / -1; }
.acts { display: flex; gap: 18px; align-items: center; }
.ember { color: var(--ember); }
</style>
