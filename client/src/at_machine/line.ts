import { computed, reactive } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { AtMachineEventIn, AtMachineState } from '../api/types'
import { with_pending } from './pending'

/** The line to the desk from a device at the machine: what happens is noted here at once, kept in the browser's own
 *  store, and told in order as soon as the desk hears; sent twice it counts once. */
type Kept = { next: number; told: AtMachineEventIn[] }
const LOOK_MS = 3000

function device(): string {
  const known = localStorage.getItem('birch_device')
  if (known) return known
  const made = `device-${crypto.getRandomValues(new Uint32Array(2)).join('-')}`
  localStorage.setItem('birch_device', made)
  return made
}
export const DEVICE = device()

export const line = reactive({
  run: 0, state: null as AtMachineState | null, pending: [] as AtMachineEventIn[], next: 1,
  heard_at: '', silent_since: '', wrong: '', sending: false,
})
const key = () => `birch_machine_${line.run}`
const now = () => new Date().toISOString()

/** The run as it stands here, with what is not told yet. */
export const here = computed(() => line.state && with_pending(line.state, line.pending, DEVICE))

export async function open_line(run: number) {
  Object.assign(line, { run, state: null, pending: [], next: 1, silent_since: '', wrong: '' })
  const kept = JSON.parse(localStorage.getItem(key()) ?? 'null') as Kept | null
  if (kept) Object.assign(line, { pending: kept.told, next: kept.next })
  await tell()
  if (!line.state) await look()
}

function keep() {
  localStorage.setItem(key(), JSON.stringify({ next: line.next, told: line.pending } satisfies Kept))
}

/** Note what happened; it stands at once. */
export function note(kind: AtMachineEventIn['kind'], step = '', more: Partial<AtMachineEventIn> = {}) {
  line.pending.push({ number: line.next, kind, step, note: '', value_mm: null, device_at: now(), ...more })
  line.next += 1
  keep()
  void tell()
}

function heard(state: AtMachineState) {
  Object.assign(line, { state, heard_at: now(), silent_since: '' })
}

/** Tell the desk what it has not heard. */
export async function tell(): Promise<void> {
  if (line.sending || !line.pending.length) return
  line.sending = true
  const sent = line.pending.map((e) => ({ ...e }))
  try {
    const state = await api.tell_at_machine(line.run, DEVICE, sent)
    line.pending = line.pending.filter((e) => !sent.some((s) => s.number === e.number))
    keep()
    heard(state)
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (error.failure.code === 'offline' || error.status >= 500 || error.status === 401) silent()
    else {  // it cannot be kept, ever: said, and set aside so that the rest goes on
      line.wrong = `${error.message} It was not kept.`
      line.pending = line.pending.slice(1)
      keep()
    }
  } finally { line.sending = false }
  if (line.pending.length && !line.silent_since) void tell()
}

function silent() { line.silent_since ||= now() }

async function look() {
  try { heard(await api.at_machine(line.run)) } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (error.failure.code === 'offline' || error.status >= 500) silent()
    else line.wrong = error.message
  }
}

/** Look now and then, so that devices agree, and tell what waits. Ends by what it returns. */
export function listen(): () => void {
  const timer = setInterval(() => {
    if (document.visibilityState === 'hidden') return
    if (line.pending.length) { line.silent_since = ''; void tell().then(() => line.pending.length && silent()) }
    else void look()
  }, LOOK_MS)
  return () => clearInterval(timer)
}
