<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import { api } from '../api/client'
import type { RevisionRow } from '../api/types'
import TextLine from '../fields/TextLine.vue'
import { say } from '../units/format'
import { chosen } from './chosen'
import { open, take_state } from './store'
import WoodBeside from './WoodBeside.vue'

/** Every revision: what, who, when; back to any. The job's name and note. */
const rows = ref<RevisionRow[]>([])
const wrong = ref('')
const beside = ref<number | null>(null)
async function load() {
  try { rows.value = await api.revisions(open.state!.route) } catch (error) { wrong.value = (error as Error).message }
}
onMounted(load)
watch(() => open.state?.revision, load)
const back = (to: number) => take_state(() => api.back(open.state!.route, open.state!.revision, to))
const time = (iso: string) => new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit',
  minute: '2-digit' })
/** An earlier revision that is what stands now is not gone back to. */
const same = (r: RevisionRow) => r.hash === open.state?.hash
</script>

<template>
  <section class="history" aria-label="History" @keydown.esc.stop="chosen.history = false">
    <h2>History</h2>
    <TextLine path="job" :value="open.state!.document.job" label="Name of the job" needed />
    <TextLine path="note" :value="open.state!.document.note" label="Note" long />
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <ol>
      <li v-for="r in rows" :key="r.number" :class="{ here: r.number === open.state?.revision }">
        <p><b>{{ r.number }}</b> {{ say(r.what) }}</p>
        <p class="second">{{ r.author }}, {{ time(r.made_at) }}
          <button v-if="!same(r)" class="plain" :aria-label="`Back to revision ${r.number}`"
            @click="back(r.number)">Back to this</button>
          <button v-if="!same(r)" class="plain" :aria-label="`Wood of revision ${r.number} beside what stands`"
            @click="beside = r.number">Its wood beside</button>
          <span v-else-if="r.number === open.state?.revision">as it stands</span><span v-else>the same as now</span></p>
      </li>
    </ol>
    <p class="least">Nothing is lost by going back: it is one revision more, and undo takes it away again.</p>
    <WoodBeside v-if="beside !== null" :rows="rows" :first="beside" @close="beside = null" />
    <button class="plain" @click="chosen.history = false">Back to the operation</button>
  </section>
</template>

<style scoped>
.history { display: flex; flex-direction: column; gap: 10px; }
p { margin: 0; }
ol { list-style: none; margin: 0; padding: 0; }
li { padding: 5px 0 5px 8px; border-bottom: 1px solid var(--rule); border-left: 4px solid transparent; }
li.here { border-left-color: var(--ink); }
.ember { color: var(--ember); }
</style>
