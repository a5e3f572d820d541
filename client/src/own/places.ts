/** Places on a machine's bed as one types them: lengths with commas, the next place after a semicolon. */
import { length, value_typed } from '../units/format'

export type Places = number[][]

/** Places in the unit in use. */
export function places_said(at: number[][] | number[] | null | undefined): string {
  if (at === null || at === undefined || !at.length) return ''
  const places = Array.isArray(at[0]) ? (at as number[][]) : [at as number[]]
  return places.map((p) => p.map((v) => length(v, 1)).join(', ')).join('; ')
}

/** What was typed: the places, or why they cannot be read. each: how many lengths a place has. */
export function read_places(text: string, each: 2 | 4, many: boolean): { places: Places } | { wrong: string } {
  const typed = text.split(';').map((s) => s.trim()).filter((s) => s)
  const points = typed.map((s) => s.split(',').map((v) => value_typed(v.trim(), 'length', true)))
  if (points.some((p) => p.length !== each || p.some((v) => v === null))) {
    const [count, like] = each === 4 ? ['Four', '0, 0, 200, 300'] : ['Two', '120, 80; 520, 80']
    return { wrong: `${count} lengths with commas for each, like ${like}` }
  }
  if (points.length > 1 && !many) return { wrong: 'One place only' }
  return { places: points as Places }
}
