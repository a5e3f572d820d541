<script setup lang="ts">
import { reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { PlankYield } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { length } from '../units/format'

/** What a plank on the rack gives: body halves and necks, or one kind of piece alone, drawn. */
const props = defineProps<{ length_mm: number; half_mm: number; alone?: string }>()
const plank = reactive({ length_mm: 2400, width_mm: 240, kerf_mm: 3, end_mm: 30 })
const neck = reactive({ length_mm: 720, width_mm: 80 })
const found = ref<PlankYield | null>(null)
const wrong = ref('')
watch([plank, neck, () => props.length_mm, () => props.half_mm], async () => {
  try {
    const half = { what: props.alone ?? 'body half', length_mm: props.length_mm, width_mm: props.half_mm, most: 40 }
    found.value = await api.plank_yield({
      ...plank, wanted: props.alone ? [half] : [half, { what: 'neck', ...neck, most: 40 }] })
    wrong.value = ''
  } catch (error) { wrong.value = (error as Error).message }
}, { deep: true, immediate: true })
</script>

<template>
  <section>
    <h2>What a plank gives</h2>
    <div class="fields"><NumberField v-model="plank.length_mm" label="Plank long" :places="0" />
      <NumberField v-model="plank.width_mm" label="Plank wide" :places="0" />
      <NumberField v-model="plank.kerf_mm" label="Saw kerf" />
      <NumberField v-model="plank.end_mm" label="Lost at each end" :places="0" />
      <template v-if="!alone"><NumberField v-model="neck.length_mm" label="Neck long" :places="0" />
        <NumberField v-model="neck.width_mm" label="Neck wide" :places="0" /></template></div>
    <svg v-if="found" :viewBox="`-2 -2 ${plank.length_mm + 4} ${plank.width_mm + 4}`" role="img" :aria-label="Object.entries(found.counts).map(([k, n]) => `${n} ${k}`).join(', ')">
      <rect :width="plank.length_mm" :height="plank.width_mm" fill="#ecd9bd" stroke="#1d1a17" stroke-width="3" />
      <g v-for="(c, k) in found.cuts" :key="k"><rect :x="c.x_mm" :y="c.y_mm" :width="c.length_mm" :height="c.width_mm" :fill="c.what === 'neck' ? '#c08a5e' : '#d6a679'" stroke="#1d1a17" stroke-width="3" /><text :x="c.x_mm + c.length_mm / 2" :y="c.y_mm + c.width_mm / 2 + 14" text-anchor="middle" font-size="42" fill="#1d1a17">{{ c.what }}</text></g>
    </svg>
    <p v-if="alone && found && found.cuts.length"><b>{{ found.cuts.length }}</b> of them.
      {{ Math.round(found.used * 100) }} in 100 of the plank is used.</p>
    <p v-else-if="found && found.cuts.length">
      <b>{{ Math.floor((found.counts['body half'] ?? 0) / 2) }}</b> bodies in two pieces{{ (found.counts['body half'] ?? 0) % 2 ? ' and a half over' : '' }}, <b>{{ found.counts.neck ?? 0 }}</b>
      necks. {{ Math.round(found.used * 100) }} in 100 of the plank is used; keep offcuts for fit coupons, plugs and
      stain.</p>
    <p v-else-if="found">Nothing fits on this plank. A {{ alone ?? 'body half' }} is {{ length(half_mm, 1) }} wide
      here.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
.fields { display: grid; grid-template-columns: repeat(auto-fit, minmax(120px, 1fr)); gap: 8px; margin: 8px 0; }
svg { width: 100%; max-height: 130px; }
p { margin: 4px 0; }
.ember { color: var(--ember); }
</style>
