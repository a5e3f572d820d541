<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import MeasureJob from './MeasureJob.vue'
import KnownMark from './KnownMark.vue'
import { at } from './machine'
import { job, list, open_job } from './measure'

/** Small jobs whose readings take the place of assumptions: the one in hand, and the others. */
const route = useRoute()
const router = useRouter()
const here = computed(() => String(route.query.job ?? '') || 'square')
const machine = computed(() => at.state!.machine.id)
watch([machine, here], async ([id, kind]) => {
  await list(id)
  await open_job(id, kind)
}, { immediate: true })
watch(() => job.state?.asks, () => { if (job.machine) void list(job.machine) })
const choose = (kind: string) => router.push({ query: { see: 'measure', job: kind } })
const day = (text: string) => new Date(text).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })
const iso = (text: string) => text.slice(0, 10)
</script>

<template>
  <div class="two">
    <section class="hand"><MeasureJob />
      <p v-if="!job.state && job.wrong" class="second" role="alert">{{ job.wrong }}</p></section>
    <nav aria-label="Jobs that measure it" class="sheet">
      <h2>What measures it</h2>
      <p class="second">Each takes scrap or only a gauge. What is old asks again; after a crash measure it anew.</p>
      <ul>
        <li v-for="r in job.rows" :key="r.kind">
          <button :class="{ here: here === r.kind }" :aria-current="here === r.kind ? 'true' : undefined"
            @click="choose(r.kind)">
            <span class="line"><b>{{ r.title }}</b>
              <span v-if="r.kept" class="done"><KnownMark
                :known="{ origin: 'measured', on: iso(r.kept.made_at), note: '' }" :old="r.old" />
                {{ day(r.kept.made_at) }}</span>
              <span v-else-if="r.taken" class="second">{{ r.taken }} of {{ r.readings }} read</span>
              <span v-else class="least">not yet</span></span>
            <span v-if="r.refused" class="least small">{{ r.refused }}</span>
            <span v-else-if="r.kept" class="second small">{{ r.kept.told[0]?.sentence }}</span>
            <span v-else class="second small">{{ r.about }}</span>
          </button>
        </li>
      </ul>
    </nav>
  </div>
</template>

<style scoped>
.two { display: grid; grid-template-columns: 1fr 400px; min-height: 0; }
.hand { overflow-y: auto; padding: 14px 34px 24px; }
.sheet { padding: 18px 20px; overflow-y: auto; }
ul { list-style: none; margin: 8px 0 0; padding: 0; }
li { border-top: 1px solid var(--rule); }
li button { width: 100%; min-height: 44px; padding: 6px 8px; display: block; }
li button:hover { background: var(--well); }
li .here { background: var(--moss-tint); }
.line { display: flex; justify-content: space-between; gap: 10px; align-items: baseline; }
.done { display: inline-flex; gap: 6px; align-items: center; white-space: nowrap; }
.small { display: block; font-size: 14px; line-height: 1.25; }
p { margin: 4px 0 0; }
@media (max-width: 900px) {
  .two { grid-template-columns: 1fr; }
  .hand { padding-left: 14px; padding-right: 14px; }
}
</style>
