<script setup lang="ts">
import type { Severity } from '../api/types'

defineProps<{ severity: Severity; letter: string }>()
const words: Record<Severity, string> = { stop: 'Stop', care: 'Care', note: 'Note' }
</script>

<template>
  <svg class="flag" width="26" height="18" viewBox="-1 -1 28 20" role="img" :aria-label="`${words[severity]} ${letter}`">
    <path v-if="severity === 'stop'" d="M0 0H26L20 9L26 18H0Z" fill="var(--ember)" />
    <path v-else-if="severity === 'care'" d="M0 0H18L26 9L18 18H0Z" fill="var(--amber)" stroke="#1d1a17" />
    <rect v-else width="20" height="18" fill="var(--bark)" stroke="var(--ink)" stroke-width="1.4" />
    <text x="9.5" y="14" text-anchor="middle" font-size="13.5" font-weight="700" :fill="severity === 'stop' ? 'var(--on-ember)' : severity === 'care' ? 'var(--on-amber)' : 'var(--ink)'">{{ letter }}</text>
  </svg>
</template>

<style scoped>
.flag { flex: none; display: block; overflow: visible; }
</style>
