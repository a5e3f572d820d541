<script setup lang="ts">
import { onMounted, onUnmounted } from 'vue'
import { useTheme } from 'vuetify'
import { mine_again, mine_again_possible, open, redo, take_theirs, undo } from './route/store'
import { toggle_unit } from './units/format'

const theme = useTheme()
function dark(now: boolean) {
  document.documentElement.dataset.theme = now ? 'dark' : 'light'
  localStorage.setItem('birch_theme', now ? 'dark' : 'light')
  theme.change(now ? 'dark' : 'light')
}
function key(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).closest('input, textarea, select, [role=combobox]')
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    void (event.shiftKey ? redo() : undo())
  } else if (!typing && !event.ctrlKey && !event.metaKey && !event.altKey) {
    if (event.key === 'u') toggle_unit()
    if (event.key === 'd') dark(document.documentElement.dataset.theme !== 'dark')
  }
}
onMounted(() => {
  dark(localStorage.getItem('birch_theme') === 'dark')
  window.addEventListener('keydown', key)
})
onUnmounted(() => window.removeEventListener('keydown', key))
</script>

<template>
  <v-app>
    <router-view />
    <div class="visually-hidden" aria-live="polite">{{ open.said }}</div>
    <div v-if="open.failure" class="told ember" role="alert">
      <span>{{ open.failure.message }}</span><button class="plain" @click="open.failure = null">Close</button>
    </div>
    <div v-if="open.conflict" class="told ember" role="alert">
      <span>{{ open.conflict.message }}</span><span class="acts"><button class="cure" @click="take_theirs">Keep theirs</button><button v-if="mine_again_possible()" class="cure lead" @click="mine_again">Make mine on top</button></span>
    </div>
    <div v-if="open.offline" class="told" role="status">No word from the desk. What you see stays; it tries again.</div>
  </v-app>
</template>

<style scoped>
.told { position: fixed; left: 34px; right: 34px; bottom: 12px; max-width: 760px; background: var(--bark); border: 1.5px solid var(--edge); padding: 10px 14px; z-index: 2000; display: flex; gap: 14px; justify-content: space-between; align-items: center; }
.acts { display: flex; gap: 10px; flex: none; }
.ember { border-color: var(--ember); border-left-width: 8px; }
</style>
