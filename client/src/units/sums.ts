import { MM_PER_INCH, rounded, type Unit } from './say'

const MOST_MORE = 2 // digits beyond the usual, where the sum does not add up as printed

/** The terms of a sum and their total as they are shown, so that what is printed adds up: with more digits where it
 *  needs them, else the total is that of the terms as shown. Lengths in mm; one that is not known is a dash. */
export function sum_shown(
  terms: (number | null)[], total: number | null, unit: Unit,
): { terms: string[]; total: string } {
  const over = unit === 'mm' ? 1 : MM_PER_INCH
  const usual = unit === 'mm' ? 2 : 3
  const all = terms.every((t) => t !== null) && total !== null
  const units = (mm: number, places: number) => Math.round((mm / over) * 10 ** places)
  const added = (places: number) => terms.reduce<number>((sum, t) => sum + units(t ?? 0, places), 0)
  let places = usual
  while (all && places < usual + MOST_MORE && added(places) !== units(total, places)) places += 1
  if (all && added(places) !== units(total, places)) places = usual
  const mark = unit === 'mm' ? '' : '"'
  const say = (value: number | null) => (value === null ? '–' : `${rounded(value / 10 ** places, places)}${mark}`)
  return {
    terms: terms.map((t) => say(t === null ? null : units(t, places))),
    total: say(total === null ? null : all ? added(places) : units(total, places)),
  }
}
