<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { LikedView } from '../api/types'
import type { Numbers } from '../board/fields'
import NumberField from '../fields/NumberField.vue'
import { edit } from '../route/store'
import { length } from '../units/format'

/** A neck that people like, read by the caliper at a few frets: its numbers by least squares, with what they miss. */
const props = defineProps<{ neck: Numbers }>()
interface Row { fret: number | null; thick_mm: number | null; below_mm: number | null; wide_mm: number | null }
const row = (fret: number): Row => ({ fret, thick_mm: null, below_mm: null, wide_mm: null })
const rows = reactive<Row[]>([row(1), row(5), row(9), row(12)])
const found = ref<LikedView | null>(null)
const of = ref('') // the readings it was found from
const wrong = ref('')
const told = computed(() => rows.filter((r) => r.fret !== null && (r.thick_mm !== null || r.wide_mm !== null)))
const stale = computed(() => found.value !== null && of.value !== JSON.stringify(told.value))
const enough = computed(() => told.value.filter((r) => r.thick_mm !== null).length > 1)
async function fit() {
  wrong.value = ''
  const asked = JSON.stringify(told.value)
  try {
    found.value = await api.fit_liked(props.neck, told.value)
    of.value = asked
  } catch (error) {
    found.value = null
    wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
  }
}
const off = (k: number, which: 'thick_off_mm' | 'wide_off_mm') => {
  const at = told.value.indexOf(rows[k])
  const value = stale.value || at < 0 ? null : found.value?.[which][at] ?? null
  return value === null ? '' : `${value < 0 ? '−' : '+'}${length(Math.abs(value), 2)}`
}
const worst = computed(() => Math.max(0, ...[...found.value?.thick_off_mm ?? [], ...found.value?.wide_off_mm ?? []]
  .map((v) => Math.abs(v ?? 0))))
function take() {
  const f = found.value
  if (!f) return
  void edit([
    { do: 'set', path: 'piece.neck.thick_1st_mm', value: f.thick_1st_mm },
    { do: 'set', path: 'piece.neck.thick_12th_mm', value: f.thick_12th_mm },
    { do: 'set', path: 'piece.neck.stations', value: f.stations },
  ], 'A back as it was read')
}
</script>

<template>
  <details class="liked">
    <summary>Read a neck you like</summary>
    <table><thead><tr><th>Fret</th><th>Thick, with board</th><th>Off</th><th>So far below the board</th>
      <th>it is wide</th><th>Off</th></tr></thead>
      <tbody><tr v-for="(r, k) in rows" :key="k">
        <td><NumberField v-model="r.fret" label="Fret" kind="number" :places="0" /></td>
        <td><NumberField v-model="r.thick_mm" :label="`Thick, reading ${k + 1}`" :places="2" /></td>
        <td class="num">{{ off(k, 'thick_off_mm') }}</td>
        <td><NumberField v-model="r.below_mm" :label="`Below the board, reading ${k + 1}`" :places="2" /></td>
        <td><NumberField v-model="r.wide_mm" :label="`Wide there, reading ${k + 1}`" :places="2" /></td>
        <td class="num">{{ off(k, 'wide_off_mm') }}</td></tr></tbody></table>
    <div class="acts"><button class="plain" :disabled="rows.length >= 24" @click="rows.push(row(7))">One more
      reading</button>
      <button class="cure" :disabled="!enough" @click="fit">Fit a back to them</button></div>
    <p v-if="!enough" class="least">Thickness at two frets at least; two widths give its shape too. Several rows may be
      of one fret.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <template v-if="found && !stale">
      <p>{{ length(found.thick_1st_mm, 2) }} thick at the 1st, {{ length(found.thick_12th_mm, 2) }} at the 12th<template
        v-if="found.rim !== null">; shoulders {{ found.rim.toFixed(2) }}, apex {{ found.apex?.toFixed(2) }}</template>.
        Off by {{ length(worst, 2) }} at most.</p>
      <p v-if="found.rim === null" class="least">Its shape stays as it is: no two widths were read.</p>
      <button class="cure lead" @click="take">Take this back</button></template>
  </details>
</template>

<style scoped>
.liked summary { cursor: pointer; min-height: 28px; text-decoration: underline; text-underline-offset: 3px; }
table { border-collapse: collapse; width: 100%; table-layout: fixed; }
th:nth-child(3), th:nth-child(6) { width: 52px; }
th:first-child { width: 64px; }
th { text-align: left; font-weight: 400; color: var(--ink2); vertical-align: bottom; }
td, th { padding: 4px 6px 4px 0; }
.num { white-space: nowrap; min-width: 44px; }
.acts { display: flex; gap: 16px; align-items: center; }
p { margin: 6px 0; }
.ember { color: var(--ember); }
</style>
