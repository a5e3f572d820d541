/** The one way to the server. Every failure becomes a BirchFailure with words for people. */
import { say } from '../units/format'
import type { BoardHere, BoardView, LikedView, MadeState, NeckView,
  Asked, BenchState, BitChoice, BitMatrix, CornersState, DrawingState, Edit, EndPlan, Failure,
  FitKeptIn, FitPocket,
  Difference, HeightsAnswer, KindRow, Machine, MachineMade, MaterialKept, MaterialRow,
  MachineNote, MachineRow, MachineState, MeasuringRow,
  MeasuringState, NetworkShown, OwnShop,
  BackupsKept, PersonRow, SampleShown, SignInLink, JigKept, JigPlan, JigWanted, Layout, Made, Me, Offset, Orders,
    OriginOf,
  Outline, Places, PlankYield, ProofAnswer, ProofWaits, RackRow, Ran, Release, RevisionRow, JobAway,
  JobList, JobStanding, RouteState,
  RunKept, RunRow, Says, Shop, StaleRow, StepKind, Status, Taken, TestPlan, TwinState, WireHoleAnswer,
  WireHoleAsked, AtMachineEventIn, AtMachineRow, AtMachineState, ProgramOn, StoppedAt,
  WoodBoard,
} from './types'

/** Make what the server said live: a sentence with quantities reads in the unit in use, whenever it is read. What goes
 *  back as it came, the edits of cures, stays as it is. */
function alive<T>(value: T): T {
  if (value === null || typeof value !== 'object') return value
  for (const [key, held] of Object.entries(value)) {
    if (typeof held === 'string') {
      if (!held.includes('⟦')) continue
      Object.defineProperty(value, key, { get: () => say(held), enumerable: true, configurable: true })
    } else if (key !== 'edits') alive(held)
  }
  return value
}

/** What an answer holds as JSON. */
async function said<T>(answer: Response): Promise<T> {
  return alive((await answer.json()) as T)
}

export class BirchFailure extends Error {
  constructor(readonly status: number, readonly failure: Failure) {
    super(failure.message)
  }
}

/** A failure that came without words. */
const unknown = (status: number): Failure => (
  { code: 'unknown', message: `The server answered ${status}.`, where: null, facts: {} }
)

async function call<T>(path: string, method = 'GET', body?: unknown): Promise<T> {
  let answer: Response
  try {
    answer = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
    })
  } catch {
    throw new BirchFailure(0, { code: 'offline', message: 'Birch Route does not answer. What you see stays; it tries again.', where: null, facts: {} })
  }
  if (!answer.ok) {
    const failure = await said<Failure>(answer).catch(() => null)
    throw new BirchFailure(answer.status, failure ?? unknown(answer.status))
  }
  return (answer.status === 204 ? null : await said<T>(answer)) as T
}

export const api = {
  outline: (style: string, length_mm: number, width_mm: number, waist: number, horn: number) =>
    call<Outline>(`/outlines?style=${style}&length_mm=${length_mm}&width_mm=${width_mm}&waist=${waist}&horn=${horn}`),
  async bring_drawing(file: File, join_mm: number): Promise<Made> {
    const answer = await fetch(`/api/drawings?name=${encodeURIComponent(file.name)}&join_mm=${join_mm}`, { method: 'POST', body: file })
    const data = await said<unknown>(answer)
    if (!answer.ok) throw new BirchFailure(answer.status, data as Failure)
    return data as Made
  },
  async bring_relief(id: number, revision: number, file: File, how: { face: string; unit: string; turn_deg: number; underside: boolean; fine: boolean }, stop?: AbortSignal): Promise<RouteState> {
    const asked = new URLSearchParams({ revision: String(revision), name: file.name.slice(0, 120), face: how.face, unit: how.unit, turn_deg: String(how.turn_deg), underside: String(how.underside), fine: String(how.fine) })
    const answer = await fetch(`/api/routes/${id}/relief?${asked}`, { method: 'POST', body: file, signal: stop })
    const data = await said<unknown>(answer)
    if (!answer.ok) throw new BirchFailure(answer.status, data as Failure)
    return data as RouteState
  },
  drawing: (id: number) => call<DrawingState>(`/drawings/${id}`),
  drawing_again: (id: number, unit: string | null, join_mm: number) =>
    call<Made>(`/drawings/${id}/again?${unit ? `unit=${unit}&` : ''}join_mm=${join_mm}`, 'POST'),
  trace_scan: (id: number, scan: string) =>
    call<Made>(`/drawings/${id}/again?scan=${encodeURIComponent(scan)}`, 'POST'),
  corners: (hash: string) => call<CornersState>(`/proofs/${hash}/corners`),
  ask_corners: (hash: string) => call<CornersState>(`/proofs/${hash}/corners`, 'POST'),
  stop_corners: (hash: string) => call<Status>(`/proofs/${hash}/corners/stop`, 'POST'),
  stop_drawing: (id: number) => call<Status>(`/drawings/${id}/stop`, 'POST'),
  new_job: (body: unknown) => call<RouteState>('/jobs', 'POST', body),
  board: (id: number) => call<BoardView>(`/routes/${id}/board`),
  boards_here: () => call<BoardHere[]>('/boards-here'),
  fit_liked: (neck: unknown, readings: unknown[]) =>
    call<LikedView>('/necks/liked', 'POST', { neck, readings }),
  made: (id: number) => call<MadeState>(`/routes/${id}/made`),
  take_neck: (id: number, revision: number, from_route: number) =>
    call<RouteState>(`/routes/${id}/made`, 'POST', { revision, from_route }),
  neck: (id: number) => call<NeckView>(`/routes/${id}/neck`),
  try_neck: (neck: unknown) => call<NeckView>('/necks', 'POST', neck),
  try_board: (board: unknown) => call<BoardView>('/boards', 'POST', board),
  layout: (id: number) => call<Layout>(`/routes/${id}/layout`),
  places: (id: number, feature: string) => call<Places>(`/routes/${id}/places/${feature}`),
  bench: (id: number) => call<BenchState[]>(`/routes/${id}/bench`),
  tick: (id: number, step: string, done: boolean, note = '') => call<BenchState[]>(`/routes/${id}/bench`, 'POST', { step, done, note }),
  twins: (id: number) => call<TwinState[]>(`/routes/${id}/twins`),
  make_twin: (id: number, wood: string, thickness: string | null, unit: string) =>
    call<RouteState>(`/routes/${id}/twins`, 'POST', { wood, thickness, unit }),
  follow: (id: number, revision: number) => call<RouteState>(`/routes/${id}/follow`, 'POST', { revision }),
  orders: (id: number) => call<Orders>(`/routes/${id}/orders`),
  step_kinds: () => call<StepKind[]>('/bench-steps'),
  wood: () => call<WoodBoard[]>('/wood'),
  keep_board: (board: number | null, body: unknown) => call<WoodBoard>(board === null ? '/wood' : `/wood/${board}`, 'POST', body),
  variant_job: (id: number, variant: string) => call<RouteState>(`/routes/${id}/variants/${variant}/job`, 'POST'),
  heights: (id: number, body: Record<string, unknown>) => call<HeightsAnswer>(`/routes/${id}/heights`, 'POST', body),
  wire_hole: (route: number, body: WireHoleAsked) =>
    call<WireHoleAnswer>(`/routes/${route}/wire-hole`, 'POST', body),
  plank_yield: (body: Record<string, unknown>) => call<PlankYield>('/plank-yield', 'POST', body),
  me: () => call<Me>('/me'),
  sign_out: () => call<Status>('/sign-out', 'POST'),
  shop: () => call<Shop>('/shop'),
  own_shop: () => call<OwnShop>('/own_shop'),
  keep_shop: (name: string, unit: string) => call<OwnShop>('/own_shop', 'POST', { name, unit }),
  network: () => call<NetworkShown>('/network'),
  people: () => call<PersonRow[]>('/people'),
  add_person: (name: string, role: string) => call<SignInLink>('/people', 'POST', { name, role }),
  link_for: (person: number) => call<SignInLink>(`/people/${person}/link`, 'POST'),
  change_person: (person: number, body: { name: string; role: string }) =>
    call<PersonRow[]>(`/people/${person}`, 'POST', body),
  sign_out_person: (person: number) => call<PersonRow[]>(`/people/${person}/sign_out`, 'POST'),
  backups: () => call<BackupsKept>('/backups'),
  make_backup: () => call<BackupsKept>('/backups', 'POST'),
  machines: () => call<MachineRow[]>('/machines'),
  machine_kinds: () => call<KindRow[]>('/machine_kinds'),
  machine: (id: string) => call<MachineState>(`/machines/${encodeURIComponent(id)}`),
  add_machine: (body: { name: string; kind?: string; like?: string }) =>
    call<MachineMade>('/machines', 'POST', body),
  bring_machine: (text: string) => call<MachineMade>('/machine_files', 'POST', text),
  keep_machine: (id: string, revision: number, machine: Machine) =>
    call<MachineState>(`/machines/${encodeURIComponent(id)}`, 'POST', { revision, machine }),
  put_machine_back: (id: string, revision: number) =>
    call<MachineState>(`/machines/${encodeURIComponent(id)}/put_back`, 'POST', { revision }),
  put_machine_away: (id: string) => call<Status>(`/machines/${encodeURIComponent(id)}/put_away`, 'POST'),
  machine_sample: (machine: Machine) => call<SampleShown>('/machine_sample', 'POST', { machine }),
  materials: () => call<MaterialRow[]>('/materials'),
  keep_material: (id: string | null, body: Record<string, unknown>) =>
    call<MaterialKept>(id === null ? '/materials' : `/materials/${id}`, 'POST', body),
  put_material_away: (id: string) => call<MaterialRow[]>(`/materials/${id}/put_away`, 'POST'),
  small_jobs: (id: string) => call<MeasuringRow[]>(`/machines/${encodeURIComponent(id)}/measuring`),
  small_job: (id: string, kind: string) =>
    call<MeasuringState>(`/machines/${encodeURIComponent(id)}/measuring/${kind}`),
  save_readings: (id: string, kind: string, given: Record<string, number>, readings: Record<string, number>) =>
    call<MeasuringState>(`/machines/${encodeURIComponent(id)}/measuring/${kind}`, 'POST', { given, readings }),
  measure_again: (id: string, kind: string) =>
    call<MeasuringState>(`/machines/${encodeURIComponent(id)}/measuring/${kind}/again`, 'POST'),
  keep_measured: (id: string, kind: string) =>
    call<MeasuringState>(`/machines/${encodeURIComponent(id)}/measuring/${kind}/keep`, 'POST'),
  against: (id: number, machine: string) =>
    call<Difference[]>(`/routes/${id}/against/${encodeURIComponent(machine)}`),
  routes: (search: string, skip: number, away = false) =>
    call<JobList>(`/routes?search=${encodeURIComponent(search)}&skip=${skip}&away=${away}`),
  standing: (id: number) => call<JobStanding>(`/routes/${id}/standing`),
  put_away: (id: number, away: boolean) => call<JobAway>(`/routes/${id}/away`, 'POST', { away }),
  route: (id: number) => call<RouteState>(`/routes/${id}`),
  copy: (id: number, name: string, readings: boolean) =>
    call<RouteState>(`/routes/${id}/copy`, 'POST', { name, readings }),
  import_route: (text: string) => call<RouteState>('/routes', 'POST', text),
  edit: (id: number, revision: number, edits: Edit[], reason = '') => call<RouteState>(`/routes/${id}/edits`, 'POST', { revision, edits, reason }),
  jig_plan: (id: number, wanted: JigWanted) => call<JigPlan>(`/routes/${id}/jig/plan`, 'POST', wanted),
  make_jig: (id: number, wanted: JigWanted) => call<RouteState>(`/routes/${id}/jig`, 'POST', wanted),
  end_plan: (id: number, wanted: Record<string, unknown>) => call<EndPlan>(`/routes/${id}/end/plan`, 'POST', wanted),
  make_end: (id: number, wanted: Record<string, unknown>) => call<RouteState>(`/routes/${id}/end`, 'POST', wanted),
  rack: () => call<RackRow[]>('/rack'),
  first_bits: (here: string[]) => call<RackRow[]>('/first_bits', 'POST', { here }),
  keep_bit: (body: Record<string, unknown>) => call<RackRow[]>('/rack', 'POST', body),
  note_bit: (bit: string, body: Record<string, unknown>) => call<RackRow[]>(`/rack/${bit}/notes`, 'POST', body),
  take_rack: (text: string) => call<RackRow[]>('/rack.csv', 'POST', text),
  rack_for: (id: number, feature: string) => call<BitChoice[]>(`/routes/${id}/rack/${feature}`),
  rack_matrix: (id: number) => call<BitMatrix>(`/routes/${id}/rack`),
  ask_settings: (body: Record<string, unknown>) => call<Asked>('/settings/question', 'POST', body),
  origins: () => call<Record<string, OriginOf>>('/settings/origins'),
  test_plan: (body: Record<string, unknown>) => call<TestPlan>('/settings/plan', 'POST', body),
  make_slots: (body: Record<string, unknown>) => call<RouteState>('/settings/slots', 'POST', body),
  make_fit: (id: number, body: Record<string, unknown>) => call<RouteState>(`/routes/${id}/fit_coupon`, 'POST', body),
  stale: (id: number) => call<StaleRow[]>(`/routes/${id}/stale`),
  take_sheet: (id: number, text: string) => call<Taken>(`/routes/${id}/settings_sheet.csv`, 'POST', text),
  says: (id: number) => call<Says>(`/routes/${id}/says`),
  note_machine: (body: MachineNote) =>
    call<Status>('/machine_notes', 'POST', body),
  add_trial: (body: Record<string, unknown>) => call<Made>('/trials', 'POST', body),
  withdraw_run: (id: number, run: number) => call<RunRow[]>(`/routes/${id}/runs/${run}/withdraw`, 'POST'),
  withdraw_trial: (id: number) => call<Status>(`/trials/${id}/withdraw`, 'POST'),
  jig_kept: (id: number) => call<JigKept>(`/routes/${id}/jig/kept`),
  note_jig: (id: number, body: Record<string, unknown>) => call<JigKept>(`/routes/${id}/jig/kept`, 'POST', body),
  offsets: (machine: string) => call<Offset[]>(`/offsets/${encodeURIComponent(machine)}`),
  keep_offset: (machine: string, number: number, body: Record<string, unknown>) => call<Offset[]>(`/offsets/${encodeURIComponent(machine)}/${number}`, 'POST', body),
  undo: (id: number, revision: number) => call<RouteState>(`/routes/${id}/undo`, 'POST', { revision }),
  redo: (id: number, revision: number) => call<RouteState>(`/routes/${id}/redo`, 'POST', { revision }),
  back: (id: number, revision: number, to: number) => call<RouteState>(`/routes/${id}/back`, 'POST', { revision, to }),
  revisions: (id: number) => call<RevisionRow[]>(`/routes/${id}/revisions`),
  proof: (hash: string) => call<Partial<ProofAnswer & ProofWaits>>(`/proofs/${hash}`),
  prove_again: (hash: string) => call<Status>(`/proofs/${hash}/again`, 'POST'),
  release: (id: number, revision: number, reasons: Record<string, string>) => call<Release>(`/routes/${id}/release`, 'POST', { revision, reasons }),
  fits: (id: number) => call<FitPocket[]>(`/routes/${id}/fits`),
  keep_fit: (id: number, fit: FitKeptIn) => call<FitPocket[]>(`/routes/${id}/fits`, 'POST', fit),
  withdraw_fit: (id: number, fit: number) => call<FitPocket[]>(`/routes/${id}/fits/${fit}/withdraw`, 'POST'),
  at_machine_runs: (id: number) => call<AtMachineRow[]>(`/routes/${id}/at-machine`),
  begin_at_machine: (id: number) => call<AtMachineState>(`/routes/${id}/at-machine`, 'POST'),
  at_machine: (run: number) => call<AtMachineState>(`/at-machine/${run}`),
  tell_at_machine: (run: number, device: string, events: AtMachineEventIn[]) =>
    call<AtMachineState>(`/at-machine/${run}/events`, 'POST', { device, events }),
  stopped_at: (run: number, at: { program: string; x_mm: number; y_mm: number; z_mm: number }) =>
    call<StoppedAt[]>(`/at-machine/${run}/stopped-at`, 'POST', at),
  resume_at_machine: (run: number, program: string, line: number) =>
    call<ProgramOn>(`/at-machine/${run}/resume`, 'POST', { program, line }),
  close_at_machine: (run: number, outcome: string, note: string) =>
    call<AtMachineState>(`/at-machine/${run}/close`, 'POST', { outcome, note }),
  runs: (id: number) => call<RunRow[]>(`/routes/${id}/runs`),
  record: (id: number, body: { revision: number; outcome: string; note: string; minutes: Record<string, number>; ran: Record<string, Ran> }) =>
    call<RunKept>(`/routes/${id}/runs`, 'POST', body),
  /** A closer look at a proof; null while the worker makes it. */
  async look(hash: string, what: string): Promise<ArrayBuffer | null> {
    const answer = await fetch(`/api/proofs/${hash}/look?what=${encodeURIComponent(what)}`)
    if (answer.status === 200) return answer.arrayBuffer()
    if (answer.status === 202) return null
    throw new BirchFailure(answer.status, (await said<Failure>(answer).catch(() => null)) ?? unknown(answer.status))
  },
  async view(hash: string): Promise<ArrayBuffer | null> {
    const answer = await fetch(`/api/proofs/${hash}/view`)
    return answer.status === 200 ? answer.arrayBuffer() : null
  },
}
