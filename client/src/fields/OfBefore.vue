<script setup lang="ts">
/** What stands here is of before the last change: it is seen to be, and cannot be pressed, until it was made anew. */
defineProps<{ stale: boolean; words?: string }>()
</script>

<template>
  <p v-if="stale" class="of-before-said" role="status">{{ words ?? 'Of before the last change; it is being made anew.'
    }}</p>
  <div :inert="stale" :class="{ 'of-before': stale }"><slot /></div>
</template>
