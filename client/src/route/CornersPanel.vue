<script setup lang="ts">
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { api } from '../api/client'
import type { CornersState } from '../api/types'
import { length } from '../units/format'

/** The proof at the corners of the tolerance: asked for by hand, stopped at will, the corner that breaks first in front. */
const props = defineProps<{ hash: string }>()
const state = ref<CornersState | null>(null)
const wrong = ref('')
let timer = 0
const running = computed(() => state.value?.status === 'waiting' || state.value?.status === 'working')
const broken = computed(() => state.value?.result?.corners?.filter((c) => c.findings.length) ?? [])
const span = computed(() => { const r = state.value!.result!; return `${length(r.thinnest_mm)} to ${length(r.thickest_mm)}${r.measured ? '' : ', a starting figure: no thickness was read'}, zero off by ${length(r.zero_mm)}` })

async function look(ask = false) {
  window.clearTimeout(timer)
  const hash = props.hash
  try {
    const now = await (ask ? api.ask_corners(hash) : api.corners(hash))
    if (hash !== props.hash) return
    state.value = now
    wrong.value = ''
    if (running.value) timer = window.setTimeout(() => void look(), 400)
  } catch (error) { wrong.value = (error as Error).message }
}
async function stop() { await api.stop_corners(props.hash); await look() }
const way = (c: { thicker_mm: number; zero_mm: number; holds_to: number }) => (c.holds_to === 0 ? 'Breaks at once.' : `Holds for ${length(Math.abs(c.thicker_mm) * c.holds_to)} in thickness with ${length(Math.abs(c.zero_mm) * c.holds_to)} in zero.`)
watch(() => props.hash, () => { state.value = null; void look() }, { immediate: true })
onBeforeUnmount(() => window.clearTimeout(timer))
</script>

<template>
  <section class="corners" aria-label="Corners of the tolerance">
    <p v-if="running" class="second" role="status">Trying the corners, {{ state!.done }} of {{ state!.of || '…' }} simulations. <button class="plain" @click="stop">Stop</button></p>
    <template v-else-if="state?.status === 'done' && state.result">
      <p v-if="!broken.length"><b>Holds at every corner of the tolerance:</b> blank {{ span }}.</p>
      <template v-else>
        <p><b>{{ broken[0].name }}</b> breaks first. {{ way(broken[0]) }}</p>
        <div v-for="c in broken" :key="c.id" class="corner"><p v-if="c !== broken[0]">
          <b>{{ c.name }}.</b> {{ way(c) }}</p><p v-for="(f, k) in c.findings.slice(0, 3)" :key="k"
          class="word">{{ f.sentence }}</p></div>
        <p class="second">Blank {{ span }}.<template v-if="!state.result.measured"> <router-link :to="`/routes/${$route.params.id}/blank`">Read its thickness</router-link> and the span shrinks to what it really is.</template></p>
      </template>
    </template>
    <p v-else-if="state?.status === 'failed'" class="ember">{{ state.result?.message }}</p>
    <button v-if="state && ['never', 'stopped', 'failed'].includes(state.status)" class="cure" @click="look(true)">Try the thinnest and thickest blank, zero off both ways</button>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
.corners { border-top: 1px solid var(--rule); margin-top: 8px; padding-top: 6px; }
.corner { border-left: 4px solid var(--amber); padding-left: 10px; margin: 4px 0; }
.ember { color: var(--ember); }
</style>
