import { ref } from 'vue'
import { api } from '../api/client'
import type { BenchState } from '../api/types'
import { open } from '../route/store'

/** The bench steps of the open route with their ticks, one list for all that show them. */
export const bench = ref<BenchState[]>([])
export const bench_wrong = ref('')
export async function load_bench(route: number) { bench.value = await api.bench(route).catch(() => bench.value) }
let last: Promise<void> = Promise.resolve()
/** Until what was ticked last is kept: programs that are written meanwhile would still wait for it. */
export const all_ticked = () => last
export function tick_bench(route: number, step: BenchState): Promise<void> {
  last = keep_tick(route, step)
  return last
}
async function keep_tick(route: number, step: BenchState) {
  try {
    bench.value = await api.tick(route, step.id, !step.done)
    bench_wrong.value = ''
    open.said = `${step.name}: ${step.done ? 'taken back' : 'ticked'}`
  } catch (error) { bench_wrong.value = (error as Error).message }
}
