<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import type { Edit } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open } from '../route/store'
import { length } from '../units/format'
import FreePoints from './FreePoints.vue'
import { features, pen, take_up, WORDS } from './pen'

/** What is about to be drawn: its sizes, its face and depth, and where its middle goes. */
const props = defineProps<{ thickness: number; saddle: number | null }>()
const draft = reactive({
  name: '', face: 'front', through: false, depth_mm: null as number | null, corner_mm: null as number | null,
  along: 2, across: 1, apart_mm: null as number | null, rows_mm: null as number | null, part: '',
  behind_mm: null as number | null, treble_mm: null as number | null,
})
const wrong = ref('')
const FACES = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const free = computed(() => pen.hand === 'free')
const round = computed(() => pen.hand === 'hole' || pen.hand === 'row')
const pickups = computed(() => open.state!.document.parts.filter((p) => p.kind === 'pickup')
  .map((p) => ({ title: p.name, value: p.id })))
/** Numbers along are counted from the saddle line where there is one, else from the neck end. */
const zero = computed(() => props.saddle ?? 0)
const along_label = computed(() => (props.saddle === null ? 'Along, from the neck end' : 'Behind the saddle line'))
watch(() => pen.hand, () => { wrong.value = '' })
watch(() => pen.at, (at) => {
  if (!at) return
  draft.behind_mm = Math.round((at[0] - zero.value) * 100) / 100
  draft.treble_mm = at[1]
})
watch(() => [draft.behind_mm, draft.treble_mm], ([x, y]) => {
  if (x !== null && y !== null) pen.at = [Math.round((x + zero.value) * 1000) / 1000, y]
})
function wanted(): string {
  if (free.value && pen.points.length < 3) return 'Say where at least three of its corners stand.'
  if (!free.value && !pen.at) return 'Say where its middle goes, or press the place on the drawing.'
  if (pen.hand === 'pickup') return draft.part ? '' : 'Choose the pickup.'
  if (!draft.through && draft.depth_mm === null) return 'Say how deep it is, or that it goes through.'
  return ''
}
async function keep() {
  wrong.value = wanted()
  if (wrong.value) return
  const [x_mm, y_mm] = free.value ? [0, 0] : pen.at!
  const before = new Set(features().map((f) => f.id))
  const { name, face, along, across } = draft
  const one: Edit = pen.hand === 'pickup'
    ? { do: 'draw_pickup', part: draft.part, x_mm, y_mm, angle_deg: pen.angle_deg }
    : {
        do: 'draw', what: pen.hand, name, face, x_mm, y_mm, ...pen.size, angle_deg: pen.angle_deg,
        points: pen.points, depth_mm: draft.through ? null : draft.depth_mm, corner_mm: draft.corner_mm,
        ...(pen.hand === 'row' ? { along, across, apart_mm: draft.apart_mm, rows_mm: draft.rows_mm } : {}),
      }
  open.failure = null
  if (!(await edit([one], 'Draw it'))) return
  const new_one = features().find((f) => !before.has(f.id))?.id ?? ''
  take_up('')
  Object.assign(draft, { name: '', depth_mm: null, corner_mm: null, through: false, behind_mm: null, treble_mm: null })
  pen.taken = new_one
}
const title = computed(() => WORDS.find(([w]) => w === pen.hand)?.[1] ?? 'pickup')
const leaves = computed(() => (draft.depth_mm === null ? null : props.thickness - draft.depth_mm))
</script>

<template>
  <section class="form" :aria-label="`Draw a ${title}`" @keydown.esc="take_up('')">
    <h2>A {{ title }}</h2>
    <v-select v-if="pen.hand === 'pickup'" v-model="draft.part" :items="pickups" label="Pickup"
      no-data-text="Put the pickup on the list of the Measure screen first" />
    <template v-if="free">
      <p class="least">Its corners, one after another: press them on the drawing, or type them. Along is counted from
        {{ saddle === null ? 'the neck end' : 'the saddle line, behind it above 0' }}, across from the centre line.</p>
      <FreePoints :zero="zero" />
    </template>
    <p v-else class="least">Its middle: type it, or press the place on the drawing.</p>
    <div v-if="!free" class="grid">
      <NumberField v-model="draft.behind_mm" :label="along_label" negative :places="2" />
      <NumberField v-model="draft.treble_mm" label="Treble of the centre line" negative :places="2" />
    </div>
    <div class="grid">
      <NumberField v-if="round" v-model="pen.size.diameter_mm" label="Across" :places="2" />
      <template v-else-if="!free && pen.hand !== 'pickup'">
        <NumberField v-model="pen.size.length_mm" label="Long" :places="2" />
        <NumberField v-model="pen.size.width_mm" label="Wide" :places="2" />
      </template>
      <NumberField v-if="pen.hand === 'pocket' || free" v-model="draft.corner_mm" label="Corner radius" :places="2" />
      <template v-if="pen.hand === 'row'">
        <v-text-field v-model.number="draft.along" label="Holes in a row" inputmode="numeric" />
        <NumberField v-model="draft.apart_mm" label="Apart, middle to middle" :places="2" />
        <v-text-field v-model.number="draft.across" label="Rows" inputmode="numeric" />
        <NumberField v-if="draft.across > 1" v-model="draft.rows_mm" label="Rows apart" :places="2" />
      </template>
      <NumberField v-if="pen.hand !== 'hole' && !free" v-model="pen.angle_deg" label="Turned" kind="number" suffix="°"
        negative />
    </div>
    <template v-if="pen.hand !== 'pickup'">
      <div class="grid">
        <v-select v-model="draft.face" :items="FACES" label="Face" />
        <NumberField v-if="!draft.through" v-model="draft.depth_mm" label="Deep" :places="2" />
        <v-checkbox v-model="draft.through" label="Goes through" hide-details />
      </div>
      <p v-if="leaves !== null && !draft.through" class="least">Leaves {{ length(leaves, 2) }} of
        {{ length(thickness, 2) }}.</p>
      <v-text-field v-model="draft.name" label="Name, if it has one" maxlength="80" />
    </template>
    <p v-else class="least">As large as its ring is read and as deep as it goes, with room round and below.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p class="acts"><button class="go" @click="keep">Draw it</button>
      <button class="plain" @click="take_up('')">Put the pen down</button></p>
  </section>
</template>

<style scoped>
.form { display: flex; flex-direction: column; gap: 8px; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
.acts { display: flex; gap: 14px; align-items: center; }
.ember { color: var(--ember); }
p { margin: 0; }
</style>
