<script setup lang="ts">
import { inch_fraction } from '../units/say'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Place } from '../api/types'
import EditField from '../fields/EditField.vue'
import Masthead from '../route/Masthead.vue'
import { edit, findings, open, open_route } from '../route/store'
import { length, unit } from '../units/format'
import { draw_part } from './drawings'
import MadeHere from './MadeHere.vue'
import PocketDrawing from './PocketDrawing.vue'
import ReadingMarks from './ReadingMarks.vue'
import SumTable from './SumTable.vue'

const route = useRoute()
/** The first place to take has the keyboard, unless a hand was quicker and has it somewhere else. */
onMounted(async () => {
  await open_route(Number(route.params.id))
  first_missing()
  if (!document.activeElement || document.activeElement === document.body) field.value?.focus()
})
const parts = computed(() => open.state?.drawing.parts ?? [])
const part_at = ref(0)
const part = computed(() => parts.value[part_at.value])
const place_key = ref('')
const place = computed<Place | undefined>(() => part.value?.places.find((p) => p.place === place_key.value) ?? part.value?.places[0])
const values = computed(() => Object.fromEntries((part.value?.places ?? []).map((p) => [p.place, p.value_mm])))
const drawn = computed(() => (part.value ? draw_part(part.value.kind, values.value, place.value?.place) : null))
const typed = ref('')
const using = ref(localStorage.getItem('birch_using') ?? 'caliper')
watch(using, (now) => localStorage.setItem('birch_using', now))
const field = ref<HTMLInputElement>()
const choices = computed(() => open.state?.document.choices)
const derivations = computed(() => open.state?.drawing.derivations ?? [])
const stack = computed(() => derivations.value.find((d) => d.id === 'neck_pocket_depth'))
const saddle = computed(() => derivations.value.find((d) => d.id === 'saddle_distance'))
const measuring = computed(() => findings.value.filter((f) => f.code.startsWith('reading.') || f.code.startsWith('part.')))
const moved = computed(() => open.state?.moved ?? [])
const open_items = computed(() => parts.value.flatMap((p) => p.places.filter((x) => x.needed && !x.values_mm.length)).length)
watch(part_at, () => { place_key.value = part.value?.places[0]?.place ?? '' })

function first_missing() {
  const index = parts.value.findIndex((p) => p.places.some((x) => x.needed && !x.values_mm.length))
  part_at.value = Math.max(0, index)
  void nextTick(() => { place_key.value = part.value?.places.find((x) => x.needed && !x.values_mm.length)?.place ?? part.value?.places[0]?.place ?? '' })
}
function choose(key: string) { place_key.value = key; typed.value = ''; field.value?.focus() }
function step(way: number) {
  const places = part.value?.places ?? []
  const at = places.findIndex((p) => p.place === place.value?.place) + way
  if (at >= 0 && at < places.length) choose(places[at].place)
  else if (at >= places.length && part_at.value + 1 < parts.value.length) part_at.value += 1
  else if (at < 0 && part_at.value > 0) part_at.value -= 1
}
async function keep() {
  if (!part.value || !place.value) return
  const text = typed.value.trim()
  if (!text) return step(1)
  const { label, place: key, values_mm } = place.value
  typed.value = ''  // the next reading may be typed while this one is kept
  const kept = edit([{ do: 'keep_reading', part: part.value.id, place: key, typed: text, unit: unit.value, at: new Date().toISOString().slice(0, 10), using: using.value.trim() }])
  if (values_mm.length + 1 >= 3) step(1)
  if (await kept) open.said = `Kept ${text} for ${label}`
  else if (!typed.value) { choose(key); typed.value = text }
  field.value?.focus()
}
const kinds = [['neck', 'Neck'], ['bridge', 'Bridge'], ['pickup', 'Pickup'], ['plate', 'Cover plate'], ['guard', 'Guard'], ['pot', 'Pot'], ['switch', 'Switch'], ['jack', 'Jack'], ['tuner', 'Tuner'], ['nut', 'String nut'],
  ['insert', 'Insert'], ['screw', 'Neck screw'], ['strap_pin', 'Strap pin'], ['rod', 'Truss rod']].map(([value, title]) => ({ value, title }))
async function add(kind: string | null) {
  if (!kind) return
  const title = kinds.find((k) => k.value === kind)!.title
  const same = parts.value.filter((p) => p.kind === kind).length
  if (await edit([{ do: 'add_part', kind, name: same ? `${title} ${same + 1}` : title }], `Add ${title.toLowerCase()}`)) part_at.value = parts.value.length - 1
  field.value?.focus()
}
async function take_off() {
  if (part.value && (await edit([{ do: 'remove_part', part: part.value.id }], `Take ${part.value.name} off the list`))) part_at.value = 0
}
async function retake(event: KeyboardEvent) {
  if (typed.value || !part.value || !place.value?.values_mm.length) return
  event.preventDefault()
  await edit([{ do: 'drop_reading', part: part.value.id, place: place.value.place, index: place.value.values_mm.length - 1 }])
}
function key(event: KeyboardEvent) {
  if (event.key === 'Enter') { event.preventDefault(); void keep() }
  else if (event.key === 'Backspace') void retake(event)
  else if (event.key === 'ArrowDown') { event.preventDefault(); step(1) }
  else if (event.key === 'ArrowUp') { event.preventDefault(); step(-1) }
}
const labels = computed(() => Object.fromEntries((part.value?.places ?? []).map((p) => [p.place, p.label])))
function spread(p: Place): string {
  if (p.computed) return 'computed by its route'
  if (!p.values_mm.length) return 'not taken yet'
  if (p.told) return 'came with a file, not taken here'
  if (p.outlier !== null) return `reading ${p.outlier + 1} is off, retake`
  return p.values_mm.length === 1 ? '1 taken' : `within ${length(p.spread_mm, 2)}`
}
const jaw = computed(() => Math.min(330, ((place.value?.value_mm ?? 20) / 120) * 330))
</script>

<template>
  <main class="measure">
    <div class="top">
      <Masthead :second="open_items ? `Parts on hand, ${open_items} readings to take` : 'Parts on hand, all measured'" />
      <div class="parts"><div class="tabs" role="tablist" aria-label="Parts">
        <button v-for="(p, k) in parts" :key="p.id" role="tab" :aria-selected="k === part_at" :class="{ here: k === part_at }" class="word" @click="part_at = k">{{ p.name }}<sup v-if="p.places.some((x) => x.needed && !x.values_mm.length)"> to take</sup></button></div>
        <span class="gap" />
        <v-select class="add" :model-value="null" :items="kinds" label="Add a part on hand" @update:model-value="add" />
      </div>
      <div class="table">
        <svg v-if="drawn && part" viewBox="0 0 590 275" class="drawing" role="img" :aria-label="`${part.name} with the places to measure`">
          <path v-for="(s, k) in drawn.shapes" :key="k" :d="s.d" :fill="s.fill" stroke="#1d1a17" stroke-width="1.3" :stroke-dasharray="s.dash ? '4 3' : ''" />
          <g v-for="d in drawn.dims" :key="d.place" class="dim" :class="{ here: d.place === place?.place }" @click="choose(d.place)">
            <line :x1="d.x1" :y1="d.y1" :x2="d.x2" :y2="d.y2" />
            <path :d="d.y1 === d.y2 ? `M${d.x1} ${d.y1 - 5}v10M${d.x2} ${d.y2 - 5}v10` : `M${d.x1 - 5} ${d.y1}h10M${d.x2 - 5} ${d.y2}h10`" />
            <text :x="d.lx" :y="d.ly" :text-anchor="d.anchor">{{ values[d.place] === null ? '–' : length(values[d.place]) }}</text>
          </g>
        </svg>
        <div v-if="part"><ul class="places" aria-label="Places">
          <li v-for="p in part.places" :key="p.place">
            <button :class="{ here: p.place === place?.place, off: p.outlier !== null }" :aria-current="p.place === place?.place ? 'true' : undefined" @click="choose(p.place)">
              <span class="label">{{ p.label }}</span><ReadingMarks :place="p" />
              <b>{{ p.value_mm === null ? '–' : length(p.value_mm) }}</b><span class="second said">{{ spread(p) }}</span>
            </button>
          </li>
        </ul><MadeHere v-if="part.kind === 'neck'" :route="Number(route.params.id)" :part="part.id"
          :labels="labels" /><button class="plain off-list" @click="take_off">Take {{ part.name }} off the
            list</button></div>
      </div>
      <div class="caliper">
        <svg class="jaws" width="400" height="62" aria-hidden="true">
          <path d="M8 2q-5 18 -5 34h20V26q0 -12 -6 -24z" fill="#cbc5b8" stroke="#1d1a17" />
          <rect x="3" y="30" width="394" height="24" fill="#dad5ca" stroke="#1d1a17" />
          <path v-for="k in 63" :key="k" :d="`M${24 + k * 5.8} 30v${k % 5 ? 5 : 9}`" stroke="#1d1a17" stroke-width=".7" />
          <g :transform="`translate(${24 + jaw} 0)`"><path d="M0 2q7 8 7 24h40v34H-2V36z" fill="#bcb5a6" stroke="#1d1a17" /></g>
        </svg>
        <form @submit.prevent="keep">
          <label for="reading">{{ place?.label }}<span class="least"> reading {{ (place?.values_mm.length ?? 0) + 1 }}</span></label>
          <input id="reading" ref="field" v-model="typed" autocomplete="off" spellcheck="false" :placeholder="unit === 'mm' ? '44.36' : '1 3/4'" @keydown="key" />
          <span class="unit">{{ unit === 'mm' ? 'mm' : 'inch' }}<small v-if="place?.value_mm" class="frac">{{ inch_fraction(place.value_mm) }}″</small></span>
          <button class="go" type="submit">Keep, {{ Math.min(3, (place?.values_mm.length ?? 0) + 1) }} of 3</button>
        </form>
        <v-text-field v-model="using" class="using" label="Taken with" />
        <p class="least">Type, Enter keeps. Backspace in the empty field retakes. Arrows go to the next place. Each dash is a reading, set off by how far it differs; a hollow one is still to take.</p>
      </div>
    </div>
    <div class="so sheet">
      <template v-if="stack">
        <section><h2>So the pocket is</h2><PocketDrawing v-if="open.state?.drawing.heel" :heel="open.state.drawing.heel" /><p v-else class="second">Measure the heel’s widths and length, and the pocket is drawn here.</p>
          <EditField path="choices.fit_gap_mm" :value="choices?.fit_gap_mm" label="Fit gap each side" is_length />
        </section>
        <section><h2>and the saddle falls here</h2>
          <SumTable v-if="saddle" :of="saddle" />
          <div class="pair"><EditField path="choices.scale_mm" :value="choices?.scale_mm" label="Scale" is_length /><EditField path="choices.compensation_mm" :value="choices?.compensation_mm" label="Compensation" is_length /></div>
        </section>
        <section><h2>and this deep</h2>
          <SumTable :of="stack" />
          <div class="pair three">
            <EditField path="choices.action_12th_mm" :value="choices?.action_12th_mm" label="Action at the 12th"
              is_length />
            <EditField path="choices.string_at_nut_mm" :value="choices?.string_at_nut_mm" label="At the first fret"
              is_length />
            <EditField path="choices.saddle_part" :value="choices?.saddle_part" label="Saddle, low to high" />
          </div>
        </section>
      </template>
      <p v-if="part && !stack" class="word lone">Readings of {{ part.name }}. What is cut for it follows them.</p>
      <section class="told"><template v-if="moved.length"><h2>That moved</h2>
        <p v-for="m in moved.slice(0, 8)" :key="m.what" class="moved"><span>{{ m.what }}</span><b>{{ m.after_mm === null ? 'not known now' : length(m.after_mm) }}</b><span class="second">{{ m.before_mm === null ? 'new' : m.after_mm === null ? '' : `${m.after_mm > m.before_mm ? '+' : '−'}${length(Math.abs(m.after_mm - m.before_mm))}` }}</span></p>
        <p v-if="moved.length > 8" class="least">and {{ moved.length - 8 }} more.</p></template><h2>{{ measuring.length ? 'Look again' : 'Readings agree' }}</h2>
        <p v-if="!measuring.length" class="word">{{ open_items ? 'What is taken agrees.' : 'Every place that is needed was taken, and the readings agree.' }}</p>
        <div v-for="f in measuring" :key="f.letter" class="one"><p>{{ f.sentence }}</p>
          <button v-for="(c, k) in f.cures" :key="k" class="cure"
          @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div>
      </section>
    </div>
  </main>
</template>

<style scoped>
.measure { display: grid; grid-template-rows: 1fr auto; height: 100vh; overflow-y: auto; }
.top { padding: 6px 34px 8px; }
.parts { display: flex; gap: 24px; margin: 4px 0; flex-wrap: wrap; }
.tabs { display: flex; gap: 24px; flex-wrap: wrap; }
.parts button { font-size: 17px; min-height: 30px; color: var(--ink2); }
.parts .here { color: var(--ink); box-shadow: 0 3px 0 -1px var(--ink); }
sup { font-family: var(--num); font-size: 14px; color: var(--amber-ink); }
.table { display: grid; grid-template-columns: minmax(420px, 1.2fr) minmax(380px, 1fr); gap: 20px; align-items: start; }
.drawing { width: 100%; max-height: 280px; }
.gap { flex: 1; }
.add { max-width: 230px; font-family: var(--num); }
.using { flex: 0 0 118px; }
.off-list { color: var(--ink2); margin-top: 4px; }
.lone { grid-column: span 3; font-size: 17px; }
.places { max-height: 256px; overflow-y: auto; }
.dim { cursor: pointer; }
.dim line, .dim path { stroke: var(--ink); stroke-width: 1.1; fill: none; }
.dim text { font-size: 14px; font-weight: 600; fill: var(--ink); }
.dim.here line, .dim.here path { stroke: var(--moss); stroke-width: 2.4; }
.dim.here text { fill: var(--moss); }
[data-theme='dark'] .drawing path { stroke: #8d8477; }
.places { list-style: none; margin: 0; padding: 0; }
.places button { width: 100%; display: grid; grid-template-columns: 208px 52px 66px 1fr; align-items: center; gap: 8px; min-height: 32px; border-bottom: 1px solid var(--rule); padding: 1px 6px; }
.places b { text-align: right; font-size: 15px; }
.places .here { background: var(--bark); font-weight: 600; }
.places .off .said { color: var(--amber-ink); font-weight: 600; }
.caliper { display: flex; align-items: center; gap: 16px; flex-wrap: wrap; }
.caliper form { display: flex; align-items: center; gap: 10px; background: #bcb5a6; border: 1.5px solid #1d1a17; border-radius: 3px; padding: 6px 8px; color: #1d1a17; }
.caliper label { max-width: 150px; font-weight: 600; }
.caliper .least { color: #1d1a17; font-weight: 400; }
.caliper input { width: 118px; font: 700 24px var(--num); padding: 1px 6px; background: #fbf9f5; border: 1.5px solid #1d1a17; border-radius: 2px; color: #1d1a17; }
.unit { display: flex; flex-direction: column; line-height: 1.1; }
.caliper p { flex: 1 1 220px; margin: 0; font-size: 14px; }
.caliper p.least { color: var(--ink3); }
.jaws { flex: none; }
.so {
  padding: 12px 34px 14px; display: grid; grid-template-columns: 220px 1fr 1.45fr .8fr; gap: 26px; min-height: 292px;
}
.so :deep(.v-input) { flex: none; }
.so section { display: flex; flex-direction: column; gap: 8px; }
.pair { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin-top: auto; }
.pair.three { grid-template-columns: 1.2fr 1fr 1fr; }
.told p { margin: 0; }
.moved { display: grid; grid-template-columns: 1fr auto 62px; gap: 8px; }
.moved .second { text-align: right; }
.one { border-top: 1px solid var(--rule); padding-top: 6px; display: flex; flex-direction: column; gap: 6px; align-items: flex-start; }
@media (max-width: 1100px) { .so { grid-template-columns: 1fr 1fr; } .table { grid-template-columns: 1fr; } .jaws { display: none; } }
</style>
