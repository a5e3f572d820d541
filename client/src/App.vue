<script setup lang="ts">
import { onMounted, onUnmounted } from 'vue'
import { useRoute } from 'vue-router'
import { useTheme } from 'vuetify'
import ConflictSheet from './route/ConflictSheet.vue'
import { open, redo, take_theirs, undo } from './route/store'
import { entered, typed_here } from './route/typed'
import { say, toggle_unit } from './units/format'

const theme = useTheme()
const route = useRoute()
function dark(now: boolean) {
  document.documentElement.dataset.theme = now ? 'dark' : 'light'
  localStorage.setItem('birch_theme', now ? 'dark' : 'light')
  theme.change(now ? 'dark' : 'light')
}
function key(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).closest('input, textarea, select, [role=combobox]')
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z') {
    if (typed_here(event.target as HTMLElement)) return // what is being typed is undone by the field itself
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
  window.addEventListener('focusin', entered)
})
onUnmounted(() => { window.removeEventListener('keydown', key); window.removeEventListener('focusin', entered) })
</script>

<template>
  <v-app>
    <router-view :key="String(route.params.id ?? '')" /><!-- another job is another page -->
    <div class="visually-hidden" aria-live="polite">{{ open.said }}</div>
    <div class="bars">
    <div v-if="open.failure" class="told ember" role="alert">
      <span>{{ open.failure.message }}</span><button class="plain" @click="open.failure = null">Close</button>
    </div>
    <ConflictSheet v-if="open.conflict" />
    <div v-else-if="open.theirs" class="told" role="status">
      <span>{{ open.theirs.author }} has changed this job meanwhile: {{ say(open.theirs.what) }}. What you see is of
        before.</span><button class="cure lead" @click="take_theirs">Show it</button>
    </div>
    <div v-else-if="open.notice" class="told" role="status"><span>{{ open.notice }}</span></div>
    <div v-if="open.offline" class="told" role="status">No word from the desk. What you see stays; it tries again.</div>
    </div>
  </v-app>
</template>

<style scoped>
.bars { position: fixed; left: 34px; right: 34px; bottom: 12px; max-width: 900px; z-index: 2000; pointer-events: none;
  display: grid; gap: 8px; }
.bars > * { pointer-events: auto; }
.told { max-width: 760px; background: var(--bark); border: 1.5px solid var(--edge); padding: 10px 14px;
  display: flex; gap: 14px; justify-content: space-between; align-items: center; }
.acts { display: flex; gap: 10px; flex: none; }
.ember { border-color: var(--ember); border-left-width: 8px; }
</style>
