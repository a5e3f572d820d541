/** What a finding says, with its lengths in the unit in use. */
import type { Finding } from '../api/types'
import { length, unit } from './format'

/** The sentence of a finding. Where inches are read, a figure that is one of the finding's lengths in mm is said in inches; names of bits and what has no fact stay. */
export function reason_of(f: Pick<Finding, 'reason' | 'facts'>): string {
  if (unit.value !== 'inch') return f.reason
  const lengths = (f.facts ?? []).filter((x) => x.unit === 'mm' && typeof x.value === 'number').map((x) => x.value as number)
  return f.reason.replace(/[−-]?\d+(?:\.(\d+))?( mm)?(?!\d|\.\d|°| mm|\/)/g, (word: string, decimals: string | undefined) => {
    if (!decimals) return word  // a count, or the name of a bit
    const value = Number(word.replace(' mm', '').replace('−', '-'))
    const half = 0.5000001 * 10 ** -decimals.length
    const fact = lengths.find((mm) => Math.abs(Math.abs(mm) - Math.abs(value)) <= half)
    return fact === undefined ? word : length(value < 0 ? -Math.abs(fact) : Math.abs(fact), Math.min(2, decimals.length))
  })
}
