<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, Operation, RimOffer } from '../api/types'
import NumberLine from '../fields/NumberLine.vue'
import { edit, open } from '../route/store'
import { length } from '../units/format'

/** A pocket or a contour in two depths: another bit cuts the rim first, this one what lies below it. */
const props = defineProps<{ operation: Operation; bit: Bit; offer?: RimOffer | null }>()
const doc = computed(() => open.state!.document)
const name_of = (id: string) => doc.value.bits.find((b) => b.id === id)?.name ?? id
const id_of = (o: Operation) => `${o.id.slice(0, 34)}_rim`
const rim = computed(() => doc.value.operations.find((o) => o.id === id_of(props.operation)))
const below = computed(() => (props.operation.down_to_mm === null ? undefined : doc.value.operations.find((o) => id_of(o) === props.operation.id)))
const down = computed(() => rim.value?.down_to_mm ?? props.operation.down_to_mm ?? 0)
function choose(bit: string | null) {
  if (bit !== (rim.value?.bit ?? null)) void edit([{ do: 'choose_rim', operation: props.operation.id, bit }], bit ? `${name_of(bit)} cuts the rim` : 'One bit all the way down')
}
</script>

<template>
  <div v-if="below || rim || offer?.bits.length">
    <svg v-if="rim || below" viewBox="0 0 120 46" width="120" height="46" role="img" :aria-label="`The rim is cut ${length(down, 1)} deep by one bit, the rest by another`">
      <path d="M0 6H30V40H90V6H120V46H0Z" fill="var(--alder)" /><path :d="`M30 6H90V${6 + 10}H30Z`" fill="none" stroke="currentColor" stroke-width="2.4" /><path d="M30 16V40H90V16" fill="none" stroke="currentColor" stroke-width="1" />
    </svg>
    <p v-if="below">Cuts the rim of {{ below.name }} clean; the {{ name_of(below.bit) }} takes what lies below. Both leave the same on the wall.</p>
    <NumberLine v-if="below" :path="`operations.${operation.id}.down_to_mm`" :value="operation.down_to_mm" label="Rim deep" is_length />
    <div v-else class="splits" role="radiogroup" aria-label="Which bit cuts the rim">
      <button role="radio" :aria-checked="!rim" :class="{ on: !rim }" @click="choose(null)"><b>{{ bit.name }} all the way</b><span>{{ bit.flute === 'up_cut' ? 'it lifts the fibres at the rim' : 'one bit' }}</span></button>
      <button v-for="b in offer?.bits ?? []" :key="b" role="radio" :aria-checked="rim?.bit === b" :class="{ on: rim?.bit === b }" @click="choose(b)"><b>{{ name_of(b) }} for the rim</b><span>{{ length(rim?.bit === b ? down : offer!.down_to_mm, 1) }} deep, then the {{ bit.name }}</span></button>
    </div>
  </div>
</template>

<style scoped>
.splits { display: flex; flex-direction: column; border: 1px solid var(--edge); }
.splits button { display: flex; flex-direction: column; padding: 4px 8px; min-height: 30px; text-align: left; }
.splits button + button { border-top: 1px solid var(--rule); }
.splits .on { box-shadow: inset 0 0 0 2px var(--ink); }
</style>
