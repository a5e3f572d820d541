<script setup lang="ts">
import { ref } from 'vue'
import type { OriginOf } from '../api/types'
import { origin_of } from './origins'

/** A number's name that tells, when pressed, where the number comes from and how far it can be trusted. */
const props = defineProps<{ of: string; own?: string }>()
const found = ref<OriginOf | null>(null)
const shown = ref(false)
async function load(open: boolean) { if (open) found.value = await origin_of(props.of) }
const say = (v: unknown): string => (Array.isArray(v) ? v.map(say).join(' to ') : typeof v === 'object' && v !== null ? Object.entries(v).map(([k, x]) => `${k.replace(/_/g, '-')} ${say(x)}`).join(', ') : String(v))
const name = (key: string) => key.replace(/_n_mm2$/, ' N/mm²').replace(/_n_mm$/, ' N/mm').replace(/_m_s$/, ' m/s').replace(/_mm$/, ' mm').replace(/_deg$/, ' °').replace(/_kg_m3$/, ' kg/m³').replace(/_gpa$/, ' GPa').replace(/_w$/, ' W').replace(/_m$/, ' m').replace(/_/g, ' ')
</script>

<template>
  <v-menu v-model="shown" :close-on-content-click="false" max-width="420" location="bottom start" @update:model-value="load">
    <template #activator="{ props: tap }"><button v-bind="tap" type="button" class="tap" :title="`Where this comes from`"><slot /></button></template>
    <div class="told" role="dialog" :aria-label="found ? `Where ${found.name.toLowerCase()} comes from` : 'Where it comes from'">
      <template v-if="found">
        <p><b>{{ found.name }}</b>{{ found.unit ? `, ${found.unit}` : '' }}. Computed: {{ found.formula }}.</p>
        <p v-if="own" class="own">{{ own }}</p>
        <p class="second">{{ found.confidence }}</p>
        <details v-if="found.figures.length"><summary>Figures in it</summary>
          <div v-for="(f, k) in found.figures" :key="k" class="least"><p>{{ f.what }}.</p><p class="values"><span v-for="(v, n) in f.values" :key="n">{{ name(String(n)) }}: <b>{{ say(v) }}</b></span></p></div>
          <p class="least">{{ found.source }}</p>
        </details>
      </template>
      <p v-else class="second">Looking it up.</p>
    </div>
  </v-menu>
</template>

<style scoped>
.tap { font: inherit; color: inherit; padding: 0; text-align: left; text-decoration: underline dotted; text-decoration-color: var(--ink3); text-underline-offset: 3px; cursor: help; line-height: inherit; }
.told { background: var(--bark); color: var(--ink); border: 1.5px solid var(--edge); padding: 12px 14px; display: flex; flex-direction: column; gap: 8px; font-size: 14.5px; line-height: 1.35; }
p { margin: 0; }
.own { font-weight: 600; }
summary { cursor: pointer; min-height: 24px; }
.values { display: flex; flex-wrap: wrap; gap: 2px 12px; margin-bottom: 6px; }
</style>
