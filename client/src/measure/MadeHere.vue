<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { MadeState } from '../api/types'
import { open, take_state } from '../route/store'
import { length } from '../units/format'

/** A neck that is made in this shop: its route gives the sizes until the caliper does. */
const props = defineProps<{ route: number; part: string; labels: Record<string, string> }>()
const state = ref<MadeState | null>(null)
const busy = ref(false)
watch(() => open.state?.hash, async () => { state.value = await api.made(props.route).catch(() => null) },
  { immediate: true })
const taken = computed(() => state.value?.taken.find((t) => t.part === props.part) ?? null)
const changed = computed(() => Object.entries(taken.value?.differ ?? {}))
const items = computed(() => (state.value?.necks ?? []).map((n) => ({ title: n.job, value: n.route })))
async function take(from: number | null) {
  if (from === null || busy.value) return
  busy.value = true
  await take_state(() => api.take_neck(props.route, open.state!.revision, from))
  busy.value = false
}
</script>

<template>
  <section v-if="state && (items.length || taken)" class="made">
    <v-select v-if="items.length" :model-value="taken?.route ?? null" :items="items" :disabled="busy"
      label="Made here: the neck of" @update:model-value="take" />
    <p v-if="taken && taken.newest === null" class="ember">The job {{ taken.job }} is no longer on the bench. Its sizes
      stand as they were taken.</p>
    <template v-else-if="taken && changed.length">
      <p class="amber">{{ taken.job }} has changed since: {{ changed.slice(0, 4).map(([k, v]) =>
        `${(labels[k] ?? k).toLowerCase()} ${length(v)}`).join(', ') }}.</p>
      <button class="cure" :disabled="busy" @click="take(taken.route)">Take its sizes again</button></template>
    <p v-else-if="taken" class="second">Sizes nobody has read come from {{ taken.job }}, as it is now.</p>
  </section>
</template>

<style scoped>
.made { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; max-width: 620px; margin-top: 6px; }
.made p { margin: 0; }
.made :deep(.v-input) { min-width: 230px; }
.amber { color: var(--amber-ink); }
.ember { color: var(--ember); }
</style>
