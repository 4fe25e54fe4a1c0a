import { EdgeTable } from '../check/edge-table'
import { longer } from '../solid/vertex-table'
import { creasesOf } from './creases'
import { type LabelledMesh, trianglesAbout } from './labelled'
import { nearest, toTriangle } from '../solid/nearest'
import type { Breathe } from './remesh'

/** Sides are split above and collapsed below these shares of the length that is asked for. */
const LONG = 4 / 3
const SHORT = 4 / 5

const ROUNDS = 4
const PASSES = 3
/**
 * At first sides may be so many times as long as they are to be, and less and less: short sides go while there are few triangles. Cut at once, slivers would become four times
 * as many triangles as are wanted; coarser still, middles of sides that run across thin bands land on the other side of them, and none becomes short. No two sides next to each other collapse in one pass, and most are short then.
 */
const LEVELS = [4, 2, 1]
const PASSES_EACH = 8
/** A pass that changed fewer than this share of the vertices is the last of its round. */
const FEW = 0.001

/** The middle of a side is put onto the surface where either half is shorter than the side by this, as squares. */
const NO_SHORTER = 0.5

/** A triangle may turn by as much as this cosine when a side is collapsed or flipped. */
const TURN = 0.7

/** A corner of a crease may be left out that lies off the line of its neighbours by this share of the length. */
const OFF_LINE = 0.02

/** A vertex this near to a triangle, as a square, mm², lies on it. */
const ON_IT = 1e-20
/** The same for vertices of a crease, which lie between two triangles up to rounding. */
const AT_IT = 1e-12

/** How much longer sides may be, mm, for each mm that they are further off short ones. */
const GROWTH = 0.4
/** Rounds of handing lengths on to neighbours. */
const HANDED = 24

/** Classes of vertices: free, on a crease, and fixed. */
const FREE = 0
const CREASE = 1
const FIXED = 2

/**
 * Triangles of one size all over, about `edge` mm a side, by splitting, collapsing, flipping and sliding in turn (Botsch & Kobbelt, "A
 * remeshing approach to multiresolution modeling", 2004). Sides that bend by more than `angle` degrees and borders between labels stay where
 * they are; everything else lies on the surface as it was. The mesh must be closed.
 *
 * With `lengths`, one for each triangle of the mesh (mm), sides are as long as where they lie says, and go over from short to long little by little.
 * Triangles with a 1 in `kept` are cut where they are too long, and stay as they are otherwise.
 */
export async function evenlyRemeshed(
  mesh: LabelledMesh,
  edge: number,
  angle: number,
  breathe: Breathe,
  { lengths, kept }: { readonly lengths?: Float32Array; readonly kept?: Uint8Array } = {},
): Promise<LabelledMesh> {
  const work = new Remesher(mesh, edge, angle, lengths, kept)
  for (let round = 0; round < ROUNDS; round++) {
    for (const level of round === 0 ? LEVELS : [1]) {
      work.level = level
      work.size()
      work.split()
      work.renumber()
      await breathe()
      for (let pass = 0; pass < (round === 0 ? PASSES_EACH : PASSES); pass++) if (work.collapse(pass > 0) <= FEW * work.vertices) break
      await breathe()
    }
    for (let pass = 0; pass < PASSES; pass++) if (work.flip(pass > 0) <= FEW * work.vertices) break
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
  vertices: number
  /** how many times as long as they are to be sides may be for now */
  level = 1
  private positions: Float64Array
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
    private readonly lengths?: Float32Array,
    kept?: Uint8Array,
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
    for (let i = 0; kept && i < indices.length; i++) {
      if (kept[Math.floor(i / 3)] === 0) continue
      this.kind[indices[i]] = FIXED
      this.mark(indices[i], indices[next(i)])
    }
    this.around = trianglesAbout(indices, this.vertices)
    if (lengths) this.sized = new Float32Array(this.vertices).fill(edge)
  }

  /** per vertex how long sides are to be there, where that is not the same all over */
  private sized: Float32Array | undefined

  /** How long a side is to be. */
  private lengthAt(a: number, b: number): number {
    return this.sized ? Math.min(this.sized[a], this.sized[b]) : this.edge
  }

  /** What the source says at a vertex: on a crease the least of the triangles that meet there. */
  private saidAt(v: number): number {
    const lengths = this.lengths as Float32Array
    const on = this.on[v]
    if (this.kind[v] === FREE) return lengths[on]
    const { positions: p } = this
    const { positions: q, indices } = this.source
    const { first, list } = this.around
    let least = lengths[on]
    for (let k = 3 * on; k < 3 * on + 3; k++)
      for (let j = first[indices[k]]; j < first[indices[k] + 1]; j++) {
        const t = list[j]
        if (lengths[t] >= least) continue
        if (toTriangle(p[3 * v], p[3 * v + 1], p[3 * v + 2], q, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]) < AT_IT) least = lengths[t]
      }
    return least
  }

  /** Finds how long sides are to be at each vertex: no longer than is said there, nor than beside it and a little. */
  size(): void {
    const { sized, indices } = this
    if (!sized) return
    for (let v = 0; v < this.vertices; v++) sized[v] = this.saidAt(v)
    for (let round = 0, shorter = true; shorter && round < HANDED; round++) {
      shorter = false
      for (let i = 0; i < indices.length; i++) {
        const a = indices[i]
        const b = indices[next(i)]
        const low = sized[a] < sized[b] ? a : b
        const high = low === a ? b : a
        if (sized[high] <= sized[low]) continue
        const most = sized[low] + GROWTH * Math.sqrt(this.length2(a, b))
        if (sized[high] <= most + 1e-6) continue
        sized[high] = most
        shorter = true
      }
    }
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
    const x = p[3 * a] - p[3 * b]
    const y = p[3 * a + 1] - p[3 * b + 1]
    const z = p[3 * a + 2] - p[3 * b + 2]
    return x * x + y * y + z * z
  }

  /** Cuts every long side in its middle, and again until none is left; triangles are cut by how many of their sides are. */
  split(): void {
    const isLong = (a: number, b: number) => this.length2(a, b) > (LONG * this.level * this.lengthAt(a, b)) ** 2
    for (let again = true, round = 0; again && round < 14; round++) {
      const { indices } = this
      const added: number[] = []
      for (let i = 0; i < indices.length; i++) {
        const a = indices[i]
        const b = indices[next(i)]
        if (a < b && isLong(a, b)) added.push(a, b)
      }
      again = added.length > 0
      if (!again) return
      const middles = new EdgeTable(added.length / 2)
      for (let n = 0; n < added.length; n += 2) middles.value[middles.slot(added[n], added[n + 1])] = this.vertices + n / 2
      const middleOf = (a: number, b: number) => (isLong(a, b) ? (a < b ? middles.get(a, b, -1) : middles.get(b, a, -1)) : -1)
      this.room(this.vertices + added.length / 2)
      const { positions: p } = this
      for (let n = 0; n < added.length; n += 2) {
        const a = added[n]
        const b = added[n + 1]
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
          // across a thin band the nearest place may lie far off, and its sides would get no shorter however often they are cut
          if (Math.max(this.length2(a, v), this.length2(b, v)) > NO_SHORTER * this.length2(a, b)) {
            for (let k = 0; k < 3; k++) p[3 * v + k] = (p[3 * a + k] + p[3 * b + k]) / 2
            this.on[v] = this.on[a]
          }
        }
        if (this.sized) this.sized[v] = Math.min(this.saidAt(v), this.lengthAt(a, b) + (GROWTH * Math.sqrt(this.length2(a, b))) / 2)
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
        const a = indices[t]
        const b = indices[t + 1]
        const c = indices[t + 2]
        const x = middleOf(a, b)
        const y = middleOf(b, c)
        const z = middleOf(c, a)
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
    if (this.sized) this.sized = longer(this.sized, size)
  }

  /** Numbers vertices in the order in which triangles, which lie beside their neighbours, name them: what is looked at together lies together, and what no triangle names is gone. */
  renumber(): void {
    const { indices, positions: p, kind, on, sized, creases } = this
    const number = new Int32Array(this.vertices).fill(-1)
    const positions = new Float64Array(p.length)
    const kinds = new Uint8Array(kind.length)
    const ons = new Int32Array(on.length)
    const sizes = sized && new Float32Array(sized.length)
    let count = 0
    for (let i = 0; i < indices.length; i++) {
      const v = indices[i]
      if (number[v] < 0) {
        const n = (number[v] = count++)
        positions[3 * n] = p[3 * v]
        positions[3 * n + 1] = p[3 * v + 1]
        positions[3 * n + 2] = p[3 * v + 2]
        kinds[n] = kind[v]
        ons[n] = on[v]
        if (sizes && sized) sizes[n] = sized[v]
      }
      indices[i] = number[v]
    }
    this.positions = positions
    this.kind = kinds
    this.on = ons
    this.sized = sizes
    this.vertices = count
    this.creases = new EdgeTable(Math.max(64, this.marked))
    this.marked = 0
    for (let s = 0; s < creases.from.length; s++) if (creases.from[s] >= 0 && creases.value[s] > 0) this.mark(number[creases.from[s]], number[creases.to[s]])
  }

  /** Vertices that the last pass changed something at. */
  private touched = new Uint8Array(0)

  private touchNothing(): void {
    if (this.touched.length < this.vertices) this.touched = new Uint8Array(this.kind.length)
    else this.touched.fill(0)
  }

  /** Vertices at which a pass may find something new: all, or those that the last one touched and those beside them. */
  private worth(again: boolean): Uint8Array {
    const out = new Uint8Array(this.vertices)
    if (!again) return out.fill(1)
    const { indices, touched } = this
    for (let i = 0; i < indices.length; i += 3) {
      const a = indices[i]
      const b = indices[i + 1]
      const c = indices[i + 2]
      if (touched[a] || touched[b] || touched[c]) out[a] = out[b] = out[c] = 1
    }
    return out
  }

  private besideOf(v: number, { first, list }: About, out: Uint8Array): void {
    for (let i = first[v]; i < first[v + 1]; i++) for (let k = 3 * list[i]; k < 3 * list[i] + 3; k++) out[this.indices[k]] = 1
  }

  /** Collapses short sides, none next to another in one pass; gives how many. What the pass before found to stay, and has not touched, is not looked at `again`. */
  collapse(again: boolean): number {
    const { indices, kind, positions: p } = this
    const { first, list } = trianglesAbout(indices, this.vertices)
    const worth = this.worth(again)
    this.touchNothing()
    const locked = new Uint8Array(this.vertices)
    const gone = new Uint8Array(indices.length / 3)
    const moved = new Float64Array(3)
    let done = 0
    const [na, nb] = [new Neighbours(this.vertices), new Neighbours(this.vertices)]
    for (let i = 0; i < indices.length; i++) {
      let a = indices[i]
      let b = indices[next(i)]
      if (a > b || !(worth[a] || worth[b]) || locked[a] || locked[b] || this.length2(a, b) >= (SHORT * this.lengthAt(a, b)) ** 2) continue
      // b goes into a
      if (kind[b] > kind[a]) {
        b = a
        a = indices[next(i)]
      }
      if (kind[b] === FIXED) continue
      const crease = this.isCrease(a, b)
      if (kind[b] === CREASE && !crease) continue
      nb.about(b, indices, first, list)
      if (kind[b] === CREASE && !this.nearlyStraight(a, b, nb)) continue
      na.about(a, indices, first, list)
      let common = 0
      for (let n = 0; n < nb.count; n++) if (na.has(nb.list[n])) common++
      // the link condition: or the surface would be pinched
      if (common !== 2) continue
      for (let k = 0; k < 3; k++) moved[k] = kind[a] === FREE ? (p[3 * a + k] + p[3 * b + k]) / 2 : p[3 * a + k]
      if (this.tooFar(nb, moved, a, a) || (kind[a] === FREE && this.tooFar(na, moved, b, a))) continue
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
      if (this.sized) this.sized[a] = this.lengthAt(a, b)
      for (let j = first[b]; j < first[b + 1]; j++) {
        const t = list[j]
        for (let k = 3 * t; k < 3 * t + 3; k++) if (indices[k] === b) indices[k] = a
        if (indices[3 * t] === indices[3 * t + 1] || indices[3 * t + 1] === indices[3 * t + 2] || indices[3 * t] === indices[3 * t + 2]) gone[t] = 1
      }
      if (kind[a] === FREE) this.project(a)
      for (let n = 0; n < na.count; n++) locked[na.list[n]] = 1
      for (let n = 0; n < nb.count; n++) locked[nb.list[n]] = 1
      locked[a] = locked[b] = this.touched[a] = 1
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

  /** Whether neighbours, but for one, lie too far from a place for sides that `a` comes to have there. */
  private tooFar(neighbours: Neighbours, at: Float64Array, but: number, a: number): boolean {
    const { positions: p, sized } = this
    const most = LONG * this.level
    if (!sized) return neighbours.reaches(p, at, but) > (most * this.edge) ** 2
    for (let n = 0; n < neighbours.count; n++) {
      const v = neighbours.list[n]
      if (v === but) continue
      const square = (p[3 * v] - at[0]) ** 2 + (p[3 * v + 1] - at[1]) ** 2 + (p[3 * v + 2] - at[2]) ** 2
      if (square > (most * Math.min(sized[a], sized[v])) ** 2) return true
    }
    return false
  }

  /** Whether a crease goes on nearly straight when b, next to a, is left out of it. */
  private nearlyStraight(a: number, b: number, nb: Neighbours): boolean {
    const { positions: p } = this
    for (let n = 0; n < nb.count; n++) {
      const c = nb.list[n]
      if (c === a || !this.isCrease(b, c)) continue
      const wx = p[3 * c] - p[3 * a]
      const wy = p[3 * c + 1] - p[3 * a + 1]
      const wz = p[3 * c + 2] - p[3 * a + 2]
      const tx = p[3 * b] - p[3 * a]
      const ty = p[3 * b + 1] - p[3 * a + 1]
      const tz = p[3 * b + 2] - p[3 * a + 2]
      const share = (wx * tx + wy * ty + wz * tz) / (wx * wx + wy * wy + wz * wz || 1)
      const x = tx - share * wx
      const y = ty - share * wy
      const z = tz - share * wz
      if (Math.sqrt(x * x + y * y + z * z) > OFF_LINE * this.lengthAt(a, b)) return false
    }
    return true
  }

  /** Whether a triangle keeps its side and some area when a and b come to lie at `at`. */
  private staysUp(t: number, a: number, b: number, at: Float64Array): boolean {
    const { indices, positions: p } = this
    const u = indices[3 * t]
    const v = indices[3 * t + 1]
    const w = indices[3 * t + 2]
    const [movesU, movesV, movesW] = [u === a || u === b, v === a || v === b, w === a || w === b]
    // the two triangles between them go
    if ((movesU && movesV) || (movesV && movesW) || (movesW && movesU)) return true
    look(BEFORE, p, 3 * u, p, 3 * v, p, 3 * w)
    look(AFTER, movesU ? at : p, movesU ? 0 : 3 * u, movesV ? at : p, movesV ? 0 : 3 * v, movesW ? at : p, movesW ? 0 : 3 * w)
    return turnsLittle(BEFORE, AFTER)
  }

  /** Flips sides where that brings vertices nearer to six neighbours, none next to another in one pass; gives how many. `again` as for collapsing. */
  flip(again: boolean): number {
    const { indices, kind, positions: p } = this
    const valence = new Int16Array(this.vertices)
    for (let i = 0; i < indices.length; i++) valence[indices[i]]++
    const about = trianglesAbout(indices, this.vertices)
    // sides as they are before this pass, and those that it makes: none of them comes twice
    const before = indices.slice()
    const made = new SideList(this.vertices)
    const locked = new Uint8Array(indices.length / 3)
    const worth = this.worth(again)
    this.touchNothing()
    const { touched } = this
    const off = (v: number) => (kind[v] === FREE || valence[v] > 6 ? valence[v] - 6 : 0)
    let done = 0
    for (let i = 0; i < indices.length; i++) {
      const a = indices[i]
      const b = indices[next(i)]
      const s = Math.floor(i / 3)
      if (a > b || !(worth[a] || worth[b]) || locked[s]) continue
      const j = acrossFrom(indices, about, a, b)
      if (j < 0) continue
      const t = Math.floor(j / 3)
      if (locked[t] || this.isCrease(a, b)) continue
      const c = indices[next(next(i))]
      const d = indices[next(next(j))]
      if (c === d || valence[a] < 4 || valence[b] < 4) continue
      // the sum of squares of what each is off by gets less
      if (off(a) + off(b) - off(c) - off(d) <= 2) continue
      // the other diagonal must not be a side already
      if (haveSide(before, about, c, d) || made.has(c, d)) continue
      look(0, p, 3 * a, p, 3 * b, p, 3 * c)
      look(1, p, 3 * b, p, 3 * a, p, 3 * d)
      look(2, p, 3 * a, p, 3 * d, p, 3 * c)
      look(3, p, 3 * d, p, 3 * b, p, 3 * c)
      if (!turnsLittle(0, 2) || !turnsLittle(1, 3) || !turnsLittle(0, 3) || !turnsLittle(1, 2)) continue
      // the triangles beyond are left alone for the rest of the pass
      for (let k = 0; k < 3; k++) {
        const [h, g] = [3 * s + k, 3 * t + k]
        if (h !== i) lockAcross(locked, indices, about, h)
        if (g !== j) lockAcross(locked, indices, about, g)
      }
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
      made.add(c, d)
      touched[a] = touched[b] = touched[c] = touched[d] = 1
      // what comes later in this pass may find neighbours that need another number
      for (const v of [a, b, c, d]) this.besideOf(v, about, worth)
      done++
    }
    return done
  }

  /** Free vertices go towards the middle of their neighbours, along the surface. */
  slide(): void {
    const { indices, positions: p, kind } = this
    const sum = new Float64Array(3 * this.vertices)
    const count = new Uint16Array(this.vertices)
    const normal = new Float64Array(3 * this.vertices)
    for (let i = 0; i < indices.length; i++) {
      const v = indices[i]
      const w = indices[next(i)]
      count[v]++
      for (let k = 0; k < 3; k++) sum[3 * v + k] += p[3 * w + k]
    }
    for (let t = 0; t < indices.length; t += 3) {
      look(0, p, 3 * indices[t], p, 3 * indices[t + 1], p, 3 * indices[t + 2])
      const nx = looks[0]
      const ny = looks[1]
      const nz = looks[2]
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
      const nx = normal[o]
      const ny = normal[o + 1]
      const nz = normal[o + 2]
      const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1
      const x = p[o]
      const y = p[o + 1]
      const z = p[o + 2]
      const wx = sum[o] / count[v] - x
      const wy = sum[o + 1] / count[v] - y
      const wz = sum[o + 2] / count[v] - z
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

/** A half-edge from b to a, −1 where there is none, looked for at whichever of them fewer triangles meet. */
function acrossFrom(indices: Uint32Array, { first, list }: About, a: number, b: number): number {
  const at = first[a + 1] - first[a] < first[b + 1] - first[b] ? a : b
  for (let i = first[at]; i < first[at + 1]; i++) {
    const o = 3 * list[i]
    if (indices[o] === b && indices[o + 1] === a) return o
    if (indices[o + 1] === b && indices[o + 2] === a) return o + 1
    if (indices[o + 2] === b && indices[o] === a) return o + 2
  }
  return -1
}

function lockAcross(locked: Uint8Array, indices: Uint32Array, about: About, h: number): void {
  const across = acrossFrom(indices, about, indices[h], indices[next(h)])
  if (across >= 0) locked[Math.floor(across / 3)] = 1
}

/** Whether two vertices share a triangle. */
function haveSide(indices: Uint32Array, { first, list }: About, c: number, d: number): boolean {
  const [at, other] = first[c + 1] - first[c] < first[d + 1] - first[d] ? [c, d] : [d, c]
  for (let i = first[at]; i < first[at + 1]; i++) {
    const o = 3 * list[i]
    if (indices[o] === other || indices[o + 1] === other || indices[o + 2] === other) return true
  }
  return false
}

type About = ReturnType<typeof trianglesAbout>

/** Sides that were made, kept at the lower of their ends. */
class SideList {
  private readonly head: Int32Array
  private readonly to: number[] = []
  private readonly after: number[] = []

  constructor(vertices: number) {
    this.head = new Int32Array(vertices).fill(-1)
  }

  add(a: number, b: number): void {
    const low = Math.min(a, b)
    this.after.push(this.head[low])
    this.head[low] = this.to.push(Math.max(a, b)) - 1
  }

  has(a: number, b: number): boolean {
    const high = Math.max(a, b)
    for (let n = this.head[Math.min(a, b)]; n >= 0; n = this.after[n]) if (this.to[n] === high) return true
    return false
  }
}

// how triangles look: normal (as long as twice the area), its length, and the square of the longest side; reused: this runs for every side and vertex in every round
const looks = new Float64Array(20)
const BEFORE = 0
const AFTER = 1

/** Puts how a triangle looks into place n; each corner by the list it is in and where that begins. */
function look(n: number, p: Float64Array, a: number, q: Float64Array, b: number, r: Float64Array, c: number): void {
  const ux = q[b] - p[a]
  const uy = q[b + 1] - p[a + 1]
  const uz = q[b + 2] - p[a + 2]
  const vx = r[c] - p[a]
  const vy = r[c + 1] - p[a + 1]
  const vz = r[c + 2] - p[a + 2]
  const wx = ux - vx
  const wy = uy - vy
  const wz = uz - vz
  const nx = uy * vz - uz * vy
  const ny = uz * vx - ux * vz
  const nz = ux * vy - uy * vx
  const o = 5 * n
  looks[o] = nx
  looks[o + 1] = ny
  looks[o + 2] = nz
  looks[o + 3] = Math.sqrt(nx * nx + ny * ny + nz * nz)
  looks[o + 4] = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz)
}

/** Whether the second of two triangles faces nearly where the first does, and has some area: no sliver is made of what was none. */
function turnsLittle(before: number, after: number): boolean {
  const o = 5 * before
  const q = 5 * after
  const a = looks[o + 3]
  const b = looks[q + 3]
  if (!(b > 0)) return false
  // height over the longest side
  if (b / looks[q + 4] < Math.min(0.15, (0.8 * a) / looks[o + 4])) return false
  return a === 0 || looks[o] * looks[q] + looks[o + 1] * looks[q + 1] + looks[o + 2] * looks[q + 2] > TURN * a * b
}
