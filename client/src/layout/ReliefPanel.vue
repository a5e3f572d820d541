<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { Point, Relief } from '../api/types'
import { bring_relief, edit, findings, open, set } from '../route/store'
import { length } from '../units/format'

/** Faces formed by a surface that was drawn elsewhere and brought in as an STL file. */
const doc = computed(() => open.state!.document)
const reliefs = computed(() => doc.value.piece.features.filter((f): f is Relief => f.kind === 'relief'))
const how = reactive({ face: 'front', unit: 'mm', turn_deg: 0, underside: false, fine: false })
const file = ref<HTMLInputElement>()
const asks = ref(false)
const busy = ref(false)
let reading: AbortController | null = null
const stop = () => reading?.abort()
const faces = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]
const units = [{ title: 'mm', value: 'mm' }, { title: 'inch', value: 'inch' }]
const turns = [0, 90, 180, 270].map((value) => ({ title: value ? `${value}°` : 'as it lies', value }))
async function bring() {
  const chosen = file.value?.files?.[0]
  if (!chosen) return
  busy.value = true
  reading = new AbortController()
  if ((await bring_relief(chosen, how, reading.signal)) && !reading.signal.aborted) asks.value = false
  busy.value = false
  file.value!.value = ''
}
const told = (id: string) => findings.value.filter((f) => f.feature === id)
const cut = (id: string) => doc.value.operations.some((o) => o.features.includes(id))
/** The surface in section along the middle of the piece; heights four times over lengths. */
function section(r: Relief) {
  const line: Point[] = open.state?.drawing.solids.find((s) => s.id === r.id)?.profile ?? []
  if (line.length < 2) return ''
  const x = (mm: number) => 4 + ((mm - line[0][0]) * 368) / (line.at(-1)![0] - line[0][0])
  const y = (mm: number) => 8 + mm * 4 * Math.min(1, 12 / r.depth_mm)
  return `M4 74V${y(line[0][1]).toFixed(1)}L${line.map(([at, down]) => `${x(at).toFixed(1)} ${y(down).toFixed(1)}`).join('L')}V74Z`
}
</script>

<template>
  <div>
    <div v-for="r in reliefs" :key="r.id" class="relief">
      <p class="head"><b>{{ r.name }}</b><button class="plain" @click="edit([{ do: 'remove_item', list: 'features', id: r.id }], `Remove ${r.name}`)">Remove</button></p>
      <svg viewBox="0 0 376 76" width="100%" role="img" :aria-label="`Section along the middle: at most ${length(r.depth_mm, 1)} below the face`"><path d="M4 8H372" stroke="#1d1a17" stroke-dasharray="4 3" /><path :d="section(r)" fill="#d6a679" stroke="#1d1a17" /></svg>
      <v-select :model-value="r.face" :items="faces" label="Face" @update:model-value="(v) => set(`piece.features.${r.id}.face`, v)" />
      <p v-if="!cut(r.id)" class="acts"><button class="cure" @click="edit([{ do: 'propose_for', feature: r.id }], `Cut ${r.name}`)">Add the operations</button></p>
      <p v-for="f in told(r.id)" :key="f.letter" class="care">{{ f.sentence }}</p>
      <p class="least">From {{ r.origin }}. At most {{ length(r.depth_mm, 1) }} deep. Heights are drawn larger than lengths.</p>
    </div>
    <div v-if="asks" class="relief">
      <p><b>A face from a surface.</b> An STL file with the upper side as it shall be. Its middle goes on the middle of the outline, its highest point level with the face.</p>
      <div class="four"><v-select v-model="how.face" :items="faces" label="Face" /><v-select v-model="how.unit" :items="units" label="Drawn in" /><v-select v-model="how.turn_deg" :items="turns" label="Turned" /></div>
      <v-checkbox v-model="how.underside" label="Its lower side is the one to cut" /><v-checkbox v-model="how.fine" label="It has sharp rims: keep every quarter of a millimetre" />
      <input ref="file" type="file" accept=".stl,model/stl" class="visually-hidden" aria-label="Surface: STL" tabindex="-1" @change="bring" />
      <p class="acts"><button class="cure lead" :disabled="busy"
        @click="file!.click()">{{ busy ? 'Laying it on the piece…' : 'Choose the file' }}</button><button v-if="busy"
        class="plain" @click="stop">Stop</button><button v-else class="plain" @click="asks = false">No</button></p>
    </div>
    <p v-else class="acts"><button class="cure" @click="asks = true">A face from an STL file</button></p>
  </div>
</template>

<style scoped>
p { margin: 4px 0; }
.relief { border-top: 1px solid var(--rule); padding: 6px 0; }
.head { display: flex; justify-content: space-between; }
.four { display: grid; grid-template-columns: 1fr 1fr 1.2fr; gap: 8px; margin: 6px 0; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
