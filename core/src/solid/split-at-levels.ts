import { edgesOf } from '../check/edges'
import { ATTRIBUTES, mapAttributes } from './attributes'
import type { Solid } from './solid'
import { betweenCorners, type Split } from './split-sides'
import { longer } from './vertex-table'

export interface SplitAtLevels {
  /** which of the given triangles are parted; sides of others are only where these are */
  readonly acts: (triangle: number) => boolean
  /** a value at each vertex that an acting triangle has; one that is a level bit for bit lies on it */
  readonly values: Float64Array
  /** rising */
  readonly levels: readonly number[]
  /** where between two places, by where their x, y, z begin, a level is met that lies between their values: a share of the way from a to b, behind `after` */
  readonly meets: (a: number, b: number, level: number, after: number) => number
}

/**
 * A solid parted along the levels of a value over it: of each triangle's sides every point at a level becomes a vertex, and what is between two levels becomes a
 * strip of triangles, two for a level. The surface stays where it is, with its labels; new vertices lie where they fall, not on the lattice.
 * `values` are those given and the levels of the new vertices.
 */
export function splitAtLevels(solid: Solid, { acts, values: given, levels, meets }: SplitAtLevels): Split & { readonly values: Float64Array } {
  const { indices } = solid
  const old = solid.positions.length / 3
  const { edge, count } = edgesOf(indices, old)
  let p = solid.positions.slice()
  let values = given.slice()
  /** of each side, the first of its new vertices, −1 while it is not known; and how many they are, from its lower vertex to its higher */
  const first = new Int32Array(count).fill(-1)
  const many = new Int32Array(count)
  /** of each new vertex how far along its side it lies */
  let share = new Float64Array(64)
  let vertices = old
  for (let i = 0; i < indices.length; i++) {
    if (first[edge[i]] >= 0 || !acts((i / 3) | 0)) continue
    const [u, v] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]
    const [a, b] = u < v ? [u, v] : [v, u]
    first[edge[i]] = vertices
    const rising = given[a] < given[b]
    const [low, high] = rising ? [given[a], given[b]] : [given[b], given[a]]
    let after = 0
    for (let j = 0; j < levels.length; j++) {
      const level = levels[rising ? j : levels.length - 1 - j]
      if (level <= low || level >= high) continue
      after = meets(3 * a, 3 * b, level, after)
      const n = vertices++
      if (3 * n + 3 > p.length) p = longer(p, 2 * p.length)
      if (n >= values.length) values = longer(values, 2 * n)
      if (n - old >= share.length) share = longer(share, 2 * share.length)
      for (let k = 0; k < 3; k++) p[3 * n + k] = p[3 * a + k] + after * (p[3 * b + k] - p[3 * a + k])
      values[n] = level
      share[n - old] = after
    }
    many[edge[i]] = vertices - first[edge[i]]
  }
  // every point on a side is one more triangle on either side of it
  let total = indices.length / 3
  for (let i = 0; i < indices.length; i++) total += many[edge[i]]
  const next = new Uint32Array(3 * total)
  const from = new Uint32Array(total)
  /** of each new corner the two old ones that it lies between, and how far from the first */
  const ends = new Uint32Array(6 * total)
  const between = new Float64Array(3 * total)
  let made = 0
  // round the triangle in hand from its lowest corner: vertices, the corners that the sides they are on begin at, shares of the way
  const most = 3 + 3 * levels.length
  const [ring, corner, way] = [new Int32Array(most), new Uint8Array(most), new Float64Array(most)]
  for (let t = 0; t < indices.length / 3; t++) {
    const add = (x: number, y: number, z: number) => {
      for (let k = 0; k < 3; k++) {
        const r = k === 0 ? x : k === 1 ? y : z
        const n = 3 * made + k
        next[n] = ring[r]
        ends[2 * n] = 3 * t + corner[r]
        ends[2 * n + 1] = 3 * t + ((corner[r] + 1) % 3)
        between[n] = way[r]
      }
      from[made++] = t
    }
    let low = 0
    let high = 0
    for (let k = 1; k < 3; k++) {
      if (values[indices[3 * t + k]] < values[indices[3 * t + low]]) low = k
      if (values[indices[3 * t + k]] > values[indices[3 * t + high]]) high = k
    }
    let size = 0
    let top = 0
    for (let s = 0; s < 3; s++) {
      const k = (low + s) % 3
      const i = 3 * t + k
      if (k === high) top = size
      ring[size] = indices[i]
      corner[size] = k
      way[size++] = 0
      const n = many[edge[i]]
      const forward = indices[i] < indices[3 * t + ((k + 1) % 3)]
      for (let j = 0; j < n; j++) {
        ring[size] = first[edge[i]] + (forward ? j : n - 1 - j)
        corner[size] = k
        way[size] = forward ? share[ring[size] - old] : 1 - share[ring[size] - old]
        size++
      }
    }
    if (size === 3) {
      add(0, 1, 2)
      continue
    }
    // up either way at once, by the value; of two ways across a strip the shorter
    for (let i = 0, j = size; i < top || j > top; ) {
      const [v, w] = [values[ring[i + 1]], values[ring[j - 1]]]
      const back = j === size ? 0 : j
      const forward = j === top || (i < top && (v < w || (v === w && apart(p, ring[i + 1], ring[back]) <= apart(p, ring[j - 1], ring[i]))))
      if (forward) {
        if (i !== back && i + 1 !== back) add(i, i + 1, back)
        i++
      } else {
        if (i !== back && i !== j - 1) add(i, j - 1, back)
        j--
      }
    }
  }
  const attributes = mapAttributes(solid.attributes, (name, array, kind) =>
    kind.at === 'corner' ? betweenCorners(array, ATTRIBUTES[name].size, ends, between) : undefined,
  )
  return {
    solid: { ...solid, positions: p.slice(0, 3 * vertices), indices: next, surface: from.map((t) => solid.surface[t]), attributes },
    from,
    values: values.slice(0, vertices),
  }
}

const apart = (p: Float64Array, a: number, b: number) => (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
