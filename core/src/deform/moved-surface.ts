import { latticeFor } from '../outline/lattice'
import { mapAttributes } from '../solid/attributes'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, solidBounds } from '../solid/solid'

/** A solid whose vertices have gone to `ends` (mm), on a lattice for where they are now; its normals are turned by the map's derivatives there, nine numbers a vertex by rows. */
export function movedSurface(solid: Solid, ends: Float64Array, derivatives: Float64Array): Solid {
  const p = solid.positions
  const lattice = Math.max(solid.lattice, latticeFor(solidBounds(ends).reduce((most, at) => Math.max(most, Math.abs(at)), 0)))
  // what the map leaves where it is stays as it is, bit for bit
  const positions = new Float64Array(ends.length)
  for (let i = 0; i < ends.length; i++) {
    const at = ends[i]
    positions[i] = at === p[i] && lattice === solid.lattice && Number.isInteger(at / lattice) ? at : Math.round(at / lattice) * lattice + 0
  }
  const normal = turned(normalsOf(solid), solid.indices, derivatives)
  return {
    ...solid,
    positions,
    lattice,
    attributes: { ...mapAttributes(solid.attributes, (name, array) => (name === 'normal' ? undefined : array)), normal, uv: uvsOf(solid) },
  }
}

/** Normals at corners through the cofactors of the Jacobians of their vertices. */
function turned(normals: Float32Array, indices: Uint32Array, jacobian: Float64Array): Float32Array {
  const cofactors = cofactorsOf(jacobian)
  const out = new Float32Array(normals.length)
  for (let i = 0; i < indices.length; i++) {
    const o = 9 * indices[i]
    const x = normals[3 * i]
    const y = normals[3 * i + 1]
    const z = normals[3 * i + 2]
    const nx = cofactors[o] * x + cofactors[o + 1] * y + cofactors[o + 2] * z
    const ny = cofactors[o + 3] * x + cofactors[o + 4] * y + cofactors[o + 5] * z
    const nz = cofactors[o + 6] * x + cofactors[o + 7] * y + cofactors[o + 8] * z
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1
    out[3 * i] = nx / size
    out[3 * i + 1] = ny / size
    out[3 * i + 2] = nz / size
  }
  return out
}

/** The determinant of a matrix of nine numbers by rows, from `o` on. */
export const determinantAt = (m: Float64Array, o: number): number =>
  m[o] * (m[o + 4] * m[o + 8] - m[o + 5] * m[o + 7]) -
  m[o + 1] * (m[o + 3] * m[o + 8] - m[o + 5] * m[o + 6]) +
  m[o + 2] * (m[o + 3] * m[o + 7] - m[o + 4] * m[o + 6])

/** Of matrices, nine numbers each by rows, their cofactors. */
function cofactorsOf(jacobian: Float64Array): Float64Array {
  const out = new Float64Array(jacobian.length)
  for (let o = 0; o < out.length; o += 9) {
    const a = jacobian[o]
    const b = jacobian[o + 1]
    const c = jacobian[o + 2]
    const d = jacobian[o + 3]
    const e = jacobian[o + 4]
    const f = jacobian[o + 5]
    const g = jacobian[o + 6]
    const h = jacobian[o + 7]
    const k = jacobian[o + 8]
    out[o] = e * k - f * h
    out[o + 1] = f * g - d * k
    out[o + 2] = d * h - e * g
    out[o + 3] = c * h - b * k
    out[o + 4] = a * k - c * g
    out[o + 5] = b * g - a * h
    out[o + 6] = b * f - c * e
    out[o + 7] = c * d - a * f
    out[o + 8] = a * e - b * d
  }
  return out
}
