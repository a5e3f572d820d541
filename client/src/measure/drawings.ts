/** Drawings of parts to measure: shapes in a 560 x 270 field and a dimension line for each place. Drawn to the part's own
 * proportions as far as they are known. */

export interface Shape { d: string; fill: string; dash?: boolean }
export interface Dim { place: string; x1: number; y1: number; x2: number; y2: number; lx: number; ly: number; anchor: 'start' | 'middle' | 'end' }
export interface PartDrawing { shapes: Shape[]; dims: Dim[] }

const WOOD = '#dcc59c'
const DARK = '#5d4335'
const METAL = '#d9d5cc'
const BLACK = '#3a3530'
const box = (x: number, y: number, w: number, h: number, r = 0) => `M${x + r} ${y}h${w - 2 * r}q${r} 0 ${r} ${r}v${h - 2 * r}q0 ${r} ${-r} ${r}h${-(w - 2 * r)}q${-r} 0 ${-r} ${-r}v${-(h - 2 * r)}q0 ${-r} ${r} ${-r}z`
const across = (place: string, x1: number, x2: number, y: number, ly = y - 8): Dim => ({ place, x1, x2, y1: y, y2: y, lx: (x1 + x2) / 2, ly, anchor: 'middle' })
const down = (place: string, x: number, y1: number, y2: number, lx = x + 10, anchor: Dim['anchor'] = 'start'): Dim => ({ place, x1: x, x2: x, y1, y2, lx, ly: (y1 + y2) / 2 + 4, anchor })

type Values = Record<string, number | null>
const v = (values: Values, place: string, otherwise: number) => values[place] ?? otherwise

function neck(values: Values): PartDrawing {
  const s = 1.62
  const end = (v(values, 'heel_width_end', 46) / 2) * s
  const station = v(values, 'heel_station', 60) * s
  const at = (v(values, 'heel_width_station', 44) / 2) * s
  const cx = 112
  const foot = 232
  const top = foot - 190
  const half_top = end + ((at - end) / station) * 190
  const length = v(values, 'heel_length', 62) * s
  const r = Math.min(v(values, 'heel_corner', 4) * s, end * 0.9)
  const thick = v(values, 'heel_thickness', 25.4) * 2.1
  const sx = 385
  return {
    shapes: [
      { d: `M${cx - half_top} ${top}L${cx - end} ${foot - r}q0 ${r} ${r} ${r}h${2 * (end - r)}q${r} 0 ${r} ${-r}L${cx + half_top} ${top}q${-half_top / 2} -7 ${-half_top} 0t${-half_top} 0z`, fill: DARK },
      ...[0.08, 0.27, 0.45, 0.62, 0.78].map((t, k) => ({ d: `M${cx - half_top} ${top + 190 * t + 4}h${2 * half_top}`, fill: k === 0 ? '#fff' : '#cfc2ac' })),
      { d: `M${cx - at - 12} ${foot - station}h${2 * at + 24}`, fill: 'none', dash: true },
      { d: `M${sx} ${foot}h${thick * 0.74}V${top + 4}h${-thick * 0.36}q${-6} ${(foot - top) * 0.28} ${-thick * 0.38} ${(190 - length) * 0.9}z`, fill: WOOD },
      { d: box(sx + thick * 0.74, top + 4, thick * 0.26, 186), fill: DARK },
      ...[0.1, 0.3, 0.5, 0.68, 0.84].map((t) => ({ d: box(sx + thick, top + 186 * t, 4, 5, 1), fill: '#8d8477' })),
    ],
    dims: [
      across('heel_width_end', cx - end, cx + end, foot + 16, foot + 34),
      { ...across('heel_width_station', cx - at, cx + at, foot - station, foot - station - 7), lx: cx - at - 16, anchor: 'end' },
      down('heel_station', cx + end + 16, foot - station, foot),
      down('heel_to_12th', cx + end + 92, top + 14, foot),
      down('heel_length', sx - 14, foot - length, foot, sx - 22, 'end'),
      { ...across('heel_thickness', sx, sx + thick, foot + 16, foot + 34) },
      { place: 'fret_height', x1: sx + thick, x2: sx + thick + 4, y1: top + 60, y2: top + 60, lx: sx + thick + 16, ly: top + 64, anchor: 'start' },
      { place: 'heel_corner', x1: cx - end, x2: cx - end + r, y1: foot - r, y2: foot, lx: cx - end - 14, ly: foot - 4, anchor: 'end' },
    ],
  }
}

function plate_like(length: number, width: number, corner: number, dark: boolean): { shape: Shape; x: number; y: number; w: number; h: number } {
  const s = Math.min(2.6, 210 / width, 150 / length)
  const w = width * s
  const h = length * s
  const x = 190 - w / 2
  const y = 40
  return { shape: { d: box(x, y, w, h, Math.min(corner * s, h / 2)), fill: dark ? BLACK : METAL }, x, y, w, h }
}

function bridge(values: Values): PartDrawing {
  const p = plate_like(v(values, 'plate_length', 35), v(values, 'plate_width', 73), v(values, 'plate_corner', 4), false)
  const line = p.y + (p.h * v(values, 'plate_to_saddle', 20)) / v(values, 'plate_length', 35)
  const low = v(values, 'saddle_low', 13) * 4
  const high = v(values, 'saddle_high', 17.5) * 4
  return {
    shapes: [p.shape, ...[0.22, 0.41, 0.6, 0.79].map((t) => ({ d: box(p.x + p.w * t - 11, line - 4, 20, 26, 2), fill: '#faf8f3' })),
      { d: `M${p.x - 14} ${line}h${p.w + 28}`, fill: 'none', dash: true }, { d: box(390, 232, 120, 8, 2), fill: METAL }, { d: box(430, 232 - low, 34, low, 2), fill: '#faf8f3' },
      { d: box(430, 232 - high, 34, high - low, 2), fill: 'none', dash: true }],
    dims: [
      across('plate_width', p.x, p.x + p.w, p.y + p.h + 18, p.y + p.h + 36), down('plate_length', p.x - 16, p.y, p.y + p.h, p.x - 24, 'end'),
      down('plate_to_saddle', p.x + p.w + 22, p.y, line), down('saddle_low', 414, 232 - low, 240, 404, 'end'), down('saddle_high', 482, 232 - high, 240),
      { place: 'plate_corner', x1: p.x + p.w - 8, x2: p.x + p.w, y1: p.y, y2: p.y + 8, lx: p.x + p.w + 6, ly: p.y - 8, anchor: 'start' },
    ],
  }
}

function pickup(values: Values): PartDrawing {
  const p = plate_like(v(values, 'ring_length', 28), v(values, 'ring_width', 66), v(values, 'ring_corner', 4), true)
  const deep = v(values, 'depth', 17.5) * 4
  return {
    shapes: [p.shape, { d: box(p.x + 10, p.y + 10, p.w - 20, p.h - 20, 4), fill: '#57504a' }, ...[0.24, 0.42, 0.6, 0.78].map((t) => ({ d: `M${p.x + p.w * t - 6} ${p.y + p.h / 2}a6 6 0 1 0 12 0a6 6 0 1 0 -12 0z`, fill: '#c9c2b6' })),
      { d: box(400, 90, 110, 12, 2), fill: BLACK }, { d: box(414, 102, 82, deep - 10, 2), fill: '#57504a' }, { d: box(400, 102, 9, deep, 1), fill: '#8d8477' }, { d: box(501, 102, 9, deep, 1), fill: '#8d8477' }],
    dims: [across('ring_width', p.x, p.x + p.w, p.y + p.h + 18, p.y + p.h + 36), down('ring_length', p.x - 16, p.y, p.y + p.h, p.x - 24, 'end'), down('depth', 524, 102, 102 + deep, 516, 'end'),
      { place: 'ring_corner', x1: p.x + p.w - 8, x2: p.x + p.w, y1: p.y, y2: p.y + 8, lx: p.x + p.w + 6, ly: p.y - 6, anchor: 'start' }],
  }
}

function simple(kind: string, values: Values): PartDrawing {
  if (kind === 'tuner') return { shapes: [{ d: `M250 130a48 48 0 1 0 96 0a48 48 0 1 0 -96 0z`, fill: METAL }, { d: 'M280 130a18 18 0 1 0 36 0a18 18 0 1 0 -36 0z', fill: '#faf8f3' }], dims: [across('post_hole', 250, 346, 198, 216)] }
  const wide = v(values, 'rod_width', 6) * 5
  return { shapes: [{ d: box(60, 100, 330, 44, 4), fill: METAL }, { d: box(450, 100, wide, 44, 3), fill: METAL }],
    dims: [across('rod_length', 60, 390, 162, 180), down('rod_depth', 440, 100, 144, 430, 'end'), across('rod_width', 450, 450 + wide, 162, 180)] }
}

/** Turned parts stand on their side: one cylinder after another, each by its diameter and its length. */
const TURNED: Record<string, [string, number, string, number][]> = {
  pot: [['bush_diameter', 8, 'bush_length', 10], ['body_diameter', 17, 'body_height', 14]],
  jack: [['bush_diameter', 12, 'bush_length', 12], ['body_diameter', 18, 'body_height', 22]],
  insert: [['body_diameter', 8, 'body_height', 12]],
  screw: [['head_diameter', 8, 'head_height', 3], ['thread_diameter', 4, 'thread_length', 38]],
  strap_pin: [['head_diameter', 14, 'head_height', 10], ['thread_diameter', 4, 'thread_length', 25]],
}
const EXTRA: Record<string, string> = { pot: 'knob_diameter', insert: 'bush_diameter', screw: 'core_diameter' }

function turned(kind: string, values: Values): PartDrawing {
  const rows = TURNED[kind].map(([d, d0, l, l0]) => ({ d, wide: v(values, d, d0), l, long: v(values, l, l0) }))
  const s = Math.min(11, 330 / rows.reduce((sum, r) => sum + r.long, 0), 130 / Math.max(...rows.map((r) => r.wide)))
  const mid = 110
  let x = 110
  const shapes: Shape[] = []
  const dims: Dim[] = []
  rows.forEach((r, k) => {
    const w = r.long * s
    const h = r.wide * s
    shapes.push({ d: box(x, mid - h / 2, w, h, 1.5), fill: k === rows.length - 1 && kind !== 'pot' && kind !== 'jack' ? '#bcb5a6' : METAL })
    dims.push(across(r.l, x, x + w, mid + 88 + k * 30, mid + 82 + k * 30))
    dims.push(k === 0 ? down(r.d, x - 18, mid - h / 2, mid + h / 2, x - 26, 'end') : down(r.d, x + w + 16, mid - h / 2, mid + h / 2))
    x += w
  })
  const extra = EXTRA[kind]
  if (extra) {
    const r = Math.min(40, (v(values, extra, 6) * s) / 2)
    shapes.push({ d: `M${520 - r} ${mid}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`, fill: kind === 'pot' ? BLACK : 'none', dash: kind !== 'pot' })
    dims.push(across(extra, 520 - r, 520 + r, mid + 60, mid + 78))
  }
  return { shapes, dims }
}

/** Flat parts: seen from above with their corner, and from the side with their thickness. */
const FLAT: Record<string, [string, string, string, string | null]> = {
  switch: ['body_length', 'body_width', 'body_depth', null], guard: ['plate_length', 'plate_width', 'plate_thickness', 'plate_corner'],
  plate: ['plate_length', 'plate_width', 'plate_thickness', 'plate_corner'], nut: ['plate_length', 'plate_width', 'plate_thickness', null],
}
const FLAT_EXTRA: Record<string, string[]> = { switch: ['slot_length', 'slot_width', 'screw_pitch'], nut: ['string_spread_nut'], plate: ['screw_long'], guard: ['screw_long'] }

function flat(kind: string, values: Values): PartDrawing {
  const [l, w, t, corner] = FLAT[kind]
  const [length, width, thick] = [v(values, l, kind === 'nut' ? 42 : 90), v(values, w, kind === 'nut' ? 6 : 40), v(values, t, kind === 'switch' ? 25 : 2.5)]
  const s = Math.min(4, 300 / length, 110 / width)
  const [W, H] = [length * s, width * s]
  const [x, y] = [90, 30]
  const r = corner ? Math.min(v(values, corner, 6) * s, H / 2) : 2
  const side = Math.max(3, Math.min(60, thick * s))
  const shapes: Shape[] = [{ d: box(x, y, W, H, r), fill: kind === 'nut' ? '#faf8f3' : BLACK }, { d: box(x, 185, W, side, 1), fill: kind === 'nut' ? '#faf8f3' : BLACK }]
  const dims = [across(l, x, x + W, y + H + 18, y + H + 34), down(w, x - 16, y, y + H, x - 24, 'end'), down(t, x + W + 16, 185, 185 + side)]
  if (corner) dims.push({ place: corner, x1: x + W - r, x2: x + W, y1: y, y2: y + r, lx: x + W + 8, ly: y + 4, anchor: 'start' })
  ;(FLAT_EXTRA[kind] ?? []).forEach((place, k) => {
    const wide = Math.min(W * 0.9, v(values, place, length * 0.6) * s)
    shapes.push({ d: `M${x + W / 2 - wide / 2} ${y + H / 2}h${wide}`, fill: 'none', dash: true })
    dims.push(across(place, x + W / 2 - wide / 2, x + W / 2 + wide / 2, y + H + 48 + k * 16, y + H + 48 + k * 16 - 3))
  })
  return { shapes, dims }
}

const hole = (x: number, y: number, r: number) => `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0z`

/** What a bridge needs in the body, from above: post holes, string holes, block opening and spring cavity behind the saddle line. The neck lies above. */
const BELOW = ['post_spacing', 'post_diameter', 'post_behind', 'post_depth', 'screw_spacing', 'strings_behind', 'string_hole', 'block_length', 'block_width', 'block_behind', 'spring_length', 'spring_width', 'spring_depth']
function bridge_below(values: Values): PartDrawing {
  const s = 1.5
  const mid = 250
  const line = 176
  const post = (v(values, 'post_spacing', 74) / 2) * s
  const post_r = (v(values, 'post_diameter', 11) / 2) * s
  const post_y = line + v(values, 'post_behind', 0) * s
  const block_y = line + v(values, 'block_behind', 8) * s
  const [block_w, block_h] = [v(values, 'block_width', 76) * s, v(values, 'block_length', 24) * s]
  const [spring_w, spring_h] = [v(values, 'spring_width', 56) * s, v(values, 'spring_length', 106) * s]
  const spring_top = Math.max(24, block_y + block_h / 2 - spring_h)
  const strings = line + v(values, 'strings_behind', 16) * s
  const hole_r = Math.max(2, (v(values, 'string_hole', 4) / 2) * s)
  const shapes: Shape[] = [
    { d: box(60, 14, 400, 252, 2), fill: WOOD }, { d: `M80 ${line}h340`, fill: 'none', dash: true },
    { d: box(mid - spring_w / 2, spring_top, spring_w, block_y + block_h / 2 - spring_top, 5), fill: 'none', dash: true },
    { d: box(mid - block_w / 2, block_y - block_h / 2, block_w, block_h, 4), fill: '#b98d63' },
    { d: hole(mid - post, post_y, post_r), fill: '#faf8f3' }, { d: hole(mid + post, post_y, post_r), fill: '#faf8f3' },
    ...[-1.5, -0.5, 0.5, 1.5].map((k) => ({ d: hole(mid + k * 17, strings, hole_r), fill: '#3a3530' })),
  ]
  return {
    shapes,
    dims: [
      across('post_spacing', mid - post, mid + post, 254, 251), across('block_width', mid - block_w / 2, mid + block_w / 2, block_y + block_h / 2 + 10, block_y + block_h / 2 + 24),
      down('block_length', mid + block_w / 2 + 10, block_y - block_h / 2, block_y + block_h / 2), down('block_behind', mid - block_w / 2 - 12, line, block_y, mid - block_w / 2 - 18, 'end'),
      down('post_behind', 440, line, Math.max(post_y, line + 2), 452), { place: 'post_diameter', x1: mid + post - post_r, x2: mid + post + post_r, y1: post_y - post_r - 6, y2: post_y - post_r - 6, lx: mid + post + post_r + 6, ly: post_y - post_r - 4, anchor: 'start' },
      down('strings_behind', 92, line, strings, 84, 'end'), down('spring_length', 500, spring_top, block_y + block_h / 2, 508),
      across('spring_width', mid - spring_w / 2, mid + spring_w / 2, spring_top + 18, spring_top + 14),
    ],
  }
}

/** The heel from behind with its screw holes; the end of the heel lies below. */
const BEHIND = ['holes_from_end', 'holes_along', 'holes_across']
function neck_behind(values: Values): PartDrawing {
  const s = 2.3
  const mid = 250
  const foot = 240
  const wide = v(values, 'heel_width_end', 46) * s
  const long = Math.min(200, v(values, 'heel_length', 62) * s)
  const from = v(values, 'holes_from_end', 14) * s
  const along = v(values, 'holes_along', 32) * s
  const across_mm = (v(values, 'holes_across', 26) / 2) * s
  return {
    shapes: [{ d: box(mid - wide / 2, foot - long, wide, long, 8), fill: WOOD }, ...[[from, -1], [from, 1], [from + along, -1], [from + along, 1]].map(([d, k]) => ({ d: hole(mid + k * across_mm, foot - d, 5), fill: '#3a3530' }))],
    dims: [down('holes_from_end', mid + wide / 2 + 18, foot - from, foot), down('holes_along', mid + wide / 2 + 18, foot - from - along, foot - from), across('holes_across', mid - across_mm, mid + across_mm, foot - from - along - 22, foot - from - along - 28)],
  }
}

/** A card for a kind of part; a part with two sides to measure shows the one its place is on. */
export function draw_part(kind: string, values: Values, place = ''): PartDrawing {
  if (kind === 'bridge' && BELOW.includes(place)) return bridge_below(values)
  if (kind === 'neck' && BEHIND.includes(place)) return neck_behind(values)
  if (kind in TURNED) return turned(kind, values)
  if (kind in FLAT) return flat(kind, values)
  return kind === 'neck' ? neck(values) : kind === 'bridge' ? bridge(values) : kind === 'pickup' ? pickup(values) : simple(kind, values)
}
