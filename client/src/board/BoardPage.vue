<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { BoardView } from '../api/types'
import EditField from '../fields/EditField.vue'
import MineTap from '../fields/MineTap.vue'
import { assumed_at } from '../fields/assumed'
import FlagMark from '../marks/FlagMark.vue'
import Masthead from '../route/Masthead.vue'
import { edit, findings, open, set } from '../route/store'
import { length } from '../units/format'
import PlankYield from '../blank/PlankYield.vue'
import BoardPlan from './BoardPlan.vue'
import BoardSection from './BoardSection.vue'
import BrokenBit from './BrokenBit.vue'
import FretTable from './FretTable.vue'
import WireTable from './WireTable.vue'
import { of_numbers } from './numbers'
import { ENDS, GROUPS, SEATS, number_at, type Numbers } from './fields'

/** A fretboard from its numbers: where every fret lies, how the face curves, what each slot leaves. */
const route = useRoute()
const id = Number(route.params.id)
const glue = ref(false)
const board = computed(() => (open.state?.document.piece.board ?? null) as Numbers | null)
const { view, wrong, at, stale } = of_numbers<BoardView>(id, () => api.board(id), () => !!board.value, 12)
const TABS = [...GROUPS.map((g) => g.title), 'Wood']
const about = ref(TABS[0])
const group = computed(() => GROUPS.find((g) => g.title === about.value) ?? { title: '', fields: [] })
const told = computed(() => findings.value.filter((f) => /^(board|slot)\./.test(f.code)
  || f.operation === 'profile_fret_slots' || f.operation === 'surface_finish_board_face'))
const following = computed(() => board.value?.floors === 'following')
const sets = (key: string, value: unknown) => void set(`piece.board.${key}`, value)
const when = (floors: string) => void edit([{ do: 'slots_when', floors }],
  floors === 'flat' ? 'Slots before the radius' : 'Slots after the radius')
const seat_guessed = assumed_at(() => 'piece.board.seat')
const bows = computed(() => (view.value?.strings ?? []).map((s) => `${s.number}: ${length(s.bow_mm, 3)}`).join('; '))
const blank = computed(() => open.state?.document.blank)
const second = computed(() => {
  const v = view.value
  return v ? `${v.rows.length - 1} frets, board ${length(v.long_mm, 1)} long` : 'The board'
})
</script>

<template>
  <main class="board">
    <Masthead :second="second" />
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p v-if="open.state && !board" class="word">This piece is no board made from numbers. A new one begins at
      <router-link to="/new">New job</router-link>.</p>
    <template v-if="view && board">
      <p v-if="stale" class="of-before-said" role="status">What is drawn here is of before the last change.</p>
      <BoardPlan :view="view" :at="at" :nut_mm="number_at(board, 'nut_slot_mm')" :glue="glue"
        @choose="at = $event" />
      <div class="faces"><button class="plain" :aria-pressed="glue" @click="glue = !glue">{{
        glue ? 'Its face' : 'The side that is glued' }}</button>
        <span v-if="glue" class="second">Seen from below: flat, nothing is cut here but the outline. Dashed: the slots
          of its face.</span></div>
      <FretTable :view="view" :at="at" @choose="at = $event" />
      <div class="below">
        <div class="left">
          <BoardSection :view="view" :at="at" :thickness="number_at(board, 'thickness_mm') ?? 0"
            :following="following" />
          <p class="second">Edge {{ length(view.edge_nut_mm) }} at the nut, {{ length(view.edge_end_mm) }} at its end.
            <template v-if="view.frets_top_mm">Frets stand {{ length(view.frets_top_mm) }} over the glue
              plane.</template></p>
          <p class="second">A straight edge laid along each string, the bass one first, shows a hump in its middle of
            {{ bows }}.</p>
          <div v-for="f in told" :key="f.letter" class="one"><FlagMark :severity="f.severity" :letter="f.letter" />
            <div><p>{{ f.sentence }}</p>
              <button v-for="c in f.cures" :key="c.sentence" class="cure lead"
                @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div></div>
        </div>
        <section class="sheet numbers">
          <div class="tabs" role="tablist" aria-label="Numbers of the board">
            <button v-for="t in TABS" :key="t" role="tab" :aria-selected="about === t" :class="{ here: about === t }"
              @click="about = t">{{ t }}</button></div>
          <WireTable v-if="about === 'Wire'" :board="board" :view="view" />
          <div v-else class="four"><EditField v-for="f in group.fields" :key="f.key" :path="`piece.board.${f.key}`"
            :value="number_at(board, f.key)" :label="f.label" :is_length="f.is_length" /></div>
          <v-checkbox v-if="about === 'Frets'" :model-value="board.zero_fret"
            label="A zero fret: one more slot at the nut" hide-details
            @update:model-value="(v) => sets('zero_fret', !!v)" />
          <template v-if="about === 'Wire'">
            <v-select :model-value="board.seat" :items="SEATS" label="Frets are"
              @update:model-value="(v) => sets('seat', v)" />
            <MineTap v-if="seat_guessed" :of="seat_guessed" />
            <v-checkbox :model-value="board.blind" label="Slots end inside the board’s edges" hide-details
              @update:model-value="(v) => sets('blind', !!v)" />
            <p v-if="view.missing.length" class="word">Read off the wire or its packet: {{ view.missing.join('; ') }}.
              Until then no slot is cut.</p>
            <template v-else>
              <p>Slots {{ length(view.slot_least_mm) }} to {{ length(view.slot_most_mm) }} wide hold this wire.
                <template v-if="view.bit">The {{ view.bit.name }} cuts them,
                  {{ view.bit.ways === 1 ? 'once through each' : `${view.bit.ways} ways through each` }}.</template>
                <b v-else class="ember">No bit of the rack is so thin: add one under Shop.</b></p>
              <p>Deep enough for the tang and {{ length(view.limits.under_mm, 1) }} under it, everywhere below the
                finished face.</p></template>
            <fieldset><legend>The slots are cut</legend>
              <label><input type="radio" name="floors" :checked="!following" @change="when('flat')" /> before the
                radius,
                with level floors: a bit that breaks costs the least work; less wood stays under the crown</label>
              <label><input type="radio" name="floors" :checked="following" @change="when('following')" /> after the
                radius, floors along the face: more wood stays; a bit that breaks costs a finished face</label>
            </fieldset>
            <BrokenBit :following="following" />
          </template>
          <v-checkbox v-if="about === 'Dots and nut'" :model-value="board.markers" label="Dots on the face" hide-details
            @update:model-value="(v) => sets('markers', !!v)" />
          <p v-if="about === 'Dots and nut'" class="least">No nut slot: leave its length empty. It lies behind scale
            zero, so the board must reach as far behind it.</p>
          <template v-if="about === 'Edges'">
            <v-select :model-value="board.ends" :items="ENDS" label="Its ends lie"
              @update:model-value="(v) => sets('ends', v)" />
            <v-checkbox :model-value="board.side_dots" label="Side dots, drilled by hand" hide-details
              @update:model-value="(v) => sets('side_dots', !!v)" />
            <p class="least">Binding without a ledge covers the whole edge: the wood is cut narrower by it. A ledge is
              cut along both edges, its floor level, so far below the crown.</p>
          </template>
          <template v-if="about === 'Wood' && blank">
            <p>Blank {{ length(blank.length_mm, 1) }} long, {{ length(blank.width_mm, 1) }} wide,
              {{ length(blank.thickness_mm, 1) }} thick.</p>
            <button class="cure fit" @click="edit([{ do: 'fit_blank' }], 'Fit the blank')">Fit the blank to it</button>
            <PlankYield :length_mm="blank.length_mm" :half_mm="blank.width_mm" alone="board" />
          </template>
          <template v-if="about === 'Frets'">
            <p class="least">With two scales, Scale is the treble string’s. A board that grew may need a larger
              blank.</p>
            <button class="cure fit" @click="edit([{ do: 'fit_blank' }], 'Fit the blank')">Fit the blank to it</button>
          </template>
        </section>
      </div>
    </template>
  </main>
</template>

<style scoped>
.board { padding: 6px 34px 20px; height: 100vh; overflow-y: auto; display: flex; flex-direction: column; gap: 8px; }
.faces { display: flex; gap: 14px; align-items: baseline; margin-top: -4px; }
.below { display: grid; grid-template-columns: minmax(380px, 1fr) minmax(420px, 1.1fr); gap: 24px; margin-top: 6px; }
.board > * { flex: none; }
.left { display: flex; flex-direction: column; gap: 8px; min-width: 0; }
.numbers { padding: 14px 20px; display: flex; flex-direction: column; gap: 12px; align-self: start; }
.numbers p, .left p { margin: 0; }
.tabs { display: flex; gap: 18px; border-bottom: 1px solid var(--rule); padding-bottom: 6px; flex-wrap: wrap; }
.tabs button { min-height: 30px; color: var(--ink2); }
.tabs .here { color: var(--ink); font-weight: 700; box-shadow: 0 3px 0 -1px var(--ink); }
.four { display: grid; grid-template-columns: repeat(auto-fill, minmax(170px, 1fr)); gap: 12px; }
.one { display: flex; gap: 10px; border-top: 1px solid var(--rule); padding-top: 6px; }
fieldset { border: none; padding: 0; display: flex; flex-direction: column; gap: 6px; }
legend { font-weight: 600; margin-bottom: 4px; }
fieldset label { display: flex; gap: 8px; align-items: baseline; }
input[type='radio'] { accent-color: var(--moss); }
.fit { align-self: flex-start; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .below { grid-template-columns: 1fr; } .board { padding: 6px 16px 20px; } }
</style>
