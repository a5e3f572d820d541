<script setup lang="ts">
import { computed } from 'vue'
import type { AtMachineStep, Bed } from '../api/types'
import { open } from '../route/store'
import BedPlan from '../run/BedPlan.vue'
import { length } from '../units/format'
import BitPicture from './BitPicture.vue'
import { note } from './line'

/** One thing to do: what, a picture of it, the number to set, and the button that says it is done. */
const props = defineProps<{ step: AtMachineStep; bed: Bed | null; next: AtMachineStep | null }>()
const bit = computed(() => open.state?.document.bits.find((b) => b.id === props.step.bit) ?? null)
const axes = (of: Record<string, number>) => Object.entries(of).map(([a, mm]) => `${a} ${length(mm, 2)}`).join('   ')
const sets = computed(() => axes(props.step.sets))
const goes = computed(() => axes(props.step.goes))
const shows_bed = computed(() => ['load', 'clamps', 'zero'].includes(props.step.kind) && props.bed)
const which = computed(() => (props.step.kind === 'zero' ? Number(props.step.id.split(':')[2]) + 1 : 0))
</script>

<template>
  <section class="step">
    <h1>{{ step.title }}</h1>
    <div class="two">
      <div class="said">
        <p v-for="l in step.lines" :key="l" class="words">{{ l }}</p>
        <p v-if="goes" class="set"><span>Go to</span><b>{{ goes }}</b></p>
        <p v-if="sets" class="set"><span>Set {{ goes ? 'there' : '' }}</span><b>{{ sets }}</b></p>
        <p v-if="step.number" class="set"><b class="huge">{{ length(step.number_mm!, 1) }}</b>
          <span>{{ step.number_words }}</span></p>
        <p v-if="step.minutes" class="words">About {{ Math.round(step.minutes) }} min{{ step.waits ? ' to wait' : '' }}.
        </p>
      </div>
      <BitPicture v-if="step.kind === 'bit' && bit" :bit="bit" />
      <BedPlan v-else-if="shows_bed" :bed="bed!" :only="which" />
    </div>
    <div class="press">
      <button class="big-go" data-first @click="note('ticked', step.id)">{{ step.press }}</button>
    </div>
    <p v-if="next" class="then">Then: {{ next.title }}</p>
  </section>
</template>

<style scoped>
.step { display: flex; flex-direction: column; gap: 14px; flex: 1; }
.two { display: flex; flex-wrap: wrap; gap: 20px 40px; align-items: flex-start; flex: 1; }
.said { flex: 1 1 320px; display: flex; flex-direction: column; gap: 12px; }
.set { margin: 0; display: flex; flex-wrap: wrap; align-items: baseline; gap: 6px 14px; }
.set b { font-size: clamp(28px, 4vw, 46px); white-space: pre-wrap; }
.set b.huge { font-size: clamp(54px, 9vw, 112px); }
.then { margin: 0; color: var(--ink2); }
</style>
