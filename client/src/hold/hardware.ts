/** What holds the blank, as it is drawn, placed and named. */
import type { Blank, Hardware, Point, NewHardware } from '../api/types'

export const KINDS: { kind: Hardware['kind']; name: string; letter: string; why: string }[] = [
  { kind: 'screw', name: 'Screw', letter: 's', why: 'Through waste into the waste board: bears to the side and against lifting.' },
  { kind: 'edge_clamp', name: 'Edge clamp', letter: 'c', why: 'A screw against an edge: bears what it presses with, and friction along the edge.' },
  { kind: 'cam', name: 'Cam', letter: 'k', why: 'Turned against an edge: quick, presses less than a screw, and works loose sooner.' },
  { kind: 'wedge', name: 'Wedges', letter: 'w', why: 'A pair tapped in along an edge, opposite a rail: low, strong, nothing to hit.' },
  { kind: 'vice', name: 'Vice', letter: 'j', why: 'Two jaws grip the wood, an end up: friction holds it in every direction, nothing is counted under it.' },
  { kind: 'top_clamp', name: 'Top clamp', letter: 't', why: 'Presses down from above: bears that much lifting, and friction on the waste board below it.' },
  { kind: 'bolt', name: 'Bolt', letter: 'b', why: 'Through a hole in the waste into a slot or insert: its head presses the wood down; its shaft has play, so friction bears to the side.' },
  { kind: 'strap', name: 'Strap', letter: 'g', why: 'Over the blank from edge to edge: presses down at both; nothing may be cut under it.' },
  { kind: 'rail', name: 'Rail', letter: 'r', why: 'A stop along an edge: bears what pushes against it, nothing that pulls away.' },
  { kind: 'pin', name: 'Pin', letter: 'p', why: 'In an index hole: finds the place again and bears to the side; lifts freely.' },
  { kind: 'tape', name: 'Tape', letter: 'd', why: 'Double-sided, under the blank; with glue between two strips it bears four times as much.' },
  { kind: 'vacuum', name: 'Vacuum', letter: 'v', why: 'Gasketed area under the blank: presses with its area times the pressure, holds sideways by friction.' },
  { kind: 'spacer', name: 'Spacer', letter: 'u', why: 'Under wood that lies free: carries it, holds nothing. How thick it has to be follows from the wood above it.' },
]
export const name_of = (h: { kind: string; id: string }) => `${KINDS.find((k) => k.kind === h.kind)?.name ?? h.kind} ${h.id}`
export const lies_under = (kind: string) => ['tape', 'vacuum', 'spacer'].includes(kind)
export const is_round = (kind: string) => kind === 'screw' || kind === 'bolt' || kind === 'pin'
export const is_about = (kind: string) => lies_under(kind) || kind === 'strap'
export const presses = (kind: string) => ['edge_clamp', 'cam', 'wedge', 'top_clamp', 'bolt', 'strap', 'vice'].includes(kind)

/** The blocks or the area of what holds, in the piece's frame: a vice has two jaws. */
export function blocks(h: Hardware): Point[][] {
  return h.kind === 'vice' ? [corners(h), corners(h, -h.opens_mm - h.length_mm)] : [corners(h)]
}

function corners(h: Hardware, begins?: number): Point[] {
  const c = Math.cos((h.angle_deg * Math.PI) / 180)
  const s = Math.sin((h.angle_deg * Math.PI) / 180)
  const from = begins ?? (is_about(h.kind) ? -h.length_mm / 2 : 0)
  const to = from + h.length_mm
  return ([[from, -h.width_mm / 2], [to, -h.width_mm / 2], [to, h.width_mm / 2], [from, h.width_mm / 2]] as Point[]).map(([a, b]) => [h.x_mm + a * c - b * s, h.y_mm + a * s + b * c])
}

const PAD_MM = 12  // a top clamp reaches so far over the wood
const half = (mm: number) => Math.round(mm * 2) / 2

/** Where hardware goes when it is dropped near a place: a clamp or rail to the nearest edge of the blank, facing outward. */
export function snapped(h: Hardware, x: number, y: number, b: Blank): Hardware {
  if (is_round(h.kind) || is_about(h.kind)) return { ...h, x_mm: half(x), y_mm: half(y) }
  const [x1, y1] = [b.x_mm + b.length_mm, b.y_mm + b.width_mm]
  const [, sx, sy, angle] = ([[y - b.y_mm, x, b.y_mm, -90], [y1 - y, x, y1, 90], [x - b.x_mm, b.x_mm, y, 180], [x1 - x, x1, y, 0]] as [number, number, number, number][]).sort((p, q) => p[0] - q[0])[0]
  const over = h.kind === 'top_clamp' ? PAD_MM : 0
  const a = (angle * Math.PI) / 180
  return { ...h, x_mm: half(sx - over * Math.round(Math.cos(a))), y_mm: half(sy - over * Math.round(Math.sin(a))), angle_deg: angle }
}

/** A new piece of hardware of a kind, at a customary place. */
export function fresh(kind: Hardware['kind'], b: Blank, used: Set<string>): NewHardware {
  const { letter } = KINDS.find((k) => k.kind === kind)!
  let k = 1
  while (used.has(`${letter}${k}`)) k += 1
  const base = { id: `${letter}${k}`, kind, length_mm: 40, width_mm: 50, head_diameter_mm: 8, shaft_diameter_mm: 4, angle_deg: 0, top_mm: 0, opens_mm: 40 }
  const middle: Point = [b.x_mm + b.length_mm / 2, b.y_mm + b.width_mm / 2]
  if (kind === 'screw') return { ...base, x_mm: middle[0], y_mm: b.y_mm + 9, top_mm: -1.5 }
  if (kind === 'bolt') return { ...base, x_mm: middle[0], y_mm: b.y_mm + 12, top_mm: 5, head_diameter_mm: 12, shaft_diameter_mm: 6 }
  if (kind === 'strap') return { ...base, x_mm: b.x_mm + b.length_mm - 20, y_mm: middle[1], length_mm: Math.round(b.width_mm + 40), width_mm: 25, angle_deg: 90, top_mm: 4 }
  if (kind === 'pin') return { ...base, x_mm: b.x_mm + 12, y_mm: middle[1], top_mm: -Math.round(b.thickness_mm / 2), head_diameter_mm: 6 }
  if (kind === 'tape') return { ...base, x_mm: middle[0], y_mm: middle[1], length_mm: Math.round(b.length_mm * 0.5), width_mm: 50 }
  if (kind === 'spacer') return { ...base, x_mm: middle[0], y_mm: middle[1], length_mm: 40, width_mm: 40 }
  if (kind === 'vacuum') return { ...base, x_mm: middle[0], y_mm: middle[1], length_mm: Math.round(b.length_mm * 0.5), width_mm: Math.round(b.width_mm * 0.5) }
  if (kind === 'vice') return { ...base, x_mm: middle[0], y_mm: b.y_mm + b.width_mm, angle_deg: 90, width_mm: Math.round(Math.min(120, b.length_mm)), opens_mm: b.width_mm, top_mm: -b.thickness_mm }
  const wide = kind === 'rail' ? Math.round(b.length_mm * 0.7) : 50
  const edge = { ...base, width_mm: wide, top_mm: kind === 'top_clamp' ? 20 : -Math.round(b.thickness_mm / 3) }
  return snapped(edge as Hardware, middle[0], kind === 'rail' ? b.y_mm + b.width_mm : b.y_mm, b)
}
