/** The section along a line: what stands now, what is still to go. Same scale up as along. */
import { least, type WoodView } from '../wood/view'
import type { Run } from './line'

export interface Cut { now: string; hollow: string; to_go: string; thinnest: { s_mm: number; z_mm: number; left_mm: number } | null }

const EDGE_MM = 1  // so near to the outline a cell may be half waste

function outline(heights: Float32Array, under: Float32Array, x0: number, cell: number, floor: number, sx: (mm: number) => number, sz: (mm: number) => number): string {
  const parts: string[] = []
  let start = -1
  const at = (i: number, z: number) => parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(z).toFixed(1)}`)
  const below = (from: number, to: number) => {  // back along the underside
    at(to + 1, under[to])
    for (let i = to - 1; i >= from; i--) if (Math.abs(under[i] - under[i + 1]) > 0.02) { at(i + 1, under[i + 1]); at(i + 1, under[i]) }
    at(from, under[from])
  }
  for (let i = 0; i <= heights.length; i++) {
    const wood = i < heights.length && heights[i] > floor + 0.011 && heights[i] > under[i] + 0.011
    if (wood && start < 0) {
      start = i
      parts.push(`M${sx(x0 + i * cell).toFixed(1)} ${sz(under[i]).toFixed(1)}`)
    }
    if (wood && (i === start || Math.abs(heights[i] - heights[i - 1]) > 0.02)) {
      if (i > start) parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i - 1]).toFixed(1)}`)
      parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i]).toFixed(1)}`)
    }
    if (!wood && start >= 0) {
      parts.push(`L${sx(x0 + i * cell).toFixed(1)} ${sz(heights[i - 1]).toFixed(1)}`)
      below(start, i - 1)
      parts.push('Z')
      start = -1
    }
  }
  return parts.join('')
}

/** Paths of the wood now and at the end of its setup along a run of the setup's frame, mm from its left end; the thinnest wood left inside the stretches given. */
export function cut_at(view: WoodView, step: number, run: Run, sx: (mm: number) => number, sz: (mm: number) => number, inside: [number, number][]): Cut {
  const { z_offset_mm, setups } = view.header
  const next = setups[setups.indexOf(view.setup_at(step)) + 1]
  const { top: now, under, hollow, apart_mm } = view.sample(step, run)
  const last = view.sample(next ? next.first_step - 1 : view.steps - 1, run).top
  let thinnest: Cut['thinnest'] = null
  for (let i = 0; i < now.length; i++) {
    const s = (i + 0.5) * apart_mm
    const low = Math.max(under[i], z_offset_mm)
    const left = hollow ? least(now[i], low, hollow.floor[i], hollow.roof[i]) : now[i] - low
    if (left > 0.05 && (!thinnest || left < thinnest.left_mm - 0.02) && inside.some(([from, to]) => s > from + EDGE_MM && s < to - EDGE_MM)) thinnest = { s_mm: s, z_mm: now[i], left_mm: left }
  }
  return { now: outline(last, under, 0, apart_mm, z_offset_mm, sx, sz), to_go: outline(now, under, 0, apart_mm, z_offset_mm, sx, sz), thinnest, hollow: hollow ? hollow_path(hollow.floor, hollow.roof, now, 0, apart_mm, sx, sz) : '' }
}

/** The hollows under glued layers that nothing has opened. */
function hollow_path(floor: Float32Array, roof: Float32Array, now: Float32Array, x0: number, cell: number, sx: (mm: number) => number, sz: (mm: number) => number): string {
  const closed = (i: number) => roof[i] - floor[i] > 0.05 && now[i] >= roof[i] - 0.05
  const parts: string[] = []
  for (let i = 0; i < floor.length; i++) {
    if (!closed(i)) continue
    let end = i
    const low: string[] = []
    for (; end < floor.length && closed(end); end++) low.push(`L${sx(x0 + (end + 0.5) * cell).toFixed(1)} ${sz(floor[end]).toFixed(1)}`)
    parts.push(`M${sx(x0 + (i + 0.5) * cell).toFixed(1)} ${sz(roof[i]).toFixed(1)}${low.join('')}L${sx(x0 + (end - 0.5) * cell).toFixed(1)} ${sz(roof[end - 1]).toFixed(1)}Z`)
    i = end
  }
  return parts.join('')
}
