/** One operation from inside: the bit's way and the wood at moments of it (src/birch_route/formats/moments.py says how it is packed). */
import { inflate, unpack_tiles } from './view'

interface InsideHeader { points: number; path_bytes: [number, number, number]; kinds: Record<string, string>; lead_moves: number; moments: { at_s: number; tiles: number[]; bytes: number }[] }

export interface Spot { x: number; y: number; z: number; move: number; kind: string }

export class Inside {
  private constructor(readonly header: InsideHeader, readonly points: Float32Array, readonly kinds: Uint8Array, readonly clock: Float32Array, private readonly rows: Uint16Array[][], readonly end: Uint16Array[]) {}

  /** before, end: the tiles of the wood before and after the operation. */
  static async decode(data: ArrayBuffer, tile: number, before: Uint16Array[], end: Uint16Array[]): Promise<Inside> {
    const size = new DataView(data).getUint32(0, true)
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as InsideHeader
    let at = 4 + size
    const next = async (bytes: number) => { const out = await inflate(new Uint8Array(data, at, bytes)); at += bytes; return out }
    const points = new Float32Array(await next(header.path_bytes[0]))
    const kinds = new Uint8Array(await next(header.path_bytes[1]))
    const clock = new Float32Array(await next(header.path_bytes[2]))
    const rows = [before]
    for (const moment of header.moments) {
      const row = rows[rows.length - 1].slice()
      if (moment.bytes) unpack_tiles(await next(moment.bytes), moment.tiles.length, tile ** 2).forEach((cells, k) => { row[moment.tiles[k]] = cells })
      rows.push(row)
    }
    return new Inside(header, points, kinds, clock, rows, end)
  }

  get seconds(): number {
    return this.clock[this.clock.length - 1]
  }

  /** The tiles of the wood at a time: those of the last moment not after it. */
  row_at(at_s: number): Uint16Array[] {
    if (at_s >= this.seconds - 1e-3) return this.end
    let k = 0
    while (k < this.header.moments.length && this.header.moments[k].at_s <= at_s + 1e-3) k++
    return this.rows[k]
  }

  /** Where the bit's tip is at a time, in the setup's frame, and which move it makes. */
  spot(at_s: number): Spot {
    let low = 0
    let high = this.kinds.length - 1
    while (low < high) {
      const middle = (low + high) >> 1
      if (this.clock[middle + 1] < at_s) low = middle + 1
      else high = middle
    }
    const long = this.clock[low + 1] - this.clock[low]
    const part = long > 0 ? Math.max(0, Math.min(1, (at_s - this.clock[low]) / long)) : 1
    const p = (axis: number) => this.points[3 * low + axis] * (1 - part) + this.points[3 * low + 3 + axis] * part
    return { x: p(0), y: p(1), z: p(2), move: low, kind: this.header.kinds[this.kinds[low]] }
  }
}
