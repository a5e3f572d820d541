<script setup lang="ts">
import { computed } from 'vue'
import type { JobStanding } from '../api/types'

/** A job's piece in plan as it stands: in its blank while it is, dashed until its outline is cut. All at one scale. */
const props = defineProps<{ of: JobStanding }>()
const SCALE = 0.34
const MOST_HIGH = 112 // a wider piece lies smaller: its row would be too high
const box = computed(() => {
  const [x, y, long, wide] = props.of.blank as [number, number, number, number]
  return { x, y, long, wide }
})
const scale = computed(() => Math.min(SCALE, 164 / box.value.long, MOST_HIGH / box.value.wide))
const line = (ring: number[][]) => `M${ring.map(([x, y]) => `${x} ${-y}`).join('L')}Z`
const outline = computed(() => props.of.outline.map(line).join(''))
const cuts = computed(() => props.of.cuts.map(line).join(''))
const begun = computed(() => props.of.steps.some((s) => !s.is_bench && s.done))
</script>

<template>
  <svg :width="box.long * scale + 6" :height="box.wide * scale + 6" aria-hidden="true"
    :viewBox="`${box.x - 3 / scale} ${-box.y - box.wide - 3 / scale} ${box.long + 6 / scale} ${box.wide + 6 / scale}`">
    <rect v-if="!of.freed" :x="box.x" :y="-box.y - box.wide" :width="box.long" :height="box.wide" class="blank" />
    <path :d="outline" :class="of.freed ? 'freed' : 'drawn'" :stroke-dasharray="of.freed ? undefined : '5 3.5'"
      vector-effect="non-scaling-stroke" />
    <path :d="cuts" :class="begun ? 'cut' : 'drawn'" :stroke-dasharray="begun ? undefined : '3 2.5'"
      vector-effect="non-scaling-stroke" />
  </svg>
</template>

<style scoped>
.blank { fill: #d6a679; stroke: #a9764a; stroke-width: 1; vector-effect: non-scaling-stroke; }
.freed { fill: #d6a679; stroke: #1d1a17; stroke-width: 1.4; }
.drawn { fill: none; stroke: #1d1a17; stroke-width: 1.2; }
.cut { fill: #b3794a; stroke: #1d1a17; stroke-width: 1; }
</style>
