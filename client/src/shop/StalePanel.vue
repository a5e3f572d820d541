<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { StaleRow } from '../api/types'
import { edit, findings, open } from '../route/store'
import { grouped, length, rate, rate_unit } from '../units/format'

/** What a change of wood or machine means for every operation: the settings it has and those it would have. */
const rows = ref<StaleRow[]>([])
/** Rims that another wood lets fray: operations that want another bit, not other numbers. */
const rims = computed(() => findings.value.filter((f) => f.code === 'tear_out.rim'))
watch(() => open.state?.hash, async () => { if (open.state) rows.value = await api.stale(open.state.route).catch(() => []) }, { immediate: true })
</script>

<template>
  <section v-if="rows.length">
    <h2>Proposed for another wood or machine</h2>
    <table><thead><tr><th>Operation</th><th class="num">feed, {{ rate_unit }}</th><th class="num">rpm</th><th class="num">deep</th></tr></thead>
      <tbody><tr v-for="r in rows" :key="r.id"><td>{{ r.name }}</td><td class="num">{{ rate(r.was.feed_mm_min) }} → <b>{{ rate(r.now.feed_mm_min) }}</b></td><td class="num">{{ grouped(r.was.speed_rpm) }} → <b>{{ grouped(r.now.speed_rpm) }}</b></td><td class="num">{{ length(r.was.depth_of_cut_mm) }} → <b>{{ length(r.now.depth_of_cut_mm) }}</b></td></tr></tbody></table>
    <button class="cure" @click="edit([{ do: 'renew_settings' }], 'Propose the settings anew')">Take the new ones</button>
  </section>
  <section v-if="rims.length">
    <h2>Rims that fray in this wood</h2>
    <p v-for="f in rims" :key="f.letter">{{ f.sentence }}</p>
    <button v-if="rims.some((f) => f.cures.length)" class="cure" @click="edit([{ do: 'clean_rim' }], 'Cut every rim clean')">Cut every rim clean</button>
  </section>
</template>

<style scoped>
p { margin: 0; }
section { display: flex; flex-direction: column; gap: 8px; align-items: flex-start; }
.cure { align-self: flex-start; width: auto; }
table { border-collapse: collapse; width: 100%; }
th { text-align: left; font-weight: 600; color: var(--ink2); }
td, th { border-top: 1px solid var(--rule); padding: 3px 8px 3px 0; }
.num { text-align: right; white-space: nowrap; }
</style>
