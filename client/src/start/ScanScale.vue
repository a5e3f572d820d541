<script setup lang="ts">
import { computed, ref } from 'vue'
import NumberField from '../fields/NumberField.vue'

/** Two points on a scan and the distance between them. A click puts a point; arrows nudge the one that has the focus. */
const props = defineProps<{ id: number; width: number; height: number }>()
const emit = defineEmits<{ read: [scan: string] }>()
const points = ref<[number, number][]>([[0.2, 0.5], [0.8, 0.5]])
const next = ref(0)
const distance = ref<number | null>(null)
const ratio = computed(() => props.height / props.width)
const high = computed(() => 620 * ratio.value)
function put(event: MouseEvent) {
  const box = (event.currentTarget as Element).getBoundingClientRect()
  points.value[next.value] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]
  next.value = 1 - next.value
}
function nudge(k: number, event: KeyboardEvent) {
  const by = event.shiftKey ? 0.02 : 0.001
  const way: Record<string, [number, number]> = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by / ratio.value], ArrowDown: [0, by / ratio.value] }
  if (!way[event.key]) return
  event.preventDefault()
  const clamp = (v: number) => Math.max(0, Math.min(1, v))
  points.value[k] = [clamp(points.value[k][0] + way[event.key][0]), clamp(points.value[k][1] + way[event.key][1])]
}
const send = () => { if (distance.value) emit('read', [...points.value[0], ...points.value[1], distance.value].map((v) => v.toFixed(6)).join(',')) }
</script>

<template>
  <div class="scan">
    <p class="word">Click two points whose distance you know, as far apart as you can: two hole middles, or the ends of a rule laid beside it.</p>
    <svg :viewBox="`0 0 620 ${high}`" role="group" aria-label="The scan with its two points" @click="put">
      <image :href="`/api/drawings/${id}/picture`" width="620" :height="high" preserveAspectRatio="none" />
      <line :x1="points[0][0] * 620" :y1="points[0][1] * high" :x2="points[1][0] * 620" :y2="points[1][1] * high" stroke="#a5301a" stroke-width="1.4" stroke-dasharray="6 3" />
      <g v-for="(p, k) in points" :key="k" tabindex="0" role="button" :aria-label="`Point ${k + 1}. Arrows move it.`" @keydown="nudge(k, $event)">
        <circle :cx="p[0] * 620" :cy="p[1] * high" r="12" fill="transparent" /><circle :cx="p[0] * 620" :cy="p[1] * high" r="5" fill="none" stroke="#a5301a" stroke-width="2" /><path :d="`M${p[0] * 620 - 11} ${p[1] * high}h22M${p[0] * 620} ${p[1] * high - 11}v22`" stroke="#a5301a" stroke-width="1" />
      </g>
    </svg>
    <div class="ask"><NumberField v-model="distance" label="They lie apart" :places="2" />
      <button class="go" :disabled="!distance" @click="send">Trace it</button></div>
  </div>
</template>

<style scoped>
svg { width: 100%; max-height: 420px; cursor: crosshair; background: var(--well); }
.ask { display: flex; gap: 14px; align-items: center; max-width: 420px; margin-top: 10px; }
.word { font-size: 17px; margin: 0 0 8px; }
</style>
