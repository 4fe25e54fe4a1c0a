import { oppositesOf } from '../check/edges'
import { mapAttributes, pickPlaces } from './attributes'
import type { Solid } from './solid'
import { upTo } from './vertex-table'

const nextOf = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1)

/**
 * Turns the side of half-edge h, between two triangles, into the other line across them, in place: `corners` tells where each corner's attributes are
 * from. The half-edges 3t, 3t + 2, 3s, 3s + 1 of the two triangles are the sides about them then.
 */
function flip(indices: Uint32Array, corners: Uint32Array, opposite: Int32Array, h: number): void {
  const o = opposite[h]
  const [t, s] = [Math.floor(h / 3), Math.floor(o / 3)]
  const [h1, h2, o1, o2] = [nextOf(h), nextOf(nextOf(h)), nextOf(o), nextOf(nextOf(o))]
  const [a, b, c, d] = [indices[h], indices[h1], indices[h2], indices[o2]]
  const [ca, cb, cc, cd] = [corners[h], corners[h1], corners[h2], corners[o2]]
  const [bc, ca1, ad, db] = [opposite[h1], opposite[h2], opposite[o1], opposite[o2]]
  indices.set([a, d, c], 3 * t)
  corners.set([ca, cd, cc], 3 * t)
  indices.set([d, b, c], 3 * s)
  corners.set([cd, cb, cc], 3 * s)
  const link = (one: number, two: number) => {
    opposite[one] = two
    if (two >= 0) opposite[two] = one
  }
  link(3 * t, ad)
  link(3 * t + 1, 3 * s + 2)
  link(3 * t + 2, ca1)
  link(3 * s, db)
  link(3 * s + 1, bc)
}

/** A triangle that looks this far off its own normals is turned over, or nearly: cosine. */
const TURNED = 0.3
const MOST_PASSES = 6

/**
 * A solid whose triangles look where their normals say, as far as flipping helps: a sliver between three points of a line that was nearly straight is turned
 * over when the line is bent the other way, and no finer surface cures that. The long side of each is flipped where both triangles look better for it.
 */
export function turnedBack(solid: Solid): Solid {
  const { positions: p, surface } = solid
  const normals = solid.attributes.normal
  if (!normals) return solid
  const looks = looking(p, normals)
  if (allLook(solid.indices, looks, (cosine) => cosine > TURNED)) return solid
  const indices = solid.indices.slice()
  const corners = upTo(indices.length)
  const opposite = oppositesOf(indices)
  const now = (t: number) => looks(indices[3 * t], indices[3 * t + 1], indices[3 * t + 2], corners[3 * t], corners[3 * t + 1], corners[3 * t + 2])
  const length = (h: number) => {
    const [a, b] = [3 * indices[h], 3 * indices[nextOf(h)]]
    return (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2
  }
  let any = false
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    let flipped = 0
    for (let t = 0; t < surface.length; t++) {
      if (now(t) > TURNED) continue
      const sides = [3 * t, 3 * t + 1, 3 * t + 2].sort((g, h) => length(h) - length(g))
      for (const h of sides) {
        const o = opposite[h]
        if (o < 0) continue
        const s = Math.floor(o / 3)
        if (surface[s] !== surface[t]) continue
        const [h1, h2, o2] = [nextOf(h), nextOf(nextOf(h)), nextOf(nextOf(o))]
        const [a, b, c, d] = [indices[h], indices[h1], indices[h2], indices[o2]]
        if (c === d || joined(indices, opposite, h2, d)) continue
        const before = Math.min(now(t), now(s))
        const after = Math.min(looks(a, d, c, corners[h], corners[o2], corners[h2]), looks(d, b, c, corners[o2], corners[h1], corners[h2]))
        if (after <= before + 1e-6) continue
        flip(indices, corners, opposite, h)
        flipped++
        break
      }
    }
    if (flipped === 0) break
    any = true
  }
  return any ? withFlips(solid, { indices, corners }) : solid
}

/** How far the triangle of three vertices and corners looks along their normals, −1 to 1; 0 where it has no area. */
function looking(p: Float64Array, normals: Float32Array) {
  return (va: number, vb: number, vc: number, ca: number, cb: number, cc: number): number => {
    const [a, b, c] = [3 * va, 3 * vb, 3 * vc]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const mx = normals[3 * ca] + normals[3 * cb] + normals[3 * cc]
    const my = normals[3 * ca + 1] + normals[3 * cb + 1] + normals[3 * cc + 1]
    const mz = normals[3 * ca + 2] + normals[3 * cb + 2] + normals[3 * cc + 2]
    return (nx * mx + ny * my + nz * mz) / (Math.sqrt((nx * nx + ny * ny + nz * nz) * (mx * mx + my * my + mz * mz)) || 1)
  }
}

/** Whether some triangle of a solid looks away from its own normals. */
export function turnedOver({ positions, indices, attributes: { normal } }: Solid): boolean {
  if (!normal) return false
  return !allLook(indices, looking(positions, normal), (cosine) => !(cosine < 0))
}

/** Whether all triangles look along their normals as they should. */
function allLook(indices: Uint32Array, looks: ReturnType<typeof looking>, should: (cosine: number) => boolean): boolean {
  for (let t = 0; t < indices.length; t += 3) if (!should(looks(indices[t], indices[t + 1], indices[t + 2], t, t + 1, t + 2))) return false
  return true
}

/** Whether a side runs from the vertex half-edge h begins at to another one already; also where more than two triangles share a side there. */
function joined(indices: Uint32Array, opposite: Int32Array, h: number, to: number): boolean {
  let at = h
  do {
    if (indices[nextOf(at)] === to) return true
    const back = nextOf(nextOf(at))
    if (indices[back] === to) return true
    at = opposite[back]
    // round a side of more than two triangles one may go on for ever
    if (at >= 0 && opposite[at] !== back) return true
  } while (at >= 0 && at !== h)
  return false
}

/** A corner this near to a triangle's plane lies in it, mm. */
const IN_PLANE = 2e-5
const MOST_FLIPS_EACH = 12

/**
 * A solid whose flat places are cut into triangles as stout as they can be: sides between two triangles of one surface in one plane are flipped
 * until the circle about each holds no corner of the other (Lawson, "Transforming triangulations", 1972). Vertices stay, and so does the shape;
 * slivers that would stand up as flaps when it is bent are gone.
 */
export const stoutTriangles = (solid: Solid): Solid => withFlips(solid, stoutFlips(solid))

/** Other triangles between the same vertices: their indices, and of each corner the one that its attributes are from. */
export interface Flips {
  readonly indices: Uint32Array
  readonly corners: Uint32Array
}

export const withFlips = (solid: Solid, { indices, corners }: Flips): Solid => ({
  ...solid,
  indices,
  attributes: mapAttributes(solid.attributes, (_, array, { at, size }) => (at === 'corner' ? pickPlaces(array, size, corners) : array)),
})

/** What `stoutTriangles` flips: positions, triangles and surface alone say so. */
export function stoutFlips(solid: Pick<Solid, 'positions' | 'indices' | 'surface'>): Flips {
  const { positions: p, surface } = solid
  const indices = solid.indices.slice()
  const corners = upTo(indices.length)
  const opposite = oppositesOf(indices)
  const [n, m] = [new Float64Array(3), new Float64Array(3)]
  const normal = (a: number, b: number, c: number, into: Float64Array): number => {
    const ux = p[3 * b] - p[3 * a]
    const uy = p[3 * b + 1] - p[3 * a + 1]
    const uz = p[3 * b + 2] - p[3 * a + 2]
    const vx = p[3 * c] - p[3 * a]
    const vy = p[3 * c + 1] - p[3 * a + 1]
    const vz = p[3 * c + 2] - p[3 * a + 2]
    into[0] = uy * vz - uz * vy
    into[1] = uz * vx - ux * vz
    into[2] = ux * vy - uy * vx
    return Math.sqrt(into[0] ** 2 + into[1] ** 2 + into[2] ** 2)
  }
  /** the cosine of a triangle's angle at a corner, times the lengths of its sides there */
  const dot = (at: number, a: number, b: number): number => {
    const [i, j, k] = [3 * at, 3 * a, 3 * b]
    return (p[j] - p[i]) * (p[k] - p[i]) + (p[j + 1] - p[i + 1]) * (p[k + 1] - p[i + 1]) + (p[j + 2] - p[i + 2]) * (p[k + 2] - p[i + 2])
  }
  /** the cotangent of that angle */
  const cotangent = (at: number, a: number, b: number): number => {
    const d = dot(at, a, b)
    return d / Math.sqrt(Math.max(1e-30, dot(at, a, a) * dot(at, b, b) - d * d))
  }
  const given = opposite.slice()
  const stack: number[] = []
  let next = indices.length - 1
  let left = MOST_FLIPS_EACH * indices.length
  while (left-- > 0) {
    // each side, and before the next one those beside what was flipped
    let h = stack.pop()
    if (h === undefined) {
      while (next >= 0 && given[next] <= next) next--
      if (next < 0) break
      h = next--
    }
    const o = opposite[h]
    if (o < 0) continue
    const [t, s] = [Math.floor(h / 3), Math.floor(o / 3)]
    if (surface[t] !== surface[s]) continue
    const [h1, h2, o2] = [nextOf(h), nextOf(nextOf(h)), nextOf(nextOf(o))]
    const [a, b, c, d] = [indices[h], indices[h1], indices[h2], indices[o2]]
    // two angles that are no wider than right ones need no more
    if (c === d || (dot(c, a, b) >= 0 && dot(d, a, b) >= 0) || !(cotangent(c, a, b) + cotangent(d, a, b) < -1e-7)) continue
    const [long, other] = [normal(a, b, c, n), normal(b, a, d, m)]
    // the stouter one says where the plane is
    const [plane, size, from, off] = long >= other ? [n, long, a, d] : [m, other, b, c]
    if (size === 0) continue
    let height = 0
    for (let k = 0; k < 3; k++) height += (plane[k] / size) * (p[3 * off + k] - p[3 * from + k])
    if (Math.abs(height) > IN_PLANE) continue
    const [x, y, z] = [plane[0] / size, plane[1] / size, plane[2] / size]
    // both new ones must look the same way
    normal(a, d, c, n)
    normal(d, b, c, m)
    if (n[0] * x + n[1] * y + n[2] * z <= 0 || m[0] * x + m[1] * y + m[2] * z <= 0) continue
    // in slivers the other line may be a side already
    if (joined(indices, opposite, h2, d)) continue
    flip(indices, corners, opposite, h)
    for (const side of [3 * t, 3 * t + 2, 3 * s, 3 * s + 1]) stack.push(side)
  }
  return { indices, corners }
}
