<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api/client'
import type { BitMatrix } from '../api/types'
import { open } from '../route/store'
import { minutes } from '../units/format'

/** Every bit against every feature: where one serves many, and how few do for all. */
const emit = defineEmits<{ choose: [id: string] }>()
const found = ref<BitMatrix | null>(null)
const busy = ref(false)
watch(() => open.state?.hash, async () => {
  if (!open.state) return
  busy.value = true
  found.value = await api.rack_matrix(open.state.route).catch(() => null)
  busy.value = false
}, { immediate: true })
</script>

<template>
  <section>
    <p v-if="busy && !found" class="second" role="status">Trying every bit in every feature.</p>
    <template v-if="found">
      <p class="word">{{ found.words }}</p>
      <div class="wide" tabindex="0" role="region" aria-label="Every bit against every feature"><table>
        <thead><tr><th>Bit</th><th v-for="f in found.features" :key="f.id" class="turned"><span>{{ f.name }}</span></th></tr></thead>
        <tbody><tr v-for="b in found.bits" :key="b.bit"><th><button class="plain" @click="emit('choose', b.bit)">{{ b.name }}</button></th>
          <td v-for="(c, k) in b.cells" :key="k" :title="c?.words || undefined" :class="{ no: c?.minutes == null, left: (c?.leaves_mm2 ?? 0) > 0 }">{{ c?.minutes == null ? '·' : minutes(c.minutes) }}<template v-if="c && c.minutes !== null && c.leaves_mm2 > 0">*</template></td></tr></tbody>
      </table></div>
      <p class="least">Minutes of each alone. * leaves corners for another bit; · must not be used there.</p>
    </template>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 6px; }
p { margin: 0; }
.wide { overflow-x: auto; }
table { border-collapse: collapse; }
th { text-align: left; font-weight: 400; white-space: nowrap; padding-right: 8px; position: sticky; left: 0; background: var(--paper); }
thead th { vertical-align: bottom; }
.turned { padding: 0 0 4px; position: static; }
.turned span { writing-mode: vertical-rl; transform: rotate(180deg); max-height: 130px; font-size: 13px; }
td { border-top: 1px solid var(--rule); text-align: center; padding: 2px 5px; min-width: 34px; font-variant-numeric: tabular-nums; }
tbody th { border-top: 1px solid var(--rule); }
.no { color: var(--ink3); }
.left { color: var(--amber-ink); }
</style>
