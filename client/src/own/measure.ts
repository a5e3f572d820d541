/** The small job that is open: its readings as they are typed, each saved as it comes. */
import { computed, reactive } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { MeasuringRow, MeasuringState } from '../api/types'
import { open_machine } from './machine'

export const job = reactive({
  machine: '',
  rows: [] as MeasuringRow[],
  state: null as MeasuringState | null,
  here: '',
  wrong: '',
  where: '',
  note: '',
})

export const readings = computed<Record<string, number>>(() => {
  const taken = (job.state?.asks ?? []).filter((a) => a.value !== null)
  return Object.fromEntries(taken.map((a) => [a.name, a.value as number]))
})

async function attempt(act: () => Promise<MeasuringState>): Promise<boolean> {
  try {
    job.state = await act()
    Object.assign(job, { wrong: '', where: '', note: '' })
    return true
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (error.status === 401) window.location.assign('/signed-out')
    Object.assign(job, { wrong: error.failure.message, where: error.failure.where ?? '' })
    return false
  }
}

let last: Promise<unknown> = Promise.resolve()

/** Do one thing after the other, each on what came of the one before. */
function next<T>(act: () => Promise<T>): Promise<T> {
  const made = last.then(act)
  last = made.catch(() => undefined)
  return made
}

export async function list(machine: string): Promise<void> {
  job.machine = machine
  job.rows = await api.small_jobs(machine)
}

export function open_job(machine: string, kind: string): Promise<boolean> {
  Object.assign(job, { state: null, wrong: '', where: '', here: '' })
  return next(() => attempt(() => api.small_job(machine, kind)))
}

/** Take one reading; null takes it back. */
export function read(name: string, value: number | null): Promise<boolean> {
  return next(async () => {
    const state = job.state
    if (!state) return false
    const now = { ...readings.value }
    if (value === null) delete now[name]
    else now[name] = value
    const given = Object.fromEntries(state.given.map((g) => [g.name, g.value]))
    return attempt(() => api.save_readings(job.machine, state.kind, given, now))
  })
}

/** Say what is at hand for the job; readings of another program go. */
export function give(name: string, value: number): Promise<boolean> {
  return next(async () => {
    const state = job.state
    if (!state) return false
    const taken = Object.keys(readings.value).length
    const given = { ...Object.fromEntries(state.given.map((g) => [g.name, g.value])), [name]: value }
    const made = await attempt(() => api.save_readings(job.machine, state.kind, given, readings.value))
    const lost = taken - Object.keys(readings.value).length
    if (made && lost > 0) job.note = `That is another program: its ${lost} readings are to be taken anew.`
    return made
  })
}

export function again(): Promise<boolean> {
  return next(async () => {
    const made = await attempt(() => api.measure_again(job.machine, job.state!.kind))
    await list(job.machine)
    return made
  })
}

export function keep_measured(): Promise<boolean> {
  return next(async () => {
    const made = await attempt(() => api.keep_measured(job.machine, job.state!.kind))
    if (!made) return false
    await Promise.all([list(job.machine), open_machine(job.machine)])
    return true
  })
}
