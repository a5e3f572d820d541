<script setup lang="ts">
import { computed } from 'vue'
import type { Layout, Placement } from '../api/types'
import EditField from '../fields/EditField.vue'
import FlagMark from '../marks/FlagMark.vue'
import { edit, findings, open, set } from '../route/store'

/** Parts on hand where they will stand. What they need cut follows from their readings; what does not fit is said with its cure. */
const props = defineProps<{ layout: Layout; chosen: string }>()
const emit = defineEmits<{ choose: [placement: string] }>()
const doc = computed(() => open.state!.document)
const placements = computed(() => doc.value.piece.placements)
const here = computed(() => placements.value.find((p) => p.id === props.chosen) ?? placements.value[0])
const part = (p: Placement) => doc.value.parts.find((x) => x.id === p.part)
const placeable = ['pot', 'switch', 'jack', 'plate', 'guard', 'insert', 'strap_pin', 'bridge', 'neck', 'pickup']
const waiting = computed(() => doc.value.parts.filter((p) => placeable.includes(p.kind)).map((p) => ({ title: placements.value.some((q) => q.part === p.id) ? `${p.name}, another place` : p.name, value: p.id })))
const cavities = computed(() => [{ title: 'None', value: '' }, ...doc.value.piece.features.filter((f) => f.kind === 'pocket').map((f) => ({ title: f.name, value: f.id }))])
const mounts = computed(() => {
  const kind = part(here.value)?.kind
  const rows = [{ title: 'On the face', value: 'face' }]
  if (kind === 'jack' || kind === 'strap_pin') rows.push({ title: 'On the side', value: 'side' })
  if (kind === 'bridge') rows.push({ title: 'By the saddle line', value: 'saddle' })
  if (kind === 'neck') rows.push({ title: 'By the heel’s end', value: 'heel' })
  return rows
})
const faces = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const told = (id: string) => findings.value.filter((f) => f.feature === id || f.feature?.startsWith(`${id}_`))
const of_a_placement = (id: string | null | undefined) =>
  placements.value.some((p) => id === p.id || id?.startsWith(`${p.id}_`))
const others = computed(() => findings.value.filter((f) => (
  /^(part|hole)\./.test(f.code) && f.severity !== 'note' && !of_a_placement(f.feature))))
const follows = (p: Placement) => open.state!.drawing.solids.filter((s) => s.id.startsWith(`${p.id}_`))
async function place(id: string | null) {
  const one = doc.value.parts.find((p) => p.id === id)
  if (!one) return
  const used = new Set([...placements.value.map((p) => p.id), ...doc.value.piece.features.map((f) => f.id)])
  let k = 1
  while (used.has(`${one.id}_${k}`)) k += 1
  const ring = open.state!.drawing.solids.find((s) => s.kind === 'outline')!.rings[0]
  const xs = ring.map((q) => q[0])
  const mount = one.kind === 'bridge' ? 'saddle' : one.kind === 'neck' ? 'heel' : one.kind === 'strap_pin' ? 'side' : 'face'
  const item = { id: `${one.id}_${k}`, part: one.id, mount, x_mm: Math.round(mount === 'side' ? Math.max(...xs) : (Math.min(...xs) + Math.max(...xs)) / 2 + 40), y_mm: mount === 'side' || mount === 'saddle' || mount === 'heel' ? 0 : -60 }
  if (await edit([{ do: 'put_item', list: 'placements', item }], `Place ${one.name}`)) emit('choose', item.id)
}
const take_off = (p: Placement) => edit([{ do: 'remove_item', list: 'placements', id: p.id }], `Take ${part(p)?.name} off the layout`)
const turned = computed(() => new Set(doc.value.setups.map((s) => s.face)))
const draw = (p: Placement) => edit(follows(p).filter((s) => !doc.value.operations.some((o) => o.features.includes(s.id)) && turned.value.has(s.face)).map((s) => ({ do: 'propose_for', feature: s.id })), `Add operations for ${part(p)?.name}`)
const uncut = (p: Placement) => follows(p).some((s) => !doc.value.operations.some((o) => o.features.includes(s.id)) && turned.value.has(s.face))
</script>

<template>
  <section>
    <h2>Parts where they stand</h2>
    <v-select :model-value="null" :items="waiting" label="Place a part on hand" no-data-text="Add the part on the Measure screen first" @update:model-value="place" />
    <p v-if="!placements.length" class="word">Nothing is placed yet. Measure a pot, a jack or a strap pin, place it here, and its hole, its room and what it runs into are worked out.</p>
    <ul>
      <li v-for="p in placements" :key="p.id" :class="{ here: here?.id === p.id }">
        <button class="row" :aria-expanded="here?.id === p.id" @click="emit('choose', p.id)"><b>{{ part(p)?.name }}</b><span class="second">{{ p.mount === 'side' ? 'on the side' : p.mount === 'saddle' ? 'by the saddle line' : p.mount === 'heel' ? 'by the heel' : p.face === 'back' ? 'on the back' : '' }}</span><span class="flags"><FlagMark v-for="f in told(p.id)" :key="f.letter" :severity="f.severity" :letter="f.letter" /></span></button>
        <div v-if="here?.id === p.id" class="body">
          <div class="grid">
            <template v-if="p.mount === 'face' || p.mount === 'side'"><EditField :path="`piece.placements.${p.id}.x_mm`" :value="p.x_mm" label="Along, from the neck end" is_length :places="1" /><EditField :path="`piece.placements.${p.id}.y_mm`" :value="p.y_mm" label="To the treble side" is_length :places="1" /></template>
            <v-select :model-value="p.mount" :items="mounts" label="Stands" @update:model-value="(v) => set(`piece.placements.${p.id}.mount`, v)" />
            <v-select v-if="p.mount === 'face'" :model-value="p.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.placements.${p.id}.face`, v)" />
            <EditField v-if="p.mount === 'side'" :path="`piece.placements.${p.id}.deep_mm`" :value="p.deep_mm" label="Middle below the face" is_length :places="1" />
            <v-select v-if="['pot', 'jack', 'switch'].includes(part(p)?.kind ?? '')" :model-value="p.cavity ?? ''" :items="cavities" label="Its body hangs in" @update:model-value="(v) => set(`piece.placements.${p.id}.cavity`, v || null)" />
            <EditField v-if="p.mount === 'face'" :path="`piece.placements.${p.id}.angle_deg`" :value="p.angle_deg" label="Turned" suffix="°" />
            <EditField :path="`piece.placements.${p.id}.reserve_mm`" :value="p.reserve_mm" label="Keep free until it is here" is_length :places="0" />
          </div>
          <p v-if="follows(p).length" class="second">Cut for it: {{ follows(p).map((s) => s.name.split(', ').at(-1) + (s.face === 'back' ? ' (back)' : '')).join(', ') }}.</p>
          <div v-for="f in told(p.id)" :key="f.letter" class="one" :class="f.severity"><p>{{ f.sentence }}</p>
            <button v-for="c in f.cures" :key="c.sentence" class="cure lead"
            @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button></div>
          <p class="acts"><button v-if="uncut(p)" class="cure" @click="draw(p)">Add the operations</button><button class="plain" @click="take_off(p)">Take it off the layout</button></p>
        </div>
      </li>
    </ul>
    <template v-if="others.length">
      <h2>What is drawn, and the parts it is for</h2>
      <div v-for="f in others" :key="f.letter" class="one" :class="f.severity"><p>{{ f.sentence }}</p><button
        v-for="c in f.cures" :key="c.sentence" class="cure" @click="edit(c.edits, c.sentence)">{{ c.sentence }}</button>
          </div>
    </template>
    <p v-if="placements.length" class="least">Drag a part on the drawing, or focus it and use the arrows: with Shift
      ten times as far, with Alt a tenth.</p>
  </section>
</template>

<style scoped>
ul { list-style: none; padding: 0; margin: 8px 0; }
li { border-top: 1px solid var(--rule); }
.row { width: 100%; display: flex; gap: 10px; align-items: center; min-height: 34px; }
.flags { margin-left: auto; display: flex; gap: 4px; }
.here > .row { font-size: 16px; }
.body { padding: 4px 0 10px; }
section > .v-input { margin-top: 4px; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 10px 8px; }
.one { border-left: 4px solid var(--edge); padding: 2px 0 2px 10px; margin: 6px 0; }
.one.care { border-color: var(--amber); } .one.stop { border-color: var(--ember); }
.one p { margin: 0 0 4px; }
.acts { display: flex; gap: 14px; align-items: center; }
p { margin: 6px 0; }
</style>
