/** The numbers of a fretboard, in the groups a person looks for them in. */
export interface BoardField {
  key: string // in the board, with a dot where it lies in its wire
  label: string
  is_length: boolean
  needed?: boolean // nothing can be drawn without it
}
export interface BoardGroup { title: string; fields: BoardField[] }

const long = (key: string, label: string, needed = false): BoardField => ({ key, label, is_length: true, needed })
const count = (key: string, label: string): BoardField => ({ key, label, is_length: false })

export const GROUPS: BoardGroup[] = [
  { title: 'Frets', fields: [
    long('scale_mm', 'Scale', true), count('frets', 'Frets'), count('strings', 'Strings'),
    long('bass_scale_mm', 'Bass scale, if it has two'), count('square_fret', 'Fret that stands square'),
    long('before_nut_mm', 'Board behind the nut’s edge'), long('past_last_fret_mm', 'Board past the last fret'),
  ] },
  { title: 'Face', fields: [
    long('width_nut_mm', 'Wide at the nut', true), long('width_end_mm', 'Wide at its end', true),
    long('edge_land_mm', 'Outer strings from the edge'), long('thickness_mm', 'Thick at the crown', true),
    long('radius_nut_mm', 'Radius at the nut', true), long('radius_end_mm', 'Radius at its end', true),
    long('fall_away_mm', 'Last frets fall away by'),
  ] },
  { title: 'Wire', fields: [
    long('wire.tang_mm', 'Tang, between its barbs'), long('wire.barbs_mm', 'Across the barbs'),
    long('wire.tang_depth_mm', 'Tang, how deep'), long('wire.crown_mm', 'Crown, how high'),
  ] },
  { title: 'Dots and nut', fields: [
    long('marker_mm', 'Dots across'), long('marker_deep_mm', 'Dots deep'),
    long('nut_slot_mm', 'Nut slot along the board'), long('nut_deep_mm', 'Nut slot deep'),
  ] },
  { title: 'Edges', fields: [
    long('binding_mm', 'Binding, wide'), long('binding_deep_mm', 'Its ledge below the crown'),
    long('side_dot_mm', 'Side dots across'),
  ] },
]
export const WIRE = [
  { key: 'tang_mm', label: 'Tang, between its barbs' }, { key: 'barbs_mm', label: 'Across the barbs' },
  { key: 'tang_depth_mm', label: 'Tang, how deep' }, { key: 'crown_mm', label: 'Crown, how high' },
]
export const ENDS = [
  { title: 'square to its middle', value: 'square' }, { title: 'along the nut and the last fret', value: 'slanted' },
]
/** What stands as is usual until somebody says it: it holds the cut that it decides. */
export const USUAL = ['edge_land_mm', 'seat', 'before_nut_mm', 'past_last_fret_mm']
export const SEATS = [
  { title: 'pressed in', value: 'pressed' }, { title: 'hammered in', value: 'hammered' },
  { title: 'glued in', value: 'glued' },
]

export interface Numbers { [key: string]: number | string | boolean | null | Numbers | string[] }

/** A number of a board by its key. */
export function number_at(board: Numbers, key: string): number | null {
  const [first, second] = key.split('.')
  const found = second ? (board[first] as Numbers | null)?.[second] : board[first]
  return typeof found === 'number' ? found : null
}

/** Which numbers a drawing must still give before a board can be drawn. */
export function still_needed(board: Numbers): string[] {
  const fields = GROUPS.flatMap((g) => g.fields)
  return fields.filter((f) => f.needed && number_at(board, f.key) === null).map((f) => f.label.toLowerCase())
}
