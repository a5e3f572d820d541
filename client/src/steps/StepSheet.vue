<script setup lang="ts">
import { computed } from 'vue'
import NumberLine from '../fields/NumberLine.vue'
import TextLine from '../fields/TextLine.vue'
import { chosen, move_past, step_chosen } from '../route/chosen'
import { edit, open, set } from '../route/store'
import { KINDS } from './kinds'

/** A step at the bench: what, where, with what, how long, what has to be so, and what waits for it. */
const step = computed(() => step_chosen.value!)
const path = computed(() => `bench_steps.${step.value.id}`)
const before = computed(() => (open.state!.document.operations.find((o) => o.id === step.value.after)?.name))
async function drop() {
  const { id, name } = step.value
  if (await edit([{ do: 'remove_item', list: 'bench_steps', id }], `Remove ${name}`)) chosen.step = ''
}
</script>

<template>
  <section class="step" :aria-label="`Step at the bench: ${step.name}`">
    <h2 class="name">{{ step.name }}</h2>
    <p class="second">{{ before ? `At the bench, after ${before}.` : 'At the bench, before everything.' }}</p>
    <TextLine :path="`${path}.name`" :value="step.name" label="What is done" needed />
    <v-select :model-value="step.kind" :items="KINDS" label="Kind of work"
      @update:model-value="(v) => set(`${path}.kind`, v)" />
    <NumberLine :path="`${path}.minutes`" :value="step.minutes" label="Takes" suffix="min" />
    <v-checkbox :model-value="step.wait" label="A wait: nobody is needed"
      @update:model-value="(v) => set(`${path}.wait`, !!v)" />
    <v-checkbox :model-value="step.gate" label="What follows waits for it"
      @update:model-value="(v) => set(`${path}.gate`, !!v)" />
    <v-checkbox :model-value="step.in_sight" label="May be done while the machine runs, in sight of its stop"
      @update:model-value="(v) => set(`${path}.in_sight`, !!v)" />
    <TextLine :path="`${path}.where`" :value="step.where" label="Where on the piece" />
    <TextLine :path="`${path}.tool`" :value="step.tool" label="With what" />
    <NumberLine :path="`${path}.grit`" :value="step.grit" label="Last paper, grit" />
    <TextLine :path="`${path}.check`" :value="step.check" label="Check before the tick" long />
    <TextLine :path="`${path}.note`" :value="step.note" label="Note" long />
    <div class="acts">
      <button class="plain" @click="move_past(-1, false)">Earlier</button>
      <button class="plain" @click="move_past(-1, true)">Later</button>
      <button class="plain" @click="chosen.adding = true">Add a step after it</button>
      <button class="plain" @click="drop">Remove it</button>
    </div>
    <p class="least">Alt and an arrow moves it. Its tick stands on the run sheet.</p>
  </section>
</template>

<style scoped>
.step { display: flex; flex-direction: column; gap: 10px; }
.name { font-size: 22px; }
p { margin: 0; }
.acts { display: flex; gap: 14px; flex-wrap: wrap; }
</style>
