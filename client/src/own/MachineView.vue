<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api/client'
import FigureSheet from './FigureSheet.vue'
import MachineFigures from './MachineFigures.vue'
import MachineJobs from './MachineJobs.vue'
import MachineMeasure from './MachineMeasure.vue'
import MachineWords from './MachineWords.vue'
import TopNav from './TopNav.vue'
import { at, keep, open_machine, put_back } from './machine'

const route = useRoute()
const router = useRouter()
const TABS = { figures: 'Its figures', measure: 'Measure it', words: 'Its words', jobs: 'Jobs on it' } as const
type Tab = keyof typeof TABS
const tab = computed<Tab>(() => (String(route.query.see ?? '') in TABS ? String(route.query.see) as Tab : 'figures'))
const name = ref('')
const asked = ref(false)
const kinds = { belt: 'on belts', bench: 'on ball screws', industrial: 'heavy' }
watch(() => at.state?.machine.name, (now) => { name.value = now ?? '' }, { immediate: true })
watch(() => String(route.params.machine), (id) => void open_machine(id), { immediate: true })
function rename() {
  const now = name.value.trim()
  if (now && now !== at.state?.machine.name) void keep((m) => ({ ...m, name: now.slice(0, 80) }))
  else name.value = at.state?.machine.name ?? ''
}
async function another() {
  const { name: like, id } = at.state!.machine
  const made = await api.add_machine({ name: `${like}, second`.slice(0, 80), like: id })
  await router.push(`/shop/machines/${made.machine}`)
}
async function away() {
  await api.put_machine_away(at.state!.machine.id)
  await router.push('/shop')
}
function undo(event: KeyboardEvent) {
  const before = at.state?.history[1]
  const typing = (event.target as HTMLElement).closest('input, textarea')
  if (typing || !before || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return
  event.preventDefault()
  void put_back(before.revision)
}
onMounted(() => window.addEventListener('keydown', undo))
onUnmounted(() => window.removeEventListener('keydown', undo))
</script>

<template>
  <main class="machine">
    <div class="top">
      <TopNav />
      <div v-if="at.state" class="title">
        <input v-model="name" class="rename word" aria-label="Name of the machine" maxlength="80"
          :style="{ width: `min(100%, ${name.length + 2}ch)` }" @change="rename">
        <span
          class="second">{{ kinds[at.state.machine.machine_class] }}. {{ at.state.figures_known }} figures,
          {{ at.state.assumed }} only assumed.</span>
        <span class="acts">
          <button class="plain" @click="another">Another like it</button>
          <button v-if="!asked" class="plain" @click="asked = true">Put away</button>
          <button v-else class="cure" @click="away">Put {{ at.state.machine.name }} away; jobs keep it</button>
        </span>
      </div>
      <div v-if="at.state?.removed" class="gone" role="status">This machine was put away. <button class="cure"
        @click="put_back(at.state.revision)">Take it back</button></div>
      <nav class="tabs" aria-label="Of this machine">
        <router-link v-for="(words, t) in TABS" :key="t" :to="{ query: { see: t } }" :class="{ here: tab === t }"
          :aria-current="tab === t ? 'page' : undefined">{{ words }}</router-link>
      </nav>
    </div>
    <p v-if="!at.state && at.wrong" class="none word">{{ at.wrong }} <router-link to="/shop">To the shop</router-link>
      </p>
    <div v-if="at.state && tab === 'figures'" class="figures">
      <div class="left"><MachineFigures />
        <p
          class="least key">A full dash was measured, a hollow one told, dots are assumed. Press a figure to see what
          rests on it and to change it.</p>
          </div>
      <FigureSheet />
    </div>
    <MachineMeasure v-if="at.state && tab === 'measure'" :key="at.state.machine.id" class="rest" />
    <MachineWords v-if="at.state && tab === 'words'" :key="at.state.machine.id" class="rest" />
    <MachineJobs v-if="at.state && tab === 'jobs'" class="rest" />
  </main>
</template>

<style scoped>
.machine { height: 100vh; display: flex; flex-direction: column; min-height: 0; }
.top { padding: 6px 34px 0; }
.title { display: flex; gap: 14px; align-items: baseline; flex-wrap: wrap; }
.rename {
  font-size: 29px; line-height: 1.1; border: 0; border-bottom: 1.5px solid transparent; max-width: 100%;
  color: var(--ink); background: none;
}
.rename:hover, .rename:focus { border-bottom-color: var(--edge); }
.title .acts { margin-left: auto; display: flex; gap: 18px; }
.tabs { display: flex; gap: 26px; border-bottom: 1px solid var(--rule); margin-top: 6px; }
.tabs a {
  text-decoration: none; color: var(--ink2); padding: 4px 0 6px; border-bottom: 2px solid transparent;
  min-height: 30px;
}
.tabs .here { color: var(--ink); font-weight: 700; border-bottom-color: var(--ink); }
.figures { flex: 1; min-height: 0; display: grid; grid-template-columns: 1fr 400px; }
.left { overflow-y: auto; padding: 8px 34px 20px; }
.rest { flex: 1; min-height: 0; }
.key { margin: 14px 0 0; }
.gone {
  background: var(--amber-tint); padding: 8px 12px; margin-top: 6px; display: flex; gap: 14px; align-items: center;
}
.none { padding: 34px; font-size: 18px; }
@media (max-width: 900px) {
  .machine { overflow-y: auto; display: block; }
  .figures { grid-template-columns: 1fr; } .figures > :last-child { order: -1; }
  .top, .left { padding-left: 14px; padding-right: 14px; }
}
</style>
