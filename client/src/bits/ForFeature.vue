<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { BitChoice } from '../api/types'
import { open } from '../route/store'
import { area, length, minutes } from '../units/format'
import BitTable from './BitTable.vue'

/** Which bit for which feature: what each would reach, leave and take, and which must not be used. */
const emit = defineEmits<{ choose: [id: string] }>()
const features = computed(() => (open.state?.drawing.solids ?? []).map((s) => ({ title: s.name, value: s.id })))
const feature = ref(features.value[0]?.value ?? '')
watch(features, (now) => { if (feature.value && !now.some((f) => f.value === feature.value)) feature.value = now[0]?.value ?? '' }, { immediate: true })
const found = ref<BitChoice[]>([])
watch(() => [feature.value, open.state?.hash], async () => { if (feature.value && open.state) found.value = await api.rack_for(open.state.route, feature.value).catch(() => []) }, { immediate: true })
const good = computed(() => found.value.filter((c) => !c.not_for))
const bad = computed(() => found.value.filter((c) => c.not_for))
</script>

<template>
  <section>
    <v-select v-model="feature" :items="[{ title: 'Every feature', value: '' }, ...features]" label="Feature" />
    <BitTable v-if="!feature" @choose="(id) => emit('choose', id)" />
    <template v-else>
    <table v-if="good.length"><thead><tr><th>Bit</th><th class="num">min</th><th class="num">leaves</th><th class="num">reaches</th><th class="num">wears</th></tr></thead>
      <tbody><tr v-for="c in good" :key="c.bit"><td>
        <button class="plain" @click="emit('choose', c.bit)">{{ c.name }}</button>
        <span v-for="w in c.cares" :key="w" class="care">{{ w }}</span></td>
        <td class="num">{{ minutes(c.minutes ?? 0) }}</td><td
        class="num">{{ c.leaves_mm2 > 0 ? area(c.leaves_mm2) : 'nothing' }}</td>
        <td class="num">{{ length(c.reaches_mm, 0) }}</td><td
        class="num">{{ c.wears_part === null ? '–' : `${(100 * c.wears_part).toFixed(c.wears_part < 0.01 ? 2 : 1)} %` }}<span
        v-if="c.costs !== null" class="least"> {{ c.costs.toFixed(2) }}</span></td></tr></tbody></table>
    <p v-else class="care">No bit of the rack makes this feature.</p>
    <p v-if="good.length" class="least">Minutes of the cut alone. Wears: the part of its edge that this feature takes by assumed figures, and what that part cost.</p>
    <h2 v-if="bad.length">Not these</h2>
    <p v-for="c in bad" :key="c.bit" class="second"><b>{{ c.name }}</b>: {{ c.not_for }}.</p>
    </template>
  </section>
</template>

<style scoped>
section { display: flex; flex-direction: column; gap: 7px; }
p { margin: 0; }
table { border-collapse: collapse; width: 100%; }
th { text-align: left; font-weight: 600; color: var(--ink2); }
td, th { padding: 3px 6px 3px 0; border-top: 1px solid var(--rule); vertical-align: top; }
.num { text-align: right; white-space: nowrap; }
.care { color: var(--amber-ink); display: block; font-size: 13px; line-height: 1.25; }
</style>
