/** Sentences in the reader's unit. What the server says carries its quantities marked as `⟦12.3456|mm|.1f⟧`; here
 *  they become words, the same ones as in core/quantities.py, by test. No reactive state: the unit is an argument. */
export type Unit = 'mm' | 'inch'

export const MM_PER_INCH = 25.4
const MARKED = /⟦([^|⟦⟧]*)\|([^|⟦⟧]*)\|([^|⟦⟧]*)⟧/g
const FRACTION_OFF_MM = [0.3, 0.08, 0.02]  // a fraction is said where a caliper would not see the difference, by places
const LARGEST = 1e15 // from here on a number is said with its power of ten
const PARTS = 64
const MM2_PER_IN2 = MM_PER_INCH ** 2
const FEET_PER_M = 1000 / (12 * MM_PER_INCH)

/** A number with fixed places, no minus on zero. */
export function rounded(value: number, places: number): string {
  if (!(Math.abs(value) < LARGEST)) return value.toExponential(2).replaceAll('-', '−')
  const text = value.toFixed(places)
  return (Number(text) === 0 ? text.replace('-', '') : text).replace('-', '−')
}

/** Nearest 64th of an inch, such as 1 3/4. */
export function inch_fraction(mm: number): string {
  const parts = Math.round((Math.abs(mm) / MM_PER_INCH) * PARTS)
  const sign = mm < 0 && parts > 0 ? '−' : ''
  const whole = Math.floor(parts / PARTS)
  let top = parts % PARTS
  let bottom = PARTS
  while (top && top % 2 === 0) {
    top /= 2
    bottom /= 2
  }
  const built = top ? `${top}/${bottom}` : ''
  return `${sign}${[whole || !top ? String(whole) : '', built].filter(Boolean).join(' ')}`
}

/** A length as it is shown: mm with fixed places, or a built fraction where it is near enough, else decimal inches. */
export function length_in(mm: number, places: number, unit: Unit): string {
  if (unit === 'mm') return rounded(mm, places)
  const inches = mm / MM_PER_INCH
  if (!(Math.abs(inches) < LARGEST)) return `${rounded(inches, 3)}"`
  const parts = Math.round(Math.abs(inches) * PARTS)
  const off = Math.abs(parts / PARTS - Math.abs(inches)) * MM_PER_INCH
  if (places < 3 && off <= FRACTION_OFF_MM[Math.min(places, 2)]) return `${inch_fraction(mm)}"`
  return `${rounded(inches, places >= 3 ? 4 : 3)}"`
}

/** A number with places, or with as many as it has, three at most. */
function number_of(value: number, places: number | null): string {
  if (places !== null) return rounded(value, places)
  const text = rounded(value, 3)
  return text.includes('.') && !text.includes('e') ? text.replace(/0+$/, '').replace(/\.$/, '') : text
}

function bare_length(value: number, places: number | null, unit: Unit): string {
  return unit === 'mm' ? number_of(value, places) : length_in(value, places ?? 2, unit)
}

function bare_rate(value: number, places: number | null, unit: Unit): string {
  if (unit === 'mm') return number_of(value, places)
  const inches = value / MM_PER_INCH
  return rounded(inches, inches >= 100 ? 0 : 1)
}

function square_inches(inches: number): string {
  return `${rounded(inches, Math.abs(inches) < 0.1 ? 3 : Math.abs(inches) < 10 ? 2 : 1)} in²`
}

const SAID: Record<string, (value: number, places: number | null, unit: Unit) => string> = {
  'mm': bare_length,
  'named mm': (v, p, u) => (u === 'mm' ? `${number_of(v, p)} mm` : bare_length(v, p, u)),
  'mm/min': bare_rate,
  'named mm/min': (v, p, u) => `${bare_rate(v, p, u)} ${u === 'mm' ? 'mm' : 'in'}/min`,
  'mm/s2': (v, p, u) => `${bare_rate(v, p, u)} ${u === 'mm' ? 'mm' : 'in'}/s²`,
  'mm2': (v, p, u) => (u === 'mm' ? `${number_of(v, p)} mm²` : square_inches(v / MM2_PER_IN2)),
  'cm2': (v, p, u) => (u === 'mm' ? `${number_of(v, p)} cm²` : square_inches((v * 100) / MM2_PER_IN2)),
  'm': (v, p, u) => (u === 'mm' ? `${number_of(v, p)} m` : `${number_of(v * FEET_PER_M, p)} ft`),
}

/** A size as it is bought: where mm are read, a 64th of an inch that is no whole or half millimetre is said as both. */
export function bought_in(mm: number, unit: Unit): string {
  const parts = (mm / MM_PER_INCH) * 64
  const inch = Math.abs(parts - Math.round(parts)) < 0.004 && Math.abs(mm * 2 - Math.round(mm * 2)) > 0.02
  return unit === 'mm' && inch ? `${length_in(mm, 2, unit)} (${inch_fraction(mm)}")` : length_in(mm, 2, unit)
}

/** A sentence in words. What is marked otherwise stays as it is. */
export function say_in(text: string, unit: Unit): string {
  return text.replace(MARKED, (mark, number: string, of: string, shown: string) => {
    const value = Number(number)
    const spec = /^(\+?)(?:\.(\d)f|g)$/.exec(shown)
    if (number === '' || Number.isNaN(value) || !spec || !(of in SAID)) return mark
    const plus = spec[1] && value > 0 ? '+' : ''
    return plus + SAID[of](value, spec[2] === undefined ? null : Number(spec[2]), unit)
  })
}
