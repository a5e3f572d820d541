<script setup lang="ts">
import { ref, watch } from 'vue'
import { set } from '../route/store'

/** Words of the route, kept when the field is left or by Enter. */
const props = defineProps<{ path: string; value: string; label: string; long?: boolean; needed?: boolean }>()
const text = ref(props.value)
let clean = true
watch(() => [props.path, props.value], () => { clean = true; text.value = props.value })
async function keep() {
  if (clean) return
  clean = true
  const now = text.value.trim()
  if (now === props.value || (props.needed && !now) || !(await set(props.path, now))) text.value = props.value
}
</script>

<template>
  <v-textarea v-if="long" v-model="text" :label="label" rows="2" auto-grow maxlength="1000"
    @update:model-value="clean = false" @keydown.esc.stop="text = value; clean = true" @blur="keep" />
  <v-text-field v-else v-model="text" :label="label" maxlength="80" autocomplete="off"
    @update:model-value="clean = false"
    @keydown.enter.stop="keep" @keydown.esc.stop="text = value; clean = true" @blur="keep" />
</template>
