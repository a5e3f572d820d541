<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { BoardHere, NeckView } from '../api/types'
import type { Numbers } from '../board/fields'
import NumberField from '../fields/NumberField.vue'
import NeckPlan from '../neck/NeckPlan.vue'
import ShapeChoice from '../neck/ShapeChoice.vue'
import { ADJUSTERS, FORMS, GROUPS, HEADS, RODS, fields_of, number_at, still_needed, value_at } from '../neck/fields'
import { length } from '../units/format'

/** A neck from numbers, drawn as they are typed. What nobody types stands as is usual and says so later. */
const props = defineProps<{ left_handed: boolean }>()
const emit = defineEmits<{ neck: [numbers: Numbers | null] }>()
const neck = reactive<Numbers>({
  board: {
    scale_mm: null, bass_scale_mm: null, frets: 22, strings: 6, width_nut_mm: null, width_end_mm: null,
    edge_land_mm: 3, radius_nut_mm: null, radius_end_mm: null, thickness_mm: null, past_last_fret_mm: 8,
    left_handed: false,
  },
  thick_1st_mm: null, thick_12th_mm: null, shape: 'flat_oval', shift_mm: 0,
  heel_from_mm: 400, heel_mm: 19, heel_ramp_mm: 38, overhang_mm: 0, pin_mm: null,
  rod: { kind: 'two_way', width_mm: null, deep_mm: null, long_mm: null, from_mm: -6, play_mm: .1, bow_mm: 4,
    fillet_mm: 4, adjuster: 'head', adjuster_wide_mm: null, adjuster_long_mm: null, adjuster_deep_mm: null },
  bolts: { across_mm: null, along_mm: null, from_end_mm: null, bore_mm: null, deep_mm: null },
  bars: { width_mm: null, deep_mm: null, long_mm: null, apart_mm: 22 },
  tuners: { post_mm: null, bush_mm: null, bush_deep_mm: null, body_mm: 15, pitch_mm: null, hole_mm: null,
    least_thick_mm: null, most_thick_mm: null, first_mm: 54, in_mm: 12 },
  head: { kind: 'stepped', form: 'leaf', long_mm: 178, wide_mm: 78, step_mm: 4, thick_mm: 14.5, angle_deg: 9,
    shelf_mm: 7, ramp_mm: 18, transition_mm: 42, volute_mm: 0, retainer_mm: null, retainer_strings: 2,
    retainer_high_mm: 2 },
  mine: [],
})
const USUAL = ['heel_from_mm', 'heel_mm', 'head.step_mm', 'head.thick_mm']
const view = ref<NeckView | null>(null)
const wrong = ref('')
const at = ref(5)
const boards = ref<BoardHere[]>([])
onMounted(async () => { boards.value = await api.boards_here().catch(() => []) })
const board_items = computed(() => boards.value.map((b) => ({ title: b.job, value: b.route })))
/** A board made here gives the neck its scale, widths, radius and thickness. */
function take_board(route: number | null) {
  const found = boards.value.find((b) => b.route === route)?.board as Numbers | undefined
  if (!found) return
  const into = neck.board as Numbers
  for (const name of Object.keys(into)) if (found[name] !== undefined) into[name] = found[name]
  into.before_nut_mm = found.before_nut_mm
  into.wire = found.wire
}
const needed = computed(() => still_needed(neck))
let asked = 0
watch([neck, () => props.left_handed], async () => {
  const board = neck.board as Numbers
  board.left_handed = props.left_handed
  if (needed.value.length) {
    view.value = null
    emit('neck', null)
    return
  }
  const mine = ++asked
  try {
    const found = await api.try_neck(neck)
    if (mine !== asked) return
    view.value = found
    wrong.value = ''
    at.value = Math.min(at.value, found.rows.length - 1)
    emit('neck', neck)
  } catch (error) {
    if (mine !== asked) return
    wrong.value = error instanceof BirchFailure ? error.failure.message : (error as Error).message
    emit('neck', null)
  }
}, { deep: true, immediate: true })
function put(key: string, value: unknown) {
  const names = key.split('.')
  const last = names.pop()!
  const into = names.reduce<Numbers>((on, name) => on[name] as Numbers, neck)
  into[last] = value as never
  const mine = neck.mine as string[]
  if (USUAL.includes(key) && !mine.includes(key)) mine.push(key)
}
const text_at = (key: string) => value_at(neck, key) as string
</script>

<template>
  <div class="made">
    <NeckPlan v-if="view" :view="view" :at="at" :board_mm="number_at(neck, 'board.thickness_mm') ?? 6"
      @choose="at = $event" />
    <p v-else class="word">Drawn once it is known: {{ needed.join(', ') || 'what is wrong below' }}.</p>
    <p v-if="view" class="second">Its blank is {{ length(view.blank_mm, 1) }} thick. At fret {{ at }} it is
      {{ length(view.rows[at].thick_mm, 1) }} thick with the board.<template v-if="view.missing.length"> Still to be
      read or told, now or later: {{ view.missing.join('; ') }}.</template></p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <section v-for="g in GROUPS" :key="g.title"><h2>{{ g.title }}</h2>
      <v-select v-if="g.title === 'Board' && boards.length" :model-value="null" :items="board_items" class="made_here"
        label="Made here: the board of" @update:model-value="take_board" />
      <ShapeChoice v-if="g.title === 'Back'" :chosen="text_at('shape')" @choose="put('shape', $event)" />
      <div class="four">
        <v-select v-if="g.title === 'Head'" :model-value="text_at('head.kind')" :items="HEADS" label="Headstock"
          @update:model-value="(v) => put('head.kind', v)" />
        <v-select v-if="g.title === 'Head' && text_at('head.kind') !== 'none'" :model-value="text_at('head.form')"
          :items="FORMS" label="Its form" @update:model-value="(v) => put('head.form', v)" />
        <v-select v-if="g.title === 'Rod'" :model-value="text_at('rod.kind')" :items="RODS" label="The rod is"
          @update:model-value="(v) => put('rod.kind', v)" />
        <v-select v-if="g.title === 'Rod'" :model-value="text_at('rod.adjuster')" :items="ADJUSTERS"
          label="It is adjusted" @update:model-value="(v) => put('rod.adjuster', v)" />
        <NumberField v-for="f in fields_of(g.title, neck)" :key="f.key" :model-value="number_at(neck, f.key)"
          :label="f.label" :kind="f.is_length ? 'length' : 'number'" :places="2"
          :negative="f.key === 'rod.from_mm' || f.key === 'shift_mm'" @update:model-value="(v) => put(f.key, v)" />
      </div>
      <p v-if="g.title === 'Rod'" class="least">Without the rod’s width, height and length no channel is cut.</p>
      <p v-if="g.title === 'Strings'" class="least">Without the post’s bore and their distance no tuner is bored for.
      </p>
    </section>
  </div>
</template>

<style scoped>
.made { display: flex; flex-direction: column; gap: 10px; }
.made p { margin: 0; }
.four { display: grid; grid-template-columns: repeat(4, 1fr); gap: 12px; align-items: start; margin-top: 6px; }
.word { font-size: 17px; }
.made_here { max-width: 300px; margin: 6px 0; }
.ember { color: var(--ember); }
@media (max-width: 700px) { .four { grid-template-columns: 1fr 1fr; } }
</style>
