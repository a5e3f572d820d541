/** The pen of Lay out: what is in hand to be drawn, which shape is taken, and what it is placed by. */
import { reactive, watch } from 'vue'
import { api } from '../api/client'
import type { DocFeature, DrawnShape, MarkLine, Places, Point } from '../api/types'
import { edit, open } from '../route/store'
import { unit } from '../units/format'

export type Drawing = 'hole' | 'row' | 'pocket' | 'slot' | 'oval' | 'free' | 'pickup'
export const WORDS: [Drawing, string][] = [
  ['pocket', 'pocket'], ['hole', 'round hole'], ['row', 'row of holes'], ['slot', 'slot'], ['oval', 'oval'],
  ['free', 'free shape'],
]
export const pen = reactive({
  hand: '' as Drawing | '', // what is about to be drawn
  at: null as Point | null, // and where
  points: [] as Point[], // of a free shape
  size: { length_mm: null, width_mm: null, diameter_mm: null } as Record<Size, number | null>,
  angle_deg: 0,
  taken: '', // the shape that is placed
  places: null as Places | null,
  wrong: '',
  face: 'both' as 'front' | 'back' | 'both', // whose shapes are under the pen
  from: { along: 'saddle', across: 'centre' } as Record<Way, string>, // the lines that numbers are counted from
})
export type Size = 'length_mm' | 'width_mm' | 'diameter_mm'
export type Way = 'along' | 'across'

let asked = ''
watch(() => [open.state?.hash, pen.taken], async () => {
  const state = open.state
  if (!state || !pen.taken) { pen.places = null; return }
  const mine = `${state.hash} ${pen.taken}`
  if (pen.places?.feature !== pen.taken) pen.places = null // of another shape
  asked = mine
  try {
    const found = await api.places(state.route, pen.taken)
    if (asked === mine) Object.assign(pen, { places: found, wrong: '' })
  } catch (error) {
    if (asked === mine) Object.assign(pen, { places: null, wrong: (error as Error).message })
  }
})

/** How far an arrow moves a shape: a millimetre, or 1/32 of an inch; Shift ten times, Alt a tenth of it. */
export const step_mm = () => (unit.value === 'mm' ? 1 : 25.4 / 32)

export function features(): DocFeature[] {
  return (open.state?.document.piece.features ?? []) as DocFeature[]
}
export function feature_of(id: string): DocFeature | undefined {
  return features().find((f) => f.id === id)
}
/** What stands where a hand put it: pockets and holes with a place of their own. */
export function is_drawn(f: DocFeature): boolean {
  if (f.kind === 'hole') return !open.state?.document.setups.some((s) => s.datum === f.id)
  const shape = f.shape as DrawnShape | undefined
  return f.kind === 'pocket' && !['heel', 'around'].includes(shape?.kind ?? '') && !shape?.at_saddle
}

export interface Moved {
  dx_mm?: number; dy_mm?: number; to_x_mm?: number; to_y_mm?: number
  turn_deg?: number; mirror?: boolean; copied?: boolean; beside?: boolean
}
/** Place the shape that is taken anew, or a copy of it, which then is the one that is taken. */
export async function place(id: string, by: Moved, words: string): Promise<boolean> {
  const before = new Set(features().map((f) => f.id))
  const made = await edit([{ do: 'place_feature', feature: id, ...by }], words)
  if (made && by.copied) pen.taken = features().find((f) => !before.has(f.id))?.id ?? id
  return made
}

export function take_up(what: Drawing | ''): void {
  const size = { length_mm: null, width_mm: null, diameter_mm: null }
  Object.assign(pen, { hand: what, at: null, points: [], angle_deg: 0, size })
  if (what) pen.taken = ''
}

/** The line numbers are counted from one way; where the chosen one is not there, the next that is. */
export function line_from(lines: MarkLine[], way: Way): MarkLine | undefined {
  const here = lines.filter((l) => l.along === (way === 'along'))
  return here.find((l) => l.id === pen.from[way]) ?? here.find((l) => !l.edge) ?? here[0]
}
/** The rim on the nearer side, which the second number is counted to. */
export function rim_beyond(lines: MarkLine[], way: Way, at: number): MarkLine | undefined {
  const rims = lines.filter((l) => l.along === (way === 'along') && l.edge)
  return rims.sort((a, b) => Math.abs(a.at_mm - at) - Math.abs(b.at_mm - at))[0]
}
export function side_of(line: MarkLine, at: number): string {
  if (line.edge) return 'to'
  return line.along ? (at >= line.at_mm ? 'behind' : 'before') : at >= line.at_mm ? 'treble of' : 'bass of'
}
