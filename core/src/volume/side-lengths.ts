import { creasesOf } from './creases'
import type { LabelledMesh } from './labelled'
import { toTriangle } from '../solid/nearest'

/** The longest and the shortest side, mm, and how far the middle of one may stand off a bent surface. */
export interface SideBounds {
  readonly most: number
  readonly least: number
  readonly within: number
}

/**
 * How long the sides of triangles may be at each triangle of a mesh, by how much it bends there: √(6εr − 3ε²) at a radius r keeps a surface of equal
 * triangles within ε (Dunyach, Vanderhaeghe, Barthe & Botsch, "Adaptive remeshing for real-time mesh deformation", 2013). Bends are told by the angle across each
 * side over the heights of the triangles that meet in it; creases, which stay where they are, are none.
 */
export function lengthsByBend(mesh: LabelledMesh, creaseAngle: number, { most, least, within }: SideBounds): Float32Array {
  const { positions: p, indices } = mesh
  const { crease, across } = creasesOf(mesh, creaseAngle)
  const count = indices.length / 3
  const normal = new Float64Array(3 * count)
  const double = new Float64Array(count)
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    double[t] = Math.hypot(n[0], n[1], n[2])
    for (let k = 0; k < 3; k++) normal[3 * t + k] = n[k] / (double[t] || 1)
  }
  const out = new Float32Array(count).fill(most)
  for (let i = 0; i < indices.length; i++) {
    const [s, t] = [Math.floor(i / 3), Math.floor(across[i] / 3)]
    if (crease[i] || double[s] === 0 || double[t] === 0) continue
    const cosine = normal[3 * s] * normal[3 * t] + normal[3 * s + 1] * normal[3 * t + 1] + normal[3 * s + 2] * normal[3 * t + 2]
    const angle = Math.acos(Math.max(-1, Math.min(1, cosine)))
    const [a, b] = [3 * indices[i], 3 * indices[i % 3 === 2 ? i - 2 : i + 1]]
    const side = Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
    const radius = (double[s] + double[t]) / side / 2 / Math.max(angle, 1e-9)
    const length = Math.sqrt(Math.max(0, 6 * within * radius - 3 * within * within))
    out[s] = Math.min(out[s], Math.max(least, length))
  }
  return out
}

/** A 1 for each triangle that lies nearer than `reach` mm to one of some places. */
export function trianglesNear(
  { positions: p, indices }: Pick<LabelledMesh, 'positions' | 'indices'>,
  places: readonly (readonly number[])[],
  reach: number,
): Uint8Array {
  return Uint8Array.from({ length: indices.length / 3 }, (_, t) =>
    places.some(([x, y, z]) => toTriangle(x, y, z, p, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]) < reach * reach) ? 1 : 0,
  )
}

/** About how many triangles cover a mesh with sides so long: equal ones, whose area is √3/4 of their side squared. */
export function trianglesFor({ positions: p, indices }: Pick<LabelledMesh, 'positions' | 'indices'>, lengths: ArrayLike<number>): number {
  let sum = 0
  for (let t = 0; t < lengths.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    sum += (2 * Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx)) / (Math.sqrt(3) * lengths[t] ** 2)
  }
  return sum
}
