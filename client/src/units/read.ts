/** What people type, read as core/units.py reads it: the same grammar, the same refusals, by a shared table of cases.
 *  No reactive state: the unit in use is an argument. */
import { MM_PER_INCH, type Unit } from './say'

/** A number, or why there is none. */
export type Read = { value: number } | { wrong: string }

const LONGEST_MM = 10_000
const VULGAR: Record<string, string> = {
  '½': '1/2', '¼': '1/4', '¾': '3/4', '⅛': '1/8', '⅜': '3/8', '⅝': '5/8', '⅞': '7/8', '⅓': '1/3', '⅔': '2/3',
}
const UNITS: Record<string, Unit> = {
  'mm': 'mm', 'millimetre': 'mm', 'millimetres': 'mm', 'millimeters': 'mm',
  '"': 'inch', '″': 'inch', "''": 'inch', 'in': 'inch', 'in.': 'inch', 'inch': 'inch', 'inches': 'inch',
}
const AMOUNT = String.raw`(?:(\d+)[\s-]+(\d+)\s*[/⁄]\s*(\d+)|(\d+)\s*[/⁄]\s*(\d+)|([\d.,]*\d[\d.,]*))`
const TERM = new RegExp(String.raw`^([+-]?)\s*${AMOUNT}\s*([a-z.]*|"|″|'')$`, 'i')
const DECIMAL = /^(?:\d+(?:[.,]\d*)?|[.,]\d+)$/
const THOUSANDS = /^[1-9]\d{0,2},\d{3}$/
const LIKE_LENGTH = 'Type it like 44.36, 1 3/4", .375in or 45/64.'

class Refused extends Error {}
const quoted = (raw: string): string => `“${Array.from(raw).slice(0, 40).join('')}”`

/** Read one length in mm: `44.36`, `1 3/4"`, `.375in`, `45/64`, `10+2.5`. */
export function read_length(text: string, now: Unit, negative = false): Read {
  const raw = text.trim()
  let plain = raw.replaceAll('−', '-')
  for (const [sign, spelled] of Object.entries(VULGAR)) plain = plain.replaceAll(sign, ` ${spelled}`)
  const body = plain.trim()
  try {
    const terms = (body.startsWith('+') ? body.slice(1) : body).split('+').map((part) => term(part.trim(), raw))
    let unit: Unit | null = null
    let total = 0
    for (const one of terms.reverse()) {
      unit = one.unit ?? unit
      if (terms.length > 1 && unit === null && one.fraction && now === 'mm')
        return { wrong: `In ${quoted(raw)} the fraction needs its unit, like 10 mm + 1/2 in.` }
      total += one.amount * ((unit ?? (one.fraction ? 'inch' : now)) === 'inch' ? MM_PER_INCH : 1)
    }
    if (total < 0 && !negative) return { wrong: `${quoted(raw)} is below zero; this measure cannot be.` }
    if (!Number.isFinite(total) || Math.abs(total) > LONGEST_MM)
      return { wrong: `${quoted(raw)} is longer than ten metres. Check the unit.` }
    return { value: total }
  } catch (error) {
    if (error instanceof Refused) return { wrong: error.message }
    throw error
  }
}

/** Read a plain number, its decimal mark a point or a comma. */
export function read_number(text: string): Read {
  const raw = text.trim()
  const plain = raw.replaceAll('−', '-')
  const signed = /^[+-](?![+-])/.test(plain)
  try {
    return { value: (plain.startsWith('-') ? -1 : 1) * decimal(signed ? plain.slice(1) : plain, raw, 'a number') }
  } catch (error) {
    if (error instanceof Refused) return { wrong: error.message }
    throw error
  }
}

/** Read a feed or plunge rate in mm/min: in the unit in use, or in what is said behind it. */
export function read_rate(text: string, now: Unit): Read {
  const match = /^(.*?)\s*(mm\/min|mm|in\/min|in|ipm)?$/i.exec(text.replace(/[\s\u2009](?=\d)/g, '').trim())
  const inches = match?.[2] ? !match[2].toLowerCase().startsWith('mm') : now === 'inch'
  const found = read_number(match?.[1] ?? '')
  if ('wrong' in found) return found
  const value = found.value * (inches ? MM_PER_INCH : 1)
  return value > 0 ? { value } : { wrong: `${quoted(text.trim())} is not a rate, like 2400 or 90 in/min.` }
}

/** Read an acceleration in mm/s²: in the unit in use, or in what is said behind it. */
export function read_acceleration(text: string, now: Unit): Read {
  const match = /^(.*?)\s*(mm|in)?(?:\/s[²2])?$/i.exec(text.replace(/[\s\u2009](?=\d)/g, '').trim())
  const inches = match?.[2] ? match[2].toLowerCase() === 'in' : now === 'inch'
  const found = read_number(match?.[1] ?? '')
  if ('wrong' in found) return found
  const value = found.value * (inches ? MM_PER_INCH : 1)
  return value > 0 ? { value } : { wrong: `${quoted(text.trim())} is no acceleration, like 800 or 31 in/s².` }
}

function term(text: string, raw: string): { amount: number; unit: Unit | null; fraction: boolean } {
  const match = TERM.exec(text)
  if (!match) throw new Refused(`${quoted(raw)} is not a length. ${LIKE_LENGTH}`)
  const [, minus, whole, top, bottom, lone_top, lone_bottom, plain, word_said] = match
  const word = word_said.toLowerCase()
  if (word && !(word in UNITS)) throw new Refused(`“${word}” is not a unit known here. Use mm or in.`)
  const unit = word ? UNITS[word] : null
  const sign = minus === '-' ? -1 : 1
  if (plain !== undefined) return { amount: sign * decimal(plain, raw, 'a length'), unit, fraction: false }
  const under = Number(bottom ?? lone_bottom)
  if (under === 0) throw new Refused(`${quoted(raw)} divides by zero.`)
  return { amount: (sign * (Number(whole ?? 0) * under + Number(top ?? lone_top))) / under, unit, fraction: true }
}

function decimal(text: string, raw: string, what: string): number {
  if (text.includes('.') && text.includes(','))
    throw new Refused(`${quoted(raw)} has a point and a comma. Type the decimal mark only.`)
  if (THOUSANDS.test(text)) {
    const [whole, rest] = text.split(',')
    const either = `${whole}.${rest} or ${whole}${rest}`
    throw new Refused(`Does ${quoted(raw)} mean ${either}? Type ${either}.`)
  }
  if (!DECIMAL.test(text)) {
    const like = what === 'a length' ? LIKE_LENGTH : 'Type it like 12.5.'
    throw new Refused(`${quoted(raw)} is not ${what}. ${like}`)
  }
  return Number(text.replace(',', '.'))
}
