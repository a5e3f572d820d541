<script setup lang="ts">
import { computed } from 'vue'
import { length, rate, rate_unit, typed as read, unit } from '../units/format'
import { typing } from './typing'

/** One number for several things: empty while they differ. A length goes out as it was typed; the server reads it. */
const props = defineProps<{
  label: string; value: number | null; is_rate?: boolean; is_length?: boolean; suffix?: string
}>()
const emit = defineEmits<{ put: [value: string | number] }>()
const shown = computed(() => (props.value === null ? '' : props.is_rate ? rate(props.value)
  : props.is_length ? length(props.value, 2) : String(props.value)))
const { text, wrong, begun, back, ended, refused } = typing(() => shown.value)
function keep() {
  const typed = ended()
  if (!typed) return
  const found = read(typed, props.is_length ? 'length' : props.is_rate ? 'rate' : 'number', true)
  if ('wrong' in found) refused(found.wrong)
  else emit('put', props.is_length ? typed : found.value)
}
</script>

<template>
  <v-text-field v-model="text" :label="label" :error-messages="wrong" autocomplete="off" spellcheck="false"
    :placeholder="value === null ? 'differ' : undefined"
    :suffix="is_rate ? rate_unit : is_length ? (unit === 'mm' ? 'mm' : '') : suffix"
    @update:model-value="begun" @keydown.enter.stop="keep" @keydown.esc.stop="back" @blur="keep" />
</template>
