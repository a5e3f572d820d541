<script setup lang="ts">
import { ref } from 'vue'
import { BirchFailure, api } from '../api/client'
import { at, open_machine, put_back } from './machine'

/** The jobs a machine reaches, and what it was before. A job keeps the figures it has until it is given the new
 *  ones. */
const wrong = ref('')
const busy = ref(0)
const day = (text: string) => (
  new Date(text).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }))
async function give(route: number) {
  wrong.value = ''
  busy.value = route
  const machine = at.state!.machine
  try {
    const { revision } = await api.route(route)
    await api.edit(route, revision, [{ do: 'set', path: 'machine', value: machine }], `${machine.name} as it is now`)
    await open_machine(machine.id)
  } catch (error) {
    wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
  } finally { busy.value = 0 }
}
</script>

<template>
  <div v-if="at.state" class="two">
    <section>
      <h2>Jobs on this machine</h2>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <p v-if="!at.state.reaches.length"
        class="second">None yet. A new job asks which machine it is for; a job that is there is moved on its Shop
        page.</p>
      <ul>
        <li v-for="r in at.state.reaches" :key="r.route">
          <div class="job"><router-link :to="`/routes/${r.route}/route`">{{ r.name }}</router-link>
            <span
              class="second">{{ r.differs.length ? `${r.differs.length} figures are other than here` : 'has these figures' }}</span>
            <button v-if="r.differs.length" class="cure" :disabled="busy > 0"
              @click="give(r.route)">Give it these figures</button></div>
          <details v-if="r.differs.length"><summary>What differs</summary>
            <p v-for="d in r.differs" :key="d.name">{{ d.words }}: {{ d.before }} there, <b>{{ d.after }}</b> here</p>
              </details>
        </li>
      </ul>
      <p
        class="least">Giving new figures makes a new revision of the job, which is checked again. What was released
        before keeps its own.</p>
    </section>
    <section>
      <h2>What it was</h2>
      <ul>
        <li v-for="(h, n) in at.state.history" :key="h.revision">
          <div class="job"><span>{{ h.what }}</span><span class="second">{{ h.made_by }}, {{ day(h.made_at) }}</span>
            <span v-if="n === 0" class="second">now</span>
            <button v-else class="plain" :disabled="at.busy" @click="put_back(h.revision)">Put back</button></div>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.two {
  display: grid; grid-template-columns: 1fr 1fr; gap: 40px; padding: 8px 34px 24px; overflow-y: auto; height: 100%;
}
ul { list-style: none; padding: 0; margin: 6px 0; }
li { border-top: 1px solid var(--rule); padding: 8px 0; }
.job { display: flex; gap: 14px; align-items: center; flex-wrap: wrap; }
.job > :first-child { flex: 1 1 220px; }
.ember { color: var(--ember); }
details p { margin: 2px 0 2px 14px; }
summary { min-height: 26px; cursor: pointer; }
@media (max-width: 900px) { .two { grid-template-columns: 1fr; } }
</style>
