<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import type { Known, Machine } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { length, value_typed } from '../units/format'
import KnownMark from './KnownMark.vue'
import { at, figure, keep, still_assumed, with_value } from './machine'
import { hours_said, places_said, read_hours, read_lengths, read_places } from './places'

/** The figure under the finger: what it means, what it is, how it is known, what rests on it. */
const wrong = ref('')
const box = ref<HTMLElement>()
const capital = (words: string) => words[0].toUpperCase() + words.slice(1)
const number = computed(() => (typeof figure.value?.value === 'number' ? figure.value.value : null))
const refused = computed(() => (at.wrong && (!at.where || at.where.endsWith(at.figure)) ? at.wrong : ''))
const typed = computed(() => {
  const f = figure.value
  if (f?.kind === 'speeds') return ((f.value as number[] | null) ?? []).join(', ')
  if (f?.kind === 'lengths') return ((f.value as number[] | null) ?? []).map((v) => length(v)).join(', ')
  if (f?.kind === 'hours') return hours_said(f.value as number[][] | null)
  return places_said(f?.value as number[][] | number[] | null)
})
const HINT = {
  lengths: 'with commas, like 6, 8, 1/4 in', hours: 'from-to, like 20:00-7:00; the next after a semicolon',
  speeds: 'rpm with commas, slowest first',
  place: 'x, y from the near left end of the travel',
  places: 'x, y from the near left end of the travel; the next after a semicolon',
  zones: 'x, y of its lower left corner, length, width; the next after a semicolon',
}
const hint = computed(() => HINT[figure.value?.kind as keyof typeof HINT] ?? '')
const spread_kind = computed(() => {
  const kind = figure.value?.kind
  return kind === 'length' || kind === 'rate' || kind === 'acceleration' ? kind : 'number'
})
const field_kind = spread_kind
watch(() => at.figure, async () => {
  wrong.value = ''
  await nextTick()
  box.value?.querySelector('input')?.focus()
})
function put(value: unknown) {
  if (value === null && !figure.value?.may_be_missing) return
  wrong.value = ''
  void keep((now) => with_value(now, at.figure, value))
}
function read(text: string) {
  const kind = figure.value?.kind
  if (!text.trim()) return put(kind === 'place' ? null : [])
  if (kind === 'speeds') {
    const speeds = text.split(/[,;]/).map((s) => value_typed(s.trim()))
    if (speeds.some((s) => s === null)) wrong.value = 'Speeds with commas, like 9500, 13000, 17000'
    else put(speeds)
    return
  }
  if (kind === 'lengths' || kind === 'hours') {
    const got = kind === 'lengths' ? read_lengths(text) : read_hours(text)
    if ('wrong' in got) wrong.value = got.wrong
    else put('lengths' in got ? got.lengths : got.spans)
    return
  }
  const got = read_places(text, kind === 'zones' ? 4 : 2, kind !== 'place')
  if ('wrong' in got) wrong.value = got.wrong
  else put(kind === 'place' ? got.places[0] : got.places)
}
const today = () => new Date().toISOString().slice(0, 10)
function knows(known: Known) {
  const name = at.figure
  void keep((now: Machine) => ({ ...now, known: { ...now.known, [name]: known } }))
}
const ORIGINS = [
  { origin: 'assumed', words: 'Assumed' }, { origin: 'told', words: 'Told' }, { origin: 'measured', words: 'Measured' },
] as const
function say_origin(origin: 'assumed' | 'told' | 'measured') {
  knows(origin === 'assumed' ? { origin, note: '' } : { note: '', ...figure.value?.known, origin, on: today() })
}
const day = (text: string) => (
  new Date(`${text}T12:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' }))
</script>

<template>
  <aside v-if="figure" ref="box" class="sheet side" aria-label="The figure in hand">
    <h2 class="name">{{ capital(figure.words) }}</h2>
    <p class="second">{{ figure.means }}</p>
    <NumberField
      v-if="['length', 'rate', 'acceleration', 'number'].includes(figure.kind)" :key="figure.name" :model-value="number"
      :label="capital(figure.words)" :kind="field_kind" :places="2" :suffix="figure.suffix" negative
      @update:model-value="put"
    />
    <div v-else-if="figure.kind === 'choice'" class="choice" role="radiogroup" :aria-label="figure.words">
      <button
        v-for="v in [true, false]" :key="String(v)" role="radio" :aria-checked="figure.value === v"
        :class="{ on: figure.value === v }" @click="put(v)"
      >{{ v ? 'Yes' : 'No' }}</button>
    </div>
    <v-text-field
      v-else :key="figure.name" :model-value="typed" :label="capital(figure.words)" :hint="hint"
      persistent-hint placeholder="–" persistent-placeholder :error-messages="wrong || []"
      @change="(e: Event) => read((e.target as HTMLInputElement).value)"
    />
    <p v-if="figure.missing && !figure.may_be_missing"
      class="second">It means nothing until what it belongs to is there.</p>
    <p v-if="refused" class="ember" role="alert">{{ refused }}
      <span v-if="at.stale">Open the page again to see it.</span></p>
    <template v-if="!figure.missing">
      <div class="choice" role="radiogroup" aria-label="How it is known">
        <button
          v-for="o in ORIGINS" :key="o.origin" role="radio" :aria-checked="(figure.known.origin ?? 'assumed') ===
          o.origin"
          :class="{ on: (figure.known.origin ?? 'assumed') === o.origin }" @click="say_origin(o.origin)"
        >{{ o.words }}</button>
      </div>
      <p class="second"><KnownMark :known="figure.known" :old="figure.old" />
        <template v-if="figure.known.on"> on {{ day(figure.known.on) }}</template>
        <template v-else> from the kind it started from</template>
        <template v-if="figure.old">. That was long ago; measure it again.</template>
      </p>
      <NumberField
        v-if="figure.known.origin === 'measured' && number !== null" :model-value="figure.known.spread ?? null"
        label="Readings lie within, plus and minus" :kind="spread_kind" :places="3"
        @update:model-value="(v) => knows({ ...figure!.known, spread: v })"
      />
    </template>
    <router-link v-if="figure.measured_by" class="cure" :to="{ query: { see: 'measure', job: figure.measured_by } }"
      >Measure it: {{ figure.measured_words }}</router-link>
    <h2>What rests on it</h2>
    <ul class="rests"><li v-for="r in figure.rests" :key="r">{{ capital(r) }}</li></ul>
    <template v-if="still_assumed.length">
      <h2>Still assumed, what most rests on first</h2>
      <ul class="still">
        <li v-for="f in still_assumed.slice(0, 6)" :key="f.name">
          <KnownMark :known="f.known" />
          <button class="plain" @click="at.figure = f.name">{{ capital(f.words) }}</button><b>{{ f.said }}</b>
        </li>
      </ul>
      <p v-if="still_assumed.length > 6" class="least">and {{ still_assumed.length - 6 }} more</p>
    </template>
  </aside>
</template>

<style scoped>
.side { padding: 22px 26px; overflow-y: auto; display: flex; flex-direction: column; gap: 10px; }
.side > * { flex: 0 0 auto; }
.name { font-size: 22px; }
p { margin: 0; }
ul { list-style: none; margin: 0; padding: 0; }
.rests li { padding: 2px 0; }
.still li { display: flex; gap: 10px; align-items: center; min-height: 28px; }
.still b { margin-left: auto; }
a.cure { align-self: flex-start; text-decoration: none; }
.ember { color: var(--ember); }
h2 + ul { margin-top: -4px; }
h2:not(.name) { border-top: 1px solid var(--rule); padding-top: 10px; margin-top: 4px; }
</style>
