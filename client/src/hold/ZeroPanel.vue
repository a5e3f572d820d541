<script setup lang="ts">
import { computed, onMounted, reactive, ref, watch } from 'vue'
import { api } from '../api/client'
import type { Offset, JobRow, Setup } from '../api/types'
import EditField from '../fields/EditField.vue'
import NumberField from '../fields/NumberField.vue'
import { open, set } from '../route/store'
import ZeroSteps from '../run/ZeroSteps.vue'

/** Where a setup's zero lies, how it is found, step by step, and the work offset of the machine it is kept in. */
const props = defineProps<{ setup: Setup }>()
const zs = computed(() => [{ title: props.setup.sheet_mm ? 'Sheet of scrap' : 'Waste board', value: 'bed' },
  { title: 'Top of the blank', value: 'stock_top' }])
const xys = [{ title: 'Lower left corner', value: 'lower_left' }, { title: 'Centre of the blank', value: 'centre' }]
const machine = computed(() => open.state!.document.machine)
const ways = computed(() => [
  { title: 'Edges, by bit', value: 'edges' }, { title: `Edges, by finder${machine.value.edge_finder_mm ? '' : ': its size stands under Shop'}`, value: 'edge_finder', props: { disabled: !machine.value.edge_finder_mm } },
  { title: `Edges, by probe${machine.value.touch_plate_mm ? '' : ': its plate stands under Shop'}`, value: 'probe', props: { disabled: !machine.value.touch_plate_mm } },
  { title: 'Pin in a hole', value: 'hole', props: { disabled: !open.state!.document.setups.some((s) => s.datum) } }, { title: 'Centre lines', value: 'lines' }, { title: 'Jig in place', value: 'jig' }])
const steps = computed(() => open.report?.run_plan?.setups.find((s) => s.id === props.setup.id)?.zero_steps ?? [])
const offsets = ref<Offset[]>([])
const jigs = ref<JobRow[]>([])
const wrong = ref('')
onMounted(async () => { jigs.value = (await api.routes('', 0).catch(() => ({ count: 0, routes: [] }))).routes.filter((r) => r.piece_kind === 'jig') })
watch(() => machine.value.id, async (id) => { offsets.value = await api.offsets(id).catch(() => []) }, { immediate: true })
const now = computed(() => offsets.value.find((o) => o.number === props.setup.zero.offset))
const draft = reactive({ name: '', refers_to: '', jig: null as number | null, x_mm: null as number | null, y_mm: null as number | null, z_mm: null as number | null })
watch(now, (o) => Object.assign(draft, { name: o?.name ?? '', refers_to: o?.refers_to ?? '', jig: o?.jig ?? null, x_mm: o?.x_mm ?? null, y_mm: o?.y_mm ?? null, z_mm: o?.z_mm ?? null }), { immediate: true })
const changed = computed(() => !!now.value && (Object.keys(draft) as (keyof typeof draft)[]).some((k) => draft[k] !== (now.value![k] ?? (k === 'name' || k === 'refers_to' ? '' : null))))
const items = computed(() => (offsets.value.length ? offsets.value : [1, 2, 3, 4, 5, 6].map((number) => ({ number, word: `G${53 + number}`, name: '' }))).map((o) => ({ title: `${o.word} ${o.name}`.trim(), value: o.number })))
async function keep(checked: boolean) {
  try {
    offsets.value = await api.keep_offset(machine.value.id, props.setup.zero.offset, { ...draft, name: draft.name.trim() || `Offset ${props.setup.zero.offset}`, checked })
    wrong.value = ''
  } catch (error) { wrong.value = (error as Error).message }
}
function park(which: 0 | 1, to: number | null) {
  const now = [...props.setup.park_mm]
  if (to === null || to === now[which]) return
  now[which] = to
  void set(`setups.${props.setup.id}.park_mm`, now)
}
const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
</script>

<template>
  <section>
    <h2>Zero</h2>
    <div class="two"><v-select :model-value="setup.zero.xy" :items="xys" label="X and Y" @update:model-value="(v) => set(`setups.${setup.id}.zero.xy`, v)" /><v-select :model-value="setup.zero.z" :items="zs" label="Z" @update:model-value="(v) => set(`setups.${setup.id}.zero.z`, v)" />
      <v-select :model-value="setup.zero.way" :items="ways" label="Found by" @update:model-value="(v) => set(`setups.${setup.id}.zero.way`, v)" /><v-select :model-value="setup.zero.offset" :items="items" label="Work offset" @update:model-value="(v) => set(`setups.${setup.id}.zero.offset`, v)" /></div>
    <div class="two">
      <template v-if="setup.zero.z === 'stock_top'">
        <EditField :path="`setups.${setup.id}.zero.touch_x_mm`" :value="setup.zero.touch_x_mm" is_length :places="1"
          label="Z touched off at, x" />
        <EditField :path="`setups.${setup.id}.zero.touch_y_mm`" :value="setup.zero.touch_y_mm" is_length :places="1"
          label="Z touched off at, y" /></template>
      <NumberField :model-value="setup.park_mm[0]" negative label="Parks from the corner, x"
        @update:model-value="(v) => park(0, v)" />
      <NumberField :model-value="setup.park_mm[1]" negative label="Parks from the corner, y"
        @update:model-value="(v) => park(1, v)" />
      <EditField :path="`setups.${setup.id}.sheet_mm`" :value="setup.sheet_mm" is_length :places="1"
        label="Sheet of scrap under it" />
    </div>
    <p class="least">On the plan: the square is where it starts and parks{{ setup.zero.z === 'stock_top' ? `, the cross
      where Z is touched off` : '' }}. Drag them, or move them with the arrows.</p>
    <ZeroSteps :steps="steps" />
    <details>
      <summary><b>{{ now?.word }}</b> of {{ machine.name }}: {{ now?.name || 'not named yet' }}<template v-if="now?.name">, {{ now.checked_at ? `checked ${day(now.checked_at)}` : 'never checked here' }}</template></summary>
      <div class="two top"><v-text-field v-model="draft.name" label="Name" maxlength="80" /><v-text-field v-model="draft.refers_to" label="Refers to" placeholder="Corner of the rails" maxlength="200" /></div>
      <v-select v-model="draft.jig" class="top" :items="[{ title: 'No jig', value: null }, ...jigs.map((j) => ({ title: j.name, value: j.id }))]" label="Kept for" />
      <div class="three top"><NumberField v-model="draft.x_mm" label="Machine X" :places="2" />
        <NumberField v-model="draft.y_mm" label="Machine Y" :places="2" />
        <NumberField v-model="draft.z_mm" label="Machine Z" :places="2" /></div>
      <div class="acts top"><button class="cure" :disabled="!changed" @click="keep(false)">Keep</button><button class="cure lead" @click="keep(true)">Checked at the machine today</button></div>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <p class="least">For the shop, not for this job alone: every job on this machine sees it. A change of its place asks for a new check.</p>
    </details>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
.top { margin-top: 10px; }
summary { cursor: pointer; min-height: 28px; }
.acts { display: flex; gap: 10px; flex-wrap: wrap; }
.ember { color: var(--ember); }
</style>
