<script setup lang="ts">
import { computed } from 'vue'
import NumberLine from '../fields/NumberLine.vue'
import OriginTap from '../fields/OriginTap.vue'
import { chosen } from '../route/chosen'
import { edit, is_current, open, set, take_cure, type Lettered } from '../route/store'
import { few } from '../units/few'
import { fine, grouped, length, minutes } from '../units/format'
import TrustMark from '../marks/TrustMark.vue'
import BrokenBit from '../board/BrokenBit.vue'
import ClearingChoice from './ClearingChoice.vue'
import FeatureShape from './FeatureShape.vue'
import GaugeMark from './GaugeMark.vue'
import LastPass from './LastPass.vue'
import OutlineChoice from './OutlineChoice.vue'
import SettingsTrust from './SettingsTrust.vue'
import RidgeMark from './RidgeMark.vue'
import RimChoice from './RimChoice.vue'
import SpentMark from './SpentMark.vue'
import TearMark from './TearMark.vue'

const props = defineProps<{ index: number; findings: Lettered[] }>()
const doc = computed(() => open.state!.document)
const operation = computed(() => doc.value.operations[props.index])
const path = computed(() => `operations.${operation.value.id}`)
const bit = computed(() => doc.value.bits.find((b) => b.id === operation.value.bit)!)
const report = computed(() => open.report?.operations.find((o) => o.id === operation.value.id))
const here = computed(() => props.findings.filter((f) => f.operation === operation.value.id))
/** Findings with no figure of their own below. */
const others = computed(() => here.value.filter((f) => f.code !== 'settings.chip_load'))
const of_code = (code: string) => here.value.find((f) => f.code === code)
const why = (field: string) => (operation.value.told.includes(field) ? 'set by hand' : operation.value.reasons[field])
const chip = computed(() => of_code('settings.chip_load'))
const windowed = computed(() => report.value?.chip_window_mm ?? null)
const is_surface = computed(() => operation.value.kind.startsWith('surface'))
const is_drill = computed(() => operation.value.kind === 'drill')
const is_slots = computed(() => operation.value.features.includes('fret_slots')) // to and fro along each, its own way
/** A pocket that something fits into may be crept up on. */
const fitted = computed(() => operation.value.kind === 'pocket' && !operation.value.wall_only && open.state?.drawing.solids.find((s) => s.id === operation.value.features[0])?.finish_class === 'fitted')
const creeps = computed(() => doc.value.operations.filter((o) => o.wall_only && o.id.startsWith(`${operation.value.id.slice(0, 31)}_creep`)).length)
/** It only runs along a wall that another has made; or another does after it. */
const along_wall = computed(() => operation.value.wall_only || operation.value.finishes !== null)
const is_rim = computed(() => operation.value.down_to_mm !== null)
const finisher = computed(() => doc.value.operations.find((o) => o.finishes === operation.value.id))
const roughed = computed(() => doc.value.operations.find((o) => o.id === operation.value.finishes)?.name)
const creep = (passes: number, what: string) =>
  edit([{ do: 'creep', operation: operation.value.id, passes }], what)
const through = computed(() => open.state?.drawing.solids.find((s) => s.id === operation.value.features[0])?.floor_mm === null)
const bits = computed(() => doc.value.bits.map((b) => ({ title: b.name, value: b.id })))
const directions = [{ title: 'Climb', value: 'climb' }, { title: 'Conventional', value: 'conventional' }]
const entries = [{ title: 'Helix', value: 'helix' }, { title: 'Ramp', value: 'ramp' }, { title: 'Straight plunge', value: 'plunge' }]
</script>

<template>
  <section v-if="operation" class="reasons" :aria-label="`Reasons for ${operation.name}`">
    <h2 class="name">{{ operation.name }}</h2>
    <v-select class="bit" :model-value="operation.bit" :items="bits" label="Bit" @update:model-value="(v) => set(`${path}.bit`, v)" />
    <p class="second">{{ bit.flutes }} flutes, {{ length(bit.stickout_mm, 0) }} out.{{ operation.reasons.bit ? ` Chosen: ${operation.reasons.bit}.` : '' }}</p>

    <p v-if="report && report.rests_on.trust !== 'told'" class="second rests"><TrustMark
      :trust="report.rests_on.trust" /> {{
      report.rests_on.never.length ? `Never measured: ${few(report.rests_on.never, 3)}.` :
      report.rests_on.once.length ? `Measured only once: ${few(report.rests_on.once, 3)}.` :
      'Rests on readings taken twice or more.' }}</p>

    <SettingsTrust v-if="!is_drill" :operation="operation.id" />

    <p v-if="!is_current && report" class="of-before-said" role="status">What is computed below is of
      before the last change.</p>
    <div v-for="f in others" :key="f.letter" class="figure told" :class="[f.severity, { 'of-before': !is_current }]"
      :inert="!is_current">
      <p class="word">{{ f.sentence }}</p>
      <button v-for="c in f.cures.slice(0, 1)" :key="c.sentence" class="cure lead"
        @click="take_cure(f, c)">{{ c.sentence }}</button>
    </div>

    <div class="figure">
      <template v-if="report && !is_drill">
        <div class="head"><OriginTap of="chip"><b>Chip load</b></OriginTap><b :class="{ care: chip }">{{ fine(report.chip_load_mm) }}</b></div>
        <GaugeMark v-if="windowed" :value="report.chip_load_mm" :low="windowed[0]" :high="windowed[1]"
          :words="`Chip load ${fine(report.chip_load_mm)}, window ${fine(windowed[0])} to ${fine(windowed[1])}`" />
        <p v-if="chip" class="word">{{ chip.sentence }}</p>
        <button v-for="c in chip?.cures.slice(0, 1) ?? []" :key="c.sentence" class="cure lead" :disabled="!is_current"
          @click="take_cure(chip!, c)">{{ c.sentence }}</button>
      </template>
      <NumberLine v-if="!is_drill" origin="feed" :path="`${path}.settings.feed_mm_min`" :value="operation.settings.feed_mm_min" label="Feed rate" is_rate :why="why('feed_mm_min')" />
      <NumberLine origin="speed" :path="`${path}.settings.speed_rpm`" :value="operation.settings.speed_rpm" label="Spindle speed" suffix="rpm" :why="why('speed_rpm')" />
      <NumberLine v-if="is_drill" origin="plunge" :path="`${path}.settings.plunge_mm_min`" :value="operation.settings.plunge_mm_min" label="Plunge rate" is_rate :why="why('plunge_mm_min')" />
      <NumberLine v-if="is_drill" :path="`${path}.peck_mm`" :value="operation.peck_mm" label="Peck" is_length />
    </div>

    <div v-if="!is_drill" class="figure">
      <template v-if="report">
        <div class="head"><OriginTap of="bend"><b>Bit bend</b></OriginTap><b :class="{ care: of_code('settings.bend') }">{{ fine(report.bend_mm) }}</b></div>
        <GaugeMark :value="report.bend_mm" :high="report.bend_most_mm" :words="`Bend ${fine(report.bend_mm)}`" />
        <p class="second"><OriginTap of="force">Cutting force</OriginTap> <b>{{ grouped(report.force_n) }} N</b>, <OriginTap of="power">power</OriginTap> <b :class="{ care: of_code('settings.power') }">{{ grouped(report.power_w) }}</b> of {{ grouped(doc.machine.power_w) }} W, where <OriginTap of="met">the wood was</OriginTap> {{ length(report.depth_met_mm, 1) }} deep and {{ length(report.side_engagement_mm, 1) }} wide.</p>
      </template>
      <NumberLine origin="depth" :path="`${path}.settings.depth_of_cut_mm`" :value="operation.settings.depth_of_cut_mm" label="Depth of cut" is_length :why="why('depth_of_cut_mm')" />
      <NumberLine v-if="!['profile', 'edge'].includes(operation.kind) && operation.clearing !== 'engaged'" origin="stepover" :path="`${path}.settings.stepover_mm`" :value="operation.settings.stepover_mm" label="Stepover" is_length :why="why('stepover_mm')" />
    </div>

    <RidgeMark v-if="operation.kind === 'surface_finish'" class="figure" :operation="operation" :ridges="report?.ridges" />
    <ClearingChoice v-if="operation.kind === 'pocket' && !along_wall" class="figure" :operation="operation"
      :bit="bit" :splits="report?.splits ?? undefined" />
    <RimChoice
      v-if="['pocket', 'profile'].includes(operation.kind) && !is_slots && !along_wall && !operation.rest && !finisher"
      class="figure"
      :operation="operation" :bit="bit" :offer="report?.rim" />
    <LastPass v-if="operation.kind === 'pocket' && !along_wall" class="figure" :operation="operation"
      :bits="report?.last_bits ?? undefined" />
    <OutlineChoice v-if="operation.kind === 'profile' && through && !operation.finishes && !is_rim" class="figure"
      :operation="operation"
      :schools="report?.schools ?? undefined" :bits="report?.last_bits ?? undefined"
      :places="report?.tab_places ?? undefined" />
    <div v-if="is_surface" class="figure">
      <NumberLine :path="`${path}.pass_deg`" :value="operation.pass_deg" label="Passes run" suffix="°" why="from the piece’s length as it lies; across a slope is best" />
      <NumberLine :path="`${path}.floor_to_leave_mm`" :value="operation.floor_to_leave_mm" label="Left on the surface" is_length />
    </div>
    <p v-if="is_slots" class="figure second">{{ operation.reasons.order }}. {{ operation.reasons.entry }}.</p>
    <BrokenBit v-if="is_slots" :following="open.state?.document.piece.board?.floors === 'following'" />
    <div v-else-if="!is_drill && !is_surface && !['face', 'edge'].includes(operation.kind)" class="figure">
      <p v-if="operation.finishes"><b>Only the last pass.</b> It takes what {{ roughed }} left on the wall; tabs and
        depth
        are those of that one.</p>
      <p v-else-if="operation.wall_only"><b>Only the wall.</b> A program of its own, to be run while the part is still
        tight. Try the part before and after it.</p>
      <p v-else-if="finisher"><b>{{ finisher.name }}</b> takes the last pass along the wall.</p>
      <v-checkbox v-else :model-value="operation.finish_pass" label="Finish pass along the wall" @update:model-value="(v) => set(`${path}.finish_pass`, !!v)" />
      <p v-if="!operation.finish_pass && operation.reasons.finish_pass" class="second">{{ operation.reasons.finish_pass }}.</p>
      <template v-if="operation.finish_pass">
        <p v-if="report?.finish" class="second">There the bit bends <b>{{ fine(report.finish.bend_mm) }}</b>, force <b>{{ grouped(report.finish.force_n) }} N</b>.</p>
        <NumberLine :path="`${path}.finish_depth_mm`" :value="operation.finish_depth_mm" label="Deep at a time" is_length :why="why('finish_depth_mm')" />
        <NumberLine :path="`${path}.finish_allowance_mm`" :value="operation.finish_allowance_mm" label="Left for it" is_length />
        <NumberLine v-if="['pocket', 'profile'].includes(operation.kind)" :path="`${path}.spring_passes`"
          :value="operation.spring_passes" label="Run it again" suffix="times"
          why="the same pass with nothing left for it takes what the bit was bent away by; 3 at most" />
      </template>
      <p v-if="fitted && creeps === 0 && !finisher"><button class="cure"
        @click="creep(3, 'Creep up on the fit')">Creep up on the fit</button></p>
      <p v-else-if="fitted && creeps > 0">Left {{ length(operation.stock_to_leave_mm) }} too small; {{ creeps }} creep
        passes follow, {{ length(operation.stock_to_leave_mm / creeps) }} each, down to the size as drawn. <button
        class="plain" @click="creep(0, 'Cut it to size at once')">Cut it to size at once</button></p>
      <NumberLine :path="`${path}.stock_to_leave_mm`" :value="operation.stock_to_leave_mm" label="Stock to leave" is_length />
    </div>

    <TearMark v-if="report?.tear" class="figure" :operation="operation" :tear="report.tear" />

    <details class="figure">
      <summary>More of this operation</summary>
      <div v-if="!is_drill && !is_slots" class="pair more">
        <v-select :model-value="operation.direction" :items="directions" label="Direction" @update:model-value="(v) => set(`${path}.direction`, v)" />
        <v-select :model-value="operation.entry" :items="entries" label="Entry" @update:model-value="(v) => set(`${path}.entry`, v)" />
      </div>
      <NumberLine v-if="!is_drill" origin="plunge" :path="`${path}.settings.plunge_mm_min`" :value="operation.settings.plunge_mm_min" label="Plunge rate" is_rate :why="why('plunge_mm_min')" />
      <NumberLine v-if="!is_drill && !is_slots && operation.entry !== 'plunge'" :path="`${path}.ramp_deg`"
        :value="operation.ramp_deg" label="Ramp" suffix="°" />
      <FeatureShape v-if="operation.kind === 'pocket'" :operation="operation" />
      <NumberLine v-if="operation.kind === 'face'" :path="`${path}.margin_mm`" :value="operation.margin_mm" label="Beyond the outline" is_length />
      <NumberLine v-if="through" :path="`${path}.overcut_mm`" :value="operation.overcut_mm" label="Below the blank" is_length />
      <v-checkbox :model-value="operation.touch_off_before" label="Touch off Z before it" @update:model-value="(v) => set(`${path}.touch_off_before`, !!v)" />
      <div class="acts"><button class="plain" @click="edit([{ do: 'move_operation', operation: operation.id, to: Math.max(0, index - 1) }], 'Earlier')">Earlier</button>
        <button class="plain" @click="edit([{ do: 'move_operation', operation: operation.id, to: index + 1 }], 'Later')">Later</button>
        <button class="plain" @click="edit([{ do: 'remove_operation', operation: operation.id }],
          `Remove ${operation.name}`)">Remove it</button>
        <button class="plain" @click="chosen.adding = true">Add a step at the bench after it</button>
        <button v-if="operation.features.length > 1" class="plain"
          @click="edit([{ do: 'part_operation', operation: operation.id }], 'An operation for each')">One for each
            feature</button></div>
    </details>
    <SpentMark v-if="report" class="figure" :spent="report.spent" :total="report.machine_min" />
    <p v-if="report" class="second"><OriginTap of="minutes">{{ minutes(report.machine_min) }} min at the machine</OriginTap>, {{ (report.cut_length_mm / 1000).toFixed(1) }} m of cutting, {{ Math.round(report.removed_mm3 / 1000) }} cm³ of chips.</p>
    <p class="least">Windows and forces rest on starting figures. Computed, not proven: proven means cut in this shop, with a record.</p>
  </section>
</template>

<style scoped>
.reasons { display: flex; flex-direction: column; gap: 10px; }
.name { font-size: 22px; }
p { margin: 0; }
.pair { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
.figure { border-top: 1px solid var(--rule); padding-top: 8px; }
.head { display: flex; justify-content: space-between; gap: 8px; }
.care { background: var(--amber); color: var(--on-amber); padding: 0 5px; }
.word { font-size: 15px; line-height: 1.3; }
.more { margin: 8px 0; }
summary { cursor: pointer; min-height: 24px; color: var(--ink2); }
.acts { display: flex; gap: 14px; flex-wrap: wrap; }
.figure .cure { margin: 6px 0 4px; }
.bit { margin-top: 2px; }
.told { border-left: 4px solid var(--edge); padding-left: 10px; }
.told.stop { border-color: var(--ember); }
.told.care { border-color: var(--amber); background: none; padding-right: 0; }
</style>
