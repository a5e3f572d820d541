<script setup lang="ts">
import { computed } from 'vue'
import { length, rate, rate_unit, typed, unit, type NumberKind } from '../units/format'
import { typing } from './typing'

/** A number that is not yet part of a route: a length in mm, inches or fractions, a rate, or a plain number. */
const props = withDefaults(defineProps<{
  modelValue: number | null; label: string; kind?: NumberKind; places?: number; suffix?: string; negative?: boolean
}>(), { kind: 'length', places: 1 })
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()
const shown = computed(() => {
  if (props.modelValue === null) return ''
  if (props.kind === 'length') return length(props.modelValue, props.places)
  return props.kind === 'number' ? String(props.modelValue) : rate(props.modelValue)
})
const unit_shown = computed(() => {
  if (props.kind === 'rate') return rate_unit.value
  if (props.kind === 'acceleration') return `${unit.value === 'mm' ? 'mm' : 'in'}/s²`
  return props.kind === 'length' && unit.value === 'mm' ? 'mm' : props.suffix
})
const { text, wrong, begun, back, ended, refused } = typing(() => shown.value)
function keep() {
  const said = ended()
  if (said === null) return
  if (!said) return emit('update:modelValue', null)
  const read = typed(said, props.kind, props.negative)
  if ('wrong' in read) refused(read.wrong)
  else emit('update:modelValue', read.value)
}
</script>

<template>
  <v-text-field
    v-model="text" :label="label" :suffix="unit_shown" :error-messages="wrong" placeholder="–" persistent-placeholder
    autocomplete="off" spellcheck="false"
    @update:model-value="begun" @blur="keep" @keydown.enter="keep" @keydown.esc="back"
  />
</template>
