<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Bevel, Point } from '../api/types'
import { edit, open } from '../route/store'
import { length } from '../units/format'
import { inward_at, point_at } from './rim'

/** The inner rails of bevels: a grip at every station is dragged to where the slope shall begin there. */
const props = defineProps<{ rim: Point[]; at: (event: PointerEvent) => Point }>()
interface Grip { bevel: Bevel; k: number; width: number; foot: Point; way: Point; tip: Point }
const pulled = ref<{ id: string; k: number; width: number } | null>(null)
const bevels = computed(() => (open.state?.document.piece.features ?? []).filter((f): f is Bevel => f.kind === 'bevel'))
const span = (b: Bevel) => (((b.end - b.start) % 1) + 1) % 1 || 1
const grips = computed<Grip[]>(() => bevels.value.flatMap((bevel) => bevel.stations.map((s, k) => {
  const part = bevel.start + s.at * span(bevel)
  const [foot, way] = [point_at(props.rim, part), inward_at(props.rim, part)]
  const width = pulled.value?.id === bevel.id && pulled.value.k === k ? pulled.value.width : s.width_mm
  return { bevel, k, width, foot, way, tip: [foot[0] + way[0] * width, foot[1] + way[1] * width] as Point }
})))
const rails = computed(() => bevels.value.map((b) => ({ id: b.id, d: `M${grips.value.filter((g) => g.bevel === b).map((g) => `${g.tip[0].toFixed(1)} ${(-g.tip[1]).toFixed(1)}`).join('L')}` })))
const fair = (mm: number) => Math.max(1, Math.min(200, Math.round(mm * 2) / 2))
function keep(bevel: Bevel, k: number, width: number) {
  void edit([{ do: 'put_item', list: 'features', item: { id: bevel.id, stations: bevel.stations.map((s, i) => (i === k ? { ...s, width_mm: fair(width) } : s)) } }], `Make ${bevel.name} ${width < bevel.stations[k].width_mm ? 'narrower' : 'wider'}`)
}
function grab(event: PointerEvent, g: Grip) { (event.currentTarget as Element).setPointerCapture(event.pointerId); pulled.value = { id: g.bevel.id, k: g.k, width: g.width } }
function pull(event: PointerEvent, g: Grip) {
  if (!pulled.value) return
  const [x, y] = props.at(event)
  pulled.value.width = fair((x - g.foot[0]) * g.way[0] + (y - g.foot[1]) * g.way[1])
}
function drop(g: Grip) {
  const p = pulled.value
  pulled.value = null
  if (p && p.width !== g.bevel.stations[g.k].width_mm) keep(g.bevel, g.k, p.width)
}
function key(event: KeyboardEvent, g: Grip) {
  const way = event.key === 'ArrowRight' || event.key === 'ArrowUp' ? 1 : event.key === 'ArrowLeft' || event.key === 'ArrowDown' ? -1 : 0
  if (!way) return
  event.preventDefault()
  keep(g.bevel, g.k, g.width + way * (event.shiftKey ? 5 : 0.5))
}
</script>

<template>
  <g>
    <path v-for="r in rails" :key="r.id" :d="r.d" fill="none" stroke="#1d1a17" stroke-width=".8" stroke-dasharray="2 3" />
    <g v-for="g in grips" :key="`${g.bevel.id}${g.k}`" class="grip" tabindex="0" role="button" :aria-label="`${g.bevel.name}, ${Math.round(g.bevel.stations[g.k].at * 100)} percent along: ${length(g.width, 1)} wide. Arrows change it.`" @pointerdown="grab($event, g)" @pointermove="pull($event, g)" @pointerup="drop(g)" @keydown="key($event, g)">
      <circle :cx="g.tip[0]" :cy="-g.tip[1]" r="10" fill="transparent" /><path :d="`M${g.tip[0] - 5} ${-g.tip[1] - 3}h10v6h-10z`" fill="#fbf9f5" stroke="#1d1a17" stroke-width="1.1" :transform="`rotate(${((Math.atan2(-g.way[1], g.way[0]) * 180) / Math.PI + 90).toFixed(0)} ${g.tip[0]} ${-g.tip[1]})`"><title>{{ length(g.width, 1) }} wide, drops {{ length(g.bevel.stations[g.k].drop_mm, 1) }}</title></path>
    </g>
  </g>
</template>

<style scoped>
.grip { cursor: grab; }
.grip:focus-visible { outline: none !important; }
.grip:focus-visible path { stroke-width: 2.4; }
</style>
