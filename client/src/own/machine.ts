/** The machine that is open: its newest revision, the figure under the finger, and what was refused. */
import { computed, reactive } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { FigureState, Known, Machine, MachineState } from '../api/types'

export const at = reactive({
  state: null as MachineState | null,
  figure: 'travel_mm.0',
  wrong: '',
  where: '',
  stale: false,
  busy: false,
})

export const figure = computed<FigureState | undefined>(() => at.state?.figures.find((f) => f.name === at.figure))

/** Of all that is only assumed, what most rests on first. */
export const still_assumed = computed(() => (
  (at.state?.figures ?? []).filter((f) => f.known.origin !== 'told' && f.known.origin !== 'measured' && !f.missing)))

export async function open_machine(id: string): Promise<void> {
  if (at.state?.machine.id !== id) Object.assign(at, { state: null, figure: 'travel_mm.0' })
  Object.assign(at, { wrong: '', where: '', stale: false })
  await attempt(async () => { at.state = await api.machine(id) })
  at.figure = still_assumed.value[0]?.name ?? at.figure
}

async function attempt(act: () => Promise<void>): Promise<boolean> {
  at.busy = true
  try {
    await act()
    Object.assign(at, { wrong: '', where: '', stale: false })
    return true
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (error.status === 401) window.location.assign('/signed-out')
    Object.assign(at, { wrong: error.failure.message, where: error.failure.where ?? '', stale: error.status === 409 })
    return false
  } finally {
    at.busy = false
  }
}

let last: Promise<unknown> = Promise.resolve()

/** Make a change; each waits for the one before and is made on what came of it. */
export function keep(change: (now: Machine) => Machine): Promise<boolean> {
  const made = last.then(() => {
    const state = at.state
    if (!state) return false
    const { machine, revision } = state
    return attempt(async () => { at.state = await api.keep_machine(machine.id, revision, change(machine)) })
  })
  last = made.catch(() => false)
  return made
}

/** Back to what it was before the last change. */
export function put_back(revision: number): Promise<boolean> {
  const made = last.then(() => {
    const state = at.state
    if (!state) return false
    return attempt(async () => { at.state = await api.put_machine_back(state.machine.id, revision) })
  })
  last = made.catch(() => false)
  return made
}

/** A machine with one figure changed. A pump needs both of its figures: the other is assumed until
 *  it is told. */
export function with_value(machine: Machine, name: string, value: unknown): Machine {
  const [field, part] = name.split('.') as [keyof Machine, string | undefined]
  if (part === undefined) return { ...machine, [field]: value }
  if (field === 'precision') {
    return { ...machine, precision: { ...machine.precision, [part]: value } as Machine['precision'] }
  }
  if (field !== 'pump') {
    const values = [...(machine[field] as number[])]
    values[Number(part)] = value as number
    return { ...machine, [field]: values }
  }
  if (value === null) return { ...machine, pump: null }
  const other = part === 'free_l_min' ? 'pump.deepest_bar' : 'pump.free_l_min'
  const guessed = machine.pump ? {} : { [other]: { origin: 'assumed', note: 'a starting figure' } as Known }
  const pump = { free_l_min: 100, deepest_bar: 0.8, ...machine.pump, [part]: value }
  return { ...machine, pump, known: { ...machine.known, ...guessed } } as Machine
}
