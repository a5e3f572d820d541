/** What an order of the operations keeps, breaks and costs, while one is held or moved. */
import { ref } from 'vue'
import { api } from '../api/client'
import type { Orders } from '../api/types'
import { open } from '../route/store'

export const orders = ref<Orders | null>(null)
let of_hash = ''

/** Fetch what the order that is open must keep; what is there already stays. */
export async function load_orders(): Promise<void> {
  const hash = open.state?.hash ?? ''
  if (!open.state || of_hash === hash) return
  const found = await api.orders(open.state.route).catch(() => null)
  if (!found || open.state?.hash !== hash) return
  orders.value = found
  of_hash = hash
}

/** How often a bit is put in, in an order. */
function changes(ids: string[]): number {
  const bit = new Map(open.state!.document.operations.map((o) => [o.id, o.bit]))
  return ids.filter((o, k) => k === 0 || bit.get(o) !== bit.get(ids[k - 1])).length
}

/** An operation put at another place among all; its setup stays its own, as the server keeps it. */
export function moved(id: string, to: number): string[] {
  const all = open.state!.document.operations
  const ids = all.map((o) => o.id)
  ids.splice(ids.indexOf(id), 1)
  ids.splice(to, 0, id)
  const setups = open.state!.document.setups.map((s) => s.id)
  const place = new Map(all.map((o) => [o.id, setups.indexOf(o.setup)]))
  return ids.map((o, k) => ({ o, k })).sort((a, b) => place.get(a.o)! - place.get(b.o)! || a.k - b.k).map((x) => x.o)
}

/** What putting an operation at another place breaks and costs, in words; breaks: whether it does harm. */
export function told(id: string, to: number): { words: string; breaks: boolean } {
  const kept = orders.value
  const doc = open.state!.document
  const name = (o: string) => doc.operations.find((x) => x.id === o)?.name ?? o
  const now = doc.operations.map((o) => o.id)
  const then = moved(id, to)
  const broken = (ids: string[]) => (kept?.before ?? []).filter((b) => ids.indexOf(b.first) > ids.indexOf(b.then))
  const was = new Set(broken(now).map((b) => `${b.first} ${b.then}`))
  const [worst] = broken(then).filter((b) => !was.has(`${b.first} ${b.then}`))
  const more = changes(then) - changes(now)
  const cost = more === 0 ? 'As many bit changes' :
    `${Math.abs(more)} bit ${Math.abs(more) === 1 ? 'change' : 'changes'} ${more > 0 ? 'more' : 'fewer'}`
  const minutes = more && kept ? `, ${Math.abs(more) * kept.change_min} min` : ''
  const harm = worst ? ` ${name(worst.first)} comes before ${name(worst.then)}: ${worst.why}.` : ''
  return { words: `${cost}${minutes}.${harm}`, breaks: !!worst }
}
