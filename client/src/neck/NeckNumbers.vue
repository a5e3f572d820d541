<script setup lang="ts">
import { computed, ref } from 'vue'
import type { NeckView } from '../api/types'
import type { Numbers } from '../board/fields'
import PlankYield from '../blank/PlankYield.vue'
import EditField from '../fields/EditField.vue'
import { edit, open, set } from '../route/store'
import { length, say } from '../units/format'
import NeckLiked from './NeckLiked.vue'
import ShapeChoice from './ShapeChoice.vue'
import { ADJUSTERS, FORMS, GROUPS, HEADS, RODS, fields_of, number_at, value_at } from './fields'

/** The numbers of a neck, a tab for each part of it. */
interface Station {
  at_mm: number; thick_mm: number | null; rim: number | null; apex: number | null; shift_mm: number | null
}
const props = defineProps<{ neck: Numbers; view: NeckView; stations: Station[] }>()
const TABS = [...GROUPS.map((g) => g.title), 'Wood']
const about = ref('Back')
const shown = computed(() => fields_of(about.value, props.neck))
const text_at = (key: string) => value_at(props.neck, key) as string
const put = (key: string, value: unknown) => void set(`piece.neck.${key}`, value)
const blank = computed(() => open.state?.document.blank)
const without = (s: Station) => void edit(
  [{ do: 'set', path: 'piece.neck.stations', value: props.stations.filter((o) => o !== s) }], 'Station taken away')
/** What each part of a neck takes by hand and at the machine, by the features its operations work on. */
const PARTS: Record<string, [string, RegExp]> = {
  back: ['The back', /^(neck_back|heel_back)$/], headstock: ['The headstock', /^head_/],
  tuners: ['Bores for the tuners', /^tuner_/], channel: ['The rod’s channel', /^(rod_|bar_)/],
  outline: ['The outline', /^outline$/],
}
const hours = computed(() => {
  const made = open.state?.proof?.report?.operations
  return Object.entries(props.view.hours).map(([key, hand]) => {
    const [name, features] = PARTS[key] ?? [key, /^$/]
    const mine = made?.filter((o) => o.features.some((f) => features.test(f)))
    return { name, hand, machine: mine?.length ? mine.reduce((sum, o) => sum + o.machine_min, 0) / 60 : null }
  })
})
const sum = (key: 'hand' | 'machine') => hours.value.reduce((all, h) => all + (h[key] ?? 0), 0)
const tightest = computed(() => props.view.hollow_mm)
</script>

<template>
  <section class="sheet numbers">
    <div class="tabs" role="tablist" aria-label="Numbers of the neck">
      <button v-for="t in TABS" :key="t" role="tab" :aria-selected="about === t" :class="{ here: about === t }"
        @click="about = t">{{ t }}</button></div>
    <template v-if="about === 'Back'">
      <ShapeChoice :chosen="text_at('shape')" @choose="put('shape', $event)" />
    </template>
    <div v-if="about === 'Head'" class="four">
      <v-select :model-value="text_at('head.kind')" :items="HEADS" label="Headstock"
        @update:model-value="(v) => put('head.kind', v)" />
      <v-select v-if="text_at('head.kind') !== 'none'" :model-value="text_at('head.form')" :items="FORMS"
        label="Its form" @update:model-value="(v) => put('head.form', v)" />
    </div>
    <div v-if="about === 'Rod'" class="four">
      <v-select :model-value="text_at('rod.kind')" :items="RODS" label="The rod is"
        @update:model-value="(v) => put('rod.kind', v)" />
      <v-select :model-value="text_at('rod.adjuster')" :items="ADJUSTERS" label="It is adjusted"
        @update:model-value="(v) => put('rod.adjuster', v)" />
      <v-checkbox :model-value="value_at(neck, 'rod.round_ends') as boolean" label="Its ends are round" hide-details
        @update:model-value="(v) => put('rod.round_ends', !!v)" />
    </div>
    <div v-if="shown.length" class="four"><EditField v-for="f in shown" :key="f.key" :path="`piece.neck.${f.key}`"
      :value="number_at(neck, f.key)" :label="f.label" :is_length="f.is_length" /></div>
    <template v-if="about === 'Back'">
      <table v-if="stations.length" class="set"><thead><tr><th>Set at</th><th>Thick</th><th>Shoulders</th><th></th></tr>
      </thead><tbody><tr v-for="s in stations" :key="s.at_mm"><td>{{ length(s.at_mm, 1) }} from the nut</td>
        <td>{{ s.thick_mm === null ? 'as the line has it' : length(s.thick_mm, 2) }}</td>
        <td>{{ s.rim === null ? 'as the shape has it' : s.rim.toFixed(2) }}</td>
        <td><button class="plain" @click="without(s)">Take away</button></td></tr></tbody></table>
      <p class="least">Thickness runs straight between 1st and 12th unless the section is dragged somewhere else.
        Shoulders go from 1.6, a ridge, to 3.2, nearly square.</p>
      <NeckLiked :neck="neck" />
      <p v-if="tightest">Tightest hollow {{ length(tightest, 1) }}, {{ length(view.hollow_at_mm, 0) }} from the
        nut<template v-if="view.ball">; the {{ view.ball }} fits it</template>.</p>
      <p v-if="view.turns.length" class="amber">Set stations make it wave at {{
        view.turns.map((v) => length(v, 0)).join(', ') }} from the nut.</p>
    </template>
    <table v-if="about === 'Strings' && view.strings.length" class="set">
      <thead><tr><th>String</th><th>Breaks by</th><th>Turns by</th><th>Free of another’s post by</th></tr></thead>
      <tbody><tr v-for="s in view.strings" :key="s.string"><td>{{ s.string }}{{ s.string === 1 ? ', bass' : '' }}</td>
        <td :class="{ care: s.break_deg !== null && s.break_deg < view.limits.least_break_deg }">{{
          s.break_deg === null ? 'not known' : `${s.break_deg.toFixed(1)}°` }}{{ s.held ? ', held' : '' }}</td>
        <td :class="{ care: s.side_deg > view.limits.most_side_deg }">{{ s.side_deg.toFixed(1) }}°</td>
        <td>{{ s.passes_mm === null ? '–' : length(s.passes_mm, 1) }}</td></tr></tbody></table>
    <p v-if="about === 'Rod'" class="least">No channel without its width, height and length; no slots for bars without
      theirs. The channel counts from the glue plane.</p>
    <p v-if="about === 'Strings'" class="least">No tuner is bored for without the post’s bore and their distance. A
      leaning headstock is bored at the drill press, square to its face.</p>
    <p v-if="about === 'Heel'" class="least">Four bores for screws or inserts, from its back. None is cut until all five
      of their numbers are known; a body that takes this neck takes their places.</p>
    <template v-if="about === 'Wood' && blank">
      <table class="set"><thead><tr><th>Made</th><th>Long</th><th>Wide</th><th>Thick</th><th>Litres</th></tr></thead>
        <tbody><tr v-for="m in view.makings" :key="m.name"><td>{{ m.name }}<br /><span class="least">{{ say(m.words)
        }}</span></td><td>{{ length(m.long_mm, 0) }}</td><td>{{ length(m.wide_mm, 0) }}</td>
          <td>{{ length(m.thick_mm, 1) }}</td><td>{{ m.litres.toFixed(2) }}</td></tr></tbody></table>
      <p>Blank {{ length(blank.length_mm, 1) }} long, {{ length(blank.width_mm, 1) }} wide,
        {{ length(blank.thickness_mm, 1) }} thick; the neck needs {{ length(view.blank_mm, 1) }}.</p>
      <button class="cure fit" @click="edit([{ do: 'fit_blank' }], 'Fit the blank')">Fit the blank to it</button>
      <PlankYield :length_mm="blank.length_mm" :half_mm="blank.width_mm" alone="neck" />
      <table class="set"><thead><tr><th>Hours</th><th>By hand, about</th><th>At the machine</th></tr></thead>
        <tbody><tr v-for="h in hours" :key="h.name"><td>{{ h.name }}</td><td>{{ h.hand.toFixed(1) }}</td>
          <td>{{ h.machine === null ? 'by hand' : h.machine.toFixed(1) }}</td></tr>
        <tr><td>All of these</td><td>{{ sum('hand').toFixed(1) }}</td><td>{{ sum('machine').toFixed(1) }}</td></tr>
        </tbody></table>
    </template>
  </section>
</template>

<style scoped>
.numbers { padding: 14px 20px; display: flex; flex-direction: column; gap: 12px; align-self: start; }
.numbers p { margin: 0; }
.tabs { display: flex; gap: 18px; border-bottom: 1px solid var(--rule); padding-bottom: 6px; flex-wrap: wrap; }
.tabs button { min-height: 30px; color: var(--ink2); }
.tabs .here { color: var(--ink); font-weight: 700; box-shadow: 0 3px 0 -1px var(--ink); }
.four { display: grid; grid-template-columns: repeat(auto-fill, minmax(170px, 1fr)); gap: 12px; }
.set { border-collapse: collapse; width: 100%; }
.set th { text-align: left; font-weight: 400; color: var(--ink2); }
.set td, .set th { padding: 3px 8px 3px 0; border-bottom: 1px solid var(--rule); }
.care { background: var(--amber); color: var(--on-amber); }
.amber { color: var(--amber-ink); }
.fit { align-self: flex-start; }
</style>
