<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { KindRow } from '../api/types'
import { grouped, length, rate, rate_unit } from '../units/format'
import BedDrawing from './BedDrawing.vue'
import TopNav from './TopNav.vue'

/** A machine is started from the nearest kind, or from a file; what is different is changed after. */
const router = useRouter()
const kinds = ref<KindRow[]>([])
const name = ref('')
const wrong = ref('')
const busy = ref(false)
const file = ref<HTMLInputElement>()
const LIGHT_FIRST = ['belt', 'bench', 'industrial']
onMounted(async () => {
  const order = (k: KindRow) => LIGHT_FIRST.indexOf(k.machine.machine_class)
  kinds.value = (await api.machine_kinds()).sort((a, b) => order(a) - order(b))
})
const ROOM = 640
const scale = computed(() => ROOM / kinds.value.reduce((sum, k) => sum + k.machine.travel_mm[0], 1))
async function made(act: () => Promise<{ machine: string }>) {
  wrong.value = ''
  busy.value = true
  try {
    await router.push(`/shop/machines/${(await act()).machine}`)
  } catch (error) { wrong.value = (error as Error).message } finally { busy.value = false }
}
const start = ({ machine }: KindRow) => (
  made(() => api.add_machine({ name: name.value.trim() || machine.name, kind: machine.id })))
async function bring(event: Event) {
  const chosen = (event.target as HTMLInputElement).files?.[0]
  if (!chosen) return
  if (chosen.size > 200_000) wrong.value = `${chosen.name} is larger than 200 kB; a machine's file never is.`
  else await made(async () => api.bring_machine(await chosen.text()))
  if (file.value) file.value.value = ''
}
const turns = (k: KindRow) => `${grouped(k.machine.least_rpm)} to ${grouped(k.machine.greatest_rpm)} rpm`
const says = (k: KindRow) => [
  k.machine.speeds_rpm?.length
    ? `Dial with ${k.machine.speeds_rpm.length} steps, ${turns(k)}`
    : `Spindle ${turns(k)}`,
  `${grouped(k.machine.power_w)} W, feeds to ${rate(k.machine.greatest_feed_mm_min)} ${rate_unit.value}`,
  k.machine.dialect.changer_slots ? `${k.machine.dialect.changer_slots} bits in a changer` : 'bits put in by hand',
  `programs in ${k.machine.dialect.inch ? 'inches' : 'mm'}, ${k.machine.dialect.arcs ? 'with arcs' : 'lines only'}`,
  `travel ${k.machine.travel_mm.map((t) => length(t, 0)).join(' × ')}`,
]
</script>

<template>
  <main class="pick">
    <TopNav />
    <h1>Which machine stands in your shop?</h1>
    <p
      class="word lead">Take the nearest one. You change what is different, and measure the rest when you like. Until
      then every figure is assumed, and says so.</p>
    <v-text-field v-model="name" label="What you call it" class="name" maxlength="80" />
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <div class="kinds">
      <section v-for="k in kinds" :key="k.machine.id" :aria-label="k.machine.name">
        <div class="bed"><BedDrawing :machine="k.machine" :scale="scale" /></div>
        <h2>{{ k.machine.name }}</h2>
        <p v-for="s in says(k)" :key="s">{{ s }}</p>
        <p class="least">all {{ k.assumed }} figures assumed</p>
        <button class="cure" :disabled="busy" @click="start(k)">Start from this</button>
      </section>
    </div>
    <p class="ways">
      <button class="plain" @click="file?.click()">Bring in a machine's file</button>
      <input ref="file" type="file" accept=".json,application/json" class="visually-hidden" aria-label="Machine's file"
        tabindex="-1" @change="bring">
      <span class="second">None of these? Take the nearest: each figure can be changed.</span>
    </p>
  </main>
</template>

<style scoped>
.pick { padding: 6px 34px 24px; height: 100vh; overflow-y: auto; }
.lead { font-size: 17px; max-width: 720px; margin: 8px 0 12px; }
.name { max-width: 340px; padding-top: 8px; }
.kinds { display: flex; gap: 26px; align-items: flex-end; flex-wrap: wrap; }
.kinds section { max-width: 480px; }
.kinds p { margin: 1px 0; }
.kinds h2 { margin: 6px 0 2px; }
.kinds .cure { margin-top: 10px; min-height: 36px; }
.bed { display: flex; align-items: flex-end; }
.ways {
  border-top: 1px solid var(--rule); margin-top: 20px; padding-top: 12px; display: flex; gap: 24px; flex-wrap: wrap;
}
.ember { color: var(--ember); }
</style>
