<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Lettered } from '../route/store'
import BitMark from '../marks/BitMark.vue'
import FlagMark from '../marks/FlagMark.vue'
import { length, minutes } from '../units/format'
import { load_orders, told } from './orders'
import { dash, free_stretches, steady, type Segment } from './trunk'

const props = defineProps<{
  segments: Segment[]; selected: number; findings: Lettered[]; stale: boolean; ready: number; room: number
  step: string; marked: string[]
}>()
const emit = defineEmits<{ select: [index: number]; choose: [step: string]; mark: [id: string, span: boolean]
  put: [id: string, to: number]; top: [index: number] }>()
/** A row that is dragged: where it would stand, and what that breaks or costs. */
const held = ref<{ id: string; from_y: number; to: number; y: number; words: string; breaks: boolean } | null>(null)
let down: { id: string; y: number } | null = null
let dragged = false
const STIR = 6  // a press that moves less is a press
function take_hold(event: PointerEvent, s: Segment) {
  if (event.button !== 0 || event.shiftKey || event.ctrlKey || event.metaKey) return
  down = { id: s.key, y: event.clientY }
  dragged = false
  void load_orders()
}
function drag(event: PointerEvent) {
  if (!down || (!held.value && Math.abs(event.clientY - down.y) < STIR)) return
  if (!held.value) (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  dragged = true
  const top = rows.value!.getBoundingClientRect().top - rows.value!.scrollTop
  const y = event.clientY - top
  const others = props.segments.filter((s) => s.index >= 0 && s.key !== down!.id)
  const to = others.filter((s) => s.y + s.high / 2 <= y).length
  const after = others[to - 1]
  held.value = { id: down.id, from_y: down.y, to, y: after ? after.y + after.high : (others[0]?.y ?? 52),
    ...told(down.id, to) }
}
function let_go(keep: boolean) {
  const now = held.value
  down = null
  held.value = null
  if (!now || !keep) return
  const from = props.segments.find((s) => s.key === now.id)!.index
  if (now.to !== from) emit('put', now.id, now.to)
}
function press(event: MouseEvent, s: Segment) {
  if (dragged) { dragged = false; return }
  if (event.shiftKey || event.ctrlKey || event.metaKey) emit('mark', s.key, event.shiftKey)
  else emit('select', s.index)
}
const left = 34
const wide = 56
const end = computed(() => { const s = props.segments.at(-1); return s ? s.y + s.high : 300 })
const high = computed(() => Math.max(end.value + 60, props.room))
const free = computed(() => free_stretches(props.segments))
const kerf = computed(() => { const s = props.segments.find((g) => g.index === props.selected); return s ? s.y + s.high : 52 })
function marks(s: Segment) {
  const out: string[] = []
  const count = Math.min(s.passes, 24)
  for (let k = 0; k < count; k++) {
    const seed = s.index * 37 + k
    const w = 14 + steady(seed) * 20
    out.push(dash(left + 4 + steady(seed + 9) * (wide - w - 8), s.y + 9 + ((s.high - 14) * (k + 0.5)) / count, w, Math.min(3.2, (s.high - 14) / count / 2 + 0.8)))
  }
  return out
}
const bark = computed(() => Array.from({ length: Math.ceil(high.value / 13) }, (_, k) => ({ y: k * 13 + steady(k) * 9, x: left + 3 + steady(k + 5) * 34, w: 6 + steady(k + 3) * 12 })))
const flagged = (key: string) => props.findings.filter((f) => f.operation === key)
const FLAGS = 2
const flags = (key: string) => flagged(key).slice(0, FLAGS)
const more = (key: string) => Math.max(0, flagged(key).length - FLAGS)
const rows = ref<HTMLElement>()
/** Bring the chosen row into sight within the list; the page itself stays where it is. */
function show_chosen() {
  const list = rows.value
  const row = list?.querySelector<HTMLElement>('[aria-current=step]')?.closest('li')
  if (!list || !row) return
  const [first, last] = [row.offsetTop, row.offsetTop + row.offsetHeight]
  if (first < list.scrollTop) list.scrollTop = first
  else if (last > list.scrollTop + list.clientHeight) list.scrollTop = last - list.clientHeight
}
watch(() => [props.selected, props.step], show_chosen, { flush: 'post' })
/** Tell which operation is the first that is seen. */
function tell_top() {
  const from = (rows.value?.scrollTop ?? 0) + 20
  const seen = props.segments.findIndex((s) => s.y + s.high > from)
  emit('top', props.segments.slice(Math.max(seen, 0)).find((s) => s.index >= 0)?.index ?? 0)
}
watch(() => [props.segments, props.room], tell_top, { immediate: true, flush: 'post' })
function scrub(event: PointerEvent) {
  if (event.type === 'pointermove' && event.buttons === 0) return
  const box = (event.currentTarget as SVGElement).getBoundingClientRect()
  const y = event.clientY - box.top
  const over = props.segments.filter((s) => s.index >= 0 && s.y + s.high / 2 <= y).at(-1)
  emit('select', over ? over.index : -1)
}
</script>

<template>
  <div ref="rows" class="scroll" @scroll="tell_top">
    <div class="whole" :style="{ height: `${high}px` }">
      <svg class="trunk" width="104" :height="high" aria-hidden="true" @pointerdown="scrub" @pointermove="scrub">
        <defs>
          <linearGradient id="round"><stop offset="0" stop-color="#cfc6b6" /><stop offset=".22" stop-color="#fbf9f4" /><stop offset=".7" stop-color="#f4f0e8" /><stop offset="1" stop-color="#bdb3a1" /></linearGradient>
        </defs>
        <rect :x="left" y="0" :width="wide" :height="high" fill="url(#round)" />
        <path :d="`M${left} 0V${high}M${left + wide} 0V${high}`" stroke="#b3a893" stroke-width="1" />
        <rect v-for="(b, k) in bark" :key="k" :x="b.x" :y="b.y" :width="b.w" height="1.1" fill="#d8cfbf" />
        <template v-for="s in segments" :key="s.key">
          <template v-if="s.kind === 'operation'">
            <g :opacity="stale && s.index >= ready ? 0.25 : 1"><path v-for="(d, k) in marks(s)" :key="k" :d="d" fill="#1d1a17" /></g>
            <path v-if="s.changes" :d="`M${left + 4} ${s.y + 8}q12 -9 24 -8t24 8q-13 -4 -19 -1l-5 8l-5 -8q-7 -3 -19 1z`" fill="#1d1a17" />
            <path :d="`M${left} ${s.y + s.high}q${wide / 2} 3 ${wide} 0`" stroke="#c5bba8" fill="none" />
          </template>
          <template v-else>
            <rect :x="left - 2" :y="s.y" :width="wide + 4" :height="s.high" fill="var(--paper)" />
            <path :d="`M${left} ${s.y}V${s.y + s.high}M${left + wide} ${s.y}V${s.y + s.high}`" stroke="var(--ink2)" stroke-width="1.3" :stroke-dasharray="s.kind === 'wait' ? '1.5 4' : '5 4'" />
            <g v-if="s.key.startsWith('turn_')" fill="none" stroke="var(--ink)"><ellipse :cx="left + wide / 2" :cy="s.y + s.high / 2" :rx="wide / 2 + 7" ry="8" stroke-width="2.4" /><path :d="`M${left + wide + 9} ${s.y + s.high / 2 - 7}l-1 9l-8 -4`" stroke-width="2" /></g>
            <path v-if="s.kind === 'wait'" :d="`M${left} ${s.y + s.high / 2 - 3}l9 -5 9 6 10 -6 9 6 10 -6 9 5M${left} ${s.y + s.high / 2 + 5}l9 -5 9 6 10 -6 9 6 10 -6 9 5`" fill="none" stroke="var(--ink2)" />
          </template>
        </template>
        <g v-for="f in free" :key="f.y0" class="bracket">
          <path :d="`M${left - 8} ${f.y0 + 6}h-7V${f.y1 - 4}h7`" fill="none" stroke="var(--ink2)" />
          <text v-if="f.y1 - f.y0 > 76" :transform="`rotate(-90 ${left - 20} ${(f.y0 + f.y1) / 2})`" :x="left - 20" :y="(f.y0 + f.y1) / 2" text-anchor="middle" font-size="14" fill="var(--ink2)"><tspan font-weight="700" fill="var(--ink)">{{ Math.round(f.minutes) }}</tspan> min free</text>
          <text v-else :x="left - 18" :y="(f.y0 + f.y1) / 2 + 5" text-anchor="end" font-weight="700" font-size="14" fill="var(--ink)">{{ Math.round(f.minutes) }}</text>
        </g>
        <path :d="`M${left - 6} ${kerf - 1.4}H${left + wide + 14}M${left - 6} ${kerf + 1.4}H${left + wide + 14}`" stroke="#c08a5e" stroke-width="2" />
        <path :d="`M${left + wide} ${kerf}H104`" stroke="var(--ink)" stroke-width="1.6" />
      </svg>
      <ol aria-label="Steps of the route">
        <li v-for="s in segments" :key="s.key" :style="{ top: `${s.y}px`, height: `${s.high}px` }">
          <button v-if="s.kind === 'operation'" class="row"
            :class="{ here: s.index === selected && !step, marked: marked.includes(s.key) }"
            :aria-current="s.index === selected && !step ? 'step' : undefined" @click="press($event, s)"
            @pointerdown="take_hold($event, s)" @pointermove="drag" @pointerup="let_go(true)"
              @pointercancel="let_go(false)"
            @keydown.esc="let_go(false)">
            <span class="bit"><BitMark v-if="s.bit" :bit="s.bit" :fresh="s.changes" /></span>
            <span class="name"><span v-if="marked.includes(s.key)"
              class="visually-hidden">Marked: </span>{{ s.name }}<small
              v-if="s.high > 48">{{ s.bit?.name }}</small></span>
            <span class="deep">{{ s.through ? 'thru' : length(s.deep, 1) }}</span>
            <b class="min">{{ minutes(s.minutes) }}</b>
            <span class="flags"><FlagMark v-for="f in flags(s.key)" :key="f.letter" :severity="f.severity"
              :letter="f.letter" /><small v-if="more(s.key)" :aria-label="`and ${more(s.key)} more`">+{{ more(s.key)
              }}</small></span>
          </button>
          <button v-else class="row bench" :class="{ here: s.key === step }"
            :aria-current="s.key === step ? 'step' : undefined"
            @click="emit('choose', s.key)"><span class="bit" /><i class="name">{{ s.name }}</i><span class="deep" /><b
              class="min">{{ minutes(s.minutes) }}</b></button>
        </li>
      </ol>
      <div v-if="held" class="held" :class="{ breaks: held.breaks }" :style="{ top: `${held.y}px` }"
        role="status"><span>{{ held.words }}</span></div>
    </div>
  </div>
</template>

<style scoped>
.scroll { height: 100%; overflow-y: auto; overflow-x: hidden; position: relative; scrollbar-width: none; }
.whole { position: relative; min-height: 100%; }
.trunk { position: absolute; left: 0; top: 0; min-height: 100%; touch-action: none; cursor: ns-resize; overflow: visible; }
ol { list-style: none; margin: 0; padding: 0; }
li { position: absolute; left: 104px; right: 0; }
.row { width: 100%; height: 100%; display: grid; grid-template-columns: 50px 1fr 52px 34px 28px; align-items: center; gap: 4px; padding: 0 6px 0 4px; min-height: 28px; }
.row.here { background: var(--bark); font-weight: 650; box-shadow: 0 1px 0 var(--ink); }
button.row:hover { background: color-mix(in srgb, var(--bark) 60%, transparent); }
.name { line-height: 1.15; min-width: 0; }
.name small { display: block; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; font-size: 14px; color: var(--ink2); font-weight: 400; }
.deep, .min { text-align: right; white-space: nowrap; }
.held { position: absolute; left: 100px; right: 0; border-top: 3px solid var(--moss); z-index: 3;
  pointer-events: none; }
.held span { display: block; background: var(--bark); padding: 4px 8px; box-shadow: 0 2px 6px rgb(29 26 23 / .3);
  font-weight: 600; }
.held.breaks { border-color: var(--ember); }
.held.breaks span { color: var(--ember); }
.row { touch-action: pan-y; }
.bench { color: var(--ink2); }
.row.marked { box-shadow: inset 5px 0 0 var(--moss), 0 1px 0 var(--ink); background: var(--moss-tint); }
.row.bench.here { color: var(--ink); }
@media (max-width: 1110px) { .row { grid-template-columns: 42px 1fr 38px 28px 26px; gap: 4px; font-size: 14px; } .name small { display: none; } }
.flags { display: flex; flex-direction: column; gap: 2px; }
</style>
