<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { JobRow, OwnShop } from '../api/types'
import TopNav from '../own/TopNav.vue'
import JobLine from './JobLine.vue'

/** All jobs: those on the bench with how far each is, and those that are put away. */
const router = useRouter()
const rows = ref<JobRow[]>([])
const [count, away_count] = [ref(0), ref(0)]
const search = ref<string | null>('')
const away = ref(false)
const wrong = ref('')
const asked = ref(false)
const shop = ref<OwnShop | null>(null)
const file = ref<HTMLInputElement>()
async function load(more = false) {
  try {
    const answer = await api.routes(search.value ?? '', more ? rows.value.length : 0, away.value)
    rows.value = more ? [...rows.value, ...answer.routes] : answer.routes
    count.value = answer.count
    away_count.value = answer.away
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
onMounted(async () => {
  await load()
  shop.value = await api.own_shop().catch(() => null)
})
let waiting = 0
watch(search, () => { window.clearTimeout(waiting); waiting = window.setTimeout(() => void load(), 200) })
watch(away, () => void load())
const changed = () => { wrong.value = ''; void load() }
</script>

<template>
  <main class="bench">
    <TopNav />
    <div class="head">
      <h1>{{ away ? 'Put away' : 'On the bench' }}</h1>
      <v-text-field v-model="search" label="Find: name, wood, kind, word in a note" class="find" clearable />
      <button class="cure" @click="file?.click()">Bring in a route file</button>
      <router-link class="go" to="/new">New job</router-link>
      <input ref="file" type="file" accept=".json,application/json" class="visually-hidden" aria-label="Route file" tabindex="-1" @change="bring" />
    </div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <ul :aria-label="away ? 'Jobs that are put away' : 'Jobs on the bench'">
      <JobLine v-for="r in rows" :key="`${r.id} ${r.latest} ${r.away_since ?? ''}`" :job="r" @changed="changed"
        @wrong="(words) => wrong = words" />
    </ul>
    <div v-if="asked && !rows.length" class="none">
      <p v-if="search" class="word">No job {{ away ? 'that is put away' : 'on the bench' }} has “{{ search }}” in
        its name, note, wood or kind.</p>
      <p v-else-if="away" class="word">Nothing is put away.</p>
      <p v-else-if="shop && !shop.machines" class="word">The shop is empty: no name, no machine, no job.
        <router-link class="go" to="/shop">Begin with the shop</router-link></p>
      <p v-else class="word">No jobs {{ away_count ? 'on the bench' : 'yet' }}. Bring in a route file; three stand in
        the examples folder.</p>
    </div>
    <button v-if="rows.length < count" class="plain" @click="load(true)">{{ count - rows.length }} more</button>
    <p class="foot">
      <button v-if="away" class="plain" @click="away = false">Back to the bench</button>
      <template v-else><span v-if="away_count">Put away: {{ away_count }}.
        <button class="plain" @click="away = true">Look through them</button></span></template>
      <span v-if="rows.length" class="second">Pieces as they stand: bark is still to do, bare wood is done.</span>
    </p>
  </main>
</template>

<style scoped>
.bench { padding: 10px 34px 34px; max-width: 1280px; margin: 0 auto; height: 100vh; overflow-y: auto; }
.head { display: flex; gap: 20px; align-items: center; margin: 20px 0 12px; flex-wrap: wrap; }
.find { max-width: 340px; min-width: 220px; margin-left: auto; }
ul { list-style: none; padding: 0; margin: 0; border-bottom: 1px solid var(--rule); }
.go { text-decoration: none; }
.none { padding: 34px 0; font-size: 18px; }
.ember { color: var(--ember); }
.foot { display: flex; justify-content: space-between; flex-wrap: wrap; gap: 10px; padding-top: 10px; }
@media (max-width: 560px) { .bench { padding: 10px 14px 24px; } }
</style>
