<script setup lang="ts">
import { computed, onMounted, onUnmounted, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { BirchFailure, api } from '../api/client'
import type { DrawingState, Outline, Shop } from '../api/types'
import { length, unit } from '../units/format'
import NumberField from '../fields/NumberField.vue'
import type { Numbers } from '../board/fields'
import BoardStart from './BoardStart.vue'
import NeckStart from './NeckStart.vue'
import ScanScale from './ScanScale.vue'
import { bounds_of, is_round, lies_inside, path_text, type Loop } from './curves'

/** A new job from nothing: an outline of ours, or a drawing that is brought in. */
const router = useRouter()
const shop = ref<Shop | null>(null)
const styles = ['siskin', 'dunnock', 'plover']
const outlines = reactive<Record<string, Outline>>({})
const style = ref('siskin')
const shape = reactive({ length_mm: 410, width_mm: 320, waist: 0.06, horn: 0 })
const drawing = ref<DrawingState | null>(null)
const by_numbers = ref<'board' | 'neck' | ''>('') // from the numbers of its drawing
const board = ref<Numbers | null>(null)
const neck = ref<Numbers | null>(null)
const roles = reactive<Record<number, string>>({})
const depths = reactive<Record<number, number>>({})
const names = reactive<Record<number, string>>({})
const over = ref(-1)
const wrong = ref('')
const busy = ref(false)
const file = ref<HTMLInputElement>()
const job = reactive({ job: '', kind: 'body', wood: 'alder', thickness_mm: 44, machine: '', with_parts: true, left_handed: false, skim_mm: 0, join_mm: 0.1, turn_deg: 0, scale_to_mm: null as number | null, centre_y_mm: null as number | null })
let timer = 0
onMounted(async () => {
  shop.value = await api.shop()
  job.machine = shop.value.machines[0]?.id ?? ''
  bits_unsaid.value = (await api.own_shop()).bits === 0
  for (const s of styles) outlines[s] = await api.outline(s, 410, 320, 0.06, 0)
})
onUnmounted(() => window.clearTimeout(timer))
let asked = 0
watch([style, shape], async () => {
  const mine = ++asked
  try {
    const found = await api.outline(style.value, shape.length_mm, shape.width_mm, shape.waist, shape.horn)
    if (mine === asked) { outlines[style.value] = found; wrong.value = '' }
  } catch (error) { if (mine === asked) wrong.value = (error as Error).message }
}, { deep: true })
/** An outline drawn into a box: its points, and the height of the centre line. */
const placed = (o: Outline | undefined, w: number, h: number) => {
  if (!o) return { text: '', centre: h / 2 }
  const xs = o.points.map((p) => p[0]); const ys = o.points.map((p) => p[1])
  const s = Math.min(w / (Math.max(...xs) - Math.min(...xs)), h / (Math.max(...ys) - Math.min(...ys))) * 0.94
  const x0 = w / 2 - ((Math.max(...xs) + Math.min(...xs)) / 2) * s; const y0 = h / 2 + ((Math.max(...ys) + Math.min(...ys)) / 2) * s
  return { text: o.points.map(([x, y]) => `${(x0 + x * s).toFixed(1)},${(y0 - y * s).toFixed(1)}`).join(' '), centre: y0 }
}
const result = computed(() => (drawing.value?.status === 'done' ? drawing.value.result : null))
const loops = computed<Loop[]>(() => (result.value && !result.value.needs_unit ? result.value.loops ?? [] : []))
const box = computed(() => bounds_of(loops.value))
const s = computed(() => Math.min(600 / Math.max(1, box.value[2] - box.value[0]), 420 / Math.max(1, box.value[3] - box.value[1])))
const sx = (x: number) => (x - box.value[0]) * s.value + 10
const sy = (y: number) => (box.value[3] - y) * s.value + 10
const chosen = computed(() => Object.entries(roles).filter(([, r]) => r !== 'leave').map(([k, role]) => ({ index: Number(k), role, name: names[Number(k)] ?? '', depth_mm: role === 'pocket' || role === 'back' ? depths[Number(k)] ?? 5 : null })))
/** Our own outlines are bodies; of anything else a drawing says what it is, and it is cut as it is drawn. */
const kinds = computed(() => (drawing.value ? DRAWN_KINDS : DRAWN_KINDS.slice(0, 1)))
const DRAWN_KINDS = [
  { title: 'Body', value: 'body' }, { title: 'Neck, as it is drawn', value: 'neck' },
  { title: 'Fretboard, as it is drawn', value: 'fretboard' }, { title: 'Plate, guard or template', value: 'plate' },
]
watch(drawing, (now) => { if (now) by_numbers.value = ''; else job.kind = 'body' })
const by_style = computed(() => !by_numbers.value && !drawing.value)
function begin_neck() {
  drawing.value = null
  by_numbers.value = 'neck'
  job.with_parts = false
  if (job.wood === 'alder' && shop.value?.woods.some((w) => w.id === 'hard_maple')) job.wood = 'hard_maple'
}
function begin_board() {
  drawing.value = null
  by_numbers.value = 'board'
  job.with_parts = false
  if (job.wood === 'alder' && shop.value?.woods.some((w) => w.id === 'rosewood')) job.wood = 'rosewood'
  if (!job.skim_mm) job.skim_mm = 0.5
}
function begin_style(name: string) {
  style.value = name
  drawing.value = null
  by_numbers.value = ''
}
const role_items = [{ title: 'Outline', value: 'outline' }, { title: 'Pocket, front', value: 'pocket' }, { title: 'Pocket, back', value: 'back' }, { title: 'Through', value: 'through' }, { title: 'Reference only', value: 'reference' }, { title: 'Leave out', value: 'leave' }]
const layer_items = role_items.filter((r) => r.value !== 'outline')
const layers = computed(() => [...new Set(loops.value.map((l) => l.layer))])
/** What a layer's name says its curves are, where it says anything. */
function role_of(layer: string): string | null {
  if (/ref|guide|dim|text|cent(re|er)|axis|note/i.test(layer)) return 'reference'
  if (/back|rear|bottom|under/i.test(layer)) return 'back'
  if (/thr(u|ough)|hole|drill/i.test(layer)) return 'through'
  return null
}
function type_layer(layer: string, role: string | null) { if (role) loops.value.forEach((l, k) => { if (l.layer === layer && roles[k] !== 'outline' && !l.crossing_mm) roles[k] = role }) }
const woods = computed(() => (shop.value?.woods ?? []).map((w) => ({ title: `${w.name}, ${w.density_kg_m3} kg/m³`, value: w.id })))
const bits_unsaid = ref(false)
const machines = computed(() => (shop.value?.machines ?? []).map((m) => ({ title: m.name, value: m.id })))
watch(loops, (now) => {
  for (const k of Object.keys(roles)) delete roles[Number(k)]
  const first = now.findIndex((l) => !l.crossing_mm && role_of(l.layer) !== 'reference')
  now.forEach((l, k) => { roles[k] = k === first ? 'outline' : first >= 0 && lies_inside(l, now[first]) && !l.crossing_mm && k < 40 ? role_of(l.layer) ?? (is_round(l) ? 'through' : 'pocket') : role_of(l.layer) === 'reference' && !l.crossing_mm && k < 40 ? 'reference' : 'leave'; names[k] = k === first ? 'Outline' : `${l.layer === 'drawing' || l.layer === '0' ? 'Curve' : l.layer} ${k + 1}`; depths[k] ??= 5 })
})
async function bring(event: Event) {
  const chosen_file = (event.target as HTMLInputElement).files?.[0]
  if (!chosen_file) return
  wrong.value = ''
  try {
    const { id } = await api.bring_drawing(chosen_file, job.join_mm)
    if (!job.job) job.job = chosen_file.name.replace(/\.[a-z]+$/i, '').slice(0, 60)
    job.with_parts = false
    await follow(id)
  } catch (error) { wrong.value = (error as Error).message } finally { if (file.value) file.value.value = '' }
}
async function follow(id: number) {
  window.clearTimeout(timer)
  drawing.value = await api.drawing(id)
  if (['waiting', 'reading'].includes(drawing.value.status)) timer = window.setTimeout(() => void follow(id), 350)
}
async function again(unit_name: string | null) {
  if (!drawing.value) return
  await api.drawing_again(drawing.value.id, unit_name ?? drawing.value.unit, job.join_mm)
  await follow(drawing.value.id)
}
async function trace(scan: string) {
  if (!drawing.value) return
  try { await api.trace_scan(drawing.value.id, scan); await follow(drawing.value.id) } catch (error) { wrong.value = (error as Error).message }
}
async function make() {
  busy.value = true
  wrong.value = ''
  const { join_mm: _join, machine, ...rest } = job
  try {
    const state = await api.new_job({
      ...rest, machine: shop.value!.machines.find((m) => m.id === machine), bits: shop.value!.bits,
      ...(by_numbers.value === 'board'
        ? { kind: 'fretboard', board: board.value, thickness_mm: board.value?.thickness_mm }
        : by_numbers.value === 'neck' ? { kind: 'neck', neck: neck.value }
          : drawing.value ? { upload: drawing.value.id, choices: chosen.value } : {
          style: style.value, style_length_mm: shape.length_mm, style_width_mm: shape.width_mm,
          waist: shape.waist, horn: shape.horn,
        }),
    })
    await router.push(`/routes/${state.route}/${by_numbers.value || (job.with_parts ? 'measure' : 'route')}`)
  } catch (error) {
    wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
  } finally { busy.value = false }
}
</script>

<template>
  <main class="start">
    <header><router-link to="/" class="home"><img src="/mark.svg" alt="" width="22" height="22" /> Birch Route</router-link></header>
    <h1>A new job</h1>
    <div class="columns">
      <section class="shapes">
        <div class="choices" role="radiogroup" aria-label="Outline">
          <button v-for="k in styles" :key="k" role="radio" :aria-checked="by_style && style === k"
            :class="{ here: by_style && style === k }" @click="begin_style(k)">
            <svg width="100" height="72" viewBox="0 0 150 104" aria-hidden="true"><polygon
              :points="placed(outlines[k], 150, 104).text" fill="#d6a679" stroke="#1d1a17" stroke-width="1.2" /></svg>
            <span class="word">{{ k[0].toUpperCase() + k.slice(1) }}</span>
          </button>
          <button role="radio" :aria-checked="by_numbers === 'board'" :class="{ here: by_numbers === 'board' }"
            @click="begin_board">
            <svg width="100" height="72" viewBox="0 0 150 104" aria-hidden="true"><path
              d="M8 38L142 30V74L8 66Z" fill="#8f5840"
              stroke="#1d1a17" stroke-width="1.2" /><path d="M28 37v30M47 36v32M65 35v34M82 34v36M98 33v38M113 32v40M127
              31v42" stroke="#1d1a17" stroke-width="1.2" /></svg><span class="word">Fretboard</span>
          </button>
          <button role="radio" :aria-checked="by_numbers === 'neck'" :class="{ here: by_numbers === 'neck' }"
            @click="begin_neck">
            <svg width="100" height="72" viewBox="0 0 150 104" aria-hidden="true"><path
              d="M6 52C10 34 26 30 34 36C40 40 44 43 52 43L144 38V66L52 61C44 61 40 64 34 68C26 74 10 70 6 52Z"
              fill="#e3bf8d" stroke="#1d1a17" stroke-width="1.2" /><path d="M52 43V61" stroke="#1d1a17"
              stroke-width="2" /></svg><span class="word">Neck</span>
          </button>
          <button role="radio" :aria-checked="!!drawing" :class="{ here: !!drawing }" @click="file?.click()">
            <svg width="76" height="72" viewBox="0 0 110 104" aria-hidden="true"><path d="M20 84V20h46l22 22v42z"
              fill="var(--bark)" stroke="var(--ink)" stroke-width="1.4" /><path
              d="M66 20v22h22" fill="none" stroke="var(--ink)" stroke-width="1.4" /><path
              d="M32 70q6 -26 22 -16t22 -6" fill="none" stroke="var(--ink)" stroke-width="1.6"
              stroke-dasharray="5 4" /></svg>
            <span class="word">Drawing or scan</span>
          </button>
          <input ref="file" type="file" accept=".dxf,.svg,.png,.jpg,.jpeg,image/svg+xml,image/png,image/jpeg" class="visually-hidden" aria-label="Drawing or scan: DXF, SVG, PNG or JPEG" tabindex="-1" @change="bring" />
        </div>
        <BoardStart v-if="by_numbers === 'board'" :left_handed="job.left_handed" @board="board = $event" />
        <NeckStart v-else-if="by_numbers === 'neck'" :left_handed="job.left_handed" @neck="neck = $event" />
        <template v-else-if="!drawing">
          <svg class="large" viewBox="0 0 620 400" role="img" :aria-label="`The ${style} outline`"><polygon :points="placed(outlines[style], 620, 400).text" fill="#d6a679" stroke="#1d1a17" stroke-width="1.6" /><path :d="`M0 ${placed(outlines[style], 620, 400).centre}H620`" stroke="#82786b" stroke-dasharray="14 4 3 4" /></svg>
          <div class="four">
            <NumberField v-model="shape.length_mm" label="Long" /><NumberField v-model="shape.width_mm" label="Wide" />
            <label>Waist drawn in <input v-model.number="shape.waist" type="range" min="-0.06" max="0.2" step="0.01" /></label>
            <label>Horns reach <input v-model.number="shape.horn" type="range" min="-0.1" max="0.12" step="0.01" /></label>
          </div>
        </template>
        <template v-else>
          <p v-if="['waiting', 'reading'].includes(drawing.status)" class="word" role="status">Reading {{ drawing.name }}, {{ Math.round(drawing.progress * 100) }} in 100. <button class="plain" @click="api.stop_drawing(drawing.id); drawing = null">Stop</button></p>
          <div v-else-if="drawing.status === 'failed'" class="torn" role="alert"><p class="word">{{ drawing.result?.message }}</p><button class="cure" @click="file?.click()">Bring in another</button></div>
          <ScanScale v-else-if="result?.needs_scale" :id="drawing.id" :width="result.width_px!" :height="result.height_px!" @read="trace" />
          <div v-else-if="result?.needs_unit" class="torn"><p class="word">{{ drawing.name }} does not say in which unit it was drawn. How large should it be?</p>
            <div class="units"><button v-for="(size, u) in result.sizes" :key="u" class="cure" @click="again(String(u))">{{ u }}: {{ length(size[0], 0) }} × {{ length(size[1], 0) }}{{ unit === 'mm' ? ' mm' : '' }}</button></div></div>
          <template v-else-if="loops.length">
            <svg class="large" viewBox="0 0 620 440" role="img" :aria-label="`${loops.length} closed curves`">
              <path v-for="(l, k) in loops" :key="k" :d="path_text(l.path, sx, sy)" :fill="roles[k] === 'outline' ? '#d6a679' : roles[k] === 'pocket' ? '#b98d63' : roles[k] === 'through' ? 'var(--paper)' : 'none'" :stroke="l.crossing_mm ? 'var(--ember)' : 'var(--ink)'" :stroke-width="over === k ? 3.4 : 1.3" :stroke-dasharray="roles[k] === 'leave' ? '4 4' : roles[k] === 'reference' ? '1 3' : roles[k] === 'back' ? '2 2' : ''" @pointerenter="over = k" @pointerleave="over = -1" />
              <g v-for="(l, k) in loops" :key="`x${k}`"><circle v-if="l.crossing_mm" :cx="sx(l.crossing_mm[0])" :cy="sy(l.crossing_mm[1])" r="7" fill="none" stroke="var(--ember)" stroke-width="2" /></g>
            </svg>
            <div v-if="layers.length > 1" class="four"><v-select v-for="l in layers" :key="l" :model-value="null"
              :items="layer_items" :label="`Layer ${l}`"
              @update:model-value="(v: string | null) => type_layer(l, v)" /></div>
            <table class="loops"><tbody>
              <tr v-for="(l, k) in loops.slice(0, 60)" :key="k" :class="{ over: over === k }" @pointerenter="over = k" @pointerleave="over = -1" @focusin="over = k">
                <td><v-text-field v-model="names[k]" label="Name" /></td>
                <td class="num">{{ length(l.bounds_mm[2] - l.bounds_mm[0], 1) }} × {{ length(l.bounds_mm[3] - l.bounds_mm[1], 1) }}</td>
                <td><v-select v-model="roles[k]" :items="role_items" label="Becomes" :disabled="!!l.crossing_mm" /></td>
                <td><NumberField v-if="roles[k] === 'pocket' || roles[k] === 'back'" v-model="depths[k]"
                  label="Deep" /><span v-else-if="l.crossing_mm" class="ember">crosses itself, ringed</span></td>
              </tr></tbody></table>
            <p v-if="(result?.loops_in_all ?? 0) > 60" class="least">{{ (result?.loops_in_all ?? 0) - 60 }} smaller curves are left out.</p>
            <p v-if="result?.traced" class="word">{{ result.traced.words }}</p>
            <details v-if="result?.changes?.length"><summary>{{
              result.changes.length === 1 ? 'One thing was' : `${result.changes.length} things were` }} changed on the
              way in</summary><ul><li v-for="(c, k) in result.changes" :key="k">{{ c.words }}<span
              v-if="c.what !== 'skipped'" class="least"> At {{ length(c.x_mm, 1) }},
              {{ length(c.y_mm, 1) }}.</span></li></ul>
            </details>
            <div class="four"><NumberField v-model="job.join_mm" label="Join ends within" />
              <button class="cure" @click="again(null)">Read it again</button>
              <NumberField v-model="job.scale_to_mm" label="Scale to this length" />
              <button class="cure"
              @click="job.turn_deg = (job.turn_deg + 90) % 360">Turn it, now {{ job.turn_deg }}°</button></div>
            <p class="least">The neck end comes to the left. The centre line is taken at the middle of the outline’s box{{ job.centre_y_mm === null ? '' : ', or where you say' }}: an uneven outline needs its own.</p>
            <NumberField v-model="job.centre_y_mm" label="Centre line, y in the drawing" />
          </template>
        </template>
      </section>
      <section class="sheet about">
        <h2>What it becomes</h2>
        <v-text-field v-model="job.job" label="Name of the job" />
        <v-select v-if="!by_numbers" v-model="job.kind" :items="kinds" label="Piece"
          :hint="drawing ? '' : 'A plate begins with its drawing'"
          :persistent-hint="!drawing" />
        <v-select v-model="job.wood" :items="woods" label="Wood" />
        <NumberField v-if="!by_numbers" v-model="job.thickness_mm" label="Thick when finished" />
        <NumberField v-model="job.skim_mm" label="To be skimmed off its face" />
        <v-select v-if="machines.length || !shop" v-model="job.machine" :items="machines" label="Machine" />
        <p v-else class="ember">The shop has no machine yet, and every cut is checked for one. <router-link
          to="/shop/machines/new">Choose the machine</router-link></p>
        <v-checkbox v-if="job.kind === 'body' && !by_numbers" v-model="job.with_parts"
          label="Takes a neck, bridge and pickup, still to be measured" />
        <v-checkbox v-model="job.left_handed" label="Left-handed: the piece is mirrored, bought parts are not" />
        <p v-if="bits_unsaid"
          class="second">Nobody said yet which bits hang in the shop, so all that are offered are taken. <router-link
          to="/shop/bits">Look through them</router-link></p>
        <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
        <button class="go"
          :disabled="busy || !job.job.trim() || !job.machine
            || (by_numbers === 'board' && !board) || (by_numbers === 'neck' && !neck)
            || (!!drawing && !chosen.some((c) => c.role === 'outline'))"
          @click="make">{{ busy ? 'Making it' : 'Make the job' }}</button>
        <p class="least">The blank, screws at its corners, and a route with settings and reasons come with it. All of it can be changed.</p>
      </section>
    </div>
  </main>
</template>

<style scoped>
.start { padding: 10px 34px 34px; max-width: 1280px; margin: 0 auto; height: 100vh; overflow-y: auto; }
.home { display: inline-flex; gap: 10px; align-items: center; font-weight: 600; text-decoration: none; min-height: 40px; }
.columns { display: grid; grid-template-columns: 1fr 380px; gap: 34px; margin-top: 12px; align-items: start; }
.shapes { display: flex; flex-direction: column; gap: 12px; min-width: 0; }
.choices { display: flex; gap: 6px; border-bottom: 1.5px solid var(--ink); flex-wrap: wrap; }
.choices button { display: flex; flex-direction: column; align-items: center; padding: 6px 5px; font-size: 16px; }
.choices .here { background: var(--bark); box-shadow: 0 4px 0 -1px var(--ink); }
.large { width: 100%; max-height: 400px; }
.four { display: grid; grid-template-columns: 1fr 1fr 1fr 1fr; gap: 12px; align-items: center; }
.four label { display: flex; flex-direction: column; }
.four input[type='range'] { accent-color: var(--moss); min-height: 24px; }
.about { padding: 18px 20px; display: flex; flex-direction: column; gap: 12px; }
.about p { margin: 0; }
.about .go { align-self: flex-start; }
.torn { border-left: 8px solid var(--ember); background: var(--bark); padding: 10px 14px; }
.units { display: flex; gap: 10px; flex-wrap: wrap; }
.word { font-size: 17px; margin: 0 0 8px; }
.loops { border-collapse: collapse; width: 100%; }
.loops td { padding: 3px 6px 3px 0; }
.loops td:nth-child(3), .loops td:nth-child(4) { width: 150px; }
.loops .num { white-space: nowrap; width: 130px; }
.over { background: var(--bark); }
.ember { color: var(--ember); }
ul { margin: 4px 0; padding-left: 18px; }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
</style>
