import { longer } from '../solid/vertex-table'
import type { Creases } from './creases'

/**
 * A closed surface whose triangles are cut, taken out and turned in place. Half-edge 4t + k runs from corner k of triangle t to the next; 4t + 3 is no half-edge, `start` has the
 * triangle's label there, so that neither going round a triangle nor finding it divides by three.
 */
export class HalfEdges {
  /** of each half-edge the vertex it starts from; −1 where the triangle is gone */
  start: Int32Array
  /** of each half-edge the one against it */
  twin: Int32Array
  /** of each half-edge not 0 where it is a crease, as is its twin */
  crease: Uint8Array
  /** of each vertex a half-edge that starts from it; −1 where it is gone */
  out: Int32Array
  /** places of triangles in use, those that are gone as well */
  triangles: number
  vertices: number
  /** vertices given that several fans of triangles met in: the first keeps the number, and there is one more at the end for each of the others */
  readonly doubled: number[] = []
  private gone = 0

  /**
   * Of triangles (three vertex numbers each) and their labels; for each corner the corner that lies across its side, the one to the next corner, and not 0 where that is a crease.
   * Throws a RangeError where the surface is not closed.
   */
  constructor(indices: Uint32Array, label: Uint32Array, { across, crease }: Pick<Creases, 'across' | 'crease'>, vertices: number) {
    const count = indices.length / 3
    this.triangles = count
    this.vertices = vertices
    this.start = new Int32Array(4 * count)
    this.twin = new Int32Array(4 * count)
    this.crease = new Uint8Array(4 * count)
    for (let t = 0; t < count; t++) {
      this.start[4 * t + 3] = label[t]
      this.twin[4 * t + 3] = -1
      for (let k = 0; k < 3; k++) {
        const i = 3 * t + k
        const j = following(across[i])
        if (j === i || following(across[j]) !== i) throw new RangeError('The surface is not closed: each side must be run along once each way.')
        const h = 4 * t + k
        this.start[h] = indices[i]
        this.twin[h] = 4 * Math.floor(j / 3) + (j % 3)
        this.crease[h] = crease[i]
      }
    }
    this.out = new Int32Array(vertices).fill(-1)
    this.partFans()
  }

  /** Gives each fan of triangles a vertex of its own. */
  private partFans(): void {
    const { start } = this
    const seen = new Uint8Array(start.length)
    const out: number[] = []
    for (let h = 0; h < start.length; h++) {
      if ((h & 3) === 3 || seen[h]) continue
      let v = start[h]
      if (this.out[v] >= 0) {
        out.push(h)
        this.doubled.push(v)
        v = this.vertices + out.length - 1
      } else this.out[v] = h
      let at = h
      do {
        seen[at] = 1
        start[at] = v
        at = this.twin[before(at)]
      } while (at !== h)
    }
    if (out.length === 0) return
    const had = this.vertices
    this.vertices += out.length
    this.out = longer(this.out, this.vertices)
    this.out.set(out, had)
  }

  /** Makes room for so many more vertices, and two triangles for each. */
  room(more: number): void {
    const triangles = this.triangles + 2 * more
    if (4 * triangles > this.start.length) {
      const size = 4 * Math.ceil(1.5 * triangles)
      this.start = longer(this.start, size)
      this.twin = longer(this.twin, size)
      this.crease = longer(this.crease, size)
    }
    if (this.vertices + more > this.out.length) this.out = longer(this.out, Math.ceil(1.5 * (this.vertices + more)))
  }

  /** Cuts a side and both its triangles in two; gives the vertex that is new. There must be room. */
  split(h: number): number {
    const { twin, crease, out } = this
    const g = twin[h]
    const v = this.vertices++
    const n = 4 * this.triangles++
    const m = 4 * this.triangles++
    this.cutAt(h, v, n)
    this.cutAt(g, v, m)
    twin[h] = m
    twin[m] = h
    twin[g] = n
    twin[n] = g
    crease[n] = crease[m] = crease[h]
    out[v] = n
    return v
  }

  /** Half of a triangle a b c, whose side a b is h, goes to a new place n: a v c stays. */
  private cutAt(h: number, v: number, n: number): void {
    const { start, twin, crease, out } = this
    const hb = after(h)
    const b = start[hb]
    const beyond = twin[hb]
    start[n] = v
    start[n + 1] = b
    start[n + 2] = start[before(h)]
    start[n + 3] = start[h | 3]
    twin[n + 1] = beyond
    twin[beyond] = n + 1
    crease[n + 1] = crease[hb]
    start[hb] = v
    twin[hb] = n + 2
    twin[n + 2] = hb
    crease[hb] = crease[n + 2] = 0
    twin[n + 3] = -1
    if (out[b] === hb) out[b] = n + 1
  }

  /** Whether taking the vertex at the end of a side into that at its start leaves two sheets back to back beside it. */
  folds(h: number): boolean {
    return this.foldsAt(h) || this.foldsAt(this.twin[h])
  }

  private foldsAt(h: number): boolean {
    const { start, twin } = this
    return start[before(twin[after(h)])] === start[before(twin[before(h)])]
  }

  /** Takes the vertex at the end of a side into that at its start, with both its triangles. Sides that become one are creases where either was. */
  collapse(h: number): void {
    const { start, twin, out } = this
    const a = start[h]
    const b = start[after(h)]
    const g = twin[h]
    let at = g
    do {
      start[at] = a
      at = twin[before(at)]
    } while (at !== g)
    this.close(h)
    this.close(g)
    out[b] = -1
    this.remove(h)
    this.remove(g)
  }

  /** Joins what lies beyond the two other sides of a triangle. */
  private close(h: number): void {
    const { start, twin, crease, out } = this
    const x = twin[after(h)]
    const y = twin[before(h)]
    twin[x] = y
    twin[y] = x
    crease[x] = crease[y] = crease[x] | crease[y]
    out[start[x]] = x
    out[start[y]] = y
  }

  private remove(h: number): void {
    const first = h & ~3
    this.start[first] = this.start[first + 1] = this.start[first + 2] = -1
    this.gone++
  }

  /** Turns a side over to the other two corners of its triangles. */
  flip(h: number): void {
    const { start, twin, crease, out } = this
    const g = twin[h]
    const [hb, hc] = [after(h), before(h)]
    const [ga, gd] = [after(g), before(g)]
    const [a, b, c, d] = [start[h], start[g], start[hc], start[gd]]
    const [x, y] = [twin[ga], twin[hb]]
    // a d c and b c d
    twin[h] = x
    twin[x] = h
    crease[h] = crease[ga]
    twin[g] = y
    twin[y] = g
    crease[g] = crease[hb]
    start[hb] = d
    start[ga] = c
    twin[hb] = ga
    twin[ga] = hb
    crease[hb] = crease[ga] = 0
    if (out[a] === ga) out[a] = h
    if (out[b] === hb) out[b] = g
  }

  /** Whether a side runs between two vertices. */
  joined(v: number, w: number): boolean {
    const { start, twin, out } = this
    const first = out[v]
    let h = first
    do {
      if (start[after(h)] === w) return true
      h = twin[before(h)]
    } while (h !== first)
    return false
  }

  /**
   * Closes the gaps that triangles have left, and puts them into an order in which neighbours lie near each other, as do vertices: going round about a mesh in any other takes
   * several times as long. Gives the old number of each vertex.
   */
  tidy(): Int32Array {
    const count = this.triangles - this.gone
    const { start, twin, crease } = this
    const { to, order } = this.ordered(count)
    const number = new Int32Array(this.vertices).fill(-1)
    const old = new Int32Array(this.vertices)
    // twice as much room as is needed, so that all of it is not copied again with what is cut next
    const more = count >> 1
    const room = 4 * (count + 2 * more)
    const [starts, twins, creases] = [new Int32Array(room), new Int32Array(room), new Uint8Array(room)]
    const out = new Int32Array(this.vertices + more)
    let vertices = 0
    for (let i = 0; i < count; i++) {
      const t = order[i]
      const n = 4 * i
      for (let k = 0; k < 3; k++) {
        const h = 4 * t + k
        const v = start[h]
        if (number[v] < 0) {
          old[vertices] = v
          out[vertices] = n + k
          number[v] = vertices++
        }
        starts[n + k] = number[v]
        twins[n + k] = 4 * to[twin[h] >> 2] + (twin[h] & 3)
        creases[n + k] = crease[h]
      }
      starts[n + 3] = start[4 * t + 3]
      twins[n + 3] = -1
    }
    this.start = starts
    this.twin = twins
    this.crease = creases
    this.out = out.subarray(0, vertices + more)
    this.triangles = count
    this.vertices = vertices
    this.gone = 0
    return old.subarray(0, vertices)
  }

  /** The triangles that are left, each part from one of them outwards, and where each comes to stand. */
  private ordered(count: number): { to: Int32Array; order: Int32Array } {
    const { start, twin } = this
    const to = new Int32Array(this.triangles).fill(-1)
    const order = new Int32Array(count)
    let known = 0
    for (let first = 0, done = 0; first < this.triangles; first++) {
      if (start[4 * first] < 0 || to[first] >= 0) continue
      to[first] = known
      order[known++] = first
      while (done < known) {
        const h = 4 * order[done++]
        for (let k = h; k < h + 3; k++) {
          const t = twin[k] >> 2
          if (to[t] >= 0) continue
          to[t] = known
          order[known++] = t
        }
      }
    }
    return { to, order }
  }

  /** Three vertex numbers for each triangle, and its label; `tidy` goes before it. */
  mesh(): { indices: Uint32Array; label: Uint32Array } {
    const indices = new Uint32Array(3 * this.triangles)
    const label = new Uint32Array(this.triangles)
    for (let t = 0; t < this.triangles; t++) {
      for (let k = 0; k < 3; k++) indices[3 * t + k] = this.start[4 * t + k]
      label[t] = this.start[4 * t + 3]
    }
    return { indices, label }
  }
}

const following = (corner: number) => (corner % 3 === 2 ? corner - 2 : corner + 1)

/** The next half-edge round a triangle. */
export const after = (h: number): number => ((h & 3) === 2 ? h - 2 : h + 1)
/** The half-edge before it. */
export const before = (h: number): number => ((h & 3) === 0 ? h + 2 : h - 1)
