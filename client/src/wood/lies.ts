/** How the piece lies in a setup: points of the piece to the plan as it is seen from the spindle, and back. Turning over is its own inverse. */
import type { Blank, RouteDocument, Setup } from '../api/types'

export interface Lies { setup: Setup; turned: boolean; signs: [number, number]; corner: [number, number]; top_mm: number; thickness_mm: number }

/** Thickness of the finished piece. */
export const piece_mm = (blank: Blank): number => blank.thickness_mm - blank.skim_mm - blank.skim_back_mm

export function lies_in(blank: Blank, setup: Setup): Lies {
  const turned = setup.face === 'back'
  const signs: [number, number] = !turned ? [1, 1] : setup.turned_about === 'width' ? [-1, 1] : [1, -1]
  const corner: [number, number] = [signs[0] > 0 ? blank.x_mm : -(blank.x_mm + blank.length_mm), signs[1] > 0 ? blank.y_mm : -(blank.y_mm + blank.width_mm)]
  return { setup, turned, signs, corner, top_mm: turned ? blank.skim_back_mm : blank.skim_mm, thickness_mm: piece_mm(blank) }
}

/** The setup of a step: that of its operation; before all, the first. */
export function setup_of(doc: RouteDocument, step: number): Setup {
  const id = doc.operations[step - 1]?.setup
  return doc.setups.find((s) => s.id === id) ?? doc.setups[0]
}

/** The last step of a setup. */
export function last_step(doc: RouteDocument, setup: string): number {
  return doc.operations.reduce((last, o, k) => (o.setup === setup ? k + 1 : last), 0)
}

/** z of the setup's frame from the piece's, and back. */
export function height_in(lies: Lies, z: number): number {
  return lies.turned ? -z - lies.thickness_mm : z
}
