/** How two woods differ, cell by cell. */
import { OUTSIDE } from './target'
import type { WoodView } from './view'

export interface Differ {
  values: Float32Array; deeper_mm2: number; deepest_mm: number; higher_mm2: number; highest_mm: number
}
const SAME_MM = 0.035 // as the bands that are painted begin
const GONE_MM = 0.011

/** The last step of a setup. */
export function end_of(view: WoodView, setup: number): number {
  const next = view.header.setups[setup + 1]
  return (next ? next.first_step : view.steps) - 1
}

/** Why two woods cannot be held against each other at their setups; empty where they can. */
export function apart(a: WoodView, b: WoodView, at: number): string {
  const [one, two] = [a.header.setups[at], b.header.setups[at]]
  if (!one || !two) return 'One of them has no such setup.'
  if (one.face !== two.face || one.turned_about !== two.turned_about) return 'They lie otherwise: another face is up.'
  const same = (['nx', 'ny', 'cell_mm'] as const).every((k) => a.header[k] === b.header[k])
  if (same && one.x0_mm === two.x0_mm && one.y0_mm === two.y0_mm) return ''
  return 'Their blanks lie otherwise or are of other sizes.'
}

/** What b stands over a (below 0: was cut deeper) at the end of a setup, mm; OUTSIDE where neither has wood. */
export function differ(a: WoodView, b: WoodView, at: number): Differ {
  a.show(end_of(a, at))
  b.show(end_of(b, at))
  const values = new Float32Array(a.heights.length)
  const out: Differ = { values, deeper_mm2: 0, deepest_mm: 0, higher_mm2: 0, highest_mm: 0 }
  const cell = a.header.cell_mm ** 2
  const [none_a, none_b] = [a.header.z_offset_mm + GONE_MM, b.header.z_offset_mm + GONE_MM]
  for (let k = 0; k < out.values.length; k++) {
    const [za, zb] = [a.heights[k], b.heights[k]]
    if (za <= none_a && zb <= none_b) { out.values[k] = OUTSIDE; continue }
    const over = zb - za
    out.values[k] = over
    if (over < -SAME_MM) { out.deeper_mm2 += cell; out.deepest_mm = Math.max(out.deepest_mm, -over) }
    if (over > SAME_MM) { out.higher_mm2 += cell; out.highest_mm = Math.max(out.highest_mm, over) }
  }
  return out
}
