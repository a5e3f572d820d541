<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { Dialect, SampleShown } from '../api/types'
import { fine, length, rate, rate_unit, typed, value_typed } from '../units/format'
import { at, keep } from './machine'

/** How a program must be written for a machine, as sentences with the words in them; the sample beside it is written
 *  and read back as one types. What cannot be read back is not kept. */
const draft = ref<Dialect>({ ...at.state!.machine.dialect })
const sample = ref<SampleShown | null>(null)
const reading = ref(false)
const failed = ref('')
const changed = computed(() => JSON.stringify(draft.value) !== JSON.stringify(at.state!.machine.dialect))
const wrong = computed(() => (failed.value ? [failed.value] : sample.value?.problems ?? []))
let timer = 0
let asked = 0
watch(draft, () => {
  reading.value = true
  window.clearTimeout(timer)
  timer = window.setTimeout(() => void see(), 350)
}, { deep: true, immediate: true })
watch(() => at.state?.revision, () => { draft.value = { ...at.state!.machine.dialect } })

async function see() {
  const mine = ++asked
  try {
    const shown = await api.machine_sample({ ...at.state!.machine, dialect: draft.value })
    if (mine !== asked) return
    sample.value = shown
    failed.value = ''
  } catch (error) {
    if (mine !== asked) return
    failed.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
  }
  reading.value = false
}
function put<K extends keyof Dialect>(key: K, value: Dialect[K]) { draft.value = { ...draft.value, [key]: value } }
const input = (event: Event) => (event.target as HTMLInputElement).value
function number(key: 'decimals' | 'warm_up_s' | 'name_length', event: Event) {
  const value = value_typed(input(event))
  if (value !== null) put(key, value)
}
function number_or_none(key: 'changer_slots' | 'largest_kb', event: Event) { put(key, value_typed(input(event))) }
function span(key: 'probe_down_mm', event: Event) {
  const read = typed(input(event), 'length')
  if ('value' in read) put(key, read.value)
}
function pace(event: Event) {
  const read = typed(input(event), 'rate')
  if ('value' in read) put('probe_feed_mm_min', read.value)
}
const yes = (event: Event) => input(event) === 'yes'
/** A changer brings what goes with it, and takes it away again. */
function changes(by_word: boolean) {
  draft.value = {
    ...draft.value, change_word: by_word,
    ...(by_word ? {} : { preselect: false, changer_slots: null }),
  }
}
const tint = (text: string) => (/^[(;]/.test(text) ? 'note' : '')
</script>

<template>
  <div class="words">
    <form @submit.prevent="keep((now) => ({ ...now, dialect: draft }))">
      <h2>How a program begins and ends</h2>
      <p>Lengths are <select :value="draft.inch ? 'inch' : 'mm'" aria-label="Unit of the program"
        @change="(e) => put('inch', input(e) === 'inch')">
        <option value="mm">mm, G21</option><option value="inch">inches, G20</option></select>
        with <input class="few" :value="draft.decimals" aria-label="Digits after the point" inputmode="numeric"
          @change="(e) => number('decimals', e)"> digits after the point.
        A line with % <select :value="draft.percent ? 'yes' : 'no'" aria-label="A line with % around it"
          @change="(e) => put('percent', yes(e))">
          <option value="no">does not stand</option><option value="yes">stands</option></select> before and after it.
        It ends with <select :value="draft.end_word" aria-label="Word that ends a program"
          @change="(e) => put('end_word', input(e) as Dialect['end_word'])">
          <option>M30</option><option>M2</option></select>.</p>
      <p>Notes stand <select :value="draft.semicolon_comments ? 'yes' : 'no'" aria-label="How notes stand"
        @change="(e) => put('semicolon_comments', yes(e))">
        <option value="no">in round brackets</option><option value="yes">after a semicolon</option></select>.
        Lines are <select :value="draft.line_numbers ? 'yes' : 'no'" aria-label="Line numbers"
          @change="(e) => put('line_numbers', yes(e))">
          <option value="no">not numbered</option><option value="yes">numbered by 10</option></select>
        and close with <select :value="draft.line_ending" aria-label="How lines close"
          @change="(e) => put('line_ending', input(e) as Dialect['line_ending'])">
          <option value="lf">a feed</option><option value="crlf">return and feed</option></select>.</p>
      <h2>Bit, spindle and extraction</h2>
      <p>Bits are changed by <select :value="draft.change_word ? 'yes' : 'no'" aria-label="How bits are changed"
        @change="(e) => changes(yes(e))">
        <option value="no">a stop, M0, and a hand</option><option value="yes">the word M6</option></select>.
        <template v-if="draft.change_word">Its changer has <input class="few" :value="draft.changer_slots ?? ''"
          placeholder="no" aria-label="Slots of the changer" inputmode="numeric"
          @change="(e) => number_or_none('changer_slots', e)"> slots.
          The next bit is <select :value="draft.preselect ? 'yes' : 'no'" aria-label="Next bit called ahead"
            @change="(e) => put('preselect', yes(e))">
            <option value="no">not called ahead</option><option value="yes">called ahead</option></select>.</template>
              </p>
      <p>The speed is <select :value="draft.speed_word ? 'yes' : 'no'" aria-label="How the speed is set"
        @change="(e) => put('speed_word', yes(e))">
        <option value="yes">written, S</option><option value="no">set by hand on a dial</option></select>.
        After M3 it waits <input class="few" :value="draft.warm_up_s" aria-label="Seconds to wait for the spindle"
          inputmode="decimal" @change="(e) => number('warm_up_s', e)"> s.
        Extraction is switched <select :value="draft.extraction ? 'yes' : 'no'" aria-label="Extraction"
          @change="(e) => put('extraction', yes(e))">
          <option value="no">by hand</option><option value="yes">by M8 and M9</option></select>.</p>
      <p>Z is touched off <select :value="draft.probe_word ?? ''" aria-label="How Z is touched off"
        @change="(e) => put('probe_word', (input(e) || null) as Dialect['probe_word'])">
        <option value="">by hand</option><option value="G38.2">by the program, G38.2</option>
        <option value="G38.3">by the program, G38.3</option></select>
        <template v-if="draft.probe_word">: down onto the touch plate by <input class="some"
          :value="length(draft.probe_down_mm, 1)" aria-label="How far down the plate is looked for"
          @change="(e) => span('probe_down_mm', e)"> at most, at <input class="some"
          :value="rate(draft.probe_feed_mm_min ?? 60)" aria-label="How fast"
          @change="(e) => pace(e)"> {{ rate_unit }}. Then <select :value="draft.set_word"
          aria-label="Word that sets Z" @change="(e) => put('set_word', input(e) as Dialect['set_word'])">
          <option>G10 L20</option><option>G92</option></select> sets Z. On top of the blank a hand lays the plate and
          takes it away; at the machine’s fixed place it stays. Beside the blank Z is touched off by
          hand.</template></p>
      <h2>Moves</h2>
      <p>Arcs are <select :value="draft.arcs ? 'yes' : 'no'" aria-label="Arcs" @change="(e) => put('arcs', yes(e))">
        <option value="yes">G2 and G3 with I and J</option><option value="no">written as short straight moves</option>
          </select>.</p>
      <h2>Files</h2>
      <p>One file for each <select :value="draft.split" aria-label="One file for each"
        @change="(e) => put('split', input(e) as Dialect['split'])">
        <option value="per_setup">setup</option><option value="per_bit">bit</option>
          <option value="per_operation">operation</option></select>,
        ending in <input class="some" :value="draft.extension" aria-label="Ending of a file's name"
          @change="(e) => put('extension', input(e).trim())">,
        its name at most <input class="few" :value="draft.name_length" aria-label="Letters of a file's name"
          inputmode="numeric" @change="(e) => number('name_length', e)"> letters.
        No file over <input class="some" :value="draft.largest_kb ?? ''" placeholder="any"
          aria-label="Largest file in kB" inputmode="numeric"
          @change="(e) => number_or_none('largest_kb', e)"> kB: it is split between two operations.</p>
      <div class="acts">
        <button class="go" type="submit"
          :disabled="!changed || reading || wrong.length > 0 || at.busy">{{
            reading ? 'Reading back' : 'Keep these words' }}</button>
        <button v-if="changed" class="plain" type="button"
          @click="draft = { ...at.state!.machine.dialect }">Put back</button>
        <a class="plain" :href="`/api/machines/${at.state!.machine.id}/file`"
          download>Hand the machine out as a file</a>
      </div>
      <p v-if="at.wrong" class="ember" role="alert">{{ at.wrong }}</p>
    </form>
    <aside class="sheet side" aria-label="A sample, written now" tabindex="0">
      <h2 class="name">A sample, written now</h2>
      <p class="second">A plate with a hole, a pocket and its outline. It changes as you type.</p>
      <div class="told" aria-live="polite">
        <p v-if="reading" class="second">Reading back</p>
        <p v-for="w in wrong" v-else-if="wrong.length" :key="w"
          class="ember">{{ w }} What cannot be read back is not kept.</p>
        <p v-else-if="sample"><b>{{ sample.files.reduce((n, f) => n + f.count, 0) }} lines, all understood.</b>
          The wood agrees{{ sample.difference_mm < 0.001 ? '' : ` within ${fine(sample.difference_mm)}` }}. Longest
          line {{ sample.longest }} letters.</p>
      </div>
      <section v-for="f in sample?.files ?? []" :key="f.name">
        <h3>{{ f.name }} <span class="second">{{ f.count }} lines, {{ (f.bytes / 1000).toFixed(1) }} kB</span></h3>
        <ol>
          <li v-for="(l, n) in f.lines" :key="n" :class="{ left: l.number === 0 }">
            <span class="least">{{ l.number || '' }}</span>
              <code class="at-machine" :class="tint(l.text)">{{ l.text }}</code>
              <span class="second">{{ l.says }}</span>
          </li>
        </ol>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.words { display: grid; grid-template-columns: 1fr 500px; height: 100%; min-height: 0; }
form { overflow-y: auto; padding: 4px 34px 24px; }
form h2 { margin: 14px 0 4px; }
form p { line-height: 2.5; margin: 0; }
select, input {
  font: inherit; font-weight: 600; color: var(--ink); background: var(--bark); border: 1px solid var(--edge);
  border-radius: 2px; height: 30px; line-height: 1.3; padding: 2px 8px;
}
.few { width: 52px; } .some { width: 76px; }
.acts { display: flex; gap: 18px; align-items: center; margin-top: 16px; flex-wrap: wrap; }
.ember { color: var(--ember); line-height: 1.4 !important; }
.side { padding: 22px 26px; overflow-y: auto; }
.name { font-size: 22px; }
.side p { margin: 2px 0; }
.told { min-height: 46px; border-bottom: 1px solid var(--rule); padding-bottom: 6px; }
h3 { font-size: 15px; margin: 10px 0 4px; font-family: var(--num); font-weight: 650; overflow-wrap: anywhere; }
h3 .second { font-weight: 400; }
ol { list-style: none; margin: 0; padding: 0; }
li { display: grid; grid-template-columns: 44px 1fr 150px; gap: 8px; padding: 1.5px 0; align-items: baseline; }
li .second { font-size: 13px; }
code { font-family: var(--num); overflow-wrap: anywhere; }
code.note { color: var(--ink3); }
.left { font-style: italic; color: var(--ink3); }
@media (max-width: 1000px) { .words { grid-template-columns: 1fr; height: auto; } }
</style>
