<script setup lang="ts">
import { computed, ref } from 'vue'
import type { NeckView } from '../api/types'
import { length, typed } from '../units/format'

/** The neck cut across at one fret: board, channel, back. Its apex is dragged to set how thick it is there, its
 * shoulder how full. */
const props = defineProps<{ view: NeckView; at: number; rod_mm: number | null; strings: number; land_mm: number }>()
const emit = defineEmits<{ thick: [mm: number]; full: [exponent: number] }>()
const index = computed(() => Math.max(0, props.view.rows.findIndex((r) => r.number === props.at)))
const row = computed(() => props.view.rows[index.value])
const beside = computed(() => [props.view.rows[index.value - 4], props.view.rows[index.value + 4]].filter(Boolean))
const SCALE = 5.4
const sx = (y: number) => 250 + y * SCALE
const sy = (z: number) => 96 + z * SCALE // z below the glue plane
const curve = (points: number[][]) => points.map(([y, z]) => `${sx(y).toFixed(1)},${sy(z).toFixed(1)}`).join(' ')
const half = computed(() => row.value.wide_mm / 2)
const sag = computed(() => row.value.crown_mm - row.value.edge_mm)
const face = computed(() => Array.from({ length: 33 }, (_, k) => {
  const part = -1 + k / 16
  return [part * half.value, -row.value.crown_mm + sag.value * part * part]
}))
const apex = computed(() => [...row.value.back].sort((a, b) => b[1] - a[1])[0])
const drag = ref<{ kind: 'apex' | 'rim'; from: number; mm: number } | null>(null)
const moved = computed(() => {
  const d = drag.value
  if (!d) return row.value.back
  if (d.kind === 'apex') {
    const grow = 1 + d.mm / apex.value[1]
    return row.value.back.map(([y, z]) => [y, z * grow])
  }
  const n = full_of(d.mm)
  return row.value.back.map(([, z], k) => {
    const t = (Math.PI * k) / (row.value.back.length - 1)
    const c = Math.cos(t)
    return [Math.sign(c) * Math.abs(c) ** (2 / n) * half.value, z]
  })
})
const full_of = (mm: number) => Math.round(Math.min(3.2, Math.max(1.6, row.value.rim + mm * .18)) * 100) / 100
const shoulder = computed(() => moved.value[Math.round(moved.value.length * .16)])
const thick_now = computed(() => row.value.thick_mm + (drag.value?.kind === 'apex' ? drag.value.mm : 0))
function down(kind: 'apex' | 'rim', event: PointerEvent) {
  const svg = (event.currentTarget as SVGElement).ownerSVGElement!
  drag.value = { kind, from: kind === 'apex' ? event.clientY : event.clientX, mm: 0 }
  const px = svg.getBoundingClientRect().width / 600 * SCALE
  const move = (e: PointerEvent) => {
    if (!drag.value) return
    const gone = ((kind === 'apex' ? e.clientY : e.clientX) - drag.value.from) / px
    drag.value = { ...drag.value, mm: Math.round(gone * 20) / 20 }
  }
  const up = () => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', up)
    const d = drag.value
    drag.value = null
    if (!d || Math.abs(d.mm) < .04) return
    if (kind === 'apex') emit('thick', Math.round((row.value.thick_mm + d.mm) * 100) / 100)
    else emit('full', full_of(d.mm))
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', up)
  event.preventDefault()
}
function nudge(kind: 'apex' | 'rim', event: KeyboardEvent) {
  const way = ({ ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 } as Record<string, number>)[event.key] ?? 0
  if (!way) return
  event.preventDefault()
  event.stopPropagation()
  const step = event.shiftKey ? .5 : .1
  if (kind === 'apex') emit('thick', Math.round((row.value.thick_mm + way * step) * 100) / 100)
  else emit('full', full_of(way * step * 4))
}
const wrong = ref('')
function type(text: string) {
  wrong.value = ''
  const read = typed(text, 'length')
  if ('wrong' in read) wrong.value = read.wrong
  else if (Math.abs(read.value - row.value.thick_mm) > .004) emit('thick', read.value)
}
const said = computed(() => `${length(row.value.wide_mm, 1)} wide, ${length(row.value.thick_mm, 1)} thick with the `
  + `board${row.value.under_rod_mm === null ? '' : `, ${length(row.value.under_rod_mm, 1)} under the rod`}`)
const spread = computed(() => Array.from({ length: props.strings }, (_, k) =>
  (half.value - props.land_mm) * (-1 + (2 * k) / (props.strings - 1))))
</script>

<template>
  <section class="cross">
    <h2>{{ at ? `Section at fret ${at}` : 'Section at the nut' }}</h2>
    <p class="second">{{ length(row.x_mm, 1) }} from the nut<template v-if="row.heel">, in the transition to the
      heel</template></p>
    <svg viewBox="-30 0 600 226" role="group" :aria-label="said">
      <polyline v-for="b in beside" :key="b.number" :points="curve(b.back)" fill="none" stroke="#675f55"
        stroke-dasharray="1.5 4" />
      <polygon :points="curve(moved)" fill="#e3bf8d" stroke="#1d1a17" stroke-width="1.6" />
      <polygon :points="`${curve(face)} ${sx(half)},${sy(0)} ${sx(-half)},${sy(0)}`" fill="#8f5840" stroke="#1d1a17"
        stroke-width="1.4" />
      <rect v-if="rod_mm && row.channel_mm" :x="sx(-rod_mm / 2)" :y="sy(0)" :width="rod_mm * SCALE"
        :height="row.channel_mm * SCALE" fill="#b9ae97" stroke="#1d1a17" stroke-width="1.2" />
      <circle v-for="(y, k) in spread" :key="k" :cx="sx(y)" :cy="sy(-row.crown_mm) - 12" :r="1.4 + .35 * k"
        fill="#1d1a17" />
      <path :d="`M${sx(-half)} 44V34H${sx(half)}V44`" fill="none" stroke="var(--ink)" />
      <text x="250" y="29" text-anchor="middle" class="mark">{{ length(row.wide_mm, 1) }}</text>
      <path :d="`M${sx(-half) - 14} ${sy(-row.crown_mm)}h-8V${sy(apex[1])}h8`" fill="none" stroke="var(--ink)" />
      <text :x="sx(-half) - 28" :y="(sy(-row.crown_mm) + sy(apex[1])) / 2 + 6" text-anchor="end" class="mark big">{{
        length(thick_now, 1) }}</text>
      <path :d="`M${sx(half) + 14} ${sy(-row.crown_mm)}h8V${sy(0)}h-8`" fill="none" stroke="var(--ink)" />
      <text :x="sx(half) + 28" :y="sy(-row.crown_mm / 2) + 5" class="mark">{{ length(row.crown_mm, 1) }}</text>
      <template v-if="row.under_rod_mm !== null">
        <path :d="`M${sx(half) + 14} ${sy(row.channel_mm)}h8V${sy(apex[1])}h-8`" fill="none" stroke="var(--ink)" />
        <text :x="sx(half) + 28" :y="sy((row.channel_mm + apex[1]) / 2) + 5" class="mark">{{
          length(row.under_rod_mm, 1) }} <tspan class="small">under the rod</tspan></text></template>
      <ellipse :cx="sx(apex[0])" :cy="sy(apex[1] + (drag?.kind === 'apex' ? drag.mm : 0))" rx="13" ry="6" class="grip"
        tabindex="0" role="slider" aria-label="How thick it is here" aria-orientation="vertical"
        :aria-valuenow="row.thick_mm" :aria-valuetext="length(row.thick_mm, 2)"
        @pointerdown="down('apex', $event)" @keydown="nudge('apex', $event)" />
      <ellipse :cx="sx(shoulder[0])" :cy="sy(shoulder[1])" rx="11" ry="6" class="grip"
        :transform="`rotate(-52 ${sx(shoulder[0])} ${sy(shoulder[1])})`" tabindex="0" role="slider"
        aria-label="How full its shoulders are here" :aria-valuenow="row.rim"
        @pointerdown="down('rim', $event)" @keydown="nudge('rim', $event)" />
    </svg>
    <div class="typed"><label>Thick here, with the board <input :value="length(row.thick_mm, 2)" spellcheck="false"
      autocomplete="off" @change="type(($event.target as HTMLInputElement).value)" /></label>
      <span class="second">Girth {{ length(row.girth_mm, 1) }}</span></div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p class="least">Dotted: four frets to either side. Drag the dark leaves, or use the arrow keys on them.</p>
  </section>
</template>

<style scoped>
.cross svg { width: 100%; max-width: 540px; display: block; touch-action: none; }
.cross p { margin: 0; }
.mark { font-size: 15px; font-weight: 600; fill: var(--ink); }
.mark.big { font-size: 19px; font-weight: 700; }
.small { font-size: 13px; font-weight: 400; }
.grip { fill: #1d1a17; stroke: #f4f0e8; stroke-width: 1.5; cursor: grab; }
.typed { display: flex; gap: 16px; align-items: baseline; flex-wrap: wrap; }
.typed input {
  width: 84px; border: 0; border-bottom: 1.5px solid var(--edge); font: inherit; font-weight: 600; color: inherit;
  background: none; min-height: 28px;
}
.ember { color: var(--ember); }
</style>
