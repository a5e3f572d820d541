<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { Layout } from '../api/types'
import { edit, open } from '../route/store'
import { length } from '../units/format'

/** Other hardware on the same body, beside the route: what moves, and whether one neck pocket serves both. */
const props = defineProps<{ layout: Layout; route: number }>()
const router = useRouter()
const doc = computed(() => open.state!.document)
const choice = reactive({ from: '', to: '' })
const wrong = ref('')
const swappable = computed(() => doc.value.parts.filter((p) => doc.value.parts.filter((q) => q.kind === p.kind).length > 1))
const items = computed(() => swappable.value.map((p) => ({ title: p.name, value: p.id })))
const others = computed(() => { const one = doc.value.parts.find((p) => p.id === choice.from); return doc.value.parts.filter((p) => p.kind === one?.kind && p.id !== one?.id).map((p) => ({ title: p.name, value: p.id })) })
function add() {
  const name = doc.value.parts.find((p) => p.id === choice.to)!.name
  const used = new Set(doc.value.variants.map((v) => v.id))
  let k = 1
  while (used.has(`variant_${k}`)) k += 1
  void edit([{ do: 'put_item', list: 'variants', item: { id: `variant_${k}`, name: `With ${name}`, parts: { [choice.from]: choice.to } } }], `Variant with ${name}`)
  choice.from = choice.to = ''
}
async function job(id: string) {
  try { const made = await api.variant_job(props.route, id); await router.push(`/routes/${made.route}/route`) } catch (error) { wrong.value = (error as Error).message }
}
const signed = (a: number | null, b: number | null) => (a === null || b === null ? '' : `${b > a ? '+' : '−'}${length(Math.abs(b - a))}`)
</script>

<template>
  <section>
    <h2>Other hardware on this body</h2>
    <div v-for="v in layout.variants" :key="v.id" class="variant">
      <p class="head"><b>{{ v.name }}</b><button class="plain" @click="edit([{ do: 'remove_item', list: 'variants', id: v.id }], 'Remove a variant')">Remove</button></p>
      <p v-if="v.failed" class="ember">{{ v.failed }}</p>
      <template v-else>
        <p v-if="v.pocket_mm !== null">It asks for a neck pocket <b>{{ length(v.pocket_mm) }}</b> deep.<template v-if="v.saddle_mm !== null"> In the pocket as it is its saddle stands at {{ length(v.saddle_mm) }}, of {{ length(v.saddle_low_mm) }} to {{ length(v.saddle_high_mm) }}.</template></p>
        <p v-if="v.serves === true" class="yes">One pocket serves both.</p>
        <p v-else-if="v.serves === false" class="care">{{ v.shim_mm ? `Its saddle cannot go that low: a shim of ${length(v.shim_mm)} under the heel, or a shallower pocket.` : 'Its saddle cannot go that high: a deeper pocket for both, or a recess less deep.' }}</p>
        <p v-for="m in v.moved.slice(0, 6)" :key="m.what" class="moved"><span>{{ m.what }}</span><b>{{ length(m.after_mm) }}</b><span class="second">{{ signed(m.before_mm, m.after_mm) }}</span></p>
        <button class="cure" @click="job(v.id)">Prove it as a job of its own</button>
      </template>
    </div>
    <p v-if="wrong" class="ember" role="alert">{{ wrong }}</p>
    <template v-if="items.length"><div class="grid"><v-select v-model="choice.from" :items="items" label="Instead of" /><v-select v-model="choice.to" :items="others" label="take" /></div><button class="cure" :disabled="!choice.from || !choice.to" @click="add">Compare</button></template>
    <p v-else class="second">Measure a second bridge or pickup, and the two are compared here.</p>
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
.variant { border-top: 1px solid var(--rule); padding: 6px 0; }
.head { display: flex; justify-content: space-between; }
.moved { display: grid; grid-template-columns: 1fr auto 66px; gap: 8px; }
.moved .second { text-align: right; }
.grid { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 8px 0; }
.yes { color: var(--moss); font-weight: 600; }
.care { background: var(--amber-tint); border-left: 4px solid var(--amber); padding: 3px 8px; }
.ember { color: var(--ember); }
</style>
