/** How a bit is drawn: its envelope, tip down, at a scale. */
import type { Bit } from '../api/types'

export function shape(b: Bit, scale: number): string {
  const r = (b.diameter_mm / 2) * scale
  const cut = b.cutting_length_mm * scale
  if (b.form === 'ball') return `M${-r} ${-cut}V${-r}A${r} ${r} 0 0 0 ${r} ${-r}V${-cut}Z`
  if (b.form === 'flat' || b.form === 'bull') return `M${-r} ${-cut}V0H${r}V${-cut}Z`
  if (b.form === 'round') {
    const tip = (b.tip_diameter_mm / 2) * scale
    const c = b.corner_radius_mm * scale
    return `M${-r} ${-cut}V${-c}H${-tip - c}A${c} ${c} 0 0 1 ${-tip} 0H${tip}A${c} ${c} 0 0 1 ${tip + c} ${-c}H${r}V${-cut}Z`
  }
  const point = Math.min(cut, r / Math.tan((b.included_angle_deg * Math.PI) / 360))
  return `M${-r} ${-cut}V${-point}L0 0L${r} ${-point}V${-cut}Z`
}

export const STANDING: Record<string, { mark: string; words: string }> = {
  proven: { mark: '●', words: 'Proven: cut in this shop, with a record' },
  covered: { mark: '◐', words: 'No harder than what was cut here' },
  untried: { mark: '○', words: 'Untried here: computed only' },
  failed: { mark: '×', words: 'As hard as what failed here' },
}
