/** What is chosen on the trunk beside the operation that is looked at: a step at the bench, or several operations that
 *  are changed together. */
import { computed, reactive } from 'vue'
import type { Edit } from '../api/types'
import { load_orders, told } from '../trunk/orders'
import { edit, open } from './store'

const nothing = () => ({ adding: false, ordering: false, keys: false, history: false, marked: [] as string[] })
export const chosen = reactive({ step: '', ...nothing() })

/** Leave whatever stands in place of the operation's sheet, and mark nothing. */
export function leave(): void { Object.assign(chosen, nothing()) }

const doc = computed(() => open.state?.document)
export const marked = computed(() => (doc.value?.operations ?? []).filter((o) => chosen.marked.includes(o.id)))
export const step_chosen = computed(() => doc.value?.bench_steps.find((s) => s.id === chosen.step))

/** Mark an operation to be changed with others, or take the mark back. */
export function mark(id: string): void {
  chosen.marked = chosen.marked.includes(id) ? chosen.marked.filter((m) => m !== id) : [...chosen.marked, id]
}

/** Mark every operation from the first marked one to this. */
export function mark_to(id: string): void {
  const all = (doc.value?.operations ?? []).map((o) => o.id)
  const from = all.findIndex((o) => chosen.marked.includes(o))
  const to = all.indexOf(id)
  if (from < 0) return mark(id)
  const span = all.slice(Math.min(from, to), Math.max(from, to) + 1)
  chosen.marked = [...new Set([...chosen.marked, ...span])]
}

/** Move the step at the bench that is chosen, or the operation at an index, past its neighbour. */
export function move_past(index: number, later: boolean): void {
  const step = step_chosen.value
  const words = later ? 'Later' : 'Earlier'
  if (step) { void edit([{ do: 'move_step', step: step.id, later }], words); return }
  const all = doc.value?.operations ?? []
  const to = index + (later ? 1 : -1)
  if (to < 0 || to >= all.length) {
    open.said = `${all[index]?.name} stands ${later ? 'last' : 'first'} already`
    return
  }
  void put_at(all[index].id, to, words)
}

/** Put an operation at another place, and say what that broke and cost. */
export async function put_at(id: string, to: number, words: string): Promise<void> {
  await load_orders()
  const said = told(id, to)
  if (await edit([{ do: 'move_operation', operation: id, to }], words)) open.said = `${words}. ${said.words}`
}

/** Put one field of every marked operation to a value, in one change. */
export function set_marked(field: string, value: unknown, words: string): Promise<boolean> {
  const edits: Edit[] = marked.value.map((o) => ({ do: 'set', path: `operations.${o.id}.${field}`, value }))
  return edit(edits, words)
}
