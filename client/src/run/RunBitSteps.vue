<script setup lang="ts">
import type { RunBit } from '../api/types'
import OriginTap from '../fields/OriginTap.vue'
import TrustMark from '../marks/TrustMark.vue'
import { few } from '../units/few'
import { minutes } from '../units/format'

/** One bit of a run: what is checked before it starts, and what it cuts. */
defineProps<{ bit: RunBit; ticked: Set<string>; name: string }>()
defineEmits<{ toggle: [key: string] }>()
const rests = (o: RunBit['operations'][number]) =>
  (o.rests_on.never.length ? `Never measured: ${few(o.rests_on.never, 3)}.` :
    `Measured only once: ${few(o.rests_on.once, 3)}.`)
</script>

<template>
  <div class="bit">
    <h2>T{{ bit.t }}, {{ bit.name }} <span
      class="second">{{ minutes(bit.operations.reduce((s, o) => s + o.minutes, 0)) }} min</span></h2>
    <ul>
      <li v-for="c in bit.checks" :key="c">
        <button class="tick" role="checkbox" :aria-checked="ticked.has(`${name}${c}`)"
          :class="{ on: ticked.has(`${name}${c}`) }" @click="$emit('toggle', `${name}${c}`)">
          <svg width="26" height="20" aria-hidden="true">
            <path v-if="ticked.has(`${name}${c}`)" d="M3 11q3 1 5 7q6 -12 15 -17q-10 8 -14 18q-3 -5 -6 -8z"
              fill="var(--moss)" />
            <path v-else d="M3 10q5 -4 11 -3.4t9 3.4q-5 3.4 -10 3t-10 -3z" fill="none" stroke="var(--ink2)"
              stroke-width="1.4" />
          </svg>
          <span>{{ c }}</span>
        </button>
      </li>
    </ul>
    <template v-for="o in bit.operations" :key="o.id">
      <p class="second op"><span>{{ o.name }}</span>
        <OriginTap of="minutes">{{ minutes(o.minutes) }} min</OriginTap></p>
      <p v-if="o.rests_on.once.length || o.rests_on.never.length" class="rests"><TrustMark :trust="o.rests_on.trust"
        /> {{ rests(o) }} Hold the part against it first.</p>
    </template>
  </div>
</template>

<style scoped>
p { margin: 4px 0; }
.bit { border-top: 1px solid var(--rule); padding: 10px 0 6px; }
ul { list-style: none; padding: 0; margin: 6px 0; display: grid; grid-template-columns: 1fr 1fr; gap: 6px; }
.tick { width: 100%; min-height: 44px; border: 1.5px solid var(--edge); border-radius: 2px; padding: 4px 10px; display: flex; gap: 10px; align-items: center; background: var(--bark); }
.tick svg { flex: none; }
.tick.on { background: var(--moss-tint); border-color: var(--moss); }
.rests { color: var(--amber-ink); }
.op { display: flex; justify-content: space-between; max-width: 380px; }
</style>
