<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { OwnShop, RouteRow } from '../api/types'
import TopNav from '../own/TopNav.vue'

const router = useRouter()
const rows = ref<RouteRow[]>([])
const count = ref(0)
const search = ref('')
const wrong = ref('')
const asked = ref(false)
const shop = ref<OwnShop | null>(null)
const file = ref<HTMLInputElement>()
async function load(more = false) {
  try {
    const answer = await api.routes(search.value, more ? rows.value.length : 0)
    rows.value = more ? [...rows.value, ...answer.routes] : answer.routes
    count.value = answer.count
    asked.value = true
  } catch (error) {
    if (error instanceof BirchFailure && error.status === 401) await router.replace('/signed-out')
    else wrong.value = (error as Error).message
  }
}
async function bring(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  wrong.value = ''
  try {
    if (chosen.size > 8_000_000) throw new Error(`${chosen.name} is larger than 8 MB; a route file never is.`)
    const state = await api.import_route(await chosen.text())
    await router.push(`/routes/${state.route}/route`)
  } catch (error) {
    wrong.value = (error as Error).message
  } finally {
    if (file.value) file.value.value = ''
  }
}
async function like(id: number) {
  try {
    const state = await api.copy(id)
    await router.push(`/routes/${state.route}/measure`)
  } catch (error) {
    wrong.value = (error as Error).message
  }
}
const day = (text: string) => new Date(text).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
onMounted(async () => {
  await load()
  shop.value = await api.own_shop().catch(() => null)
})
watch(search, () => void load())
</script>

<template>
  <main class="bench">
    <TopNav />
    <div class="head">
      <h1>On the bench</h1>
      <v-text-field v-model="search" label="Find a job" class="find" clearable />
      <button class="cure" @click="file?.click()">Bring in a route file</button>
      <router-link class="go" to="/new">New job</router-link>
      <input ref="file" type="file" accept=".json,application/json" class="visually-hidden" aria-label="Route file" tabindex="-1" @change="bring" />
    </div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <ul>
      <li v-for="r in rows" :key="r.id">
        <router-link :to="`/routes/${r.id}/route`">
          <svg width="26" height="62" viewBox="0 0 26 62" aria-hidden="true"><rect x="3" width="20" height="62" fill="#f8f5ef" stroke="#b3a893" /><path v-for="k in 5" :key="k" :d="`M${6 + ((r.id * k * 7) % 6)} ${k * 11 - 2}q4 -2.6 9 0q-4 2 -9 0z`" fill="#1d1a17" /></svg>
          <span class="name word">{{ r.name }}</span>
          <span class="second">{{ r.piece_kind }}, {{ r.wood.replace('_', ' ') }}</span>
          <span class="note second">{{ r.note }}</span>
          <button class="cure like" :title="`A new job like ${r.name}, with nothing measured yet`" @click.prevent="like(r.id)">New one like it</button>
          <span class="least when">revision {{ r.latest }}, {{ r.author }}, {{ day(r.changed_at) }}</span>
        </router-link>
      </li>
    </ul>
    <div v-if="asked && !rows.length" class="none">
      <p v-if="!search && shop && !shop.machines" class="word">The shop is empty: no name, no machine, no job.
        <router-link class="go" to="/shop">Begin with the shop</router-link></p>
      <p v-else
        class="word">{{ search ? `No job has “${search}” in its name.` : 'No jobs yet. Bring in a route file; three stand in the examples folder.' }}</p>
    </div>
    <button v-if="rows.length < count" class="plain" @click="load(true)">{{ count - rows.length }} more</button>
  </main>
</template>

<style scoped>
.bench { padding: 10px 34px 34px; max-width: 1180px; margin: 0 auto; height: 100vh; overflow-y: auto; }
.head { display: flex; gap: 20px; align-items: center; margin: 20px 0 12px; }
.find { max-width: 300px; margin-left: auto; }
ul { list-style: none; padding: 0; margin: 0; }
li { border-top: 1px solid var(--rule); }
li a { display: grid; grid-template-columns: 40px 240px 150px 1fr auto auto; gap: 14px; align-items: center; text-decoration: none; padding: 0 6px; min-height: 62px; }
li a:hover { background: var(--bark); }
.name { font-size: 20px; }
.go { text-decoration: none; }
.none { padding: 34px 0; font-size: 18px; }
.ember { color: var(--ember); }
@media (max-width: 900px) { li a { grid-template-columns: 40px 1fr; } .note, .when { display: none; } }
</style>
