<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { Me } from '../api/types'

/** Who is signed in here, and the way out. */
const MAY: Record<Me['role'], string> = {
  planner: 'plans, runs and looks', operator: 'runs and notes, and does not plan', viewer: 'looks, and changes nothing',
}
const me = ref<Me | null>(null)
const wrong = ref('')
onMounted(async () => { me.value = await api.me().catch(() => null) })
async function out() {
  try {
    await api.sign_out()
    window.location.assign('/signed-out?why=self')
  } catch (error) { wrong.value = (error as Error).message }
}
</script>

<template>
  <v-menu v-if="me" location="bottom end" :close-on-content-click="false">
    <template #activator="{ props: tap }"><button v-bind="tap" class="who"
      :aria-label="`Signed in as ${me.name}, ${me.role}`"
      :title="me.name"><span class="full">{{ me.name.length > 9 ? `${me.name.slice(0, 8)}…` : me.name }}</span><span
      class="initial">{{ me.name[0] }}</span></button></template>
    <div class="told" role="dialog" aria-label="Who is signed in">
      <p><b>{{ me.name }}</b>, {{ me.role }}: {{ MAY[me.role] }}.</p>
      <button class="cure" @click="out">Sign out here</button>
      <p class="least">You come back by a new link from a planner.</p>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    </div>
  </v-menu>
</template>

<style scoped>
.who { min-height: 28px; padding: 2px 2px; color: var(--ink2); white-space: nowrap; text-decoration: underline dotted;
  text-underline-offset: 3px; }
.initial { display: none; }
@container (max-width: 640px) { .full { display: none; } .initial { display: inline; } }
.who:hover { color: var(--ink); }
.told { background: var(--bark); color: var(--ink); border: 1.5px solid var(--edge); padding: 12px 14px; display: flex;
  flex-direction: column; gap: 8px; max-width: 300px; }
p { margin: 0; }
.cure { align-self: flex-start; }
.ember { color: var(--ember); }
</style>
