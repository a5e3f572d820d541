<script setup lang="ts">
import { computed } from 'vue'
import type { Point, Solid } from '../api/types'
import { length } from '../units/format'
import { near_shifted } from './near'
import { line_from, pen, rim_beyond } from './pen'
import type { Box } from './zoom'

/** On the drawing: the two ways a shape is placed by, as dimension lines, and what it comes near where it is held
 *  now. */
const props = defineProps<{ solids: Solid[]; by: Point; scale: number; box: Box }>()
const places = computed(() => pen.places)
const at = computed<Point>(() => [places.value!.x_mm + props.by[0], places.value!.y_mm + props.by[1]])
const held = computed(() => props.by[0] !== 0 || props.by[1] !== 0)
const shape = computed(() => props.solids.find((s) => s.id === pen.taken))
interface Dimension { d: string; x: number; y: number; text: string }
/** Above the drawing along the piece, at its right across it: from the chosen line, and on to the rim. */
const lines = computed(() => {
  const out: Dimension[] = []
  if (!places.value) return out
  const [x, y] = at.value
  const all = places.value.lines
  const [top, right] = [-props.box.y1 + 16 * props.scale, props.box.x1 - 30 * props.scale]
  const tick = 4 * props.scale
  const along = (from: number, to: number) => {
    if (Math.abs(to - from) < 0.05) return
    const ends = [from, to].map((v) => `M${v} ${top - tick}v${2 * tick}`).join('')
    out.push({ d: `M${from} ${top}H${to}${ends}`, x: (from + to) / 2, y: top, text: length(Math.abs(to - from), 1) })
  }
  const across = (from: number, to: number) => {
    if (Math.abs(to - from) < 0.05) return
    const ends = [from, to].map((v) => `M${right - tick} ${-v}h${2 * tick}`).join('')
    const text = length(Math.abs(to - from), 1)
    out.push({ d: `M${right} ${-from}V${-to}${ends}`, x: right, y: -(from + to) / 2, text })
  }
  const [fx, rx] = [line_from(all, 'along'), rim_beyond(all, 'along', x)]
  const [fy, ry] = [line_from(all, 'across'), rim_beyond(all, 'across', y)]
  if (fx) along(fx.at_mm, x)
  if (rx && !held.value) along(x, rx.at_mm)
  if (fy) across(fy.at_mm, y)
  if (ry && !held.value) across(y, ry.at_mm)
  return out
})
/** Hair lines from its middle to the dimension lines. */
const hair = computed(() => {
  const [x, y] = at.value
  return `M${x} ${-y}V${-props.box.y1 + 12 * props.scale}M${x} ${-y}H${props.box.x1 - 26 * props.scale}`
})
const near = computed(() => {
  if (!places.value) return []
  const least = new Map(places.value.near.map((n) => [n.id, n.least_mm]))
  if (!held.value) return places.value.near.map((n) => ({ ...n, apart: n.apart_mm }))
  const others = props.solids.filter((s) => s.id !== pen.taken && (s.kind === 'outline' || least.has(s.id)))
    .map((s) => ({ id: s.kind === 'outline' ? 'rim' : s.id, rings: s.rings as Point[][] }))
  const rings = (shape.value?.rings ?? []) as Point[][]
  return near_shifted(rings, props.by, others).map((g) => ({ ...g, least_mm: least.get(g.id) ?? null }))
})
interface Stroke { id: string; d: string; x: number; y: number; text: string; short: boolean }
const all_strokes = computed<Stroke[]>(() => near.value.slice(0, 5).map((n) => ({
  id: n.id, d: `M${n.at[0]} ${-n.at[1]}L${n.to[0]} ${-n.to[1]}`,
  x: (n.at[0] + n.to[0]) / 2, y: -(n.at[1] + n.to[1]) / 2,
  text: length(n.apart, 1), short: n.least_mm !== null && n.apart < n.least_mm - 0.02,
})))
const px = computed(() => 11 * props.scale)
const wide = (text: string) => (text.length * 0.58 + 0.8) * px.value
/** At most three, and none whose figure would lie on another's. */
const strokes = computed(() => all_strokes.value.reduce<Stroke[]>((kept, s) => {
  const hidden = kept.some((k) => Math.abs(k.y - s.y) < 1.5 * px.value
    && Math.abs(k.x - s.x) < (wide(k.text) + wide(s.text)) / 2)
  return hidden || kept.length > 2 ? kept : [...kept, s]
}, []))
</script>

<template>
  <g v-if="places" pointer-events="none">
    <path :d="hair" stroke="#1d1a17" :stroke-width="0.5 * scale" :stroke-dasharray="`${3 * scale} ${2 * scale}`" />
    <path v-for="(l, k) in lines" :key="`l${k}`" :d="l.d" stroke="currentColor" :stroke-width="0.9 * scale" />
    <path v-for="n in strokes" :key="n.id" :d="n.d" stroke="#1d1a17" :stroke-width="2.4 * scale" />
    <g v-for="(l, k) in lines" :key="`t${k}`"><rect :x="l.x - wide(l.text) / 2" :y="l.y - px * 0.7"
      :width="wide(l.text)"
      :height="px * 1.35" fill="var(--paper)" /><text :x="l.x" :y="l.y + px * 0.33" :font-size="px" text-anchor="middle"
      font-weight="700" fill="currentColor">{{ l.text }}</text></g>
    <g v-for="n in strokes" :key="`n${n.id}`"><rect :x="n.x - wide(n.text) / 2" :y="n.y - px * 0.7"
      :width="wide(n.text)"
      :height="px * 1.35" :fill="n.short ? '#f0b13c' : '#fbf9f5'" stroke="#1d1a17" :stroke-width="0.8 * scale" /><text
      :x="n.x" :y="n.y + px * 0.33" :font-size="px" text-anchor="middle" font-weight="700"
      fill="#1d1a17">{{ n.text }}</text></g>
  </g>
</template>
