<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Edit, FitPocket } from '../api/types'
import { making } from '../route/making'
import { edit, open } from '../route/store'
import { length, say } from '../units/format'

/** What fitted in this shop before, and one press that starts from it. */
const rows = ref<FitPocket[]>([])
const wrong = ref('')
async function load() {
  try { rows.value = await api.fits(open.state!.route) } catch (error) { wrong.value = (error as Error).message }
}
onMounted(load)
watch(() => open.state?.hash, load)
const { wrong: ladder_wrong, busy, make } = making()
const ladders = computed(() => rows.value.filter((r) => r.ladder !== null))
const take = (r: FitPocket, edits: FitPocket['gap'], what: string) =>
  edit(edits!.edits as unknown as Edit[], `${what}, ${r.name.toLowerCase()}`)
</script>

<template>
  <section v-if="rows.length || wrong">
    <p v-if="wrong || ladder_wrong" class="ember" role="alert">{{ wrong || ladder_wrong }}</p>
    <h2 v-if="rows.some((r) => r.gap || r.past)">What fitted here</h2>
    <template v-for="r in rows" :key="r.feature">
      <div v-if="r.gap" class="one"><p><b>{{ r.name }}.</b> {{ say(r.gap.words) }}.</p>
        <button v-if="r.gap.edits.length" class="cure" @click="take(r, r.gap, 'The gap that fitted')">Draw it with the
          gap that fitted</button><p v-else class="second">It is drawn so.</p></div>
      <div v-if="r.past" class="one"><p><b>{{ r.name }}.</b> {{ say(r.past.words) }}.</p>
        <button v-if="r.past.edits.length" class="cure"
          @click="take(r, r.past, 'The wall moved by what it comes out')">Move the wall by that</button>
        <p v-else class="second">Its wall is moved by that.</p></div>
    </template>
    <details v-if="ladders.length"><summary>Try a fit on scrap first</summary>
      <div v-for="r in ladders" :key="r.feature" class="one">
        <p><b>{{ r.name }}.</b> {{ r.ladder!.count }} pockets in scrap of this wood for
          {{ length(r.ladder!.across_mm) }}, gaps from {{ length(r.ladder!.first_gap_mm) }} in steps of
          {{ length(r.ladder!.step_mm) }}: the first it goes into is your gap.</p>
        <button class="cure" :disabled="busy" :aria-label="`Make the ladder for ${r.name.toLowerCase()} a job`"
          @click="make(() => api.make_fit(open.state!.route, r.ladder!))">Make the ladder a job</button>
      </div></details>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
h2 { margin-top: 12px; }
.one { border-top: 1px solid var(--rule); padding: 6px 0; }
.ember { color: var(--ember); }
</style>
