import type { ProofWaits } from '../api/types'

/** How a proof that is not there waits, in words. */
export function waits_said(waits: ProofWaits & { refused: boolean }): string {
  const before = waits.renewed
    ? 'This was cut on paper by an earlier version of the program'
    : 'This is not cut on paper'
  if (waits.refused) return `${before}. Somebody who plans or runs has it made anew by opening this job.`
  const first = waits.ahead ? ` ${waits.ahead} ${waits.ahead > 1 ? 'others come' : 'other comes'} first.` : ''
  return waits.renewed ? `${before}; it is being made anew.${first}` : `${before} yet.${first}`
}
