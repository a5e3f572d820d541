<script setup lang="ts">
import { computed } from 'vue'
import type { Setup, TestPair } from '../api/types'
import { edit, open, set } from '../route/store'
import NumberField from '../fields/NumberField.vue'
import { length } from '../units/format'

/** How a setup is found: what caliper and touch-off should read, what each datum is good for, and the readings of a test pair. */
const props = defineProps<{ setup: Setup; turned: boolean }>()
const told = computed(() => open.report?.setups?.find((s) => s.id === props.setup.id))
const drilled = computed(() => open.state!.document.piece.features.some((f) => f.id === 'test_holes_back'))
const pair = computed(() => props.setup.test_pair)
const axis = computed(() => (props.setup.turned_about === 'width' ? 'width' : 'length'))
/** What the core makes of the readings. */
const judged = computed(() => told.value?.pair ?? null)
const FIELDS: [keyof TestPair, string][] = [['first_along_mm', 'First, along'], ['first_across_mm', 'First, across'], ['second_along_mm', 'Second, along'], ['second_across_mm', 'Second, across']]
function keep(change: Partial<TestPair>) {
  const fresh = { apart_mm: Math.round((open.state?.document.blank.width_mm ?? 300) - 60), first_along_mm: 0, first_across_mm: 0, second_along_mm: 0, second_across_mm: 0 }
  void set(`setups.${props.setup.id}.test_pair`, { ...fresh, ...pair.value, ...change })
}
</script>

<template>
  <div v-if="told" class="found">
    <table>
      <thead><tr><th>What you should measure</th><th>piece</th><th>face over zero</th></tr></thead>
      <tbody><tr v-for="(e, k) in told.ledger" :key="k"><td>{{ e.when }}</td><td>{{ length(e.piece_mm) }}</td><td>{{ length(e.face_over_zero_mm) }}</td></tr></tbody>
    </table>
    <p v-for="l in told.chain.links" :key="l.what" class="link"><b>{{ l.what }}</b> <span>{{ l.by }}</span><span class="gap" /><span>±{{ length(l.off_mm) }}</span></p>
    <p v-if="turned">The two faces should agree within <b>{{ length(told.chain.plan_mm) }}</b> at the outside and <b>{{ length(told.chain.z_mm) }}</b> in depth. <span class="least">From starting figures{{ pair ? ' and your test pair' : '' }}.</span></p>
    <template v-if="turned">
      <details :open="!!pair">
        <summary>Test pair of holes{{ pair ? '' : ': measure what this machine is off' }}</summary>
        <p class="second">In scrap, drill two holes half deep, one on either side of the turning axis; turn it over, drill them again. Say how far each second half stands from the first: along the {{ axis }} toward the tail is plus, across it toward the treble side is plus.</p>
        <div class="pair"><NumberField :model-value="pair?.apart_mm ?? null" label="Holes apart"
          @update:model-value="(mm) => mm && keep({ apart_mm: mm })" /><template v-if="pair">
          <NumberField v-for="[key, name] in FIELDS" :key="key" :model-value="pair[key]" :label="name" :places="2"
          @update:model-value="(mm) => keep({ [key]: mm ?? 0 })" /></template></div>
        <p v-if="!pair"><button class="cure" @click="keep({})">I have measured a pair</button> <button v-if="!drilled" class="plain" @click="edit([{ do: 'add_test_holes', setup: setup.id }], 'Drill a pair of test holes')">Drill a pair in this blank’s waste</button><span v-else class="second">This route drills one in the waste.</span></p>
        <template v-if="judged">
          <p>The programs of this setup are moved by <b>{{ length(-judged.along_mm) }}</b> along and <b>{{ length(-judged.across_mm) }}</b> across, so that its cuts meet those of the first face. The turning axis stands {{ length(Math.abs(judged.axis_mm)) }} beside the one in mind.</p>
          <p>The axes are <b>{{ Math.abs(judged.square_deg).toFixed(3) }}°</b> out of square; no shift mends that, squaring the gantry does.</p>
          <p><button class="plain" @click="set(`setups.${setup.id}.test_pair`, null)">Forget the pair</button></p>
        </template>
      </details>
    </template>
  </div>
</template>

<style scoped>
p { margin: 3px 0; }
table { border-collapse: collapse; width: 100%; }
th { text-align: left; font-weight: 400; color: var(--ink3); }
td:not(:first-child), th:not(:first-child) { text-align: right; padding-left: 10px; white-space: nowrap; }
.link { display: flex; gap: 6px; }
.gap { flex: 1; }
.pair { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; margin: 8px 0; }
summary { cursor: pointer; min-height: 24px; }
</style>
