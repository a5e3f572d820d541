/** The wood after every operation, unpacked from the server's tiles (src/birch_route/formats/view.py says how). */
import { OUTSIDE, UNJUDGED, type Target } from './target'

export interface ViewHeader {
  nx: number; ny: number; tile: number; tiles_x: number; cell_mm: number; x0_mm: number; y0_mm: number; z_offset_mm: number; z_scale_mm: number
  steps: Packed[]; setups: ViewSetup[]
}
/** How the wood lies in a setup, from its first step on. Everything is in that setup's frame: the face that is up at z = 0. */
export interface ViewSetup {
  id: string; name: string; face: 'front' | 'back'; turned_about: 'length' | 'width' | null; x0_mm: number; y0_mm: number; first_step: number; thickness_mm: number
  under: Packed; hollow?: { floor: Packed; roof: Packed }
}
interface Packed { tiles: number[]; bytes: number; mark: string }
/** What glued layers have closed: lower and upper side of each hollow, the same height where there is none. */
interface Hollow { floor: Float32Array; roof: Float32Array }
const NO_HOLLOW_MM = 0.02

/** The thinnest wood between an upper side and the underside: over or under a hollow where one lies between. */
export function least(top: number, under: number, floor: number, roof: number): number {
  return roof - floor > NO_HOLLOW_MM && top >= roof - NO_HOLLOW_MM && under <= floor + NO_HOLLOW_MM ? Math.min(top - roof, floor - under) : top - under
}

export async function inflate(bytes: Uint8Array): Promise<ArrayBuffer> {
  const stream = new Blob([bytes as BlobPart]).stream().pipeThrough(new DecompressionStream('deflate'))
  return new Response(stream).arrayBuffer()
}

/** Undo the packing of one step: running sums modulo 65536 inside each tile. */
export function unpack_tiles(raw: ArrayBuffer, count: number, cells: number): Uint16Array[] {
  const all = new Uint16Array(raw)
  const out: Uint16Array[] = []
  for (let k = 0; k < count; k++) {
    const tile = all.slice(k * cells, (k + 1) * cells)
    for (let i = 1; i < cells; i++) tile[i] = (tile[i] + tile[i - 1]) & 0xffff
    out.push(tile)
  }
  return out
}

export class WoodView {
  readonly heights: Float32Array
  private shown: (Uint16Array | null)[]
  private at = -1
  private readonly under_fields = new Map<string, Float32Array>()

  private constructor(readonly header: ViewHeader, private readonly table: Uint16Array[][], private readonly unders: Uint16Array[][],
    private readonly hollows: ({ floor: Uint16Array[]; roof: Uint16Array[] } | null)[], private readonly unpacked: Map<string, Uint16Array[]>) {
    this.heights = new Float32Array(header.nx * header.ny)
    this.shown = table[0].map(() => null)
  }

  /** Unpack a view; streams that another view has unpacked already are taken from it. */
  static async decode(data: ArrayBuffer, other: WoodView | null = null): Promise<WoodView> {
    const size = new DataView(data).getUint32(0, true)
    const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as ViewHeader
    const unpacked = new Map<string, Uint16Array[]>()
    let at = 4 + size
    const laid = async (packed: Packed, on: Uint16Array[]) => {
      const bytes = new Uint8Array(data, at, packed.bytes)
      at += packed.bytes
      if (!packed.bytes) return on
      const tiles = other?.unpacked.get(packed.mark) ?? unpack_tiles(await inflate(bytes), packed.tiles.length, header.tile ** 2)
      unpacked.set(packed.mark, tiles)
      packed.tiles.forEach((tile, k) => { on[tile] = tiles[k] })
      return on
    }
    const table: Uint16Array[][] = []
    for (const step of header.steps) table.push(await laid(step, table.length ? table[table.length - 1].slice() : []))
    const unders: Uint16Array[][] = []
    const hollows: ({ floor: Uint16Array[]; roof: Uint16Array[] } | null)[] = []
    for (const setup of header.setups) {
      unders.push(await laid(setup.under, []))
      hollows.push(setup.hollow ? { floor: await laid(setup.hollow.floor, []), roof: await laid(setup.hollow.roof, []) } : null)
    }
    return new WoodView(header, table, unders, hollows, unpacked)
  }

  /** The tiles of a step. */
  row_of(step: number): Uint16Array[] {
    return this.table[Math.max(0, Math.min(step, this.table.length - 1))]
  }

  /** Lay other tiles in for a step, as at a moment inside it; what is shown follows at the next `show`. */
  lay_in(step: number, row: Uint16Array[]): void {
    this.table[step] = row
    this.at = -1
  }

  get steps(): number {
    return this.table.length
  }

  /** Bring `heights` (z in mm, row 0 at the lowest y) to a step; only tiles that differ are written. */
  show(step: number): boolean {
    const wanted = Math.max(0, Math.min(step, this.table.length - 1))
    if (wanted === this.at) return false
    this.at = wanted
    const { nx, ny, tile, tiles_x, z_offset_mm, z_scale_mm } = this.header
    this.table[wanted].forEach((cells, index) => {
      if (this.shown[index] === cells) return
      this.shown[index] = cells
      const x0 = (index % tiles_x) * tile
      const y0 = Math.floor(index / tiles_x) * tile
      const wide = Math.min(tile, nx - x0)
      for (let j = 0; j < Math.min(tile, ny - y0); j++) {
        let to = (y0 + j) * nx + x0
        let from = j * tile
        for (let i = 0; i < wide; i++) this.heights[to++] = z_offset_mm + cells[from++] * z_scale_mm
      }
    })
    return true
  }

  /** What stands over (below 0: was cut below) the target at a step, mm; OUTSIDE where the piece is not, UNJUDGED where the cells are too coarse to say. */
  against(step: number, target: Target): Float32Array {
    this.show(step)
    const aim = target.of(this.setup_at(step).id)
    const out = new Float32Array(this.heights.length)
    for (let k = 0; k < out.length; k++) out[k] = aim.state[k] === 2 ? this.heights[k] - aim.height[k] : aim.state[k] === 1 ? UNJUDGED : OUTSIDE
    return out
  }

  /** Wood from the upper side to the underside at a step, mm, -1 where nothing is left; like `heights`, and brings those to the step. */
  thickness(step: number): Float32Array {
    this.show(step)
    const under = this.under_field(this.setup_at(step))
    const gone = this.header.z_offset_mm + 0.011
    const out = new Float32Array(this.heights.length)
    for (let k = 0; k < out.length; k++) out[k] = this.heights[k] <= gone ? -1 : this.heights[k] - under[k]
    const { nx, ny, cell_mm } = this.header
    const setup = this.setup_at(step)
    for (let j = 0; setup.hollow && j < ny; j++) {
      const { floor, roof } = this.hollow(step, setup.y0_mm + (j + 0.5) * cell_mm)!
      for (let i = 0, k = j * nx; i < nx; i++, k++) if (out[k] >= 0) out[k] = least(this.heights[k], under[k], floor[i], roof[i])
    }
    return out
  }

  private under_field(setup: ViewSetup): Float32Array {
    const known = this.under_fields.get(setup.id)
    if (known) return known
    const { nx, ny, cell_mm } = this.header
    const out = new Float32Array(nx * ny)
    const cells = this.unders[this.header.setups.indexOf(setup)]
    for (let j = 0; j < ny; j++) out.set(this.along(cells, setup, setup.y0_mm + (j + 0.5) * cell_mm), j * nx)
    this.under_fields.set(setup.id, out)
    return out
  }

  /** Height of the upper side and the wood below it at a place of the setup's frame; null beside the blank or where nothing is left. */
  probe(step: number, x_mm: number, y_mm: number): { top_mm: number; thick_mm: number } | null {
    const setup = this.setup_at(step)
    const i = Math.floor((x_mm - setup.x0_mm) / this.header.cell_mm)
    const j = Math.floor((y_mm - setup.y0_mm) / this.header.cell_mm)
    if (i < 0 || i >= this.header.nx || j < 0 || j >= this.header.ny) return null
    const top = this.row(step, y_mm)[i]
    const hollow = this.hollow(step, y_mm)
    const under = this.under(step, y_mm)[i]
    return top <= this.header.z_offset_mm + 0.011 ? null : { top_mm: top, thick_mm: hollow ? least(top, under, hollow.floor[i], hollow.roof[i]) : top - under }
  }

  /** The target's height and what stands over it at a place of the setup's frame; null where the piece is not, null heights where it goes through or cannot be judged. */
  over(step: number, x_mm: number, y_mm: number, target: Target): { target_mm: number | null; over_mm: number | null } | null {
    const setup = this.setup_at(step)
    const { nx, ny, cell_mm, z_offset_mm } = this.header
    const i = Math.floor((x_mm - setup.x0_mm) / cell_mm)
    const j = Math.floor((y_mm - setup.y0_mm) / cell_mm)
    if (i < 0 || i >= nx || j < 0 || j >= ny) return null
    const aim = target.of(setup.id)
    const k = j * nx + i
    if (aim.state[k] === 0) return null
    return { target_mm: aim.height[k] <= z_offset_mm + 0.011 ? null : aim.height[k], over_mm: aim.state[k] === 1 ? null : this.row(step, y_mm)[i] - aim.height[k] }
  }

  /** The setup a step belongs to. */
  setup_at(step: number): ViewSetup {
    const { setups } = this.header
    return setups.filter((s) => s.first_step <= step).at(-1) ?? setups[0]
  }

  /** Heights along y of the setup's frame at a step, without changing what is shown: the row nearest to y. */
  row(step: number, y_mm: number): Float32Array {
    return this.along(this.table[Math.max(0, Math.min(step, this.table.length - 1))], this.setup_at(step), y_mm)
  }

  /** The underside along y of the setup's frame that a step belongs to. */
  under(step: number, y_mm: number): Float32Array {
    const setup = this.setup_at(step)
    return this.along(this.unders[this.header.setups.indexOf(setup)], setup, y_mm)
  }

  /** The hollows along y of the setup's frame that a step belongs to; null where no layer was glued on. */
  hollow(step: number, y_mm: number): Hollow | null {
    const setup = this.setup_at(step)
    const cells = this.hollows[this.header.setups.indexOf(setup)]
    return cells && { floor: this.along(cells.floor, setup, y_mm), roof: this.along(cells.roof, setup, y_mm) }
  }

  /** The wood along a stretch of the setup's frame that a step belongs to, in places evenly apart, about a cell: upper side, underside, hollows. */
  sample(step: number, run: { from: [number, number]; to: [number, number]; long_mm: number }): { top: Float32Array; under: Float32Array; hollow: Hollow | null; apart_mm: number } {
    const { nx, ny, tile, tiles_x, cell_mm, z_offset_mm, z_scale_mm } = this.header
    const setup = this.setup_at(step)
    const n = Math.max(1, Math.round(run.long_mm / cell_mm))
    const [tiles, places] = [new Int32Array(n), new Int32Array(n)]
    for (let k = 0; k < n; k++) {
      const part = (k + 0.5) / n
      const i = Math.max(0, Math.min(nx - 1, Math.floor((run.from[0] + part * (run.to[0] - run.from[0]) - setup.x0_mm) / cell_mm)))
      const j = Math.max(0, Math.min(ny - 1, Math.floor((run.from[1] + part * (run.to[1] - run.from[1]) - setup.y0_mm) / cell_mm)))
      tiles[k] = Math.floor(j / tile) * tiles_x + Math.floor(i / tile)
      places[k] = (j % tile) * tile + (i % tile)
    }
    const read = (cells: Uint16Array[]) => Float32Array.from(tiles, (t, k) => z_offset_mm + cells[t][places[k]] * z_scale_mm)
    const at = this.header.setups.indexOf(setup)
    const hollows = this.hollows[at]
    return { top: read(this.row_of(step)), under: read(this.unders[at]), hollow: hollows && { floor: read(hollows.floor), roof: read(hollows.roof) }, apart_mm: run.long_mm / n }
  }

  private along(cells: Uint16Array[], setup: ViewSetup, y_mm: number): Float32Array {
    const { nx, ny, tile, tiles_x, cell_mm, z_offset_mm, z_scale_mm } = this.header
    const j = Math.max(0, Math.min(ny - 1, Math.floor((y_mm - setup.y0_mm) / cell_mm)))
    const out = new Float32Array(nx)
    for (let i = 0; i < nx; i++) {
      const t = Math.floor(j / tile) * tiles_x + Math.floor(i / tile)
      out[i] = z_offset_mm + cells[t][(j % tile) * tile + (i % tile)] * z_scale_mm
    }
    return out
  }

  height_at(step: number, x_mm: number, y_mm: number): number | null {
    const { nx, cell_mm } = this.header
    const i = Math.floor((x_mm - this.setup_at(step).x0_mm) / cell_mm)
    return i < 0 || i >= nx ? null : this.row(step, y_mm)[i]
  }
}
