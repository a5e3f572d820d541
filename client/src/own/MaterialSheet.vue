<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { MaterialRow } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { grouped } from '../units/format'

/** One material: of the table to be read, of the shop's own to be changed. row null: a new one like another. */
const props = defineProps<{ row: MaterialRow | null; rows: MaterialRow[]; like: string }>()
const emit = defineEmits<{ kept: [rows: MaterialRow[], id: string]; leave: [] }>()
const SORTS = { wood: 'Wood', sheet: 'Sheet', plastic: 'Plastic', shell: 'Shell', metal: 'Metal' } as const
const GRAINS = { plain: 'Plain', figured: 'Figured', interlocked: 'Interlocked' } as const
const TEARS = { plain: 'tears little', figured: 'tears where the figure dives', interlocked: 'tears both ways' }
const mine = computed(() => !props.row || props.row.own)
const lender = computed(() => props.rows.find((r) => r.wood.id === form.like))
const from = props.rows.find((r) => r.wood.id === props.like)
const form = reactive({
  name: props.row?.wood.name ?? '', sort: props.row?.sort ?? from?.sort ?? 'wood',
  like: (props.row ? props.row.wood.like : props.like) as string,
  density: (props.row?.told_kg_m3 ?? from?.told_kg_m3 ?? 600) as number | null,
  tear_out: (props.row?.wood.tear_out ?? from?.wood.tear_out ?? 'plain') as string,
  dust: props.row?.wood.dust ?? '', resists: (props.row?.wood.resists ?? null) as number | null,
  note: props.row?.wood.botanical ?? '',
})
const wrong = ref('')
const asked = ref(false)
const likes = computed(() => props.rows.filter((r) => !r.own).map((r) => ({ title: r.wood.name, value: r.wood.id })))
async function keep() {
  wrong.value = ''
  const { density, sort, ...rest } = form
  const body = { ...rest, sort, density_kg_m3: density ?? 0, revision: props.row?.revision ?? 0 }
  try {
    const made = await api.keep_material(props.row?.wood.id ?? null, body)
    emit('kept', made.materials, made.material)
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  }
}
async function away() {
  const rows = await api.put_material_away(props.row!.wood.id)
  emit('kept', rows, '')
}
const force = computed(() => {
  const w = props.row?.wood
  const of = props.rows.find((r) => r.wood.id === w?.like)?.wood
  return w && of ? ((w.force_kg_m3 ?? w.density_kg_m3) / of.density_kg_m3).toFixed(2) : ''
})
</script>

<template>
  <section v-if="!mine && row" class="material">
    <h2 class="name">{{ row.wood.name }}</h2>
    <p class="second"><i>{{ row.wood.botanical }}</i>. Grain {{ row.wood.tear_out }}: it
      {{ TEARS[row.wood.tear_out as keyof typeof TEARS] }}.</p>
    <p><b>{{ grouped(row.wood.density_kg_m3) }} kg/m³</b> <span class="second">{{ row.wood.source }}</span></p>
    <p class="second">Dust: {{ row.wood.dust }}. Extraction on, mask on.</p>
  </section>
  <form v-else class="material" @submit.prevent="keep">
    <h2 class="name">{{ row ? row.wood.name : 'A material of your own' }}</h2>
    <p v-if="row" class="second">{{ row.wood.went_well
      ? `${row.wood.went_well} cuts of it went well here.`
      : `Nothing was cut in it here: ${lender?.wood.name.toLowerCase()} lends its settings, `
        + `at ${force} times the force.` }}</p>
    <v-text-field v-model="form.name" label="Name" maxlength="80" />
    <div class="choice" role="radiogroup" aria-label="What it is">
      <button v-for="(words, s) in SORTS" :key="s" type="button" role="radio" :aria-checked="form.sort === s"
        :class="{ on: form.sort === s }" @click="form.sort = s">{{ words }}</button>
    </div>
    <v-select v-model="form.like" :items="likes" label="Cuts like" />
    <NumberField v-model="form.density" label="Density" kind="number" suffix="kg/m³" />
    <NumberField v-model="form.resists" label="Times the force; empty: by what it is" kind="number" suffix="×" />
    <div class="choice" role="radiogroup" aria-label="Its grain">
      <button v-for="(words, g) in GRAINS" :key="g" type="button" role="radio" :aria-checked="form.tear_out === g"
        :class="{ on: form.tear_out === g }" @click="form.tear_out = g">{{ words }}</button>
    </div>
    <v-text-field v-model="form.dust" label="Its dust" :placeholder="lender?.wood.dust" persistent-placeholder
      maxlength="200" />
    <v-text-field v-model="form.note" label="Botanical name, or what it is" maxlength="120" />
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <div class="acts"><button class="cure lead" type="submit">Keep it</button>
      <button v-if="!row" class="plain" type="button" @click="emit('leave')">Leave it</button>
      <button v-else-if="!asked" class="plain" type="button" @click="asked = true">Put away</button>
      <button v-else class="cure" type="button" @click="away">Put it away; jobs keep it</button></div>
  </form>
</template>

<style scoped>
.material { display: flex; flex-direction: column; gap: 10px; }
.name { font-size: 22px; }
p { margin: 0; }
.acts { display: flex; gap: 18px; align-items: center; }
.ember { color: var(--ember); }
</style>
