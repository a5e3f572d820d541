<script setup lang="ts">
import { computed } from 'vue'
import { open } from '../route/store'
import { minutes } from '../units/format'

/** What a slot bit that breaks costs, as the order is now and in the other one. */
const props = defineProps<{ following: boolean }>()
const cost = computed(() => open.report?.broken_bit ?? null)
const other = computed(() => cost.value && (props.following ? cost.value.before_radius_min
  : cost.value.after_radius_min))
</script>

<template>
  <p v-if="cost" class="broken">A bit that breaks costs the board and <b>{{ minutes(cost.first_min) }} min</b> of work
    in its first slot, <b>{{ minutes(cost.last_min) }} min</b> in its last.
    Slots cut {{ following ? 'before' : 'after' }} the radius: {{ minutes(other ?? 0) }} min in the last.</p>
</template>

<style scoped>
.broken { margin: 0; }
</style>
