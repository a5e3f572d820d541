/** The route that is open: its newest revision, its proof, its wood; edits, undo and redo. */
import { computed, nextTick, reactive, shallowRef } from 'vue'
import { BirchFailure, api } from '../api/client'
import type { Cure, Edit, Failure, Finding, ProofWaits, Report, RouteState, Says } from '../api/types'
import { say, unit } from '../units/format'
import { WoodView } from '../wood/view'
import { lettered, new_letters } from './letters'

export const open = reactive({
  state: null as RouteState | null,
  report: null as Report | null,
  says: null as Says | null, // what the shop's own books say of it
  proved_hash: '',
  working: { done: 0, of: 0 } as { done: number; of: number } | null,
  waits: null as (ProofWaits & { refused: boolean }) | null, // how its proof waits, where nobody is at work on it yet
  failure: null as Failure | null,
  conflict: null as Failure | null,
  offline: false,
  theirs: null as { revision: number; author: string; what: string } | null, // what somebody else did meanwhile
  cure: null as { letter: string; sentence: string; state: 'working' | 'settled' | 'stands' } | null,
  notice: '', // why something that was pressed did nothing
  step: -1,
  said: '',
  changed_to_shown_ms: 0, // the wood
  changed_to_judged_ms: 0, // and every finding
})
export const wood = shallowRef<WoodView | null>(null)

let events: EventSource | null = null
let asked_at = 0
let heard_at = 0
const QUIET_MS = 3000 // a worker at work speaks sooner
const REFUSED_MS = 10_000 // to somebody who may not ask for a proof

export async function open_route(id: number): Promise<void> {
  if (open.state?.route === id) return
  Object.assign(open, {
    state: null, report: null, says: null, proved_hash: '', failure: null, conflict: null, theirs: null, cure: null,
    step: -1,
  })
  wood.value = null
  new_letters()
  coming.hash = ''
  listen()
  await attempt(async () => take(await api.route(id)))
}

function listen(): void {
  if (events) return
  events = new EventSource('/api/events')
  events.onopen = () => { open.offline = false; if (open.state && open.proved_hash !== open.state.hash) void fetch_proof() }
  events.onerror = () => { open.offline = true }
  events.onmessage = (event) => {
    const news = JSON.parse(event.data) as News
    if (news.route) void hear_of(news)
    if (news.proof !== open.state?.hash) return
    heard_at = performance.now()
    if (news.what === 'wood') void show_wood(news.proof!)
    if (news.what === 'working') {
      open.working = { done: news.done ?? 0, of: news.of ?? 0 }
      open.waits = null
    }
    if (news.what === 'done') {
      told = news.proof!
      void fetch_proof()
    }
  }
}

interface News {
  what: string; proof?: string; done?: number; of?: number; route?: number; revision?: number; author?: string
}

/** A revision of what is open was made. What this page itself is about to take is no news. */
async function hear_of(news: News): Promise<void> {
  if (news.route !== open.state?.route) return
  await last
  if (news.route !== open.state?.route || (news.revision ?? 0) <= open.state!.revision || open.conflict) return
  open.theirs = { revision: news.revision!, author: news.author ?? '', what: news.what }
}

/** Say why something that was pressed did nothing. */
export function notice(words: string): void {
  open.notice = open.said = words
  window.setTimeout(() => { if (open.notice === words) open.notice = '' }, 6000)
}

/** Where the operation that is looked at stands in another document; at the end it stays at the end. */
function same_step(now: RouteState | null, next: RouteState): number {
  if (!now || now.route !== next.route || open.step < 0) return open.step
  const [before, after] = [now.document.operations, next.document.operations]
  const at = after.findIndex((o) => o.id === before[open.step - 1]?.id)
  return open.step >= before.length ? after.length : at >= 0 ? at + 1 : open.step
}

async function take(state: RouteState): Promise<void> {
  open.step = same_step(open.state, state)
  open.state = state
  open.conflict = null
  open.failure = open.waits = null
  if ((open.theirs?.revision ?? 0) <= state.revision) open.theirs = null
  if (state.proof) await show_proof(state.hash, state.proof.report)
  else {
    open.working = { done: 0, of: state.document.operations.length }
    heard_at = performance.now()
    window.setTimeout(() => { if (open.state?.hash === state.hash && open.proved_hash !== state.hash) void fetch_proof() }, QUIET_MS)
  }
}

let [fetching, told] = ['', ''] // the hash that is being fetched, and the one whose proof was last told to be there

/** Ask for a proof that nobody has asked for, and say how it waits; whether this person may not ask. */
async function asked_again(hash: string, waits: ProofWaits): Promise<boolean> {
  const quiet = performance.now() - heard_at > QUIET_MS
  let refused = false
  if (quiet && !waits.queued) {
    refused = await api.prove_again(hash).then(() => false, (e) => e instanceof BirchFailure && e.status === 403)
  }
  if (open.state?.hash === hash) open.waits = quiet ? { ...waits, refused } : null
  return refused
}

/** Fetch the proof of what is open and show it. Where it is not there and nothing was heard of it, it is asked for again: a worker can be lost. */
async function fetch_proof(): Promise<void> {
  const hash = open.state?.hash
  if (!hash || open.proved_hash === hash || fetching === hash) return
  fetching = hash
  try {
    const answer = await api.proof(hash).catch(() => null)
    if (open.state?.hash !== hash) return
    if (answer?.report) await show_proof(hash, answer.report)
    else if (answer?.status === 'working') {
      const refused = await asked_again(hash, answer as ProofWaits)
      window.setTimeout(() => void fetch_proof(), told === hash ? 0 : refused ? REFUSED_MS : QUIET_MS)
      told = ''
    }
  } finally {
    if (fetching === hash) fetching = ''
  }
}

let coming = { hash: '', shown: Promise.resolve() }

/** Show the wood of what is open; it is there before the rules have judged it. */
function show_wood(hash: string): Promise<void> {
  const show = async () => {
    const data = await api.view(hash).catch(() => null)
    const view = data && (await WoodView.decode(data, wood.value))
    if (!view || open.state?.hash !== hash) {
      if (coming.hash === hash) coming.hash = ''
      return
    }
    wood.value = view
    await nextTick() // it is painted after what hangs on it
    if (asked_at) open.changed_to_shown_ms = performance.now() - asked_at
  }
  if (coming.hash !== hash) coming = { hash, shown: show() }
  return coming.shown
}

/** What the books say of what is open, as far as they know it. */
async function shop_says(hash: string): Promise<Says | null> {
  const says = await api.says(open.state!.route).catch(() => null)
  return says?.hash === hash ? says : null
}

/** Ask the books again: something was recorded. */
export async function ask_books(): Promise<void> {
  const hash = open.proved_hash
  if (!hash || open.state?.hash !== hash) return
  const says = await shop_says(hash)
  if (open.state?.hash === hash && says) open.says = says
}

async function show_proof(hash: string, report: Report): Promise<void> {
  const [says] = await Promise.all([report.failed ? null : shop_says(hash), report.failed ? null : show_wood(hash)])
  if (open.state?.hash !== hash) return
  open.report = report
  open.says = says
  open.proved_hash = hash
  open.working = open.waits = null
  if (open.cure?.state === 'working') {
    open.cure.state = findings.value.some((f) => f.letter === open.cure!.letter) ? 'stands' : 'settled'
    open.said = `${open.cure.letter}: ${open.cure.state === 'settled' ? 'settled' : 'still stands'}`
  } else open.cure = null
  const count = open.state.document.operations.length
  if (open.step < 0 || open.step > count) open.step = count
  if (!asked_at) return
  await nextTick()
  open.changed_to_judged_ms = performance.now() - asked_at
  asked_at = 0
}

async function attempt(act: () => Promise<void>): Promise<boolean> {
  try {
    await act()
    return true
  } catch (error) {
    if (!(error instanceof BirchFailure)) throw error
    if (error.status === 401) window.location.assign('/signed-out')
    else if (error.status === 409) open.conflict = error.failure
    else open.failure = error.failure
    return false
  }
}

let last: Promise<unknown> = Promise.resolve()

/** One queue for all that changes what is open: edits, undo, redo, what is done after a conflict. Each waits for the
 *  one before and is made on the revision that came of it; one that a conflict overtook is not made. */
function queued(act: (state: RouteState) => Promise<void>, after_conflict = false): Promise<boolean> {
  const asked_for = open.state?.route
  const made = last.then(async () => {
    const state = open.state
    if (!state || state.route !== asked_for) return false
    if (open.conflict && !after_conflict) {
      notice('Not changed: first choose whose change stands.')
      return false
    }
    return attempt(() => act(state))
  })
  last = made.catch(() => false)
  return made
}

/** Make an edit. */
export function edit(edits: Edit[], reason = ''): Promise<boolean> {
  const now = unit.value
  const with_unit = edits.map((e) => (e.do === 'set' && typeof e.value === 'string' ? { ...e, unit: now } : e))
  return queued(async (state) => {
    asked_at = performance.now()
    await take(await api.edit(state.route, state.revision, with_unit, reason))
    open.said = `Changed: ${say(open.state?.what)}`
  })
}

export const BECAME = { working: 'at work', settled: 'settled', stands: 'it still stands after this' }

/** Take a cure: it says that it is at work, and once all was judged anew what became of its finding. */
export async function take_cure(of: Lettered, cure: Cure): Promise<void> {
  if (!is_current.value) return
  open.cure = { letter: of.letter, sentence: cure.sentence, state: 'working' }
  if (!(await edit(cure.edits, cure.sentence))) open.cure = null
}

export function set(path: string, value: unknown): Promise<boolean> {
  return edit([{ do: 'set', path, value }])
}

export interface ReliefHow { face: string; unit: string; turn_deg: number; underside: boolean; fine: boolean }

/** Form a face by a surface from a file. */
export function bring_relief(file: File, how: ReliefHow, stop: AbortSignal): Promise<boolean> {
  return queued(async (state) => {
    try {
      await take(await api.bring_relief(state.route, state.revision, file, how, stop))
    } catch (error) {
      if (!stop.aborted) throw error
      open.said = `${file.name} was not brought in: stopped`
      return
    }
    open.said = `Changed: ${say(open.state?.what)}`
  })
}

/** Make what the server is asked for the newest of what is open. */
export function take_state(ask: () => Promise<RouteState>): Promise<boolean> {
  return queued(async () => { await take(await ask()) })
}

export function undo(): Promise<boolean> {
  return queued(async (state) => {
    if (!state.can_undo) return notice('Nothing to undo: this is how the job began.')
    await take(await api.undo(state.route, state.revision))
    open.said = say(open.state!.what)
  })
}

export function redo(): Promise<boolean> {
  return queued(async (state) => {
    if (!state.can_redo) return notice('Nothing to do again: nothing was undone since the last change.')
    await take(await api.redo(state.route, state.revision))
    open.said = say(open.state!.what)
  })
}

export function take_theirs(): Promise<boolean> {
  return queued(async (state) => take(await api.route(state.route)), true)
}

const edits_of = (conflict: Failure | null) => ((conflict?.facts.yours as { edits?: Edit[] } | undefined)?.edits ?? [])

export function mine_again_possible(): boolean {
  return edits_of(open.conflict).length > 0
}

/** After a conflict: take theirs, then make the edit that was refused on top of it. */
export function mine_again(): Promise<boolean> {
  const edits = edits_of(open.conflict)
  return queued(async (state) => {
    const theirs = await api.route(state.route)
    await take(theirs)
    await take(await api.edit(theirs.route, theirs.revision, edits, ''))
  }, true)
}

export interface Lettered extends Finding { letter: string }

const RANK = { stop: 0, care: 1, note: 2 }

/** All that the proof and the shop's books say, by severity, with a letter each; notes come last. */
const said = computed<Lettered[]>(() =>
  lettered([...(open.report?.findings ?? []), ...(open.says?.findings ?? [])]
    .sort((a, b) => RANK[a.severity] - RANK[b.severity])),
)
/** What stands to be settled, and what a person has said is meant so. */
export const findings = computed(() => said.value.filter((f) => !f.meant))
export const meant = computed(() => said.value.filter((f) => f.meant))
export const is_current = computed(() => open.state !== null && open.proved_hash === open.state.hash)
