import { neighboursOf, nextOf, previousOf, type Surface, vertexNormals } from './surface'

const MOST_ROUNDS = 400
/** Of the first miss, what may be left: a thousandth of what noise there was. */
const ENOUGH = 1e-3

/**
 * A copy of a surface's positions smoothed over a length `sigma`, mm, on the same triangles: one implicit step of diffusion,
 * (M + σ²/2 · L) x = M x₀ with cotangent weights (Desbrun, Meyer, Schröder & Barr, "Implicit fairing of irregular meshes", 1999), solved by
 * conjugate gradients with the diagonal before them, for x, y and z at once. The border stays where it is. `enough`: what share of the first
 * miss may be left.
 */
export function faired(surface: Surface, sigma: number, enough = ENOUGH): Float64Array {
  const { positions, indices, opposite } = surface
  const n = positions.length / 3
  const mass = new Float64Array(n)
  const edge = new Float64Array(indices.length)
  const still = new Uint8Array(n)
  for (let i = 0; i < indices.length; i += 3) {
    let area = 0
    for (let k = 0; k < 3; k++) {
      // the angle at a corner weighs the side across from it
      const h = i + k
      const [a, b, c] = [3 * indices[h], 3 * indices[nextOf(h)], 3 * indices[previousOf(h)]]
      let [d, u, v] = [0, 0, 0]
      for (let j = 0; j < 3; j++) {
        const [x, y] = [positions[b + j] - positions[a + j], positions[c + j] - positions[a + j]]
        d += x * y
        u += x * x
        v += y * y
      }
      const sine = Math.sqrt(Math.max(0, u * v - d * d))
      if (k === 0) area = sine / 2
      // obtuse corners weigh nothing, so that no weight is negative
      edge[nextOf(h)] = sine > 0 ? (Math.max(0, d / sine) / 2) * ((sigma * sigma) / 2) : 0
      if (opposite[h] < 0) still[indices[h]] = still[indices[nextOf(h)]] = 1
    }
    for (let k = 0; k < 3; k++) mass[indices[i + k]] += area / 3
  }
  // the matrix's rows: neighbours with their weights, those from both sides of a side in one
  const { start, list } = neighboursOf(surface)
  const weight = new Float64Array(list.length)
  const diagonal = mass.slice()
  for (let h = 0; h < indices.length; h++) {
    const w = edge[h]
    if (!(w > 0)) continue
    const [a, b] = [indices[h], indices[nextOf(h)]]
    for (let i = start[a]; i < start[a + 1]; i++) if (list[i] === b) weight[i] += w
    for (let i = start[b]; i < start[b + 1]; i++) if (list[i] === a) weight[i] += w
    diagonal[a] += w
    diagonal[b] += w
  }
  /** one over the diagonal; nothing where the border stays, which takes its rows out */
  const inverse = Float64Array.from({ length: n }, (_, v) => (still[v] || diagonal[v] === 0 ? 0 : 1 / diagonal[v]))
  /** What the matrix makes of x; gives what that comes to along x. */
  const times = (x: Float64Array, out: Float64Array): number => {
    let along = 0
    for (let v = 0, o = 0; v < n; v++, o += 3) {
      if (still[v]) {
        out[o] = out[o + 1] = out[o + 2] = 0
        continue
      }
      const d = diagonal[v]
      let a = d * x[o]
      let b = d * x[o + 1]
      let c = d * x[o + 2]
      for (let i = start[v], end = start[v + 1]; i < end; i++) {
        const w = weight[i]
        const j = 3 * list[i]
        a -= w * x[j]
        b -= w * x[j + 1]
        c -= w * x[j + 2]
      }
      out[o] = a
      out[o + 1] = b
      out[o + 2] = c
      along += a * x[o] + b * x[o + 1] + c * x[o + 2]
    }
    return along
  }
  const x = positions.slice()
  const [r, p, q] = [new Float64Array(3 * n), new Float64Array(3 * n), new Float64Array(3 * n)]
  times(x, q)
  let square = 0
  for (let v = 0, o = 0; v < n; v++, o += 3) {
    if (still[v]) continue
    for (let k = o; k < o + 3; k++) {
      r[k] = mass[v] * x[k] - q[k]
      p[k] = r[k] * inverse[v]
      square += r[k] * p[k]
    }
  }
  const least = square * enough * enough
  for (let round = 0; round < MOST_ROUNDS && square > least && square > 0; round++) {
    const along = times(p, q)
    if (!(along > 0)) break
    const step = square / along
    let next = 0
    for (let v = 0, o = 0; v < n; v++, o += 3) {
      const by = inverse[v]
      const u = (r[o] -= step * q[o])
      const w = (r[o + 1] -= step * q[o + 1])
      const z = (r[o + 2] -= step * q[o + 2])
      x[o] += step * p[o]
      x[o + 1] += step * p[o + 1]
      x[o + 2] += step * p[o + 2]
      next += (u * u + w * w + z * z) * by
    }
    const more = next / square
    for (let v = 0, o = 0; v < n; v++, o += 3) {
      const by = inverse[v]
      p[o] = r[o] * by + more * p[o]
      p[o + 1] = r[o + 1] * by + more * p[o + 1]
      p[o + 2] = r[o + 2] * by + more * p[o + 2]
    }
    square = next
  }
  return x
}

/**
 * How rough a surface is: what the vertices stand out of their neighbours more than those do themselves, along the normal, in shares of the
 * mean side; the median of all. Next to nothing on smooth surfaces and between creases, about σ where positions are off by σ sides.
 */
export function roughness(surface: Surface): number {
  const { positions, indices } = surface
  const n = positions.length / 3
  const { start, list } = neighboursOf(surface)
  const normals = vertexNormals(positions, indices)
  const stands = new Float64Array(n)
  let sides = 0
  for (let v = 0; v < n; v++)
    for (let i = start[v]; i < start[v + 1]; i++) {
      const w = list[i]
      const [dx, dy, dz] = [positions[3 * v] - positions[3 * w], positions[3 * v + 1] - positions[3 * w + 1], positions[3 * v + 2] - positions[3 * w + 2]]
      stands[v] += (dx * normals[3 * v] + dy * normals[3 * v + 1] + dz * normals[3 * v + 2]) / (start[v + 1] - start[v])
      sides += Math.sqrt(dx * dx + dy * dy + dz * dz)
    }
  const off = Float64Array.from({ length: n }, (_, v) => {
    let mean = 0
    for (let i = start[v]; i < start[v + 1]; i++) mean += stands[list[i]] / (start[v + 1] - start[v])
    return Math.abs(stands[v] - mean)
  }).sort()
  return n === 0 || list.length === 0 ? 0 : off[n >> 1] / (sides / list.length)
}
