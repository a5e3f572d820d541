<script setup lang="ts">
import { computed, nextTick, onMounted, onUnmounted, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { JobRow, JobStanding } from '../api/types'
import { standing_of, when_judged } from './standings'
import JobPiece from './JobPiece.vue'
import JobTrunk from './JobTrunk.vue'

/** One job on the bench: its piece, its steps, what it waits for; renamed, noted, copied and put away here. */
const props = defineProps<{ job: JobRow }>()
const emit = defineEmits<{ changed: []; wrong: [words: string] }>()
const router = useRouter()
const stands = ref<JobStanding | null>(null)
const load = async () => { stands.value = await standing_of(props.job.id) ?? stands.value }
onMounted(load)
onUnmounted(when_judged(props.job.hash, load))
type Asking = '' | 'name' | 'note' | 'copy'
const at = reactive({ asking: '' as Asking, text: '', readings: false, busy: false })
const field = ref<HTMLInputElement | HTMLTextAreaElement>()
const PLACES = { measure: 'Measure', route: 'Look at it', hold: 'Hold', run: 'Go on' }
const time = (text: string) => new Date(text).toLocaleString('en-GB', {
  weekday: 'long', hour: '2-digit', minute: '2-digit',
})
const day = (text: string) => new Date(text).toLocaleDateString('en-GB', {
  day: 'numeric', month: 'short', year: 'numeric',
})
const words = computed(() => {
  const s = stands.value
  return !s ? '' : s.waits_until ? `${s.words} until ${time(s.waits_until)}.` : `${s.words}.`
})
const to = computed(() => `/routes/${props.job.id}/route`)
async function ask(what: Asking) {
  Object.assign(at, {
    asking: what, readings: false,
    text: what === 'copy' ? `${props.job.name.slice(0, 70)}, new` : what === 'note' ? props.job.note : props.job.name,
  })
  await nextTick()
  field.value?.focus()
  field.value?.select()
}
async function act(make: () => Promise<unknown>) {
  if (at.busy) return
  at.busy = true
  try {
    await make()
    at.asking = ''
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    emit('wrong', `${props.job.name}: ${error.failure.message}`)
  } finally { at.busy = false }
}
const keep = () => act(async () => {
  const text = at.text.trim()
  if (at.asking === 'copy') {
    const made = await api.copy(props.job.id, text, at.readings)
    return router.push(`/routes/${made.route}/${at.readings ? 'route' : 'measure'}`)
  }
  const path = at.asking === 'note' ? 'note' : 'job'
  if (text !== (path === 'note' ? props.job.note : props.job.name)) {
    await api.edit(props.job.id, props.job.latest, [{ do: 'set', path, value: text }])
  }
  emit('changed')
})
const put_away = (away: boolean) => act(async () => {
  await api.put_away(props.job.id, away)
  emit('changed')
})
</script>

<template>
  <li :class="{ asking: at.asking }">
    <router-link :to="to" class="piece" tabindex="-1" aria-hidden="true">
      <JobPiece v-if="stands" :of="stands" /></router-link>
    <div class="who">
      <form v-if="at.asking" class="ask" @submit.prevent="keep" @keydown.esc="at.asking = ''">
        <label>{{ at.asking === 'note' ? 'Note' : at.asking === 'copy' ? 'Name of the new job' : 'Name' }}
          <textarea v-if="at.asking === 'note'" ref="field" v-model="at.text" rows="3" maxlength="4000" />
          <input v-else ref="field" v-model="at.text" maxlength="80" required autocomplete="off" />
        </label>
        <label v-if="at.asking === 'copy'" class="tick"><input v-model="at.readings" type="checkbox" />
          The readings come along: it takes the very same parts</label>
        <span class="acts">
          <button class="cure" :disabled="at.busy">{{ at.asking === 'copy' ? 'Make it' : 'Keep' }}</button>
          <button type="button" class="plain" @click="at.asking = ''">Leave it</button></span>
      </form>
      <template v-else>
        <router-link :to="to" class="name word">{{ job.name }}</router-link>
        <span class="second">{{ job.piece_kind }}, {{ job.wood.replaceAll('_', ' ') }}</span>
        <span v-if="job.note" class="second note">{{ job.note }}</span>
        <span class="least">revision {{ job.latest }}, {{ job.author }}, {{ day(job.changed_at) }}</span>
      </template>
    </div>
    <div class="steps">
      <template v-if="stands"><span class="least">{{ stands.steps.filter((s) => s.done).length }} of {{
        stands.steps.length }} steps done</span><JobTrunk :steps="stands.steps" /></template>
    </div>
    <div class="state">
      <p v-if="job.away_since" class="word">Put away by {{ job.away_by }}, {{ day(job.away_since) }}.</p>
      <p v-else class="word" :aria-busy="!stands">{{ words }}</p>
      <p v-if="stands?.then" class="second">{{ stands.then }}</p>
      <span class="acts">
        <router-link v-if="stands && !job.away_since" class="cure" :to="`/routes/${job.id}/${stands.place}`"
          :aria-label="`${PLACES[stands.place]}: ${job.name}`">{{ PLACES[stands.place] }}</router-link>
        <button v-if="job.away_since" class="cure" @click="put_away(false)">Take it out again</button>
        <button class="plain" :aria-label="`New one like ${job.name}`" @click="ask('copy')">New one like it</button>
        <button class="plain" :aria-label="`Rename ${job.name}`" @click="ask('name')">Rename</button>
        <button class="plain" :aria-label="`Note of ${job.name}`" @click="ask('note')">Note</button>
        <button v-if="!job.away_since" class="plain" :aria-label="`Put ${job.name} away`"
          @click="put_away(true)">Put away</button>
      </span>
    </div>
  </li>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule); display: grid; grid-template-columns: 170px 230px 1fr 400px; gap: 18px;
  padding: 10px 6px; align-items: start;
}
li:hover, li:focus-within { background: var(--bark); }
.who, .state, .ask { display: flex; flex-direction: column; gap: 3px; align-items: flex-start; }
.name { font-size: 20px; text-decoration: none; color: var(--ink); }
.name:hover { text-decoration: underline; }
.note {
  white-space: pre-line; overflow: hidden; display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical;
}
p { margin: 0; }
.acts { display: flex; gap: 4px 12px; flex-wrap: wrap; align-items: center; margin-top: 2px; }
.acts .cure { text-decoration: none; }
.ask { width: 100%; }
.ask label { width: 100%; font-size: 14px; color: var(--ink2); }
.ask input:not([type]), .ask textarea {
  width: 100%; font: 600 16px var(--num); color: var(--ink); background: var(--paper, #fbf9f5);
  border: 1.5px solid var(--ink); border-radius: 2px; padding: 4px 8px;
}
.ask textarea { font-weight: 400; font-size: 15px; }
.tick { display: flex; gap: 8px; align-items: flex-start; }
@media (max-width: 1000px) { li { grid-template-columns: 190px 1fr; } }
@media (max-width: 560px) { li { grid-template-columns: 1fr; } .piece { display: none; } }
</style>
