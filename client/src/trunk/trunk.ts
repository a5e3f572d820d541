/** The trunk's layout: one segment a step, its length growing with the root of its minutes. */
import type { BenchStep, Bit, Operation, ReportOperation } from '../api/types'

export interface Segment {
  key: string; kind: 'operation' | 'bench' | 'wait'; name: string; minutes: number; y: number; high: number; passes: number
  index: number; changes: boolean; bit: Bit | null; deep: number | null; through: boolean
}

export const BASE = 14.4
export const STEP = 9.25
export const LEAST = 34

export function lay_out(operations: Operation[], bench: BenchStep[], reported: ReportOperation[], bits: Bit[], deep: (op: Operation) => number | null, room = 0): Segment[] {
  const known = new Map(reported.map((r) => [r.id, r]))
  const raw: Omit<Segment, 'y' | 'high'>[] = []
  const add_bench = (after: string | null) => bench.filter((b) => b.after === after).forEach((b) => raw.push({
    key: b.id, kind: b.wait ? 'wait' : 'bench', name: b.name, minutes: b.minutes, passes: 0, index: -1, changes: false, bit: null, deep: null, through: false }))
  add_bench(null)
  let before = ''
  operations.forEach((op, index) => {
    const r = known.get(op.id)
    raw.push({ key: op.id, kind: 'operation', name: op.name, minutes: r?.machine_min ?? 0, passes: r?.passes ?? 1, index, changes: op.bit !== before,
      bit: bits.find((b) => b.id === op.bit) ?? null, deep: deep(op), through: deep(op) === null })
    before = op.bit
    add_bench(op.id)
  })
  const length = (s: (typeof raw)[number], step: number) => (s.kind === 'wait' ? LEAST : Math.max(LEAST, BASE + step * Math.sqrt(Math.max(s.minutes, 0))))
  let step = STEP
  while (room && step < 34 && raw.reduce((sum, s) => sum + length(s, step + 0.5), 52 + 40) < room) step += 0.5
  let y = 52
  return raw.map((s) => {
    const high = length(s, step)
    const placed = { ...s, y, high }
    y += high
    return placed
  })
}

/** A number between 0 and 1 that is the same every time for the same seed. */
export function steady(seed: number): number {
  const x = Math.sin(seed * 127.1 + 311.7) * 43758.5453
  return x - Math.floor(x)
}

/** One lens-shaped dash of bark. */
export function dash(x: number, y: number, wide: number, thick: number): string {
  return `M${x} ${y}q${wide * 0.25} ${-thick} ${wide * 0.55} ${-thick * 0.8}t${wide * 0.45} ${thick * 0.8}q${-wide * 0.4} ${thick * 0.9} ${-wide * 0.6} ${thick * 0.7}t${-wide * 0.4} ${-thick * 0.7}z`
}

export interface Free { y0: number; y1: number; minutes: number }

/** Stretches between bit changes that leave the hands free, in sight of the stop. */
export function free_stretches(segments: Segment[], least = 5): Free[] {
  const out: Free[] = []
  let now = null as Free | null
  for (const s of segments) {
    if (s.kind !== 'operation' || s.changes) { if (now) out.push(now); now = null }
    if (s.kind !== 'operation') continue
    now = now ? { ...now, y1: s.y + s.high, minutes: now.minutes + s.minutes } : { y0: s.y, y1: s.y + s.high, minutes: s.minutes }
  }
  if (now) out.push(now)
  return out.filter((f) => f.minutes >= least)
}
