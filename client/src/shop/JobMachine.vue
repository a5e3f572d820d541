<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Difference, Machine } from '../api/types'
import { edit, open } from '../route/store'
import { grouped, length, rate, rate_unit } from '../units/format'

/** The machine a job is for. Before it is moved to another, or takes what changed since, what that changes is told. */
const machines = ref<Machine[]>([])
const chosen = ref('')
const differs = ref<Difference[] | null>(null)
const doc = computed(() => open.state?.document)
const here = computed(() => doc.value?.machine.id ?? '')
const in_shop = computed(() => machines.value.some((m) => m.id === here.value))
const SPLIT = { per_setup: 'one file a setup', per_bit: 'one file a bit', per_operation: 'one file an operation' }
onMounted(async () => { machines.value = (await api.shop()).machines })
watch([chosen, () => open.state?.revision, machines], () => void look())
async function look() {
  const [route, machine] = [open.state?.route, chosen.value || (in_shop.value ? here.value : '')]
  differs.value = route === undefined || !machine ? null : await api.against(route, machine).catch(() => null)
}
async function use() {
  const machine = machines.value.find((m) => m.id === (chosen.value || here.value))
  if (!machine) return
  if (await edit([{ do: 'set', path: 'machine', value: machine }], `Use ${machine.name}`)) chosen.value = ''
}
const speeds = (m: Machine) => (m.speeds_rpm?.length
  ? `dial ${m.speeds_rpm.map(grouped).join(', ')}`
  : `${grouped(m.least_rpm)} to ${grouped(m.greatest_rpm)}`)
const told = computed(() => (chosen.value && chosen.value !== here.value
  ? `On this machine ${differs.value?.length ?? 0} figures and words are other than now:`
  : `The shop's figures are other than this job's in ${differs.value?.length ?? 0}:`))
</script>

<template>
  <div v-if="doc" class="machines">
    <p v-if="machines.length && !in_shop"
      class="second">{{ doc.machine.name }} of this job is none of the shop's now. It keeps its figures; take one of
      the shop's, or keep it.</p>
    <button
      v-for="m in machines" :key="m.id" class="machine" :class="{ here: m.id === here, chosen: m.id === chosen }"
      :aria-pressed="m.id === here" @click="chosen = m.id === here ? '' : m.id"
    >
      <b>{{ m.name }}</b>
      <span
        class="second">travel {{ m.travel_mm.map((t) => length(t, 0)).join(' × ') }}, feed to
        {{ rate(m.greatest_feed_mm_min) }} {{ rate_unit }}, {{ grouped(m.power_w) }} W</span>
      <span class="second">{{ speeds(m) }} rpm</span>
      <span
        class="second">programs in {{ m.dialect.inch ? 'inches' : 'mm' }},
        {{ m.dialect.arcs ? 'arcs' : 'lines only' }}, {{ SPLIT[m.dialect.split ?? 'per_setup'] }},
        {{ m.dialect.extension }}</span>
    </button>
    <div v-if="differs?.length" class="moves" role="status">
      <p>{{ told }}</p>
      <ul><li v-for="d in differs" :key="d.name">{{ d.words }}: {{ d.before }} now, <b>{{ d.after }}</b> then</li></ul>
      <p class="acts"><button class="cure lead"
        @click="use">{{ chosen ? 'Move the job to it' : 'Take the shop\'s figures' }}</button>
        <button v-if="chosen" class="plain" @click="chosen = ''">Leave it</button></p>
    </div>
    <div v-else-if="chosen && differs" class="moves" role="status"><p>It has the same figures and words.
      <button class="cure" @click="use">Move the job to it</button></p></div>
    <router-link class="plain"
      :to="in_shop ? `/shop/machines/${here}` : '/shop'">{{ in_shop ? `${doc.machine.name}: all its figures, its words` : 'The machines of the shop' }}</router-link>
  </div>
</template>

<style scoped>
.machines { display: flex; flex-direction: column; gap: 8px; }
.machine {
  display: flex; flex-direction: column; border: 1.5px solid var(--edge); border-radius: 2px; padding: 8px 12px;
  background: var(--bark);
}
.machine.here { border: 2.5px solid var(--ink); }
.machine.chosen { border-color: var(--moss); background: var(--moss-tint); }
.moves { border-left: 4px solid var(--moss); padding: 4px 0 4px 12px; }
.moves ul { margin: 4px 0; padding-left: 18px; max-height: 190px; overflow-y: auto; }
.moves p { margin: 0; }
.acts { display: flex; gap: 16px; align-items: center; }
</style>
