<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { AtMachineRow } from '../api/types'
import { open } from '../route/store'

/** The way from the run sheet to the machine: one thing at a time there, kept as it happens. */
const props = defineProps<{ route: number; released: boolean }>()
const router = useRouter()
const runs = ref<AtMachineRow[]>([])
const wrong = ref('')
const load = async () => { runs.value = await api.at_machine_runs(props.route).catch(() => runs.value) }
onMounted(load)
watch(() => props.released, load)
const going = () => runs.value.find((r) => !r.closed_at && r.revision === open.state?.revision)
async function go() {
  wrong.value = ''
  try {
    const run = await api.begin_at_machine(props.route)
    void router.push(`/at-machine/${run.id}`)
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.message
  }
}
const day = (iso: string) => new Date(iso).toLocaleString([], {
  day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit',
})
</script>

<template>
  <div class="go-there">
    <h2>At the machine</h2>
    <p class="second">One thing at a time, large enough to read from a metre away. What is ticked there stays, whatever
      happens to the tablet.</p>
    <button :class="released || going() ? 'go' : 'cure'" @click="go">{{
      going() ? `Go on with the run of ${day(going()!.made_at)}` : 'Begin a run at the machine' }}</button>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <ul v-if="runs.some((r) => r.closed_at)">
      <li v-for="r in runs.filter((x) => x.closed_at).slice(0, 5)" :key="r.id"><RouterLink
        :to="`/at-machine/${r.id}`">Run of {{ day(r.made_at) }}</RouterLink> <span class="second">revision
        {{ r.revision }}, {{ r.made_by }}, closed</span></li>
    </ul>
  </div>
</template>

<style scoped>
.go-there { display: flex; flex-direction: column; gap: 8px; align-items: flex-start; }
p { margin: 0; }
ul { margin: 0; padding-left: 18px; }
.ember { color: var(--ember); }
</style>
