import { EdgeTable } from '../check/edge-table'
import { longer } from '../solid/vertex-table'
import { creasesOf } from './creases'
import { type LabelledMesh, trianglesAbout } from './labelled'
import { nearest, toTriangle } from './nearest'
import type { Breathe } from './remesh'

/** Sides are split above and collapsed below these shares of the length that is asked for. */
const LONG = 4 / 3
const SHORT = 4 / 5

const ROUNDS = 6
const PASSES = 3

/** A triangle may turn by as much as this cosine when a side is collapsed or flipped. */
const TURN = 0.7

/** A corner of a crease may be left out that lies off the line of its neighbours by this share of the length. */
const OFF_LINE = 0.02

/** A vertex this near to a triangle, as a square, mm², lies on it. */
const ON_IT = 1e-20

/** Classes of vertices: free, on a crease, and fixed. */
const FREE = 0
const CREASE = 1
const FIXED = 2

/**
 * Triangles of one size all over, about `edge` mm a side, by splitting, collapsing, flipping and sliding in turn (Botsch & Kobbelt, "A
 * remeshing approach to multiresolution modeling", 2004). Sides that bend by more than `angle` degrees and borders between labels stay where
 * they are; everything else lies on the surface as it was. The mesh must be closed.
 */
export async function evenlyRemeshed(mesh: LabelledMesh, edge: number, angle: number, breathe: Breathe): Promise<LabelledMesh> {
  const work = new Remesher(mesh, edge, angle)
  for (let round = 0; round < ROUNDS; round++) {
    work.split()
    await breathe()
    for (let pass = 0; pass < PASSES; pass++) if (work.collapse() === 0) break
    await breathe()
    for (let pass = 0; pass < PASSES; pass++) if (work.flip() === 0) break
    await breathe()
    work.slide()
    await breathe()
  }
  return work.result()
}

/** The vertices next to one, found again and again without making anything anew. */
class Neighbours {
  readonly list: Uint32Array
  count = 0
  private readonly stamp: Uint32Array
  private time = 0

  constructor(vertices: number) {
    this.list = new Uint32Array(vertices)
    this.stamp = new Uint32Array(vertices)
  }

  about(v: number, indices: Uint32Array, first: Uint32Array, triangles: Uint32Array): void {
    this.count = 0
    this.stamp[v] = ++this.time
    for (let i = first[v]; i < first[v + 1]; i++)
      for (let k = 3 * triangles[i]; k < 3 * triangles[i] + 3; k++) {
        const w = indices[k]
        if (this.stamp[w] === this.time) continue
        this.stamp[w] = this.time
        this.list[this.count++] = w
      }
    this.self = v
  }

  private self = -1

  has(v: number): boolean {
    return this.stamp[v] === this.time && v !== this.self
  }

  /** The square of how far one of them lies from a place at most, but for one. */
  reaches(p: Float64Array, from: Float64Array, but: number): number {
    let most = 0
    for (let n = 0; n < this.count; n++) {
      const v = this.list[n]
      if (v !== but) most = Math.max(most, (p[3 * v] - from[0]) ** 2 + (p[3 * v + 1] - from[1]) ** 2 + (p[3 * v + 2] - from[2]) ** 2)
    }
    return most
  }
}

class Remesher {
  private positions: Float64Array
  private vertices: number
  private indices: Uint32Array
  private label: Uint32Array
  /** per vertex its class, and the triangle of the source it lies on */
  private kind: Uint8Array
  private on: Int32Array
  /** sides that are creases, a → b with a < b */
  private creases: EdgeTable
  private readonly around: { first: Uint32Array; list: Uint32Array }

  constructor(
    private readonly source: LabelledMesh,
    private readonly edge: number,
    angle: number,
  ) {
    const { positions, indices, label } = source
    const { along, crease } = creasesOf(source, angle)
    this.positions = positions.slice()
    this.vertices = positions.length / 3
    this.indices = indices.slice()
    this.label = label.slice()
    this.kind = Uint8Array.from({ length: this.vertices }, (_, v) => (along[2 * v] < 0 ? FREE : along[2 * v] === v ? FIXED : CREASE))
    this.on = new Int32Array(this.vertices)
    this.creases = new EdgeTable(
      Math.max(
        64,
        crease.reduce((sum, c) => sum + c, 0),
      ),
    )
    for (let i = 0; i < indices.length; i++) {
      this.on[indices[i]] = Math.floor(i / 3)
      if (crease[i]) this.mark(indices[i], indices[next(i)])
    }
    this.around = trianglesAbout(indices, this.vertices)
  }

  private marked = 0

  private mark(a: number, b: number): void {
    const [low, high] = a < b ? [a, b] : [b, a]
    if (2 * ++this.marked >= this.creases.from.length / 2) {
      const had = this.creases
      this.creases = new EdgeTable(4 * this.marked)
      for (let s = 0; s < had.from.length; s++) if (had.from[s] >= 0 && had.value[s] > 0) this.creases.value[this.creases.slot(had.from[s], had.to[s])] = 1
    }
    this.creases.value[this.creases.slot(low, high)] = 1
  }

  private unmark(a: number, b: number): void {
    const [low, high] = a < b ? [a, b] : [b, a]
    if (this.creases.get(low, high, 0) > 0) this.creases.value[this.creases.slot(low, high)] = 0
  }

  private isCrease(a: number, b: number): boolean {
    return this.kind[a] !== FREE && this.kind[b] !== FREE && (a < b ? this.creases.get(a, b, 0) : this.creases.get(b, a, 0)) > 0
  }

  private length2(a: number, b: number): number {
    const { positions: p } = this
    return (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
  }

  /** Cuts every long side in its middle, and again until none is left; triangles are cut by how many of their sides are. */
  split(): void {
    const most = (LONG * this.edge) ** 2
    for (let again = true, round = 0; again && round < 14; round++) {
      const { indices } = this
      const middles = new EdgeTable(indices.length / 2)
      const added: number[] = []
      for (let i = 0; i < indices.length; i++) {
        const [a, b] = [indices[i], indices[next(i)]]
        if (a < b && this.length2(a, b) > most) {
          middles.value[middles.slot(a, b)] = this.vertices + added.length / 2 + 1
          added.push(a, b)
        }
      }
      again = added.length > 0
      if (!again) return
      this.room(this.vertices + added.length / 2)
      const { positions: p } = this
      for (let n = 0; n < added.length; n += 2) {
        const [a, b] = [added[n], added[n + 1]]
        const v = this.vertices++
        for (let k = 0; k < 3; k++) p[3 * v + k] = (p[3 * a + k] + p[3 * b + k]) / 2
        this.on[v] = this.on[a]
        if (this.isCrease(a, b)) {
          this.kind[v] = CREASE
          this.unmark(a, b)
          this.mark(a, v)
          this.mark(v, b)
        } else {
          this.kind[v] = FREE
          this.project(v)
        }
      }
      // each side that is cut makes a triangle more on either side of it
      const out = new Uint32Array(indices.length + 3 * added.length)
      const labels = new Uint32Array(out.length / 3)
      let count = 0
      const put = (label: number, x: number, y: number, z: number) => {
        out[3 * count] = x
        out[3 * count + 1] = y
        out[3 * count + 2] = z
        labels[count++] = label
      }
      for (let t = 0; t < indices.length; t += 3) {
        const label = this.label[t / 3]
        const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]]
        const x = (a < b ? middles.get(a, b, 0) : middles.get(b, a, 0)) - 1
        const y = (b < c ? middles.get(b, c, 0) : middles.get(c, b, 0)) - 1
        const z = (c < a ? middles.get(c, a, 0) : middles.get(a, c, 0)) - 1
        const cut = (x >= 0 ? 1 : 0) + (y >= 0 ? 1 : 0) + (z >= 0 ? 1 : 0)
        if (cut === 0) put(label, a, b, c)
        else if (cut === 3) {
          put(label, a, x, z)
          put(label, b, y, x)
          put(label, c, z, y)
          put(label, x, y, z)
        } else if (cut === 1) {
          if (x >= 0) halve(put, label, a, b, c, x)
          else if (y >= 0) halve(put, label, b, c, a, y)
          else halve(put, label, c, a, b, z)
        } else if (x < 0) this.third(put, label, a, b, c, y, z)
        else if (y < 0) this.third(put, label, b, c, a, z, x)
        else this.third(put, label, c, a, b, x, y)
      }
      this.indices = out.subarray(0, 3 * count)
      this.label = labels.subarray(0, count)
    }
  }

  /** A triangle of which only the side from a to b stays whole: x is the middle of the side from b to c, y of the one from c to a. */
  private third(put: Put, label: number, a: number, b: number, c: number, x: number, y: number): void {
    put(label, c, y, x)
    if (this.length2(a, x) < this.length2(b, y)) {
      put(label, a, x, y)
      put(label, a, b, x)
    } else {
      put(label, a, b, y)
      put(label, b, x, y)
    }
  }

  private room(vertices: number): void {
    if (3 * vertices <= this.positions.length) return
    const size = Math.ceil(1.5 * vertices)
    this.positions = longer(this.positions, 3 * size)
    this.kind = longer(this.kind, size)
    this.on = longer(this.on, size)
  }

  /** Collapses short sides, none next to another in one pass; gives how many. */
  collapse(): number {
    const { indices, kind, positions: p } = this
    const least = (SHORT * this.edge) ** 2
    const most = (LONG * this.edge) ** 2
    const { first, list } = trianglesAbout(indices, this.vertices)
    const locked = new Uint8Array(this.vertices)
    const gone = new Uint8Array(indices.length / 3)
    const moved = new Float64Array(3)
    let done = 0
    const [na, nb] = [new Neighbours(this.vertices), new Neighbours(this.vertices)]
    for (let i = 0; i < indices.length; i++) {
      let [a, b] = [indices[i], indices[next(i)]]
      if (a > b || locked[a] || locked[b] || this.length2(a, b) >= least) continue
      // b goes into a
      if (kind[b] > kind[a]) [a, b] = [b, a]
      if (kind[b] === FIXED) continue
      const crease = this.isCrease(a, b)
      if (kind[b] === CREASE && !crease) continue
      na.about(a, indices, first, list)
      nb.about(b, indices, first, list)
      let common = 0
      for (let n = 0; n < nb.count; n++) if (na.has(nb.list[n])) common++
      // the link condition: or the surface would be pinched
      if (common !== 2) continue
      for (let k = 0; k < 3; k++) moved[k] = kind[a] === FREE ? (p[3 * a + k] + p[3 * b + k]) / 2 : p[3 * a + k]
      if (kind[b] === CREASE && !this.nearlyStraight(a, b, nb)) continue
      if (nb.reaches(p, moved, a) > most || (kind[a] === FREE && na.reaches(p, moved, b) > most)) continue
      let fine = true
      for (let j = first[a]; j < first[a + 1] && fine; j++) fine = this.staysUp(list[j], a, b, moved)
      for (let j = first[b]; j < first[b + 1] && fine; j++) fine = this.staysUp(list[j], a, b, moved)
      if (!fine) continue
      if (kind[b] === CREASE) {
        // the crease goes on from a
        for (let n = 0; n < nb.count; n++) {
          const v = nb.list[n]
          if (v === a || !this.isCrease(b, v)) continue
          this.unmark(b, v)
          this.mark(a, v)
        }
        this.unmark(a, b)
      }
      for (let k = 0; k < 3; k++) p[3 * a + k] = moved[k]
      for (let j = first[b]; j < first[b + 1]; j++) {
        const t = list[j]
        for (let k = 3 * t; k < 3 * t + 3; k++) if (indices[k] === b) indices[k] = a
        if (indices[3 * t] === indices[3 * t + 1] || indices[3 * t + 1] === indices[3 * t + 2] || indices[3 * t] === indices[3 * t + 2]) gone[t] = 1
      }
      if (kind[a] === FREE) this.project(a)
      for (let n = 0; n < na.count; n++) locked[na.list[n]] = 1
      for (let n = 0; n < nb.count; n++) locked[nb.list[n]] = 1
      locked[a] = locked[b] = 1
      done++
    }
    if (done > 0) {
      let kept = 0
      for (let t = 0; t < gone.length; t++) {
        if (gone[t]) continue
        for (let k = 0; k < 3; k++) indices[3 * kept + k] = indices[3 * t + k]
        this.label[kept++] = this.label[t]
      }
      this.indices = indices.subarray(0, 3 * kept)
      this.label = this.label.subarray(0, kept)
    }
    return done
  }

  /** Whether a crease goes on nearly straight when b, next to a, is left out of it. */
  private nearlyStraight(a: number, b: number, nb: Neighbours): boolean {
    const { positions: p } = this
    for (let n = 0; n < nb.count; n++) {
      const c = nb.list[n]
      if (c === a || !this.isCrease(b, c)) continue
      const way = [0, 1, 2].map((k) => p[3 * c + k] - p[3 * a + k])
      const to = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k])
      const long = way[0] ** 2 + way[1] ** 2 + way[2] ** 2
      const share = (way[0] * to[0] + way[1] * to[1] + way[2] * to[2]) / (long || 1)
      if (Math.hypot(...to.map((v, k) => v - share * way[k])) > OFF_LINE * this.edge) return false
    }
    return true
  }

  /** Whether a triangle keeps its side and some area when a and b come to lie at `at`. */
  private staysUp(t: number, a: number, b: number, at: Float64Array): boolean {
    const { indices, positions: p } = this
    let both = 0
    for (let k = 0; k < 3; k++) {
      const v = indices[3 * t + k]
      put(k, p, v)
      if (v === a || v === b) {
        both++
        corners[9 + 3 * k] = at[0]
        corners[10 + 3 * k] = at[1]
        corners[11 + 3 * k] = at[2]
      } else put(3 + k, p, v)
    }
    // the two triangles between them go
    return both === 2 || turnsLittle()
  }

  /** Whether triangle d, e, f looks nearly where a, b, c does. */
  private looksAlike(a: number, b: number, c: number, d: number, e: number, f: number): boolean {
    const { positions: p } = this
    put(0, p, a)
    put(1, p, b)
    put(2, p, c)
    put(3, p, d)
    put(4, p, e)
    put(5, p, f)
    return turnsLittle()
  }

  /** Flips sides where that brings vertices nearer to six neighbours, none next to another in one pass; gives how many. */
  flip(): number {
    const { indices, kind } = this
    const valence = new Int16Array(this.vertices)
    for (let i = 0; i < indices.length; i++) valence[indices[i]]++
    const edges = new EdgeTable(indices.length)
    for (let i = 0; i < indices.length; i++) edges.value[edges.slot(indices[i], indices[next(i)])] = i
    const locked = new Uint8Array(indices.length / 3)
    const off = (v: number, by: number) => {
      const want = kind[v] === FREE ? 6 : valence[v] > 6 ? 6 : valence[v]
      return (valence[v] + by - want) ** 2
    }
    let done = 0
    for (let i = 0; i < indices.length; i++) {
      const [a, b] = [indices[i], indices[next(i)]]
      if (a > b) continue
      const j = edges.get(b, a, -1)
      if (j < 0) continue
      const [s, t] = [Math.floor(i / 3), Math.floor(j / 3)]
      if (locked[s] || locked[t] || this.isCrease(a, b)) continue
      const c = indices[next(next(i))]
      const d = indices[next(next(j))]
      if (c === d || valence[a] < 4 || valence[b] < 4) continue
      const gain = off(a, 0) + off(b, 0) + off(c, 0) + off(d, 0) - off(a, -1) - off(b, -1) - off(c, 1) - off(d, 1)
      if (gain <= 0) continue
      // the other diagonal must not be a side already
      if (edges.get(c, d, -1) >= 0 || edges.get(d, c, -1) >= 0) continue
      if (!this.looksAlike(a, b, c, a, d, c) || !this.looksAlike(b, a, d, d, b, c) || !this.looksAlike(a, b, c, d, b, c) || !this.looksAlike(b, a, d, a, d, c))
        continue
      indices[3 * s] = a
      indices[3 * s + 1] = d
      indices[3 * s + 2] = c
      indices[3 * t] = d
      indices[3 * t + 1] = b
      indices[3 * t + 2] = c
      locked[s] = locked[t] = 1
      valence[a]--
      valence[b]--
      valence[c]++
      valence[d]++
      edges.value[edges.slot(c, d)] = 0
      edges.value[edges.slot(d, c)] = 0
      this.lockBeside(edges, locked, a, d)
      this.lockBeside(edges, locked, d, b)
      this.lockBeside(edges, locked, b, c)
      this.lockBeside(edges, locked, c, a)
      done++
    }
    return done
  }

  /** The triangles beyond a side about a flipped one are left alone for the rest of the pass. */
  private lockBeside(edges: EdgeTable, locked: Uint8Array, v: number, w: number): void {
    const [i, j] = [edges.get(v, w, -1), edges.get(w, v, -1)]
    if (i >= 0) locked[Math.floor(i / 3)] = 1
    if (j >= 0) locked[Math.floor(j / 3)] = 1
  }

  /** Free vertices go towards the middle of their neighbours, along the surface. */
  slide(): void {
    const { indices, positions: p, kind } = this
    const sum = new Float64Array(3 * this.vertices)
    const count = new Uint16Array(this.vertices)
    const normal = new Float64Array(3 * this.vertices)
    for (let i = 0; i < indices.length; i++) {
      const [v, w] = [indices[i], indices[next(i)]]
      count[v]++
      for (let k = 0; k < 3; k++) sum[3 * v + k] += p[3 * w + k]
    }
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
      const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
      for (let j = 0; j < 3; j++) {
        const o = 3 * indices[t + j]
        normal[o] += nx
        normal[o + 1] += ny
        normal[o + 2] += nz
      }
    }
    const { first, list } = trianglesAbout(indices, this.vertices)
    const to = new Float64Array(3)
    for (let v = 0; v < this.vertices; v++) {
      if (kind[v] !== FREE || count[v] === 0) continue
      const o = 3 * v
      const [nx, ny, nz] = [normal[o], normal[o + 1], normal[o + 2]]
      const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1
      const [x, y, z] = [p[o], p[o + 1], p[o + 2]]
      const [wx, wy, wz] = [sum[o] / count[v] - x, sum[o + 1] / count[v] - y, sum[o + 2] / count[v] - z]
      const up = (wx * nx + wy * ny + wz * nz) / (size * size)
      const on = this.on[v]
      p[o] = x + wx - up * nx
      p[o + 1] = y + wy - up * ny
      p[o + 2] = z + wz - up * nz
      this.project(v)
      to[0] = p[o]
      to[1] = p[o + 1]
      to[2] = p[o + 2]
      p[o] = x
      p[o + 1] = y
      p[o + 2] = z
      // nothing may turn over by it
      let fine = true
      for (let j = first[v]; j < first[v + 1] && fine; j++) fine = this.staysUp(list[j], v, v, to)
      if (!fine) {
        this.on[v] = on
        continue
      }
      p[o] = to[0]
      p[o + 1] = to[1]
      p[o + 2] = to[2]
    }
  }

  /** Puts a vertex onto the source: from the triangle it lay on over those that share a corner, as long as one is nearer. */
  private project(v: number): void {
    const { positions: p } = this
    const { positions: q, indices } = this.source
    const { first, list } = this.around
    const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
    let best = this.on[v]
    let least = toTriangle(x, y, z, q, 3 * indices[3 * best], 3 * indices[3 * best + 1], 3 * indices[3 * best + 2])
    let last = best
    for (let round = 0, better = true; better && round < 64 && least > ON_IT; round++) {
      better = false
      const from = best
      for (let k = 0; k < 3; k++) {
        const corner = indices[3 * from + k]
        for (let j = first[corner]; j < first[corner + 1]; j++) {
          const t = list[j]
          if (t === best || t === from) continue
          last = t
          const d = toTriangle(x, y, z, q, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
          if (d >= least) continue
          best = t
          least = d
          better = true
        }
      }
    }
    if (last !== best) toTriangle(x, y, z, q, 3 * indices[3 * best], 3 * indices[3 * best + 1], 3 * indices[3 * best + 2])
    this.on[v] = best
    for (let k = 0; k < 3; k++) p[3 * v + k] = nearest[k]
  }

  result(): LabelledMesh {
    const number = new Int32Array(this.vertices).fill(-1)
    let count = 0
    const indices = this.indices.map((v) => (number[v] < 0 ? (number[v] = count++) : number[v]))
    const positions = new Float64Array(3 * count)
    for (let v = 0; v < this.vertices; v++) if (number[v] >= 0) for (let k = 0; k < 3; k++) positions[3 * number[v] + k] = this.positions[3 * v + k]
    return { positions, indices, label: this.label, rows: this.source.rows }
  }
}

type Put = (label: number, x: number, y: number, z: number) => void

/** A triangle whose side from a to b alone is cut, at m. */
function halve(put: Put, label: number, a: number, b: number, c: number, m: number): void {
  put(label, a, m, c)
  put(label, m, b, c)
}

const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)

// the triangle before and after, three corners each, reused: this runs for every side and vertex in every round
const corners = new Float64Array(18)

/** Corner `o` of the two triangles: a vertex as it lies. */
function put(o: number, p: Float64Array, v: number): void {
  corners[3 * o] = p[3 * v]
  corners[3 * o + 1] = p[3 * v + 1]
  corners[3 * o + 2] = p[3 * v + 2]
}

/** Whether the second of the triangles that were put faces nearly where the first did, and has some area: no sliver is made of what was none. */
function turnsLittle(): boolean {
  const c = corners
  const [ux, uy, uz] = [c[3] - c[0], c[4] - c[1], c[5] - c[2]]
  const [vx, vy, vz] = [c[6] - c[0], c[7] - c[1], c[8] - c[2]]
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  const [rx, ry, rz] = [c[12] - c[9], c[13] - c[10], c[14] - c[11]]
  const [sx, sy, sz] = [c[15] - c[9], c[16] - c[10], c[17] - c[11]]
  const [mx, my, mz] = [ry * sz - rz * sy, rz * sx - rx * sz, rx * sy - ry * sx]
  const a = Math.sqrt(nx * nx + ny * ny + nz * nz)
  const b = Math.sqrt(mx * mx + my * my + mz * mz)
  if (!(b > 0)) return false
  const was = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, (ux - vx) ** 2 + (uy - vy) ** 2 + (uz - vz) ** 2)
  const side = Math.max(rx * rx + ry * ry + rz * rz, sx * sx + sy * sy + sz * sz, (rx - sx) ** 2 + (ry - sy) ** 2 + (rz - sz) ** 2)
  // height over the longest side
  if (b / side < Math.min(0.15, (0.8 * a) / was)) return false
  return a === 0 || nx * mx + ny * my + nz * mz > TURN * a * b
}
