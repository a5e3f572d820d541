import { computed, onMounted, onUnmounted, ref, watch, type Ref } from 'vue'
import { open, open_route } from '../route/store'

/** What the page of a piece made from numbers shows of the newest revision, and the fret that is looked at. */
interface Rows { rows: unknown[] }
export function of_numbers<V extends Rows>(id: number, ask: () => Promise<V>, is_one: () => boolean, first: number) {
  const view = ref<V | null>(null) as Ref<V | null>
  const view_of = ref('')
  const wrong = ref('')
  const at = ref(first)
  const stale = computed(() => view.value !== null && view_of.value !== open.state?.hash)
  /** Arrow keys go to the next fret wherever the hand is, as long as it is in no field, tab or list. */
  function key(event: KeyboardEvent) {
    const on = event.target as HTMLElement
    const busy = on.closest('input, textarea, select, [role=tab], [role=slider], [role=listbox], [role=combobox]')
    const way = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0
    if (!way || busy || !view.value || event.altKey || event.ctrlKey || event.metaKey) return
    at.value = Math.min(view.value.rows.length - 1, Math.max(0, at.value + way))
    event.preventDefault()
  }
  onMounted(() => { void open_route(id); window.addEventListener('keydown', key) })
  onUnmounted(() => window.removeEventListener('keydown', key))
  watch(() => open.state?.hash, async (hash) => {
    if (!hash || !is_one()) return
    try {
      const found = await ask()
      if (hash !== open.state?.hash) return
      view.value = found
      view_of.value = hash
      wrong.value = ''
      at.value = Math.min(at.value, found.rows.length - 1)
    } catch (error) { wrong.value = (error as Error).message }
  }, { immediate: true })
  return { view, wrong, at, stale }
}
