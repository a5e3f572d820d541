<script setup lang="ts">
import EditField from './EditField.vue'
import OriginTap from './OriginTap.vue'

/** One number as a line: its name, the number to be typed over, and why it is what it is. */
defineProps<{ path: string; value: number | null | undefined; label: string; is_length?: boolean; suffix?: string; places?: number; is_rate?: boolean; why?: string; origin?: string }>()
</script>

<template>
  <div class="line">
    <span v-if="origin" class="name"><OriginTap :of="origin">{{ label }}</OriginTap></span><span v-else class="name" aria-hidden="true">{{ label }}</span>
    <EditField class="field" :path="path" :value="value" :label="label" :is_length="is_length" :is_rate="is_rate" :suffix="suffix" :places="places" bare />
    <span v-if="why" class="why least">{{ why }}</span>
  </div>
</template>

<style scoped>
.line { display: grid; grid-template-columns: 1fr 130px; align-items: center; column-gap: 8px; min-height: 30px; }
.name { font-weight: 600; }
.why { grid-column: 1 / -1; font-size: 14px; line-height: 1.25; margin-bottom: 4px; }
.field :deep(.v-field__input) { text-align: right; padding-top: 2px !important; padding-bottom: 2px !important; min-height: 26px !important; font-weight: 600; }
.field :deep(.v-text-field__suffix) { min-width: 52px; padding-left: 5px; }
</style>
