<script setup lang="ts">
import type { ZeroStep } from '../api/types'
import { length } from '../units/format'

/** What to do for a zero, in order: where the machine is sent, what its read-out is set to. */
defineProps<{ steps: ZeroStep[] }>()
const axes = (values: Record<string, number>) => Object.entries(values).map(([axis, mm]) => `${axis} ${mm < 0 ? '−' : ''}${length(Math.abs(mm), 2)}`).join(', ')
const some = (values: Record<string, number>) => Object.keys(values).length > 0
</script>

<template>
  <ol><li v-for="z in steps" :key="z.do">{{ z.do }}<template v-if="some(z.goes)">: go to <b>{{ axes(z.goes) }}</b></template><template v-if="some(z.sets)">{{ some(z.goes) ? ', ' : ': ' }}set <b>{{ axes(z.sets) }}</b>{{ some(z.goes) ? ' there' : '' }}</template></li></ol>
</template>

<style scoped>
ol { margin: 0; padding-left: 22px; max-width: 760px; }
li { padding: 2px 0; }
</style>
