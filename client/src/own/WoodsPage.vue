<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { MaterialRow, WoodBoard } from '../api/types'
import { grouped } from '../units/format'
import BoardsOf from './BoardsOf.vue'
import MaterialSheet from './MaterialSheet.vue'
import TopNav from './TopNav.vue'

/** Woods and other materials: each as a dash on one scale of density, the shop's own first. */
const rows = ref<MaterialRow[]>([])
const boards = ref<WoodBoard[]>([])
const chosen = ref('')
const fresh = ref('')
const wrong = ref('')
const row = computed(() => rows.value.find((r) => r.wood.id === chosen.value) ?? rows.value[0])
const own = computed(() => rows.value.filter((r) => r.own))
const table = computed(() => (
  rows.value.filter((r) => !r.own).sort((a, b) => a.wood.density_kg_m3 - b.wood.density_kg_m3)))
const most = computed(() => Math.max(1200, ...rows.value.map((r) => r.wood.density_kg_m3)) * 1.03)
const LEAST = 25
const part = (kg: number) => Math.log(Math.max(kg, LEAST) / LEAST) / Math.log(most.value / LEAST)
const at = (kg: number) => `${100 * part(kg)}%`
const wide = (kg: number, off: number) => `${100 * (part(kg + off) - part(kg - off))}%`
async function act(make: () => Promise<void>) {
  wrong.value = ''
  try { await make() } catch (error) {
    if (error instanceof BirchFailure && error.status === 401) window.location.assign('/signed-out')
    else wrong.value = (error as Error).message
  }
}
const load = () => act(async () => { [rows.value, boards.value] = await Promise.all([api.materials(), api.wood()]) })
onMounted(load)
function choose(id: string) {
  chosen.value = id
  fresh.value = ''
}
function kept(now: MaterialRow[], id: string) {
  rows.value = now
  choose(id)
}
const groups = computed(() => [
  { name: 'The shop’s own', rows: own.value }, { name: 'The table', rows: table.value },
].filter((g) => g.rows.length))
const sure = (r: MaterialRow) => {
  if (!r.weighed) return ''
  const { count, spread_kg_m3: spread } = r.weighed
  return `${count} weighed${spread ? `, ± ${Math.round(spread)}` : ''}`
}
</script>

<template>
  <main class="woods">
    <div class="left">
      <TopNav />
      <h1>Woods and other materials</h1>
      <p class="second">A weighed board of yours takes the place of the table's figure. What is not in the table you add
        as your own: it borrows the settings of something it is like until a cut of it went well here.</p>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <button class="cure"
        @click="fresh = row?.wood.like || row?.wood.id || 'alder'">Add a material of your own</button>
      <section v-for="g in groups" :key="g.name">
        <h2>{{ g.name }}</h2>
        <ul>
          <li v-for="r in g.rows" :key="r.wood.id">
            <button :class="{ here: !fresh && row?.wood.id === r.wood.id }"
              :aria-pressed="!fresh && row?.wood.id === r.wood.id" @click="choose(r.wood.id)">
              <span class="name">{{ r.wood.name }}</span>
              <span class="scale" aria-hidden="true">
                <i v-if="r.weighed?.spread_kg_m3" class="spread" :style="{
                  left: at(r.wood.density_kg_m3 - r.weighed.spread_kg_m3),
                  width: wide(r.wood.density_kg_m3, r.weighed.spread_kg_m3) }" />
                <i class="told" v-if="r.weighed" :style="{ left: at(r.told_kg_m3) }" />
                <i class="dash" :class="{ weighed: r.weighed }" :style="{ left: at(r.wood.density_kg_m3) }" />
              </span>
              <b>{{ grouped(r.wood.density_kg_m3) }}</b><span class="least small">{{ sure(r) }}</span>
            </button>
          </li>
        </ul>
      </section>
      <p class="least">Dry density in kg/m³,
        each step to the right as many times more: a full dash was weighed here, a hollow one stands in the table or was
        told; the stroke beside a full one is what was told before.</p>
    </div>
    <aside class="sheet side">
      <MaterialSheet v-if="fresh" :key="`new${fresh}`" :row="null" :rows="rows" :like="fresh" @kept="kept"
        @leave="fresh = ''" />
      <template v-else-if="row">
        <MaterialSheet :key="`${row.wood.id}${row.revision}`" :row="row" :rows="rows" :like="row.wood.id"
          @kept="kept" />
        <BoardsOf :key="row.wood.id" :row="row" 
          :boards="boards.filter((b) => b.wood === row!.wood.id)" @changed="load" />
      </template>
    </aside>
  </main>
</template>

<style scoped>
.woods { height: 100vh; display: grid; grid-template-columns: 1fr 420px; min-height: 0; }
.left { padding: 6px 34px 24px; overflow-y: auto; }
.left p { max-width: 700px; }
section { margin-top: 14px; }
ul { list-style: none; margin: 4px 0 0; padding: 0; }
li { border-top: 1px solid var(--rule); }
li button {
  width: 100%; min-height: 34px; display: grid; grid-template-columns: 170px 1fr 60px 120px; gap: 12px;
  align-items: center; padding: 2px 8px;
}
li button:hover { background: var(--well); }
li .here { background: var(--moss-tint); }
.scale { position: relative; height: 18px; border-bottom: 1px solid var(--rule); }
.scale i { position: absolute; top: 5px; }
.dash { width: 16px; height: 8px; margin-left: -8px; border: 1.4px solid var(--ink); border-radius: 50%; }
.dash.weighed { background: var(--ink); }
.told { width: 1.5px; height: 14px; top: 2px !important; background: var(--ink3); }
.spread { height: 8px; background: var(--inner); opacity: .55; }
b { text-align: right; }
.small { font-size: 14px; }
.side { padding: 22px 26px; overflow-y: auto; }
.ember { color: var(--ember); }
@media (max-width: 900px) {
  .woods { grid-template-columns: 1fr; height: auto; }
  .left { padding: 6px 14px; }
  li button { grid-template-columns: 1fr 60px; }
  .scale, .small { display: none; }
}
</style>
