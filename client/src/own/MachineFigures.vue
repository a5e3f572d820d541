<script setup lang="ts">
import { computed } from 'vue'
import type { FigureState } from '../api/types'
import BedDrawing from './BedDrawing.vue'
import HeadDrawing from './HeadDrawing.vue'
import KnownMark from './KnownMark.vue'
import SpindleDrawing from './SpindleDrawing.vue'
import { at } from './machine'

/** All figures of a machine beside the drawings they belong to. */
const groups = ['bed', 'head', 'spindle', 'motion', 'use', 'precision'] as const
const NAMES = {
  bed: 'Bed', head: 'Over the bed', spindle: 'Spindle', motion: 'How it moves', use: 'How it is used',
  precision: 'How true it is',
}
const of = (group: FigureState['group']) => computed(() => at.state?.figures.filter((f) => f.group === group) ?? [])
const figures = { bed: of('bed'), head: of('head'), spindle: of('spindle'), motion: of('motion'),
  use: of('use'), precision: of('precision') }
</script>

<template>
  <div v-if="at.state" class="all">
    <section v-for="g in groups" :key="g" :class="g">
      <h2>{{ NAMES[g] }}</h2>
      <BedDrawing v-if="g === 'bed'" :machine="at.state.machine" :figure="at.figure" :wide="400" :high="300" />
      <HeadDrawing v-if="g === 'head'" :machine="at.state.machine" :figure="at.figure" />
      <SpindleDrawing v-if="g === 'spindle'" :machine="at.state.machine" :figure="at.figure" />
      <ul>
        <li v-for="f in figures[g].value" :key="f.name">
          <button
            :class="{ here: at.figure === f.name }" :aria-pressed="at.figure === f.name" @click="at.figure = f.name"
          ><span class="value"><b>{{ f.said }}</b> <KnownMark v-if="!f.missing" :known="f.known" :old="f.old" /></span>
            <span class="second">{{ f.words }}</span></button>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.all { display: grid; grid-template-columns: 1fr 1fr; gap: 18px 30px; align-items: start; }
section.bed, section.motion, section.use, section.precision { grid-column: 1 / -1; }
section { border-top: 1px solid var(--rule); padding-top: 8px; }
section.bed { display: grid; grid-template-columns: auto 1fr; gap: 0 24px; }
section.bed h2, section.motion h2, section.use h2, section.precision h2 { grid-column: 1 / -1; }
ul {
  list-style: none; padding: 0; margin: 6px 0 0; display: grid; grid-template-columns: repeat(2, 1fr); gap: 2px 14px;
}
.motion ul, .use ul, .precision ul { grid-template-columns: repeat(3, 1fr); }
.bed ul { align-content: start; }
li button { width: 100%; min-height: 44px; padding: 3px 6px; display: block; border-radius: 2px; }
li button:hover { background: var(--well); }
li .here { background: var(--moss-tint); }
.value { display: flex; gap: 8px; align-items: center; }
.value b { overflow-wrap: anywhere; }
li .second { display: block; font-size: 13px; line-height: 1.2; }
@media (max-width: 1100px) {
  section.bed { grid-template-columns: 1fr; }
  .motion ul, .use ul, .precision ul { grid-template-columns: repeat(2, 1fr); }
}
@media (max-width: 700px) { .all { grid-template-columns: 1fr; } }
</style>
