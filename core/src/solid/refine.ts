import { edgesOf } from '../check/edges'
import { attributeArray, ATTRIBUTE_NAMES, type AttributeArray, ATTRIBUTES } from './attributes'
import type { Solid } from './solid'
import { longer } from './vertex-table'

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
}

const MOST_ROUNDS = 24

/** The weights of triangles at their own corners. */
function whole(triangles: number): Float64Array<ArrayBuffer> {
  const weights = new Float64Array(9 * triangles)
  for (let i = 0; i < weights.length; i += 9) weights[i] = weights[i + 4] = weights[i + 8] = 1
  return weights
}

/**
 * Triangles parted until no side is too long: every side by itself at its middle, so that neighbours go on fitting. Of two ways to part
 * what is left, the shorter line is taken. The surface stays where it is. Undefined where more than `most` triangles would come of it.
 */
export function refineTriangles(
  from: { positions: Float64Array; indices: Uint32Array },
  tooLong: TooLong,
  { most = 4e6, made, longest = false }: RefineOptions = {},
): Refined | undefined {
  let p = from.positions.slice()
  let vertices = p.length / 3
  const old = vertices
  let indices = from.indices
  let source = Uint32Array.from({ length: indices.length / 3 }, (_, t) => t)
  let weights = new Float64Array(0)
  let ends = new Int32Array(64)
  /** of each side whether it is known to stay: none is asked about twice */
  let settled = new Uint8Array(indices.length)
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const { edge, count: sides } = edgesOf(indices, vertices)
    /** the middle of each side plus one, −1 where it stays, 0 where it was not asked about */
    const middle = new Int32Array(sides)
    const mids = new Int32Array(indices.length).fill(-1)
    let more = 0
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
    }
    for (let i = 0; i < indices.length; i++) if (settled[i] === 1) middle[edge[i]] = -1
    for (let i = 0; i < indices.length; i++) {
      const e = edge[i]
      if (middle[e] !== 0) continue
      const u = indices[i]
      const v = indices[i % 3 === 2 ? i - 2 : i + 1]
      if (tooLong(p, 3 * Math.min(u, v), 3 * Math.max(u, v), source[(i / 3) | 0])) part(i)
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
    for (let i = 0; i < indices.length; i++) {
      if (middle[edge[i]] < 0) continue
      mids[i] = middle[edge[i]] - 1
      more++
    }
    if (more === 0) break
    if (weights.length === 0) weights = whole(indices.length / 3)
    const count = indices.length / 3 + more
    if (count > most) return undefined
    const next = new Uint32Array(3 * count)
    const nextSource = new Uint32Array(count)
    const nextWeights = new Float64Array(9 * count)
    const nextSettled = new Uint8Array(3 * count)
    let t = 0
    const id = new Int32Array(6)
    const w = new Float64Array(18)
    const stays = (x: number, y: number) => (x < 3 && y < 3 ? 1 : 0)
    const emit = (from: number, x: number, y: number, z: number) => {
      nextSource[t] = from
      next[3 * t] = id[x]
      next[3 * t + 1] = id[y]
      next[3 * t + 2] = id[z]
      // sides that were not parted stay
      nextSettled[3 * t] = stays(x, y)
      nextSettled[3 * t + 1] = stays(y, z)
      nextSettled[3 * t + 2] = stays(z, x)
      const o = 9 * t++
      for (let k = 0; k < 3; k++) {
        nextWeights[o + k] = w[3 * x + k]
        nextWeights[o + 3 + k] = w[3 * y + k]
        nextWeights[o + 6 + k] = w[3 * z + k]
      }
    }
    for (let i = 0; i < indices.length; i += 3) {
      const from = source[i / 3]
      if (mids[i] < 0 && mids[i + 1] < 0 && mids[i + 2] < 0) {
        nextSource[t] = from
        for (let k = 0; k < 3; k++) {
          next[3 * t + k] = indices[i + k]
          nextSettled[3 * t + k] = 1
        }
        for (let o = 9 * t++, q = 3 * i; q < 3 * i + 9; q++) nextWeights[o++] = weights[q]
        continue
      }
      // corners 0 to 2 and the middles 3 to 5 of the sides that begin there
      for (let k = 0; k < 3; k++) {
        id[k] = indices[i + k]
        id[3 + k] = mids[i + k]
        for (let j = 0; j < 3; j++) w[3 * k + j] = weights[3 * (i + k) + j]
      }
      for (let k = 0; k < 3; k++) for (let j = 0; j < 3; j++) w[9 + 3 * k + j] = (w[3 * k + j] + w[3 * ((k + 1) % 3) + j]) / 2
      const parted = (id[3] >= 0 ? 1 : 0) + (id[4] >= 0 ? 1 : 0) + (id[5] >= 0 ? 1 : 0)
      if (parted === 3) {
        emit(from, 0, 3, 5)
        emit(from, 3, 1, 4)
        emit(from, 5, 4, 2)
        emit(from, 3, 4, 5)
      } else {
        // turned so that the side from a to b is parted, and with two of them the one from b to c as well
        const a = parted === 1 ? (id[3] >= 0 ? 0 : id[4] >= 0 ? 1 : 2) : id[5] < 0 ? 0 : id[3] < 0 ? 1 : 2
        const [b, c] = [(a + 1) % 3, (a + 2) % 3]
        const [ab, bc] = [3 + a, 3 + b]
        if (parted === 1) {
          emit(from, a, ab, c)
          emit(from, ab, b, c)
        } else {
          emit(from, ab, b, bc)
          if (apart(p, 3 * id[a], 3 * id[bc]) < apart(p, 3 * id[ab], 3 * id[c])) {
            emit(from, a, ab, bc)
            emit(from, a, bc, c)
          } else {
            emit(from, a, ab, c)
            emit(from, ab, bc, c)
          }
        }
      }
    }
    indices = next
    source = nextSource
    weights = nextWeights
    settled = nextSettled
  }
  if (weights.length === 0) weights = whole(indices.length / 3)
  return { positions: p.slice(0, 3 * vertices), indices, from: source, weights, ends: ends.slice(0, 2 * (vertices - old)) }
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
  const refined = refineTriangles(solid, tooLong, options)
  if (!refined) return undefined
  const { positions, indices, from, weights, ends } = refined
  if (ends.length === 0) return solid
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
