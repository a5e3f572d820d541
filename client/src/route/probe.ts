/** Looking at the wood: by its surface or its thickness, and measuring between two places of the piece. */
import { computed, reactive } from 'vue'
import type { Point } from '../api/types'
import { lies_in, setup_of } from '../wood/lies'
import { length } from '../units/format'
import { target } from './look'
import { open, wood } from './store'

export const probe = reactive({ measuring: false, hover: null as Point | null, a: null as Point | null, b: null as Point | null, moving: 'a' as 'a' | 'b' })

export interface Read { at: Point; z_mm: number | null; thick_mm: number | null }

/** Read the wood of a step at a place of the piece; z above the face that is up. */
export function read_at(step: number, at: Point): Read {
  const doc = open.state!.document
  const lies = lies_in(doc.blank, setup_of(doc, step))
  const found = wood.value?.probe(step, at[0] * lies.signs[0], at[1] * lies.signs[1]) ?? null
  return { at, z_mm: found ? found.top_mm : null, thick_mm: found ? found.thick_mm : null }
}

/** What stands over the drawing at a place of the piece, in words; null outside the piece. */
export function over_at(step: number, at: Point): string | null {
  const doc = open.state!.document
  const lies = lies_in(doc.blank, setup_of(doc, step))
  if (!target.value || !wood.value) return null
  const found = wood.value.over(step, at[0] * lies.signs[0], at[1] * lies.signs[1], target.value)
  if (!found) return null
  const drawn = found.target_mm === null ? 'drawn through' : `drawn ${length(-found.target_mm, 1)} deep`
  if (found.over_mm === null) return `${drawn}; so near to a wall the cells are too coarse to say`
  if (Math.abs(found.over_mm) <= target.value.tolerance_mm + 0.015) return `as drawn${found.target_mm === null ? ', through' : `, ${length(-found.target_mm, 1)} deep`}; ${length(Math.abs(found.over_mm))} is within what the cells can tell`
  return found.over_mm > 0 ? `${length(found.over_mm)} still stands; ${drawn}` : `${length(-found.over_mm)} too deep; ${drawn}`
}

export const measured = computed(() => {
  if (!open.state || !probe.a || !probe.b) return null
  const [a, b] = [read_at(open.step, probe.a), read_at(open.step, probe.b)]
  const along = b.at[0] - a.at[0]
  const across = b.at[1] - a.at[1]
  const up = a.z_mm === null || b.z_mm === null ? null : b.z_mm - a.z_mm
  return { a, b, along, across, apart: Math.hypot(along, across), up, straight: up === null ? null : Math.hypot(along, across, up) }
})

export function begin(on: boolean): void {
  const b = open.state?.document.blank
  Object.assign(probe, { measuring: on, a: on && b ? [0, 0] : null, b: null, moving: 'a' })
  if (on) document.querySelector<HTMLElement>('[data-plan]')?.focus({ preventScroll: true })  // so that Enter places an end and presses no button
}

/** Put the end that is being placed; the first becomes fixed and the second follows. */
export function put(at: Point): void {
  probe[probe.moving] = at
  next()
}

export function next(): void {
  if (probe.moving === 'a') { probe.moving = 'b'; probe.b = [...probe.a!] } else probe.moving = 'a'
}

export function nudge(dx: number, dy: number): void {
  const now = probe[probe.moving] ?? [0, 0]
  probe[probe.moving] = [now[0] + dx, now[1] + dy]
}
