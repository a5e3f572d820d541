<script setup lang="ts">
import { computed, reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { BoardView } from '../api/types'
import BoardPlan from '../board/BoardPlan.vue'
import { ENDS, GROUPS, SEATS, USUAL, number_at, still_needed, type Numbers } from '../board/fields'
import NumberField from '../fields/NumberField.vue'
import { length } from '../units/format'

/** A fretboard from the numbers of a drawing, a packet of wire and a caliper, drawn as they are typed. */
const props = defineProps<{ left_handed: boolean }>()
const emit = defineEmits<{ board: [numbers: Numbers | null] }>()
const board = reactive<Numbers>({
  scale_mm: null, bass_scale_mm: null, square_fret: 7, frets: 22, zero_fret: false, strings: 6,
  width_nut_mm: null, width_end_mm: null, edge_land_mm: 3, radius_nut_mm: null, radius_end_mm: null,
  fall_away_mm: 0, thickness_mm: null, past_last_fret_mm: 8, before_nut_mm: 0, left_handed: false,
  wire: { tang_depth_mm: null, tang_mm: null, barbs_mm: null, crown_mm: null }, seat: 'pressed', blind: false,
  floors: 'flat', markers: true, marker_mm: null, marker_deep_mm: null, nut_slot_mm: null, nut_deep_mm: null,
  ends: 'square', side_dots: false, side_dot_mm: 2, binding_mm: null, binding_deep_mm: null, mine: [],
})
const view = ref<BoardView | null>(null)
const wrong = ref('')
const at = ref(12)
const needed = computed(() => still_needed(board))
let asked = 0
watch([board, () => props.left_handed], async () => {
  board.left_handed = props.left_handed
  if (needed.value.length) {
    view.value = null
    emit('board', null)
    return
  }
  const mine = ++asked
  try {
    const found = await api.try_board(board)
    if (mine !== asked) return
    view.value = found
    wrong.value = ''
    at.value = Math.min(at.value, found.rows.length - 1)
    emit('board', board)
  } catch (error) {
    if (mine !== asked) return
    wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
    emit('board', null)
  }
}, { deep: true, immediate: true })
function put(key: string, value: number | null) {
  const [first, second] = key.split('.')
  if (second) (board[first] as Numbers)[second] = value
  else board[first] = value
  said(key)
}
function said(key: string) {
  const mine = board.mine as string[]
  if (USUAL.includes(key) && !mine.includes(key)) mine.push(key)
}
</script>

<template>
  <div class="made">
    <BoardPlan v-if="view" :view="view" :at="at" :nut_mm="number_at(board, 'nut_slot_mm')" @choose="at = $event" />
    <p v-else class="word">Drawn once it is known: {{ needed.join(', ') || 'what is wrong below' }}.</p>
    <p v-if="view" class="second">Fret {{ at }} lies {{ length(view.rows[at].from_nut_mm) }} from the nut. Edge
      {{ length(view.edge_nut_mm) }} at the nut, {{ length(view.edge_end_mm) }} at the end.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <section v-for="g in GROUPS" :key="g.title"><h2>{{ g.title }}</h2>
      <div class="four"><NumberField v-for="f in g.fields" :key="f.key" :model-value="number_at(board, f.key)"
        :label="f.label" :kind="f.is_length ? 'length' : 'number'" :places="2"
        @update:model-value="(v) => put(f.key, v)" />
        <v-select v-if="g.title === 'Wire'" v-model="board.seat" :items="SEATS" label="Frets are"
          @update:model-value="said('seat')" />
        <v-select v-if="g.title === 'Edges'" v-model="board.ends" :items="ENDS" label="Its ends lie" />
        <v-checkbox v-if="g.title === 'Edges'" v-model="board.side_dots" label="Side dots" hide-details /></div>
      <p v-if="g.title === 'Wire' && view?.missing.length" class="least">Without the tang’s width and depth no slot is
        cut. They can be typed later.</p>
      <p v-if="g.title === 'Dots and nut'" class="least">No dots are cut until both their sizes are known; no nut slot
        without its length and depth.</p>
      <p v-if="g.title === 'Edges'" class="least">Binding without a ledge covers the whole edge: the wood is cut
        narrower by it. Leave it empty where there is none.</p>
    </section>
  </div>
</template>

<style scoped>
.made { display: flex; flex-direction: column; gap: 10px; }
.made p { margin: 0; }
.four { display: grid; grid-template-columns: repeat(4, 1fr); gap: 12px; align-items: start; margin-top: 6px; }
.word { font-size: 17px; }
.ember { color: var(--ember); }
@media (max-width: 700px) { .four { grid-template-columns: 1fr 1fr; } }
</style>
