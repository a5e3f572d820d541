<script setup lang="ts">
import { onMounted, reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { FitPocket } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { open } from '../route/store'
import { length } from '../units/format'

/** How parts went into their pockets: tried, measured, kept. It is where the next one starts. */
const props = defineProps<{ route: number }>()
const WENT = [{ title: 'Too tight', value: 'tight' }, { title: 'Fits', value: 'fits' },
  { title: 'Too loose', value: 'loose' }] as const
type Went = (typeof WENT)[number]['value']
const rows = ref<FitPocket[]>([])
const [wrong, told] = [ref(''), ref('')]
interface Line { went: Went | null; left: number; measured: number | null }
const lines = reactive<Record<string, Line>>({})
async function take(made: Promise<FitPocket[]>) {
  rows.value = await made
  rows.value.forEach((r) => { lines[r.feature] ??= { went: null, left: r.left_mm.at(-1) ?? 0, measured: null } })
}
async function load() { await take(api.fits(props.route)).catch((error: Error) => { wrong.value = error.message }) }
onMounted(load)
watch(() => open.state?.hash, load)
const lefts = (r: FitPocket) => r.left_mm.map((v) => ({ title: v ? `${length(v)} left` : 'as drawn', value: v }))
const name_of = (w: string) => WENT.find((x) => x.value === w)?.title.toLowerCase() ?? w
async function keep(r: FitPocket) {
  const line = lines[r.feature]
  wrong.value = told.value = ''
  if (!line.went) { wrong.value = `Say first how the part went into ${r.name.toLowerCase()}.`; return }
  try {
    await take(api.keep_fit(props.route, { revision: open.state!.revision, feature: r.feature, went: line.went,
      left_mm: line.left, measured_mm: line.measured, note: '' }))
    lines[r.feature] = { went: null, left: rows.value.find((x) => x.feature === r.feature)?.left_mm.at(-1) ?? 0,
      measured: null }
    told.value = `Kept: ${r.name.toLowerCase()}. It is where the next one starts.`
  } catch (error) { wrong.value = (error as Error).message }
}
async function withdraw(id: number) {
  wrong.value = told.value = ''
  try {
    await take(api.withdraw_fit(props.route, id))
    told.value = 'Withdrawn; it counts no more.'
  } catch (error) { wrong.value = (error as Error).message }
}
</script>

<template>
  <template v-if="rows.length">
    <h2>How parts fitted</h2>
    <p class="second">Try the part dry. What fitted is kept, and the next one starts from it.</p>
    <details v-for="r in rows" :key="r.feature"><summary><span>{{ r.name }}</span>
      <b v-if="r.kept[0] && !r.kept[0].withdrawn">{{ name_of(r.kept[0].went) }}</b>
      <span v-else class="least">drawn {{ length(r.gap_mm) }} wider on each side</span></summary>
      <div v-if="lines[r.feature]" class="two">
        <v-select v-model="lines[r.feature].went" :items="[...WENT]" :label="`${r.name}, it went`"
          placeholder="say how" persistent-placeholder />
        <v-select v-if="r.left_mm.length > 1" v-model="lines[r.feature].left" :items="lefts(r)"
          label="On each wall then" />
        <NumberField v-model="lines[r.feature].measured" :label="`Pocket measured, ${r.across}`" :places="2" />
        <button class="cure" @click="keep(r)">Keep this fit</button>
      </div>
      <p v-for="k in r.kept" :key="k.id" class="second log" :class="{ taken: k.withdrawn }">
        <span><b>{{ name_of(k.went) }}</b>{{ k.measured_mm === null ? '' : `, measured ${length(k.measured_mm)}` }}{{
          k.left_mm ? `, ${length(k.left_mm)} left` : '' }}. Revision {{ k.revision }}, {{ k.made_by }}, {{
          new Date(k.made_at).toLocaleDateString('en-GB') }}</span>
        <span v-if="k.withdrawn">Withdrawn by {{ k.withdrawn }}</span>
        <button v-else class="plain" :aria-label="`Withdraw how ${r.name.toLowerCase()} went, ${name_of(k.went)}`"
          @click="withdraw(k.id)">Withdraw</button></p>
    </details>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p v-if="told" role="status">{{ told }}</p>
  </template>
</template>

<style scoped>
p { margin: 0; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; padding: 8px 0 10px; align-items: center; }
summary { display: flex; justify-content: space-between; gap: 10px; cursor: pointer; min-height: 30px;
  align-items: center; border-top: 1px solid var(--rule); list-style: none; }
summary::before { content: '+'; width: 14px; flex: none; color: var(--ink2); }
details[open] summary::before { content: '−'; }
summary span:first-child { flex: 1; }
.ember { color: var(--ember); }
.log { display: flex; gap: 12px; justify-content: space-between; align-items: baseline; }
.taken > span:first-child { text-decoration: line-through; }
</style>
