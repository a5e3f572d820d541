<script setup lang="ts">
import { computed } from 'vue'
import type { Trust } from '../api/types'

/** What a number rests on: two dashes where it was measured twice or more, one where once, hollow ones where never, a point where it was typed or drawn. */
const props = defineProps<{ trust: Trust; rests_on?: string[] }>()
const words: Record<Trust, string> = { measured: 'Measured twice or more', single: 'Measured only once', assumed: 'Rests on what was never measured', told: 'Drawn or typed, rests on no part' }
const dash = (y: number) => `M2 ${y}q5 -2.4 10 -2t8 2q-4 2.4 -9 2t-9 -2z`
const said = computed(() => words[props.trust])
</script>

<template>
  <svg class="trust" width="24" height="16" viewBox="0 0 24 16" role="img" :aria-label="said"><title>{{ said }}</title>
    <circle v-if="trust === 'told'" cx="12" cy="8" r="2.4" fill="var(--ink3)" />
    <template v-else>
      <path :d="dash(5)" :fill="trust === 'assumed' ? 'none' : 'var(--ink)'" stroke="var(--ink)" stroke-width=".9" />
      <path :d="dash(12)" :fill="trust === 'measured' ? 'var(--ink)' : 'none'" stroke="var(--ink)" stroke-width=".9" />
    </template>
  </svg>
</template>

<style scoped>
.trust { display: inline-block; vertical-align: -3px; flex: none; }
</style>
