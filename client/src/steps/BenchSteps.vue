<script setup lang="ts">
import { computed, onMounted, watch } from 'vue'
import type { BenchState } from '../api/types'
import { edit, open } from '../route/store'
import { minutes } from '../units/format'
import { bench, bench_wrong, load_bench, tick_bench } from './bench'

/** Handwork and waits. What is marked holds every program after it until it is ticked. only: these steps; who shows them loads the list. */
const props = defineProps<{ route: number; part?: 'before' | 'all'; only?: string[] }>()
const shown = computed(() => bench.value.filter((s) => (props.only ? props.only.includes(s.id) : props.part === 'all' || s.after === null)))
onMounted(() => { if (!props.only) void load_bench(props.route) })
watch(() => open.state?.hash, () => { if (!props.only) void load_bench(props.route) })
const tick = (step: BenchState) => tick_bench(props.route, step)
const time = (iso: string) => new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
function said(s: BenchState) {
  if (s.stale) return `was ticked by ${s.by}; the step is another one now`
  if (!s.done) return ''
  if (s.wait && s.ready_at) return s.open ? `begun, over ${time(s.ready_at)}` : `over since ${time(s.ready_at)}`
  return `${s.by}, ${time(s.at!)}`
}
const drop = (s: BenchState) => edit([{ do: 'remove_item', list: 'bench_steps', id: s.id }], `Remove ${s.name}`)
/** Where, with what, what has to be so, and its note, in one paragraph. */
function more(s: BenchState): string {
  const tool = [s.tool, s.grit ? `paper ${s.grit}` : ''].filter(Boolean).join(', ')
  const said = [s.where && `Where: ${s.where}`, tool && `With: ${tool}`, s.check && `Check: ${s.check}`,
    s.in_sight && 'While the machine runs, in sight of its stop', s.note]
  return said.filter(Boolean).map((w) => `${String(w).replace(/\.$/, '')}.`).join(' ')
}
const long = (m: number) => (m >= 60 ? minutes(m) : `${Number.isInteger(m) ? m : minutes(m)} min`)
</script>

<template>
  <ol>
    <li v-for="s in shown" :key="s.id" :class="{ open: s.open }">
      <button class="tick" role="checkbox" :aria-checked="s.done" :class="{ on: s.done }"
        :aria-label="`${s.name}${s.done ? ', done' : ''}`" @click="tick(s)">
        <svg width="26" height="20" aria-hidden="true"><path v-if="s.done" d="M3 11q3 1 5 7q6 -12 15 -17q-10 8 -14 18q-3 -5 -6 -8z" fill="var(--moss)" /><path v-else d="M3 10q5 -4 11 -3.4t9 3.4q-5 3.4 -10 3t-10 -3z" fill="none" stroke="var(--ink2)" stroke-width="1.4" /></svg>
        <span class="name"><b>{{ s.name }}</b><span class="second long">{{ long(s.minutes) }}{{ s.wait ? ' of waiting' : '' }}</span></span>
        <span class="said second">{{ said(s) }}</span>
      </button>
      <p v-if="more(s)" class="note">{{ more(s) }}</p>
      <button v-if="part === 'all'" class="plain off" :aria-label="`Remove ${s.name}`" @click="drop(s)">Remove</button>
    </li>
  </ol>
  <p v-if="bench_wrong && !only" class="ember" role="alert">{{ bench_wrong }}</p>
</template>

<style scoped>
ol { list-style: none; padding: 0; margin: 4px 0; }
li { border-left: 4px solid var(--rule); padding: 2px 0 4px 10px; margin: 6px 0; position: relative; }
li.open { border-color: var(--amber); }
.tick { width: 100%; min-height: 40px; display: flex; gap: 10px; align-items: center; }
.tick svg { flex: none; }
.long { margin-left: 8px; }
.said { margin-left: auto; text-align: right; }
.note { margin: 0 0 0 36px; color: var(--ink2); }
.off { margin-left: 36px; color: var(--ink2); }
.ember { color: var(--ember); }
</style>
