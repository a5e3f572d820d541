<script setup lang="ts">
import { computed } from 'vue'
import type { Asked, CutAnswer, CutSettings } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { fine, grouped, length, minutes, rate, rate_unit } from '../units/format'

/** From quiet to fast: minutes against how loud and how hard, with a slider that walks along the curve. */
const props = defineProps<{ asked: Asked; now: CutAnswer }>()
const emit = defineEmits<{ take: [settings: CutSettings] }>()
const [W, H] = [360, 66]
const places = computed(() => props.asked.trade)
const most = computed(() => Math.max(...places.value.map((p) => p.minutes)))
const x = (at: number) => 8 + at * (W - 16)
const y = (m: number) => H - 14 - (m / most.value) * (H - 26)
const curve = computed(() => places.value.map((p, k) => `${k ? 'L' : 'M'}${x(p.at).toFixed(1)} ${y(p.minutes).toFixed(1)}`).join(''))
const like = (a: CutSettings, b: CutSettings) => Math.abs(a.feed_mm_min / b.feed_mm_min - 1) + Math.abs(a.depth_of_cut_mm / b.depth_of_cut_mm - 1) + Math.abs(a.speed_rpm / b.speed_rpm - 1)
/** The place the settings in question stand at, where they stand on the curve at all. */
const at = computed(() => { const near = places.value.map((p) => like(p.settings, props.now.settings)); const k = near.indexOf(Math.min(...near)); return near[k] < 0.01 ? k : -1 })
const shown = computed(() => places.value[at.value < 0 ? 0 : at.value])
const per = computed(() => (props.asked.per === 'metre' ? 'for a metre' : 'for 100 cm³'))
const ends = computed(() => [places.value[0], places.value[places.value.length - 1]])
const words = computed(() => `${rate(shown.value.settings.feed_mm_min)} ${rate_unit.value} at ${grouped(shown.value.settings.speed_rpm)}, ${length(shown.value.settings.depth_of_cut_mm)} deep: ${minutes(shown.value.minutes)} min ${per.value}, chip ${fine(shown.value.chip_mm)}, ${Math.round(shown.value.force_n)} N`)
</script>

<template>
  <section v-if="places.length > 1">
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Minutes ${per}, from ${minutes(ends[0].minutes)} when quiet to ${minutes(ends[1].minutes)} when fastest`">
      <path :d="`M8 ${H - 14}H${W - 8}`" stroke="var(--rule)" />
      <path :d="curve" fill="none" stroke="var(--ink)" stroke-width="2" />
      <circle v-for="p in places" :key="p.at" :cx="x(p.at)" :cy="y(p.minutes)" r="2.4" fill="var(--ink)" />
      <circle v-if="at >= 0" :cx="x(shown.at)" :cy="y(shown.minutes)" r="6" fill="var(--moss)" stroke="var(--ink)" />
      <text x="8" :y="H - 2">quiet, chip {{ fine(ends[0].chip_mm) }}, {{ minutes(ends[0].minutes) }} min</text><text :x="W - 8" :y="H - 2" text-anchor="end">fastest, {{ fine(ends[1].chip_mm) }}, {{ minutes(ends[1].minutes) }} min</text>
    </svg>
    <input type="range" min="0" :max="places.length - 1" :value="at < 0 ? 0 : at" :class="{ off: at < 0 }" aria-label="From quiet to fast" :aria-valuetext="words" @input="(e) => emit('take', places[Number((e.target as HTMLInputElement).value)].settings)" />
    <p class="second">{{ at < 0 ? `Minutes ${per}. These settings lie beside the curve; move along it to look at what lies on it.` : `${words}. ${Math.round(100 * shown.used)} % of ${shown.binds}.` }}</p>
    <p class="least">
      <OriginTap of="loudness">How loud</OriginTap> and <OriginTap of="breakage">how near to breaking</OriginTap>
      are judged along it; what binds first ends it.</p>
  </section>
  <p v-else-if="places.length" class="second">Quiet is as fast as fastest here: {{ places[0].binds }} binds before it gets loud.</p>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 2px; }
svg { width: 100%; max-width: 460px; }
text { font-size: 11.5px; fill: var(--ink2); }
input { width: 100%; max-width: 460px; accent-color: var(--moss); min-height: 24px; }
.off { opacity: 0.55; }
p { margin: 0; }
</style>
