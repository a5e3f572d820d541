/** How a bit is drawn: its envelope, tip down, at a scale. */
import type { Bit } from '../api/types'

export function shape(b: Bit, scale: number): string {
  const form: string = b.form
  const r = (b.diameter_mm / 2) * scale
  const cut = b.cutting_length_mm * scale
  if (b.form === 'ball') return `M${-r} ${-cut}V${-r}A${r} ${r} 0 0 0 ${r} ${-r}V${-cut}Z`
  if (b.form === 'flat' || b.form === 'bull') return `M${-r} ${-cut}V0H${r}V${-cut}Z`
  if (b.form === 'round') {
    const tip = (b.tip_diameter_mm / 2) * scale
    const c = b.corner_radius_mm * scale
    return `M${-r} ${-cut}V${-c}H${-tip - c}A${c} ${c} 0 0 1 ${-tip} 0H${tip}A${c} ${c} 0 0 1 ${tip + c} ${-c}H${r}V${-cut}Z`
  }
  if (form === 'dovetail') {
    const neck = Math.max(0.15 * r, r - cut * Math.tan((b.included_angle_deg * Math.PI) / 360))
    return `M${-neck} ${-cut}L${-r} 0H${r}L${neck} ${-cut}Z`
  }
  if (form === 'undercut') {
    const neck = Math.min(r, (b.shank_diameter_mm / 2) * scale) * 0.6
    return `M${-neck} ${-cut}V${-0.4 * cut}H${-r}V0H${r}V${-0.4 * cut}H${neck}V${-cut}Z`
  }
  if (form === 'taper') {
    const half = (b.included_angle_deg * Math.PI) / 360
    const [x, y] = [r * Math.cos(half), r * (1 - Math.sin(half))]
    const wide = x + Math.max(0, cut - y) * Math.tan(half)
    return `M${-wide} ${-cut}L${-x} ${-y}A${r} ${r} 0 0 0 ${x} ${-y}L${wide} ${-cut}Z`
  }
  const tip = Math.min(r, (b.tip_diameter_mm / 2) * scale)
  const point = Math.min(cut, (r - tip) / Math.tan((b.included_angle_deg * Math.PI) / 360))
  return `M${-r} ${-cut}V${-point}L${-tip} 0H${tip}L${r} ${-point}V${-cut}Z`
}

export const STANDING: Record<string, { mark: string; words: string }> = {
  proven: { mark: '●', words: 'Proven: cut in this shop, with a record' },
  covered: { mark: '◐', words: 'No harder than what was cut here' },
  untried: { mark: '○', words: 'Untried here: computed only' },
  failed: { mark: '×', words: 'As hard as what failed here' },
}
