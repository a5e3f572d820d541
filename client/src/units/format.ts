/** Lengths, rates and sentences in the unit in use. What they are made of is in say.ts, what is typed in read.ts. */
import { computed, ref, watch } from 'vue'
import { read_acceleration, read_length, read_number, read_rate, type Read } from './read'
import { bought_in, length_in, rounded, say_in, type Unit } from './say'

export type { Unit }
export const unit = ref<Unit>((localStorage.getItem('birch_unit') as Unit) || 'mm')
watch(unit, (now) => localStorage.setItem('birch_unit', now))

export function toggle_unit(): void {
  unit.value = unit.value === 'mm' ? 'inch' : 'mm'
}

/** A sentence of the server's in the unit in use. */
export function say(text: string | null | undefined): string {
  return text ? say_in(text, unit.value) : ''
}

export function length(mm: number | null | undefined, places = 2): string {
  return mm === null || mm === undefined || Number.isNaN(mm) ? '–' : length_in(mm, places, unit.value)
}

/** A size as it is bought, in the unit in use. */
export function bought(mm: number): string {
  return bought_in(mm, unit.value)
}

export function grouped(value: number): string {
  return Math.round(value).toString().replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009')
}

export type NumberKind = 'length' | 'rate' | 'acceleration' | 'number'

/** What is typed into a field, in the unit in use: its value, or why it has none. */
export function typed(text: string, kind: NumberKind, negative = false): Read {
  if (kind === 'length') return read_length(text, unit.value, negative)
  if (kind === 'acceleration') return read_acceleration(text, unit.value)
  return kind === 'rate' ? read_rate(text, unit.value) : read_number(ungrouped(text))
}

/** The value of what is typed; null where it has none. */
export function value_typed(text: string, kind: NumberKind = 'number', negative = false): number | null {
  const read = typed(text, kind, negative)
  return 'value' in read ? read.value : null
}

/** A number without the thin spaces it is shown with. */
function ungrouped(text: string): string {
  return text.replace(/[\s\u2009](?=\d)/g, '')
}

export const rate_unit = computed(() => (unit.value === 'mm' ? 'mm/min' : 'in/min'))

/** A feed or plunge rate in the unit in use, without its name. */
export function rate(mm_min: number): string {
  if (unit.value === 'mm') return grouped(mm_min)
  const inches = mm_min / 25.4
  return inches >= 100 ? grouped(inches) : rounded(inches, 1)
}

/** An area, with its unit. */
export function area(mm2: number): string {
  return say(`⟦${mm2}|mm2|.${mm2 < 10 ? 1 : 0}f⟧`)
}

/** A length too small for a caliper, such as a chip or a bend, with its unit. */
export function fine(mm: number): string {
  return unit.value === 'mm' ? `${rounded(mm, 3)} mm` : `${rounded(mm / 25.4, 4)}"`
}

export function minutes(value: number): string {
  if (value >= 90) {
    const h = Math.floor(value / 60)
    const m = Math.round(value - h * 60)
    return m ? `${h} h ${String(m).padStart(2, '0')}` : `${h} h`
  }
  return value < 9.95 ? value.toFixed(1) : String(Math.round(value))
}
