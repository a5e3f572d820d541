<script setup lang="ts">
import { computed, onMounted, reactive, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { OwnShop, RackRow, Shop } from '../api/types'
import BitLife from '../bits/BitLife.vue'
import BitSize from '../bits/BitSize.vue'
import RackStrip from '../bits/RackStrip.vue'
import { bought, length } from '../units/format'
import TopNav from './TopNav.vue'

/** The rack without a job. At first it asks which of the bits that are offered hang in this shop. */
const rows = ref<RackRow[]>([])
const own = ref<OwnShop | null>(null)
const shop = ref<Shop | null>(null)
const chosen = ref('')
const wrong = ref('')
const adding = ref(false)
const here = reactive<Record<string, boolean>>({})
const first = computed(() => own.value !== null && own.value.bits === 0)
const row = computed(() => rows.value.find((r) => r.bit.id === chosen.value) ?? rows.value[0])
const names = computed(() => Object.fromEntries((shop.value?.woods ?? []).map((w) => [w.id, w.name])))
const ticked = computed(() => Object.keys(here).filter((id) => here[id]))
async function act(make: () => Promise<void>) {
  wrong.value = ''
  try { await make() } catch (error) {
    if (error instanceof BirchFailure && error.status === 401) window.location.assign('/signed-out')
    else wrong.value = (error as Error).message
  }
}
onMounted(() => act(async () => {
  [rows.value, own.value, shop.value] = await Promise.all([api.rack(), api.own_shop(), api.shop()])
}))
const hangs = computed(() => {
  if (!ticked.value.length) return 'None of them hangs here'
  return ticked.value.length === 1 ? 'This one hangs here' : `These ${ticked.value.length} hang here`
})
const lead = computed(() => (first.value
  ? 'Programs are planned with the bits you have, and with none else. Tick those that are near enough; what differs is '
    + 'changed after. Bits of your own are added then.'
  : 'A job keeps the bits it was made with; what is measured here reaches every job that uses the bit. Those put away '
    + 'stand pale.'))
const say_first = () => act(async () => {
  rows.value = await api.first_bits(ticked.value)
  own.value = await api.own_shop()
})
function tick_all(on: boolean) { for (const r of rows.value) here[r.bit.id] = on }
async function bring(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) {
    await act(async () => {
      rows.value = await api.take_rack(await file.text())
      own.value = await api.own_shop()
    })
  }
  ;(event.target as HTMLInputElement).value = ''
}
const sizes = (r: RackRow) => (
  `${bought(r.bit.diameter_mm)} across, cuts ${length(r.bit.cutting_length_mm, 1)}, `
  + `shank ${bought(r.bit.shank_diameter_mm)}`)
</script>

<template>
  <main class="rack-page">
    <TopNav />
    <h1>{{ first ? 'Which of these hang in your shop?' : 'The rack' }}</h1>
    <p class="word lead">{{ lead }}</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <RackStrip v-if="rows.length" :rows="rows" :chosen="first ? '' : row?.bit.id ?? ''" :in_route="[]"
      @choose="(id) => (first ? (here[id] = !here[id]) : (chosen = id, adding = false))" />
    <template v-if="first">
      <ul class="ticks">
        <li v-for="r in rows" :key="r.bit.id"><v-checkbox v-model="here[r.bit.id]"
          :label="`${r.bit.name}: ${sizes(r)}`" hide-details /></li>
      </ul>
      <p class="acts"><button class="go" @click="say_first">{{ hangs }}</button>
        <button class="plain" @click="tick_all(true)">Tick all</button></p>
    </template>
    <div v-else-if="row" class="two">
      <section><h2>{{ row.bit.name }}</h2>
        <BitLife :row="row" :rows="rows" :woods="names" :in_route="true" @rows="(r) => (rows = r)" /></section>
      <section>
        <h2>Another bit</h2>
        <button v-if="!adding" class="cure" @click="adding = true">Hang another bit on the rack</button>
        <BitSize v-else :row="null" :rows="rows" @rows="(r, id) => { rows = r; chosen = id; adding = false }" />
        <p class="second">The rack as <a href="/api/rack.csv" download>CSV</a>, or
          <label class="plain">bring one in<input type="file" accept=".csv,text/csv" class="visually-hidden"
            @change="bring"></label>.</p>
        <router-link class="plain" to="/shop">Back to the shop</router-link>
      </section>
    </div>
  </main>
</template>

<style scoped>
.rack-page { padding: 6px 34px 24px; height: 100vh; overflow-y: auto; }
.lead { font-size: 17px; max-width: 780px; margin: 4px 0 12px; }
.ticks {
  list-style: none; padding: 0; margin: 12px 0; display: grid;
  grid-template-columns: repeat(auto-fill, minmax(380px, 1fr));
}
.acts { display: flex; gap: 20px; align-items: center; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 40px; margin-top: 14px; }
.two > section { display: flex; flex-direction: column; gap: 8px; align-items: flex-start; }
.two > section > * { width: 100%; }
.two > section > .cure, .two > section > a { width: auto; }
.ember { color: var(--ember); }
@media (max-width: 900px) { .two { grid-template-columns: 1fr; } .ticks { grid-template-columns: 1fr; } }
</style>
