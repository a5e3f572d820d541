<script setup lang="ts">
import { computed } from 'vue'
import type { Spent } from '../api/types'
import { minutes } from '../units/format'

/** What the minutes of an operation go on, and what a higher feed would save. */
const props = defineProps<{ spent: Spent; total: number }>()
const LIMITS: Record<Spent['limit'], string> = {
  feed: 'Most of it is cutting at the feed.', greatest: 'Most of it is cutting at the greatest feed of the machine.', acceleration: 'Most of it is speeding up and slowing down: the way turns too often for the feed to matter.',
  cap: 'Most is lost to an axis that cannot follow the feed.', plunges: 'Most of it is going down into the wood.', rapid: 'Most of it is moving above the wood.',
}
const rows = computed(() => [
  { name: 'at feed', part: props.spent.at_feed_min, look: 'feed' }, { name: 'speeding up and slowing', part: props.spent.changing_min, look: 'change' },
  { name: 'slowed by an axis', part: props.spent.capped_min, look: 'cap' }, { name: 'down', part: props.spent.down_min, look: 'down' }, { name: 'above the wood', part: props.spent.rapid_min, look: 'rapid' },
].map((r) => ({ ...r, percent: props.total > 0 ? (r.part / props.total) * 100 : 0 })).filter((r) => r.percent >= 0.5))
const air = computed(() => (props.total > 0 ? (props.spent.air_min / props.total) * 100 : 0))
</script>

<template>
  <div>
    <div class="head"><b>Where the time goes</b><b>{{ minutes(total) }} min</b></div>
    <div class="bar" aria-hidden="true"><span v-for="r in rows" :key="r.name" :class="r.look" :style="{ flexGrow: r.percent }" /></div>
    <p class="second"><template v-for="(r, k) in rows" :key="r.name">{{ k ? ', ' : '' }}<i :class="r.look" aria-hidden="true" /> {{ r.name }} <b>{{ Math.round(r.percent) }} %</b></template>.</p>
    <p>{{ LIMITS[spent.limit] }} A fifth more feed saves <b>{{ minutes(Math.max(0, spent.faster_saves_min)) }}</b> min.<template v-if="air >= 1">{{ ' ' }}{{ Math.round(air) }} % of it cuts air.</template></p>
  </div>
</template>

<style scoped>
p { margin: 3px 0 0; }
.head { display: flex; justify-content: space-between; }
.bar { display: flex; gap: 2px; height: 12px; margin: 5px 0; }
.bar span { min-width: 2px; }
i { display: inline-block; width: 9px; height: 9px; border: 1px solid var(--ink); }
.feed { background: var(--ink); }
.change { background: repeating-linear-gradient(90deg, var(--ink) 0 1.5px, transparent 1.5px 4px); }
.cap { background: repeating-linear-gradient(45deg, var(--ink) 0 1.5px, transparent 1.5px 4px); }
.down { background: var(--alder); }
.rapid { background: transparent; }
.bar span { box-shadow: inset 0 0 0 1px var(--ink); }
</style>
