import type { ContourRead } from '../api/types'
import { length } from '../units/format'

export const FACES = [{ title: 'Front', value: 'front' }, { title: 'Back', value: 'back' }]

/** Stations with one more in the middle of the widest gap, half way between its neighbours in everything.
 *  parts: of one of `by` that is kept. */
export function between<S extends Record<K, number>, K extends string>(
  stations: S[], by: K, rest: K[], parts: number,
): S[] {
  const gaps = stations.slice(1).map((s, k) => s[by] - stations[k][by])
  const k = gaps.indexOf(Math.max(...gaps))
  const [p, q] = [stations[k], stations[k + 1]]
  const half = (key: K, of: number) => Math.round((of * (p[key] + q[key])) / 2) / of
  const middle = { ...p, [by]: half(by, parts), ...Object.fromEntries(rest.map((key) => [key, half(key, 10)])) }
  return [...stations.slice(0, k + 1), middle as S, ...stations.slice(k + 1)]
}

/** What is left of the edge at a station, and which wood comes to light there. */
export function edge_words(at: ContourRead['stations'][number] | undefined): string {
  if (!at) return ''
  const shows = at.shows.length ? `; ${at.shows.join(' and ')} under it ${at.shows.length > 1 ? 'show' : 'shows'}` : ''
  return `${length(Math.max(0, at.edge_left_mm), 1)} of the edge left${shows}`
}
