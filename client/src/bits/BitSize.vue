<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { Bit, RackRow } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { value_typed } from '../units/format'

/** A bit as it was measured or as its packet says: hung on the rack, or changed there. Routes keep the bits they were made with. */
const props = defineProps<{ row: RackRow | null; rows: RackRow[] }>()
const emit = defineEmits<{ rows: [rows: RackRow[], id: string] }>()
const FORMS = [
  ['flat', 'Flat: clears, profiles, saws slots'], ['bull', 'Flat, rounded corners'], ['ball', 'Ball'],
  ['taper', 'Ball on a taper'], ['v', 'V: engraves, chamfers'],
  ['round', 'Rounds over'], ['drill', 'Drill'], ['dovetail', 'Dovetail'],
  ['undercut', 'Undercuts: T-slot, keyhole'],
].map(([value, title]) => ({ value, title }))
const ANGLED = ['v', 'taper', 'drill', 'dovetail']
const FLUTES = [['up_cut', 'Up-cut'], ['down_cut', 'Down-cut'], ['compression', 'Compression'], ['straight', 'Straight']].map(([value, title]) => ({ value, title }))
const EMPTY = { name: '', form: 'flat', flute: 'up_cut', flutes: '2', material: 'carbide', diameter_mm: null, cutting_length_mm: null, shank_diameter_mm: null, stickout_mm: null, corner_radius_mm: null, tip_diameter_mm: null, included_angle_deg: '', cuts_at_centre: true, serrated: false }
type Draft = Omit<typeof EMPTY, 'diameter_mm' | 'cutting_length_mm' | 'shank_diameter_mm' | 'stickout_mm' | 'corner_radius_mm' | 'tip_diameter_mm'> & Record<'diameter_mm' | 'cutting_length_mm' | 'shank_diameter_mm' | 'stickout_mm' | 'corner_radius_mm' | 'tip_diameter_mm', number | null>
const draft = reactive<Draft>({ ...EMPTY })
const wrong = ref('')
watch(() => props.row, (r) => {
  wrong.value = ''
  const pointed = r !== null && ANGLED.includes(r.bit.form)
  Object.assign(draft, EMPTY, r ? {
    ...r.bit, flutes: String(r.bit.flutes), included_angle_deg: pointed ? String(r.bit.included_angle_deg) : '',
    corner_radius_mm: r.bit.corner_radius_mm || null, tip_diameter_mm: r.bit.tip_diameter_mm || null,
  } : {})
}, { immediate: true })
const number = (text: string) => value_typed(text)
function id_for(name: string): string {
  const base = name.toLowerCase().replace(/[^a-z0-9]+/g, '_').replace(/^_+|_+$/g, '').slice(0, 36) || 'bit'
  for (let k = 0; ; k++) { const id = k ? `${base}_${k}` : base; if (!props.rows.some((r) => r.bit.id === id)) return id }
}
async function keep() {
  const missing: string[] = ([['diameter_mm', 'its diameter'], ['cutting_length_mm', 'how long it cuts'], ['shank_diameter_mm', 'its shank'], ['stickout_mm', 'how far it stands out']] as const).filter(([k]) => draft[k] === null).map(([, w]) => w)
  if (!draft.name.trim()) missing.unshift('its name')
  if (missing.length) { wrong.value = `Still wanted: ${missing.join(', ')}.`; return }
  const angle = number(draft.included_angle_deg)
  const bit = { ...(props.row?.bit ?? {}), id: props.row?.bit.id ?? id_for(draft.name), name: draft.name.trim(), form: draft.form, flute: draft.flute, flutes: number(draft.flutes) ?? 2, material: draft.material, diameter_mm: draft.diameter_mm, cutting_length_mm: draft.cutting_length_mm, shank_diameter_mm: draft.shank_diameter_mm,
    stickout_mm: draft.stickout_mm, corner_radius_mm: draft.corner_radius_mm ?? 0, tip_diameter_mm: draft.tip_diameter_mm ?? 0, ...(angle === null ? {} : { included_angle_deg: angle }), ...(draft.flute === 'straight' ? { helix_deg: 0 } : {}), cuts_at_centre: draft.cuts_at_centre, serrated: draft.serrated }
  try {
    const { number: packet, price, spares, note, state } = props.row ?? { number: '', price: null, spares: 0, note: '', state: 'on_hand' }
    emit('rows', await api.keep_bit({ bit: bit as unknown as Bit, number: packet, price, spares, note, state }), bit.id)
    wrong.value = ''
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    wrong.value = error.failure.message
  }
}
</script>

<template>
  <section>
    <v-text-field v-model="draft.name" label="Name" maxlength="80" />
    <div class="three"><v-select v-model="draft.form" :items="FORMS" label="Form" /><v-select v-model="draft.flute" :items="FLUTES" label="Flute" /><v-text-field v-model="draft.flutes" label="Flutes" inputmode="numeric" />
      <NumberField v-model="draft.diameter_mm" :label="draft.form === 'taper' ? 'Ball across' : 'Across'" :places="2" />
        <NumberField v-model="draft.cutting_length_mm" label="Cuts so long" />
        <NumberField v-model="draft.stickout_mm" label="Stands out" />
      <NumberField v-model="draft.shank_diameter_mm" label="Shank" :places="2" />
        <NumberField v-if="['bull', 'round'].includes(draft.form)" v-model="draft.corner_radius_mm" label="Radius"
        :places="2" /><NumberField v-if="['v', 'round'].includes(draft.form)" v-model="draft.tip_diameter_mm"
        label="Tip across" :places="2" /><v-text-field v-if="ANGLED.includes(draft.form)"
        v-model="draft.included_angle_deg" label="Angle" suffix="°" inputmode="decimal" />
      <v-select v-model="draft.material" :items="[{ title: 'Carbide', value: 'carbide' }, { title: 'High speed steel', value: 'hss' }]" label="Of" /></div>
    <div class="ticks"><v-checkbox v-model="draft.cuts_at_centre" label="Its middle cuts" /><v-checkbox v-model="draft.serrated" label="Serrated, roughs only" /></div>
    <p v-if="['dovetail', 'undercut'].includes(draft.form)"
      class="second">It hangs on the rack and is taken into no job: it
      cuts under wood that stays, and the proof sees wood from above only.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <button class="cure" @click="keep">{{ row ? 'Change it on the rack' : 'Hang it on the rack' }}</button>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
.three { display: grid; grid-template-columns: repeat(3, 1fr); gap: 8px; }
.ticks { display: flex; gap: 14px; flex-wrap: wrap; }
.cure { align-self: flex-start; }
.ember { color: var(--ember); margin: 0; }
</style>
