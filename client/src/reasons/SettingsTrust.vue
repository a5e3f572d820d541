<script setup lang="ts">
import { ref, watch } from 'vue'
import { api } from '../api/client'
import type { Trusted } from '../api/types'
import { STANDING } from '../bits/draw'
import { open } from '../route/store'

/** What the shop's own records say of an operation's settings, in one line; more of it at the rack. */
const props = defineProps<{ operation: string }>()
const trust = ref<Trusted | null>(null)
watch(() => [props.operation, open.proved_hash], async () => {
  const [id, hash] = [open.state?.route, open.state?.hash]
  if (id === undefined || open.proved_hash !== hash) return
  const found = await api.standing(id, props.operation).catch(() => null)
  trust.value = open.state?.hash === hash ? (found?.trust ?? null) : trust.value
}, { immediate: true })
</script>

<template>
  <p v-if="trust" class="second"><b :class="trust.standing">{{ STANDING[trust.standing].mark }}</b> {{ STANDING[trust.standing].words }}{{ trust.count ? `; ${trust.count} ${trust.count === 1 ? 'cut' : 'cuts'} kept` : '' }}. <router-link :to="`/routes/${open.state?.route}/bits`">At the rack</router-link></p>
</template>

<style scoped>
p { margin: 0; }
.proven, .covered { color: var(--moss); } .failed { color: var(--ember); }
</style>
