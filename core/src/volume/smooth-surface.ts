import { creasesOf } from './creases'
import type { LabelledMesh } from './labelled'

/** The two turns of a round: in, and a little further out, so that what is larger than the roughness keeps its size (Taubin, 1995). */
const IN = 0.5
const OUT = -0.53

/** How much a neighbour counts: all alike, or by the angles across the side, which does not slide what is flat (Pinkall & Polthier, 1993). */
export type Weights = 'even' | 'cotangent'

/** Positions of a mesh smoothed by so many rounds. Creases are smoothed along themselves, their corners stay. */
export function smoothedSurface(mesh: LabelledMesh, rounds: number, angle: number, weights: Weights): Float64Array {
  const { indices } = mesh
  const { along } = creasesOf(mesh, angle)
  let p = mesh.positions.slice()
  const vertices = p.length / 3
  const sum = new Float64Array(p.length)
  const weight = new Float64Array(vertices)
  for (let turn = 0; turn < 2 * rounds; turn++) {
    sum.fill(0)
    weight.fill(0)
    for (let i = 0; i < indices.length; i++) {
      const [v, w, o] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1], indices[i % 3 === 0 ? i + 2 : i - 1]]
      const by = weights === 'even' ? 1 : cotangent(p, o, v, w)
      for (let k = 0; k < 3; k++) {
        sum[3 * v + k] += by * p[3 * w + k]
        sum[3 * w + k] += by * p[3 * v + k]
      }
      weight[v] += by
      weight[w] += by
    }
    const step = turn % 2 === 0 ? IN : OUT
    const now = p.slice()
    for (let v = 0; v < vertices; v++) {
      const [l, r] = [along[2 * v], along[2 * v + 1]]
      if (l === v || weight[v] === 0) continue
      for (let k = 0; k < 3; k++) {
        const mean = l >= 0 ? (p[3 * l + k] + p[3 * r + k]) / 2 : sum[3 * v + k] / weight[v]
        now[3 * v + k] = p[3 * v + k] + step * (mean - p[3 * v + k])
      }
    }
    p = now
  }
  return p
}

/** The cotangent of the angle at `o`, held off what makes triangles turn over. */
function cotangent(p: Float64Array, o: number, v: number, w: number): number {
  let [dot, a, b] = [0, 0, 0]
  for (let k = 0; k < 3; k++) {
    const [x, y] = [p[3 * v + k] - p[3 * o + k], p[3 * w + k] - p[3 * o + k]]
    dot += x * y
    a += x * x
    b += y * y
  }
  const sine = Math.sqrt(Math.max(0, a * b - dot * dot))
  return sine > 0 ? Math.min(20, Math.max(0.02, dot / sine)) : 0.02
}
