<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'
import type { Inside, Spot } from './inside'

/** The bit's way in plan: what is behind it in ink, what is ahead pale, rapid moves dotted. */
const props = defineProps<{ inside: Inside; spot: Spot; width: number; height: number; sx: (x: number) => number; sy: (y: number) => number; signs: [number, number] }>()
const canvas = ref<HTMLCanvasElement>()
const RAPID = 'rapid'

function paint() {
  const c = canvas.value
  if (!c) return
  const ratio = Math.min(2, window.devicePixelRatio || 1)
  const [w, h] = [Math.round(props.width * ratio), Math.round(props.height * ratio)]
  if (c.width !== w || c.height !== h) Object.assign(c, { width: w, height: h })
  const g = c.getContext('2d')!
  g.setTransform(ratio, 0, 0, ratio, 0, 0)
  g.clearRect(0, 0, props.width, props.height)
  const { points, kinds, header } = props.inside
  const x = (k: number) => props.sx(points[3 * k] * props.signs[0])
  const y = (k: number) => props.sy(points[3 * k + 1] * props.signs[1])
  const run = (from: number, to: number, rapid: boolean, last?: [number, number]) => {
    g.beginPath()
    let pen = false
    for (let k = from; k < to; k++) {
      if ((header.kinds[kinds[k]] === RAPID) !== rapid) { pen = false; continue }
      if (!pen) g.moveTo(x(k), y(k))
      if (k === to - 1 && last) g.lineTo(...last)
      else g.lineTo(x(k + 1), y(k + 1))
      pen = true
    }
    g.stroke()
  }
  const here: [number, number] = [props.sx(props.spot.x * props.signs[0]), props.sy(props.spot.y * props.signs[1])]
  g.lineJoin = 'round'
  g.strokeStyle = 'rgba(251, 249, 245, .62)'
  g.lineWidth = 1
  run(props.spot.move, kinds.length, false)
  g.strokeStyle = 'rgba(29, 26, 23, .9)'
  run(0, props.spot.move + 1, false, here)
  g.setLineDash([1.5, 4])
  run(0, props.spot.move + 1, true, here)
}
watch(() => [props.inside, props.spot, props.width, props.height], paint, { flush: 'post' })
onMounted(paint)
</script>

<template>
  <canvas ref="canvas" class="way" :style="{ width: `${width}px`, height: `${height}px` }" aria-hidden="true" />
</template>

<style scoped>
.way { position: absolute; inset: 0; pointer-events: none; }
</style>
