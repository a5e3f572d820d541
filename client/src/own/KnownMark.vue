<script setup lang="ts">
import { computed } from 'vue'
import type { Known } from '../api/types'

/** How a figure of a machine is known: a full dash where it was measured, a hollow one where told, dots where
 *  assumed. */
const props = defineProps<{ known: Known; old?: boolean }>()
const WORDS = { measured: 'Measured', told: 'Told', assumed: 'Only assumed' } as const
const origin = computed(() => props.known.origin ?? 'assumed')
const said = computed(() => {
  const day = props.known.on ? `, ${props.known.on}` : ''
  return `${WORDS[origin.value]}${day}${props.old ? ', long ago: measure it again' : ''}`
})
const full = computed(() => (origin.value === 'measured' && !props.old ? 'var(--ink)' : 'none'))
</script>

<template>
  <svg class="mark" width="20" height="10" viewBox="0 0 20 10" role="img" :aria-label="said"><title>{{ said }}</title>
    <g v-if="origin === 'assumed'" fill="var(--ink)">
      <circle v-for="x in [2, 7, 12, 17]" :key="x" :cx="x" cy="5" r="1.3" />
    </g>
    <path v-else d="M1 5q5 -3.2 9 -2.8t9 2.8q-4 3 -9 2.8t-9 -2.8z" :fill="full" stroke="var(--ink)" stroke-width="1" />
  </svg>
</template>

<style scoped>
.mark { flex: none; vertical-align: 1px; }
</style>
