<script setup lang="ts">
import type { Layout } from '../api/types'
import EditField from '../fields/EditField.vue'
import { open, set } from '../route/store'
import NumberField from '../fields/NumberField.vue'
import { length } from '../units/format'

/** The saddle line found twice, the strings over board and poles, the neck's real axis, its screws. */
defineProps<{ layout: Layout; part: 'saddle' | 'strings' }>()
const extra = (k: number) => open.state?.document.choices.string_extra_mm[k] ?? 0
function compensate(k: number, mm: number) {
  const now = open.state!.document.choices
  const list = Array.from({ length: now.strings }, (_, i) => now.string_extra_mm[i] ?? 0)
  list[k] = mm
  void set('choices.string_extra_mm', list)
}
</script>

<template>
  <section v-if="part === 'saddle'"><h2>The saddle line, twice</h2>
    <template v-if="layout.saddle">
      <p><b class="big">{{ length(layout.saddle.from_heel_mm) }}</b> from the heel’s end.<br /><span class="second">{{ layout.saddle.words }}.</span></p>
      <p v-if="layout.saddle.again_mm !== null"><b class="big">{{ length(layout.saddle.again_mm) }}</b> again, from the nut.<br /><span class="second">{{ layout.saddle.again_words }}.</span></p>
      <p v-else class="word">Measure nut to 12th fret, and the same place is found a second way.</p>
      <p v-if="layout.scale && !layout.scale.agrees" class="care" role="alert">The scale is {{ length(layout.scale.stated_mm) }} by name and {{ length(layout.scale.measured_mm) }} by caliper. Find out which before you drill.</p>
      <details><summary>The bridge’s own points, from the heel’s end</summary><p v-for="q in layout.saddle.points" :key="q.name" class="point"><span>{{ q.name }}<span v-if="q.words" class="least">, {{ q.words }}</span></span><b>{{ length(q.from_heel_mm) }}</b></p></details>
      <p v-if="layout.scale && layout.scale.agrees && layout.saddle.differ_mm !== null" class="word">The two differ by {{ length(Math.abs(layout.saddle.differ_mm)) }}. Hold the real neck against it before a post hole is cut.</p>
    </template>
    <p v-else class="word">Measure the heel and choose the scale, and the saddle line is found here.</p></section>
  <template v-else>
    <section v-if="layout.strings"><h2>Strings</h2>
      <p v-for="g in layout.strings.gaps" :key="g.place" :class="{ care: !g.enough }">{{ g.place }}: outer strings {{ length(g.bass_mm, 1) }} and {{ length(g.treble_mm, 1) }} inside the board’s edge{{ g.enough ? '' : `; ${length(g.least_mm, 1)} is the least` }}.</p>
      <p>Each string’s saddle behind the saddle line, treble first:</p>
      <div class="saddles"><NumberField v-for="(q, k) in layout.strings.saddles" :key="q.number"
        :model-value="extra(k)" :label="String(q.number)" @update:model-value="(mm) => compensate(k, mm ?? 0)" /></div>
      <p v-if="layout.strings.travel" :class="{ care: layout.strings.travel.short_mm > 0.01 }">With one to spare they need {{ length(layout.strings.travel.forward_needed_mm, 1) }} forward and {{ length(layout.strings.travel.back_needed_mm, 1) }} back; the bridge has {{ length(layout.strings.travel.forward_mm, 1) }} and {{ length(layout.strings.travel.back_mm, 1) }}{{ layout.strings.travel.forward_mm === null ? ': measure its travel' : '' }}.</p>
      <div class="saddles two"><EditField path="choices.bass_scale_mm" :value="open.state?.document.choices.bass_scale_mm" label="Bass scale, if it has two" is_length /><EditField path="choices.straight_fret" :value="open.state?.document.choices.straight_fret" label="Square fret" /></div>
      <p v-for="p in layout.strings.poles" :key="p.part" :class="{ care: !p.within }">{{ p.part }}: poles {{ length(p.poles_mm, 1) }} apart under strings {{ length(p.strings_mm, 1) }} apart.</p>
      <EditField path="choices.axis_offset_mm" :value="open.state?.document.choices.axis_offset_mm" label="Neck in its pocket: nut off the centre line, to the treble side" is_length />
      <p v-if="layout.axis" :class="{ care: Math.abs(layout.axis.at_saddle_mm) > 0.5 }">So the strings land {{ length(Math.abs(layout.axis.at_saddle_mm)) }} to the {{ layout.axis.at_saddle_mm > 0 ? 'treble' : 'bass' }} side at the bridge. The middle of the outline’s box lies {{ length(Math.abs(layout.axis.box_middle_mm), 1) }} off the centre line and means nothing here.</p></section>
    <section v-if="layout.screws.length"><h2>Neck screws</h2>
      <p v-for="s in layout.screws" :key="s.part" :class="{ care: !s.clear }">{{ s.part }}, {{ length(s.long_mm, 1) }} long: through {{ length(s.body_mm, 1) }} of body, {{ length(s.bite_mm, 1) }} into {{ length(s.heel_wood_mm, 1) }} of heel.{{ s.clear ? '' : s.bite_mm <= 0 ? ' It does not reach.' : ' Its tip comes too near the fretboard.' }}{{ s.board_known ? '' : ' Measure the board alone.' }}<template v-if="s.pilot_mm !== null"> Body holes {{ length(s.clearance_mm, 1) }}, pilot in the neck {{ length(s.pilot_mm, 1) }}.</template></p></section>
  </template>
</template>

<style scoped>
p { margin: 4px 0; }
section { display: flex; flex-direction: column; gap: 4px; }
.saddles { display: grid; grid-template-columns: repeat(4, 1fr); gap: 8px 6px; margin: 4px 0; }
.saddles.two { grid-template-columns: 1fr 1fr; margin-top: 8px; }
.point { display: flex; justify-content: space-between; border-top: 1px solid var(--rule); margin: 0; padding: 3px 0; }
summary { cursor: pointer; min-height: 24px; color: var(--ink2); }
.big { font-size: 19px; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
