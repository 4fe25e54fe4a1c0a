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
      const middle = (a: number, b: number) => (a < b ? middles.get(a, b, 0) : middles.get(b, a, 0)) - 1
      const out: number[] = []
      const labels: number[] = []
      for (let t = 0; t < indices.length; t += 3) {
        const c = [indices[t], indices[t + 1], indices[t + 2]]
        const m = c.map((v, k) => middle(v, c[(k + 1) % 3]))
        const cut = m.filter((v) => v >= 0).length
        const put = (x: number, y: number, z: number) => {
          out.push(x, y, z)
          labels.push(this.label[t / 3])
        }
        if (cut === 0) put(c[0], c[1], c[2])
        else if (cut === 3) {
          put(c[0], m[0], m[2])
          put(c[1], m[1], m[0])
          put(c[2], m[2], m[1])
          put(m[0], m[1], m[2])
        } else if (cut === 1) {
          const k = m.findIndex((v) => v >= 0)
          put(c[k], m[k], c[(k + 2) % 3])
          put(m[k], c[(k + 1) % 3], c[(k + 2) % 3])
        } else {
          // the whole side is k: between c[k] and c[k + 1]
          const k = m.findIndex((v) => v < 0)
          const [a, b, d, x, y] = [c[k], c[(k + 1) % 3], c[(k + 2) % 3], m[(k + 1) % 3], m[(k + 2) % 3]]
          put(d, y, x)
          if (this.length2(a, x) < this.length2(b, y)) {
            put(a, x, y)
            put(a, b, x)
          } else {
            put(a, b, y)
            put(b, x, y)
          }
        }
      }
      this.indices = Uint32Array.from(out)
      this.label = Uint32Array.from(labels)
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
    const moved = [0, 0, 0]
    let done = 0
    const neighbours = (v: number): Set<number> => {
      const set = new Set<number>()
      for (let i = first[v]; i < first[v + 1]; i++) for (let k = 0; k < 3; k++) set.add(indices[3 * list[i] + k])
      set.delete(v)
      return set
    }
    for (let i = 0; i < indices.length; i++) {
      let [a, b] = [indices[i], indices[next(i)]]
      if (a > b || locked[a] || locked[b] || this.length2(a, b) >= least) continue
      // b goes into a
      if (kind[b] > kind[a]) [a, b] = [b, a]
      if (kind[b] === FIXED) continue
      const crease = this.isCrease(a, b)
      if (kind[b] === CREASE && !crease) continue
      const [na, nb] = [neighbours(a), neighbours(b)]
      let common = 0
      for (const v of nb) if (na.has(v)) common++
      // the link condition: or the surface would be pinched
      if (common !== 2) continue
      for (let k = 0; k < 3; k++) moved[k] = kind[a] === FREE ? (p[3 * a + k] + p[3 * b + k]) / 2 : p[3 * a + k]
      if (kind[b] === CREASE && !this.nearlyStraight(a, b, nb)) continue
      let fine = true
      for (const v of nb) if (v !== a && (p[3 * v] - moved[0]) ** 2 + (p[3 * v + 1] - moved[1]) ** 2 + (p[3 * v + 2] - moved[2]) ** 2 > most) fine = false
      if (kind[a] === FREE)
        for (const v of na) if (v !== b && (p[3 * v] - moved[0]) ** 2 + (p[3 * v + 1] - moved[1]) ** 2 + (p[3 * v + 2] - moved[2]) ** 2 > most) fine = false
      for (const v of [a, b]) for (let j = first[v]; j < first[v + 1] && fine; j++) if (!this.staysUp(list[j], a, b, moved)) fine = false
      if (!fine) continue
      if (kind[b] === CREASE) {
        // the crease goes on from a
        for (const v of nb)
          if (v !== a && this.isCrease(b, v)) {
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
      for (const v of na) locked[v] = 1
      for (const v of nb) locked[v] = 1
      locked[a] = locked[b] = 1
      done++
    }
    if (done > 0) {
      this.indices = indices.filter((_, i) => !gone[Math.floor(i / 3)])
      this.label = this.label.filter((_, t) => !gone[t])
    }
    return done
  }

  /** Whether a crease goes on nearly straight when b, next to a, is left out of it. */
  private nearlyStraight(a: number, b: number, nb: ReadonlySet<number>): boolean {
    const { positions: p } = this
    for (const c of nb) {
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
  private staysUp(t: number, a: number, b: number, at: readonly number[]): boolean {
    const { indices, positions: p } = this
    const own = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    // the two triangles between them go
    if (own.includes(a) && own.includes(b)) return true
    const before = own.map((v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]])
    const after = own.map((v, k) => (v === a || v === b ? at : before[k]))
    return turnsLittle(before, after)
  }

  /** Flips sides where that brings vertices nearer to six neighbours, none next to another in one pass; gives how many. */
  flip(): number {
    const { indices, kind, positions: p } = this
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
      const at = (v: number) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
      const [A, B, C, D] = [at(a), at(b), at(c), at(d)]
      if (!turnsLittle([A, B, C], [A, D, C]) || !turnsLittle([B, A, D], [D, B, C]) || !turnsLittle([A, B, C], [D, B, C]) || !turnsLittle([B, A, D], [A, D, C]))
        continue
      indices.set([a, d, c], 3 * s)
      indices.set([d, b, c], 3 * t)
      locked[s] = locked[t] = 1
      valence[a]--
      valence[b]--
      valence[c]++
      valence[d]++
      edges.value[edges.slot(c, d)] = 0
      edges.value[edges.slot(d, c)] = 0
      this.lockBeside(edges, locked, [a, d, b, c])
      done++
    }
    return done
  }

  /** The triangles beyond the four sides about a flipped one are left alone for the rest of the pass. */
  private lockBeside(edges: EdgeTable, locked: Uint8Array, ring: readonly number[]): void {
    ring.forEach((v, k) => {
      const w = ring[(k + 1) % ring.length]
      for (const i of [edges.get(v, w, -1), edges.get(w, v, -1)]) if (i >= 0) locked[Math.floor(i / 3)] = 1
    })
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
      const n = normalOf(at(p, indices[t]), at(p, indices[t + 1]), at(p, indices[t + 2]))
      for (let j = 0; j < 3; j++) for (let k = 0; k < 3; k++) normal[3 * indices[t + j] + k] += n[k]
    }
    const { first, list } = trianglesAbout(indices, this.vertices)
    const to = [0, 0, 0]
    for (let v = 0; v < this.vertices; v++) {
      if (kind[v] !== FREE || count[v] === 0) continue
      const n = normal.subarray(3 * v, 3 * v + 3)
      const size = Math.hypot(n[0], n[1], n[2]) || 1
      const way = [0, 1, 2].map((k) => sum[3 * v + k] / count[v] - p[3 * v + k])
      const up = (way[0] * n[0] + way[1] * n[1] + way[2] * n[2]) / size
      for (let k = 0; k < 3; k++) to[k] = p[3 * v + k] + way[k] - (up * n[k]) / size
      const was = at(p, v)
      const on = this.on[v]
      for (let k = 0; k < 3; k++) p[3 * v + k] = to[k]
      this.project(v)
      // nothing may turn over by it
      let fine = true
      for (let j = first[v]; j < first[v + 1] && fine; j++) {
        const own = [0, 1, 2].map((k) => indices[3 * list[j] + k])
        const after = own.map((w) => at(p, w))
        fine = turnsLittle(
          own.map((w, k) => (w === v ? was : after[k])),
          after,
        )
      }
      if (fine) continue
      for (let k = 0; k < 3; k++) p[3 * v + k] = was[k]
      this.on[v] = on
    }
  }

  /** Puts a vertex onto the source: from the triangle it lay on over those that share a corner, as long as one is nearer. */
  private project(v: number): void {
    const { positions: p } = this
    const { positions: q, indices } = this.source
    const { first, list } = this.around
    const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
    const distance = (t: number) => toTriangle(x, y, z, q, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
    let best = this.on[v]
    let least = distance(best)
    for (let round = 0, better = true; better && round < 64; round++) {
      better = false
      const from = best
      for (let k = 0; k < 3; k++) {
        const corner = indices[3 * from + k]
        for (let j = first[corner]; j < first[corner + 1]; j++) {
          const t = list[j]
          if (t === best || t === from) continue
          const d = distance(t)
          if (d < least) {
            best = t
            least = d
            better = true
          }
        }
      }
    }
    distance(best)
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

const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)
const at = (p: Float64Array, v: number) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]]

function normalOf(a: readonly number[], b: readonly number[], c: readonly number[]): [number, number, number] {
  const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]]
  const [vx, vy, vz] = [c[0] - a[0], c[1] - a[1], c[2] - a[2]]
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
}

/** Whether a triangle faces nearly where it did, and has some area: no sliver is made of what was none. */
function turnsLittle(before: readonly (readonly number[])[], after: readonly (readonly number[])[]): boolean {
  const n = normalOf(before[0], before[1], before[2])
  const m = normalOf(after[0], after[1], after[2])
  const [a, b] = [Math.hypot(...n), Math.hypot(...m)]
  if (!(b > 0)) return false
  const side = Math.max(...[0, 1, 2].map((k) => Math.hypot(...[0, 1, 2].map((j) => after[k][j] - after[(k + 1) % 3][j]))))
  const was = Math.max(...[0, 1, 2].map((k) => Math.hypot(...[0, 1, 2].map((j) => before[k][j] - before[(k + 1) % 3][j]))))
  // height over the longest side
  if (b / side ** 2 < Math.min(0.15, (0.8 * a) / was ** 2)) return false
  return a === 0 || (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / (a * b) > TURN
}
