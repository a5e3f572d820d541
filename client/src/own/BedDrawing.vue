<script setup lang="ts">
import { computed } from 'vue'
import type { Machine } from '../api/types'
import { length } from '../units/format'

/** A machine's bed from above, to scale: travel, zones, holes, places; what the figure under the finger means is green.
 *  scale: pixels a mm; without one it fills its width. */
const props = defineProps<{ machine: Machine; figure?: string; wide?: number; high?: number; scale?: number }>()
const EDGE = 14
const ROOM = 40
const x = computed(() => props.machine.travel_mm[0])
const y = computed(() => props.machine.travel_mm[1])
const k = computed(() => {
  if (props.scale) return props.scale
  const [wide, high] = [(props.wide ?? 470) - 2 * EDGE - ROOM, (props.high ?? 330) - 2 * EDGE - ROOM]
  return Math.min(wide / x.value, high / y.value)
})
const w = computed(() => x.value * k.value)
const h = computed(() => y.value * k.value)
const px = (mm: number) => ROOM + EDGE + mm * k.value
const py = (mm: number) => ROOM + EDGE + h.value - mm * k.value
const places = computed(() => [
  { name: 'bit_change_mm', at: props.machine.bit_change_mm, words: 'bits changed' },
  { name: 'probe_mm', at: props.machine.probe_mm, words: 'touch-off' },
].filter((p) => p.at))
const home = computed(() => [props.machine.home_right ? x.value : 0, props.machine.home_rear ? y.value : 0])
const home_lit = computed(() => (props.figure?.startsWith('home_') ? props.figure : ''))
const lit = (name: string) => (props.figure === name ? 'var(--moss)' : 'var(--ink)')
const said = computed(() => `Bed from above, ${length(x.value, 0)} by ${length(y.value, 0)}`)
</script>

<template>
  <svg
    :width="w + 2 * EDGE + ROOM + 4" :height="h + 2 * EDGE + ROOM + 4" role="img" :aria-label="said"
  >
    <rect :x="ROOM" :y="ROOM" :width="w + 2 * EDGE" :height="h + 2 * EDGE" fill="var(--bed)" stroke="var(--edge)" />
    <rect
      :x="px(0)" :y="py(y)" :width="w" :height="h" fill="var(--pale)"
      stroke="var(--ink)" stroke-width="1.4"
    />
    <rect
      v-for="(z, n) in machine.zones_mm ?? []" :key="`z${n}`" :x="px(z[0])" :y="py(z[1] + z[3])"
      :width="z[2] * k" :height="z[3] * k" fill="none" :stroke="lit('zones_mm')" stroke-dasharray="5 4"
    />
    <circle
      v-for="(p, n) in machine.index_holes_mm ?? []" :key="`i${n}`" :cx="px(p[0])" :cy="py(p[1])"
      :r="Math.max(3, ((machine.index_hole_mm ?? 8) / 2) * k)" fill="var(--bark)"
      :stroke="figure?.startsWith('index_hole') ? 'var(--moss)' : 'var(--ink)'" stroke-width="1.4"
    />
    <g v-for="p in places" :key="p.name" :stroke="lit(p.name)" stroke-width="2" fill="none">
      <path :d="`M${px(p.at![0]) - 7} ${py(p.at![1])}h14m-7 -7v14`" />
      <text
        :x="px(p.at![0]) - 10" :y="py(p.at![1]) + 20" text-anchor="end" stroke="none" :fill="lit(p.name)"
        font-size="12"
      >{{ p.words }}</text>
    </g>
    <rect v-if="machine.keep_in_mm" :x="px(machine.keep_in_mm)" :y="py(y - machine.keep_in_mm)"
      :width="w - 2 * machine.keep_in_mm * k" :height="h - 2 * machine.keep_in_mm * k" fill="none"
      :stroke="lit('keep_in_mm')" stroke-dasharray="2 3" />
    <circle :cx="px(home[0])" :cy="py(home[1])" r="5" :fill="lit(home_lit)" />
    <text :x="px(home[0]) + (home[0] ? -10 : 10)" :y="py(home[1]) + (home[1] ? 18 : -8)" font-size="12"
      :text-anchor="home[0] ? 'end' : 'start'" fill="var(--ink2)">home</text>
    <g :stroke="lit('travel_mm.0')" fill="none" stroke-width="1.2">
      <path :d="`M${px(0)} ${ROOM - 16}H${px(x)}M${px(0)} ${ROOM - 21}v10M${px(x)} ${ROOM - 21}v10`" />
    </g>
    <text
      :x="px(x / 2)" :y="ROOM - 20" text-anchor="middle" font-size="14" font-weight="650" :fill="lit('travel_mm.0')"
    >{{ length(x, 1) }}</text>
    <g :stroke="lit('travel_mm.1')" fill="none" stroke-width="1.2">
      <path :d="`M${ROOM - 16} ${py(0)}V${py(y)}M${ROOM - 21} ${py(0)}h10M${ROOM - 21} ${py(y)}h10`" />
    </g>
    <text
      :transform="`translate(${ROOM - 20} ${py(y / 2)}) rotate(-90)`" text-anchor="middle" font-size="14"
      font-weight="650" :fill="lit('travel_mm.1')"
    >{{ length(y, 1) }}</text>
  </svg>
</template>
