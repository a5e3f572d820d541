/** The numbers of a neck, in the groups a person looks for them in. */
import type { Numbers } from '../board/fields'

export interface NeckField {
  key: string // in the neck, with dots where it lies deeper
  label: string
  is_length: boolean
  needed?: boolean // nothing can be drawn without it
  when?: (neck: Numbers) => boolean
}
export interface NeckGroup { title: string; fields: NeckField[] }

const long = (key: string, label: string, more: Partial<NeckField> = {}): NeckField =>
  ({ key, label, is_length: true, ...more })
const count = (key: string, label: string, more: Partial<NeckField> = {}): NeckField =>
  ({ key, label, is_length: false, ...more })
const head = (neck: Numbers) => neck.head as Numbers
const stepped = (neck: Numbers) => head(neck).kind === 'stepped'
const angled = (neck: Numbers) => head(neck).kind === 'angled'
const has_head = (neck: Numbers) => head(neck).kind !== 'none'
const one_way = (neck: Numbers) => (neck.rod as Numbers).kind === 'one_way'

export const GROUPS: NeckGroup[] = [
  { title: 'Board', fields: [
    long('board.scale_mm', 'Scale', { needed: true }), count('board.frets', 'Frets'),
    count('board.strings', 'Strings'), long('board.width_nut_mm', 'Wide at the nut', { needed: true }),
    long('board.width_end_mm', 'Wide at the board’s end', { needed: true }),
    long('board.thickness_mm', 'Board thick at the crown', { needed: true }),
    long('board.radius_nut_mm', 'Radius at the nut', { needed: true }),
    long('board.radius_end_mm', 'Radius at its end', { needed: true }),
    long('board.edge_land_mm', 'Outer strings from the edge'),
    long('board.past_last_fret_mm', 'Board past the last fret'),
    long('board.bass_scale_mm', 'Bass scale, if it has two'),
  ] },
  { title: 'Back', fields: [
    long('thick_1st_mm', 'Thick at the 1st, with board', { needed: true }),
    long('thick_12th_mm', 'Thick at the 12th, with board', { needed: true }),
    long('shift_mm', 'Apex to the treble side'),
  ] },
  { title: 'Head', fields: [
    long('head.long_mm', 'Long, from the nut', { when: has_head }),
    long('head.wide_mm', 'Wide', { when: has_head }),
    long('head.thick_mm', 'Thick, from its face', { when: has_head }),
    long('head.step_mm', 'Face below the glue plane', { when: stepped }),
    count('head.angle_deg', 'Leans by, degrees', { when: angled }),
    long('head.shelf_mm', 'Level behind the nut’s edge'),
    long('head.ramp_mm', 'Ramp down to the face', { when: stepped }),
    long('head.transition_mm', 'Transition at the back', { when: has_head }),
    long('head.volute_mm', 'Crest behind the nut', { when: has_head }),
  ] },
  { title: 'Heel', fields: [
    long('heel_from_mm', 'Heel begins, from the nut'), long('heel_mm', 'Heel deep, below the glue plane'),
    long('heel_ramp_mm', 'Transition before it'), long('overhang_mm', 'Board past the neck’s end'),
    long('bolts.across_mm', 'Bores apart, across'), long('bolts.along_mm', 'Bores apart, along'),
    long('bolts.from_end_mm', 'First bores from its end'), long('bolts.bore_mm', 'Bores wide'),
    long('bolts.deep_mm', 'Bores deep'),
  ] },
  { title: 'Rod', fields: [
    long('rod.width_mm', 'Rod wide'), long('rod.deep_mm', 'Rod high'), long('rod.long_mm', 'Rod long'),
    long('rod.from_mm', 'Its head end, from the nut'), long('rod.play_mm', 'Play a side'),
    long('rod.bow_mm', 'Deeper in its middle by', { when: one_way }),
    long('rod.fillet_mm', 'Fillet over it', { when: one_way }),
    long('rod.adjuster_wide_mm', 'Adjuster’s room wide'), long('rod.adjuster_long_mm', 'Adjuster’s room long'),
    long('rod.adjuster_deep_mm', 'Adjuster’s room deep'),
    long('bars.width_mm', 'Bars wide'), long('bars.deep_mm', 'Bars deep'), long('bars.long_mm', 'Bars long'),
    long('bars.apart_mm', 'Bars apart, middles'), long('pin_mm', 'Pins for the board, across'),
  ] },
  { title: 'Strings', fields: [
    long('tuners.post_mm', 'Bore for the post'), long('tuners.bush_mm', 'Bore for the bush, at the face'),
    long('tuners.bush_deep_mm', 'Bush deep'), long('tuners.pitch_mm', 'Post to post'),
    long('tuners.hole_mm', 'String’s hole over the face'), long('tuners.body_mm', 'Housing along the row'),
    long('tuners.least_thick_mm', 'Clamps at least'), long('tuners.most_thick_mm', 'Clamps at most'),
    long('tuners.first_mm', 'First post from the nut'), long('tuners.in_mm', 'Posts from the edge'),
    long('head.retainer_mm', 'Retainer behind the nut', { when: has_head }),
    count('head.retainer_strings', 'Strings it holds', { when: has_head }),
    long('head.retainer_high_mm', 'Its bearing over the face', { when: has_head }),
  ] },
]
export const SHAPES: { title: string; value: string; rim: number; apex: number }[] = [
  { title: 'Full round', value: 'full_round', rim: 2, apex: 2 },
  { title: 'Flat oval', value: 'flat_oval', rim: 2.3, apex: 2.1 },
  { title: 'Soft ridge', value: 'soft_ridge', rim: 1.8, apex: 1.75 },
  { title: 'Square shoulders', value: 'square_shoulders', rim: 2.7, apex: 2.4 },
  { title: 'Thin and wide', value: 'thin_wide', rim: 2.5, apex: 1.9 },
  { title: 'Slim round', value: 'slim_round', rim: 2.1, apex: 1.9 },
]
export const HEADS = [
  { title: 'Level, stepped down', value: 'stepped' }, { title: 'Leaning, in one piece', value: 'angled' },
  { title: 'None: strings end at the nut', value: 'none' },
]
export const FORMS = [
  { title: 'Leaf, tuners on both sides', value: 'leaf' }, { title: 'Row, all on the bass side', value: 'row' },
  { title: 'Blunt, tuners on both sides', value: 'blunt' },
]
export const RODS = [
  { title: 'two-way, in a flat channel', value: 'two_way' },
  { title: 'one-way, bowed under a fillet', value: 'one_way' },
]
export const ADJUSTERS = [
  { title: 'at the headstock', value: 'head' }, { title: 'at the heel', value: 'heel' },
]

/** A value of a neck by its key. */
export function value_at(neck: Numbers, key: string): unknown {
  return key.split('.').reduce<unknown>((at, name) => (at as Numbers | null)?.[name], neck)
}
export function number_at(neck: Numbers, key: string): number | null {
  const found = value_at(neck, key)
  return typeof found === 'number' ? found : null
}
export function fields_of(title: string, neck: Numbers): NeckField[] {
  const group = GROUPS.find((g) => g.title === title)
  return (group?.fields ?? []).filter((f) => !f.when || f.when(neck))
}
/** Which numbers must still be known before a neck can be drawn. */
export function still_needed(neck: Numbers): string[] {
  const fields = GROUPS.flatMap((g) => g.fields)
  return fields.filter((f) => f.needed && number_at(neck, f.key) === null).map((f) => f.label.toLowerCase())
}

/** A section of a shape as points, half width and depth of 1, for a small picture. */
export function shape_points(rim: number, apex: number, wide: number, deep: number): string {
  const out: string[] = []
  for (let k = 0; k <= 40; k += 1) {
    const t = (Math.PI * k) / 40
    const c = Math.cos(t)
    const y = Math.sign(c) * Math.abs(c) ** (2 / rim) * wide
    out.push(`${y.toFixed(2)},${(Math.sin(t) ** (2 / apex) * deep).toFixed(2)}`)
  }
  return out.join(' ')
}
