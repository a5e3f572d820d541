<script setup lang="ts">
import { computed, onMounted, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { Bit, Shop } from '../api/types'
import BrushesPanel from './BrushesPanel.vue'
import JobMachine from './JobMachine.vue'
import StalePanel from './StalePanel.vue'
import EditField from '../fields/EditField.vue'
import Masthead from '../route/Masthead.vue'
import { edit, open, open_route, set } from '../route/store'
import { shape } from '../bits/draw'
import { places_said, read_places } from '../own/places'
import { value_typed } from '../units/format'

const route = useRoute()
const shop = ref<Shop | null>(null)
onMounted(async () => { await open_route(Number(route.params.id)); shop.value = await api.shop() })
const doc = computed(() => open.state?.document)
const wood = computed(() => shop.value?.woods.find((w) => w.id === doc.value?.blank.wood))
const woods = computed(() => (shop.value?.woods ?? []).map((w) => ({ title: `${w.name}, ${w.density_kg_m3} kg/m³`, value: w.id })))
const chosen = ref('')
const bit = computed<Bit | undefined>(() => doc.value?.bits.find((b) => b.id === chosen.value) ?? doc.value?.bits[0])
const missing = computed(() => (shop.value?.bits ?? []).filter((b) => !doc.value?.bits.some((x) => x.id === b.id)))
/** One scale for all bits, tip down. */
const scale = computed(() => 190 / Math.max(60, ...(doc.value?.bits ?? []).map((b) => b.stickout_mm + 6)))
function add_bit(b: Bit) { void set('bits', [...doc.value!.bits, b]) }
const PUMP: ['free_l_min' | 'deepest_bar', string, string][] = [['free_l_min', 'Pump moves', 'l/min'], ['deepest_bar', 'Pump draws down to', 'bar']]
function pump(key: 'free_l_min' | 'deepest_bar', text: string) {
  const value = value_typed(text)
  const now = { free_l_min: 100, deepest_bar: 0.85, ...doc.value!.machine.pump, [key]: value }
  void set('machine.pump', value === null ? null : now)
}
type PlaceKey = 'index_holes_mm' | 'bit_change_mm' | 'probe_mm' | 'zones_mm'
const PLACES: [PlaceKey, string, string][] = [
  ['index_holes_mm', 'Permanent index holes in the waste board',
    'x, y from the near left end of the travel; the next after a semicolon. Cuts keep away from them; a blank with '
    + 'holes that fit is put over them.'],
  ['bit_change_mm', 'Bits are changed at', 'x, y from the near left end of the travel; empty: where it parks'],
  ['probe_mm', 'Z is touched off at a fixed place', 'x, y from the near left end of the travel; empty: at each setup’s own place'],
  ['zones_mm', 'Zones of a bed that draws', 'x, y, long, wide of each, from the near left end of the travel; the next after a semicolon'],
]
const wrong = reactive<Record<string, string>>({})
function read(key: PlaceKey, text: string) {
  const many = key === 'index_holes_mm' || key === 'zones_mm'
  const got = read_places(text, key === 'zones_mm' ? 4 : 2, many)
  wrong[key] = 'wrong' in got ? got.wrong : ''
  if ('places' in got) void set(`machine.${key}`, many ? got.places : (got.places[0] ?? null))
}
</script>

<template>
  <main class="shop">
    <Masthead second="Wood, machine and bits of this route" />
    <div v-if="doc" class="columns">
      <section>
        <h2>Bits, one scale</h2>
        <div class="rack" role="listbox" aria-label="Bits">
          <button v-for="b in doc.bits" :key="b.id" role="option" :aria-selected="b.id === bit?.id" :class="{ here: b.id === bit?.id }" @click="chosen = b.id">
            <svg width="108" height="206" viewBox="-54 -200 108 206" aria-hidden="true">
              <rect :x="-15 * scale" :y="-b.stickout_mm * scale - 10" :width="30 * scale" height="10" fill="#6c655b" />
              <rect :x="-(b.shank_diameter_mm / 2) * scale" :y="-b.stickout_mm * scale" :width="b.shank_diameter_mm * scale" :height="(b.stickout_mm - b.cutting_length_mm) * scale" fill="#a39a8c" />
              <path :d="shape(b, scale)" fill="#3a3530" />
              <path v-for="k in 3" :key="k" :d="`M${-(b.diameter_mm / 2) * scale} ${-b.cutting_length_mm * scale * (k / 4) + 6}L${(b.diameter_mm / 2) * scale} ${-b.cutting_length_mm * scale * (k / 4) - 6}`" stroke="#fbf9f5" stroke-width=".9" />
            </svg>
            <span>{{ b.name }}</span>
          </button>
        </div>
        <div v-if="bit" class="four">
          <EditField :path="`bits.${bit.id}.diameter_mm`" :value="bit.diameter_mm" label="Diameter" is_length />
          <EditField :path="`bits.${bit.id}.measured_diameter_mm`" :value="bit.measured_diameter_mm" label="Measured" is_length />
          <EditField :path="`bits.${bit.id}.cutting_length_mm`" :value="bit.cutting_length_mm" label="Cutting length" is_length :places="1" />
          <EditField :path="`bits.${bit.id}.stickout_mm`" :value="bit.stickout_mm" label="Out of the collet nut" is_length :places="1" />
          <EditField :path="`bits.${bit.id}.shank_diameter_mm`" :value="bit.shank_diameter_mm" label="Shank" is_length :places="1" />
          <EditField :path="`bits.${bit.id}.flutes`" :value="bit.flutes" label="Flutes" />
        </div>
        <p class="least">{{ bit?.flute.replace('_', '-') }} {{ bit?.form }}. A measured diameter replaces the nominal one in every path.</p>
        <router-link class="plain" :to="`/routes/${route.params.id}/bits`">The rack of the shop: settings, records, which bit for which feature</router-link>
        <div class="acts"><button v-for="b in missing" :key="b.id" class="cure" @click="add_bit(b)">Add the {{ b.name }}</button></div>
      </section>
      <section>
        <h2>Wood</h2>
        <v-select :model-value="doc.blank.wood" :items="woods" label="Wood" @update:model-value="(v) => set('blank.wood', v)" />
        <p v-if="wood"><i>{{ wood.botanical }}</i>. Tears: {{ wood.tear_out }}. Dust: {{ wood.dust }}.</p>
        <p v-if="wood" class="least">{{ wood.source }}</p>
        <StalePanel />
        <h2>Machine</h2>
        <JobMachine />
        <details class="bed"><summary>{{ doc.machine.name }}: brushes of its motor{{ open.says?.brushes ? `, ${open.says.brushes.left_h.toFixed(1)} hours left` : '' }}</summary><BrushesPanel /></details>
        <details class="bed"><summary>{{ doc.machine.name }}: plate, finder, places on the bed</summary>
          <div class="four">
            <EditField path="machine.touch_plate_mm" :value="doc.machine.touch_plate_mm" label="Touch plate thick" is_length placeholder="paper" persistent-placeholder />
            <EditField path="machine.edge_finder_mm" :value="doc.machine.edge_finder_mm" label="Edge finder across" is_length placeholder="none" persistent-placeholder />
            <v-text-field v-for="[key, label, unit] in PUMP" :key="key" :model-value="doc.machine.pump?.[key] ?? ''" :label="label" :suffix="unit" placeholder="–" persistent-placeholder inputmode="decimal" @change="(e: Event) => pump(key, (e.target as HTMLInputElement).value)" />
            <EditField path="machine.index_hole_mm" :value="doc.machine.index_hole_mm" label="Index holes across" is_length :places="1" />
          </div>
          <template v-for="[key, label, hint] in PLACES" :key="key">
            <v-text-field :model-value="places_said(doc.machine[key])" :label="label" placeholder="–"
            persistent-placeholder :error-messages="wrong[key]"
            @change="(e: Event) => read(key, (e.target as HTMLInputElement).value)" /><p class="least">{{ hint }}</p>
            </template>
        </details>
        <p class="least">Changing wood, machine or bits leaves your settings as they are; the proof says what no longer fits. Propose the route again to take new ones.</p>
        <button class="go" @click="edit([{ do: 'propose' }], 'Propose the route again')">Propose the route again</button>
      </section>
    </div>
  </main>
</template>

<style scoped>
.shop { padding: 6px 34px 20px; height: 100vh; overflow-y: auto; }
.columns { display: grid; grid-template-columns: 1.25fr 1fr; gap: 40px; margin-top: 8px; }
section { display: flex; flex-direction: column; gap: 10px; align-items: stretch; }
section > * { flex: 0 0 auto; }
p { margin: 0; }
.rack { display: flex; gap: 8px; flex-wrap: wrap; border-bottom: 1.5px solid var(--ink); }
.rack button { display: flex; flex-direction: column-reverse; align-items: center; padding: 6px 2px 0; text-align: center; width: 116px; }
.rack .here { background: var(--bark); font-weight: 650; }
.four { display: grid; grid-template-columns: repeat(3, 1fr); gap: 10px 8px; }
.acts { display: flex; gap: 10px; flex-wrap: wrap; }
summary { cursor: pointer; min-height: 28px; }
.bed > * + * { margin-top: 12px; }
.bed > .least { margin-top: 2px; }
.go { align-self: flex-start; }
@media (max-width: 1000px) { .columns { grid-template-columns: 1fr; } }
</style>
