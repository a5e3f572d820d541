<script setup lang="ts">
import { computed } from 'vue'
import type { AtMachineStep } from '../api/types'
import { dash, steady } from '../trunk/trunk'

/** A run as a standing trunk: bare wood is done, bark is to do, the curl is where it is now. */
const props = defineProps<{ steps: AtMachineStep[]; current: string | null }>()
const [WIDE, HIGH] = [118, 1000]
const each = computed(() => HIGH / Math.max(1, props.steps.length))
const at = computed(() => {
  const k = props.steps.findIndex((s) => s.id === props.current)
  return k < 0 ? props.steps.length : k
})
const marks = (k: number) => Array.from({ length: props.steps[k].kind === 'cut' ? 5 : 2 }, (_, n) =>
  dash(8 + steady(k * 7 + n) * 74, k * each.value + 6 + steady(k * 3 + n * 11) * (each.value - 10),
    12 + steady(k + n * 5) * 20, 3)).join('')
const said = computed(() => `${at.value} of ${props.steps.length} steps done`)
const grain = [14, 35, 52, 78, 99]
</script>

<template>
  <svg class="trunk" :viewBox="`0 0 ${WIDE + 6} ${HIGH}`" preserveAspectRatio="none" role="img" :aria-label="said">
    <rect width="112" :height="HIGH" fill="#f8f5ef" />
    <rect width="112" :height="at * each" fill="#d6a679" />
    <path v-for="x in grain" :key="x" :d="`M${x} 0V${at * each}`" stroke="#b3794a" stroke-width="1" />
    <g v-for="(s, k) in steps" :key="s.id">
      <path v-if="k >= at" :d="marks(k)" fill="#1d1a17" />
      <path v-if="s.kind === 'bit' && k > at" :d="`M0 ${k * each}h112v7h-112z`" fill="#1d1a17" />
    </g>
    <path v-if="at < steps.length" :d="`M0 ${at * each - 9}h116q6 9 0 18h-116z`" fill="#f3e3d0" stroke="#1d1a17"
      stroke-width="1.6" />
    <path :d="`M112 0V${HIGH}`" stroke="#8d8477" stroke-width="1.4" />
  </svg>
</template>

<style scoped>
.trunk { width: 100%; height: 100%; display: block; }
</style>
