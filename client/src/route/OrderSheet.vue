<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import type { OrderOffer } from '../api/types'
import { load_orders, orders } from '../trunk/orders'
import { chosen } from './chosen'
import { minutes } from '../units/format'
import { edit, is_current, open } from './store'

/** Orders that break nothing, each with what it costs. */
const list = ref<HTMLElement>()
onMounted(async () => {
  await load_orders()
  await nextTick()
  list.value?.querySelector<HTMLElement>('[role=radio]')?.focus()
})
watch(() => open.state?.hash, load_orders)
const WORDS: Record<OrderOffer['kind'], [string, string]> = {
  bits: ['Fewest bit changes', 'what one bit can do is done before the next goes in'],
  features: ['One feature after another',
    'each is whole before the next begins, as a fit that is tried at once asks for'],
  rough_first: ['All pockets roughed, then all finished',
    'the wood settles before the last pass along any wall; each last pass is an operation of its own'],
  fine_last: ['Heavy bits first, fine ones last', 'delicate work comes when the heavy cuts are over'],
}
const turned = computed(() => {
  const { turns, turn_min } = orders.value ?? { turns: 0, turn_min: 0 }
  return turns ? `; the piece is turned over ${turns === 1 ? 'once' : `${turns} times`}, ${turns * turn_min} min` : ''
})
const now = computed(() => open.state!.document.operations.map((o) => o.id).join(' '))
const same = (o: OrderOffer) => o.operations.join(' ') === now.value
const by = (o: OrderOffer) => { if (!same(o)) void edit([{ do: 'order_by', by: o.kind }], WORDS[o.kind][0]) }
/** The face worked first, where there is a choice: two setups, one for each face. */
const faces = computed(() => {
  const setups = open.state!.document.setups
  return setups.length === 2 && setups[0].face !== setups[1].face ? setups[0].face : ''
})
function first(face: 'front' | 'back') {
  if (face !== faces.value) void edit([{ do: 'first_face', face }],
    face === 'front' ? 'The front first' : 'The back first')
}
</script>

<template>
  <section class="orders" aria-label="Order of the operations" @keydown.esc.stop="chosen.ordering = false">
    <h2 class="name">Order</h2>
    <template v-if="orders">
      <p>As it stands a bit is put in <b>{{ orders.changes }}</b> times, about <b>{{ orders.minutes }} min</b>{{
        turned }}.
        <template v-if="open.report?.totals && is_current">The machine runs <b>{{
          minutes(open.report.totals.machine_min) }} min</b> in any of them.</template></p>
      <div ref="list" role="radiogroup" aria-label="Orders that break nothing">
        <button v-for="o in orders.offers" :key="o.kind" class="offer" role="radio" :aria-checked="same(o)"
          :class="{ on: same(o) }" @click="by(o)">
          <b>{{ WORDS[o.kind][0] }}</b><span class="second">{{ WORDS[o.kind][1] }}</span>
          <span><b>{{ o.changes }}</b> {{ o.changes === 1 ? 'bit' : 'bits' }} put in, <b>{{ o.minutes }} min</b>{{
            o.more ? `; ${o.more} ${o.more === 1 ? 'operation' : 'operations'} more` : '' }}</span>
        </button>
      </div>
      <p class="second">Each keeps what has to come first: {{ orders.before.length }} pairs, such as the outline last.
        Minutes are a starting figure of {{ orders.change_min }} for each bit.</p>
    </template>
    <p v-else class="second" role="status">Reckoning what has to come before what.</p>
    <div v-if="faces" class="faces">
      <p id="first_face"><b>Worked first</b></p>
      <div class="choice" role="radiogroup" aria-labelledby="first_face">
        <button v-for="f in (['front', 'back'] as const)" :key="f" role="radio" :aria-checked="faces === f"
          :class="{ on: faces === f }" @click="first(f)">{{ f === 'front' ? 'The front' : 'The back' }}</button>
      </div>
      <p class="second">The first face lies on the flat blank; index holes are made there, and the outline comes last,
        on the other one. Its tabs are proposed anew.</p>
    </div>
    <p class="least">Or drag a row on the trunk, or move it by Alt and an arrow: what that breaks or costs is told while
      it is held.</p>
    <button class="plain" @click="chosen.ordering = false">Back to the operation</button>
  </section>
</template>

<style scoped>
.orders { display: flex; flex-direction: column; gap: 10px; }
.name { font-size: 22px; }
p { margin: 0; }
.offer { display: flex; flex-direction: column; gap: 2px; width: 100%; padding: 7px 9px; border: 1px solid var(--rule);
  margin-bottom: -1px; line-height: 1.25; }
.offer.on { border: 2px solid var(--ink); position: relative; }
</style>
