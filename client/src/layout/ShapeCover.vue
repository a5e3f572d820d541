<script setup lang="ts">
import { reactive, ref } from 'vue'
import type { DocFeature } from '../api/types'
import NumberField from '../fields/NumberField.vue'
import { edit, open } from '../route/store'

/** A ledge round a shape: bare, or for a cover with the pilot holes of its screws. */
const props = defineProps<{ feature: DocFeature }>()
const asks = ref<'' | 'ledge' | 'cover'>('')
const size = reactive({ land_mm: null as number | null, thick_mm: null as number | null })
const wrong = ref('')
/** A plate on hand says how thick the cover is, as far as it is read. */
function ask(what: 'ledge' | 'cover') {
  asks.value = asks.value === what ? '' : what
  wrong.value = ''
  const plate = open.state!.document.parts.find((p) => p.kind === 'plate')
  size.thick_mm = plate?.readings.filter((r) => r.place === 'plate_thickness').at(-1)?.value_mm ?? null
}
async function keep() {
  const { land_mm, thick_mm } = size
  if (land_mm === null || thick_mm === null) { wrong.value = 'Say how wide the ledge is, and how deep.'; return }
  const feature = props.feature.id
  const one = asks.value === 'cover' ? { do: 'cover_cavity', feature, land_mm, thick_mm }
    : { do: 'step_down', feature, width_mm: land_mm, depth_mm: thick_mm }
  const words = asks.value === 'cover' ? 'A cover over' : 'A ledge round'
  if (await edit([one], `${words} ${props.feature.name}`)) asks.value = ''
}
</script>

<template>
  <div class="cover">
    <p class="acts"><button class="plain" :aria-expanded="asks === 'ledge'"
      @click="ask('ledge')">A ledge round it</button>
      <button v-if="feature.shape?.kind === 'rectangle'" class="plain" :aria-expanded="asks === 'cover'"
        @click="ask('cover')">A cover over it</button></p>
    <template v-if="asks">
      <div class="grid">
        <NumberField v-model="size.land_mm" :places="2"
          :label="asks === 'cover' ? 'Land for its screws' : 'Ledge wide'" />
        <NumberField v-model="size.thick_mm" :label="asks === 'cover' ? 'Cover thick' : 'Ledge deep'" :places="2" />
      </div>
      <p v-if="asks === 'cover'" class="least">A ledge as deep as the cover is thick, and four pilot holes in its
        corners. Measure the cover; the wood beside its screws is judged.</p>
      <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
      <button class="cure" @click="keep">Draw {{ asks === 'cover' ? 'its ledge and holes' : 'the ledge' }}</button>
    </template>
  </div>
</template>

<style scoped>
.cover { display: flex; flex-direction: column; gap: 8px; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; }
.acts { display: flex; gap: 14px; }
.cure { align-self: flex-start; }
.ember { color: var(--ember); }
p { margin: 0; }
</style>
