import { cornersAbout } from '../check/corners'
import { normalsOf, uvsOf } from '../solid/shading'
import { stoutTriangles } from '../solid/flip'
import { refineSolid } from '../solid/refine'
import { type Solid, vertexCount } from '../solid/solid'
import { longer } from '../solid/vertex-table'

/** A solid with sides of at most `edge` mm wherever it has a weight; its shape stays. Undefined where there would be more than `most` triangles. */
export function finerForDisplacing(solid: Solid, edge: number, most: number): Solid | undefined {
  const shaded: Solid = { ...solid, attributes: { ...solid.attributes, normal: normalsOf(solid), uv: uvsOf(solid) } }
  let weights: Float32Array | undefined = shaded.attributes.weight
  const long = edge * edge
  const fine = refineSolid(stoutTriangles(shaded), (p, a, b) => apart2(p, a, b) > long && (!weights || weights[a / 3] > 0 || weights[b / 3] > 0), {
    most,
    made(v, a, b) {
      if (!weights) return
      if (v >= weights.length) weights = longer(weights, 2 * v + 16)
      weights[v] = (weights[a] + weights[b]) / 2
    },
  })
  return fine && stoutTriangles(fine)
}

const apart2 = (p: Float64Array, a: number, b: number) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2

/** Unit normals at vertices: those of the triangles about each, weighted by their areas. */
export function vertexNormals({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>): Float64Array {
  const out = new Float64Array(p.length)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    for (const o of [a, b, c]) for (let k = 0; k < 3; k++) out[o + k] += n[k]
  }
  for (let o = 0; o < out.length; o += 3) {
    const size = Math.sqrt(out[o] ** 2 + out[o + 1] ** 2 + out[o + 2] ** 2)
    if (size > 0) for (let k = 0; k < 3; k++) out[o + k] /= size
  }
  return out
}

/** How far corner normals of one smooth surface may be apart at a vertex: cosine. */
const ONE_SURFACE = 0.995

/**
 * A fine solid with every vertex moved by `by` (mm, where it is at rest, 0 to 1 of it by its weight), along a direction of its own (x, y, z a vertex) or one for all; rounded to
 * the lattice. Shading stays smooth where it was smooth before, and creased where it was creased.
 */
export function displaced(fine: Solid, by: (v: number, p: Float64Array) => number, direction: readonly [number, number, number] | Float64Array): Solid {
  const { positions: p, lattice } = fine
  const weights = fine.attributes.weight
  const each = direction.length === p.length ? direction : undefined
  const positions = p.slice()
  for (let v = 0; v < vertexCount(fine); v++) {
    const share = weights ? weights[v] : 1
    const amount = share === 0 ? 0 : share * by(v, p)
    for (let k = 0; k < 3; k++) {
      const way = each ? each[3 * v + k] : direction[k]
      const at = p[3 * v + k] + amount * way
      positions[3 * v + k] = Math.round(at / lattice) * lattice + 0
    }
  }
  const moved: Solid = { ...fine, positions }
  return { ...moved, attributes: { ...moved.attributes, normal: smoothedAsBefore(moved, normalsOf(fine)), uv: uvsOf(fine) } }
}

/** Normals of a moved surface from its triangles, taken together about each vertex where their old ones were one surface. */
function smoothedAsBefore({ positions: p, indices }: Solid, old: Float32Array): Float32Array {
  const count = p.length / 3
  const flat = new Float64Array(indices.length)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    flat[t] = uy * vz - uz * vy
    flat[t + 1] = uz * vx - ux * vz
    flat[t + 2] = ux * vy - uy * vx
  }
  const { first: from, corners } = cornersAbout(indices, count)
  const out = new Float32Array(3 * indices.length)
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    let [x, y, z] = [0, 0, 0]
    for (let j = from[v]; j < from[v + 1]; j++) {
      const c = corners[j]
      if (old[3 * c] * old[3 * i] + old[3 * c + 1] * old[3 * i + 1] + old[3 * c + 2] * old[3 * i + 2] < ONE_SURFACE) continue
      const t = 3 * Math.floor(c / 3)
      x += flat[t]
      y += flat[t + 1]
      z += flat[t + 2]
    }
    const size = Math.sqrt(x * x + y * y + z * z) || 1
    out[3 * i] = x / size
    out[3 * i + 1] = y / size
    out[3 * i + 2] = z / size
  }
  return out
}
