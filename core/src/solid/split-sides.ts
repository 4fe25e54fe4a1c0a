import { edgesOf } from '../check/edges'
import { ATTRIBUTES, type AttributeArray, mapAttributes } from './attributes'
import type { Solid } from './solid'
import { longer, upTo } from './vertex-table'

export interface SplitSides {
  /** which of the given triangles are asked about; sides of others are parted only where these are */
  readonly acts: (triangle: number) => boolean
  /** where between two places, by where their x, y, z begin, a side is to be parted: a share of the way from a to b, or 0 where it stays */
  readonly at: (positions: Float64Array, a: number, b: number) => number
  /** whether a triangle none of whose sides is parted has to be all the same: then its longest side is, at its middle */
  readonly inside: (positions: Float64Array, a: number, b: number, c: number) => boolean
  /** more triangles than this are not made */
  readonly most: number
  /** a side is not parted nearer than this to another side of a triangle it belongs to, mm: what runs along a side would part it again and again */
  readonly clear: number
}

const MOST_ROUNDS = 40

export interface Split {
  readonly solid: Solid
  /** which of the given triangles each lies in */
  readonly from: Uint32Array
}

/**
 * A solid whose sides are parted where a height over them has its kinks rather than at their middles, until nothing asks for more: what runs through two sides
 * of a triangle, such as a ridge, becomes a side itself, as in marching triangles. The surface stays where it is, with its labels; new vertices lie where they
 * fall, not on the lattice. Undefined where there would be more than `most` triangles.
 */
export function splitSides(solid: Solid, { acts, at, inside, most, clear }: SplitSides): Split | undefined {
  let p = solid.positions.slice()
  let vertices = p.length / 3
  let indices = solid.indices
  let attributes = mapAttributes(solid.attributes, (_, array, kind) => (kind.at === 'corner' ? array : undefined))
  let from = upTo(indices.length / 3)
  /** of each half-edge whether its side is known to stay, of each triangle whether its inside is */
  let settled = new Uint8Array(indices.length)
  let whole = new Uint8Array(from.length)
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const { edge, count } = edgesOf(indices, vertices)
    /** the new vertex on each side plus one, −1 where it stays, 0 where it was not asked about */
    const made = new Int32Array(count)
    /** where on it, from its lower vertex to its higher */
    const share = new Float64Array(count)
    const halves = new Int32Array(2 * count).fill(-1)
    for (let i = 0; i < indices.length; i++) halves[2 * edge[i] + (halves[2 * edge[i]] < 0 ? 0 : 1)] = i
    let parted = 0
    const part = (e: number, a: number, b: number, f: number) => {
      if (3 * vertices + 3 > p.length) p = longer(p, 2 * p.length)
      const n = vertices++
      for (let k = 0; k < 3; k++) p[3 * n + k] = p[3 * a + k] + f * (p[3 * b + k] - p[3 * a + k])
      share[e] = f
      made[e] = n + 1
      parted++
    }
    const isFree = (e: number, a: number, b: number, f: number) =>
      [halves[2 * e], halves[2 * e + 1]].every((half) => half < 0 || besides(p, indices, half, a, b, f) >= clear)
    const endsOf = (i: number): [number, number] => {
      const u = indices[i]
      const v = indices[i % 3 === 2 ? i - 2 : i + 1]
      return u < v ? [u, v] : [v, u]
    }
    for (let i = 0; i < indices.length; i++) if (settled[i]) made[edge[i]] = -1
    for (let i = 0; i < indices.length; i++) {
      if (made[edge[i]] !== 0 || !acts(from[(i / 3) | 0])) continue
      const [a, b] = endsOf(i)
      const f = at(p, 3 * a, 3 * b)
      if (f > 0 && isFree(edge[i], a, b, f)) part(edge[i], a, b, f)
      else made[edge[i]] = -1
    }
    for (let i = 0; i < indices.length; i += 3) {
      if (whole[i / 3] || !acts(from[i / 3])) continue
      if (made[edge[i]] > 0 || made[edge[i + 1]] > 0 || made[edge[i + 2]] > 0) continue
      const long = longest(p, indices, i)
      const [a, b] = endsOf(long)
      if (inside(p, 3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]) && isFree(edge[long], a, b, 0.5)) part(edge[long], a, b, 0.5)
      else whole[i / 3] = 1
    }
    if (parted === 0) break
    let more = 0
    for (let i = 0; i < indices.length; i++) if (made[edge[i]] > 0) more++
    const total = indices.length / 3 + more
    if (total > most) return undefined

    const next = new Uint32Array(3 * total)
    const nextFrom = new Uint32Array(total)
    const nextSettled = new Uint8Array(3 * total)
    const nextWhole = new Uint8Array(total)
    /** of each new corner the two old ones that it lies between, and how far from the first */
    const ends = new Uint32Array(6 * total)
    const between = new Float64Array(3 * total)
    let out = 0
    const id = new Int32Array(6)
    for (let i = 0; i < indices.length; i += 3) {
      for (let k = 0; k < 3; k++) {
        id[k] = indices[i + k]
        id[3 + k] = made[edge[i + k]] - 1
      }
      // corners 0 to 2, and 3 to 5 on the sides that begin there
      const add = (x: number, y: number, z: number) => {
        const corners = [x, y, z]
        nextFrom[out] = from[i / 3]
        nextWhole[out] = id[3] < 0 && id[4] < 0 && id[5] < 0 ? whole[i / 3] : 0
        for (let k = 0; k < 3; k++) {
          const c = corners[k]
          const n = 3 * out + k
          next[n] = id[c]
          const side = c % 3
          ends[2 * n] = i + side
          ends[2 * n + 1] = c < 3 ? i + side : i + ((side + 1) % 3)
          const lower = indices[i + side] < indices[i + ((side + 1) % 3)]
          between[n] = c < 3 ? 0 : lower ? share[edge[i + side]] : 1 - share[edge[i + side]]
          if (c < 3 && corners[(k + 1) % 3] === (c + 1) % 3) nextSettled[n] = made[edge[i + c]] < 0 ? 1 : 0
        }
        out++
      }
      const [ab, bc, ca] = [id[3] >= 0, id[4] >= 0, id[5] >= 0]
      const sides = Number(ab) + Number(bc) + Number(ca)
      if (sides === 0) add(0, 1, 2)
      else if (sides === 3) {
        add(0, 3, 5)
        add(3, 1, 4)
        add(5, 4, 2)
        add(3, 4, 5)
      } else {
        // turned so that the side from a is parted, and with two of them the one from b as well
        const a = sides === 1 ? (ab ? 0 : bc ? 1 : 2) : !ca ? 0 : !ab ? 1 : 2
        const [b, c] = [(a + 1) % 3, (a + 2) % 3]
        const [x, y] = [3 + a, 3 + b]
        if (sides === 1) {
          add(a, x, c)
          add(x, b, c)
        } else {
          add(x, b, y)
          if (square(p, id[a], id[y]) < square(p, id[x], id[c])) {
            add(a, x, y)
            add(a, y, c)
          } else {
            add(a, x, c)
            add(x, y, c)
          }
        }
      }
    }
    attributes = mapAttributes(attributes, (name, array) => betweenCorners(array, ATTRIBUTES[name].size, ends, between))
    indices = next
    from = nextFrom
    settled = nextSettled
    whole = nextWhole
  }
  return { solid: { ...solid, positions: p.slice(0, 3 * vertices), indices, surface: from.map((t) => solid.surface[t]), attributes }, from }
}

/** What corners have that lie between two others each, `between` of the way. */
export function betweenCorners(array: AttributeArray, size: number, ends: Uint32Array, between: Float64Array): AttributeArray {
  const out = new (array.constructor as new (length: number) => AttributeArray)(size * between.length)
  for (let n = 0; n < between.length; n++)
    for (let k = 0; k < size; k++) {
      const [u, v] = [array[size * ends[2 * n] + k], array[size * ends[2 * n + 1] + k]]
      out[size * n + k] = u + between[n] * (v - u)
    }
  return out
}

/** How far a point on a side of a triangle, between its corners a and b, is from the other two sides, mm. */
function besides(p: Float64Array, indices: Uint32Array, half: number, a: number, b: number, f: number): number {
  const first = half - (half % 3)
  const c = indices[first] + indices[first + 1] + indices[first + 2] - a - b
  // twice the area over a side is the height above it, which falls evenly towards the side
  let [uu, uv, vv] = [0, 0, 0]
  for (let k = 0; k < 3; k++) {
    const [u, v] = [p[3 * b + k] - p[3 * a + k], p[3 * c + k] - p[3 * a + k]]
    uu += u * u
    uv += u * v
    vv += v * v
  }
  const twice = Math.sqrt(Math.max(0, uu * vv - uv * uv))
  return Math.min((f * twice) / Math.sqrt(vv), ((1 - f) * twice) / Math.sqrt(square(p, b, c)))
}

function longest(p: Float64Array, indices: Uint32Array, i: number): number {
  let [best, size] = [i, -1]
  for (let k = i; k < i + 3; k++) {
    const length = square(p, indices[k], indices[k === i + 2 ? i : k + 1])
    if (length > size) [best, size] = [k, length]
  }
  return best
}

const square = (p: Float64Array, a: number, b: number) => (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
