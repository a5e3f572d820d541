/** Lengths as they are shown: mm with fixed places, or built inch fractions. The server reads what is typed. */
import { computed, ref, watch } from 'vue'

export type Unit = 'mm' | 'inch'
export const unit = ref<Unit>((localStorage.getItem('birch_unit') as Unit) || 'mm')
watch(unit, (now) => localStorage.setItem('birch_unit', now))

export function toggle_unit(): void {
  unit.value = unit.value === 'mm' ? 'inch' : 'mm'
}

/** Nearest 64th of an inch, such as 1 3/4. */
export function inch_fraction(mm: number): string {
  const parts = Math.round((Math.abs(mm) / 25.4) * 64)
  const sign = mm < 0 && parts > 0 ? '−' : ''
  const whole = Math.floor(parts / 64)
  let top = parts % 64
  if (top === 0) return `${sign}${whole}`
  let bottom = 64
  while (top % 2 === 0) {
    top /= 2
    bottom /= 2
  }
  return `${sign}${whole ? `${whole} ` : ''}${top}/${bottom}`
}

export function length(mm: number | null | undefined, places = 2): string {
  if (mm === null || mm === undefined || Number.isNaN(mm)) return '–'
  if (unit.value === 'inch') {
    const off = Math.abs(Math.round((mm / 25.4) * 64) / 64 - mm / 25.4) * 25.4  // a fraction only where a caliper would not see the difference
    return off <= (places >= 2 ? 0.02 : places === 1 ? 0.08 : 0.3) ? `${inch_fraction(mm)}"` : `${(mm / 25.4).toFixed(3).replace('-', '−')}"`
  }
  const text = mm.toFixed(places)
  return Number(text) === 0 ? (0).toFixed(places) : text.replace('-', '−')
}

/** Read a length as the server does: plain numbers in the unit in use, fractions as inches. Null where it is none. */
export function read_length(text: string, now: Unit): number | null {
  const match = /^([+-]?)\s*(?:(\d+)[\s-]+(\d+)\s*\/\s*(\d+)|(\d+)\s*\/\s*(\d+)|(\d+(?:[.,]\d*)?|[.,]\d+))\s*(mm|in|inch|"|″)?$/i.exec(text.trim().replace('−', '-'))
  if (!match) return null
  const [, sign, whole, top, bottom, lone_top, lone_bottom, plain, said] = match
  const fraction = plain === undefined
  const value = fraction ? Number(whole ?? 0) + Number(top ?? lone_top) / Number(bottom ?? lone_bottom) : Number(plain.replace(',', '.'))
  const inches = said ? said.toLowerCase() !== 'mm' : fraction || now === 'inch'
  const mm = value * (inches ? 25.4 : 1) * (sign === '-' ? -1 : 1)
  return Number.isFinite(mm) && Math.abs(mm) <= 10_000 ? mm : null
}

export function grouped(value: number): string {
  return Math.round(value).toString().replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009')
}

export const rate_unit = computed(() => (unit.value === 'mm' ? 'mm/min' : 'in/min'))

/** A feed or plunge rate in the unit in use, without its name. */
export function rate(mm_min: number): string {
  if (unit.value === 'mm') return grouped(mm_min)
  const inches = mm_min / 25.4
  return inches >= 100 ? grouped(inches) : inches.toFixed(1)
}

/** Read a rate: in the unit in use, or in what is said behind it. Null where it is none. */
export function read_rate(text: string): number | null {
  const match = /^(\d+(?:[.,]\d*)?|[.,]\d+)\s*(mm\/min|mm|in\/min|in|ipm)?$/i.exec(text.replace(/[\s\u2009](?=\d)/g, '').trim())
  if (!match) return null
  const inches = match[2] ? !match[2].toLowerCase().startsWith('mm') : unit.value === 'inch'
  const value = Number(match[1].replace(',', '.')) * (inches ? 25.4 : 1)
  return Number.isFinite(value) && value > 0 ? value : null
}

/** A length too small for a caliper, such as a chip or a bend, with its unit. */
export function fine(mm: number): string {
  return unit.value === 'mm' ? `${mm.toFixed(3)} mm` : `${(mm / 25.4).toFixed(4)}"`
}

export function minutes(value: number): string {
  if (value >= 90) {
    const h = Math.floor(value / 60)
    const m = Math.round(value - h * 60)
    return m ? `${h} h ${String(m).padStart(2, '0')}` : `${h} h`
  }
  return value < 9.95 ? value.toFixed(1) : String(Math.round(value))
}
