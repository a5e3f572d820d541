<script setup lang="ts">
import { onMounted, reactive, ref } from 'vue'
import { api } from '../api/client'
import type { JigKept } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { length, value_typed } from '../units/format'

/** What became of a jig in the shop: where it is kept, how often used, its wear and what that does to its errors, whether it has paid for itself. */
const props = defineProps<{ route: number }>()
const kept = ref<JigKept | null>(null)
const wrong = ref('')
onMounted(async () => { kept.value = await api.jig_kept(props.route).catch(() => null) })
const fresh = reactive({ pieces: '1', play_mm: null as number | null, saved: '', place: '', note: '' })
async function keep(what: 'used' | 'checked' | 'mended') {
  const pieces = what === 'used' ? Number(fresh.pieces) : 0
  const saved_min = fresh.saved.trim() ? (value_typed(fresh.saved) ?? NaN) : null
  if (!Number.isInteger(pieces) || pieces < 0 || (saved_min !== null && !Number.isFinite(saved_min))) { wrong.value = 'Pieces and minutes are plain numbers.'; return }
  try {
    kept.value = await api.note_jig(props.route, { what, pieces, play_mm: what === 'used' ? null : fresh.play_mm, saved_min, place: fresh.place, note: fresh.note })
    Object.assign(fresh, { pieces: '1', play_mm: null, saved: '', place: '', note: '' })
    wrong.value = ''
  } catch (error) { wrong.value = (error as Error).message }
}
const WHAT: Record<string, string> = { used: 'used', checked: 'checked', mended: 'mended' }
const line = (n: JigKept['notes'][number]) => [WHAT[n.what], n.pieces ? `${n.pieces} ${n.pieces === 1 ? 'piece' : 'pieces'}` : '', n.play_mm !== null ? `play ${length(n.play_mm)}` : '', n.place ? `kept at ${n.place}` : '', n.note].filter((x) => x).join(', ')
</script>

<template>
  <section v-if="kept">
    <h2>In the shop</h2>
    <p><b>{{ kept.pieces }}</b> {{ kept.pieces === 1 ? 'piece' : 'pieces' }} made on it{{ kept.place ? `; kept at ${kept.place}` : '' }}. {{ kept.play_mm === null ? 'Its play was never looked at.' : `Play at the pins ${length(kept.play_mm)}:` }} Expected between its pieces <b>±{{ length(kept.expected_mm) }}</b>.</p>
    <p v-if="kept.worn" class="ember">Worn: bush the holes or make new pins before the next piece.</p>
    <p v-else-if="kept.look_again" class="amber">Many pieces since anybody felt for play: look before the next one.</p>
    <p v-for="o in kept.offsets" :key="`${o.machine}${o.number}`" class="second">Work offset G{{ 53 + o.number }} of {{ o.machine }}: {{ o.name }}.</p>
    <p v-if="kept.known">It takes {{ Math.round(kept.cost_min) }} min to make and saves {{ kept.saves_min }} a piece{{ kept.told ? '' : ' (assumed; say what it saves you)' }}: <b>pays after {{ kept.pays_after }}</b>; so far {{ kept.saved_min < 0 ? `${Math.round(-kept.saved_min)} min still to earn` : `${Math.round(kept.saved_min)} min saved` }}.</p>
    <div class="three"><v-text-field v-model="fresh.pieces" label="Pieces" inputmode="numeric" />
      <NumberField v-model="fresh.play_mm" label="Play found" :places="2" />
      <v-text-field v-model="fresh.saved" label="Saves each" suffix="min" placeholder="–" persistent-placeholder
      inputmode="decimal" /></div>
    <div class="two"><v-text-field v-model="fresh.place" label="Kept at" maxlength="80" /><v-text-field v-model="fresh.note" label="Note" maxlength="1000" /></div>
    <div class="acts"><button class="cure lead" @click="keep('used')">Used it</button><button class="cure" @click="keep('checked')">Checked it</button><button class="cure" @click="keep('mended')">Mended it</button></div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p v-for="(n, k) in kept.notes.slice(0, 8)" :key="k" class="second log">{{ new Date(n.made_at).toLocaleDateString('en-GB') }}, {{ n.made_by }}: {{ line(n) }}</p>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 8px; }
p { margin: 0; }
.three { display: grid; grid-template-columns: 1fr 1fr 1fr; gap: 8px; }
.two { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
.acts { display: flex; gap: 10px; flex-wrap: wrap; }
.ember { color: var(--ember); }
.amber { color: var(--amber-ink); }
.log { border-top: 1px solid var(--rule); padding-top: 4px; }
</style>
