<script setup lang="ts">
import { computed } from 'vue'
import type { Point } from '../api/types'
import { length } from '../units/format'
import { BANDS, BAND_MM } from '../wood/paint'
import { begin, measured, probe, read_at, type Read } from './probe'
import { open, wood } from './store'

/** Under the plan: how the wood is shown, what stands under the pointer, and the way between two places. */
const here = computed(() => { const at = probe.hover ?? (probe.measuring ? probe[probe.moving] : null); return at && wood.value && open.state ? read_at(open.step, at as Point) : null })
const signed = (mm: number) => `${mm < 0 ? '−' : ''}${length(Math.abs(mm), 1)}`
const words = (r: Read) => (r.z_mm === null ? 'no wood' : `${r.z_mm > 0.005 ? `${length(r.z_mm, 1)} over the face` : `${length(Math.abs(r.z_mm), 1)} deep`}, ${length(r.thick_mm!, 1)} thick`)
const swatches = BANDS.map((c, k) => ({ colour: `rgb(${c.join(' ')})`, from: k * BAND_MM }))
</script>

<template>
  <div class="probe">
    <div class="line">
      <button class="plain" :aria-pressed="probe.thick" title="Thickness, T" @click="probe.thick = !probe.thick">{{ probe.thick ? 'Show the wood' : 'Show thickness' }}</button>
      <button class="plain" :aria-pressed="probe.measuring" title="Measure, M" @click="begin(!probe.measuring)">{{ probe.measuring ? 'Stop measuring' : 'Measure' }}</button>
      <span class="gap" />
      <span v-if="here" class="second" title="Along the centre line from the neck end, to the treble side">{{ signed(here.at[0]) }}, {{ signed(here.at[1]) }}: {{ words(here) }}</span>
      <span v-else-if="probe.thick" class="legend second"><i v-for="s in swatches" :key="s.from" :style="{ background: s.colour }">{{ length(s.from, 0) }}</i> and more</span>
    </div>
    <p v-if="measured" role="status"><b>{{ length(measured.apart) }}</b> apart: {{ signed(measured.along) }} along, {{ signed(measured.across) }} across<template v-if="measured.up !== null">, {{ signed(measured.up) }} in height</template>.</p>
    <p v-else-if="probe.measuring" class="second">Click two places, or move with the arrows (Shift 10, Alt 0.1) and press Enter.</p>
  </div>
</template>

<style scoped>
.line { display: flex; gap: 14px; align-items: center; min-height: 28px; white-space: nowrap; }
.gap { flex: 1; }
p { margin: 0; }
.legend { display: flex; align-items: center; gap: 1px; }
.legend i { font-style: normal; font-size: 12px; min-width: 20px; padding: 1px 3px; text-align: center; color: #1d1a17; }
.legend i:first-child { color: #fff; }
</style>
