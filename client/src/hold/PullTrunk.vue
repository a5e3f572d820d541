<script setup lang="ts">
import { computed } from 'vue'
import type { Operation, ReportOperation } from '../api/types'
import { dash, lay_out, steady } from '../trunk/trunk'
import { open } from '../route/store'

/** The trunk of one setup, with what each operation pulls as a dash beside it. */
const props = defineProps<{ setup: string; chosen: string; room: number }>()
const emit = defineEmits<{ choose: [id: string] }>()
const operations = computed<Operation[]>(() => (open.state?.document.operations ?? []).filter((o) => o.setup === props.setup))
const told = computed(() => new Map((open.report?.operations ?? []).map((o) => [o.id, o] as [string, ReportOperation])))
const segments = computed(() => lay_out(operations.value, [], open.report?.operations ?? [], open.state?.document.bits ?? [], () => null, props.room - 60))
const most = computed(() => Math.max(1, ...operations.value.map((o) => told.value.get(o.id)?.hold?.pulls_n ?? 0)))
const pull = (id: string) => told.value.get(id)?.hold ?? null
const wide = (n: number) => 8 + (n / most.value) * 46
const left = 6
const trunk = 34
const shown = (id: string) => id === props.chosen || (pull(id)?.pulls_n ?? 0) >= most.value * 0.9
const high = computed(() => Math.max(props.room, (segments.value.at(-1)?.y ?? 0) + (segments.value.at(-1)?.high ?? 0) + 20))
const kerf = computed(() => { const s = segments.value.find((g) => g.key === props.chosen); return s ? s.y + s.high : null })
const said = (id: string, name: string) => { const h = pull(id); return h ? `${name} pulls ${Math.round(h.pulls_n)} N, held ${h.factor.toFixed(1)} times` : `${name}: no pull from the side` }
</script>

<template>
  <div class="pulls" :style="{ height: `${room}px` }">
    <svg width="150" :height="high" aria-hidden="true">
      <defs><linearGradient id="half"><stop offset="0" stop-color="#cfc6b6" /><stop offset=".25" stop-color="#fbf9f4" /><stop offset=".7" stop-color="#f4f0e8" /><stop offset="1" stop-color="#bdb3a1" /></linearGradient></defs>
      <rect :x="left" y="0" :width="trunk" :height="high" fill="url(#half)" /><path :d="`M${left} 0V${high}M${left + trunk} 0V${high}`" stroke="#b3a893" />
      <text :x="left + trunk + 8" y="18" class="head">Pull, N</text>
      <g v-for="s in segments" :key="s.key">
        <path v-for="k in Math.min(s.passes, 9)" :key="k" :d="dash(left + 3 + steady(s.index * 31 + k) * 8, s.y + 6 + ((s.high - 10) * (k - 0.5)) / Math.min(s.passes, 9), 10 + steady(s.index * 17 + k) * 9, 1.9)" fill="#1d1a17" />
        <path :d="`M${left} ${s.y + s.high}h${trunk}`" stroke="#c5bba8" />
        <template v-if="pull(s.key)">
          <path :d="dash(left + trunk + 8, s.y + s.high / 2, wide(pull(s.key)!.pulls_n), s.key === chosen ? 4.4 : 3)" :fill="pull(s.key)!.factor < pull(s.key)!.needs * 0.999 ? 'var(--ember)' : s.key === chosen ? 'var(--ink)' : 'var(--ink3)'" />
          <text v-if="shown(s.key)" :x="left + trunk + 12 + wide(pull(s.key)!.pulls_n)" :y="s.y + s.high / 2 + 5" class="n" :class="{ here: s.key === chosen }">{{ Math.round(pull(s.key)!.pulls_n) }}</text>
        </template>
      </g>
      <path v-if="kerf !== null" :d="`M${left - 5} ${kerf - 1.3}h${trunk + 12}M${left - 5} ${kerf + 1.3}h${trunk + 12}`" stroke="#c08a5e" stroke-width="2" />
    </svg>
    <button v-for="s in segments" :key="s.key" :style="{ top: `${s.y}px`, height: `${s.high}px` }" :aria-label="said(s.key, s.name)" :title="said(s.key, s.name)" :aria-pressed="s.key === chosen" @click="emit('choose', s.key)" />
  </div>
</template>

<style scoped>
.pulls { position: relative; width: 150px; overflow-y: auto; overflow-x: hidden; scrollbar-width: none; }
button { position: absolute; left: 0; width: 150px; min-height: 24px; }
button:hover { background: color-mix(in srgb, var(--bark) 40%, transparent); }
.head { font-weight: 700; font-size: 14px; fill: var(--ink); }
.n { font-size: 14px; fill: var(--ink2); } .n.here { font-weight: 700; fill: var(--ink); }
</style>
