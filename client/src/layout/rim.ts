/** Places along a closed rim as parts of the way round it, counter-clockwise from its first point. */
import type { Point } from '../api/types'

function lengths(ring: Point[]): number[] {
  const out = [0]
  for (let k = 1; k < ring.length; k++) out.push(out[k - 1] + Math.hypot(ring[k][0] - ring[k - 1][0], ring[k][1] - ring[k - 1][1]))
  return out
}

/** The part of the way round nearest to a point; the ring repeats its first point at the end. */
export function part_near(ring: Point[], at: Point): number {
  const along = lengths(ring)
  let best = Infinity
  let part = 0
  for (let k = 1; k < ring.length; k++) {
    const [a, b] = [ring[k - 1], ring[k]]
    const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
    const t = Math.max(0, Math.min(1, ((at[0] - a[0]) * dx + (at[1] - a[1]) * dy) / (dx * dx + dy * dy || 1)))
    const gap = Math.hypot(at[0] - a[0] - t * dx, at[1] - a[1] - t * dy)
    if (gap < best) { best = gap; part = (along[k - 1] + t * (along[k] - along[k - 1])) / along[along.length - 1] }
  }
  return Math.round((part % 1) * 10000) / 10000 % 1
}

/** The point at a part of the way round. */
export function point_at(ring: Point[], part: number): Point {
  const along = lengths(ring)
  const s = (((part % 1) + 1) % 1) * along[along.length - 1]
  const k = Math.max(1, along.findIndex((l) => l >= s))
  const t = (s - along[k - 1]) / (along[k] - along[k - 1] || 1)
  return [ring[k - 1][0] + t * (ring[k][0] - ring[k - 1][0]), ring[k - 1][1] + t * (ring[k][1] - ring[k - 1][1])]
}

/** The unit vector into the area a rim bounds, square to it at a part of the way round. */
export function inward_at(ring: Point[], part: number): Point {
  const [a, b] = [point_at(ring, part - 0.002), point_at(ring, part + 0.002)]
  const long = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1
  let area = 0
  for (let k = 1; k < ring.length; k++) area += ring[k - 1][0] * ring[k][1] - ring[k][0] * ring[k - 1][1]
  const side = area > 0 ? 1 : -1
  return [(-(b[1] - a[1]) / long) * side, ((b[0] - a[0]) / long) * side]
}
