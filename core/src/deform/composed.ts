import { longer } from '../solid/vertex-table'
import { mapOf, type Deformation } from './deformation'
import type { SpaceMap } from './space-map'

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
  readonly maps: readonly SpaceMap[]
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

  constructor(stages: readonly Stage[]) {
    this.stages = stages.map(({ by, units, weights, strength }) => ({
      maps: by.map(mapOf),
      strength,
      ...(units && by.length > 1 ? { units: units.slice() } : {}),
      ...(weights ? { weights: weights.slice() } : {}),
    }))
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

  /** Maps the point at `o` that is off vertex v by (dx, dy, dz), mm: weights are carried on from there. */
  near(p: Float64Array, o: number, v: number, dx: number, dy: number, dz: number): void {
    for (const { maps, strength, units, weights, gradients } of this.stages) {
      let share = strength
      if (weights) share *= weights[v] + (gradients ? gradients[3 * v] * dx + gradients[3 * v + 1] * dy + gradients[3 * v + 2] * dz : 0)
      this.step(maps[units ? units[v] : 0], share, p, o)
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

  /** Works out how the weights change over the surface, before `near` is asked away from vertices. */
  measureGradients(positions: Float64Array, indices: Uint32Array): void {
    for (const stage of this.stages) if (stage.weights) stage.gradients = gradientsOf(stage.weights, positions, indices)
  }
}

/** The gradient along the surface of what is linear on each triangle, averaged over those about each vertex by their areas. */
function gradientsOf(values: Float32Array, p: Float64Array, indices: Uint32Array): Float64Array {
  const out = new Float64Array(p.length)
  const area = new Float64Array(p.length / 3)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]]
    const u = [p[3 * b] - p[3 * a], p[3 * b + 1] - p[3 * a + 1], p[3 * b + 2] - p[3 * a + 2]]
    const v = [p[3 * c] - p[3 * a], p[3 * c + 1] - p[3 * a + 1], p[3 * c + 2] - p[3 * a + 2]]
    const [uu, uv, vv] = [dot(u, u), dot(u, v), dot(v, v)]
    const size = uu * vv - uv * uv
    if (!(size > 1e-24)) continue
    const [du, dv] = [values[b] - values[a], values[c] - values[a]]
    const [s, r] = [(du * vv - dv * uv) / size, (dv * uu - du * uv) / size]
    const w = Math.sqrt(size)
    for (const n of [a, b, c]) {
      area[n] += w
      for (let k = 0; k < 3; k++) out[3 * n + k] += w * (s * u[k] + r * v[k])
    }
  }
  for (let n = 0; n < area.length; n++) if (area[n] > 0) for (let k = 0; k < 3; k++) out[3 * n + k] /= area[n]
  return out
}

const dot = (a: readonly number[], b: readonly number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

function roomFor<T extends Int32Array | Float32Array>(array: T, n: number): T {
  return n < array.length ? array : (longer(array, 2 * n + 16) as T)
}
