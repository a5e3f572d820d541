<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { NeckView } from '../api/types'
import type { Numbers } from '../board/fields'
import { of_numbers } from '../board/numbers'
import FlagMark from '../marks/FlagMark.vue'
import Masthead from '../route/Masthead.vue'
import { edit, findings, open, set } from '../route/store'
import { length } from '../units/format'
import NeckNumbers from './NeckNumbers.vue'
import NeckPlan from './NeckPlan.vue'
import NeckSection from './NeckSection.vue'
import NeckTable from './NeckTable.vue'
import { number_at } from './fields'

/** A neck from its numbers: both faces and side, a section that walks along it, what every fret is thick. */
const route = useRoute()
const id = Number(route.params.id)
const neck = computed(() => (open.state?.document.piece.neck ?? null) as Numbers | null)
const { view, wrong, at, stale } = of_numbers<NeckView>(id, () => api.neck(id), () => !!neck.value, 5)
const told = computed(() => findings.value.filter((f) => f.code.startsWith('neck.')
  || ['neck_back', 'rod_channel', 'head_ramp', 'head_face'].includes(f.feature ?? '')))
const board_mm = computed(() => (neck.value ? number_at(neck.value, 'board.thickness_mm') ?? 6 : 6))
const rod_mm = computed(() => {
  const wide = neck.value ? number_at(neck.value, 'rod.width_mm') : null
  return wide === null ? null : wide + 2 * (number_at(neck.value!, 'rod.play_mm') ?? 0)
})
interface Station {
  at_mm: number; thick_mm: number | null; rim: number | null; apex: number | null; shift_mm: number | null
}
const stations = computed(() => ((neck.value?.stations ?? []) as unknown as Station[]))
const here = computed(() => view.value?.rows.find((r) => r.number === at.value) ?? null)
/** Set what a station says at the fret that is looked at; 1st and 12th have numbers of their own. */
function put(what: 'thick_mm' | 'rim', value: number) {
  if (!here.value) return
  if (what === 'thick_mm' && (at.value === 1 || at.value === 12)) {
    void set(`piece.neck.thick_${at.value === 1 ? '1st' : '12th'}_mm`, value)
    return
  }
  const x = Math.round(here.value.x_mm * 100) / 100
  const old = stations.value.find((s) => Math.abs(s.at_mm - x) < .5)
  const fresh = { at_mm: x, thick_mm: null, rim: null, apex: null, shift_mm: null, ...old, [what]: value }
  const all = [...stations.value.filter((s) => s !== old), fresh].sort((a, b) => a.at_mm - b.at_mm)
  void edit([{ do: 'set', path: 'piece.neck.stations', value: all }],
    what === 'rim' ? `Shoulders at fret ${at.value}` : `Thick at fret ${at.value}`)
}
const second = computed(() => {
  const n = neck.value
  return n ? `Neck: scale ${length(number_at(n, 'board.scale_mm'), 1)}, ${number_at(n, 'board.frets')} frets, nut ${
    length(number_at(n, 'board.width_nut_mm'), 1)}` : 'The neck'
})
</script>

<template>
  <main class="neck">
    <Masthead :second="second" />
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p v-if="open.state && !neck" class="word">This piece is no neck made from numbers. A new one begins at
      <router-link to="/new">New job</router-link>.</p>
    <template v-if="view && neck">
      <p v-if="stale" class="of-before-said" role="status">What is drawn here is of before the last change.</p>
      <NeckPlan :view="view" :at="at" :board_mm="board_mm" @choose="at = $event" />
      <NeckTable :view="view" :at="at" @choose="at = $event" />
      <div class="below">
        <div class="left">
          <NeckSection :view="view" :at="at" :rod_mm="rod_mm" :strings="number_at(neck, 'board.strings') ?? 6"
            :land_mm="number_at(neck, 'board.edge_land_mm') ?? 3" @thick="put('thick_mm', $event)"
            @full="put('rim', $event)" />
          <p v-if="view.missing.length" class="word">Still to be read or told: {{ view.missing.join('; ') }}. Until
            then it is not cut.</p>
          <div v-for="f in told" :key="f.letter" class="one"><FlagMark :severity="f.severity" :letter="f.letter" />
            <div><p>{{ f.sentence }}</p>
              <button v-for="c in f.cures" :key="c.sentence" class="cure lead"
                @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div></div>
        </div>
        <NeckNumbers :neck="neck" :view="view" :stations="stations" />
      </div>
    </template>
  </main>
</template>

<style scoped>
.neck { padding: 6px 34px 20px; height: 100vh; overflow-y: auto; display: flex; flex-direction: column; gap: 6px; }
.neck > * { flex: none; }
.below { display: grid; grid-template-columns: minmax(380px, 1fr) minmax(420px, 1.1fr); gap: 24px; margin-top: 6px; }
.left { display: flex; flex-direction: column; gap: 8px; min-width: 0; }
.left p { margin: 0; }
.one { display: flex; gap: 10px; border-top: 1px solid var(--rule); padding-top: 6px; }
.ember { color: var(--ember); }
@media (max-width: 1000px) { .below { grid-template-columns: 1fr; } .neck { padding: 6px 16px 20px; } }
</style>
