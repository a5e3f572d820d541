/** Closed curves of a drawing as SVG path text, y upwards in mm. */

export interface CurvePath { start: [number, number]; segments: (string | number)[][] }
export interface Loop { layer: string; area_mm2: number; bounds_mm: [number, number, number, number]; crossing_mm: [number, number] | null; path: CurvePath }

export function path_text(path: CurvePath, sx: (x: number) => number, sy: (y: number) => number): string {
  let [x, y] = path.start
  const scale = Math.abs(sx(1) - sx(0))
  const parts = [`M${sx(x).toFixed(2)} ${sy(y).toFixed(2)}`]
  for (const segment of path.segments) {
    const n = segment.slice(1) as number[]
    if (segment[0] === 'cubic') {
      parts.push(`C${sx(n[0]).toFixed(2)} ${sy(n[1]).toFixed(2)} ${sx(n[2]).toFixed(2)} ${sy(n[3]).toFixed(2)} ${sx(n[4]).toFixed(2)} ${sy(n[5]).toFixed(2)}`)
      ;[x, y] = [n[4], n[5]]
      continue
    }
    if (segment[0] === 'arc' && Math.abs(n[2]) > 1e-9) {
      const sweep = 4 * Math.atan(n[2])
      const r = (Math.hypot(n[0] - x, n[1] - y) / (2 * Math.sin(Math.abs(sweep) / 2))) * scale
      parts.push(`A${r.toFixed(3)} ${r.toFixed(3)} 0 ${Math.abs(sweep) > Math.PI ? 1 : 0} ${n[2] > 0 ? 0 : 1} ${sx(n[0]).toFixed(2)} ${sy(n[1]).toFixed(2)}`)
    } else parts.push(`L${sx(n[0]).toFixed(2)} ${sy(n[1]).toFixed(2)}`)
    ;[x, y] = [n[0], n[1]]
  }
  return `${parts.join('')}Z`
}

/** Bounds of several curves together. */
export function bounds_of(loops: Loop[]): [number, number, number, number] {
  return loops.reduce<[number, number, number, number]>((b, l) => [Math.min(b[0], l.bounds_mm[0]), Math.min(b[1], l.bounds_mm[1]), Math.max(b[2], l.bounds_mm[2]), Math.max(b[3], l.bounds_mm[3])], [Infinity, Infinity, -Infinity, -Infinity])
}

/** Whether one curve's box lies inside another's. */
export function lies_inside(inner: Loop, outer: Loop): boolean {
  return inner.bounds_mm[0] >= outer.bounds_mm[0] - 0.5 && inner.bounds_mm[1] >= outer.bounds_mm[1] - 0.5 && inner.bounds_mm[2] <= outer.bounds_mm[2] + 0.5 && inner.bounds_mm[3] <= outer.bounds_mm[3] + 0.5
}

/** Whether a curve is a circle, by its arcs and its square box. */
export function is_round(loop: Loop): boolean {
  const [x0, y0, x1, y1] = loop.bounds_mm
  return loop.path.segments.every((s) => s[0] === 'arc') && Math.abs(x1 - x0 - (y1 - y0)) < 0.02 && Math.abs(loop.area_mm2 - (Math.PI / 4) * (x1 - x0) ** 2) < 0.02 * loop.area_mm2
}
