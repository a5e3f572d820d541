/** Places on a machine's bed as one types them: lengths with commas, the next place after a semicolon. */
import { length, value_typed } from '../units/format'

export type Places = number[][]

/** Places in the unit in use. */
export function places_said(at: number[][] | number[] | null | undefined): string {
  if (at === null || at === undefined || !at.length) return ''
  const places = Array.isArray(at[0]) ? (at as number[][]) : [at as number[]]
  return places.map((p) => p.map((v) => length(v, 1)).join(', ')).join('; ')
}

/** Hours of the day as one types them: from and to, the next after a semicolon. */
export function hours_said(spans: number[][] | null | undefined): string {
  const clock = (h: number) => `${Math.floor(h) % 24}:${String(Math.round((h % 1) * 60)).padStart(2, '0')}`
  return (spans ?? []).map(([a, b]) => `${clock(a)}-${clock(b)}`).join('; ')
}

/** What was typed: spans of hours, or why they cannot be read. */
export function read_hours(text: string): { spans: number[][] } | { wrong: string } {
  const spans = text.split(';').map((s) => s.trim()).filter((s) => s).map((s) => (
    /^(\d{1,2})(?::(\d\d))?\s*[-–]\s*(\d{1,2})(?::(\d\d))?$/.exec(s)))
  const read = spans.map((m) => m && [Number(m[1]) + Number(m[2] ?? 0) / 60, Number(m[3]) + Number(m[4] ?? 0) / 60])
  if (read.some((r) => !r || r.some((h) => h > 24))) return { wrong: 'From and to, like 20:00-7:00; 12:00-13:30' }
  return { spans: read as number[][] }
}

/** What was typed: lengths with commas, or why they cannot be read. */
export function read_lengths(text: string): { lengths: number[] } | { wrong: string } {
  const read = text.split(/[,;]/).map((s) => s.trim()).filter((s) => s).map((s) => value_typed(s, 'length'))
  if (read.some((v) => v === null)) return { wrong: 'Lengths with commas, like 6, 8, 12.7' }
  return { lengths: (read as number[]).sort((a, b) => a - b) }
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
