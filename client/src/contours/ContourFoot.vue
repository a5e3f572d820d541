<script setup lang="ts">
import { computed } from 'vue'
import type { Bevel, Carve, Channel } from '../api/types'
import { edit, findings, open } from '../route/store'

/** Under a contour: one station more, what cuts it where nothing does, and what was found of it. */
const props = defineProps<{ of: Bevel | Carve | Channel }>()
defineEmits<{ more: [] }>()
const cut = computed(() => open.state!.document.operations.some((o) => o.features.includes(props.of.id)))
const told = computed(() => findings.value.filter((f) => f.feature === props.of.id))
const channel = computed(() => props.of.kind === 'channel')
</script>

<template>
  <p v-if="!channel || !cut" class="acts">
    <button v-if="!channel" class="plain" @click="$emit('more')">One station more</button>
    <button v-if="!cut" class="cure" @click="edit([{ do: 'propose_for', feature: of.id }], `Cut ${of.name}`)">{{
      channel ? 'Add the operation' : 'Add the operations' }}</button>
  </p>
  <p v-for="f in told" :key="f.letter" class="care">{{ f.sentence }}</p>
</template>

<style scoped>
p { margin: 4px 0; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
</style>
