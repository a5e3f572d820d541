<script setup lang="ts">
import { computed } from 'vue'
import type { Point } from '../api/types'
import { length } from '../units/format'
import { BANDS, BAND_MM, OVER } from '../wood/paint'
import { look, target, type Shows } from './look'
import { begin, measured, over_at, probe, read_at, type Read } from './probe'
import { open, wood } from './store'

/** Under the plan: how the wood is shown, what stands under the pointer, and the way between two places. */
const at = computed(() => (probe.hover ?? (probe.measuring ? probe[probe.moving] : null)) as Point | null)
const here = computed(() => (look.changed >= 0 && at.value && wood.value && open.state ? read_at(open.step, at.value) : null))
const over = computed(() => (look.changed >= 0 && look.shows === 'target' && at.value ? over_at(open.step, at.value) : null))
const signed = (mm: number) => `${mm < -0.05 ? '−' : ''}${length(Math.abs(mm), 1)}`
const words = (r: Read) => (r.z_mm === null ? 'no wood' : `${r.z_mm > 0.005 ? `${length(r.z_mm, 1)} over the face` : `${length(Math.abs(r.z_mm), 1)} deep`}, ${length(r.thick_mm!, 1)} thick`)
const swatches = BANDS.map((c, k) => ({ colour: `rgb(${c.join(' ')})`, from: k * BAND_MM }))
const rgb = (c: readonly number[]) => `rgb(${c.join(' ')})`
const standing = OVER.slice(4).map((b) => ({ colour: rgb(b.colour), from: b.from_mm }))
const SHOWS: [Shows, string, string][] = [['wood', 'Wood', 'Wood from above'], ['thick', 'Thickness', 'Thickness, T'], ['target', 'Against the drawing', 'Against the drawing, A'], ['tilted', 'Tilted', 'Tilted under a low light, V']]
</script>

<template>
  <div class="probe">
    <div class="line">
      <div class="choice" role="radiogroup" aria-label="How the wood is shown"><button v-for="[key, name, title] in SHOWS" :key="key" role="radio" :aria-checked="look.shows === key" :class="{ on: look.shows === key }" :title="title" @click="look.shows = key">{{ name }}</button></div>
      <span class="gap" />
      <button class="plain" :aria-pressed="look.follow" title="Follow the bit, B" @click="look.follow = !look.follow">{{ look.follow ? 'Leave the bit' : 'Follow the bit' }}</button>
      <button class="plain" :aria-pressed="probe.measuring" title="Measure, M" @click="begin(!probe.measuring)">{{ probe.measuring ? 'Stop measuring' : 'Measure' }}</button>
    </div>
    <div v-if="look.shows !== 'tilted'" class="line">
      <template v-if="look.shows === 'target' && !target && !look.failed"><span class="second" role="status">Drawing the wood as it should be.</span></template>
      <span v-else-if="look.failed" class="ember" role="status">{{ look.failed }}</span>
      <span v-else-if="here" class="second" title="Along the centre line from the neck end, to the treble side">{{ signed(here.at[0]) }}, {{ signed(here.at[1]) }}: {{ over ?? words(here) }}</span>
      <span v-else-if="look.shows === 'thick'" class="legend second"><i v-for="s in swatches" :key="s.from" :style="{ background: s.colour }">{{ length(s.from, 0) }}</i> and more</span>
      <span v-else-if="look.shows === 'target'" class="legend second"><i class="deep" />too deep<i :style="{ background: rgb(OVER[3].colour) }">as drawn</i><i v-for="(s, k) in standing" :key="s.from" :style="{ background: s.colour, color: k > 1 ? '#fff' : '#1d1a17' }">{{ length(s.from, s.from < 0.1 ? 2 : 1) }}</i> still standing<i class="wall">beside a wall</i></span>
    </div>
    <p v-if="measured" role="status"><b>{{ length(measured.apart) }}</b> apart: {{ signed(measured.along) }} along, {{ signed(measured.across) }} across<template v-if="measured.up !== null">, {{ signed(measured.up) }} in height</template>.</p>
    <p v-else-if="probe.measuring" class="second">Click two places, or move with the arrows (Shift 10, Alt 0.1) and press Enter.</p>
  </div>
</template>

<style scoped>
.line { display: flex; gap: 14px; align-items: center; min-height: 28px; white-space: nowrap; }
.choice { flex: none; }
.choice button { padding: 2px 9px; }
.gap { flex: 1; }
p { margin: 0; }
.ember { color: var(--ember); }
.legend { display: flex; align-items: center; gap: 3px; }
.legend i { font-style: normal; font-size: 14px; min-width: 20px; padding: 0 4px; text-align: center; color: #1d1a17; }
.legend i:first-child { color: #fff; }
.legend .deep { height: 18px; background: repeating-linear-gradient(135deg, #b23a22 0 5px, #fafafa 5px 7px); }
.legend .wall { margin-left: 6px; background: repeating-linear-gradient(45deg, #d9d1c2 0 4px, #9e9485 4px 5px); }
@media (max-width: 760px) { .line { flex-wrap: wrap; } }
</style>
