<script setup lang="ts">
import type { Report } from '../api/types'
import BedPlan from './BedPlan.vue'
import ZeroSteps from './ZeroSteps.vue'

/** What to load in a setup and how its zero is found. */
defineProps<{ setup: NonNullable<Report['run_plan']>['setups'][number]; again: boolean; several: boolean }>()
</script>

<template>
  <section class="setup">
    <h2>{{ several ? `${setup.name}: load and zero` : 'Load and zero' }}</h2>
    <p>{{ setup.load }}.</p>
    <p>X and Y zero at the <b>{{ setup.zero_xy }}</b>. Z zero on the <b>{{ setup.zero_z }}</b>.{{ again ? ' Find both again.' : '' }}</p>
    <ZeroSteps :steps="setup.zero_steps" />
    <BedPlan :bed="setup.bed" />
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
</style>
