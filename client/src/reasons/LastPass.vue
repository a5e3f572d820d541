<script setup lang="ts">
import { computed } from 'vue'
import type { LastBit, Operation } from '../api/types'
import { edit, open } from '../route/store'

/** Which bit takes the last pass along a wall: the one that roughs it, or another after it. */
const props = defineProps<{ operation: Operation; bits: LastBit[] | undefined }>()
const last = computed(() => open.state!.document.operations.find((o) => o.finishes === props.operation.id))
const name_of = (id: string) => open.state!.document.bits.find((b) => b.id === id)?.name ?? id
const of_bit = (b: LastBit) => (b.bit === props.operation.bit ? ', later, in an operation of its own'
  : b.same ? ', of the same width' : '')
const items = computed(() => [{ title: `${name_of(props.operation.bit)}, as it roughs`, value: '' },
  ...(props.bits ?? []).map((b) => ({ title: `${name_of(b.bit)}${of_bit(b)}`, value: b.bit }))])
function choose(bit: string) {
  if (bit === (last.value?.bit ?? '')) return
  void edit([{ do: 'finish_with', operation: props.operation.id, bit: bit || null }], 'The last pass')
}
</script>

<template>
  <v-select v-if="bits?.length || last" :model-value="last?.bit ?? ''" :items="items" label="Bit of the last pass"
    @update:model-value="choose" />
  <p v-else-if="bits && operation.kind === 'profile'" class="least">No other flat bit of this job runs in its kerf and
    is long enough for a last pass. Bits come from the rack.</p>
</template>

<style scoped>
p { margin: 0; }
</style>
