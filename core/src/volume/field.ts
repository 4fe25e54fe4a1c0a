/** Samples along a tile's side; a tile holds 8³ of them, x first. */
export const SIDE = 8
export const TILE = SIDE ** 3

/** What stands in the directory where there is no tile: all of it lies outside, or inside. */
export const OUTSIDE = -1
export const INSIDE = -2

/** Directories of more tiles than this are not made. */
export const MOST_TILES = 2 ** 26

/** [minX, minY, minZ, maxX, maxY, maxZ], mm. */
export type Box = readonly [number, number, number, number, number, number]

/**
 * Signed distances on a sparse grid: samples stand on multiples of `voxel`, eight a side make a tile, and only tiles near the surface are
 * there. Distances are mm, negative inside, exact up to `band` voxels and ±band·voxel beyond. `triangle` is for each sample the source
 * triangle that is nearest, −1 beyond the band.
 */
export class SparseField {
  /** place of sample (0, 0, 0), mm; on multiples of a tile, so that fields of one voxel size share tiles */
  readonly origin: readonly [number, number, number]
  /** tiles along x, y, z */
  readonly tiles: readonly [number, number, number]
  /** per tile of the box: its slot, OUTSIDE or INSIDE */
  readonly directory: Int32Array
  /** number of tiles that are there */
  count = 0
  /** per slot where its tile stands in the directory */
  home = new Int32Array(0)
  distance = new Float32Array(0)
  triangle = new Int32Array(0)
  /** the triangles are those near to where the surface came from, not the nearest ones */
  borrowed = false

  /** Throws RangeError when the box holds too many tiles. */
  constructor(
    /** what it was made about, mm */
    readonly box: Box,
    readonly voxel: number,
    readonly band = 3,
  ) {
    const low = (k: number) => Math.floor((box[k] / voxel - band - 2) / SIDE) * SIDE * voxel
    this.origin = [low(0), low(1), low(2)]
    const along = (k: number) => Math.ceil(((box[k + 3] - this.origin[k]) / voxel + band + 3) / SIDE)
    this.tiles = [along(0), along(1), along(2)]
    const all = this.tiles[0] * this.tiles[1] * this.tiles[2]
    if (!(all <= MOST_TILES)) throw new RangeError('too many tiles')
    this.directory = new Int32Array(all).fill(OUTSIDE)
  }

  /** Makes room for so many tiles. */
  reserve(tiles: number): void {
    if (tiles <= this.home.length) return
    const grown = <T extends Float32Array | Int32Array>(old: T, made: T): T => {
      made.set(old)
      return made
    }
    this.distance = grown(this.distance, new Float32Array(tiles * TILE))
    this.triangle = grown(this.triangle, new Int32Array(tiles * TILE))
    this.home = grown(this.home, new Int32Array(tiles))
  }

  /** The slot of a tile by its place in the directory; where there is none it is made, far from everything (`far`, a distance or its square). */
  slot(at: number, far: number): number {
    const had = this.directory[at]
    if (had >= 0) return had
    if (this.count === this.home.length) this.reserve(Math.max(64, Math.ceil(this.count * 1.6)))
    const made = this.count++
    this.directory[at] = made
    this.home[made] = at
    this.distance.fill(far, made * TILE, made * TILE + TILE)
    this.triangle.fill(-1, made * TILE, made * TILE + TILE)
    return made
  }

  /** Index of a sample into `distance`, −1 where there is no tile. The sample must lie in the box. */
  indexOf(x: number, y: number, z: number): number {
    const slot = this.directory[(x >> 3) + this.tiles[0] * ((y >> 3) + this.tiles[1] * (z >> 3))]
    return slot < 0 ? -1 : slot * TILE + ((x & 7) | ((y & 7) << 3) | ((z & 7) << 6))
  }

  /** The distance at a sample; where there is no tile, and outside of the box, it is as far as the band is wide. */
  distanceAt(x: number, y: number, z: number): number {
    const [tx, ty, tz] = this.tiles
    const far = this.band * this.voxel
    if (x < 0 || y < 0 || z < 0 || x >= SIDE * tx || y >= SIDE * ty || z >= SIDE * tz) return far
    const at = this.indexOf(x, y, z)
    if (at >= 0) return this.distance[at]
    return this.directory[(x >> 3) + tx * ((y >> 3) + ty * (z >> 3))] === INSIDE ? -far : far
  }

  /** First sample of a slot's tile. */
  cornerOf(slot: number): [number, number, number] {
    const at = this.home[slot]
    const [tx, ty] = this.tiles
    return [(at % tx) * SIDE, (Math.floor(at / tx) % ty) * SIDE, Math.floor(at / (tx * ty)) * SIDE]
  }

  /**
   * A tile's samples with one more on the high sides, 9³ of them, or with one more all round, 10³ (`low` 1), x first. Where there are no
   * tiles it is as far as the band is wide.
   */
  block(slot: number, out: Float32Array, low: 0 | 1): void {
    const at = this.home[slot]
    const [tx, ty, tz] = this.tiles
    const [x0, y0, z0] = [at % tx, Math.floor(at / tx) % ty, Math.floor(at / (tx * ty))]
    const far = this.band * this.voxel
    const wide = 9 + low
    for (let dz = -low; dz < 2; dz++)
      for (let dy = -low; dy < 2; dy++)
        for (let dx = -low; dx < 2; dx++) {
          const [x, y, z] = [x0 + dx, y0 + dy, z0 + dz]
          const within = x >= 0 && y >= 0 && z >= 0 && x < tx && y < ty && z < tz
          const s = within ? this.directory[x + tx * (y + ty * z)] : OUTSIDE
          const base = s * TILE
          const otherwise = s === INSIDE ? -far : far
          const [i0, i1] = span(dx, low)
          const [j0, j1] = span(dy, low)
          const [k0, k1] = span(dz, low)
          for (let k = k0; k < k1; k++)
            for (let j = j0; j < j1; j++) {
              let to = i0 + 8 * dx + low + wide * (j + 8 * dy + low + wide * (k + 8 * dz + low))
              for (let i = i0; i < i1; i++) out[to++] = s >= 0 ? this.distance[base + (i | (j << 3) | (k << 6))] : otherwise
            }
        }
  }

  /** The same tiles with other distances. */
  withDistances(distance: Float32Array): SparseField {
    return Object.assign(Object.create(SparseField.prototype) as SparseField, this, { distance })
  }
}

/** Samples along one axis that a block takes of a neighbour so many tiles off. */
const span = (d: number, low: number): [number, number] => (d < 0 ? [8 - low, 8] : d > 0 ? [0, 1] : [0, 8])
