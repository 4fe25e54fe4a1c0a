import type { Triangles } from '../solid/from-triangles'
import { type SparseField, TILE } from './field'
import { nearest, toTriangle } from '../solid/nearest'

/** Weights of places on a mesh, 0 to 1, linear on its triangles; `weights` are those of its vertices. */
function weightAt({ positions: p, indices }: Triangles, weights: Float32Array, t: number): number {
  const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
  const [wa, wb, wc] = [weights[a], weights[b], weights[c]]
  if (wa === wb && wb === wc) return wa
  const [x, y, z] = nearest
  // areas over against each corner
  const area = (u: number, v: number) => {
    const [ux, uy, uz] = [p[3 * u] - x, p[3 * u + 1] - y, p[3 * u + 2] - z]
    const [vx, vy, vz] = [p[3 * v] - x, p[3 * v + 1] - y, p[3 * v + 2] - z]
    return Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx)
  }
  const [sa, sb, sc] = [area(b, c), area(c, a), area(a, b)]
  const sum = sa + sb + sc
  return sum > 0 ? (wa * sa + wb * sb + wc * sc) / sum : wa
}

/** Every sample that knows its nearest triangle, with its place and with `nearest` set to the point of the triangle that is nearest. */
function visit(field: SparseField, mesh: Triangles, then: (at: number, triangle: number, x: number, y: number, z: number) => void): void {
  const { origin, voxel } = field
  for (let s = 0; s < field.count; s++) {
    const [i0, j0, k0] = field.cornerOf(s)
    for (let o = 0; o < TILE; o++) {
      const at = s * TILE + o
      const t = field.triangle[at]
      if (t < 0) continue
      const x = origin[0] + (i0 + (o & 7)) * voxel
      const y = origin[1] + (j0 + ((o >> 3) & 7)) * voxel
      const z = origin[2] + (k0 + (o >> 6)) * voxel
      toTriangle(x, y, z, mesh.positions, 3 * mesh.indices[3 * t], 3 * mesh.indices[3 * t + 1], 3 * mesh.indices[3 * t + 2])
      then(at, t, x, y, z)
    }
  }
}

/**
 * A field whose surface is moved out along its normals by so many mm at each place of the mesh it was made of: `by` of the place, times the weight of
 * its vertices. What comes out are no distances any more where that changes from place to place, but the surface is right.
 */
export function displacedField(
  field: SparseField,
  mesh: Triangles,
  by: (x: number, y: number, z: number, triangle: number) => number,
  weights?: Float32Array,
): SparseField {
  const distance = field.distance.slice()
  visit(field, mesh, (at, t) => {
    const share = weights ? weightAt(mesh, weights, t) : 1
    if (share !== 0) distance[at] -= share * by(nearest[0], nearest[1], nearest[2], t)
  })
  return field.withDistances(distance)
}

/** Between two fields of one voxel size: as `after` where the mesh's weights are 1, as `before` where they are 0. */
export function blendedFields(before: SparseField, after: SparseField, mesh: Triangles, weights: Float32Array): SparseField {
  const { voxel } = after
  const off = [0, 1, 2].map((k) => Math.round((after.origin[k] - before.origin[k]) / voxel))
  const distance = after.distance.slice()
  visit(after, mesh, (at, t) => {
    const share = weightAt(mesh, weights, t)
    if (share === 1) return
    const s = at >> 9
    const [i0, j0, k0] = after.cornerOf(s)
    const o = at & (TILE - 1)
    const was = before.distanceAt(i0 + (o & 7) + off[0], j0 + ((o >> 3) & 7) + off[1], k0 + (o >> 6) + off[2])
    distance[at] = was + share * (distance[at] - was)
  })
  return after.withDistances(distance)
}
