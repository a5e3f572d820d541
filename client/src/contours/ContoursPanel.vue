<script setup lang="ts">
import { computed } from 'vue'
import type { Bevel, Carve, Channel, Layout } from '../api/types'
import { edit, open } from '../route/store'
import ReliefPanel from '../layout/ReliefPanel.vue'
import BevelCard from './BevelCard.vue'
import CarveCard from './CarveCard.vue'
import ChannelCard from './ChannelCard.vue'

/** Slopes and ledges along the outline: begun where they usually lie, then fitted. Their ends are dragged on the
 *  drawing. */
const props = defineProps<{ layout: Layout }>()
const features = computed(() => open.state!.document.piece.features)
const bevels = computed(() => features.value.filter((f): f is Bevel => f.kind === 'bevel'))
const carves = computed(() => features.value.filter((f): f is Carve => f.kind === 'carve'))
const channels = computed(() => features.value.filter((f): f is Channel => f.kind === 'channel'))
const read = (id: string) => props.layout.contours.find((c) => c.id === id) ?? null
type Kind = 'arm' | 'belly' | 'heel' | 'carve' | 'channel'
const begins = computed<[Kind, string][]>(() => [
  ['channel', channels.value.length ? 'A purfling channel' : 'A binding channel'],
  ...(carves.value.length ? [] : [['carve', 'A carved top']] as [Kind, string][]),
  ['arm', 'An arm bevel'], ['belly', 'A belly bevel'], ['heel', 'A heel bevel'],
])
const begin = (contour: Kind, words: string) => edit([{ do: 'add_contour', contour }], `Draw ${words.toLowerCase()}`)
</script>

<template>
  <section>
    <h2>Contours</h2>
    <p v-if="!bevels.length && !carves.length" class="second">A slope along the rim for the arm, the belly or the neck’s
      heel: it takes its shape from widths and drops at a few places. A ball bit cuts it.</p>
    <BevelCard v-for="b in bevels" :key="b.id" :bevel="b" :read="read(b.id)" />
    <CarveCard v-for="c in carves" :key="c.id" :carve="c" :read="read(c.id)" />
    <ChannelCard v-for="c in channels" :key="c.id" :channel="c" />
    <p class="acts"><button v-for="[kind, words] in begins" :key="kind" class="cure"
      @click="begin(kind, words)">{{ words }}</button></p>
    <ReliefPanel />
  </section>
</template>

<style scoped>
p { margin: 4px 0; }
.acts { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
section :deep(.contour) { border-top: 1px solid var(--rule); padding: 6px 0; }
section :deep(.contour > p) { margin: 4px 0; }
section :deep(.head) { display: flex; justify-content: space-between; }
section :deep(.grid) { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; margin: 6px 0; }
</style>
