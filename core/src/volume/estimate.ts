import type { Triangles } from '../solid/from-triangles'
import { solidBounds } from '../solid/solid'
import type { Side } from './beyond'
import { MOST_TILES } from './field'
import { farWork } from './splat'

/** What a remesh will make and take. */
export interface Estimate {
  readonly triangles: number
  /** bytes at the height of it */
  readonly bytes: number
  readonly seconds: number
  /** whether it can be done at all, and the smallest voxel with which it could, mm */
  readonly possible: boolean
  readonly smallest: number
}

/** More than this is not begun. */
const MOST_TRIANGLES = 12_000_000
const MOST_BYTES = 2 * 1024 ** 3

/** Measured over words of several faces, on one of the two cores this was built on: seconds per sample of the band, and per triangle that comes out. */
const PER_SAMPLE = 2.4e-7
const PER_TRIANGLE = { smooth: 3e-6, sharp: 4.5e-6 }
/** Per triangle that is offered to a sample farther from the surface than the band usually goes. */
const PER_FAR = 3.5e-8
/** Voxels about the surface that the band usually goes. */
export const BAND = 3
/** Voxels about the surface that meshing asks for: no corner of a cell that the surface passes is farther from it. */
export const MESHED = 2
/** And per triangle of the piece itself, and in any case. */
const PER_SOURCE = 1.5e-5
const AT_LEAST = 0.2
/** Bytes of a sample in the field and in meshing, and of a triangle that comes out. */
const SAMPLE_BYTES = 8 + 8
const TRIANGLE_BYTES = 220

/**
 * What a remesh of triangles at a voxel size comes to. Crossed grid edges are counted by the surface's shadows along the three axes, two
 * triangles each; tiles by the band about the surface, so many voxels, which may be needed on one `side` alone. Triangles are right to a few per cent as long as nothing is finer than the voxels.
 */
export function estimate(mesh: Triangles, voxel: number, way: 'smooth' | 'sharp', band = BAND, side?: Side): Estimate {
  const shadow = shadowsOf(mesh)
  const box = solidBounds(mesh.positions)
  const at = (h: number) => {
    const triangles = (2 * shadow) / (h * h)
    // the band is a length where it is wider than usual
    const wide = band > BAND ? (band * voxel) / h : BAND
    const tiles = tilesAt(shadow, box, h, wide)
    const directory = [0, 1, 2].reduce((all, k) => all * Math.ceil((box[k + 3] - box[k]) / h / 8 + 2), 1)
    const bytes = tiles * 512 * SAMPLE_BYTES + triangles * TRIANGLE_BYTES + 6 * directory
    return { triangles, tiles, bytes, possible: triangles <= MOST_TRIANGLES && bytes <= MOST_BYTES && directory <= MOST_TILES }
  }
  const { triangles, tiles, bytes, possible } = at(voxel)
  let far = 0
  if (band > BAND) {
    const { offered, lookedFor } = farWork(mesh.positions, mesh.indices, band, voxel)
    // triangles are offered on both sides, samples look for theirs on one where that is enough
    far = (band - BAND) * Math.min(2 * offered, (side ? 1 : 2) * lookedFor)
  }
  let smallest = voxel
  for (let round = 0; round < 400 && !at(smallest).possible; round++) smallest *= 1.05
  return {
    triangles,
    bytes,
    seconds: tiles * 512 * PER_SAMPLE + far * PER_FAR + triangles * PER_TRIANGLE[way] + (mesh.indices.length / 3) * PER_SOURCE + AT_LEAST,
    possible,
    smallest,
  }
}

/** Tiles that a surface of such shadows has within its band: a slab as thick as a tile and the band, in tiles, no more than there are in the box. */
function tilesAt(shadow: number, box: readonly number[], h: number, band: number): number {
  const side = 8 * h
  const slab = (shadow / (side * side)) * (1 + (2 * band) / 8)
  const all = [0, 1, 2].reduce((product, k) => product * ((box[k + 3] - box[k] + 2 * (band - BAND) * h) / side + 1.8), 1)
  return Math.min(slab, all)
}

/** The sum of a surface's shadows along x, y and z, both sides, mm². */
export function shadowsOf({ positions: p, indices }: Triangles): number {
  let sum = 0
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    sum += (Math.abs(uy * vz - uz * vy) + Math.abs(uz * vx - ux * vz) + Math.abs(ux * vy - uy * vx)) / 2
  }
  return sum
}
