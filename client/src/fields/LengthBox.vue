<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { length, read_length, unit } from '../units/format'

/** A length that is not yet part of a route: mm, inches or fractions, read here. */
const props = defineProps<{ modelValue: number | null; label: string; places?: number }>()
const emit = defineEmits<{ 'update:modelValue': [mm: number | null] }>()
const shown = computed(() => (props.modelValue === null ? '' : length(props.modelValue, props.places ?? 1)))
const text = ref(shown.value)
const wrong = ref('')
watch(shown, (now) => { text.value = now })
function keep() {
  wrong.value = ''
  if (text.value.trim() === shown.value) return
  if (!text.value.trim()) return emit('update:modelValue', null)
  const mm = read_length(text.value, unit.value)
  if (mm === null) wrong.value = 'Type it like 44.36, 1 3/4" or .375in'
  else emit('update:modelValue', mm)
}
</script>

<template>
  <v-text-field v-model="text" :label="label" :suffix="unit === 'mm' ? 'mm' : ''" :error-messages="wrong" placeholder="–" persistent-placeholder autocomplete="off" spellcheck="false" @blur="keep" @keydown.enter="keep" />
</template>
