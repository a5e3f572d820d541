<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { RackRow } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import OriginTap from '../fields/OriginTap.vue'
import { edit, open } from '../route/store'
import { bought, length, value_typed } from '../units/format'
import BitSize from './BitSize.vue'

/** What a bit has behind it and what the shop says of it; what this route would add. */
const props = defineProps<{ row: RackRow; rows: RackRow[]; woods: Record<string, string>; in_route: boolean }>()
const emit = defineEmits<{ rows: [rows: RackRow[]] }>()
const wrong = ref('')
const note = reactive({ metres: '', minutes: '', diameter_mm: null as number | null, shortened_mm: null as number | null })
const says = reactive({ number: '', price: '', spares: '' })
watch(() => props.row, (r) => { Object.assign(says, { number: r.number, price: r.price === null ? '' : String(r.price), spares: String(r.spares) }); Object.assign(note, { metres: '', minutes: '', diameter_mm: null, shortened_mm: null }); wrong.value = '' }, { immediate: true })
const life = computed(() => props.row.life)
/** Metres the open route cuts with it, from its proof. */
const asks = computed(() => (open.report?.operations ?? []).filter((o) => o.bit === props.row.bit.id).reduce((s, o) => s + o.cut_length_mm / 1000, 0))
const jobs_left = computed(() => (asks.value > 0 ? Math.floor(life.value.left_m / asks.value) : null))
const woods = computed(() => Object.entries(life.value.by_wood).map(([w, m]) => `${w ? (props.woods[w] ?? w).toLowerCase() : 'wood not said'} ${Math.round(m)} m${life.value.minutes_by_wood[w] ? `, ${Math.round(life.value.minutes_by_wood[w])} min` : ''}`))
const number = (text: string) => value_typed(text)
async function did(act: () => Promise<RackRow[]>) {
  try { emit('rows', await act()); wrong.value = '' } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  }
}
const used = () => did(() => api.note_bit(props.row.bit.id, { what: 'used', wood: open.state?.document.blank.wood ?? '', metres: number(note.metres) ?? 0, minutes: number(note.minutes) ?? 0 }))
const measured = () => did(() => api.note_bit(props.row.bit.id, { what: 'measured', diameter_mm: note.diameter_mm, shortened_mm: note.shortened_mm }))
const fresh = () => did(() => api.note_bit(props.row.bit.id, { what: 'new' }))
const keep = (state = props.row.state) => did(() => api.keep_bit({ bit: props.row.bit, number: says.number, price: number(says.price), spares: number(says.spares) ?? 0, note: props.row.note, state }))
</script>

<template>
  <section>
    <p v-if="['dovetail', 'undercut'].includes(row.bit.form)"
      class="second">No job takes it: it cuts under wood that stays,
      and the proof sees wood from above only.</p>
    <p class="second">{{ row.state === 'on_hand' ? '' : 'Taken off the rack. ' }}{{ row.bit.flute.replace('_', '-') }}
      {{ row.bit.form }}, {{ row.bit.flutes }} flutes, {{ bought(row.bit.diameter_mm) }} across{{
      row.bit.measured_diameter_mm ? `, measured ${length(row.bit.measured_diameter_mm)}` : ''
      }}, cuts {{ length(row.bit.cutting_length_mm, 1) }}, {{ length(row.bit.stickout_mm, 1) }} out, shank {{
      length(row.bit.shank_diameter_mm, 1) }}{{
      row.bit.corner_radius_mm ? `, radius ${length(row.bit.corner_radius_mm)}` : '' }}{{
      ['v', 'drill'].includes(row.bit.form) ? `, ${row.bit.included_angle_deg}°` : '' }}, {{
      row.bit.material === 'hss' ? 'high speed steel' : row.bit.material }}.</p>
    <svg viewBox="0 0 100 8" preserveAspectRatio="none" class="life" role="img" :aria-label="`${Math.round(life.worn_m)} of ${Math.round(life.limit_m)} metres`"><rect width="100" height="8" fill="var(--well)" /><rect :width="Math.min(100, (100 * life.worn_m) / life.limit_m)" height="8" :fill="life.is_low ? '#b9770a' : 'var(--moss)'" /></svg>
    <p><OriginTap of="life"><b>{{ Math.round(life.metres) }} m</b> cut</OriginTap> since it was new<template v-if="life.worn_m > 0">, worn like <b>{{ Math.round(life.worn_m) }}</b> of about {{ Math.round(life.limit_m) }} in hardwood</template><template v-if="asks > 0">. This route asks {{ asks.toFixed(1) }} m of it: good for about <b>{{ jobs_left }}</b> like it</template>. <span class="least">Assumed figures, until your own show.</span></p>
    <p v-if="woods.length" class="second">{{ woods.join('; ') }}{{ life.slots
      ? `; ${life.slots} slots` : '' }}{{ life.boards
      ? `, as many as ${life.boards.toFixed(1)} boards have; its tip is shorter for every one of them` : '' }}.</p>
    <p v-if="row.forecast.jobs" :class="row.forecast.crosses_in ? 'care' : 'second'">{{ row.forecast.crosses_in ? `Of the jobs not run yet it crosses its limit in ${row.forecast.crosses_in}` : `The ${row.forecast.jobs === 1 ? 'one job' : `${row.forecast.jobs} jobs`} not run yet ask ${Math.round(row.forecast.asked_m)} m of it: it lasts` }}.{{ row.forecast.crosses_in && row.spares === 0 ? ' There is no spare.' : '' }}</p>
    <p v-if="life.words" class="care">{{ life.words[0].toUpperCase() + life.words.slice(1) }}.</p>
    <div class="four"><v-text-field v-model="note.metres" label="Cut" suffix="m" inputmode="decimal" /><v-text-field v-model="note.minutes" label="For" suffix="min" inputmode="decimal" /><button class="cure" @click="used">Used it</button></div>
    <div class="four"><NumberField v-model="note.diameter_mm" label="Measured" :places="2" />
      <NumberField v-model="note.shortened_mm" label="Tip shorter by" :places="2" />
      <button class="cure" @click="measured">Measured it</button></div>
    <div class="four"><v-text-field v-model="says.number" label="Its number" maxlength="80" /><v-text-field v-model="says.price" label="Price" inputmode="decimal" /><v-text-field v-model="says.spares" label="Spares" inputmode="numeric" /></div>
    <div class="acts"><button class="cure" @click="keep()">Keep that</button><button class="plain" @click="fresh">A new one went in</button><button v-if="!in_route && row.state === 'on_hand'" class="plain" @click="edit([{ do: 'put_item', list: 'bits', item: row.bit }], `Take the ${row.bit.name} into the route`)">Take it into the route</button><button class="plain" @click="keep(row.state === 'on_hand' ? 'retired' : 'on_hand')">{{ row.state === 'on_hand' ? 'Take it off the rack' : 'Hang it up again' }}</button></div>
    <details><summary>Its sizes</summary><BitSize :row="row" :rows="rows" @rows="(r) => emit('rows', r)" /></details>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.life { width: 100%; height: 8px; }
.four { display: grid; grid-template-columns: 1fr 1fr 120px; gap: 8px; align-items: center; }
.four .cure { justify-content: center; }
.acts { display: flex; gap: 12px; align-items: center; }
.care { color: var(--amber-ink); font-weight: 600; }
.ember { color: var(--ember); }
summary { cursor: pointer; min-height: 26px; }
details > * + * { margin-top: 8px; }
.acts { flex-wrap: wrap; }
</style>
