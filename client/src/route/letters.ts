/** Letters of findings: one stays with its finding until the route is closed, whatever comes and goes beside it. */
import type { Finding } from '../api/types'

const given = new Map<string, string>()

/** The letters of another route begin anew. */
export function new_letters(): void { given.clear() }

/** What a finding is about, the same when its figures change; alike ones are told apart by their order. */
function key(f: Finding, before: Map<string, number>): string {
  const about = [f.code, f.operation, f.feature, f.hardware].join(' ')
  const count = before.get(about) ?? 0
  before.set(about, count + 1)
  return `${about} ${count}`
}

/** A letter for each finding; one that is gone gives its letter away only when the alphabet is used up. */
export function lettered<T extends Finding>(findings: T[]): (T & { letter: string })[] {
  const before = new Map<string, number>()
  const keys = findings.map((f) => key(f, before))
  const now = new Set(keys)
  for (const k of keys) {
    if (given.has(k)) continue
    const used = new Set(given.values())
    const all = Array.from({ length: used.size + 1 }, (_, n) => (n < 26 ? String.fromCharCode(65 + n) : `${n + 1}`))
    let letter = all.find((l) => !used.has(l))!
    if (letter.length > 1 || letter > 'Z') {
      const gone = [...given].find(([old, l]) => !now.has(old) && l.length === 1)
      if (gone) { given.delete(gone[0]); letter = gone[1] }
    }
    given.set(k, letter)
  }
  return findings.map((f, n) => ({ ...f, letter: given.get(keys[n])! }))
}
