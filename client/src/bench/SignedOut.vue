<script setup lang="ts">
import { useRoute } from 'vue-router'

const route = useRoute()
const WHY: Record<string, string> = {
  self: 'You have signed out here. Nothing was lost.',
  link: 'This link was used already, or is too old: each works once, within twelve hours.',
  wait: 'Too many links that are none were tried from here. Wait a minute, then open yours.',
}
</script>

<template>
  <main class="out">
    <h1>Birch Route</h1>
    <p class="word">{{ WHY[String(route.query.why ?? '')] ?? 'You are not signed in here.' }}</p>
    <p
      class="word">Ask a planner of the shop for a link, or open the one that <b>./birch start</b> or <b>./birch
      demo</b> printed where it was started; started again, it prints a new one.</p>
  </main>
</template>

<style scoped>
.out { max-width: 560px; margin: 18vh auto; padding: 0 34px; }
p { font-size: 18px; margin-top: 14px; }
</style>
