/** How much of a drawing is seen: closer at the pointer, moved by hand, the whole again. Lengths mm, y up. */
import { computed, ref, type Ref } from 'vue'
import type { Point } from '../api/types'

export interface Box { x0: number; x1: number; y0: number; y1: number }
const CLOSEST = 16

export function seen_box(whole: Ref<Box>) {
  const seen = ref<Box | null>(null)
  const box = computed(() => seen.value ?? whole.value)
  /** Show so many times more or less of it, with a point staying where it is. */
  function closer(times: number, about?: Point): void {
    const b = box.value
    const [x, y] = about ?? [(b.x0 + b.x1) / 2, (b.y0 + b.y1) / 2]
    const most = whole.value.x1 - whole.value.x0
    const by = Math.min(Math.max((b.x1 - b.x0) / times, most / CLOSEST), most) / (b.x1 - b.x0)
    if ((b.x1 - b.x0) * by >= most - 1e-6) { seen.value = null; return }
    seen.value = { x0: x - (x - b.x0) * by, x1: x + (b.x1 - x) * by, y0: y - (y - b.y0) * by, y1: y + (b.y1 - y) * by }
  }
  function pan(dx: number, dy: number): void {
    if (!seen.value) return
    const b = seen.value
    seen.value = { x0: b.x0 - dx, x1: b.x1 - dx, y0: b.y0 - dy, y1: b.y1 - dy }
  }
  return { box, closer, pan, is_closer: computed(() => seen.value !== null), all: () => { seen.value = null } }
}
