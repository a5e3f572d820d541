import { computed, onMounted, onUnmounted, ref, type ComputedRef, type Ref } from 'vue'
import type { RouteDocument } from '../api/types'

/** A blank so much longer than it is wide lies across the page, with everything else under it. */
const LONG = 3.2
const WIDE_ENOUGH = 1110 // below, the page stands in one or two columns anyway

/** How much room is left under a piece that lies across the page; `strip` is what it lies in. */
export function across(doc: ComputedRef<RouteDocument | undefined>, strip: Ref<HTMLElement | undefined>) {
  const high = ref(window.innerHeight)
  const wide = ref(window.innerWidth)
  const taken = ref(0)
  const fit = () => { [high.value, wide.value] = [window.innerHeight, window.innerWidth] }
  const seen = new ResizeObserver((entries) => { taken.value = entries[0].contentRect.height })
  onMounted(() => { window.addEventListener('resize', fit); if (strip.value) seen.observe(strip.value) })
  onUnmounted(() => { window.removeEventListener('resize', fit); seen.disconnect() })
  const is_long = computed(() => !!doc.value && wide.value > WIDE_ENOUGH
    && doc.value.blank.length_mm > LONG * doc.value.blank.width_mm)
  const room = computed(() => (is_long.value ? Math.max(320, high.value - taken.value) : high.value))
  return { is_long, room, wide }
}
