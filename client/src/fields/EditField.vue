<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { set } from '../route/store'
import { assumed_at } from './assumed'
import MineTap from './MineTap.vue'
import { length, rate, rate_unit, typed as read, unit } from '../units/format'

/** One number of the route. Lengths take mm, inches and fractions; the server reads what is typed. */
const props = defineProps<{ path: string; value: number | null | undefined; label: string; is_length?: boolean; suffix?: string; is_rate?: boolean; places?: number; bare?: boolean }>()
const shown = computed(() => (props.is_rate && props.value !== null && props.value !== undefined ? (unit.value === 'mm' ? String(Math.round(props.value * 1000) / 1000) : rate(props.value)) : props.is_length ? length(props.value, props.places ?? 2) : props.value === null || props.value === undefined ? '' : String(Math.round(props.value * 1000) / 1000)))
const guessed = assumed_at(() => props.path)
const text = ref(shown.value)
const wrong = ref('')
let clean = true
watch(shown, (now) => { if (clean) text.value = now })
async function keep() {
  if (clean) return
  clean = true
  const typed = text.value.trim()
  wrong.value = ''
  if (typed === shown.value) return
  if (typed === '' || typed === '–') {  // nothing: back to not known; the server refuses where a number must stand
    if (!(await set(props.path, null))) text.value = shown.value
    return
  }
  const found = read(typed, props.is_length ? 'length' : props.is_rate ? 'rate' : 'number', true)
  if ('wrong' in found) wrong.value = found.wrong
  else if (!(await set(props.path, props.is_length ? typed : found.value))) text.value = shown.value
}
</script>

<template>
  <v-text-field
    v-model="text" :label="bare ? undefined : label" :aria-label="bare ? label : undefined" :variant="bare ? 'underlined' : undefined" :suffix="is_rate ? rate_unit : is_length ? (unit === 'mm' ? 'mm' : '') : suffix" :error-messages="wrong" spellcheck="false" autocomplete="off"
    :class="{ assumed: guessed }" :aria-description="guessed ? `Assumed: ${guessed.words}` : undefined"
    @update:model-value="clean = false" @keydown.enter.stop="keep" @keydown.esc.stop="text = shown; clean = true" @blur="keep"
  >
    <template v-if="guessed" #append-inner><MineTap :of="guessed" /></template>
  </v-text-field>
</template>

<style scoped>
.assumed :deep(input) { font-style: italic; font-weight: 400; }
.assumed :deep(.v-field__outline__start), .assumed :deep(.v-field__outline__end),
.assumed :deep(.v-field__outline__notch::after) { border-style: dotted; }
</style>
