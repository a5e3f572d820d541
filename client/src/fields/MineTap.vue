<script setup lang="ts">
import type { AssumedNumber } from '../api/types'
import { say_mine } from './assumed'

/** Beside a number that nobody has said: one press says that it is meant as it stands. */
defineProps<{ of: AssumedNumber }>()
</script>

<template>
  <button type="button" class="mine" :title="`Assumed: ${of.words}. Press to say that it is yours.`"
    :aria-label="`${of.name} is assumed: say that it is mine`" @click.stop="say_mine(of)">mine</button>
</template>

<style scoped>
.mine {
  font: 600 13px var(--num); color: var(--ink2); border-bottom: 2px dotted var(--ink3); line-height: 20px;
  padding: 2px 2px 0; white-space: nowrap;
}
.mine:hover { color: var(--ink); border-bottom-style: solid; }
</style>
