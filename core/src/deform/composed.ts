import { longer } from '../solid/vertex-table'
import { mapOf, type Deformation } from './deformation'
import { solidBounds } from '../solid/solid'
import type { SpaceMap } from './space-map'
import { unitBoxes } from './units'

/** One deformation of a piece. */
export interface Stage {
  /** one for all, or one for each unit (a letter, a word) */
  readonly by: readonly Deformation[]
  /** of each vertex at rest its unit, an index into `by`; all are of the first one when left out */
  readonly units?: Int32Array
  /** how much of it each vertex at rest takes, 0 to 1; all of it when left out */
  readonly weights?: Float32Array
  /** 0 to 1 for all */
  readonly strength: number
}

interface Worked {
  maps: readonly SpaceMap[]
  readonly strength: number
  units?: Int32Array
  weights?: Float32Array
  /** x, y, z a vertex: how the weights change over the surface */
  gradients?: Float64Array
}

/**
 * Deformations one after another as one map of points that lie on a surface at rest. What goes by vertices (units, weights) is held for those of
 * the surface, also for those it gets when it is refined.
 */
export class Composed {
  private readonly stages: Worked[]
  private readonly before = new Float64Array(3)
  private readonly derivative = new Float64Array(9)

  /** `maps`: of each stage its maps, those of another one of the same stages; made when left out. */
  constructor(
    private readonly given: readonly Stage[],
    maps?: readonly (readonly SpaceMap[])[],
  ) {
    this.stages = given.map(({ by, units, weights, strength }, i) => ({
      maps: maps ? maps[i] : by.map((one) => mapOf(one)),
      strength,
      ...(units && by.length > 1 ? { units: units.slice() } : {}),
      ...(weights ? { weights: weights.slice() } : {}),
    }))
  }

  get maps(): readonly (readonly SpaceMap[])[] {
    return this.stages.map(({ maps }) => maps)
  }

  /** Whether some vertices take more of it than others. */
  get isWeighted(): boolean {
    return this.stages.some(({ weights }) => weights !== undefined)
  }

  /** A vertex between two others, midway. */
  addMiddle(n: number, a: number, b: number): void {
    for (const stage of this.stages) {
      if (stage.units) {
        stage.units = roomFor(stage.units, n)
        stage.units[n] = stage.units[a]
      }
      if (stage.weights) {
        stage.weights = roomFor(stage.weights, n)
        stage.weights[n] = (stage.weights[a] + stage.weights[b]) / 2
      }
    }
  }

  /** Maps the point at `o` that lies a share `f` of the way from vertex a to vertex b. */
  between(p: Float64Array, o: number, a: number, b: number, f: number): void {
    for (const { maps, strength, units, weights } of this.stages) {
      const share = weights ? strength * (weights[a] + f * (weights[b] - weights[a])) : strength
      this.step(maps[units ? units[a] : 0], share, p, o)
    }
  }

  /**
   * Maps all vertices of the piece, which lie at `p`, and multiplies the matrices in `j` (nine numbers by rows of each) from the left by the derivatives. Makes the maps anew: from
   * now on what begins or ends with the piece is asked on the side where that is.
   */
  place(p: Float64Array, j: Float64Array): void {
    for (const [i, stage] of this.stages.entries()) {
      const { by } = this.given[i]
      const boxes = stage.units ? unitBoxes(p, stage.units, by.length) : [solidBounds(p)]
      stage.maps = by.map((one, unit) => mapOf(one, boxes[unit]))
      this.derive(stage, p, j, 0)
    }
  }

  /** The same for further vertices, from `first` on: `p` has them only, `j` all. */
  placeFrom(first: number, p: Float64Array, j: Float64Array): void {
    for (const stage of this.stages) this.derive(stage, p, j, first)
  }

  private derive({ maps, strength, units, weights, gradients }: Worked, p: Float64Array, j: Float64Array, first: number): void {
    const { before, derivative } = this
    for (let o = 0, v = first, q = 9 * first; o < p.length; o += 3, v++, q += 9) {
      const map = maps[units ? units[v] : 0]
      const share = weights ? strength * weights[v] : strength
      if (share === 1 && !gradients) {
        map(p, o, j, q)
        continue
      }
      for (let k = 0; k < 3; k++) before[k] = p[o + k]
      for (let i = 0; i < 9; i++) derivative[i] = j[q + i]
      map(p, o, j, q)
      for (let i = 0; i < 9; i++) j[q + i] = derivative[i] + share * (j[q + i] - derivative[i])
      for (let k = 0; k < 3; k++) {
        const by = p[o + k] - before[k]
        if (gradients) for (let c = 0; c < 3; c++) j[q + 3 * k + c] += strength * by * gradients[3 * v + c]
        if (share !== 1) p[o + k] = share === 0 ? before[k] : before[k] + share * by
      }
    }
  }

  private step(map: SpaceMap, share: number, p: Float64Array, o: number): void {
    if (share === 0) return
    if (share === 1) {
      map(p, o)
      return
    }
    const { before } = this
    before[0] = p[o]
    before[1] = p[o + 1]
    before[2] = p[o + 2]
    map(p, o)
    for (let k = 0; k < 3; k++) p[o + k] = before[k] + share * (p[o + k] - before[k])
  }

  /** Works out how the weights change over the surface, before derivatives are asked for. */
  measureGradients(positions: Float64Array, indices: Uint32Array): void {
    for (const stage of this.stages) if (stage.weights) stage.gradients = gradientsOf(stage.weights, positions, indices)
  }
}

/** What of a direction in which the points about a vertex hardly spread is not believed: slivers tell nothing across their length. */
const DOUBT = 0.002

/**
 * How values change along the surface at each vertex: the gradient that fits the differences to the vertices beside it best (least squares, directions by
 * themselves and not by their length).
 */
function gradientsOf(values: Float32Array, p: Float64Array, indices: Uint32Array): Float64Array {
  const count = p.length / 3
  /** xx, xy, xz, yy, yz, zz, and the three sums on the right side, of each vertex */
  const sums = new Float64Array(9 * count)
  for (let i = 0; i < indices.length; i++) {
    const a = indices[i]
    const b = indices[i % 3 === 2 ? i - 2 : i + 1]
    const x = p[3 * b] - p[3 * a]
    const y = p[3 * b + 1] - p[3 * a + 1]
    const z = p[3 * b + 2] - p[3 * a + 2]
    const square = x * x + y * y + z * z
    if (square === 0) continue
    const d = (values[b] - values[a]) / square
    for (const v of [a, b]) {
      const o = 9 * v
      sums[o] += (x * x) / square
      sums[o + 1] += (x * y) / square
      sums[o + 2] += (x * z) / square
      sums[o + 3] += (y * y) / square
      sums[o + 4] += (y * z) / square
      sums[o + 5] += (z * z) / square
      sums[o + 6] += x * d
      sums[o + 7] += y * d
      sums[o + 8] += z * d
    }
  }
  const out = new Float64Array(p.length)
  for (let v = 0; v < count; v++) {
    const o = 9 * v
    const doubt = DOUBT * (sums[o] + sums[o + 3] + sums[o + 5])
    if (doubt === 0) continue
    // Cramer's rule for the symmetric matrix
    const [xx, xy, xz] = [sums[o] + doubt, sums[o + 1], sums[o + 2]]
    const [yy, yz, zz] = [sums[o + 3] + doubt, sums[o + 4], sums[o + 5] + doubt]
    const [u, w, q] = [sums[o + 6], sums[o + 7], sums[o + 8]]
    const [c0, c1, c2] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy]
    const det = xx * c0 + xy * c1 + xz * c2
    out[3 * v] = (c0 * u + c1 * w + c2 * q) / det
    out[3 * v + 1] = (c1 * u + (xx * zz - xz * xz) * w + (xy * xz - xx * yz) * q) / det
    out[3 * v + 2] = (c2 * u + (xy * xz - xx * yz) * w + (xx * yy - xy * xy) * q) / det
  }
  return out
}

function roomFor<T extends Int32Array | Float32Array>(array: T, n: number): T {
  return n < array.length ? array : (longer(array, 2 * n + 16) as T)
}
