<script setup lang="ts">
import { computed } from 'vue'
import type { Operation, Point, Tear } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import { open } from '../route/store'
import { length } from '../units/format'

/** Where splinters may come off along the walls this operation makes last: the wall, the run of the fibres, the stretches at risk. */
const props = defineProps<{ operation: Operation; tear: Tear }>()
const WIDE = 258
const HIGH = 96
const solids = computed(() => open.state?.drawing.solids ?? [])
/** An edge belongs to a rim and not to a feature: it is drawn on the outline. */
const rings = computed(() => { const own = solids.value.filter((s) => props.operation.features.includes(s.id)); return (own.length ? own : solids.value.filter((s) => s.kind === 'outline')).flatMap((s) => s.rings) })
const fit = computed(() => {
  const all = rings.value.flat()
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])]
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const scale = Math.min((WIDE - 12) / Math.max(1, x1 - x0), (HIGH - 12) / Math.max(1, y1 - y0))
  return { scale, x: (x: number) => WIDE / 2 + (x - (x0 + x1) / 2) * scale, y: (y: number) => HIGH / 2 - (y - (y0 + y1) / 2) * scale }
})
const path = (points: Point[], closed = false) => `M${points.map(([x, y]) => `${fit.value.x(x).toFixed(1)} ${fit.value.y(y).toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`
const grain = Array.from({ length: 11 }, (_, k) => `M0 ${5 + k * 9}q${WIDE / 4} ${k % 2 ? 2 : -2} ${WIDE / 2} 0t${WIDE / 2} 0`).join('')
const words = computed(() => {
  const t = props.tear
  const way = t.what === 'passes' ? 'where they run up a slope along the fibres' : props.operation.direction === 'climb' ? 'climbing' : 'conventional'
  const of = `${length(t.wall_mm, 0)} of ${t.what}`
  if (t.likely_mm >= 1) return `Likely on ${length(t.likely_mm, 0)} of ${of}, ${way}.`
  if (t.some_mm >= 1) return `Some risk on ${length(t.some_mm, 0)} of ${of}, ${way}.`
  return t.what === 'passes' ? `Unlikely on all ${of}.` : `Unlikely on all ${of}, ${way}.`
})
const rim = computed(() => (props.tear.rim >= 0.7 ? 'The bit lifts the fibres at the upper rim: it frays there.' : props.tear.rim >= 0.3 ? 'The bit cuts upward: a little fuzz at the upper rim.' : ''))
</script>

<template>
  <div>
    <div class="head"><OriginTap of="tear"><b>Splinters</b></OriginTap></div>
    <svg v-if="tear.some_mm >= 1" :viewBox="`0 0 ${WIDE} ${HIGH}`" :width="WIDE" :height="HIGH" role="img" :aria-label="words">
      <path :d="grain" class="grain" />
      <path v-for="(ring, k) in rings" :key="k" :d="path(ring, true)" class="wall" />
      <path v-for="([band, points], k) in tear.lines" :key="`r${k}`" :d="path(points)" :class="band === 2 ? 'likely' : 'some'" />
    </svg>
    <p class="second">{{ words }} {{ rim }}</p>
  </div>
</template>

<style scoped>
.head { display: flex; }
p { margin: 0; }
svg { display: block; background: var(--pale); margin: 4px 0; }
.grain { stroke: #c08a5e; stroke-width: 0.8; fill: none; opacity: 0.7; }
.wall { fill: none; stroke: #1d1a17; stroke-width: 1; }
.some { fill: none; stroke: #734700; stroke-width: 4; stroke-dasharray: 2 3; }
.likely { fill: none; stroke: #a5301a; stroke-width: 6; stroke-dasharray: 2 1.5; }
</style>
