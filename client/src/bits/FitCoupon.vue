<script setup lang="ts">
import { reactive } from 'vue'
import { api } from '../api/client'
import NumberField from '../fields/NumberField.vue'
import { making } from '../route/making'
import { open } from '../route/store'

/** A ladder of pockets on scrap that finds the gap of a fit. */
const fit = reactive({ across_mm: 42 as number | null, first_gap_mm: 0 as number | null, step_mm: 0.05 as number | null })
const { wrong, busy, make } = making()
</script>

<template>
  <section>
    <h2>Find a fit on scrap</h2>
    <p class="second">Four pockets for something so wide, each a little wider than the one before: the first it goes into is your gap.</p>
    <div class="three"><NumberField v-model="fit.across_mm" label="It is wide" :places="2" />
      <NumberField v-model="fit.first_gap_mm" label="First gap a side" :places="2" />
      <NumberField v-model="fit.step_mm" label="Steps of" :places="2" /></div>
    <button class="cure" :disabled="busy || fit.across_mm === null || fit.first_gap_mm === null || fit.step_mm === null" @click="make(() => api.make_fit(open.state!.route, { ...fit, count: 4 }))">Make the coupon a job</button>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 7px; align-items: flex-start; }
p { margin: 0; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; width: 100%; }
.ember { color: var(--ember); }
</style>
