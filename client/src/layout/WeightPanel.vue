<script setup lang="ts">
import { computed } from 'vue'
import type { Chamber, Layout } from '../api/types'
import EditField from '../fields/EditField.vue'
import OriginTap from '../fields/OriginTap.vue'
import { edit, open } from '../route/store'
import { grouped, length } from '../units/format'

/** What it weighs, how it hangs, and where wood can go that nobody misses. */
const props = defineProps<{ layout: Layout }>()
const emit = defineEmits<{ over: [chamber: string] }>()
const mass = computed(() => props.layout.weight)
const heaviest = computed(() => [...mass.value.shares].filter((s) => s.grams > 0.5).sort((a, b) => b.grams - a.grams))
const side = (mm: number) => (Math.abs(mm) < 0.05 ? 'on the centre line' : `${length(Math.abs(mm), 1)} to the ${mm > 0 ? 'treble' : 'bass'} side`)
const choices = computed(() => open.state?.document.choices)
const pins = computed(() => open.state?.document.piece.placements.filter((p) => open.state!.document.parts.find((x) => x.id === p.part)?.kind === 'strap_pin').length ?? 0)
const add = (c: Chamber) => edit([{ do: 'add_chambers', face: c.face, number: c.number }], 'Draw a chamber')
</script>

<template>
  <section>
    <h2>Weight</h2>
    <p><OriginTap of="weight"><b class="big">{{ mass.kg.toFixed(2) }} kg</b></OriginTap>, {{
      mass.density_from === 'weighed' ? 'from the blank you weighed'
        : `from the wood table, ${grouped(mass.density_kg_m3)} kg/m³: weigh the blank` }}.
      It balances {{ length(mass.x_mm, 0) }} from the neck end, {{ side(mass.y_mm) }}.</p>
    <p v-for="s in heaviest.slice(0, 6)" :key="s.feature" class="share"><span>{{ s.name }}</span><b>−{{ grouped(s.grams) }} g</b></p>
    <p v-if="mass.by_wood.length > 1" class="second">{{ mass.by_wood.map((w) => `${w.wood.replace('_', ' ')} ${w.kg.toFixed(2)} kg`).join(', ') }}.</p>
    <p v-if="mass.taken_g.back > 0.5" class="second">From the front {{ grouped(mass.taken_g.front) }} g are taken, from the back {{ grouped(mass.taken_g.back) }} g.</p>
    <h2>How it hangs</h2>
    <div class="grid"><EditField path="choices.neck_kg" :value="choices?.neck_kg" label="Neck with tuners" suffix="kg" /><EditField path="choices.neck_balance_mm" :value="choices?.neck_balance_mm" label="Heel end to its balance" is_length :places="0" /></div>
    <p v-if="layout.hang" :class="{ care: layout.hang.nose_deg > layout.hang.most_deg }">
      <OriginTap of="hang">Together</OriginTap> {{ layout.hang.kg.toFixed(2) }} kg. On the strap {{
      layout.hang.nose_deg > 0 ? `the neck sinks by ${layout.hang.nose_deg.toFixed(1)}°`
        : `the neck rises by ${(-layout.hang.nose_deg).toFixed(1)}°` }}{{
      layout.hang.nose_deg > layout.hang.most_deg
        ? ': move the front pin towards the neck, or take weight from the neck side' : '' }}.</p>
    <p v-else class="second">{{ pins < 2 ? 'Place two strap pins under Parts' : 'Weigh the neck and balance it on a pencil' }}, and how the neck hangs is worked out.</p>
    <h2>Chambers that cost nothing</h2>
    <p v-if="!layout.chambers.length" class="second">There is no room that keeps its walls, floor and what hardware stands on.</p>
    <div v-for="c in layout.chambers.slice(0, 8)" :key="`${c.face}${c.number}`" class="chamber" @pointerenter="emit('over', `${c.face}${c.number}`)" @pointerleave="emit('over', '')" @focusin="emit('over', `${c.face}${c.number}`)" @focusout="emit('over', '')"><p><b>−{{ grouped(c.grams) }} g</b> from the {{ c.face }}: {{ c.words }} <span class="second">The balance moves {{ length(Math.abs(c.balance_moves_mm), 1) }} {{ c.balance_moves_mm < 0 ? 'towards the neck' : 'towards the tail' }}.</span></p><button class="cure" @click="add(c)">Draw it</button></div>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
h2 { margin-top: 12px; } h2:first-child { margin-top: 0; }
.big { font-size: 19px; }
.share { display: flex; justify-content: space-between; border-top: 1px solid var(--rule); padding: 3px 0; margin: 0; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
.chamber { border-top: 1px solid var(--rule); padding: 6px 0; display: grid; grid-template-columns: 1fr auto; gap: 10px; align-items: start; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
