<script setup lang="ts">
import { chosen } from './chosen'

/** The keys of this screen. */
const KEYS: [string, string][] = [
  ['↑ ↓', 'row before, row after'],
  ['Alt ↑ ↓', 'move the row earlier, later'],
  ['e', 'into its sheet'],
  ['n', 'add a step at the bench after it'],
  ['s', 'mark it, to change several together'],
  ['o', 'orders and what they cost'],
  ['h', 'history, name and note'],
  ['g, letter', 'go to a finding'],
  ['Enter', 'take the first cure'],
  ['Esc', 'leave what is open'],
  ['space', 'play the cutting'],
  ['Shift ↑ ↓', 'move the section'],
  ['Shift ← →', 'turn the section'],
  ['x', 'section along or across'],
  ['t a v', 'thickness, against the drawing, tilted'],
  ['b', 'follow the bit'],
  ['m', 'measure'],
  ['u', 'mm or inch'],
  ['d', 'light or dark'],
  ['Ctrl z', 'undo; with Shift, redo'],
]
</script>

<template>
  <section class="keys" aria-label="Keys of this screen">
    <h2>Keys</h2>
    <dl><template v-for="[key, words] in KEYS" :key="key"><dt>{{ key }}</dt><dd>{{ words }}</dd></template></dl>
    <button class="plain" @click="chosen.keys = false">Back to the operation</button>
  </section>
</template>

<style scoped>
.keys { display: flex; flex-direction: column; gap: 10px; }
dl { display: grid; grid-template-columns: 84px 1fr; gap: 5px 8px; margin: 0; }
dt { font-weight: 700; white-space: nowrap; }
dd { margin: 0; }
</style>
