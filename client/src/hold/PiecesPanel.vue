<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Setup } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { open, set } from '../route/store'
import { length } from '../units/format'

/** Several pieces alike in one setup, side by side in one blank or on the stations of a jig. */
const props = defineProps<{ setup: Setup }>()
const MOST = 12
const blank = computed(() => open.state!.document.blank)
const more = computed(() => props.setup.more_at ?? [])
const count = ref<number | null>(1)
const apart = ref<number | null>(0)
const across = ref(true)
watch(more, (now) => {
  count.value = now.length + 1
  if (!now.length) { apart.value = blank.value.width_mm + 20; return }
  across.value = Math.abs(now[0][1]) >= Math.abs(now[0][0])
  apart.value = across.value ? now[0][1] : now[0][0]
}, { immediate: true })
const wrong = computed(() => {
  const n = count.value ?? 0
  return n < 1 || n > MOST || !Number.isInteger(n) ? `From 1 to ${MOST} pieces.`
    : n > 1 && !apart.value ? 'Say how far they lie apart.' : ''
})
async function lay() {
  if (wrong.value) return
  const step = apart.value ?? 0
  const places = Array.from({ length: (count.value ?? 1) - 1 }, (_, k) => {
    const way = Math.round((k + 1) * step * 1000) / 1000
    return across.value ? [0, way] : [way, 0]
  })
  await set(`setups.${props.setup.id}.more_at`, places)
}
const box = computed(() => {
  const far = (k: 0 | 1) => {
    const all = [0, ...more.value.map((m) => m[k])]
    return Math.max(...all) - Math.min(...all)
  }
  return { long: blank.value.length_mm + far(0), wide: blank.value.width_mm + far(1) }
})
</script>

<template>
  <section class="pieces">
    <h2>Pieces at once</h2>
    <p class="second">The same piece several times, in one blank or each at its station of a jig. Zero is found once; a
      program is written for each, and the bit touched off before each.</p>
    <div class="two"><NumberField v-model="count" label="How many" kind="number" />
      <NumberField v-model="apart" label="Apart" :places="1" /></div>
    <div class="choice" role="radiogroup" aria-label="They lie">
      <label><input v-model="across" type="radio" :value="true" /> side by side, across</label>
      <label><input v-model="across" type="radio" :value="false" /> one behind the other, along</label></div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <button class="cure" :disabled="!!wrong" @click="lay">Lay them so</button>
    <p v-if="more.length">{{ more.length + 1 }} pieces take {{ length(box.long, 1) }} by {{ length(box.wide, 1) }} of
      the bed. What holds the first holds each of them, at the same places.</p>
  </section>
</template>

<style scoped>
.pieces { display: flex; flex-direction: column; gap: 10px; }
.pieces p { margin: 0; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 10px; }
.choice { display: flex; flex-direction: column; gap: 4px; }
.choice label { display: flex; gap: 8px; align-items: baseline; }
input[type='radio'] { accent-color: var(--moss); }
.cure { align-self: flex-start; }
.ember { color: var(--ember); }
</style>
