/** The line a section is cut along: through a place of the piece, at any angle to its length. */
import type { Blank, Point } from '../api/types'
import type { Lies } from '../wood/lies'

/** turn_deg: from the piece's length, positive towards the treble side, above -90 up to 90. */
export interface SectionLine { at: Point; turn_deg: number }
/** The stretch of a line over the blank, in the setup's frame: from its left on the screen to its right, straight across from below up. */
export interface Run { from: Point; to: Point; long_mm: number }

export const folded = (deg: number): number => { const d = ((deg % 180) + 180) % 180; return d > 90 ? d - 180 : d }
const LEAST_MM = 1  // a line this far inside the blank's edge still shows wood

/** A line kept on the blank. */
export function kept(line: SectionLine, blank: Blank): SectionLine {
  const inside = (v: number, low: number, size: number) => Math.max(low + LEAST_MM, Math.min(low + size - LEAST_MM, v))
  return { at: [inside(line.at[0], blank.x_mm, blank.length_mm), inside(line.at[1], blank.y_mm, blank.width_mm)], turn_deg: folded(line.turn_deg) }
}

/** Where a line enters and leaves the blank as it lies. */
export function run_of(line: SectionLine, blank: Blank, lies: Lies): Run {
  const a = (line.turn_deg * Math.PI) / 180
  let [dx, dy] = [Math.cos(a) * lies.signs[0], Math.sin(a) * lies.signs[1]]
  if (Math.abs(dx) < 1e-9 ? dy < 0 : dx < 0) [dx, dy] = [-dx, -dy]
  const at = [line.at[0] * lies.signs[0], line.at[1] * lies.signs[1]]
  let [low, high] = [-Infinity, Infinity]
  for (const [d, c, size, p] of [[dx, lies.corner[0], blank.length_mm, at[0]], [dy, lies.corner[1], blank.width_mm, at[1]]]) {
    if (Math.abs(d) < 1e-9) continue
    const [t0, t1] = [(c - p) / d, (c + size - p) / d]
    low = Math.max(low, Math.min(t0, t1))
    high = Math.min(high, Math.max(t0, t1))
  }
  return { from: [at[0] + low * dx, at[1] + low * dy], to: [at[0] + high * dx, at[1] + high * dy], long_mm: Math.max(0, high - low) }
}

/** How far along a run a place of the setup's frame lies, mm. */
export function along(run: Run, [x, y]: Point): number {
  return ((x - run.from[0]) * (run.to[0] - run.from[0]) + (y - run.from[1]) * (run.to[1] - run.from[1])) / (run.long_mm || 1)
}

/** The stretches of a run inside a closed ring of the setup's frame, mm along it. */
export function inside_ring(run: Run, ring: Point[]): [number, number][] {
  const [ux, uy] = [(run.to[0] - run.from[0]) / (run.long_mm || 1), (run.to[1] - run.from[1]) / (run.long_mm || 1)]
  const off = ring.map(([x, y]) => (y - run.from[1]) * ux - (x - run.from[0]) * uy)
  const met: number[] = []
  for (let k = 0; k < ring.length; k++) {
    const n = (k + 1) % ring.length
    if (off[k] < 0 === off[n] < 0) continue
    const part = off[k] / (off[k] - off[n])
    met.push(along(run, [ring[k][0] + part * (ring[n][0] - ring[k][0]), ring[k][1] + part * (ring[n][1] - ring[k][1])]))
  }
  met.sort((p, q) => p - q)
  return Array.from({ length: Math.floor(met.length / 2) }, (_, k) => [met[2 * k], met[2 * k + 1]])
}
