<script setup lang="ts">
import { computed } from 'vue'
import type { MeasuringState } from '../api/types'
import { typing } from '../fields/typing'
import { length, typed, unit } from '../units/format'

/** One reading, typed by hand or by a caliper that types: Enter keeps it and goes to the next. */
const props = defineProps<{ ask: MeasuringState['asks'][number]; label: string; apart: boolean }>()
const emit = defineEmits<{ read: [value: number | null]; here: [] }>()
const LENGTH = computed(() => props.ask.gauge === 'length')
const shown = computed(() => {
  if (props.ask.value === null) return ''
  return LENGTH.value ? length(props.ask.value, 3) : String(props.ask.value)
})
const hint = computed(() => {
  if (props.ask.expected === null || props.ask.gauge === 'speed') return ''
  return LENGTH.value ? length(props.ask.expected, 1) : `about ${Math.round(props.ask.expected)}`
})
const SUFFIX = { length: '', seconds: 's', speed: 'rpm', number: '' } as const
const suffix = computed(() => (LENGTH.value ? (unit.value === 'mm' ? 'mm' : '') : SUFFIX[props.ask.gauge]))
const { text, wrong, begun, back, ended, refused } = typing(() => shown.value)
function keep() {
  const said = ended()
  if (said === null) return
  if (!said) return emit('read', null)
  const got = typed(said, LENGTH.value ? 'length' : 'number', true)
  if ('wrong' in got) refused(got.wrong)
  else emit('read', got.value)
}
function next(event: KeyboardEvent) {
  keep()
  const all = [...document.querySelectorAll<HTMLInputElement>('.readings input')]
  all[all.indexOf(event.target as HTMLInputElement) + 1]?.focus()
}
</script>

<template>
  <span class="one">
    <span class="box" :class="{ apart, wrong: wrong !== '' }">
      <input
        v-model="text" :aria-label="label" :placeholder="hint" autocomplete="off" spellcheck="false" inputmode="decimal"
        @input="begun" @keydown.esc="back"
        :aria-invalid="wrong !== '' || apart" @focus="emit('here')" @blur="keep" @keydown.enter="next"
      ><span class="least">{{ suffix }}</span></span>
    <span v-if="wrong" class="ember" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.one { display: flex; flex-direction: column; }
.box {
  display: flex; align-items: center; border: 1px solid var(--edge); border-radius: 2px; background: var(--bark);
  padding: 0 6px 0 0;
}
.box:focus-within { border-color: var(--moss); box-shadow: 0 0 0 2px var(--ink); }
.box.apart { background: var(--amber-tint); }
.box.wrong { border-color: var(--ember); }
input {
  border: 0; background: none; min-height: 30px; width: 100%; padding: 2px 8px; text-align: right; font-weight: 600;
  color: var(--ink);
}
input:focus-visible { outline: none !important; }
input::placeholder { color: var(--ink3); font-weight: 400; opacity: 1; }
.ember { color: var(--ember); font-size: 14px; }
</style>
