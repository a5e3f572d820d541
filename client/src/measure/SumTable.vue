<script setup lang="ts">
import { computed } from 'vue'
import type { Derivation } from '../api/types'
import MineTap from '../fields/MineTap.vue'
import { open } from '../route/store'
import { say, unit } from '../units/format'
import { sum_shown } from '../units/sums'

/** A sum with its terms. Each term's name opens to where it comes from; what nobody said looks like it. */
const props = defineProps<{ of: Derivation }>()
const shown = computed(() => sum_shown(props.of.terms.map((t) => t.value_mm), props.of.value_mm, unit.value))
const guessed = (path: string | null) => open.state?.drawing.assumed.find((a) => a.path === path)
type Term = Derivation['terms'][number]
function came(t: Term): string {
  const [part, place] = (t.place ?? '').split('.')
  const read = open.state?.drawing.parts.find((p) => p.id === part)?.places.find((p) => p.place === place)
  if (t.value_mm === null) return read ? 'Not measured yet. It is on the list above.' : 'Nobody has said it yet.'
  if (read) {
    const count = read.values_mm.length
    const taken = `${count} reading${count === 1 ? '' : 's'}`
    return read.told ? 'It came with a file and was not taken here.' : `The middle of ${taken}, in this shop.`
  }
  if (t.origin === 'assumed') return `It rests on ${guessed(t.path)?.words ?? 'what nobody has said'}.`
  return t.origin === 'computed' ? 'Computed from the others, or from what is drawn.' : 'It was said for this job.'
}
const WORDS: Record<string, string> = { measured: 'measured', assumed: 'assumed', told: 'said', computed: '' }
</script>

<template>
  <table>
    <tbody>
      <tr v-for="(t, k) in of.terms" :key="t.label" :class="{ assumed: t.origin === 'assumed' }">
        <td>
          <v-menu location="bottom start" max-width="340">
            <template #activator="{ props: tap }">
              <button v-bind="tap" type="button" class="tap" title="Where this comes from">{{ t.label }}</button>
            </template>
            <p class="told" role="dialog" :aria-label="`Where ${t.label.toLowerCase()} comes from`">{{
              say(came(t)) }}</p>
          </v-menu>
          <span v-if="WORDS[t.origin]" class="least came">{{ WORDS[t.origin] }}</span>
          <MineTap v-if="guessed(t.path)" :of="guessed(t.path)!" />
        </td>
        <td>{{ shown.terms[k] }}</td>
      </tr>
    </tbody>
    <tfoot><tr><td>{{ of.label }}</td><td>{{ shown.total }}</td></tr></tfoot>
  </table>
</template>

<style scoped>
table { border-collapse: collapse; width: 100%; }
td { padding: 0; line-height: 1.3; }
td:last-child { text-align: right; font-weight: 600; white-space: nowrap; }
tfoot td { border-top: 1.3px solid var(--ink); font-weight: 700; font-size: 16px; }
.tap {
  font: inherit; color: inherit; padding: 0 5px 0 0; min-height: 24px; text-align: left; cursor: help;
  text-decoration: underline dotted; text-decoration-color: var(--ink3); text-underline-offset: 3px;
}
.came { margin-right: 6px; }
.assumed td:last-child { font-weight: 400; font-style: italic; color: var(--ink2); }
.told {
  margin: 0; background: var(--bark); color: var(--ink); border: 1.5px solid var(--edge); padding: 10px 12px;
  font-size: 14.5px; line-height: 1.35;
}
</style>
