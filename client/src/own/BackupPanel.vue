<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { BackupsKept } from '../api/types'

/** Backups of the shop: one a day by itself, one now; restoring is a command. */
const kept = ref<BackupsKept | null>(null)
const busy = ref(false)
const wrong = ref('')
onMounted(async () => { kept.value = await api.backups().catch(() => null) })
async function make() {
  wrong.value = ''
  busy.value = true
  try {
    kept.value = await api.make_backup()
  } catch (error) { wrong.value = (error as Error).message } finally { busy.value = false }
}
const at = (text: string) => (
  new Date(text).toLocaleString('en-GB', {
    day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit',
  }))
const size = (bytes: number) => (
  bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1000))} kB` : `${(bytes / 1e6).toFixed(1)} MB`)
</script>

<template>
  <section v-if="kept" aria-label="Backup">
    <h2>Backup</h2>
    <p
      class="second">One a day makes itself while Birch Route runs; the newest seven days and four weeks before them
      are kept, on this computer only. Copy one to another place now and then.</p>
    <ul>
      <li v-for="b in kept.kept" :key="b.name"><span>{{ at(b.made_at) }}</span>
        <span class="second">{{ size(b.bytes) }}</span>
        <a class="plain" :href="`/api/backups/${b.name}`" download>Take a copy</a></li>
    </ul>
    <p v-if="!kept.kept.length" class="least">None yet.</p>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <p class="acts"><button class="cure" :disabled="busy"
      @click="make">{{ busy ? 'Being made' : 'Make one now' }}</button>
      <a class="plain" href="/api/open_files" download>The whole shop as open files</a></p>
    <p
      class="least">To put one back: stop Birch Route, then <b>./birch restore FILE</b> into an empty shop. They lie
      in {{ kept.folder }}.</p>
  </section>
</template>

<style scoped>
section { border-top: 1px solid var(--rule); padding: 10px 0 14px; }
p { margin: 4px 0; max-width: 720px; }
ul { list-style: none; padding: 0; margin: 4px 0; }
li { display: flex; gap: 18px; min-height: 28px; align-items: center; }
.acts { display: flex; gap: 20px; align-items: center; }
.ember { color: var(--ember); }
</style>
