<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Shop, TwinState } from '../api/types'
import { making } from '../route/making'
import { edit, open, take_state } from '../route/store'
import { length, say, unit } from '../units/format'

/** A trial piece of this job, or what this job is a trial of: what it shows, every try, and a gate before the good
 *  wood. */
const props = defineProps<{ route: number }>()
const twins = ref<TwinState[]>([])
const woods = ref<Shop['woods']>([])
const wood = ref('foam')
const thick = ref('')
const failed = ref('')
const { wrong, busy, make } = making()
async function load() {
  try { twins.value = await api.twins(props.route) } catch (error) { failed.value = (error as Error).message }
}
onMounted(async () => {
  await load()
  woods.value = (await api.shop().catch(() => null))?.woods ?? []
})
watch(() => open.state?.hash, load)
const doc = computed(() => open.state?.document)
const is_twin = computed(() => !!doc.value?.twin)
const me = computed(() => twins.value.find((t) => t.route === props.route))
const others = computed(() => twins.value.filter((t) => t.route !== props.route))
const asked = computed(() => thick.value.trim() || null)  // as thick as the good wood
const items = computed(() => woods.value.map((w) => ({ title: w.name, value: w.id })))
const gate = computed(() => doc.value?.bench_steps.find((s) => s.kind === 'inspect' && s.after === null && s.gate))
/** The step that frees the good wood, as this shop last used it: its check is the shop's. */
const GATE = 'Trial passed'
async function hold() {
  failed.value = ''
  try {
    const step = { ...(await api.step_kinds()).find((k) => k.name === GATE)!, used_here: undefined }
    await edit([{ do: 'add_step', after: null, step }], 'Hold the good wood until a trial has passed')
  } catch (error) { failed.value = (error as Error).message }
}
const follow = () => take_state(() => api.follow(props.route, open.state!.revision))
const went = (outcome: string) => (outcome === 'fine' ? 'went well' : outcome)
const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
const newest = (t: TwinState) => t.tries.at(-1)
</script>

<template>
  <section class="twins" aria-label="Trial piece">
    <h2>Trial piece</h2>
    <template v-if="is_twin && me">
      <p>A trial of <router-link
        :to="`/routes/${me.of_route}/run`">{{ me.of_name }}</router-link> in {{ me.wood_name.toLowerCase() }},
        {{ length(me.thickness_mm) }} thick. Nothing here changes that job.</p>
      <p>It shows the shape, depths and how the bits get there{{ me.turns ? ', the index holes and the turning over' :
        '' }}. It does not show
        the finish, splinters, or how well the good wood is held<template v-if="me.force_ratio">: that takes
        <b>{{ me.force_ratio.toFixed(1) }}</b> times the force of this one at the same chip</template>.</p>
      <p v-if="me.moved" class="moved" role="alert">{{ me.of_name }} has changed since.
        <button class="cure" @click="follow">Make the trial as that is now</button></p>
      <ol v-if="me.tries.length" class="tries">
        <li v-for="t in me.tries" :key="t.number"><b>Try {{ t.number }}</b>, {{ day(t.made_at) }}: {{ went(t.outcome)
          }}.
          <span class="second">{{ say(t.what) }}{{ t.note ? `; ${t.note}` : '' }}</span></li>
      </ol>
      <p v-else class="second">No try yet. The record of a run, kept above, is one.</p>
    </template>
    <template v-else>
      <ul v-if="others.length" class="tries">
        <li v-for="t in others" :key="t.route"><router-link :to="`/routes/${t.route}/run`">{{ t.name }}</router-link>,
          {{ t.wood_name.toLowerCase() }} {{ length(t.thickness_mm) }}:
          <template v-if="newest(t)"><b>{{ t.tries.length }}</b> {{ t.tries.length === 1 ? 'try' : 'tries' }}, the last
            {{ went(newest(t)!.outcome) }} on {{ day(newest(t)!.made_at) }}</template>
          <template v-else>not cut yet</template><span v-if="t.moved"
            class="moved">; this job has changed since</span></li>
      </ul>
      <p v-else class="second">Before the good wood: the same programs in foam, scrap or a softer wood. A job of its
        own, tied to this one.</p>
      <div class="make">
        <v-select v-model="wood" :items="items" label="Trial piece of" />
        <v-text-field v-model="thick" :label="`Thick, else ${length(doc?.blank.thickness_mm ?? 0)}`"
          autocomplete="off" />
      </div>
      <p class="acts"><button class="cure" :disabled="busy"
        @click="make(() => api.make_twin(route, wood, asked, unit))">Make a trial piece</button>
        <button v-if="!gate" class="cure" @click="hold">Hold the good wood until it has passed</button></p>
      <p v-if="gate" class="second">{{ gate.name }} stands at the bench before everything: its tick frees the
        programs.</p>
    </template>
    <p v-if="wrong || failed" class="ember" role="alert">{{ wrong || failed }}</p>
  </section>
</template>

<style scoped>
.twins { border-top: 1px solid var(--rule); padding-top: 10px; display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.tries { margin: 0; padding-left: 18px; display: grid; gap: 4px; }
.make { display: grid; grid-template-columns: 1fr 150px; gap: 10px; }
.acts { display: flex; gap: 10px; flex-wrap: wrap; }
.moved { color: var(--amber-ink); font-weight: 600; }
.ember { color: var(--ember); }
</style>
