<script setup lang="ts">
import { computed } from 'vue'
import type { ZeroStep } from '../api/types'
import { open } from '../route/store'
import { length, unit } from '../units/format'
import { say_in } from '../units/say'

/** What to do for a zero, in order: where the machine is sent, what its read-out is set to. */
defineProps<{ steps: ZeroStep[] }>()
const each = (values: Record<string, number>, said: (mm: number) => string) =>
  Object.entries(values).map(([axis, mm]) => `${axis} ${said(mm)}`).join(', ')
const axes = (values: Record<string, number>) => each(values, (mm) => length(mm, 2))
/** The unit of the machine's own numbers, where it is another than the reader's: what is typed there is said in
 *  both. */
const other = computed(() => {
  const machines = open.state?.document.machine.dialect.inch ? 'inch' : 'mm'
  return machines === unit.value ? null : machines
})
const at_machine = (values: Record<string, number>) =>
  each(values, (mm) => say_in(`⟦${mm}|named mm|.3f⟧`, other.value!))
const some = (values: Record<string, number>) => Object.keys(values).length > 0
</script>

<template>
  <ol><li v-for="z in steps" :key="z.do">{{ z.do }}<template v-if="some(z.goes)">: go to <b>{{ axes(z.goes) }}</b>
    <span v-if="other" class="at-machine second"> (at the machine {{ at_machine(z.goes) }})</span></template>
    <template
    v-if="some(z.sets)">{{ some(z.goes) ? ', ' : ': ' }}set <b>{{ axes(z.sets) }}</b>{{ some(z.goes) ? ' there' : '' }}<span
    v-if="other" class="at-machine second"> (at the machine {{ at_machine(z.sets) }})</span></template></li></ol>
</template>

<style scoped>
ol { margin: 0; padding-left: 22px; max-width: 760px; }
li { padding: 2px 0; }
</style>
