<script setup lang="ts">
import { computed } from 'vue'
import { set } from '../route/store'
import { assumed_at } from './assumed'
import MineTap from './MineTap.vue'
import { length, rate, rate_unit, typed as read, unit } from '../units/format'
import { typing } from './typing'

/** One number of the route. Lengths take mm, inches and fractions; the server reads what is typed. */
const props = defineProps<{
  path: string; value: number | null | undefined; label: string; is_length?: boolean; suffix?: string
  is_rate?: boolean; places?: number; bare?: boolean
}>()
const shown = computed(() => {
  if (props.is_length && !props.is_rate) return length(props.value, props.places ?? 2)
  if (props.value === null || props.value === undefined) return ''
  return props.is_rate && unit.value !== 'mm' ? rate(props.value) : String(Math.round(props.value * 1000) / 1000)
})
const unit_shown = computed(() => {
  if (props.is_rate) return rate_unit.value
  return props.is_length ? (unit.value === 'mm' ? 'mm' : '') : props.suffix
})
const guessed = assumed_at(() => props.path)
const { text, wrong, begun, back, ended, refused } = typing(() => shown.value)
async function keep() {
  const typed = ended()
  if (typed === null) return
  if (typed === '' || typed === '–') {  // nothing: back to not known; the server refuses where a number must stand
    if (!(await set(props.path, null))) text.value = shown.value
    return
  }
  const found = read(typed, props.is_length ? 'length' : props.is_rate ? 'rate' : 'number', true)
  if ('wrong' in found) refused(found.wrong)
  else if (!(await set(props.path, props.is_length ? typed : found.value))) text.value = shown.value
}
</script>

<template>
  <v-text-field
    v-model="text" :label="bare ? undefined : label" :aria-label="bare ? label : undefined"
    :variant="bare ? 'underlined' : undefined" :suffix="unit_shown" :error-messages="wrong"
    spellcheck="false" autocomplete="off"
    :class="{ assumed: guessed }" :aria-description="guessed ? `Assumed: ${guessed.words}` : undefined"
    @update:model-value="begun" @keydown.enter.stop="keep" @keydown.esc.stop="back" @blur="keep"
  >
    <template v-if="guessed" #append-inner><MineTap :of="guessed" /></template>
  </v-text-field>
</template>

<style scoped>
.assumed :deep(input) { font-style: italic; font-weight: 400; }
.assumed :deep(.v-field__outline__start), .assumed :deep(.v-field__outline__end),
.assumed :deep(.v-field__outline__notch::after) { border-style: dotted; }
</style>
