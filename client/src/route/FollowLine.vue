<script setup lang="ts">
import { computed, ref } from 'vue'
import { grouped, length, rate, rate_unit } from '../units/format'
import { inside, look, move_to, spot } from './look'
import { open } from './store'

/** Time inside one operation, to be pulled along; what the bit does there. */
const operation = computed(() => open.state?.document.operations[open.step - 1])
const KINDS: Record<string, string> = { rapid: 'rapid move', plunge: 'straight down', entry: 'ramping in', cut: 'cutting', finish: 'finish pass', link: 'crossing cut wood' }
const clock = (s: number) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`
const words = computed(() => {
  const s = spot.value
  const op = operation.value
  if (!s || !op) return ''
  const height = s.z > 0.005 ? `${length(s.z, 1)} over the face` : `${length(-s.z, 1)} deep`
  const feed = s.kind === 'rapid' ? '' : `, ${rate(s.kind === 'plunge' ? op.settings.plunge_mm_min : op.settings.feed_mm_min)} ${rate_unit.value}`
  return `${KINDS[s.kind]}, ${height}${feed}`
})
/** Where the bit goes down a level, as parts of the time. */
const levels = computed(() => {
  const now = inside.value
  if (!now) return []
  const out: number[] = []
  let low = Infinity
  for (let k = 0; k < now.kinds.length; k++) {
    if (now.header.kinds[now.kinds[k]] !== 'cut' || Math.abs(now.points[3 * k + 2] - now.points[3 * k + 5]) > 1e-6) continue
    if (now.points[3 * k + 2] < low - 0.05) { low = now.points[3 * k + 2]; out.push(now.clock[k] / now.seconds) }
  }
  return out.length > 40 ? [] : out
})
const ruler = ref<HTMLInputElement>()
defineExpose({ focus: () => ruler.value?.focus() })
</script>

<template>
  <div class="follow">
    <p v-if="look.waits" class="second" role="status">Following the bit through {{ operation?.name ?? 'the steps: choose one' }}.</p>
    <template v-else-if="inside && spot">
      <div class="ruler">
        <i v-for="(part, k) in levels" :key="k" :style="{ left: `calc(8px + ${part} * (100% - 16px))` }" />
        <input ref="ruler" type="range" min="0" :max="inside.seconds" step="any" :value="look.at_s" :aria-label="`Time inside ${operation?.name}`" :aria-valuetext="`${clock(look.at_s)} of ${clock(inside.seconds)}, ${words}`" @input="(e) => move_to(Number((e.target as HTMLInputElement).value))">
      </div>
      <div class="line"><b>{{ clock(look.at_s) }}</b> <span class="second">of {{ clock(inside.seconds) }}</span><span>{{ words }}</span><span class="gap" /><span class="second">move {{ grouped(spot.move + 1) }} of {{ grouped(inside.kinds.length) }}</span></div>
    </template>
    <p v-else class="second">Choose a step of the trunk to follow its bit.</p>
  </div>
</template>

<style scoped>
.follow { min-height: 50px; }
.follow p { margin: 0; }
.line { display: flex; gap: 8px; white-space: nowrap; }
.gap { flex: 1; }
.ruler { position: relative; height: 24px; border-bottom: 1px solid var(--edge); }
.ruler i { position: absolute; bottom: 0; width: 1px; height: 8px; background: var(--ink); }
input { position: absolute; inset: 0; width: 100%; margin: 0; accent-color: var(--ink); }
</style>
