<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { StepKind } from '../api/types'
import { chosen } from '../route/chosen'
import { edit, open } from '../route/store'

/** Add a step at the bench after what is chosen: one this shop has used, one it starts with, or one by its name. */
const props = defineProps<{ after: string | null; behind: string }>()
const kinds = ref<StepKind[]>([])
const name = ref('')
const wrong = ref('')
const field = ref<HTMLInputElement>()
/** Who types before the list has come is answered from the list all the same. */
const loaded = api.step_kinds().then((k) => { kinds.value = k }, (error: Error) => { wrong.value = error.message })
onMounted(() => field.value?.focus())
const fitting = computed(() => kinds.value.filter((k) =>
  k.name.toLowerCase().includes(name.value.trim().toLowerCase())))
/** The first that fits, as Enter takes it; where none does, a step of that name. */
async function enter() {
  await loaded
  const same = fitting.value.find((k) => k.name.toLowerCase() === name.value.trim().toLowerCase())
  const one = same ?? (name.value.trim() && !fitting.value.length ? null : fitting.value[0])
  if (one) void add(one)
  else if (name.value.trim()) void add({ name: name.value.trim(), kind: 'other' })
}
async function add(one: Partial<StepKind> & { name: string }) {
  const step = { ...one }
  delete step.used_here
  const ids = new Set(open.state!.document.bench_steps.map((s) => s.id))
  const { after, behind } = props
  if (!(await edit([{ do: 'add_step', after, behind: behind || null, step }], `Add ${one.name}`))) return
  const made = open.state!.document.bench_steps.find((s) => !ids.has(s.id))!
  chosen.adding = false
  chosen.step = made.id
}
</script>

<template>
  <section class="add" aria-label="Add a step at the bench" @keydown.esc.stop="chosen.adding = false">
    <h2>Add a step at the bench</h2>
    <form @submit.prevent="enter">
      <label for="new_step">What is done</label>
      <input id="new_step" ref="field" v-model="name" maxlength="80" autocomplete="off" />
    </form>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <ul>
      <li v-for="k in fitting" :key="k.name"><button class="kind" @click="add(k)"><b>{{ k.name }}</b>
        <span class="second">{{ k.wait ? 'wait' : `${k.minutes} min` }}{{ k.gate ? ', holds what follows' : '' }}{{
          k.used_here ? ', used here before' : '' }}</span></button></li>
      <li v-if="name.trim() && !fitting.length"><button class="kind" @click="enter"><b>{{ name.trim() }}</b>
        <span class="second">a step of your own</span></button></li>
    </ul>
    <button class="plain" @click="chosen.adding = false">Leave it</button>
  </section>
</template>

<style scoped>
.add { display: flex; flex-direction: column; gap: 10px; }
label { display: block; font-weight: 600; margin-bottom: 3px; }
input { width: 100%; min-height: 34px; border: 1px solid var(--edge); padding: 2px 8px; background: var(--bark);
  color: var(--ink); font: inherit; }
ul { list-style: none; margin: 0; padding: 0; }
.kind { width: 100%; padding: 6px 2px; border-bottom: 1px solid var(--rule); display: flex; flex-direction: column; }
.ember { color: var(--ember); margin: 0; }
.kind:hover { background: var(--well); }
</style>
