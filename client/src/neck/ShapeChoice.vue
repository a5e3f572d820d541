<script setup lang="ts">
import { SHAPES, shape_points } from './fields'

/** Half a dozen shapes to start a back from, each drawn. */
defineProps<{ chosen: string }>()
const emit = defineEmits<{ choose: [shape: string] }>()
</script>

<template>
  <div class="shapes" role="radiogroup" aria-label="Shape of the back">
    <button v-for="s in SHAPES" :key="s.value" role="radio" :aria-checked="chosen === s.value"
      :class="{ here: chosen === s.value }" @click="emit('choose', s.value)">
      <svg width="78" height="36" viewBox="-24 -3 48 24" aria-hidden="true">
        <polygon :points="shape_points(s.rim, s.apex, 22, 17)" fill="#e3bf8d" stroke="#1d1a17"
          :stroke-width="chosen === s.value ? 1.6 : .7" />
        <rect x="-22" y="-2.4" width="44" height="2.4" fill="#8f5840" /></svg>
      <span>{{ s.title }}</span></button>
  </div>
</template>

<style scoped>
.shapes { display: grid; grid-template-columns: repeat(auto-fill, minmax(86px, 1fr)); gap: 6px; }
button { display: flex; flex-direction: column; align-items: center; text-align: center; min-height: 60px; gap: 2px; }
.here { font-weight: 700; box-shadow: 0 3px 0 -1px var(--ink); }
</style>
