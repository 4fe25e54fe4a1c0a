import { PairTable } from '../solid/pair-table'
import { longer } from '../solid/vertex-table'
import type { DualMesh } from './dual-mesh'
import type { SparseField } from './field'
import { type LabelledMesh, trianglesAbout } from './labelled'
import { lendToNeighbours } from './lend'
import { toTriangle } from '../solid/nearest'

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
  const { rows } = source
  // most pieces are of one label, or have it to themselves
  if (rows.length === 1) return { positions: mesh.positions.slice(), indices: mesh.indices, label: new Uint32Array(mesh.indices.length / 3), rows }
  return new Handing(field, mesh, source, creased).run()
}

/** Numbers from 0 to below `room`, in the order in which they came; emptied without touching more than a counter. */
class NumberSet {
  readonly list: Uint32Array
  count = 0
  private readonly mark: Uint32Array
  private turn = 1

  constructor(room: number) {
    this.list = new Uint32Array(room)
    this.mark = new Uint32Array(room)
  }

  clear(): void {
    this.count = 0
    this.turn++
  }

  /** Whether it was not in it before. */
  add(number: number): boolean {
    if (this.mark[number] === this.turn) return false
    this.mark[number] = this.turn
    this.list[this.count++] = number
    return true
  }
}

/** Balls that hold each triangle: x, y, z of the middle and the radius. */
function ballsAbout({ positions: p, indices }: LabelledMesh): Float64Array {
  const balls = new Float64Array((4 * indices.length) / 3)
  for (let t = 0; 3 * t < indices.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    for (let k = 0; k < 3; k++) balls[4 * t + k] = (p[a + k] + p[b + k] + p[c + k]) / 3
    for (const v of [a, b, c])
      balls[4 * t + 3] = Math.max(balls[4 * t + 3], Math.hypot(p[v] - balls[4 * t], p[v + 1] - balls[4 * t + 1], p[v + 2] - balls[4 * t + 2]))
  }
  return balls
}

class Handing {
  private readonly count: number
  private readonly label: Int32Array
  private positions: Float64Array
  private vertices: number
  private readonly wide = new Map<number, Float64Array>()
  /** source triangles about each source vertex */
  private readonly beside: ReturnType<typeof trianglesAbout>
  // source triangles, their corners and labels about the vertex in hand, and the least distance of each label
  private readonly near: NumberSet
  private readonly nearCorners: NumberSet
  private readonly labels: NumberSet
  private readonly least: Float64Array
  /** about each source triangle: middle and radius */
  private readonly balls: Float64Array

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
    this.near = new NumberSet(source.label.length)
    this.nearCorners = new NumberSet(source.positions.length / 3)
    this.labels = new NumberSet(source.rows.length)
    this.least = new Float64Array(source.rows.length)
    this.balls = ballsAbout(source)
  }

  run(): LabelledMesh {
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

  /** Whether all of a source triangle is surely farther from a point than so much. */
  private isBeyond(t: number, x: number, y: number, z: number, far: number): boolean {
    const { balls } = this
    const dx = x - balls[4 * t]
    const dy = y - balls[4 * t + 1]
    const dz = z - balls[4 * t + 2]
    const reach = (far + balls[4 * t + 3]) * (1 + 1e-9)
    return dx * dx + dy * dy + dz * dz > reach * reach
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
    let root = Math.sqrt(least)
    for (let better = best >= 0 && !above, round = 0; better && round < WALK; round++) {
      better = false
      const from = best
      for (let k = 0; k < 3; k++) {
        const corner = this.source.indices[3 * from + k]
        for (let i = this.beside.first[corner]; i < this.beside.first[corner + 1]; i++) {
          const t = this.beside.list[i]
          if (t === from || this.isBeyond(t, x, y, z, root)) continue
          const d = this.distance(t, x, y, z)
          if (d < least || (d === least && t < best)) {
            best = t
            least = d
            root = Math.sqrt(d)
            better = true
          }
        }
      }
    }
    return best
  }

  /** How far a vertex is from each label whose triangles may have a border near it: a label and its distance, mm, after the other. Worked out once. */
  private distances(v: number): Float64Array {
    const known = this.wide.get(v)
    if (known) return known
    const { first, list } = this.beside
    const { indices } = this.source
    const { near, nearCorners, least, labels } = this
    const [x, y, z] = [this.positions[3 * v], this.positions[3 * v + 1], this.positions[3 * v + 2]]
    near.clear()
    nearCorners.clear()
    labels.clear()
    const trial = (t: number) => {
      if (!near.add(t)) return
      const of = this.source.label[t]
      if (labels.add(of)) least[of] = Infinity
      else if (this.isBeyond(t, x, y, z, least[of])) return
      least[of] = Math.min(least[of], Math.sqrt(this.distance(t, x, y, z)))
    }
    this.around(v, 1, trial)
    // those that share a corner with them, but for corners at which all the triangles of a cap meet
    for (let n = 0, tried = near.count; n < tried; n++)
      for (let k = 3 * near.list[n]; k < 3 * near.list[n] + 3; k++) {
        const corner = indices[k]
        if (!nearCorners.add(corner) || first[corner + 1] - first[corner] > MOST_ABOUT) continue
        for (let i = first[corner]; i < first[corner + 1]; i++) trial(list[i])
      }
    const out = new Float64Array(2 * labels.count)
    for (let n = 0; n < labels.count; n++) {
      out[2 * n] = labels.list[n]
      out[2 * n + 1] = least[labels.list[n]]
    }
    this.wide.set(v, out)
    return out
  }

  private toLabel(v: number, wanted: number): number {
    const known = this.distances(v)
    for (let n = 0; n < known.length; n += 2) if (known[n] === wanted) return known[n + 1]
    return Infinity
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
    // sides with a border on them by their lower and higher end: where along it, and the vertex there once it is made
    const cuts = new PairTable(4096)
    const shares: number[] = []
    const made: number[] = []
    const on = new Uint8Array(this.count)
    // where each vertex is moved to, and how far along that side
    const towards = new Int32Array(this.count).fill(-1)
    const least = new Float64Array(this.count).fill(SNAP)
    const move = (v: number, w: number, s: number) => {
      if (s > least[v] || (s === least[v] && (towards[v] < 0 || w > towards[v]))) return
      towards[v] = w
      least[v] = s
      on[v] = 1
    }
    for (let n = 0; n < indices.length; n++) {
      const i = indices[n]
      const j = indices[n % 3 === 2 ? n - 2 : n + 1]
      if (label[i] === label[j] || i > j) continue
      const fi = Math.max(0, this.toLabel(i, label[j]) - this.toLabel(i, label[i]))
      const fj = Math.max(0, this.toLabel(j, label[i]) - this.toLabel(j, label[j]))
      const known = fi + fj > 0 ? fi / (fi + fj) : 0.5
      const share = Number.isFinite(known) ? known : 0.5
      cuts.set(i, j, shares.push(share) - 1)
      made.push(-1)
      move(i, j, share)
      move(j, i, 1 - share)
    }
    const stays = this.onCreases()
    for (let v = 0; v < this.count; v++) {
      if (!on[v] || stays[v]) continue
      const w = towards[v]
      for (let k = 0; k < 3; k++) this.positions[3 * v + k] = before[3 * v + k] + least[v] * (before[3 * w + k] - before[3 * v + k])
    }
    const between = (i: number, j: number): number => {
      const [a, b] = i < j ? [i, j] : [j, i]
      const cut = cuts.get(a, b)
      if (made[cut] >= 0) return made[cut]
      const share = shares[cut]
      made[cut] = this.add([0, 1, 2].map((d) => before[3 * a + d] + share * (before[3 * b + d] - before[3 * a + d])))
      return made[cut]
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
      const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]]
      // most lie away from borders
      if (label[a] === label[b] && label[a] === label[c] && !on[a] && !on[b] && !on[c]) {
        put(a, b, c, label[a])
        continue
      }
      const corner = [a, b, c]
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
