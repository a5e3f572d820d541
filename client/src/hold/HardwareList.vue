<script setup lang="ts">
import { computed } from 'vue'
import type { Hardware, Setup } from '../api/types'
import EditField from '../fields/EditField.vue'
import MineTap from '../fields/MineTap.vue'
import { edit, open, set } from '../route/store'
import { length, unit } from '../units/format'
import { KINDS, fresh, is_about, is_round, lies_under, name_of, presses } from './hardware'

/** What holds the blank in a setup, with what it bears; more of it. */
const props = defineProps<{ setup: Setup; chosen: string }>()
const emit = defineEmits<{ choose: [id: string] }>()
const path = (h: Hardware, field: string) => `setups.${props.setup.id}.hardware.${h.id}.${field}`
function add(kind: Hardware['kind']) {
  const h = fresh(kind, open.state!.document.blank, new Set(props.setup.hardware.map((x) => x.id)))
  void edit([{ do: 'put_hardware', setup: props.setup.id, hardware: h }], `Add ${KINDS.find((k) => k.kind === kind)!.name.toLowerCase()} ${h.id}`)
  emit('choose', h.id)
}
const one = computed(() => props.setup.hardware.find((h) => h.id === props.chosen))
const thick = computed(() => (one.value ? open.report?.setups?.find((s) => s.id === props.setup.id)?.spacers?.[one.value.id] : undefined))
const later = computed(() => (open.state?.document.setups ?? []).findIndex((s) => s.id === props.setup.id) > 0)
const nest = computed(() => open.report?.setups?.find((s) => s.id === props.setup.id)?.nest ?? null)
const rib = computed(() => (one.value ? open.report?.setups?.find((s) => s.id === props.setup.id)?.supports?.[one.value.id] : undefined))
const bar = computed(() => (one.value ? open.report?.setups?.find((s) => s.id === props.setup.id)?.vacuum?.[one.value.id] : undefined))
const guessed = (h: Hardware) => open.state?.drawing.assumed.find(
  (a) => a.path === `setups.${props.setup.id}.hardware.${h.id}`)
const unsaid = computed(() => props.setup.hardware.filter(guessed).length)
const mean_all = () => edit([{ do: 'say_mine', path: `setups.${props.setup.id}.hardware` }], 'They stand as meant')
const kind = computed(() => KINDS.find((k) => k.kind === one.value?.kind))
</script>

<template>
  <section>
    <table>
      <tbody>
        <tr v-for="h in setup.hardware" :key="h.id" :class="{ chosen: h.id === chosen }" @focusin="emit('choose', h.id)">
          <td><button class="plain" @click="emit('choose', h.id)">{{ name_of(h) }}</button>
            <MineTap v-if="guessed(h)" :of="guessed(h)!" /></td>
          <td><EditField :path="path(h, 'x_mm')" :value="h.x_mm" label="x" is_length :places="1" /></td>
          <td><EditField :path="path(h, 'y_mm')" :value="h.y_mm" label="y" is_length :places="1" /></td>
          <td><EditField v-if="!lies_under(h.kind)" :path="path(h, 'top_mm')" :value="h.top_mm" label="top" is_length :places="1" /></td>
          <td><button class="plain" :aria-label="`Take ${h.id} away`" @click="edit([{ do: 'remove_hardware', setup: setup.id, hardware: h.id }], `Remove ${h.id}`)">✕</button></td>
        </tr>
      </tbody>
    </table>
    <p v-if="unsaid > 1" class="second">{{ unsaid }} of them stand where a rule put them; nobody said so.
      <button class="plain" @click="mean_all">They stand as I mean it</button></p>
    <p v-if="!setup.hardware.length" class="word">Nothing holds the blank yet. Four screws in the waste, a hand’s breadth from the corners, are a good beginning.</p>
    <p class="least">Top: highest point above the blank’s top; minus is below it.</p>
    <div v-if="one && kind" class="one">
      <h2>{{ name_of(one) }}</h2>
      <p class="second">{{ kind.why }}</p>
      <template v-if="one.kind === 'spacer'">
        <v-checkbox :model-value="one.shaped" label="Its upper side is cut to the face that lies on it" @update:model-value="(v: unknown) => set(path(one!, 'shaped'), !!v)" />
        <p
          v-if="one.shaped && rib?.length">Ribs from <b>{{ length(Math.min(...rib.map(([, z]) => z)), 1) }}</b> to <b>{{ length(Math.max(...rib.map(([, z]) => z)), 1) }}</b> high along it. Side views, 1:1: <a
          v-for="f in ['svg', 'dxf']" :key="f"
          :href="`/api/routes/${open.state?.route}/supports/${setup.id}/${f}?unit=${unit}`"
          download>{{ f.toUpperCase() }} </a></p>
        <p v-else-if="thick !== undefined">It has to be <b>{{ length(thick, 1) }}</b> thick.</p>
      </template>
      <div class="three">
        <EditField v-if="one.kind === 'screw'" :path="path(one, 'grip_mm')" :value="one.grip_mm" label="In the board" is_length :places="1" placeholder="assumed" persistent-placeholder />
        <EditField v-if="is_round(one.kind)" :path="path(one, 'head_diameter_mm')" :value="one.head_diameter_mm" :label="one.kind === 'pin' ? 'Across' : 'Head across'" is_length :places="1" />
        <EditField v-if="presses(one.kind)" :path="path(one, 'press_n')" :value="one.press_n" label="Presses with" suffix="N" placeholder="assumed" persistent-placeholder />
        <EditField v-if="one.kind === 'vacuum'" :path="path(one, 'pressure_bar')" :value="one.pressure_bar" label="Pressure" suffix="bar" :placeholder="bar !== undefined && open.state?.document.machine.pump ? bar.toFixed(2) : 'assumed'" persistent-placeholder />
        <EditField v-if="!is_round(one.kind)" :path="path(one, 'width_mm')" :value="one.width_mm" :label="is_about(one.kind) ? 'Wide' : 'Along the edge'" is_length :places="1" />
        <EditField v-if="!is_round(one.kind)" :path="path(one, 'length_mm')" :value="one.length_mm" :label="is_about(one.kind) ? 'Long' : 'Reaches out'" is_length :places="1" />
        <EditField v-if="one.kind === 'vice'" :path="path(one, 'opens_mm')" :value="one.opens_mm" label="Between jaws" is_length :places="1" />
        <EditField v-if="one.kind === 'vice'" :path="path(one, 'grip_mm')" :value="one.grip_mm" label="Jaws high" is_length :places="1" placeholder="assumed" persistent-placeholder />
        <EditField v-if="is_about(one.kind)" :path="path(one, 'angle_deg')" :value="one.angle_deg" label="Turned" suffix="°" />
      </div>
      <template v-if="one.kind === 'vacuum'"><v-checkbox :model-value="one.porous" label="On a sheet that is not sealed" @update:model-value="(v: unknown) => set(path(one!, 'porous'), !!v)" />
        <p v-if="bar !== undefined" class="second">{{ one.pressure_bar ? 'Measured' : open.state?.document.machine.pump ? 'By the pump’s curve and these leaks' : 'Assumed, until you measure it or describe the pump under Shop' }}: <b>{{ bar.toFixed(2) }} bar</b> over {{ (one.length_mm * one.width_mm / 100).toFixed(0) }} cm² presses with {{ Math.round(bar * 0.1 * one.length_mm * one.width_mm) }} N.</p></template>
      <v-checkbox v-if="one.kind === 'tape'" :model-value="one.glued" label="Two strips with glue between" @update:model-value="(v: unknown) => set(path(one!, 'glued'), !!v)" />
    </div>
    <template v-if="later">
      <v-checkbox :model-value="!!setup.nest" label="It lies in a nest cut to its outline, without its waste" @update:model-value="(v: unknown) => set(`setups.${setup.id}.nest`, v ? {} : null)" />
      <div v-if="setup.nest" class="three"><EditField :path="`setups.${setup.id}.nest.deep_mm`" :value="setup.nest.deep_mm" label="Nest deep" is_length :places="1" /><EditField :path="`setups.${setup.id}.nest.play_mm`" :value="setup.nest.play_mm" label="Play all round" is_length /><EditField :path="`setups.${setup.id}.nest.bit_mm`" :value="setup.nest.bit_mm" label="Its bit" is_length :places="1" /></div>
      <p v-if="nest" class="second">Its wall bears to every side and holds nothing down: tape or clamps do. {{ nest.tips.length ? `${nest.tips.length} tips are sharper than that bit: it is led on there.` : 'That bit reaches every tip of the outline.' }}</p>
    </template>
    <h2>Add</h2>
    <div class="acts"><button v-for="k in KINDS" :key="k.kind" class="cure" :title="k.why" @click="add(k.kind)">{{ k.name }}</button></div>
    <p class="least">What each bears are working values, unverified, until you type your own: {{ setup.hardware.some((h) => h.kind === 'vacuum') ? 'measure the vacuum with the wood on it' : 'a spring balance tells what a clamp presses with' }}. Friction counts on what is pressed only, the wood’s own weight not at all.</p>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
table { border-collapse: collapse; width: 100%; }
td { padding: 3px 3px 3px 0; white-space: nowrap; }
td:first-child { max-width: 110px; }
table :deep(.v-text-field__suffix) { display: none; }
tr.chosen td:first-child { font-weight: 700; box-shadow: inset 4px 0 0 var(--moss); padding-left: 8px; }
.one { border-top: 1px solid var(--rule); padding-top: 8px; display: flex; flex-direction: column; gap: 8px; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
.acts { display: flex; flex-wrap: wrap; gap: 8px; }
</style>
