<script setup lang="ts">
import { computed } from 'vue'
import type { MeasuringState } from '../api/types'
import { length } from '../units/format'

/** What a small job cuts or reads, to scale, and the way that is read now in green. */
const props = defineProps<{ state: MeasuringState; here: string }>()
const WIDE = 430
const HIGH = 300
const EDGE = 16
const points = computed(() => {
  const out: number[][] = []
  for (const { kind, at } of props.state.drawn) {
    if (kind === 'board' || kind === 'square') out.push([at[0], at[1]], [at[0] + at[2], at[1] + at[3]])
    else if (kind === 'hole') out.push([at[0], at[1]])
    else if (kind === 'circle') out.push([at[0] - at[2] / 2, at[1] - at[2] / 2], [at[0] + at[2] / 2, at[1] + at[2] / 2])
    else if (kind === 'slot') out.push([at[0], at[1]], [at[2], at[3]])
    else if (kind === 'way') for (let k = 0; k < at.length; k += 2) out.push([at[k], at[k + 1]])
  }
  return out
})
const span = computed(() => {
  const xs = points.value.map((p) => p[0])
  const ys = points.value.map((p) => p[1])
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)]
  const k = Math.min((WIDE - 2 * EDGE) / Math.max(x1 - x0, 1), (HIGH - 2 * EDGE) / Math.max(y1 - y0, 1))
  return { x0, y0, k, high: (y1 - y0) * k }
})
const px = (x: number) => EDGE + (x - span.value.x0) * span.value.k
const py = (y: number) => EDGE + span.value.high - (y - span.value.y0) * span.value.k
const drawn = computed(() => points.value.length > 1)
const ways = (at: number[]) => {
  const out = []
  for (let k = 0; k < at.length; k += 2) out.push(`${k ? 'L' : 'M'}${px(at[k])} ${py(at[k + 1])}`)
  return out.join('')
}
const line = computed(() => props.state.asks.find((a) => a.name === props.here && a.line) ?? null)
const numbers = computed(() => {
  if (!['square', 'flatness'].includes(props.state.kind)) return []
  return props.state.drawn.filter((d) => d.kind === 'hole').map((d, n) => ({ n: n + 1, at: d.at }))
})
const board = computed(() => props.state.drawn.find((d) => d.kind === 'board'))
const said = computed(() => (
  board.value ? `Scrap ${length(board.value.at[2], 0)} by ${length(board.value.at[3], 0)}` : props.state.about))
</script>

<template>
  <svg v-if="drawn" :width="WIDE" :height="span.high + 2 * EDGE" role="img" :aria-label="said" class="drawing">
    <template v-for="(d, n) in state.drawn" :key="n">
      <rect
        v-if="d.kind === 'board' || d.kind === 'square'" :x="px(d.at[0])" :y="py(d.at[1] + d.at[3])"
        :width="d.at[2] * span.k" :height="d.at[3] * span.k" :fill="d.kind === 'board' ? 'var(--pale)' : 'none'"
        stroke="var(--edge)"
      />
      <circle
        v-else-if="d.kind === 'hole'" :cx="px(d.at[0])" :cy="py(d.at[1])" :r="Math.max(2.5, d.at[2] / 2 * span.k)"
        fill="var(--inner)" stroke="var(--ink)"
      />
      <circle
        v-else-if="d.kind === 'circle'" :cx="px(d.at[0])" :cy="py(d.at[1])" :r="d.at[2] / 2 * span.k" fill="var(--pale)"
        stroke="var(--edge)"
      />
      <path
        v-else-if="d.kind === 'slot'" :d="ways(d.at.slice(0, 4))" stroke="var(--inner)" stroke-linecap="round"
        :stroke-width="Math.max(3, d.at[4] * span.k)"
      />
      <path v-else-if="d.kind === 'way'" :d="ways(d.at)" fill="none" stroke="var(--ink2)" stroke-dasharray="4 4" />
    </template>
    <text
      v-for="c in numbers" :key="c.n" :x="px(c.at[0]) + 9" :y="py(c.at[1]) - 8" font-size="13" font-weight="700"
      fill="var(--ink)"
    >{{ c.n }}</text>
    <g v-if="line" stroke="var(--moss)" stroke-width="2.5" fill="none">
      <path :d="ways(line.line!.flat())" />
      <circle v-for="(p, n) in line.line" :key="n" :cx="px(p[0])" :cy="py(p[1])" r="6" />
    </g>
  </svg>
</template>

<style scoped>
.drawing { max-width: 100%; }
</style>
