<script setup lang="ts">
import { computed, nextTick, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import type { RevisionRow } from '../api/types'
import { length, say, unit } from '../units/format'
import { apart, differ, end_of } from '../wood/differ'
import { make_painter, type Field, type Painter } from '../wood/paint'
import { WoodView } from '../wood/view'

/** The wood of any two revisions side by side, and what differs. */
const props = defineProps<{ rows: RevisionRow[]; first: number }>()
const emit = defineEmits<{ close: [] }>()
const box = ref<HTMLDialogElement>()
const sides = ref<[number, number]>([props.first, Math.max(...props.rows.map((r) => r.number))])
const views = shallowRef<[WoodView | null, WoodView | null]>([null, null])
const said = ref<[string, string]>(['', ''])
const at = ref(0)
const canvases = ref<HTMLCanvasElement[]>([])
const painters: (Painter | null)[] = [null, null, null]
const items = computed(() => props.rows.map((r) => ({ title: `${r.number}, ${say(r.what)}`, value: r.number })))
const hash_of = (number: number) => props.rows.find((r) => r.number === number)!.hash
let gone = false

/** Fetch the wood of a side; where it is not there it is asked for, and looked for until it is. */
async function load(side: 0 | 1) {
  const number = sides.value[side]
  const tell = (words: string) => { said.value = side ? [said.value[0], words] : [words, said.value[1]] }
  views.value = side ? [views.value[0], null] : [null, views.value[1]]
  tell('Fetching its wood.')
  let asked = false
  while (!gone && sides.value[side] === number) {
    const data = await api.view(hash_of(number)).catch(() => null)
    if (gone || sides.value[side] !== number) return
    if (data) {
      const view = await WoodView.decode(data)
      views.value = side ? [views.value[0], view] : [view, views.value[1]]
      tell('')
      return
    }
    if (!asked) {
      asked = true
      try { await api.prove_again(hash_of(number)) } catch (error) { tell((error as Error).message); return }
    }
    tell('Its wood is being cut on paper.')
    await new Promise((done) => window.setTimeout(done, 1500))
  }
}
onMounted(() => { box.value?.showModal(); void load(0); void load(1) })
onUnmounted(() => { gone = true })
watch(() => sides.value[0], () => void load(0))
watch(() => sides.value[1], () => void load(1))

const setups = computed(() => {
  const [a, b] = views.value
  return a && b ? a.header.setups.slice(0, Math.min(a.header.setups.length, b.header.setups.length)) : []
})
watch(setups, (now) => { at.value = Math.max(0, now.length - 1) })
const why = computed(() => (views.value[0] && views.value[1] ? apart(views.value[0], views.value[1], at.value) : ''))
const found = computed(() => {
  const [a, b] = views.value
  return a && b && !why.value ? differ(a, b, at.value) : null
})
const shown = (mm2: number) =>
  (unit.value === 'inch' ? `${(mm2 / 645.16).toFixed(2)} in²` : `${(mm2 / 100).toFixed(1)} cm²`)
const words = computed(() => {
  const f = found.value
  if (!f) return ''
  const part = (area: number, most: number, how: string) =>
    (area ? [`${shown(area)} ${how}, up to ${length(most, 2)}`] : [])
  const parts = [...part(f.deeper_mm2, f.deepest_mm, 'cut deeper'), ...part(f.higher_mm2, f.highest_mm, 'left higher')]
  return parts.length ? `${parts.join('; ')}.` : 'Their wood is the same.'
})
function paint() {
  const [a, b] = views.value
  const one = (k: number, view: WoodView | null, field?: Field) => {
    const canvas = canvases.value[k]
    if (!view || !canvas) return
    const { nx, ny } = view.header
    const wide = Math.min(900, nx)
    Object.assign(canvas, { width: wide, height: Math.round((wide * ny) / nx) })
    canvas.style.aspectRatio = `${nx} / ${ny}`
    try { painters[k] ??= make_painter(canvas) } catch { return }
    const step = end_of(view, Math.min(at.value, view.header.setups.length - 1))
    view.show(0)
    const top = view.heights.reduce((most, z) => Math.max(most, z), -1e9)
    view.show(step)
    painters[k]?.paint(view, top, field)
  }
  one(0, a)
  one(1, b)
  if (found.value) one(2, b, { of: 'target', values: found.value.values })
}
watch([views, at, found], () => void nextTick(paint))
</script>

<template>
  <dialog ref="box" class="beside" aria-label="Wood of two revisions" @close="emit('close')">
    <header><h2>Two revisions side by side</h2>
      <div v-if="setups.length > 1" class="choice" role="radiogroup" aria-label="At the end of">
        <button v-for="(s, k) in setups" :key="s.id" role="radio" :aria-checked="k === at" :class="{ on: k === at }"
          @click="at = k">{{ s.name }}</button></div>
      <button class="plain" @click="box?.close()">Close</button></header>
    <div class="three">
      <section v-for="k in ([0, 1] as const)" :key="k" :aria-label="`Revision ${sides[k]}`">
        <label class="second" :for="`side${k}`">Revision</label>
        <select :id="`side${k}`" v-model="sides[k]"><option v-for="i in items" :key="i.value" :value="i.value">{{
          i.title }}</option></select>
        <p v-if="said[k]" class="second" role="status">{{ said[k] }}</p>
        <canvas v-show="views[k]" :ref="(c) => { canvases[k] = c as HTMLCanvasElement }" role="img"
          :aria-label="`The wood of revision ${sides[k]}`" />
      </section>
      <section aria-label="What differs">
        <p class="second">What differs</p>
        <p v-if="why" role="status">{{ why }} They can only be looked at.</p>
        <p v-else-if="found" role="status"><b>{{ words }}</b></p>
        <canvas v-show="found" :ref="(c) => { canvases[2] = c as HTMLCanvasElement }" role="img" :aria-label="words" />
        <p v-if="found && (found.deeper_mm2 || found.higher_mm2)" class="least">Hatched: the right one is cut deeper.
          Darker wood: it is left higher. Pale: the same.</p>
      </section>
    </div>
  </dialog>
</template>

<style scoped>
.beside { width: min(1240px, 96vw); max-height: 94vh; border: 1.5px solid var(--edge); background: var(--paper);
  color: var(--ink); padding: 16px 20px; margin: auto; overflow: auto; }
.beside::backdrop { background: rgb(0 0 0 / 0.35); }
header { display: flex; gap: 18px; align-items: center; justify-content: space-between; flex-wrap: wrap; }
.three { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 18px; margin-top: 10px; }
section { display: flex; flex-direction: column; gap: 6px; }
canvas { width: 100%; background: var(--bed); }
select { width: 100%; min-height: 34px; border: 1px solid var(--edge); background: var(--bark); color: var(--ink);
  padding: 2px 6px; font: inherit; }
p { margin: 0; }
@media (max-width: 900px) { .three { grid-template-columns: 1fr; } }
</style>
