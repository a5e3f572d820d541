/** The section along x at one y: what stands now, what is still to go. Same scale up as along. */
import type { WoodView } from '../wood/view'

export interface Cut { now: string; to_go: string; thinnest: { x_mm: number; z_mm: number; left_mm: number } | null }

function outline(heights: Float32Array, x0: number, cell: number, floor: number, sx: (mm: number) => number, sz: (mm: number) => number): string {
  const parts: string[] = []
  let start = -1
  for (let i = 0; i <= heights.length; i++) {
    const wood = i < heights.length && heights[i] > floor + 0.011
    if (wood && start < 0) {
      start = i
      parts.push(`M${sx(x0 + i * cell).toFixed(1)} ${sz(floor).toFixed(1)}`)
    }
    if (wood && (i === start || Math.abs(heights[i] - heights[i - 1]) > 0.02)) {
      if (i > start) parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i - 1]).toFixed(1)}`)
      parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i]).toFixed(1)}`)
    }
    if (!wood && start >= 0) {
      parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i - 1]).toFixed(1)}L${sx(x0 + i * cell).toFixed(1)} ${sz(floor).toFixed(1)}Z`)
      start = -1
    }
  }
  return parts.join('')
}

/** Paths of the wood now and of the whole route's end; the thinnest floor left inside [from, to]. */
export function cut_at(view: WoodView, step: number, y_mm: number, sx: (mm: number) => number, sz: (mm: number) => number, inside: [number, number]): Cut {
  const { x0_mm, cell_mm, z_offset_mm, nx } = view.header
  const now = view.row(step, y_mm)
  const last = view.row(view.steps - 1, y_mm)
  let thinnest: Cut['thinnest'] = null
  for (let i = 0; i < nx; i++) {
    const x = x0_mm + (i + 0.5) * cell_mm
    const left = now[i] - z_offset_mm
    if (x > inside[0] && x < inside[1] && left > 0.05 && (!thinnest || left < thinnest.left_mm - 0.02)) thinnest = { x_mm: x, z_mm: now[i], left_mm: left }
  }
  return { now: outline(last, x0_mm, cell_mm, z_offset_mm, sx, sz), to_go: outline(now, x0_mm, cell_mm, z_offset_mm, sx, sz), thinnest }
}
