<script setup lang="ts">
import { computed, onUnmounted, ref, watch } from 'vue'
import type { Bevel, Layout, Placement, Point, Solid } from '../api/types'
import FlagMark from '../marks/FlagMark.vue'
import { edit, findings, open } from '../route/store'
import { length } from '../units/format'
import BevelRails from './BevelRails.vue'
import { pen } from './pen'
import PenShapes from './PenShapes.vue'
import { part_near, point_at } from './rim'
import { seen_box } from './zoom'

/** The piece from the front with everything on it. Parts are dragged, or moved with the arrows: 1 mm, Shift 10, Alt 0.1. */
const props = defineProps<{ layout: Layout; solids: Solid[]; placements: Placement[]; over: string; show: string; chosen: string; chamber: string }>()
const emit = defineEmits<{ over: [feature: string]; choose: [placement: string] }>()
const svg = ref<SVGSVGElement>()
const outline = computed(() => props.solids.find((s) => s.kind === 'outline'))
const features = computed(() => props.solids.filter((s) => s.kind !== 'outline' && s.kind !== 'carve' && s.kind !== 'relief' && s.kind !== 'channel'))
const carves = computed(() => props.solids.filter((s) => s.kind === 'carve' || s.kind === 'relief' || s.kind === 'channel'))
const MARGIN_ROW = 19  // mm of the drawing
/** What cannot be where it belongs before a caliper has told its sizes stands at the margin, in no place on the piece. */
const anchored = (p: Placement) => p.mount !== 'heel' && (p.mount !== 'saddle' || !!props.layout.saddle)
const unplaced = (p: Placement) => !anchored(p) && !props.layout.ghosts.some((g) => g.placement === p.id)
const margin = computed(() => {
  const drawn = new Set(props.solids.map((s) => s.id))
  const features = open.state?.document.piece.features ?? []
  const waiting = features.filter((f) => !drawn.has(f.id)).map((f) => ({ id: f.id, name: f.name }))
  const rows = [...waiting, ...props.placements.filter(unplaced).map((p) => ({ id: p.id, name: name_of(p) }))]
  const told = (id: string) => findings.value.find((f) => f.feature === id && f.code.startsWith('part.'))
  const why = (id: string) => told(id)?.sentence ?? 'Waits for its readings.'
  return rows.map((r, k) => ({ ...r, why: why(r.id), down: k * MARGIN_ROW }))
})
const piece_box = computed(() => {
  const rings = [...props.solids.flatMap((s) => s.rings), ...props.layout.ghosts.map((g) => g.ring)].flat()
  const xs = rings.map((p) => p[0])
  const ys = rings.map((p) => p[1])
  return xs.length ? { x0: Math.min(...xs) - 12, x1: Math.max(...xs) + 12, y0: Math.min(...ys) - 12, y1: Math.max(...ys) + 12 } : { x0: 0, x1: 1, y0: 0, y1: 1 }
})
/** Under the pen only the piece itself is seen, with room for rulers and dimension lines. */
const under_pen = computed(() => props.show === 'draw')
const pen_box = computed(() => {
  const ring = rim.value
  if (!ring.length) return piece_box.value
  const [xs, ys] = [ring.map((p) => p[0]), ring.map((p) => p[1])]
  const [wide, high] = [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)]
  return {
    x0: Math.min(...xs) - 0.09 * wide, x1: Math.max(...xs) + 0.1 * wide,
    y0: Math.min(...ys) - 0.09 * high, y1: Math.max(...ys) + 0.11 * high,
  }
})
const whole = computed(() => (under_pen.value ? pen_box.value
  : { ...piece_box.value, y0: piece_box.value.y0 - margin.value.length * MARGIN_ROW }))
const { box, closer, pan, is_closer, all } = seen_box(whole)
watch(() => props.show, all)
const FACE_WORDS = { front: 'Front', back: 'Back', both: 'Both faces' }
const drawn_px = ref<Point>([800, 620])
const scale = computed(() => Math.max(
  (box.value.x1 - box.value.x0) / drawn_px.value[0], (box.value.y1 - box.value.y0) / drawn_px.value[1]))
const sized = new ResizeObserver(([one]) => {
  drawn_px.value = [Math.max(200, one.contentRect.width), Math.max(150, one.contentRect.height)]
})
watch(svg, (now) => { sized.disconnect(); if (now) sized.observe(now) })
onUnmounted(() => sized.disconnect())
let panned: Point | null = null
function hold(event: PointerEvent) {
  if (!is_closer.value || !under_pen.value) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  panned = at(event)
}
function drag_all(event: PointerEvent) {
  if (!panned) return
  const now = at(event)
  pan(now[0] - panned[0], now[1] - panned[1])
}
function wheel(event: WheelEvent) {
  if (!under_pen.value) return
  event.preventDefault()
  closer(event.deltaY < 0 ? 1.25 : 0.8, at(event))
}
const line = (ring: Point[]) => `M${ring.map(([x, y]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`).join('L')}Z`
const run = (points: Point[]) => `M${points.map(([x, y]) => `${x.toFixed(2)} ${(-y).toFixed(2)}`).join('L')}`
const board = computed(() => props.layout.ghosts.find((g) => g.what === 'whole board')?.ring)
const half_at = (x: number) => {
  const r = board.value
  if (!r) return 20
  return Math.abs(r[0][1]) + ((x - r[0][0]) / (r[1][0] - r[0][0])) * (Math.abs(r[1][1]) - Math.abs(r[0][1]))
}
/** A fret runs through its places on the outer strings to the board's edges. */
const fret_lines = computed(() => (props.layout.strings?.frets ?? props.layout.frets.map((x) => [x, -1, x, 1] as [number, number, number, number])).map(([bx, by, tx, ty]) => {
  const [h0, h1] = [half_at(bx), half_at(tx)]
  const slope = (tx - bx) / (ty - by || 1)
  return `M${(bx + (-h0 - by) * slope).toFixed(2)} ${h0.toFixed(2)}L${(tx + (h1 - ty) * slope).toFixed(2)} ${(-h1).toFixed(2)}`
}))
/** The ends of bevels on the rim, dragged along it. */
interface End { id: string; name: string; which: 'start' | 'end'; part: number; at: Point }
const rim = computed<Point[]>(() => outline.value?.rings[0] ?? [])
const slid = ref<{ id: string; which: string; part: number } | null>(null)
const ends = computed<End[]>(() => (open.state?.document.piece.features ?? []).filter((f): f is Bevel => f.kind === 'bevel').flatMap((f) => (['start', 'end'] as const).map((which) => {
  const part = slid.value?.id === f.id && slid.value.which === which ? slid.value.part : f[which]
  return { id: f.id, name: f.name, which, part, at: point_at(rim.value, part) }
})))
function grab_end(event: PointerEvent, h: End) { (event.currentTarget as Element).setPointerCapture(event.pointerId); slid.value = { id: h.id, which: h.which, part: h.part } }
function pull_end(event: PointerEvent) { if (slid.value) slid.value.part = part_near(rim.value, at(event)) }
function drop_end() { const s = slid.value; slid.value = null; if (s) slide(s.id, s.which, s.part) }
function slide(id: string, which: string, part: number) { void edit([{ do: 'put_item', list: 'features', item: { id, [which]: ((part % 1) + 1) % 1 } }], 'Move the end of a bevel') }
function key_end(event: KeyboardEvent, h: End) {
  const way = event.key === 'ArrowRight' || event.key === 'ArrowUp' ? 1 : event.key === 'ArrowLeft' || event.key === 'ArrowDown' ? -1 : 0
  if (!way) return
  event.preventDefault()
  slide(h.id, h.which, Math.round((h.part + way * (event.shiftKey ? 0.02 : 0.002)) * 10000) / 10000)
}
const loose = computed(() => props.layout.ghosts.filter((g) => !g.placement))
const name_of = (p: Placement) => open.state?.document.parts.find((x) => x.id === p.part)?.name ?? p.part
/** Where a placed part is drawn: the middle of its ghost, which for a part on the side, the saddle line or the heel is not what was typed. */
const middle = (p: Placement): Point => {
  const ring = props.layout.ghosts.find((g) => g.placement === p.id)?.ring
  if (!ring) return p.mount === 'saddle' && props.layout.saddle ? [props.layout.saddle.x_mm, p.y_mm] : [p.x_mm, p.y_mm]
  const xs = ring.map((q) => q[0]); const ys = ring.map((q) => q[1])
  return [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2]
}
const flag = (p: Placement) => findings.value.find((f) => f.feature === p.id && (f.code.startsWith('part.') || f.code.startsWith('hole.')))
const movable = (p: Placement) => p.mount === 'face' || p.mount === 'side'
const pulled = ref<{ id: string; from: Point; by: Point } | null>(null)
const at = (event: MouseEvent): Point => {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
  return [p.x, -p.y]
}
function grab(event: PointerEvent, p: Placement) {
  emit('choose', p.id)
  if (!movable(p)) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  pulled.value = { id: p.id, from: at(event), by: [0, 0] }
}
function pull(event: PointerEvent) {
  if (!pulled.value) return
  const now = at(event)
  pulled.value.by = [now[0] - pulled.value.from[0], now[1] - pulled.value.from[1]]
}
function drop(p: Placement) {
  const by = pulled.value?.by
  pulled.value = null
  if (by && Math.hypot(...by) > 0.4) move(p, by[0], by[1])
}
function move(p: Placement, dx: number, dy: number) {
  const from: Point = p.mount === 'side' ? middle(p) : [p.x_mm, p.y_mm]
  const round = (v: number) => Math.round(v * 10) / 10
  void edit([{ do: 'put_item', list: 'placements', item: { id: p.id, x_mm: round(from[0] + dx), y_mm: round(from[1] + dy) } }], `Move ${name_of(p)}`)
}
function key(event: KeyboardEvent, p: Placement) {
  const way: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
  const to = way[event.key]
  if (!to || !movable(p)) return
  event.preventDefault()
  const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1
  move(p, to[0] * by, to[1] * by)
}
const shift = (id: string) => (pulled.value && pulled.value.id === id ? `translate(${pulled.value.by[0]} ${-pulled.value.by[1]})` : undefined)
</script>

<template>
  <div v-if="under_pen" class="view">
    <span class="choice" role="group" aria-label="Whose shapes are under the pen"><button
      v-for="f in (['front', 'back', 'both'] as const)" :key="f" :class="{ on: pen.face === f }"
      :aria-pressed="pen.face === f" @click="pen.face = f">{{ FACE_WORDS[f] }}</button></span>
    <span><button class="plain" @click="closer(1.5)">Closer</button> <button class="plain" :disabled="!is_closer"
      @click="closer(0.67)">Further</button> <button class="plain" :disabled="!is_closer"
      @click="all">All of it</button></span>
  </div>
  <svg ref="svg" class="plan" :class="{ pen: under_pen }" role="group"
    aria-label="The piece with its parts, strings and frets"
    :viewBox="`${box.x0} ${-box.y1} ${box.x1 - box.x0} ${box.y1 - box.y0}`"
    @wheel="wheel" @pointerdown.self="hold" @pointermove="drag_all" @pointerup="panned = null">
    <path v-for="(r, k) in outline?.rings ?? []" :key="k" :d="line(r)" fill="#d6a679" stroke="#1d1a17" stroke-width="1"
      @pointerdown="hold" />
    <path v-for="r in open.state?.drawing.references ?? []" :key="r.id" :d="line(r.ring)" fill="none" stroke="#82786b" stroke-width=".7" stroke-dasharray="1 3" pointer-events="none"><title>{{ r.name }}, kept for reference</title></path>
    <path :d="`M${box.x0} 0H${box.x1}`" stroke="#4f4840" stroke-width=".5" stroke-dasharray="9 3 2 3" />
    <path v-for="s in carves" :key="s.id" :d="s.rings.map(line).join('')" fill="#c8996c" fill-rule="evenodd" stroke="#1d1a17" stroke-width=".5" :stroke-dasharray="s.face === 'back' ? '1.4 2.2' : ''" :fill-opacity="s.face === 'back' ? 0 : 1" @pointerenter="emit('over', s.id)" @pointerleave="emit('over', '')" />
    <g v-for="s in features" :key="s.id"><path v-for="(r, k) in s.rings" :key="k" :d="line(r)" :fill="s.face === 'back' && s.floor_mm !== null ? 'none' : over === s.id ? '#8a5f3a' : '#b98d63'" stroke="#1d1a17" :stroke-width="over === s.id ? 1.6 : 0.6" :stroke-dasharray="s.face === 'back' && s.floor_mm !== null ? '1.4 2.2' : ''" :pointer-events="s.face === 'back' ? 'stroke' : 'all'" @pointerenter="emit('over', s.id)" @pointerleave="emit('over', '')" /></g>
    <template v-if="show === 'weight'"><path v-for="c in layout.chambers.filter((x) => (chamber ? `${x.face}${x.number}` === chamber : x.face === 'front'))" :key="`${c.face}${c.number}`" :d="line(c.ring)" fill="#fbf9f5" fill-opacity=".55" stroke="#3c5a29" stroke-width="1.2" stroke-dasharray="5 3" /></template>
    <path v-for="(g, k) in loose" :key="k" :d="line(g.ring)" :fill="g.what === 'whole board' ? '#5d433533' : 'none'" stroke="#1d1a17" stroke-width=".8" stroke-dasharray="3 2" pointer-events="none"><title>{{ g.name }}</title></path>
    <path v-for="(d, k) in fret_lines" :key="`f${k}`" :d="d" stroke="#1d1a17" :stroke-width="k === 0 ? 1.6 : 0.6" />
    <path v-for="(s, k) in layout.strings?.lines ?? []" :key="`s${k}`" :d="`M${s[0]} ${-s[1]}L${s[2]} ${-s[3]}`" stroke="#1d1a17" stroke-width=".5" />
    <circle v-for="q in layout.strings?.saddles ?? []" :key="`q${q.number}`" :cx="q.x_mm" :cy="-q.y_mm" r="1.6" fill="#3c5a29" />
    <path v-if="layout.saddle" :d="`M${layout.saddle.x_mm} -52V52`" stroke="#3c5a29" stroke-width="1.6" />
    <path v-for="(p, k) in layout.strings?.poles ?? []" :key="`p${k}`" :d="`M${p.x_mm} ${-p.poles_mm / 2}V${p.poles_mm / 2}`" :stroke="p.within ? '#3c5a29' : '#a5301a'" stroke-width="1.4" />
    <template v-if="show === 'edges'"><g v-for="e in layout.edges" :key="e.edge"><path v-for="(t, k) in e.stretches" :key="k" :d="run(t.points)" fill="none" stroke="#a5301a" stroke-width="3.4" stroke-linecap="butt"><title>stays sharp, {{ t.why }}</title></path></g></template>
    <template v-if="show === 'fits'"><g v-for="c in layout.corners" :key="c.feature"><circle v-for="(q, k) in c.spots" :key="k" :cx="q.x_mm" :cy="-q.y_mm" r="4" fill="none" stroke="#a5301a" stroke-width="1.3" /></g></template>
    <g v-for="m in under_pen ? [] : margin" :key="`m${m.id}`"
      :transform="`translate(${piece_box.x0 + 4} ${-piece_box.y0 + m.down})`"><title>{{ m.why }}</title>
      <rect width="22" height="12" rx="2" fill="none" stroke="currentColor" stroke-width=".8" stroke-dasharray="3 2"
        /><text x="28" y="10.5" font-size="12.5" fill="currentColor">{{ m.name }}: waits for readings</text></g>
    <g v-for="p in placements.filter((q) => !unplaced(q))" :key="p.id" class="part" :class="{ here: chosen === p.id }"
      :tabindex="under_pen ? -1 : 0" role="button" :pointer-events="under_pen ? 'none' : undefined"
      :aria-label="`${name_of(p)} at ${length(middle(p)[0], 1)}, ${length(middle(p)[1], 1)}. Arrows move it.`"
      :transform="shift(p.id)" @pointerdown="grab($event, p)" @pointermove="pull" @pointerup="drop(p)"
      @keydown="key($event, p)" @focus="emit('choose', p.id)">
      <path v-for="(g, k) in layout.ghosts.filter((x) => x.placement === p.id)" :key="k" :d="line(g.ring)" :fill="g.what === 'knob' ? 'none' : g.what === 'reserved' ? '#fbf9f588' : '#3a353055'" stroke="#1d1a17" :stroke-width="chosen === p.id ? 1.8 : 1" :stroke-dasharray="g.what === 'knob' ? '' : '3 2'"><title>{{ g.name }}</title></path>
      <circle :cx="middle(p)[0]" :cy="-middle(p)[1]" r="2.6" :fill="chosen === p.id ? '#3c5a29' : '#1d1a17'" />
      <g v-if="flag(p)" :transform="`translate(${middle(p)[0] + 6} ${-middle(p)[1] - 22}) scale(.8)`"><FlagMark :severity="flag(p)!.severity" :letter="flag(p)!.letter" /></g>
    </g>
    <PenShapes v-if="show === 'draw'" :solids="solids" :at="at" :box="box" :scale="scale"
      :saddle="layout.saddle?.x_mm ?? null" />
    <BevelRails v-if="show === 'edges' && rim.length" :rim="rim" :at="at" />
    <template v-if="show === 'edges'"><g v-for="h in ends" :key="h.id + h.which" class="part" tabindex="0" role="button" :aria-label="`${h.which === 'start' ? 'Beginning' : 'End'} of ${h.name}. Arrows move it along the rim.`" @pointerdown="grab_end($event, h)" @pointermove="pull_end" @pointerup="drop_end" @keydown="key_end($event, h)">
      <circle :cx="h.at[0]" :cy="-h.at[1]" r="11" fill="transparent" /><path :d="`M${h.at[0]} ${-h.at[1] - 6}l6 6l-6 6l-6 -6z`" :fill="h.which === 'start' ? '#fbf9f5' : '#1d1a17'" stroke="#1d1a17" stroke-width="1.2" /></g></template>
    <g v-if="show === 'weight'"><circle :cx="layout.weight.x_mm" :cy="-layout.weight.y_mm" r="5" fill="#fbf9f5" stroke="#1d1a17" /><path :d="`M${layout.weight.x_mm} ${-layout.weight.y_mm}v-5a5 5 0 0 1 5 5zM${layout.weight.x_mm} ${-layout.weight.y_mm}v5a5 5 0 0 1 -5 -5z`" fill="#1d1a17" />
      <g v-if="layout.hang"><path :d="`M${layout.hang.pins[0][0]} ${-layout.hang.pins[0][1]}L${layout.hang.pins[1][0]} ${-layout.hang.pins[1][1]}`" stroke="#4f4840" stroke-width=".8" stroke-dasharray="6 4" /><circle :cx="layout.hang.x_mm" :cy="-layout.hang.y_mm" r="4" fill="#3c5a29" /></g></g>
  </svg>
</template>

<style scoped>
.plan { width: 100%; max-height: 47vh; flex: none; touch-action: none; }
.plan.pen { max-height: none; flex: 1 1 0; min-height: 300px; }
.view { display: flex; justify-content: space-between; align-items: center; }
.view .plain { margin-left: 10px; }
.part { cursor: grab; }
.part:focus-visible { outline: none !important; }
.part:focus-visible path { stroke-width: 2.6; }
</style>
