<script setup lang="ts">
import { computed } from 'vue'
import type { JobStanding } from '../api/types'
import { dash, steady } from '../trunk/trunk'

/** A job's steps as a trunk that lies: bare wood is done, bark is to do, a band where another bit is put in. */
const props = defineProps<{ steps: JobStanding['steps'] }>()
const [LONG, HIGH, MOST] = [300, 28, 18]
const each = computed(() => Math.min(MOST, LONG / Math.max(props.steps.length, 1)))
const done = computed(() => props.steps.filter((s) => s.done).length)
const said = computed(() => (props.steps.length ? `${done.value} of ${props.steps.length} steps done` : 'no steps yet'))
const marks = (k: number) => [0, 1, 2].map((n) => dash(k * each.value + 2 + steady(k * 7 + n) * each.value * 0.35,
  6 + n * 7 + steady(k * 3 + n) * 3, each.value * (0.3 + steady(k + n * 5) * 0.3), 2.2)).join('')
</script>

<template>
  <svg :viewBox="`0 0 ${LONG} ${HIGH}`" class="trunk" role="img" :aria-label="said">
    <path v-if="!steps.length" :d="`M0 3H${LONG}M0 ${HIGH - 3}H${LONG}`" class="none" />
    <g v-for="(s, k) in steps" :key="s.id"><title>{{ s.name }}{{ s.done ? ', done' : '' }}</title>
      <rect :x="k * each" y="1" :width="each + 0.4" :height="HIGH - 2"
        :class="s.done ? 'bare' : s.is_bench ? 'hand' : 'bark'" />
      <path v-if="s.done"
        :d="`M${k * each} 8q${each / 2} 3 ${each} 0M${k * each} 18q${each / 2} -3 ${each} 0`" class="grain" />
      <path v-else-if="!s.is_bench" :d="marks(k)" class="mark" />
      <rect v-if="s.change && k && !s.done" :x="k * each - 1.6" y="0" width="3.2" :height="HIGH" class="band" />
    </g>
    <path v-if="steps.length" class="edge"
      :d="`M0 1H${steps.length * each}V${HIGH - 1}H0Z`" />
  </svg>
</template>

<style scoped>
.trunk { width: 100%; max-width: 330px; display: block; }
.bare { fill: #d6a679; }
.bark { fill: #f8f5ef; }
.hand { fill: #e4dccd; }
.grain { stroke: #b3794a; stroke-width: .8; fill: none; }
.mark { fill: #1d1a17; }
.band { fill: #1d1a17; }
.edge { fill: none; stroke: #8d8477; stroke-width: 1; }
.none { stroke: var(--ink3); stroke-dasharray: 5 4; fill: none; }
</style>
