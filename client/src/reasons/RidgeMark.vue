<script setup lang="ts">
import { computed } from 'vue'
import type { Operation, Ridges } from '../api/types'
import NumberLine from '../fields/NumberLine.vue'
import OriginTap from '../fields/OriginTap.vue'
import { edit, set } from '../route/store'
import { fine, length, minutes, unit } from '../units/format'

/** How a finish runs over a surface, the ridges it leaves as measured in the wood, and what a wider or finer step would cost. */
const props = defineProps<{ operation: Operation; ridges: Ridges | null | undefined }>()
const path = computed(() => `operations.${props.operation.id}`)
const W = 256
const patterns = [['parallel', 'Parallel'], ['contour', 'Level lines'], ['both', 'By slope']]
/** Flat places and valleys are finished by an operation of their own, after one of the first three. */
const shown = computed(() => (['flat', 'pencil'].includes(props.operation.pattern) ? [[props.operation.pattern, props.operation.pattern === 'flat' ? 'Only flat places' : 'Only valleys']] : patterns))
const more = (pattern: string) => edit([{ do: 'add_finish', operation: props.operation.id, pattern }], pattern === 'flat' ? 'Finish the flat places with a flat bit' : 'Pencil passes along the valleys')
const micro = (mm: number) => (unit.value === 'mm' ? `${Math.round(mm * 1000)} µm` : fine(mm))
const bar = computed(() => Math.max(...(props.ridges?.shares ?? [1]), 0.01))
const top = computed(() => props.ridges!.edges_mm.at(-1)!)
const H = 92
const steps = computed(() => props.ridges!.costs.map((c) => c[0]))
const tall = computed(() => Math.min(3 * (props.ridges!.cheapest[1] + props.ridges!.cheapest[2]), Math.max(...props.ridges!.costs.map((c) => c[1] + c[2]))))
const x = (s: number) => (Math.log(s / steps.value[0]) / Math.log(steps.value.at(-1)! / steps.value[0])) * W
const y = (m: number) => H - Math.min(1.05, m / tall.value) * (H - 8)
const line = (of: (c: [number, number, number]) => number) => `M${props.ridges!.costs.map((c) => `${x(c[0]).toFixed(1)} ${y(of(c)).toFixed(1)}`).join('L')}`
const saved = computed(() => { const r = props.ridges!; return r.now[1] + r.now[2] - r.best[1] - r.best[2] })
const ridge_at = (s: number) => props.ridges!.p95_mm * (s / props.ridges!.now[0]) ** 2
</script>

<template>
  <div class="ridge">
    <div class="choice" role="radiogroup" aria-label="How the passes run">
      <button v-for="p in shown" :key="p[0]" role="radio" :aria-checked="operation.pattern === p[0]" :class="{ on: operation.pattern === p[0] }" @click="set(`${path}.pattern`, p[0])">{{ p[1] }}</button>
    </div>
    <NumberLine v-if="operation.pattern === 'both'" :path="`${path}.steep_deg`" :value="operation.steep_deg" label="Level lines from" suffix="°" />
    <v-checkbox v-if="['parallel', 'both'].includes(operation.pattern)" :model-value="operation.even_ridge" label="Even ridges on slopes" @update:model-value="(v) => set(`${path}.even_ridge`, !!v)" />
    <p v-if="shown.length > 1" class="acts"><button class="plain" @click="more('pencil')">Valleys once more, narrower ball</button><button class="plain" @click="more('flat')">Flat places, flat bit</button></p>
    <template v-if="ridges">
      <div class="head"><OriginTap of="ridge"><b>Ridges left</b></OriginTap><span>half under <b>{{ micro(ridges.median_mm) }}</b>, nearly all under <b>{{ micro(ridges.p95_mm) }}</b></span></div>
      <svg :viewBox="`0 0 ${W} 50`" role="img" :aria-label="`Heights of the ridges in the simulated wood: half of the surface under ${micro(ridges.median_mm)}, 95 percent under ${micro(ridges.p95_mm)}, the highest ${micro(ridges.most_mm)}; ${micro(ridges.allowed_mm)} are allowed`">
        <rect v-for="(s, k) in ridges.shares" :key="k" :x="(k / ridges.shares.length) * W + 1" :y="36 - (s / bar) * 34" :width="W / ridges.shares.length - 2" :height="(s / bar) * 34" fill="var(--inner)" />
        <path :d="`M0 36.5H${W}`" stroke="currentColor" /><path :d="`M${(ridges.allowed_mm / top) * W} 0V40`" stroke="currentColor" stroke-width="1.6" stroke-dasharray="4 3" />
        <text x="0" y="49">0</text><text :x="Math.min(W, (ridges.allowed_mm / top) * W + 40)" y="49" text-anchor="end">{{ micro(ridges.allowed_mm) }} allowed</text>
      </svg>
      <div class="head"><b>Minutes by stepover</b><span class="second">together, machine, sandpaper</span></div>
      <svg :viewBox="`0 0 ${W} ${H + 16}`" role="img" :aria-label="`Now ${minutes(ridges.now[1])} minutes at the machine and ${minutes(ridges.now[2])} with sandpaper; least together at a stepover of ${length(ridges.cheapest[0])}`">
        <path :d="line((c) => c[1])" fill="none" stroke="currentColor" stroke-width="1.2" /><path :d="line((c) => c[2])" fill="none" stroke="currentColor" stroke-width="1.2" stroke-dasharray="2 3" />
        <path :d="line((c) => c[1] + c[2])" fill="none" stroke="currentColor" stroke-width="2.6" /><path :d="`M0 ${H + 0.5}H${W}`" stroke="currentColor" />
        <path :d="`M${x(ridges.now[0])} ${H}V${y(ridges.now[1] + ridges.now[2])}`" stroke="currentColor" stroke-width="1.2" /><circle :cx="x(ridges.now[0])" :cy="y(ridges.now[1] + ridges.now[2])" r="4.5" fill="var(--paper)" stroke="currentColor" stroke-width="1.8" />
        <circle :cx="x(ridges.cheapest[0])" :cy="y(ridges.cheapest[1] + ridges.cheapest[2])" r="4.5" fill="currentColor" />
        <text :x="Math.max(0, Math.min(W - 40, x(ridges.now[0]) - 14))" :y="H + 14">{{ length(ridges.now[0], 2) }}</text><text v-if="Math.abs(x(ridges.cheapest[0]) - x(ridges.now[0])) > 44" :x="Math.min(W - 34, x(ridges.cheapest[0]) - 14)" :y="H + 14">{{ length(ridges.cheapest[0], 2) }}</text>
      </svg>
      <p class="second">Now <b>{{ minutes(ridges.now[1]) }}</b> at the machine and <b>{{ minutes(ridges.now[2]) }}</b> with sandpaper. Least together at {{ length(ridges.cheapest[0], 2) }}, ridges {{ micro(ridge_at(ridges.cheapest[0])) }}{{ ridge_at(ridges.cheapest[0]) > ridges.allowed_mm ? ', more than this surface may keep' : '' }}.</p>
      <button v-if="saved > 0.1" class="cure" @click="set(`${path}.settings.stepover_mm`, Math.floor(ridges.best[0] * 100) / 100)">Step over {{ length(Math.floor(ridges.best[0] * 100) / 100, 2) }}: {{ minutes(saved) }} min less</button>
    </template>
  </div>
</template>

<style scoped>
.ridge { display: flex; flex-direction: column; gap: 6px; }
.head { display: flex; justify-content: space-between; gap: 8px; flex-wrap: wrap; }
svg { width: 100%; }
text { font-size: 12px; fill: currentColor; }
p { margin: 0; }
.acts { display: flex; flex-wrap: wrap; gap: 4px 12px; }
</style>
