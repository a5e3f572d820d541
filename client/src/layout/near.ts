/** The wood between shapes while one of them is dragged, before the server has measured it. */
import type { Point } from '../api/types'

export interface Gap { id: string; apart: number; at: Point; to: Point }

/** The shortest way between two closed curves given as points: its length and its two ends. */
export function gap_between(one: Point[], two: Point[]): Omit<Gap, 'id'> {
  const there = nearest(one, two)
  const back = nearest(two, one)
  return there.apart <= back.apart ? there : { apart: back.apart, at: back.to, to: back.at }
}

function nearest(points: Point[], ring: Point[]): Omit<Gap, 'id'> {
  let best = { apart: Infinity, at: points[0], to: points[0] }
  for (const p of points) {
    for (let k = 0; k < ring.length; k++) {
      const [a, b] = [ring[k], ring[(k + 1) % ring.length]]
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
      const long = dx * dx + dy * dy
      const t = long ? Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / long)) : 0
      const q: Point = [a[0] + t * dx, a[1] + t * dy]
      const apart = Math.hypot(p[0] - q[0], p[1] - q[1])
      if (apart < best.apart) best = { apart, at: p, to: q }
    }
  }
  return best
}

const shifted = (ring: Point[], by: Point): Point[] => ring.map(([x, y]) => [x + by[0], y + by[1]])

/** What a shape of rings would come near if it stood shifted, for each of the others by id. */
export function near_shifted(rings: Point[][], by: Point, others: { id: string; rings: Point[][] }[]): Gap[] {
  const mine = rings.map((r) => shifted(r, by))
  return others.map(({ id, rings: theirs }) => {
    const all = mine.flatMap((m) => theirs.map((r) => gap_between(m, r)))
    return { id, ...all.reduce((a, b) => (b.apart < a.apart ? b : a)) }
  })
}
