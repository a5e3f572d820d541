import type { AtMachineEventIn, AtMachineState, AtMachineStep } from '../api/types'

/** A run as it is once what this device has noted and not yet told counts too. */
export function with_pending(state: AtMachineState, pending: AtMachineEventIn[], device: string): AtMachineState {
  const steps = state.steps.map((s) => ({ ...s }))
  const found = new Map(steps.map((s) => [s.id, s]))
  for (const event of pending) {
    const step = found.get(event.step ?? '')
    if (step) happened(step, event, { by: '', at: event.device_at ?? '', device })
  }
  return { ...state, steps, current: steps.find((s) => !s.done)?.id ?? null }
}

type Who = NonNullable<AtMachineStep['done']>

function happened(step: AtMachineStep, event: AtMachineEventIn, who: Who) {
  if (event.kind === 'ticked' && !step.done) {
    rest(step, who.at)
    Object.assign(step, { done: who, stopped: null })
  } else if (event.kind === 'taken_back') Object.assign(step, { done: null, again: [] })
  else if (event.kind === 'started' && !step.started) Object.assign(step, { started: who, running_since: who.at })
  else if (event.kind === 'stopped' && step.running_since) {
    rest(step, who.at)
    Object.assign(step, { stopped: who, stop_why: event.note ?? '' })
  } else if (event.kind === 'went_on' && step.stopped) Object.assign(step, { stopped: null, running_since: who.at })
}

const seconds = (from: string, to: string) => Math.max(0, (Date.parse(to) - Date.parse(from)) / 1000)

function rest(step: AtMachineStep, at: string) {
  if (step.running_since) step.cut_s += seconds(step.running_since, at)
  step.running_since = null
}

/** Seconds a cut has taken until now, stops left out. */
export function cut_for(step: AtMachineStep, now: string): number {
  return step.cut_s + (step.running_since ? seconds(step.running_since, now) : 0)
}

/** Whole minutes that are left of a cut; 0 where it should be over. */
export function minutes_left(step: AtMachineStep, now: string): number {
  return Math.max(0, Math.ceil(step.minutes - cut_for(step, now) / 60))
}

/** Work at the bench that may be done in sight of the machine while it cuts, each with whether it fits. */
export function meanwhile(steps: AtMachineStep[], left_min: number): { step: AtMachineStep; fits: boolean }[] {
  return steps.filter((s) => s.in_sight && !s.done && !s.waits)
    .map((step) => ({ step, fits: step.minutes <= left_min }))
}
