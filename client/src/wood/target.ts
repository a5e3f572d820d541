/** The wood as drawn, to hold against the simulated wood (src/birch_route/formats/target.py says how it is packed). */
import { inflate, unpack_tiles, type ViewHeader } from './view'

/** Marks in a field of differences: not of the piece; of the piece, but the cells are too coarse beside a wall. */
export const OUTSIDE = 1e4
export const UNJUDGED = 2e4

export interface Aim { height: Float32Array; state: Uint8Array }

export class Target {
  private constructor(readonly tolerance_mm: number, private readonly aims: Map<string, Aim>) {}

  static async decode(data: ArrayBuffer, view: ViewHeader): Promise<Target> {
    const size = new DataView(data).getUint32(0, true)
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as { tolerance_mm: number; setups: { setup: string; bytes: [number, number] }[] }
    const { nx, ny, tile, tiles_x, z_offset_mm, z_scale_mm } = view
    const count = tiles_x * Math.ceil(ny / tile)
    const aims = new Map<string, Aim>()
    let at = 4 + size
    for (const one of header.setups) {
      const tiles = unpack_tiles(await inflate(new Uint8Array(data, at, one.bytes[0])), count, tile ** 2)
      const states = new Uint8Array(await inflate(new Uint8Array(data, at + one.bytes[0], one.bytes[1])))
      at += one.bytes[0] + one.bytes[1]
      const height = new Float32Array(nx * ny)
      const state = new Uint8Array(nx * ny)
      for (let j = 0; j < ny; j++) for (let i = 0; i < nx; i++) {
        const t = Math.floor(j / tile) * tiles_x + Math.floor(i / tile)
        const k = (j % tile) * tile + (i % tile)
        height[j * nx + i] = z_offset_mm + tiles[t][k] * z_scale_mm
        state[j * nx + i] = states[t * tile ** 2 + k]
      }
      aims.set(one.setup, { height, state })
    }
    return new Target(header.tolerance_mm, aims)
  }

  of(setup: string): Aim {
    return this.aims.get(setup)!
  }
}
