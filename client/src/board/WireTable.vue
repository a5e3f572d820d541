<script setup lang="ts">
import { ref } from 'vue'
import type { BoardView } from '../api/types'
import EditField from '../fields/EditField.vue'
import { set } from '../route/store'
import { length, typed, unit } from '../units/format'
import { WIRE, number_at, type Numbers } from './fields'

/** What a fret wire measures: told from its packet, or read by the caliper on several pieces of it. */
const props = defineProps<{ board: Numbers; view: BoardView }>()
type Readings = Record<string, number[]>
const readings = () => ((props.board.wire as Numbers).readings ?? {}) as unknown as Readings
const shown = (key: string) => (readings()[key] ?? []).map((v) => length(v)).join('; ')
const wrong = ref<Record<string, string>>({})
async function keep(key: string, text: string) {
  wrong.value = { ...wrong.value, [key]: '' }
  if (text.trim() === shown(key)) return
  const out: number[] = []
  for (const one of text.split(/[;\n]| (?=[\d.,]+(?: |$))/).map((t) => t.trim()).filter(Boolean)) {
    const read = typed(one, 'length')
    if ('wrong' in read) { wrong.value = { ...wrong.value, [key]: read.wrong }; return }
    out.push(Math.round(read.value * 10000) / 10000)
  }
  const { [key]: _, ...rest } = readings()
  await set('piece.board.wire.readings', out.length ? { ...rest, [key]: out } : rest)
}
</script>

<template>
  <table class="wire">
    <thead><tr><th>Fret wire</th><th>Told, from its packet</th><th>Read, by the caliper</th><th>Counts</th></tr></thead>
    <tbody><tr v-for="f in WIRE" :key="f.key">
      <th scope="row">{{ f.label }}</th>
      <td><EditField v-if="!shown(f.key)" :path="`piece.board.wire.${f.key}`"
        :value="number_at(board, `wire.${f.key}`)" :label="f.label" is_length bare /></td>
      <td><v-text-field :model-value="shown(f.key)" :aria-label="`Readings of: ${f.label}`" variant="underlined"
        :suffix="unit === 'mm' ? 'mm' : ''" placeholder="0.58; 0.57" autocomplete="off" spellcheck="false"
        :error-messages="wrong[f.key]" @change="(e: Event) => keep(f.key, (e.target as HTMLInputElement).value)" /></td>
      <td class="num">{{ length(number_at(board, `wire.${f.key}`)) }}<template v-if="view.spreads[f.key]">,
        {{ length(view.spreads[f.key]) }} apart</template></td>
    </tr></tbody>
  </table>
  <p class="least">Several readings, with a semicolon between them: their mean counts, and how far they lie apart is
    judged against what a slot has to play.</p>
</template>

<style scoped>
.wire { width: 100%; border-collapse: collapse; }
.wire th { text-align: left; font-weight: 400; color: var(--ink2); padding: 2px 8px 2px 0; }
.wire td { padding: 2px 8px 2px 0; vertical-align: top; }
.wire td:nth-child(2) { width: 26%; }
.wire td:nth-child(3) { width: 34%; }
.num { white-space: nowrap; padding-top: 12px; }
</style>
