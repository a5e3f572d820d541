<script setup lang="ts">
import { computed } from 'vue'
import type { CutAnswer, TrialRow } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { STANDING } from './draw'

/** The window of one setting: where it may lie, what binds at either end, where careful, fast and quiet lie, what was cut here. */
const props = defineProps<{ name: string; unit: string; origin: string; setting: 'feed_mm_min' | 'speed_rpm' | 'depth_of_cut_mm' | 'stepover_mm' | 'plunge_mm_min'; now: CutAnswer; others: { mark: string; value: number; words: string }[]; trials: TrialRow[]; show: (v: number) => string }>()
const r = computed(() => props.now.ranges[props.setting])
const value = computed(() => props.now.settings[props.setting])
const ends = computed(() => {
  const all = [value.value, r.value.low, r.value.high, ...props.others.map((o) => o.value)].filter((v) => v > 0)
  return [Math.min(...all) / 1.25, Math.max(...all) * 1.25]
})
const x = (v: number) => Math.max(0, Math.min(100, (100 * Math.log(v / ends.value[0])) / Math.log(ends.value[1] / ends.value[0])))
const standing = computed(() => `${STANDING[props.now.trust.standing].words}${props.now.trust.count ? `; ${props.now.trust.count} of its cuts are kept` : ''}.`)
const words = computed(() => (r.value.is_empty ? `no ${props.name.toLowerCase()} keeps every limit: ${r.value.high_words}` : `${props.show(r.value.low)} to ${props.show(r.value.high)} ${props.unit}`))
</script>

<template>
  <div class="bar">
    <div class="top"><OriginTap :of="origin" :own="standing"><b>{{ name }}</b></OriginTap><span>{{ words }}</span></div>
    <svg viewBox="0 0 100 22" preserveAspectRatio="none" role="img" :aria-label="`${name}: ${words}; now ${show(value)}`">
      <rect x="0" y="7" width="100" height="8" fill="var(--well)" />
      <rect v-if="!r.is_empty" :x="x(r.low)" y="7" :width="Math.max(0.6, x(r.high) - x(r.low))" height="8" fill="var(--moss-tint)" stroke="var(--moss)" stroke-width="1" vector-effect="non-scaling-stroke" />
      <path v-for="o in others" :key="o.mark" :d="`M${x(o.value)} 4V18`" stroke="var(--ink3)" stroke-width="1.4" stroke-dasharray="2 2" vector-effect="non-scaling-stroke"><title>{{ o.words }}</title></path>
      <path v-for="t in trials" :key="t.id" :d="`M${x(t.settings[setting])} 15V21`" :stroke="t.doubted ? 'var(--ink3)' : t.outcome === 'fine' || t.outcome === 'slow' ? 'var(--moss)' : 'var(--ember)'" stroke-width="2.5" vector-effect="non-scaling-stroke" />
      <path :d="`M${x(value)} 2V20`" stroke="var(--ink)" stroke-width="3" vector-effect="non-scaling-stroke" />
    </svg>
    <p class="least"><span v-if="r.low_by && !r.is_empty">Less: {{ r.low_words }}. </span><span v-if="r.high_by && !r.is_empty">More: {{ r.high_words }}.</span></p>
  </div>
</template>

<style scoped>
.bar svg { width: 100%; height: 22px; display: block; }
.top { display: flex; justify-content: space-between; }
p { margin: 0; font-size: 13px; line-height: 1.25; min-height: 17px; }
</style>
