import type { Triangles } from '../solid/from-triangles'
import type { CellVertex } from './dual-mesh'
import type { SparseField } from './field'
import { toTriangle } from '../solid/nearest'
import { EDGES, PATCHES } from './patches'

/** Directions in which the planes of a cell say less than this share of what they say at most are left alone. */
const FAINT = 0.05

/** Vertices keep off the sides of their cells by this share of a voxel, or a step of the lattice, so that none comes to lie on another. */
const INSET = 1e-3

/**
 * Puts a cell's vertex where the planes of the surface at its crossings meet best (dual contouring; Ju, Losasso, Schaefer & Warren, 2002),
 * held to its cell, so that edges and corners stay sharp. Planes are those of the source triangles nearest to the ends of each crossed grid
 * edge, cut with that edge: exact, not taken from the field.
 */
export function sharpPlacer(
  field: SparseField,
  { positions: P, indices: idx }: Triangles,
  lattice: number,
): (positions: Float64Array, vertex: number, at: CellVertex) => void {
  const h = field.voxel
  const origin = field.origin
  const inset = Math.max(INSET, lattice / h)
  const n = new Float64Array(36)
  const c = new Float64Array(36)
  const matrix = new Float64Array(6)
  const right = new Float64Array(3)
  const eigen = new Float64Array(12)
  const point = new Float64Array(3)
  const normal = new Float64Array(3)
  const normalOf = (t: number): number => {
    const [a, b, d] = [3 * idx[3 * t], 3 * idx[3 * t + 1], 3 * idx[3 * t + 2]]
    const ex = P[b] - P[a]
    const ey = P[b + 1] - P[a + 1]
    const ez = P[b + 2] - P[a + 2]
    const fx = P[d] - P[a]
    const fy = P[d + 1] - P[a + 1]
    const fz = P[d + 2] - P[a + 2]
    normal[0] = ey * fz - ez * fy
    normal[1] = ez * fx - ex * fz
    normal[2] = ex * fy - ey * fx
    const length = Math.sqrt(normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2])
    if (length === 0) return -1
    for (let k = 0; k < 3; k++) normal[k] /= length
    return a
  }
  return (positions, vertex, { x, y, z, values, row, patch }) => {
    let count = 0
    let [mx, my, mz] = [0, 0, 0]
    for (let e = 0; e < 12; e++) {
      if (PATCHES[row + e] !== patch) continue
      const [low, high] = EDGES[e]
      const axis = e >> 2
      const [i, j, k] = [x + (low & 1), y + ((low >> 1) & 1), z + (low >> 2)]
      point[0] = origin[0] + i * h
      point[1] = origin[1] + j * h
      point[2] = origin[2] + k * h
      const base = point[axis]
      const first = triangleAt(field, i, j, k)
      const second = triangleAt(field, i + (axis === 0 ? 1 : 0), j + (axis === 1 ? 1 : 0), k + (axis === 2 ? 1 : 0))
      let share = values[low] / (values[low] - values[high])
      let [nx, ny, nz] = [0, 0, 0]
      for (let round = 0; round < 3; round++) {
        point[axis] = base + share * h
        let [best, least] = [-1, Infinity]
        for (let which = 0; which < 2; which++) {
          const t = which === 0 ? first : second
          if (t < 0 || (which === 1 && t === first)) continue
          const d = toTriangle(point[0], point[1], point[2], P, 3 * idx[3 * t], 3 * idx[3 * t + 1], 3 * idx[3 * t + 2])
          if (d < least) [best, least] = [t, d]
        }
        if (best < 0) break
        const a = normalOf(best)
        if (a < 0) break
        ;[nx, ny, nz] = normal
        if (Math.abs(normal[axis]) > 1e-6) {
          point[axis] = base
          const off = (P[a] - point[0]) * nx + (P[a + 1] - point[1]) * ny + (P[a + 2] - point[2]) * nz
          const s = off / (normal[axis] * h)
          if (s >= 0 && s <= 1) {
            if (Math.abs(s - share) < 1e-9) break
            share = s
          }
        }
      }
      point[axis] = base + share * h
      n[3 * count] = nx
      n[3 * count + 1] = ny
      n[3 * count + 2] = nz
      c[3 * count] = point[0]
      c[3 * count + 1] = point[1]
      c[3 * count + 2] = point[2]
      mx += point[0]
      my += point[1]
      mz += point[2]
      count++
    }
    mx /= count
    my /= count
    mz /= count
    matrix.fill(0)
    right.fill(0)
    for (let q = 0; q < 3 * count; q += 3) {
      const d = n[q] * (c[q] - mx) + n[q + 1] * (c[q + 1] - my) + n[q + 2] * (c[q + 2] - mz)
      matrix[0] += n[q] * n[q]
      matrix[1] += n[q] * n[q + 1]
      matrix[2] += n[q] * n[q + 2]
      matrix[3] += n[q + 1] * n[q + 1]
      matrix[4] += n[q + 1] * n[q + 2]
      matrix[5] += n[q + 2] * n[q + 2]
      right[0] += n[q] * d
      right[1] += n[q + 1] * d
      right[2] += n[q + 2] * d
    }
    eigenOf(matrix, eigen)
    const most = Math.max(eigen[0], eigen[1], eigen[2])
    let [px, py, pz] = [mx, my, mz]
    for (let i = 0; i < 3; i++) {
      if (!(most > 0 && eigen[i] > FAINT * most)) continue
      const [vx, vy, vz] = [eigen[3 + i], eigen[6 + i], eigen[9 + i]]
      const s = (vx * right[0] + vy * right[1] + vz * right[2]) / eigen[i]
      px += s * vx
      py += s * vy
      pz += s * vz
    }
    const held = (v: number, k: number, cell: number) => Math.min(origin[k] + (cell + 1 - inset) * h, Math.max(origin[k] + (cell + inset) * h, v))
    positions[3 * vertex] = held(px, 0, x)
    positions[3 * vertex + 1] = held(py, 1, y)
    positions[3 * vertex + 2] = held(pz, 2, z)
  }
}

function triangleAt(field: SparseField, x: number, y: number, z: number): number {
  const p = field.indexOf(x, y, z)
  return p < 0 ? -1 : field.triangle[p]
}

/** Eigenvalues (3) and vectors (3 × 3, a column each) of a symmetric matrix [xx, xy, xz, yy, yz, zz] by Jacobi's turns. */
function eigenOf(m: Float64Array, out: Float64Array): void {
  let [xx, xy, xz, yy, yz, zz] = m
  const v = out
  v[3] = v[7] = v[11] = 1
  v[4] = v[5] = v[6] = v[8] = v[9] = v[10] = 0
  for (let sweep = 0; sweep < 8; sweep++) {
    if (Math.abs(xy) + Math.abs(xz) + Math.abs(yz) < 1e-14) break
    if (Math.abs(xy) > 1e-15) {
      const [c, s] = turn(xx, yy, xy)
      const [a, b] = [xz, yz]
      const t = s / c
      xx -= t * xy
      yy += t * xy
      xy = 0
      xz = c * a - s * b
      yz = s * a + c * b
      turnColumns(v, 0, 1, c, s)
    }
    if (Math.abs(xz) > 1e-15) {
      const [c, s] = turn(xx, zz, xz)
      const [a, b] = [xy, yz]
      const t = s / c
      xx -= t * xz
      zz += t * xz
      xz = 0
      xy = c * a - s * b
      yz = s * a + c * b
      turnColumns(v, 0, 2, c, s)
    }
    if (Math.abs(yz) > 1e-15) {
      const [c, s] = turn(yy, zz, yz)
      const [a, b] = [xy, xz]
      const t = s / c
      yy -= t * yz
      zz += t * yz
      yz = 0
      xy = c * a - s * b
      xz = s * a + c * b
      turnColumns(v, 1, 2, c, s)
    }
  }
  v[0] = xx
  v[1] = yy
  v[2] = zz
}

function turn(pp: number, qq: number, pq: number): [number, number] {
  const theta = (qq - pp) / (2 * pq)
  const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
  const c = 1 / Math.sqrt(t * t + 1)
  return [c, t * c]
}

function turnColumns(v: Float64Array, p: number, q: number, c: number, s: number): void {
  for (let r = 3; r < 12; r += 3) {
    const a = v[r + p]
    const b = v[r + q]
    v[r + p] = c * a - s * b
    v[r + q] = s * a + c * b
  }
}
