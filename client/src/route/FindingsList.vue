<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import type { Cure, Edit } from '../api/types'
import FlagMark from '../marks/FlagMark.vue'
import { settled_at } from './settle'
import { edit, meant, open, type Lettered } from './store'

/** What the proof found: the gravest first, alike ones in one row; and what a person has said is meant so. */
const props = defineProps<{ findings: Lettered[] }>()
const emit = defineEmits<{ pick: [letter: string]; take: [of: Lettered, cure: Cure] }>()
const ALIKE = 3
interface Row { first: Lettered; all: Lettered[] }
const rows = computed<Row[]>(() => {
  const out: Row[] = []
  for (const f of props.findings) {
    const alike = f.severity === 'stop' ? [] : props.findings.filter((g) => g.code === f.code)
    if (alike.length < ALIKE) out.push({ first: f, all: [f] })
    else if (alike[0].letter === f.letter) out.push({ first: f, all: alike })
  }
  return out
})
const opened = ref<string[]>([])
const asked = ref<Lettered[]>([])
const why = ref('')
const field = ref<HTMLInputElement>()
async function ask(of: Lettered[]) {
  asked.value = of
  why.value = of[0].was_meant
  await nextTick()
  ;(Array.isArray(field.value) ? field.value[0] : field.value)?.focus()
}
const about = (f: Lettered) => ({
  code: f.code, operation: f.operation, feature: f.feature, hardware: f.hardware, said: f.said })
async function keep() {
  if (!why.value.trim()) return
  const edits: Edit[] = asked.value.map((f) => ({ do: 'mean_so', ...about(f), why: why.value.trim() }))
  asked.value = []
  await edit(edits, why.value.trim())
}
const take_back = (f: Lettered) => edit([{ do: 'mean_no_more', ...about(f) }], 'Not meant so any more')
const asks = (row: Row) => asked.value.length > 0 && asked.value[0].letter === row.first.letter
const shut = (row: Row) => { opened.value = opened.value.filter((l) => l !== row.first.letter) }
/** One of several alike that is shown, or asked about, stands in a row of its own. */
const shown = computed<Row[]>(() => rows.value.flatMap((row) => (
  row.all.length > 1 && opened.value.includes(row.first.letter)
    ? [row, ...row.all.slice(1).map((f) => ({ first: f, all: [f] }))] : [row])))
const more = (row: Row) => row.all.length - 1
/** What a finding is about, by its name. */
function about_what(f: Lettered): string {
  const doc = open.state?.document
  const solid = open.state?.drawing.solids.find((s) => s.id === f.feature)
  const named = solid ?? doc?.piece.features.find((x) => x.id === f.feature) ?? doc?.operations.find((o) =>
    o.id === f.operation)
  return named?.name ?? f.hardware ?? ''
}
/** Where the others of a row are, by name. */
function places(row: Row): string {
  const names = [...new Set(row.all.slice(1).map(about_what))].filter(Boolean)
  return names.length ? `: ${names.slice(0, 4).join(', ')}${names.length > 4 ? ' and others' : ''}` : ''
}
function unfold(row: Row) {
  if (opened.value.includes(row.first.letter)) shut(row)
  else opened.value = [...opened.value, row.first.letter]
}
</script>

<template>
  <div>
    <template v-for="row in shown" :key="row.first.letter">
      <div class="finding">
        <FlagMark :severity="row.first.severity" :letter="row.first.letter" />
        <div class="said">
          <button class="reason" :data-letter="row.first.letter" @click="emit('pick', row.first.letter)">
            {{ row.first.sentence }}</button>
          <router-link v-if="settled_at(row.first)" class="plain there" :to="settled_at(row.first)!.to"
            :aria-label="`${row.first.letter} is settled ${settled_at(row.first)!.words.toLowerCase()}`">{{
              settled_at(row.first)!.words }}</router-link>
          <button v-if="more(row)" class="plain" :aria-expanded="opened.includes(row.first.letter)"
            @click="unfold(row)">
            {{ opened.includes(row.first.letter) ? 'Fold' : 'And' }} {{ more(row) }} more alike{{
              opened.includes(row.first.letter) ? '' : places(row) }}</button>
          <p v-if="row.first.was_meant" class="second">Meant so before it changed: {{ row.first.was_meant }}</p>
        </div>
        <button v-for="(c, k) in row.first.cures.slice(0, 1)" :key="k" class="cure" @click="emit('take', row.first, c)">
          {{ c.sentence }}</button>
        <button v-if="row.first.severity !== 'stop' && !asks(row)" class="plain so"
          :aria-label="`${row.first.letter} is meant so`" @click="ask(row.all)">Meant so</button>
      </div>
      <form v-if="asks(row)" class="why" @submit.prevent="keep">
        <label :for="`why${row.first.letter}`">{{ asked.length > 1 ? `Why all ${asked.length} are meant` :
          'Why it is meant' }}</label>
        <input :id="`why${row.first.letter}`" ref="field" v-model="why" maxlength="400" autocomplete="off"
          @keydown.esc.stop="asked = []" />
        <button class="cure" :disabled="!why.trim()">Keep it so</button>
      </form>
    </template>
    <details v-if="meant.length" class="meant">
      <summary>Meant so: {{ meant.length }}</summary>
      <div v-for="f in meant" :key="f.letter" class="finding">
        <FlagMark :severity="f.severity" :letter="f.letter" />
        <p class="said"><span class="second">{{ f.sentence }}</span><br /><b>{{ f.meant }}</b></p>
        <button class="plain so" @click="take_back(f)">Take back</button>
      </div>
    </details>
  </div>
</template>

<style scoped>
.finding {
  display: flex; align-items: center; gap: 4px 10px; flex-wrap: wrap; padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.said { flex: 1 1 220px; margin: 0; }
.said p { margin: 0; }
.reason { min-height: 24px; }
.there { color: var(--ink2); margin-left: 8px; white-space: nowrap; display: inline-block; }
.so { color: var(--ink2); white-space: nowrap; }
.why { display: flex; gap: 10px; align-items: center; padding: 6px 0 8px 36px; border-bottom: 1px solid var(--rule); }
.why input { flex: 1; min-height: 32px; border: 1px solid var(--edge); padding: 2px 8px; background: var(--bark);
  color: var(--ink); font: inherit; }
.meant { padding: 6px 0; color: var(--ink); }
.meant summary { cursor: pointer; min-height: 24px; color: var(--ink2); }
</style>
