<script setup lang="ts">
import { computed } from 'vue'
import { STANDING } from '../bits/draw'
import { edit, open } from '../route/store'
import { grouped, length, rate, rate_unit } from '../units/format'

/** What the shop's own records say of an operation's settings, and the fastest cut of this ground; more of it at the rack. */
const props = defineProps<{ operation: string }>()
const said = computed(() => (open.says?.hash === open.state?.hash ? open.says?.operations.find((o) => o.id === props.operation) : undefined))
const trust = computed(() => said.value?.trust)
</script>

<template>
  <div v-if="said && trust">
    <p class="second"><b :class="trust.standing">{{ STANDING[trust.standing].mark }}</b> {{ STANDING[trust.standing].words }}{{ trust.standing === 'untried' && trust.beyond > 1.005 ? `; ${trust.beyond.toFixed(2)} times what was cut` : '' }}{{ trust.count ? `; ${trust.count} ${trust.count === 1 ? 'cut' : 'cuts'} kept` : '' }}. <router-link :to="`/routes/${open.state?.route}/bits`">At the rack</router-link></p>
    <template v-if="said.best">
      <p class="second">Cut here and gone well: feed {{ rate(said.best.settings.feed_mm_min) }} {{ rate_unit }} at {{ grouped(said.best.settings.speed_rpm) }}, {{ length(said.best.settings.depth_of_cut_mm) }} deep{{ said.best.note ? ` (${said.best.note})` : '' }}. That is {{ said.best.times.toFixed(2) }} times as fast.</p>
      <button class="cure" @click="edit(said.best.edits, 'Take what was cut here')">Take what was cut here</button>
    </template>
  </div>
</template>

<style scoped>
p { margin: 0; }
.cure { margin-top: 4px; }
.proven, .covered { color: var(--moss); } .failed { color: var(--ember); }
</style>
