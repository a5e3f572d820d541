/** How the wood is looked at: by its surface, its thickness, against the drawing, tilted; and from inside one operation. */
import { computed, reactive, shallowRef, watch } from 'vue'
import { BirchFailure, api } from '../api/client'
import { Inside } from '../wood/inside'
import { Target } from '../wood/target'
import { is_current, open, wood } from './store'

export type Shows = 'wood' | 'thick' | 'target' | 'tilted'
/** changed: counts up whenever the wood of the step that is shown is another. */
export const look = reactive({ shows: 'wood' as Shows, follow: false, waits: false, failed: '', at_s: 0, changed: 0 })
export const inside = shallowRef<Inside | null>(null)
export const target = shallowRef<Target | null>(null)
let laid: { step: number; row: Uint16Array[] } | null = null
let asked = 0

/** Ask for a closer look until it is made, or until something newer is asked for. */
async function fetch_look(what: string, still: () => boolean): Promise<ArrayBuffer | null> {
  const hash = open.proved_hash
  for (let pause = 120; still() && open.proved_hash === hash; pause = Math.min(1000, pause * 1.4)) {
    const data = await api.look(hash, what)
    if (data) return still() && open.proved_hash === hash ? data : null
    await new Promise((go) => window.setTimeout(go, pause))
  }
  return null
}

async function with_failure(act: () => Promise<void>): Promise<void> {
  look.failed = ''
  try { await act() } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    look.failed = error.failure.message
  }
}

/** Give the step back its own wood. */
function put_back(): void {
  if (laid && wood.value) wood.value.lay_in(laid.step, laid.row)
  laid = null
  inside.value = null
  look.changed++
}

watch(wood, () => { laid = null; inside.value = null; target.value = null }, { flush: 'sync' })
watch(() => [look.follow, open.step, open.proved_hash, is_current.value], () => void with_failure(load_inside))
watch(() => [look.shows, open.proved_hash, is_current.value], () => void with_failure(load_target))

async function load_inside(): Promise<void> {
  const mine = ++asked
  put_back()
  const operation = open.state?.document.operations[open.step - 1]
  look.waits = look.follow && !!operation
  if (!look.follow || !operation || !is_current.value || !wood.value) return
  const data = await fetch_look(`inside:${operation.id}`, () => mine === asked)
  const view = wood.value
  if (!data || mine !== asked || !view) return
  const step = open.step
  const own = view.row_of(step)
  const first = view.setup_at(step).first_step === step  // of a turned setup: its wood before is in no other step, so the first moment brings it
  const found = await Inside.decode(data, view.header.tile, view.row_of(first ? step : step - 1), own)
  if (mine !== asked) return
  laid = { step, row: own }
  inside.value = found
  look.waits = false
  move_to(0)
}

export function move_to(at_s: number): void {
  const now = inside.value
  if (!now || !laid || !wood.value) return
  look.at_s = Math.max(0, Math.min(now.seconds, at_s))
  const row = now.row_at(look.at_s)
  if (wood.value.row_of(laid.step) !== row) {
    wood.value.lay_in(laid.step, row)
    look.changed++
  }
}

async function load_target(): Promise<void> {
  if (look.shows !== 'target' || target.value || !is_current.value || !wood.value) return
  const hash = open.proved_hash
  const data = await fetch_look('target', () => look.shows === 'target' && open.proved_hash === hash)
  if (data && wood.value && open.proved_hash === hash) target.value = await Target.decode(data, wood.value.header)
}

export const spot = computed(() => (inside.value ? inside.value.spot(look.at_s) : null))
