import { longer } from '../solid/vertex-table'
import type { DualMesh } from './dual-mesh'
import type { SparseField } from './field'
import { type LabelledMesh, trianglesAbout } from './labelled'
import { lendToNeighbours } from './lend'
import { toTriangle } from './nearest'

/** Ends of sides nearer to a border than this share of the side are moved onto it, so that cutting leaves no slivers. */
const SNAP = 0.25

/** How much more a triangle counts as far that a point lies aside of. */
const SLANT = 0.1

/** About corners of more triangles than this they are not all tried. */
const MOST_ABOUT = 24

/** Steps from triangle to triangle towards the nearest. */
const WALK = 12

/**
 * Gives a mesh of a field the labels of the source it was splatted from: a vertex takes that of its nearest source triangle, and where a
 * side has two, the border runs where the distances to the nearest triangles of both are equal; triangles are cut there. With `creased`,
 * vertices on creases stay where they are.
 */
export function handLabels(field: SparseField, mesh: DualMesh, source: LabelledMesh, creased: boolean): LabelledMesh {
  return new Handing(field, mesh, source, creased).run()
}

class Handing {
  private readonly count: number
  private readonly label: Int32Array
  private positions: Float64Array
  private vertices: number
  private readonly wide = new Map<number, ReadonlyMap<number, number>>()
  /** source triangles about each source vertex */
  private readonly beside: ReturnType<typeof trianglesAbout>

  constructor(
    private readonly field: SparseField,
    private readonly mesh: DualMesh,
    private readonly source: LabelledMesh,
    private readonly creased: boolean,
  ) {
    this.count = this.vertices = mesh.cell.length
    this.label = new Int32Array(this.count).fill(-1)
    this.positions = mesh.positions.slice()
    this.beside = trianglesAbout(source.indices, source.positions.length / 3)
  }

  run(): LabelledMesh {
    const { rows } = this.source
    const { indices } = this.mesh
    // most pieces are of one label, or have it to themselves
    if (rows.length === 1) return { positions: this.positions, indices, label: new Uint32Array(indices.length / 3), rows }
    for (let v = 0; v < this.count; v++) {
      const t = this.nearest(v, this.positions[3 * v], this.positions[3 * v + 1], this.positions[3 * v + 2])
      if (t >= 0) this.label[v] = this.source.label[t]
    }
    lendToNeighbours(this.label, this.mesh.indices)
    return this.cut()
  }

  /** Calls `visit` with the source triangles that samples about a vertex's cell know, `more` samples further all round. */
  private around(v: number, more: number, visit: (triangle: number) => void): void {
    const { field } = this
    const p = this.mesh.cell[v]
    const [cx, cy, cz] = field.cornerOf(p >> 9)
    const [x, y, z] = [cx + (p & 7), cy + ((p >> 3) & 7), cz + ((p >> 6) & 7)]
    for (let k = z - more; k <= z + 1 + more; k++)
      for (let j = y - more; j <= y + 1 + more; j++)
        for (let i = x - more; i <= x + 1 + more; i++) {
          const at = field.indexOf(i, j, k)
          if (at >= 0 && field.triangle[at] >= 0) visit(field.triangle[at])
        }
  }

  /**
   * Squared distance from a source triangle, a little more where it is not straight above it: of triangles that meet in an edge, and are
   * equally far from all that lies beyond that edge, the one that faces a point is its nearest.
   */
  private distance(t: number, x: number, y: number, z: number): number {
    const { positions: p, indices } = this.source
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const d = toTriangle(x, y, z, p, a, b, c)
    const ux = p[b] - p[a]
    const uy = p[b + 1] - p[a + 1]
    const uz = p[b + 2] - p[a + 2]
    const vx = p[c] - p[a]
    const vy = p[c + 1] - p[a + 1]
    const vz = p[c + 2] - p[a + 2]
    const nx = uy * vz - uz * vy
    const ny = uz * vx - ux * vz
    const nz = ux * vy - uy * vx
    const size = nx * nx + ny * ny + nz * nz
    if (size === 0) return d * (1 + SLANT)
    const w = (x - p[a]) * nx + (y - p[a + 1]) * ny + (z - p[a + 2]) * nz
    const aside = d - (w * w) / size
    return aside > 1e-9 * d ? d + SLANT * aside : d
  }

  private plain(t: number, x: number, y: number, z: number): number {
    const { positions, indices } = this.source
    return toTriangle(x, y, z, positions, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
  }

  /** Of the triangles about a vertex's cell the nearest to a point, −1 when there are none. */
  private nearest(v: number, x: number, y: number, z: number): number {
    let [best, least] = [-1, Infinity]
    let last = -1
    this.around(v, 0, (t) => {
      if (t === last || t === best) return
      last = t
      const d = this.distance(t, x, y, z)
      if (d < least || (d === least && t < best)) [best, least] = [t, d]
    })
    // a triangle that a point lies straight above is its nearest; else those that share a corner may be nearer, of which samples need not know
    const above = best >= 0 && least <= this.plain(best, x, y, z) && !this.field.borrowed
    for (let better = best >= 0 && !above, round = 0; better && round < WALK; round++) {
      better = false
      const from = best
      for (let k = 0; k < 3; k++) {
        const corner = this.source.indices[3 * from + k]
        for (let i = this.beside.first[corner]; i < this.beside.first[corner + 1]; i++) {
          const t = this.beside.list[i]
          if (t === from) continue
          const d = this.distance(t, x, y, z)
          if (d < least || (d === least && t < best)) {
            best = t
            least = d
            better = true
          }
        }
      }
    }
    return best
  }

  /** How far a vertex is from each label whose triangles may have a border near it, mm; worked out once. */
  private distances(v: number): ReadonlyMap<number, number> {
    let known = this.wide.get(v)
    if (known) return known
    const { label, indices } = this.source
    const { first, list } = this.beside
    const [x, y, z] = [this.positions[3 * v], this.positions[3 * v + 1], this.positions[3 * v + 2]]
    const tried = new Set<number>()
    const least = new Map<number, number>()
    const trial = (t: number) => {
      if (tried.has(t)) return
      tried.add(t)
      const d = this.distance(t, x, y, z)
      if (d < (least.get(label[t]) ?? Infinity)) least.set(label[t], d)
    }
    this.around(v, 1, trial)
    // those that share a corner with them, but for corners at which all the triangles of a cap meet
    for (const t of [...tried])
      for (let k = 0; k < 3; k++) {
        const corner = indices[3 * t + k]
        if (first[corner + 1] - first[corner] > MOST_ABOUT) continue
        for (let i = first[corner]; i < first[corner + 1]; i++) trial(list[i])
      }
    for (const [of, d] of least) least.set(of, Math.sqrt(d))
    this.wide.set(v, (known = least))
    return known
  }

  private toLabel(v: number, wanted: number): number {
    return this.distances(v).get(wanted) ?? Infinity
  }

  /** Vertices where the surface bends sharply. */
  private onCreases(): Uint8Array {
    const on = new Uint8Array(this.count)
    if (!this.creased) return on
    const { positions: p, indices } = this.mesh
    const sum = new Float64Array(3 * this.count)
    const length = new Float64Array(this.count)
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
      const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
      const size = Math.hypot(n[0], n[1], n[2])
      if (size === 0) continue
      for (let k = 0; k < 3; k++) {
        const v = indices[t + k]
        for (let j = 0; j < 3; j++) sum[3 * v + j] += n[j] / size
        length[v]++
      }
    }
    for (let v = 0; v < this.count; v++) on[v] = Math.hypot(sum[3 * v], sum[3 * v + 1], sum[3 * v + 2]) < 0.97 * length[v] ? 1 : 0
    return on
  }

  private cut(): LabelledMesh {
    const { label, mesh } = this
    const { indices } = mesh
    const before = mesh.positions
    const key = (i: number, j: number) => (i < j ? i * this.count + j : j * this.count + i)
    // where along each side from its lower to its higher end the border lies
    const cuts = new Map<number, number>()
    for (let n = 0; n < indices.length; n++) {
      const [i, j] = [indices[n], indices[n % 3 === 2 ? n - 2 : n + 1]]
      if (label[i] === label[j] || i > j) continue
      const fi = Math.max(0, this.toLabel(i, label[j]) - this.toLabel(i, label[i]))
      const fj = Math.max(0, this.toLabel(j, label[i]) - this.toLabel(j, label[j]))
      const share = fi + fj > 0 ? fi / (fi + fj) : 0.5
      cuts.set(key(i, j), Number.isFinite(share) ? share : 0.5)
    }
    const on = new Uint8Array(this.count)
    const stays = this.onCreases()
    const wanted = new Map<number, [other: number, share: number]>()
    for (const [k, share] of cuts) {
      const [i, j] = [Math.floor(k / this.count), k % this.count]
      for (const [v, w, s] of [
        [i, j, share],
        [j, i, 1 - share],
      ]) {
        const had = wanted.get(v)
        if (s < SNAP && (!had || s < had[1] || (s === had[1] && w < had[0]))) wanted.set(v, [w, s])
      }
    }
    for (const [v, [w, s]] of wanted) {
      on[v] = 1
      if (!stays[v]) for (let k = 0; k < 3; k++) this.positions[3 * v + k] = before[3 * v + k] + s * (before[3 * w + k] - before[3 * v + k])
    }
    const made = new Map<number, number>()
    const between = (i: number, j: number): number => {
      const k = key(i, j)
      let v = made.get(k)
      if (v === undefined) {
        const [a, b] = i < j ? [i, j] : [j, i]
        const share = cuts.get(k) as number
        v = this.add([0, 1, 2].map((d) => before[3 * a + d] + share * (before[3 * b + d] - before[3 * a + d])))
        made.set(k, v)
      }
      return v
    }
    let out = new Uint32Array(indices.length + 3072)
    let labels = new Uint32Array(indices.length / 3 + 1024)
    let n = 0
    const put = (a: number, b: number, c: number, of: number) => {
      if (3 * n + 3 > out.length) {
        out = longer(out, 2 * out.length)
        labels = longer(labels, 2 * labels.length)
      }
      out[3 * n] = a
      out[3 * n + 1] = b
      out[3 * n + 2] = c
      labels[n++] = of
    }
    for (let t = 0; t < indices.length; t += 3) {
      const corner = [indices[t], indices[t + 1], indices[t + 2]]
      const crossed = corner.map((i, k) => !on[i] && !on[corner[(k + 1) % 3]] && label[i] !== label[corner[(k + 1) % 3]])
      const count = crossed.filter(Boolean).length
      if (count === 0) {
        const off = corner.find((v) => !on[v])
        put(corner[0], corner[1], corner[2], off !== undefined ? label[off] : this.middleLabel(corner))
      } else if (count === 1) {
        const k = crossed.indexOf(true)
        const [i, j, l] = [corner[k], corner[(k + 1) % 3], corner[(k + 2) % 3]]
        const m = between(i, j)
        put(i, m, l, label[i])
        put(m, j, l, label[j])
      } else if (count === 2) {
        const k = (crossed.indexOf(false) + 2) % 3
        const [i, j, l] = [corner[k], corner[(k + 1) % 3], corner[(k + 2) % 3]]
        const [a, b] = [between(i, j), between(l, i)]
        put(i, a, b, label[i])
        put(a, j, l, label[j])
        put(a, l, b, label[j])
      } else {
        const m = corner.map((v, k) => between(v, corner[(k + 1) % 3]))
        const middle = this.add([0, 1, 2].map((d) => m.reduce((sum, v) => sum + this.positions[3 * v + d], 0) / 3))
        for (let k = 0; k < 3; k++) {
          put(corner[k], m[k], middle, label[corner[k]])
          put(corner[k], middle, m[(k + 2) % 3], label[corner[k]])
        }
      }
    }
    return { positions: this.positions.slice(0, 3 * this.vertices), indices: out.slice(0, 3 * n), label: labels.slice(0, n), rows: this.source.rows }
  }

  private add(at: readonly number[]): number {
    const v = this.vertices++
    if (3 * v + 3 > this.positions.length) this.positions = longer(this.positions, Math.ceil(this.positions.length * 1.2) + 3072)
    for (let k = 0; k < 3; k++) this.positions[3 * v + k] = at[k]
    return v
  }

  /** All three corners lie on borders: what is nearest to the middle tells. */
  private middleLabel(corner: readonly number[]): number {
    const [x, y, z] = [0, 1, 2].map((k) => corner.reduce((sum, v) => sum + this.positions[3 * v + k], 0) / 3)
    let [best, least] = [-1, Infinity]
    for (const v of corner) {
      const t = this.nearest(v, x, y, z)
      const d = t < 0 ? Infinity : this.distance(t, x, y, z)
      if (d < least) [best, least] = [t, d]
    }
    return best < 0 ? this.label[corner[0]] : this.source.label[best]
  }
}
