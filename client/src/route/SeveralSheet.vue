<script setup lang="ts">
import { computed } from 'vue'
import type { Operation } from '../api/types'
import ManyField from '../fields/ManyField.vue'
import { chosen, marked, set_marked } from './chosen'
import { edit, open } from './store'

/** Several operations changed together, each change one step of the history. */
const doc = computed(() => open.state!.document)
const bits = computed(() => doc.value.bits.map((b) => ({ title: b.name, value: b.id })))
const directions = [{ title: 'Climb', value: 'climb' }, { title: 'Conventional', value: 'conventional' }]
/** The value that all of them have; null where they differ. */
function shared<T>(of: (o: Operation) => T): T | null {
  const first = of(marked.value[0])
  return marked.value.every((o) => of(o) === first) ? first : null
}
const settings: { name: keyof Operation['settings']; label: string; rate?: boolean; length?: boolean;
  suffix?: string }[] = [
  { name: 'feed_mm_min', label: 'Feed rate', rate: true }, { name: 'plunge_mm_min', label: 'Plunge rate', rate: true },
  { name: 'speed_rpm', label: 'Spindle speed', suffix: 'rpm' },
  { name: 'depth_of_cut_mm', label: 'Depth of cut', length: true }, 
  { name: 'stepover_mm', label: 'Stepover', length: true },
]
const joins = computed(() => {
  const [a] = marked.value
  return marked.value.every((o) => o.kind === a.kind && o.bit === a.bit && o.setup === a.setup && !o.edge)
})
async function join() {
  const [first] = marked.value
  const operations = marked.value.map((o) => o.id)
  if (await edit([{ do: 'join_operations', operations }], 'Make one operation of them')) chosen.marked = [first.id]
}
/** Put them one after another behind the first of them. */
const gather = () => edit([{ do: 'gather_operations', operations: marked.value.map((o) => o.id) }],
  'Put them one after another')
async function remove() {
  const gone = marked.value.map((o) => ({ do: 'remove_operation', operation: o.id }))
  if (await edit(gone, `Remove ${gone.length} operations`)) chosen.marked = []
}
</script>

<template>
  <section class="several" :aria-label="`${marked.length} operations together`">
    <h2 class="name">{{ marked.length }} operations together</h2>
    <p class="second">{{ marked.map((o) => o.name).join(', ') }}.</p>
    <v-select :model-value="shared((o) => o.bit)" :items="bits" label="Bit of all"
      @update:model-value="(v) => set_marked('bit', v, 'Another bit')" />
    <ManyField v-for="s in settings" :key="s.name" :label="s.label" :value="shared((o) => o.settings[s.name])"
      :is_rate="s.rate" :is_length="s.length" :suffix="s.suffix"
      @put="(v) => set_marked(`settings.${s.name}`, v, s.label)" />
    <v-select :model-value="shared((o) => o.direction)" :items="directions" label="Direction"
      @update:model-value="(v) => set_marked('direction', v, 'Direction')" />
    <div class="acts">
      <button class="cure" @click="gather">One after another</button>
      <button v-if="joins" class="cure" @click="join">Make one operation of them</button>
      <button class="plain" @click="remove">Remove them</button>
      <button class="plain" @click="chosen.marked = []">Mark none</button>
    </div>
    <p class="least">A mark is set by S, by Ctrl and a press, and up to here by Shift and a press; Escape takes all
      away.
      A field that is empty holds different values.</p>
  </section>
</template>

<style scoped>
.several { display: flex; flex-direction: column; gap: 10px; }
.name { font-size: 22px; }
p { margin: 0; }
.acts { display: flex; gap: 12px; flex-wrap: wrap; align-items: center; }
</style>
