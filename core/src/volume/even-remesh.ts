import { nearest, toTriangle, weights } from '../solid/nearest'
import { longer } from '../solid/vertex-table'
import { creasesOf } from './creases'
import { after, before, HalfEdges } from './half-edges'
import { type LabelledMesh, trianglesAbout } from './labelled'
import type { Breathe } from './remesh'

/** Sides are split above and collapsed below these shares of the length that is asked for. */
const LONG = 4 / 3
const SHORT = 4 / 5

/** Short sides are collapsed by length, told apart by so many. */
const LENGTHS = 256
/**
 * Round by round, how many times as long as they are to be sides may be: short ones go, and what is flat becomes even, while there are few triangles. Cut at once, slivers would
 * become four times as many as are wanted, and sides that are but a little too long two that are too short.
 */
const LEVELS = [8, 2, 1.2, 1, 1]

/** The middle of a side is put onto the surface where its halves, and the sides from there to the corners across, are shorter than it by this, as squares. */
const NO_SHORTER = 0.5
const SHORTER = 0.9

/** The middle of a side that lies no further off the source than this share of the side, as squares, is looked for from no other corner. */
const NEAR = 0.0025

/** A triangle may turn by as much as this cosine when a side is collapsed or flipped. */
const TURN = 0.7

/** As long as sides may be longer than this many times what they are to be, what is flat alone is changed, up to this cosine: elsewhere coarse triangles would leave the surface, and middles of their sides find no way back to where they belong. */
const MEDIUM = 1.5
const FLAT = 0.999
/** Sides shorter than this share of the length go all the same: what is lost by that is smaller still. */
const TINY = 0.2

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

/** A crease that is not even cut. */
const KEPT = 2

/**
 * Triangles of one size all over, about `edge` mm a side, by splitting, collapsing, flipping and sliding in turn (Botsch & Kobbelt, "A
 * remeshing approach to multiresolution modeling", 2004). Sides that bend by more than `angle` degrees and borders between labels stay where
 * they are; everything else lies on the surface as it was. Throws a RangeError where the mesh is not closed.
 *
 * With `lengths`, one for each triangle of the mesh (mm), sides are as long as where they lie says, and go over from short to long little by little.
 * Triangles with a 1 in `kept` stay as they are, and so do sides beside them that could not be cut without cutting those.
 */
export async function evenlyRemeshed(
  mesh: LabelledMesh,
  edge: number,
  angle: number,
  breathe: Breathe,
  { lengths, kept }: { readonly lengths?: Float32Array; readonly kept?: Uint8Array } = {},
): Promise<LabelledMesh> {
  const work = new Remesher(mesh, edge, angle, lengths, kept)
  for (const level of LEVELS) {
    work.level = level
    work.size()
    const short = work.split()
    await breathe()
    work.collapse(short)
    await breathe()
    work.flip()
    work.slide()
    await breathe()
  }
  return work.result()
}

/** A vertex that more sides than this meet in is not collapsed with others until its neighbours are fewer: the work grows with their square. */
const MOST_ABOUT = 256

/** The vertices next to one, in order round it: it makes a triangle with each and the next. */
class Ring {
  list = new Int32Array(64)
  count = 0

  about({ start, twin, out }: HalfEdges, v: number): this {
    const first = out[v]
    let h = first
    let count = 0
    do {
      if (count === this.list.length) this.list = longer(this.list, 2 * count)
      const following = after(h)
      this.list[count++] = start[following]
      h = twin[after(following)]
    } while (h !== first)
    this.count = count
    return this
  }

  /** How many vertices are in both. */
  inCommon(other: Ring): number {
    let common = 0
    for (let n = 0; n < other.count; n++) {
      const v = other.list[n]
      for (let m = 0; m < this.count; m++) if (this.list[m] === v) common++
    }
    return common
  }
}

class Remesher {
  /** how many times as long as they are to be sides may be for now */
  level = 1
  private readonly mesh: HalfEdges
  private positions: Float64Array
  /** per vertex its class, and the triangle of the source it lies on */
  private kind: Uint8Array
  private on: Int32Array
  /** per vertex how long sides are to be there, where that is not the same all over */
  private sized: Float32Array | undefined
  /** of the source the triangles about each vertex, and the corner across each side */
  private readonly around: { first: Uint32Array; list: Uint32Array }
  private readonly across: Int32Array

  constructor(
    private readonly source: LabelledMesh,
    private readonly edge: number,
    angle: number,
    private readonly lengths?: Float32Array,
    kept?: Uint8Array,
  ) {
    const { positions, indices, label } = source
    const given = positions.length / 3
    const { along, crease, across } = creasesOf(source, angle)
    this.across = across
    for (let i = 0; kept && i < indices.length; i++) if (kept[Math.floor(i / 3)]) crease[i] = KEPT
    const mesh = new HalfEdges(indices, label, { across, crease }, given)
    this.mesh = mesh
    const vertices = mesh.vertices
    this.positions = longer(positions, 3 * vertices)
    this.kind = new Uint8Array(vertices)
    for (let v = 0; v < given; v++) this.kind[v] = along[2 * v] < 0 ? FREE : along[2 * v] === v ? FIXED : CREASE
    for (const [n, v] of mesh.doubled.entries()) {
      this.kind[v] = this.kind[given + n] = FIXED
      this.positions.copyWithin(3 * (given + n), 3 * v, 3 * v + 3)
    }
    this.on = new Int32Array(vertices)
    for (let t = 0; t < mesh.triangles; t++)
      for (let h = 4 * t; h < 4 * t + 3; h++) {
        const v = mesh.start[h]
        this.on[v] = t
        if (kept?.[t]) {
          this.kind[v] = FIXED
          mesh.crease[mesh.twin[h]] = KEPT
        }
      }
    this.around = trianglesAbout(indices, given)
    if (lengths) this.sized = new Float32Array(vertices).fill(edge)
  }

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
    const { sized, mesh } = this
    if (!sized) return
    const { start } = mesh
    for (let v = 0; v < mesh.vertices; v++) sized[v] = this.saidAt(v)
    for (let round = 0, shorter = true; shorter && round < HANDED; round++) {
      shorter = false
      for (let h = 0; h < 4 * mesh.triangles; h++) {
        if ((h & 3) === 3) continue
        const a = start[h]
        const b = start[after(h)]
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

  private length2(a: number, b: number): number {
    const { positions: p } = this
    const x = p[3 * a] - p[3 * b]
    const y = p[3 * a + 1] - p[3 * b + 1]
    const z = p[3 * a + 2] - p[3 * b + 2]
    return x * x + y * y + z * z
  }

  /**
   * Cuts long sides in their middles until none is left, and gives the short ones. What is cut is the longest side of both its triangles (Rivara, "Algorithms for refining triangular grids",
   * 1984), be that long for where it lies or not: sides that are new are shorter than it, so that there is an end to it.
   */
  split(): number[] {
    const { mesh } = this
    const most = (LONG * this.level) ** 2
    const short: number[] = []
    // what is new comes at the end, and is looked at there together with what lies beside it: each side at its later half-edge
    for (let h = 0; h < 4 * mesh.triangles; ) {
      if (h < mesh.twin[h] || (h & 3) === 3) {
        h++
        continue
      }
      const a = mesh.start[h]
      const b = mesh.start[after(h)]
      const length = this.lengthAt(a, b)
      const square = this.length2(a, b)
      if (square > most * length * length) {
        const longest = this.longestNear(h, square)
        if (mesh.crease[longest] !== KEPT) {
          // and once more, should it not be the one that was cut
          this.splitAt(longest)
          continue
        }
      } else if (square < SHORT * SHORT * length * length) short.push(h)
      h++
    }
    return short
  }

  /** From a side over those of its triangles that are longer, as long as there is one. */
  private longestNear(h: number, square: number): number {
    const { twin } = this.mesh
    let longest = h
    let most = square
    for (let at = -1; at !== longest; ) {
      at = longest
      const g = twin[at]
      for (const side of [after(at), before(at), after(g), before(g)]) {
        const its = this.sideLength2(side)
        if (its <= most * (1 + 1e-9)) continue
        most = its
        longest = side
      }
    }
    return longest
  }

  private sideLength2(h: number): number {
    const { start } = this.mesh
    return this.length2(start[h], start[after(h)])
  }

  private splitAt(h: number): void {
    const { mesh } = this
    if (mesh.vertices === this.kind.length) this.room()
    const { positions: p, sized } = this
    const a = mesh.start[h]
    const b = mesh.start[after(h)]
    const c = mesh.start[before(h)]
    const d = mesh.start[before(mesh.twin[h])]
    const v = mesh.split(h)
    const x = (p[3 * a] + p[3 * b]) / 2
    const y = (p[3 * a + 1] + p[3 * b + 1]) / 2
    const z = (p[3 * a + 2] + p[3 * b + 2]) / 2
    const square = this.length2(a, b)
    // of where the four corners about it lie: on a crease that may be on the other side of it
    let least = this.descend(x, y, z, this.on[a])
    let [on, nx, ny, nz] = [this.found, nearest[0], nearest[1], nearest[2]]
    for (const other of [b, c, d]) {
      if (least <= (other === b ? ON_IT : NEAR * square)) break
      const distance = this.descend(x, y, z, this.on[other])
      if (distance >= least) continue
      least = distance
      ;[on, nx, ny, nz] = [this.found, nearest[0], nearest[1], nearest[2]]
    }
    this.on[v] = on
    this.kind[v] = mesh.crease[h] ? CREASE : FREE
    // across a thin band the nearest place may lie far off, and sides would get no shorter however often they are cut
    const to = (w: number) => (p[3 * w] - nx) ** 2 + (p[3 * w + 1] - ny) ** 2 + (p[3 * w + 2] - nz) ** 2
    const stays = mesh.crease[h] || Math.max(to(a), to(b)) > NO_SHORTER * square || Math.max(to(c), to(d)) > SHORTER * square
    p[3 * v] = stays ? x : nx
    p[3 * v + 1] = stays ? y : ny
    p[3 * v + 2] = stays ? z : nz
    if (sized) sized[v] = Math.min(this.saidAt(v), this.lengthAt(a, b) + (GROWTH * Math.sqrt(square)) / 2)
  }

  private room(): void {
    const size = Math.ceil(1.5 * this.mesh.vertices) + 64
    this.mesh.room(size - this.mesh.vertices)
    this.positions = longer(this.positions, 3 * size)
    this.kind = longer(this.kind, size)
    this.on = longer(this.on, size)
    if (this.sized) this.sized = longer(this.sized, size)
  }

  /** What is looked at together comes to lie together, and what is gone leaves no gap. */
  tidy(): void {
    const old = this.mesh.tidy()
    const count = old.length
    // as much room as the half-edges have
    const room = this.mesh.out.length
    const { positions: p, kind, on, sized } = this
    const positions = new Float64Array(3 * room)
    for (let v = 0; v < count; v++) {
      const o = 3 * old[v]
      positions[3 * v] = p[o]
      positions[3 * v + 1] = p[o + 1]
      positions[3 * v + 2] = p[o + 2]
    }
    this.positions = positions
    this.kind = new Uint8Array(room)
    this.on = new Int32Array(room)
    if (sized) this.sized = new Float32Array(room)
    for (let v = 0; v < count; v++) {
      const o = old[v]
      this.kind[v] = kind[o]
      this.on[v] = on[o]
      if (sized && this.sized) this.sized[v] = sized[o]
    }
  }

  private isShort(h: number): boolean {
    const { start } = this.mesh
    const a = start[h]
    const b = start[after(h)]
    return this.length2(a, b) < (SHORT * this.lengthAt(a, b)) ** 2
  }

  /** Collapses short sides, where nothing is spoilt by it. */
  collapse(sides: readonly number[]): void {
    const { mesh, kind } = this
    const { start, twin } = mesh
    const short = this.shortestFirst(sides)
    for (let n = 0; n < short.length; n++) {
      const h = short[n]
      // what goes is what is held less
      if (start[h] >= 0 && this.isShort(h)) this.collapseInto(kind[start[after(h)]] > kind[start[h]] ? twin[h] : h)
    }
    this.tidy()
  }

  /** Short sides in the order of their lengths, as far as these differ by a part in so many: what is shortest first eats into nothing beside it. */
  private shortestFirst(sides: readonly number[]): Uint32Array {
    const { start } = this.mesh
    const place = new Uint16Array(sides.length)
    const first = new Uint32Array(LENGTHS + 1)
    for (let n = 0; n < sides.length; n++) {
      const share = Math.sqrt(this.sideLength2(sides[n])) / (SHORT * this.lengthAt(start[sides[n]], start[after(sides[n])]))
      place[n] = Math.min(LENGTHS - 1, Math.floor(LENGTHS * share))
      first[place[n] + 1]++
    }
    for (let k = 0; k < LENGTHS; k++) first[k + 1] += first[k]
    const out = new Uint32Array(sides.length)
    for (let n = 0; n < sides.length; n++) out[first[place[n]]++] = sides[n]
    return out
  }

  private readonly ringA = new Ring()
  private readonly ringB = new Ring()

  /** Takes the vertex at the end of a side into that at its start, where nothing is spoilt by it. */
  private collapseInto(h: number): void {
    const { mesh, kind, positions: p } = this
    const { start, twin, crease } = mesh
    const a = start[h]
    const b = start[after(h)]
    if (kind[b] === FIXED || (kind[b] === CREASE && !crease[h])) return
    const free = kind[a] === FREE
    const x = free ? (p[3 * a] + p[3 * b]) / 2 : p[3 * a]
    const y = free ? (p[3 * a + 1] + p[3 * b + 1]) / 2 : p[3 * a + 1]
    const z = free ? (p[3 * a + 2] + p[3 * b + 2]) / 2 : p[3 * a + 2]
    // what fails most often and is told soonest comes first
    if (!this.isNear(twin[h], x, y, z, a) || (free && !this.isNear(h, x, y, z, a))) return
    if (mesh.folds(h) || (kind[b] === CREASE && !this.nearlyStraight(h))) return
    if (!this.mayMove(twin[h], x, y, z) || (free && !this.mayMove(h, x, y, z))) return
    const nb = this.ringB.about(mesh, b)
    const na = this.ringA.about(mesh, a)
    // the link condition: or the surface would be pinched
    if (na.count > MOST_ABOUT || nb.count > MOST_ABOUT || na.inCommon(nb) !== 2) return
    mesh.collapse(h)
    p[3 * a] = x
    p[3 * a + 1] = y
    p[3 * a + 2] = z
    if (this.sized) this.sized[a] = this.lengthAt(a, b)
    if (free) this.project(a)
  }

  /** Whether no neighbour is too far off when the vertex where a side starts, both of whose triangles go, comes to lie elsewhere, where it is called `a`. */
  private isNear(h: number, x: number, y: number, z: number, a: number): boolean {
    const { positions: p, sized, edge } = this
    const { start, twin } = this.mesh
    const most = (LONG * this.level) ** 2
    for (let at = twin[before(h)]; at !== h; at = twin[before(at)]) {
      const w = start[after(at)]
      const dx = p[3 * w] - x
      const dy = p[3 * w + 1] - y
      const dz = p[3 * w + 2] - z
      const length = sized ? this.lengthAt(a, w) : edge
      if (dx * dx + dy * dy + dz * dz > most * length * length) return false
    }
    return true
  }

  /** Whether the vertex where a side starts, both of whose triangles go, may come to lie elsewhere: the other triangles about it keep their side and some area. */
  private mayMove(h: number, x: number, y: number, z: number): boolean {
    const { positions: p } = this
    const { start, twin } = this.mesh
    const turn = this.level > MEDIUM && this.sideLength2(h) > (TINY * this.lengthAt(start[h], start[after(h)])) ** 2 ? FLAT : TURN
    const o = 3 * start[h]
    const dx = p[o] - x
    const dy = p[o + 1] - y
    const dz = p[o + 2] - z
    let at = twin[before(h)]
    let w = 3 * start[after(at)]
    let vx = p[w] - p[o]
    let vy = p[w + 1] - p[o + 1]
    let vz = p[w + 2] - p[o + 2]
    for (at = twin[before(at)]; at !== h; at = twin[before(at)]) {
      w = 3 * start[after(at)]
      const ux = p[w] - p[o]
      const uy = p[w + 1] - p[o + 1]
      const uz = p[w + 2] - p[o + 2]
      if (!staysUp(vx, vy, vz, ux, uy, uz, dx, dy, dz, turn)) return false
      vx = ux
      vy = uy
      vz = uz
    }
    return true
  }

  /** Whether a crease goes on nearly straight when the end of one of its sides is left out of it. */
  private nearlyStraight(h: number): boolean {
    const { positions: p, mesh } = this
    const { start, twin, crease } = mesh
    const a = 3 * start[h]
    const b = 3 * start[after(h)]
    const most = (OFF_LINE * this.lengthAt(a / 3, b / 3)) ** 2
    const back = twin[h]
    for (let g = twin[before(back)]; g !== back; g = twin[before(g)]) {
      if (!crease[g]) continue
      const c = 3 * start[after(g)]
      const wx = p[c] - p[a]
      const wy = p[c + 1] - p[a + 1]
      const wz = p[c + 2] - p[a + 2]
      const tx = p[b] - p[a]
      const ty = p[b + 1] - p[a + 1]
      const tz = p[b + 2] - p[a + 2]
      const share = (wx * tx + wy * ty + wz * tz) / (wx * wx + wy * wy + wz * wz || 1)
      const x = tx - share * wx
      const y = ty - share * wy
      const z = tz - share * wz
      if (x * x + y * y + z * z > most) return false
    }
    return true
  }

  /** Flips sides where that brings vertices nearer to six neighbours, and then those beside them, until none does. */
  flip(): void {
    const { mesh, kind } = this
    const { start, twin, crease } = mesh
    const valence = new Int32Array(mesh.vertices)
    for (let h = 0; h < 4 * mesh.triangles; h++) if ((h & 3) !== 3) valence[start[h]]++
    // how many neighbours a vertex has too many, or, where it is free, too few
    const off = new Int32Array(mesh.vertices)
    const count = (v: number, more: number) => {
      const over = (valence[v] += more) - 6
      off[v] = over > 0 || kind[v] === FREE ? over : 0
    }
    for (let v = 0; v < mesh.vertices; v++) count(v, 0)
    const beside: number[] = []
    const tryAt = (h: number) => {
      const g = twin[h]
      const a = start[h]
      const b = start[g]
      const c = start[before(h)]
      const d = start[before(g)]
      // the sum of squares of what each is off by gets less; none comes to have two neighbours
      if (off[a] + off[b] - off[c] - off[d] <= 2 || crease[h] || valence[a] < 4 || valence[b] < 4) return
      // the other diagonal must not be a side already
      if (c === d || mesh.joined(c, d) || !this.mayFlip(a, b, c, d)) return
      mesh.flip(h)
      count(a, -1)
      count(b, -1)
      count(c, 1)
      count(d, 1)
      beside.push(h, before(h), g, before(g))
    }
    for (let h = 0; h < 4 * mesh.triangles; h++) if (h < twin[h]) tryAt(h)
    // each flip makes the sum less: there is an end to it
    for (let h = beside.pop(); h !== undefined; h = beside.pop()) tryAt(h)
  }

  /** Whether the two triangles beside a side from a to b, whose other corners are c and d, keep their side and some area when it is flipped. */
  private mayFlip(a: number, b: number, c: number, d: number): boolean {
    const { positions: p } = this
    look(0, p, 3 * a, 3 * b, 3 * c)
    look(1, p, 3 * b, 3 * a, 3 * d)
    look(2, p, 3 * a, 3 * d, 3 * c)
    look(3, p, 3 * d, 3 * b, 3 * c)
    if (this.level > MEDIUM && !alike(0, 1)) return false
    return turned(0, 2) && turned(1, 3) && turned(0, 3) && turned(1, 2)
  }

  /** Free vertices go towards the middle of their neighbours, along the surface. */
  slide(): void {
    const { mesh, positions: p, kind, on, ringA: ring } = this
    for (let v = 0; v < mesh.vertices; v++) {
      if (kind[v] !== FREE) continue
      const { list, count } = ring.about(mesh, v)
      const o = 3 * v
      const x = p[o]
      const y = p[o + 1]
      const z = p[o + 2]
      // sides to neighbours, their sum, and the normal, as long as the area is large
      let sx = 0
      let sy = 0
      let sz = 0
      let nx = 0
      let ny = 0
      let nz = 0
      const q = 3 * list[count - 1]
      let lx = p[q] - x
      let ly = p[q + 1] - y
      let lz = p[q + 2] - z
      for (let n = 0; n < count; n++) {
        const r = 3 * list[n]
        const ux = p[r] - x
        const uy = p[r + 1] - y
        const uz = p[r + 2] - z
        sx += ux
        sy += uy
        sz += uz
        nx += ly * uz - lz * uy
        ny += lz * ux - lx * uz
        nz += lx * uy - ly * ux
        lx = ux
        ly = uy
        lz = uz
      }
      if (this.level > MEDIUM && !this.isFlat(ring, v, nx, ny, nz)) continue
      const up = (sx * nx + sy * ny + sz * nz) / (nx * nx + ny * ny + nz * nz || 1)
      const was = on[v]
      p[o] = x + (sx - up * nx) / count
      p[o + 1] = y + (sy - up * ny) / count
      p[o + 2] = z + (sz - up * nz) / count
      this.project(v)
      const [tx, ty, tz] = [p[o], p[o + 1], p[o + 2]]
      p[o] = x
      p[o + 1] = y
      p[o + 2] = z
      // nothing may turn over by it
      lx = p[q] - x
      ly = p[q + 1] - y
      lz = p[q + 2] - z
      let fine = true
      for (let n = 0; n < count && fine; n++) {
        const r = 3 * list[n]
        const ux = p[r] - x
        const uy = p[r + 1] - y
        const uz = p[r + 2] - z
        fine = staysUp(lx, ly, lz, ux, uy, uz, x - tx, y - ty, z - tz, TURN)
        lx = ux
        ly = uy
        lz = uz
      }
      if (!fine) {
        on[v] = was
        continue
      }
      p[o] = tx
      p[o + 1] = ty
      p[o + 2] = tz
    }
  }

  /** Whether all triangles about a vertex face nearly along a normal. */
  private isFlat({ list, count }: Ring, v: number, nx: number, ny: number, nz: number): boolean {
    const size = nx * nx + ny * ny + nz * nz
    let last = list[count - 1]
    for (let n = 0; n < count; n++) {
      const w = list[n]
      look(0, this.positions, 3 * v, 3 * last, 3 * w)
      const dot = looks[0] * nx + looks[1] * ny + looks[2] * nz
      if (dot <= 0 || dot * dot < FLAT * FLAT * looks[3] * size) return false
      last = w
    }
    return true
  }

  /** Puts a vertex onto the source, near the triangle that it lay on. */
  private project(v: number): void {
    const { positions: p } = this
    this.descend(p[3 * v], p[3 * v + 1], p[3 * v + 2], this.on[v])
    this.on[v] = this.found
    p[3 * v] = nearest[0]
    p[3 * v + 1] = nearest[1]
    p[3 * v + 2] = nearest[2]
  }

  /** the triangle that `descend` found last */
  private found = 0

  /**
   * The square of how far a place lies from the source, which triangle of it is nearest (`found`) and where (`nearest`): from a triangle over the side that the place lies beyond, and
   * then over those that share a corner, as long as one is nearer.
   */
  private descend(x: number, y: number, z: number, start: number): number {
    const { across } = this
    const { positions: q, indices } = this.source
    const { first, list } = this.around
    const from = (t: number) => toTriangle(x, y, z, q, 3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2])
    let best = start
    let least = from(best)
    let last = best
    while (least > ON_IT) {
      const wb = weights[0]
      const wc = weights[1]
      if (wb > 0 && wc > 0 && wb + wc < 1) {
        if (least < this.toSides(best, wb, wc)) {
          this.found = best
          return least
        }
        break
      }
      const side = wc === 0 ? 3 * best : wb === 0 ? 3 * best + 2 : 3 * best + 1
      last = Math.floor(across[side] / 3)
      const d = from(last)
      if (d >= least) break
      best = last
      least = d
    }
    for (let better = true; better && least > ON_IT; ) {
      better = false
      const at = best
      for (let k = 3 * at; k < 3 * at + 3; k++) {
        const corner = indices[k]
        for (let j = first[corner]; j < first[corner + 1]; j++) {
          const t = list[j]
          if (t === best || t === at) continue
          last = t
          const d = from(t)
          if (d >= least) continue
          best = t
          least = d
          better = true
        }
      }
    }
    if (last !== best) from(best)
    this.found = best
    return least
  }

  /** The square of how far a place within a triangle of the source lies from its sides, by the weights of the second and the third corner. What lies no further off the triangle has none that is nearer beside it. */
  private toSides(t: number, wb: number, wc: number): number {
    const { positions: q, indices } = this.source
    const a = 3 * indices[3 * t]
    const b = 3 * indices[3 * t + 1]
    const c = 3 * indices[3 * t + 2]
    const ux = q[b] - q[a]
    const uy = q[b + 1] - q[a + 1]
    const uz = q[b + 2] - q[a + 2]
    const vx = q[c] - q[a]
    const vy = q[c + 1] - q[a + 1]
    const vz = q[c + 2] - q[a + 2]
    const uu = ux * ux + uy * uy + uz * uz
    const vv = vx * vx + vy * vy + vz * vz
    const uv = ux * vx + uy * vy + uz * vz
    // a height is twice the area over its side
    const wa = 1 - wb - wc
    const shares = Math.min((wa * wa) / (uu + vv - 2 * uv), (wb * wb) / vv, (wc * wc) / uu)
    return (uu * vv - uv * uv) * shares
  }

  result(): LabelledMesh {
    const { indices, label } = this.mesh.mesh()
    return { positions: this.positions.slice(0, 3 * this.mesh.vertices), indices, label, rows: this.source.rows }
  }
}

// how triangles look: normal (as long as twice the area), the square of its length, and the square of the longest side; reused: this runs for very many sides
const looks = new Float64Array(20)

/** Puts how a triangle looks into place n; its corners by where they begin in p. */
function look(n: number, p: Float64Array, a: number, b: number, c: number): void {
  const ux = p[b] - p[a]
  const uy = p[b + 1] - p[a + 1]
  const uz = p[b + 2] - p[a + 2]
  const vx = p[c] - p[a]
  const vy = p[c + 1] - p[a + 1]
  const vz = p[c + 2] - p[a + 2]
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
  looks[o + 3] = nx * nx + ny * ny + nz * nz
  looks[o + 4] = longest(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz)
}

const turned = (before: number, after: number): boolean => {
  const o = 5 * before
  const q = 5 * after
  return turnsLittle(looks[o + 3], looks[o + 4], looks[q + 3], looks[q + 4], looks[o] * looks[q] + looks[o + 1] * looks[q + 1] + looks[o + 2] * looks[q + 2])
}

/** Whether two triangles lie in one plane, or nearly. */
const alike = (one: number, other: number): boolean => {
  const o = 5 * one
  const q = 5 * other
  const dot = looks[o] * looks[q] + looks[o + 1] * looks[q + 1] + looks[o + 2] * looks[q + 2]
  return dot > 0 && dot * dot >= FLAT * FLAT * looks[o + 3] * looks[q + 3]
}

const longest = (u: number, v: number, w: number): number => (u > v ? (u > w ? u : w) : v > w ? v : w)

/** Whether a triangle of which two sides run from a corner keeps its side and some area when that corner moves by as much as the third gives backwards. */
function staysUp(vx: number, vy: number, vz: number, ux: number, uy: number, uz: number, dx: number, dy: number, dz: number, turn: number): boolean {
  const sx = ux - vx
  const sy = uy - vy
  const sz = uz - vz
  const side = sx * sx + sy * sy + sz * sz
  const ax = vy * uz - vz * uy
  const ay = vz * ux - vx * uz
  const az = vx * uy - vy * ux
  // the same from where it would be
  const fx = vx + dx
  const fy = vy + dy
  const fz = vz + dz
  const gx = ux + dx
  const gy = uy + dy
  const gz = uz + dz
  const bx = fy * gz - fz * gy
  const by = fz * gx - fx * gz
  const bz = fx * gy - fy * gx
  return turnsLittle(
    ax * ax + ay * ay + az * az,
    longest(side, ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz),
    bx * bx + by * by + bz * bz,
    longest(side, fx * fx + fy * fy + fz * fz, gx * gx + gy * gy + gz * gz),
    ax * bx + ay * by + az * bz,
    turn,
  )
}

/**
 * Whether a triangle faces nearly where it did and has some area: no sliver is made of what was none. Of each the square of the double area and of the longest side, before and
 * after, and how the normals, as long as the double areas, lie to each other.
 */
function turnsLittle(area: number, long: number, now: number, longNow: number, dot: number, turn = TURN): boolean {
  if (!(now > 0)) return false
  // height over the longest side, as squares
  const had = (0.64 * area) / (long * long)
  if (now < longNow * longNow * (had < 0.0225 ? had : 0.0225)) return false
  return area === 0 || (dot > 0 && dot * dot >= turn * turn * area * now)
}
