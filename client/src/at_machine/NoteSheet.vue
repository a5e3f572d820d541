<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue'
import NumberField from '../fields/NumberField.vue'
import { note } from './line'

/** A note, or a reading with what was read: kept with the step it was made at. */
const props = defineProps<{ step: string }>()
const emit = defineEmits<{ close: [] }>()
const text = ref('')
const value = ref<number | null>(null)
const field = ref<HTMLTextAreaElement | null>(null)
onMounted(() => nextTick(() => field.value?.focus()))
function keep() {
  if (!text.value.trim() && value.value === null) return
  note(value.value === null ? 'note' : 'reading', props.step, { note: text.value.trim(), value_mm: value.value })
  emit('close')
}
</script>

<template>
  <form class="note" @submit.prevent="keep" @keydown.esc="emit('close')">
    <label>What you saw, or what you read<textarea ref="field" v-model="text" rows="2" maxlength="2000" /></label>
    <NumberField v-model="value" label="Reading, if it is one" :places="2" negative class="value" />
    <button class="keep" type="submit">Keep it</button>
  </form>
</template>

<style scoped>
.note { display: flex; flex-wrap: wrap; gap: 12px; align-items: flex-end; background: var(--bark); padding: 12px 16px;
  border: 1.5px solid var(--edge); }
label { flex: 3 1 300px; display: flex; flex-direction: column; color: var(--ink2); font-size: 17px; }
textarea {
  border: 1.5px solid var(--edge); background: var(--paper); color: var(--ink); font: inherit; padding: 6px 10px;
}
.value { flex: 1 1 160px; }
.keep { min-height: 60px; padding: 6px 26px; background: var(--moss); color: var(--on-moss); font-weight: 650; }
</style>
