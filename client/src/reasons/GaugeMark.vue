<script setup lang="ts">
import { computed } from 'vue'

/** A small scale from 0: the good stretch tinted, a pointer at the value. */
const props = defineProps<{ value: number; low?: number; high: number; words: string }>()
const most = computed(() => Math.max(props.high * 1.5, props.value * 1.12, 1e-9))
const x = (v: number) => Math.min(100, (v / most.value) * 100)
</script>

<template>
  <svg viewBox="0 0 100 13" preserveAspectRatio="none" class="gauge" role="img" :aria-label="words">
    <rect :x="x(low ?? 0)" y="2" :width="x(high) - x(low ?? 0)" height="4" fill="var(--moss-tint)" />
    <path d="M0 2H100" stroke="var(--ink)" stroke-width=".9" vector-effect="non-scaling-stroke" />
    <path v-for="k in 11" :key="k" :d="`M${(k - 1) * 10} 2V${k % 5 === 1 ? 6 : 4.4}`" stroke="var(--ink)" stroke-width=".7" vector-effect="non-scaling-stroke" />
    <path :d="`M${x(value)} 5.5l1.9 6h-3.8z`" fill="var(--ink)" />
  </svg>
</template>

<style scoped>
.gauge { width: 100%; height: 16px; display: block; }
</style>
