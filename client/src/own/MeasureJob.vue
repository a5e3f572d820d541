<script setup lang="ts">
import { computed } from 'vue'
import NumberField from '../fields/NumberField.vue'
import { minutes } from '../units/format'
import MeasureDrawing from './MeasureDrawing.vue'
import ReadingField from './ReadingField.vue'
import { again, give, job, keep_measured, read } from './measure'

/** A small job in hand: what to do, what is cut, the readings, and what they say. */
const capital = (words: string) => words[0].toUpperCase() + words.slice(1)
const AGAIN = ', again'
/** Readings of one place side by side. */
const lines = computed(() => {
  const out: { words: string; asks: NonNullable<typeof job.state>['asks'] }[] = []
  for (const ask of job.state?.asks ?? []) {
    const words = ask.words.replace(AGAIN, '').replace(/, over the (far|near) edges$/, '').replace(/, \d+ of \d+$/, '')
    const line = out.find((l) => l.words === words)
    if (line) line.asks.push(ask)
    else out.push({ words, asks: [ask] })
  }
  return out
})
const ways = computed(() => job.state?.kind === 'square')
const where = computed(() => (job.where.startsWith('readings.') ? job.where.slice(9) : ''))
const program = computed(() => `/api/machines/${encodeURIComponent(job.machine)}/measuring/${job.state?.kind}/program`)
const places = computed(() => Object.keys(job.state?.apart ?? {}).map((name) => (
  job.state!.asks.find((a) => a.name === name)?.words ?? name)))
const kept = computed(() => job.state?.told.some((t) => t.figure) ?? false)
</script>

<template>
  <div v-if="job.state" class="job">
    <h2 class="name">{{ job.state.title }}</h2>
    <p class="second about">{{ job.state.about }}</p>
    <div class="split">
      <div>
        <ol class="steps"><li v-for="(s, n) in job.state.steps" :key="n">{{ s }}</li></ol>
        <a v-if="job.state.minutes !== null" class="cure" :href="program" download>The program,
          {{ minutes(job.state.minutes) }} min</a>
        <div v-if="job.state.given.length" class="given">
          <NumberField
            v-for="g in job.state.given" :key="g.name" :model-value="g.value" :label="g.words" :places="1"
            :kind="g.gauge === 'length' ? 'length' : 'number'"
            @update:model-value="(v) => v !== null && give(g.name, v)"
          />
        </div>
        <p v-if="job.note" class="amber" role="status">{{ job.note }}</p>
      </div>
      <MeasureDrawing :state="job.state" :here="job.here" />
    </div>
    <p v-if="job.state.changed" class="amber" role="status">The machine was changed since. These readings belong to the
      program as it was. <button class="cure" @click="again">Begin anew on it as it is now</button></p>
    <div v-if="ways" class="heads least"><span /><span>far edges</span><span>near edges</span></div>
    <div class="readings">
      <div v-for="l in lines" :key="l.words" class="line">
        <span class="what">{{ capital(l.words) }}</span>
        <span class="fields"><ReadingField
          v-for="a in l.asks" :key="a.name" :ask="a" :label="capital(a.words)" :apart="a.name in job.state.apart"
          @read="(v) => read(a.name, v)" @here="job.here = a.name" />
          <span v-if="l.asks.some((a) => a.name === where)" class="ember wide"
            role="alert">{{ job.wrong }}</span></span>
      </div>
    </div>
    <p v-if="job.wrong && !where" class="ember" role="alert">{{ job.wrong }}</p>
    <p v-if="places.length" class="amber"
      role="status">Apart from the others: {{ places.join('; ') }}. Read it again.</p>
    <div class="says" aria-live="polite">
      <p v-if="job.state.left.length" class="second">{{ job.state.left.length }} of {{ job.state.asks.length }} readings
        are still to be taken.</p>
      <template v-else>
        <div v-for="(t, n) in job.state.told" :key="n" class="told">
          <p class="word">{{ capital(t.sentence) }}</p><p v-if="t.fix" class="second">{{ t.fix }}</p>
        </div>
        <div class="acts">
          <button v-if="!job.state.is_kept && kept" class="cure lead" @click="keep_measured">Keep it: then it is
            measured</button>
          <span v-if="job.state.is_kept" class="second">Kept: these are the machine's figures.</span>
          <button class="plain" @click="again">Take it all again</button>
        </div>
      </template>
    </div>
  </div>
</template>

<style scoped>
.job { display: flex; flex-direction: column; gap: 8px; max-width: 860px; }
.name { font-size: 22px; }
p { margin: 0; }
.split { display: grid; grid-template-columns: minmax(260px, 1fr) auto; gap: 20px; align-items: start; }
a.cure { text-decoration: none; }
.steps { margin: 0 0 10px; padding-left: 20px; }
.steps li { padding: 2px 0; }
.given { display: grid; grid-template-columns: repeat(auto-fill, minmax(190px, 1fr)); gap: 10px; margin-top: 12px; }
.heads, .line { display: grid; grid-template-columns: minmax(150px, 240px) 1fr; gap: 12px; align-items: center; }
.heads { grid-template-columns: minmax(150px, 240px) 130px 130px; }
.heads span { text-align: right; padding-right: 8px; }
.line { padding: 3px 0; border-top: 1px solid var(--rule); }
.fields { display: flex; flex-wrap: wrap; gap: 6px 12px; }
.fields > * { width: 130px; }
.fields > .wide { width: 100%; }
.amber { background: var(--amber-tint); padding: 6px 10px; }
.ember { color: var(--ember); }
.says { border-top: 1px solid var(--ink); padding-top: 8px; margin-top: 4px; }
.told { padding: 3px 0; }
.told .word { font-size: 18px; line-height: 1.25; }
.acts { display: flex; gap: 18px; align-items: center; margin-top: 8px; }
@media (max-width: 1100px) { .split { grid-template-columns: 1fr; } }
</style>
