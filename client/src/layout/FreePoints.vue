<script setup lang="ts">
import NumberField from '../fields/NumberField.vue'
import { pen } from './pen'

/** The corners of a free shape: pressed on the drawing, or typed; each may be moved by its numbers or taken out. */
const props = defineProps<{ zero: number }>()
const along = (k: number) => Math.round((pen.points[k][0] - props.zero) * 100) / 100
function to(k: number, way: 0 | 1, value: number | null) {
  if (value !== null) pen.points[k][way] = way ? value : Math.round((value + props.zero) * 1000) / 1000
}
/** A corner more: beside the last, or where the lines numbers are counted from cross. */
function more() {
  const last = pen.points.at(-1)
  pen.points.push(last ? [last[0] + 10, last[1]] : [props.zero, 0])
}
</script>

<template>
  <ol class="points">
    <li v-for="(p, k) in pen.points" :key="k">
      <NumberField :model-value="along(k)" :label="`Corner ${k + 1}, along`" negative :places="2"
        @update:model-value="(v) => to(k, 0, v)" />
      <NumberField :model-value="p[1]" :label="`Corner ${k + 1}, across`" negative :places="2"
        @update:model-value="(v) => to(k, 1, v)" />
      <button class="plain" :aria-label="`Take corner ${k + 1} out`" @click="pen.points.splice(k, 1)">out</button>
    </li>
  </ol>
  <button class="cure" @click="more">{{ pen.points.length ? 'One corner more' : 'Type its first corner' }}</button>
</template>

<style scoped>
.points { list-style: none; margin: 0; padding: 0; display: flex; flex-direction: column; gap: 8px; }
li { display: grid; grid-template-columns: 1fr 1fr auto; gap: 8px; align-items: center; }
.cure { align-self: flex-start; }
</style>
