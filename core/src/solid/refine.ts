import { type Edges, edgesOf } from '../check/edges'
import { attributeArray, ATTRIBUTE_NAMES, type AttributeArray, ATTRIBUTES } from './attributes'
import type { Solid } from './solid'
import { longer, upTo } from './vertex-table'

export interface Refined {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** the triangle each came from */
  readonly from: Uint32Array
  /** where each corner lies in it: three weights a corner, nine a triangle */
  readonly weights: Float64Array
  /** the vertices whose middle each new one is, two a vertex, from the first new one on */
  readonly ends: Int32Array
}

/** Whether the side between two places is to be parted: where their x, y, z begin among positions, and one of the given triangles it lies on. */
export type TooLong = (positions: Float64Array, a: number, b: number, triangle: number) => boolean

export interface RefineOptions {
  /** more triangles than this are not made */
  readonly most?: number
  /** hears of every new vertex, midway between two others, before anything is asked of it */
  readonly made?: (vertex: number, a: number, b: number) => void
  /**
   * Where a side of a triangle is parted, its longest one is, too (Rivara, "Algorithms for refining triangular grids", 1984): more triangles, but none more
   * slender than about half of what was there, however much finer one place becomes than the next.
   */
  readonly longest?: boolean
  /** the edges of what is given, where they are known */
  readonly edges?: Edges
}

const MOST_ROUNDS = 24

/**
 * Triangles parted until no side is too long: every side by itself at its middle, so that neighbours go on fitting. Of two ways to part
 * what is left, the shorter line is taken. The surface stays where it is. Undefined where more than `most` triangles would come of it.
 */
export function refineTriangles(from: Pick<Refined, 'positions' | 'indices'>, tooLong: TooLong, options: RefineOptions = {}): Refined | undefined {
  const parted = partSides(from, tooLong, options)
  return parted && { positions: parted.positions, ...parted.tree.whole(), ends: parted.ends }
}

function partSides(
  from: Pick<Refined, 'positions' | 'indices'>,
  tooLong: TooLong,
  { most = 4e6, made, longest = false, edges }: RefineOptions,
): { readonly tree: PartedTriangles; readonly positions: Float64Array; readonly ends: Int32Array } | undefined {
  let p = from.positions.slice()
  let vertices = p.length / 3
  const old = vertices
  let ends = new Int32Array(64)
  const tree = new PartedTriangles(from.indices)
  /** triangles that may still be parted, in their order: one that is left whole by a round stays as it is, as none of its sides is asked about twice */
  let active = upTo(from.indices.length / 3)
  /** of each side of theirs whether it is known to stay */
  let settled = new Uint8Array(from.indices.length)
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const indices = tree.cornersOf(active)
    const { edge, count: sides } = (round === 0 && edges) || edgesOf(indices, vertices)
    /** the middle of each side plus one, −1 where it stays, 0 where it was not asked about */
    const middle = new Int32Array(sides)
    let parted = 0
    const part = (i: number) => {
      const u = indices[i]
      const v = indices[i % 3 === 2 ? i - 2 : i + 1]
      const a = u < v ? u : v
      const b = u < v ? v : u
      if (3 * vertices + 3 > p.length) p = longer(p, 2 * p.length)
      const n = vertices++
      for (let k = 0; k < 3; k++) p[3 * n + k] = (p[3 * a + k] + p[3 * b + k]) / 2
      const o = 2 * (n - old)
      if (o + 2 > ends.length) ends = longer(ends, 2 * ends.length)
      ends[o] = a
      ends[o + 1] = b
      made?.(n, a, b)
      middle[edge[i]] = n + 1
      parted++
    }
    for (let i = 0; i < indices.length; i++) if (settled[i] === 1) middle[edge[i]] = -1
    for (let i = 0; i < indices.length; i++) {
      const e = edge[i]
      if (middle[e] !== 0) continue
      const u = indices[i]
      const v = indices[i % 3 === 2 ? i - 2 : i + 1]
      if (tooLong(p, 3 * Math.min(u, v), 3 * Math.max(u, v), tree.source[active[(i / 3) | 0]])) part(i)
      else middle[e] = -1
    }
    for (let spread = longest; spread; ) {
      spread = false
      for (let i = 0; i < indices.length; i += 3) {
        if (middle[edge[i]] < 0 && middle[edge[i + 1]] < 0 && middle[edge[i + 2]] < 0) continue
        if (middle[edge[i]] > 0 && middle[edge[i + 1]] > 0 && middle[edge[i + 2]] > 0) continue
        const side = longestSide(p, indices, i)
        if (middle[edge[side]] > 0) continue
        part(side)
        spread = true
      }
    }
    if (parted === 0) break
    let more = 0
    for (let i = 0; i < indices.length; i++) if (middle[edge[i]] > 0) more++
    if (tree.leaves + more > most) return undefined
    const next = new Uint32Array(active.length + more)
    const nextSettled = new Uint8Array(3 * next.length)
    let count = 0
    for (let i = 0; i < indices.length; i += 3) {
      const t = active[i / 3]
      const [x, y, z] = [middle[edge[i]] - 1, middle[edge[i + 1]] - 1, middle[edge[i + 2]] - 1]
      if (x < 0 && y < 0 && z < 0) {
        // a triangle whose longest side goes first may be parted yet for its neighbour's sake
        if (!longest) continue
        nextSettled.fill(1, 3 * count, 3 * count + 3)
        next[count++] = t
        continue
      }
      const first = tree.part(t, x, y, z, p)
      for (let n = first; n < first + tree.parts[t]; n++) {
        // sides that were not parted stay
        for (let k = 0; k < 3; k++) nextSettled[3 * count + k] = (tree.old[n] >> k) & 1
        next[count++] = n
      }
    }
    active = next.subarray(0, count)
    settled = nextSettled.subarray(0, 3 * count)
  }
  return { tree, positions: p.slice(0, 3 * vertices), ends: ends.slice(0, 2 * (vertices - old)) }
}

/** Triangles and what they were parted into, each the parent of two to four others that follow each other. */
class PartedTriangles {
  /** how many are not parted */
  leaves: number
  private count: number
  private corners: Uint32Array
  /** the given triangle that each lies in */
  source: Uint32Array
  /** where each corner lies in it: nine a triangle; those of the given ones are not kept */
  private weights: Float64Array
  private first: Uint32Array
  /** into how many each was parted */
  parts: Uint8Array
  /** a bit for each side that the one it was parted from had as a whole */
  old: Uint8Array
  private readonly given: number
  // corners 0 to 2 and the middles 3 to 5 of the sides that begin there, of the triangle in hand
  private readonly id = new Int32Array(6)
  private readonly at = new Float64Array(18)

  constructor(indices: Uint32Array) {
    this.given = this.count = this.leaves = indices.length / 3
    this.corners = indices.slice()
    this.source = upTo(this.given)
    this.weights = new Float64Array(0)
    this.first = new Uint32Array(this.given)
    this.parts = new Uint8Array(this.given)
    this.old = new Uint8Array(this.given)
  }

  cornersOf(list: Uint32Array): Uint32Array {
    const out = new Uint32Array(3 * list.length)
    for (let i = 0; i < list.length; i++) for (let k = 0; k < 3; k++) out[3 * i + k] = this.corners[3 * list[i] + k]
    return out
  }

  /** Parts a triangle at the middles of its sides, by their numbers, below nought where there is none; gives the first that comes of it. */
  part(t: number, ab: number, bc: number, ca: number, p: Float64Array): number {
    const { id, at } = this
    const first = (this.first[t] = this.count)
    id[3] = ab
    id[4] = bc
    id[5] = ca
    for (let k = 0; k < 3; k++) {
      id[k] = this.corners[3 * t + k]
      for (let j = 0; j < 3; j++) at[3 * k + j] = t < this.given ? (j === k ? 1 : 0) : this.weights[9 * (t - this.given) + 3 * k + j]
    }
    for (let k = 0; k < 3; k++) for (let j = 0; j < 3; j++) at[9 + 3 * k + j] = (at[3 * k + j] + at[3 * ((k + 1) % 3) + j]) / 2
    const parted = (ab >= 0 ? 1 : 0) + (bc >= 0 ? 1 : 0) + (ca >= 0 ? 1 : 0)
    if (parted === 3) {
      this.add(t, 0, 3, 5)
      this.add(t, 3, 1, 4)
      this.add(t, 5, 4, 2)
      this.add(t, 3, 4, 5)
    } else {
      // turned so that the side from a to b is parted, and with two of them the one from b to c as well
      const a = parted === 1 ? (ab >= 0 ? 0 : bc >= 0 ? 1 : 2) : ca < 0 ? 0 : ab < 0 ? 1 : 2
      const [b, c] = [(a + 1) % 3, (a + 2) % 3]
      const [x, y] = [3 + a, 3 + b]
      if (parted === 1) {
        this.add(t, a, x, c)
        this.add(t, x, b, c)
      } else {
        this.add(t, x, b, y)
        if (apart(p, 3 * id[a], 3 * id[y]) < apart(p, 3 * id[x], 3 * id[c])) {
          this.add(t, a, x, y)
          this.add(t, a, y, c)
        } else {
          this.add(t, a, x, c)
          this.add(t, x, y, c)
        }
      }
    }
    this.parts[t] = this.count - first
    this.leaves += this.parts[t] - 1
    return first
  }

  private add(parent: number, x: number, y: number, z: number): void {
    const n = this.count++
    const { id, at } = this
    if (n >= this.parts.length) {
      const room = 2 * n + 8
      this.corners = longer(this.corners, 3 * room)
      this.source = longer(this.source, room)
      this.first = longer(this.first, room)
      this.parts = longer(this.parts, room)
      this.old = longer(this.old, room)
      this.weights = longer(this.weights, 9 * (room - this.given))
    }
    const { corners, weights } = this
    this.source[n] = this.source[parent]
    this.old[n] = (x < 3 && y < 3 ? 1 : 0) | (y < 3 && z < 3 ? 2 : 0) | (z < 3 && x < 3 ? 4 : 0)
    corners[3 * n] = id[x]
    corners[3 * n + 1] = id[y]
    corners[3 * n + 2] = id[z]
    const o = 9 * (n - this.given)
    for (let k = 0; k < 3; k++) {
      weights[o + k] = at[3 * x + k]
      weights[o + 3 + k] = at[3 * y + k]
      weights[o + 6 + k] = at[3 * z + k]
    }
  }

  /** What is not parted: each where the triangle that it lies in was. */
  whole(): Pick<Refined, 'indices' | 'from' | 'weights'> {
    const { leaves, corners, source, given, first, parts } = this
    const indices = new Uint32Array(3 * leaves)
    const from = new Uint32Array(leaves)
    const weights = new Float64Array(9 * leaves)
    const own = this.weights
    let out = 0
    const put = (begin: number, end: number): void => {
      for (let t = begin; t < end; t++) {
        if (parts[t] > 0) {
          put(first[t], first[t] + parts[t])
          continue
        }
        from[out] = source[t]
        const [c, i] = [3 * t, 3 * out]
        indices[i] = corners[c]
        indices[i + 1] = corners[c + 1]
        indices[i + 2] = corners[c + 2]
        const o = 9 * out++
        if (t < given) weights[o] = weights[o + 4] = weights[o + 8] = 1
        else for (let k = 0, w = 9 * (t - given); k < 9; k++) weights[o + k] = own[w + k]
      }
    }
    put(0, given)
    return { indices, from, weights }
  }
}

/** The half-edge of a triangle's longest side; of equal ones the same from both sides of it. */
function longestSide(p: Float64Array, indices: Uint32Array, i: number): number {
  let best = i
  let size = -1
  for (let k = i; k < i + 3; k++) {
    const length = apart(p, 3 * indices[k], 3 * indices[k === i + 2 ? i : k + 1])
    if (length > size * (1 + 1e-12)) {
      best = k
      size = length
    }
  }
  return best
}

const apart = (p: Float64Array, a: number, b: number) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2

/**
 * A solid whose triangles are parted until no side is too long (see refineTriangles), with its labels and attributes. New vertices lie where
 * they fall, not on the lattice: what comes next moves them anyway. Undefined where there would be too many triangles.
 */
export function refineSolid(solid: Solid, tooLong: TooLong, options: RefineOptions = {}): Solid | undefined {
  const parted = partSides(solid, tooLong, options)
  if (!parted) return undefined
  const { tree, positions, ends } = parted
  if (ends.length === 0) return solid
  const { indices, from, weights } = tree.whole()
  const attributes: Partial<Record<string, AttributeArray>> = {}
  for (const name of ATTRIBUTE_NAMES) {
    const array = solid.attributes[name]
    if (!array) continue
    const { at, size } = ATTRIBUTES[name]
    const made = attributeArray(name, positions.length / 3, indices.length)
    if (at === 'vertex') {
      made.set(array)
      for (let i = 0; i < ends.length; i += 2)
        for (let k = 0; k < size; k++) made[array.length + (i / 2) * size + k] = (made[size * ends[i] + k] + made[size * ends[i + 1] + k]) / 2
    } else
      for (let i = 0; i < indices.length; i++) {
        const base = 3 * from[(i / 3) | 0]
        for (let k = 0; k < size; k++)
          made[size * i + k] =
            array[size * base + k] * weights[3 * i] + array[size * (base + 1) + k] * weights[3 * i + 1] + array[size * (base + 2) + k] * weights[3 * i + 2]
      }
    attributes[name] = made
  }
  return { ...solid, positions, indices, surface: from.map((t) => solid.surface[t]), attributes: attributes as Solid['attributes'] }
}
