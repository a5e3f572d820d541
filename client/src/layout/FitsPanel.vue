<script setup lang="ts">
import { computed } from 'vue'
import type { Layout } from '../api/types'
import EditField from '../fields/EditField.vue'
import OriginTap from '../fields/OriginTap.vue'
import { edit, open, set } from '../route/store'
import FittedHere from './FittedHere.vue'
import { few } from '../units/few'
import { length } from '../units/format'

/** Gap, finish film and tolerance of every fit, and the corners a round bit leaves. */
const props = defineProps<{ layout: Layout }>()
const classes = [{ title: 'Shown', value: 'shown' }, { title: 'Fitted', value: 'fitted' }, { title: 'Glued', value: 'glued' }, { title: 'Hidden', value: 'hidden' }, { title: 'Free', value: 'free' }]
const drawn = computed(() => new Set(open.state?.document.piece.features.map((f) => f.id)))
const chisel = (c: Layout['corners'][0]) => edit([{ do: 'put_item', list: 'bench_steps', item: { id: `chisel_${c.feature}`.slice(0, 40), name: `Square ${c.spots.length} corners of ${c.name}`.slice(0, 80), minutes: 3 * c.spots.length, kind: 'chisel', after: open.state!.document.operations.at(-1)?.id ?? null,
  note: `At ${c.spots.map((s) => `${s.x_mm.toFixed(1)}, ${s.y_mm.toFixed(1)}`).join('; ')}. They keep a radius of ${c.radius_mm.toFixed(1)}.`.slice(0, 900) } }], `Square the corners of ${c.name} by chisel`)
const planned = (id: string) => open.state?.document.bench_steps.some((s) => s.id === `chisel_${id}`.slice(0, 40))
</script>

<template>
  <section>
    <h2>Fits</h2>
    <div class="grid"><EditField path="choices.fit_gap_mm" :value="open.state?.document.choices.fit_gap_mm" label="Heel, gap each side" is_length /><EditField path="choices.film_mm" :value="open.state?.document.choices.film_mm" label="Finish on one wall" is_length /></div>
    <p class="least">Film is added where a part goes into a shown or fitted pocket that is sprayed. Oil 0, thin lacquer 0.05, thick 0.12: starting figures, unverified.</p>
    <table><thead><tr><th>Pocket</th><th>class</th>
      <th><OriginTap of="gap">gap + film</OriginTap></th><th><OriginTap of="tolerance">may be off</OriginTap></th>
    </tr></thead><tbody>
      <tr v-for="f in layout.fits" :key="f.feature"><td>{{ f.name }}</td><td><span v-if="f.hidden_by" title="Nobody sees it, so its walls get no finish pass. Tick the pass at its operation where that is not so.">hidden, under {{ f.hidden_by }}</span><v-select v-else-if="drawn.has(f.feature)" :model-value="f.finish_class" :items="classes" variant="plain" :aria-label="`Class of ${f.name}`" @update:model-value="(v) => set(`piece.features.${f.feature}.finish_class`, v)" /><span v-else>{{ f.finish_class }}</span></td>
        <td>{{ f.cut_gap_mm === null ? '–' : f.film_mm ? `${length(f.gap_mm)} + ${length(f.film_mm)}` : length(f.gap_mm) }}</td><td>±{{ length(f.tolerance_mm) }}</td></tr></tbody></table>
    <FittedHere />
    <h2>Corners the bit leaves round</h2>
    <p v-if="!layout.corners.length" class="second">Every inside corner is as drawn.</p>
    <div v-for="c in layout.corners" :key="c.feature" class="corner">
      <p><b>{{ c.name }}</b>: {{ c.spots.length }} {{ c.spots.length === 1 ? 'corner keeps' : 'corners keep' }} a
        radius of {{ length(c.radius_mm, 1) }} from the {{ c.bit }}. <span class="second">{{ few(c.spots.map((s) =>
        `${length(s.x_mm, 0)}, ${length(s.y_mm, 0)}`), 6, '; ') }}</span></p>
      <p class="second">{{ c.smaller.length ? `The ${c.smaller[0]} would leave less, in another pass.` : 'No smaller bit of the rack reaches down there.' }}</p>
      <button v-if="!planned(c.feature)" class="cure" @click="chisel(c)">Chisel them, as a bench step</button><span v-else class="second">On the list of bench steps.</span>
    </div>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
h2 { margin-top: 12px; } h2:first-child { margin-top: 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
table { width: 100%; border-collapse: collapse; }
th { font-weight: 400; color: var(--ink3); text-align: left; }
td { border-top: 1px solid var(--rule); padding: 2px 6px 2px 0; }
td:nth-child(2) { width: 112px; }
.corner { border-top: 1px solid var(--rule); padding: 6px 0; }
</style>
