import { ref } from 'vue'
import { api } from '../api/client'
import type { BenchState } from '../api/types'
import { open } from '../route/store'

/** The bench steps of the open route with their ticks, one list for all that show them. */
export const bench = ref<BenchState[]>([])
export const bench_wrong = ref('')
export async function load_bench(route: number) { bench.value = await api.bench(route).catch(() => bench.value) }
export async function tick_bench(route: number, step: BenchState) {
  try {
    bench.value = await api.tick(route, step.id, !step.done)
    bench_wrong.value = ''
    open.said = `${step.name}: ${step.done ? 'taken back' : 'ticked'}`
  } catch (error) { bench_wrong.value = (error as Error).message }
}
