<script setup lang="ts">
import { computed, nextTick } from 'vue'
import { assumed_at } from '../fields/assumed'
import EditField from '../fields/EditField.vue'
import MineTap from '../fields/MineTap.vue'
import NumberField from '../fields/NumberField.vue'
import FlagMark from '../marks/FlagMark.vue'
import type { DrawnShape, Edit, Near } from '../api/types'
import { edit, findings, open, set } from '../route/store'
import { length } from '../units/format'
import { feature_of, is_drawn, line_from, pen, place, side_of, step_mm, type Moved } from './pen'
import PlacedFrom from './PlacedFrom.vue'
import ShapeCover from './ShapeCover.vue'
import ShapeDepth from './ShapeDepth.vue'

/** The shape that is taken: where it stands, how large and deep it is, what it comes near, what may be done with it. */
const props = defineProps<{ thickness: number }>()
const shape = computed(() => feature_of(pen.taken))
const at = computed(() => (pen.places?.feature === pen.taken ? pen.places : null))
const path = computed(() => `piece.features.${pen.taken}`)
const guessed = assumed_at(() => path.value)
const drawn = computed(() => shape.value?.shape as DrawnShape | undefined)
const sized = computed(() => ['rectangle', 'oval'].includes(drawn.value?.kind ?? ''))
const is_slot = computed(() => drawn.value?.kind === 'rectangle'
  && (drawn.value.corner_radius_mm ?? 0) >= Math.min(drawn.value.length_mm!, drawn.value.width_mm!) / 2 - 1e-6)
const free = computed(() => at.value !== null && at.value.fixed === '')
const near = computed(() => at.value?.near ?? [])
const short = (n: Near) => n.least_mm !== null && n.apart_mm < n.least_mm - 0.02
const told = computed(() => findings.value.filter((f) => f.feature === pen.taken))
const uncut = computed(() => !open.state!.document.operations.some((o) => o.features.includes(pen.taken)))
const turned_up = computed(() => new Set(open.state!.document.setups.map((s) => s.face)))
const parts = computed(() => [{ title: 'Nothing: it is told', value: '' },
  ...open.state!.document.parts.map((p) => ({ title: p.name, value: p.id }))])
const follows = computed(() => !!shape.value?.measured_from
  && (shape.value.kind === 'hole' || drawn.value?.kind === 'rectangle'))
const name = computed(() => shape.value?.name ?? '')
const go = (by: Moved, words: string) => place(pen.taken, by, `${words} ${name.value}`)
const to_x = (x: number) => go({ to_x_mm: x }, 'Move')
const to_y = (y: number) => go({ to_y_mm: y }, 'Move')
function size(which: 'length_mm' | 'width_mm', value: number | null) {
  if (value === null) return
  const edits: Edit[] = [{ do: 'set', path: `${path.value}.shape.${which}`, value }]
  if (is_slot.value) {
    const other = which === 'length_mm' ? drawn.value!.width_mm! : drawn.value!.length_mm!
    edits.push({ do: 'set', path: `${path.value}.shape.corner_radius_mm`, value: Math.min(value, other) / 2 })
  }
  void edit(edits, `${name.value}: another size`)
}
function lay(patch: Partial<{ along: number; across: number; apart_mm: number; rows_mm: number; angle_deg: number }>) {
  const g = at.value!.grid!
  const one = { do: 'lay_holes', feature: pen.taken, ...g, ...patch } as Edit
  void edit([one], `Lay the holes of ${name.value}`)
}
const count = (event: Event) => Math.max(1, Math.round(Number((event.target as HTMLInputElement).value) || 1))
const copy = () => go({ beside: true, copied: true }, 'Copy')
async function take_out() {
  const gone = pen.taken
  if (await edit([{ do: 'remove_item', list: 'features', id: gone }], `Take ${name.value} out`)) pen.taken = ''
  await nextTick()
}
const scale = computed(() => (drawn.value?.kind === 'part_rectangle' && free.value ? at.value?.on_scale : null))
const whole_scale = computed(() => scale.value!.from_nut_mm / scale.value!.part)
const poles_to = (part: number) => to_x(at.value!.x_mm + (part - scale.value!.part) * whole_scale.value)
const own = computed(() => !!shape.value && is_drawn(shape.value))
const stands = computed(() => {
  const [x, y] = [line_from(at.value!.lines, 'along')!, line_from(at.value!.lines, 'across')!]
  const { x_mm, y_mm } = at.value!
  return `${length(Math.abs(x_mm - x.at_mm))} ${side_of(x, x_mm)} ${x.name}, ${length(Math.abs(y_mm - y.at_mm))} ${
    side_of(y, y_mm)} ${y.name}.`
})
</script>

<template>
  <section v-if="shape" class="shape" :aria-label="name">
    <v-text-field :model-value="name" label="Name" maxlength="80"
      @change="set(`${path}.name`, ($event.target as HTMLInputElement).value.trim())" />
    <p v-if="guessed" class="least">{{ name }}: {{ guessed.words }}. <MineTap :of="guessed" /></p>
    <p v-if="pen.wrong" class="ember" role="alert">{{ pen.wrong }}</p>
    <template v-if="at">
      <p class="least head"><b>Its middle</b><span v-if="free">arrows {{ length(step_mm(), 1) }}, Shift ten times, Alt a
        tenth</span></p>
      <p v-if="!free" class="second">It stays: {{ at.fixed }}.</p>
      <template v-if="free">
        <PlacedFrom :lines="at.lines" way="along" :at="at.x_mm" @to="to_x" />
        <PlacedFrom :lines="at.lines" way="across" :at="at.y_mm" @to="to_y" />
      </template>
      <p v-else>{{ stands }}</p>
      <template v-if="scale">
        <p class="least">Its poles{{
          scale.fret > 40 ? '' : `, where a fret ${scale.fret.toFixed(2)} would stand` }}:</p>
        <div class="grid">
          <NumberField :model-value="scale.from_nut_mm" label="From the nut" :places="2"
            @update:model-value="(v) => v !== null && poles_to(v / whole_scale)" />
          <NumberField :model-value="Math.round(scale.part * 1e4) / 1e4" label="Part of the scale" kind="number"
            @update:model-value="(v) => v !== null && poles_to(v)" />
          <NumberField :model-value="Math.round(scale.fret * 100) / 100" label="As a fret" kind="number"
            @update:model-value="(v) => v !== null && poles_to(1 - 2 ** (-v / 12))" />
        </div>
      </template>
      <div class="grid">
        <EditField v-if="shape.kind === 'hole'" :path="`${path}.diameter_mm`" :value="shape.diameter_mm" label="Across"
          is_length :places="2" />
        <template v-if="sized">
          <NumberField :model-value="drawn!.length_mm!" label="Long" :places="2"
            @update:model-value="(v) => size('length_mm', v)" />
          <NumberField :model-value="drawn!.width_mm!" label="Wide" :places="2"
            @update:model-value="(v) => size('width_mm', v)" />
        </template>
        <EditField v-if="drawn?.kind === 'rectangle' && !is_slot" :path="`${path}.shape.corner_radius_mm`"
          :value="drawn.corner_radius_mm" label="Corner radius" is_length :places="2" />
        <EditField v-if="drawn?.kind === 'part_rectangle'" :path="`${path}.shape.gap_mm`" :value="drawn.gap_mm"
          label="Gap all round" is_length :places="2" />
        <EditField v-if="drawn && 'angle_deg' in drawn" :path="`${path}.shape.angle_deg`" :value="drawn.angle_deg"
          label="Turned" suffix="°" />
        <template v-if="at.grid && shape.kind === 'hole'">
          <v-text-field :model-value="at.grid.along" label="Holes in a row" inputmode="numeric"
            @change="lay({ along: count($event) })" />
          <v-text-field :model-value="at.grid.across" label="Rows" inputmode="numeric"
            @change="lay({ across: count($event) })" />
          <NumberField v-if="at.grid.along > 1" :model-value="at.grid.apart_mm" label="Apart" :places="2"
            @update:model-value="(v) => v && lay({ apart_mm: v })" />
          <NumberField v-if="at.grid.across > 1" :model-value="at.grid.rows_mm" label="Rows apart" :places="2"
            @update:model-value="(v) => v && lay({ rows_mm: v })" />
          <NumberField v-if="shape.points!.length > 1" :model-value="at.grid.angle_deg" label="Turned" kind="number"
            suffix="°" negative @update:model-value="(v) => v !== null && lay({ angle_deg: v })" />
        </template>
      </div>
      <ShapeDepth :feature="shape" :leaves="at.leaves_mm" :thickness="props.thickness" />
      <ShapeCover v-if="shape.depth_mm !== null" :feature="shape" />
      <div v-if="own" class="grid">
        <v-select :model-value="shape.measured_from ?? ''" :items="parts" label="Made for"
          @update:model-value="(v) => set(`${path}.measured_from`, v || null)" />
        <EditField v-if="shape.kind === 'pocket' && shape.measured_from" :path="`${path}.part_corner_mm`"
          :value="shape.part_corner_mm" label="Corner the part has" is_length :places="2" />
        <v-checkbox v-if="follows" :model-value="shape.follows" label="As large as it is read" hide-details
          @update:model-value="(v) => set(`${path}.follows`, !!v)" />
      </div>
      <table v-if="near.length" class="near"><caption>Comes near</caption><tbody>
        <tr v-for="n in near" :key="n.id" :class="{ short: short(n) }"><th scope="row">{{ n.name }}</th>
          <td>{{ length(n.apart_mm, 1) }}</td>
          <td class="least">{{ n.least_mm === null ? '' : `at least ${length(n.least_mm, 1)}` }}</td></tr>
      </tbody></table>
      <div v-for="f in told" :key="f.letter" class="one" :class="f.severity">
        <p><FlagMark :severity="f.severity" :letter="f.letter" /> {{ f.sentence }}</p>
        <button v-for="c in f.cures" :key="c.sentence" class="cure"
          @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button>
      </div>
      <p v-if="uncut && turned_up.has(shape.face ?? 'front')" class="second">Nothing cuts it yet.
        <button class="cure" @click="edit([{ do: 'propose_for', feature: pen.taken }], `Cut ${name}`)">Add the
          operations</button></p>
      <p v-else-if="uncut" class="second">Nothing cuts it: no setup turns its face up.
        <button class="cure" @click="edit([{ do: 'turn_over' }, { do: 'propose_for', feature: pen.taken }],
          `Turn over for ${name}`)">Turn the piece over for it</button></p>
      <p v-if="own" class="acts">
        <button class="plain" @click="copy">Copy</button>
        <button class="plain" @click="go({ mirror: true, copied: true }, 'A twin of')">Twin across the centre
          line</button>
        <button class="plain" :disabled="!free" @click="go({ mirror: true }, 'Mirror')">Mirror</button>
        <button class="plain" :disabled="!free" @click="go({ turn_deg: 90 }, 'Turn')">Turn by 90°</button>
        <button class="plain"
          @click="set(`${path}.locked`, !shape.locked)">{{ shape.locked ? 'Unlock' : 'Lock' }}</button>
        <button class="plain" @click="take_out">Take it out</button>
      </p>
    </template>
  </section>
</template>

<style scoped>
.shape { display: flex; flex-direction: column; gap: 8px; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
.head { display: flex; justify-content: space-between; }
.near { width: 100%; border-collapse: collapse; }
.near caption { text-align: left; font-weight: 700; }
.near th { text-align: left; font-weight: 400; }
.near td { text-align: right; padding: 2px 4px; }
.near .short td:nth-child(2) { background: var(--amber); color: var(--on-amber); font-weight: 700; }
.acts { display: flex; gap: 6px 14px; flex-wrap: wrap; }
.one { border-left: 4px solid var(--edge); padding: 2px 0 2px 10px; }
.one.care { border-color: var(--amber); } .one.stop { border-color: var(--ember); }
.ember { color: var(--ember); }
p { margin: 0; }
</style>
