<script setup lang="ts">
import { computed } from 'vue'
import type { Bit, Operation, Split } from '../api/types'
import NumberLine from '../fields/NumberLine.vue'
import { edit, open, set } from '../route/store'
import { length, minutes } from '../units/format'

/** How a pocket is cleared: by rings, or with no more than an arc of the bit's rim in wood; the bit from above with that arc. */
const props = defineProps<{ operation: Operation; bit: Bit; splits?: Split[] }>()
const path = computed(() => `operations.${props.operation.id}`)
const engaged = computed(() => props.operation.clearing === 'engaged')
const R = 26
/** Taken from the side, in parts of the radius, with the wood above the bit that runs to the right. */
const side = computed(() => (engaged.value ? 1 - Math.cos((props.operation.engaged_deg * Math.PI) / 180) : Math.min(2, (2 * props.operation.settings.stepover_mm) / props.bit.diameter_mm)))
const arc = computed(() => Math.acos(1 - side.value))
const wood_y = computed(() => -R + side.value * R)
const tip = computed(() => [R * Math.sin(arc.value), -R * Math.cos(arc.value)])
const side_mm = computed(() => (side.value * props.bit.diameter_mm) / 2)
const name_of = (id: string) => open.state?.document.bits.find((b) => b.id === id)?.name ?? id
/** The wide bit that goes before this one now; null where this one clears all. */
const first = computed(() => (props.operation.rest ? open.state?.document.operations.find((o) => o.id === `${props.operation.id.slice(0, 34)}_1st`)?.bit ?? null : null))
/** The operation that takes the rest of this one. */
const after = computed(() => open.state?.document.operations.find((o) => o.rest && `${o.id.slice(0, 34)}_1st` === props.operation.id))
function share(bit: string | null) {
  if (bit !== first.value) void edit([{ do: 'choose_rest', operation: props.operation.id, first: bit }], bit ? `${name_of(bit)} first, then the rest` : 'One bit for all of it')
}
function choose(clearing: string) {
  if (clearing !== props.operation.clearing) void edit([{ do: 'choose_clearing', operation: props.operation.id, clearing }], clearing === 'engaged' ? 'Clear with a bounded engagement' : 'Clear by rings')
}
</script>

<template>
  <div class="clearing">
    <div class="choice" role="radiogroup" aria-label="How it is cleared">
      <button v-for="c in [['rings', 'By rings'], ['engaged', 'Bounded engagement']]" :key="c[0]" role="radio" :aria-checked="operation.clearing === c[0]" :class="{ on: operation.clearing === c[0] }" @click="choose(c[0])">{{ c[1] }}</button>
    </div>
    <div class="row">
      <svg viewBox="-40 -40 92 80" width="104" height="90" role="img" :aria-label="`The bit from above: ${Math.round((arc * 180) / Math.PI)} degrees of its rim in wood, ${length(side_mm, 1)} from the side`">
        <g :transform="operation.direction === 'climb' ? 'scale(1 -1)' : undefined">
        <path :d="`M-40 -40H52V${wood_y.toFixed(1)}H${tip[0].toFixed(1)}A${R} ${R} 0 0 0 0 ${-R}H-40Z`" fill="var(--alder)" />
        <circle :r="R" fill="none" stroke="currentColor" stroke-width="1.2" />
        <path :d="`M0 ${-R}A${R} ${R} 0 0 1 ${tip[0].toFixed(1)} ${tip[1].toFixed(1)}`" fill="none" stroke="currentColor" stroke-width="4.5" />
        </g>
        <path d="M0 0H18M13 -4L18 0L13 4" fill="none" stroke="currentColor" stroke-width="1.4" />
      </svg>
      <p class="second">{{ engaged ? `Passes wind through the pocket so that at most this arc of the rim meets wood, in corners too.` : `Rings one stepover apart. In corners and in the first ring the bit meets more, up to its whole width.` }} Here <b>{{ length(side_mm, 1) }}</b> from the side.</p>
    </div>
    <div v-if="splits && splits.length > 1" class="splits" role="radiogroup" aria-label="Which bits clear it">
      <button v-for="s in splits" :key="s.first ?? ''" role="radio" :aria-checked="s.first === first" :class="{ on: s.first === first }" @click="share(s.first)">
        <b>{{ s.first ? `${name_of(s.first)} first` : `${bit.name} alone` }}</b>
        <span>{{ s.first ? `${minutes(s.first_min)} min, then ${minutes(s.then_min)} for the rest` : `${minutes(s.then_min)} min` }}{{ s.changes > 0 ? `, ${s.changes} bit change${s.changes > 1 ? 's' : ''} more` : '' }}</span>
      </button>
    </div>
    <p v-if="after" class="second">Goes first; {{ after.name }} takes what it leaves. <button class="plain" @click="edit([{ do: 'choose_rest', operation: after!.id, first: null }], 'One bit for all of it')">Leave all of it to the {{ name_of(after.bit) }}</button></p>
    <template v-if="engaged">
      <NumberLine :path="`${path}.engaged_deg`" :value="operation.engaged_deg" label="Most of the rim" suffix="°" />
      <v-checkbox :model-value="operation.both_ways" label="Both ways, for less air" @update:model-value="(v) => set(`${path}.both_ways`, !!v)" />
    </template>
  </div>
</template>

<style scoped>
.clearing { display: flex; flex-direction: column; gap: 6px; }
.splits { display: flex; flex-direction: column; border: 1px solid var(--edge); }
.splits button { display: flex; flex-direction: column; padding: 4px 8px; min-height: 30px; }
.splits button + button { border-top: 1px solid var(--rule); }
.splits .on { box-shadow: inset 0 0 0 2px var(--ink); }
.row { display: grid; grid-template-columns: 104px 1fr; gap: 10px; align-items: center; }
p { margin: 0; }
</style>
