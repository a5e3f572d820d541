<script setup lang="ts">
import { computed } from 'vue'
import type { Layout } from '../api/types'
import { open } from '../route/store'
import DrawForm from './DrawForm.vue'
import { features, is_drawn, pen, take_up, WORDS } from './pen'
import ShapeSheet from './ShapeSheet.vue'

/** The pen: what can be drawn as a sentence, then what is in hand, else the shape that is taken. */
const props = defineProps<{ layout: Layout; thickness: number }>()
const shapes = computed(() => features().filter((f) => f.kind === 'hole' || f.kind === 'pocket'))
const has_pickup = computed(() => open.state!.document.parts.some((p) => p.kind === 'pickup'))
const saddle = computed(() => props.layout.saddle?.x_mm ?? null)
function take(id: string) { take_up(''); pen.taken = pen.taken === id ? '' : id }
</script>

<template>
  <section class="draw">
    <p class="words">Draw a <template v-for="([what, word], k) in WORDS" :key="what"><span class="one"><button
      class="plain" :class="{ here: pen.hand === what }" :aria-pressed="pen.hand === what"
      @click="take_up(what)">{{ word }}</button>{{ k < WORDS.length - 1 || has_pickup ? ',' : '' }}</span>{{ ' '
      }}</template><template v-if="has_pickup">or the pocket of a <button
      class="plain" :class="{ here: pen.hand === 'pickup' }" :aria-pressed="pen.hand === 'pickup'"
      @click="take_up('pickup')">pickup</button></template>.</p>
    <DrawForm v-if="pen.hand" :thickness="thickness" :saddle="saddle" />
    <ShapeSheet v-else-if="pen.taken" :key="pen.taken" :thickness="thickness" />
    <p v-else class="second">Press a shape on the drawing to place it, or a word above to draw one.</p>
    <nav v-if="!pen.hand" aria-label="Shapes of the piece"><h2>On the piece</h2>
      <button v-for="f in shapes" :key="f.id" class="row" :class="{ here: pen.taken === f.id }"
        :aria-pressed="pen.taken === f.id" @click="take(f.id)">{{ f.name }}
        <span class="least">{{ f.face === 'back' ? 'back' : '' }}{{ is_drawn(f) ? '' : ' follows' }}{{
          f.locked ? ' locked' : '' }}</span></button>
    </nav>
  </section>
</template>

<style scoped>
.draw { display: flex; flex-direction: column; gap: 14px; }
.words { line-height: 1.9; margin: 0; }
.one { white-space: nowrap; }
.here { font-weight: 700; }
.row { display: flex; justify-content: space-between; width: 100%; min-height: 28px; }
.row { border-top: 1px solid var(--rule); }
h2 { margin-bottom: 4px; }
</style>
