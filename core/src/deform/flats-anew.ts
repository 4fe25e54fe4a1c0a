import { orient3d } from 'robust-predicates'
import { type Edges, oppositesOf } from '../check/edges'
import { mapAttributes, pickPlaces } from '../solid/attributes'
import { constrainedTriangles } from '../solid/delaunay'
import { patchesOf } from '../solid/patches'
import { refineSolid, type TooLong } from '../solid/refine'
import { type Solid, solidBounds, vertexCount } from '../solid/solid'

/** The flat places of a solid, each of one surface: in planes of two axes, and large ones in any other. */
export class Flats {
  /** the axis a triangle of a flat place looks along most, −1 for those that are in none */
  readonly axis: Int8Array
  /** how much a flat place rises along that axis by each of the two after it, two numbers a triangle */
  readonly rise: Float64Array
  private readonly sides: Set<number>

  /** Of a solid; or the same as another has it, whose sides may then be parted apart from the other's. */
  constructor(of: Pick<Solid, 'positions' | 'indices' | 'surface'> | Flats) {
    if (of instanceof Flats) {
      this.axis = of.axis
      this.rise = of.rise
      this.sides = new Set(of.sides)
      return
    }
    const kinds = flatKinds(of)
    const { indices } = of
    this.sides = new Set()
    this.axis = new Int8Array(kinds.length).fill(-1)
    this.rise = new Float64Array(2 * kinds.length)
    for (let t = 0; t < kinds.length; t++) {
      if (kinds[t] < 0) continue
      const n = crossOf(of, t)
      const k = mostAlong(n)
      this.axis[t] = k
      if (n[k] === 0) continue
      this.rise[2 * t] = -n[(k + 1) % 3] / n[k]
      this.rise[2 * t + 1] = -n[(k + 2) % 3] / n[k]
    }
    for (const { rings } of patchesOf(indices, (t) => kinds[t]))
      for (const ring of rings) ring.forEach((v, i) => this.sides.add(sideKey(v, ring[(i + 1) % ring.length])))
  }

  /** Whether a side between two vertices is on the border of a flat place. */
  borders(a: number, b: number): boolean {
    return this.sides.has(sideKey(a, b))
  }

  /** A side was parted. */
  part(v: number, a: number, b: number): void {
    if (!this.sides.has(sideKey(a, b))) return
    this.sides.add(sideKey(a, v))
    this.sides.add(sideKey(v, b))
  }
}

/** Of a side one number, whichever way it runs. */
export const sideKey = (a: number, b: number): number => (a < b ? a * 67108864 + b : b * 67108864 + a)

/**
 * A solid whose flat places have their borders refined and are then cut into triangles anew between them. So they are cut across what bends them and
 * not both ways: a bar of twelve triangles takes a thousand and not ten thousand. `made` hears of every new vertex, as `flats` does; `edges` are those of the solid.
 */
export function flatsAnew(
  solid: Solid,
  flats: Flats,
  tooLong: TooLong,
  made: (vertex: number, a: number, b: number) => void,
  most: number,
  edges: Edges,
): { readonly solid: Solid; readonly flats: Flats } | undefined {
  const bordered = refineSolid(solid, (p, a, b, t) => flats.borders(a / 3, b / 3) && tooLong(p, a, b, t), { most, made, edges })
  if (!bordered || vertexCount(bordered) === vertexCount(solid)) return bordered && { solid: bordered, flats }
  const cut = recut(bordered)
  return { solid: cut, flats: new Flats(cut) }
}

/** Twice the area of a triangle along its normal. */
function crossOf({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>, t: number): readonly [number, number, number] {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
}

function mostAlong([x, y, z]: readonly number[]): 0 | 1 | 2 {
  const [a, b, c] = [Math.abs(x), Math.abs(y), Math.abs(z)]
  return a > b && a > c ? 0 : b > c ? 1 : 2
}

/** Flat places that stand askew count where one of their sides is so much of the piece: small ones are hardly parted. */
const LARGE = 1 / 50

/** A number for each triangle, the same for all of one plane and one surface that hang together or stand square to an axis; −1 for those that are in no flat place. */
function flatKinds(solid: Pick<Solid, 'positions' | 'indices' | 'surface'>): Int32Array {
  const { positions: p, indices, surface } = solid
  const count = indices.length / 3
  const kinds = new Int32Array(count).fill(-1)
  const planes = new Map<string, number>()
  const box = solidBounds(p)
  const large = (LARGE * Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2])) ** 2
  const apart = (a: number, b: number) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2
  const askew: number[] = []
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const k = [0, 1, 2].find((k) => p[a + k] === p[b + k] && p[b + k] === p[c + k])
    if (k === undefined) {
      if (Math.max(apart(a, b), apart(b, c), apart(c, a)) > large && crossOf(solid, t).some((v) => v !== 0)) askew.push(t)
      continue
    }
    const key = `${k} ${p[a + k]} ${surface[t]}`
    let number = planes.get(key)
    if (number === undefined) planes.set(key, (number = planes.size))
    kinds[t] = number
  }
  if (askew.length === 0) return kinds
  // those that hang together by a side and lie in one plane, exactly
  const opposite = oppositesOf(indices)
  const standing = new Uint8Array(count)
  for (const t of askew) standing[t] = 1
  let number = planes.size
  for (const first of askew) {
    if (kinds[first] >= 0) continue
    const place = [first]
    standing[first] = 0
    for (let i = 0; i < place.length; i++)
      for (let h = 3 * place[i]; h < 3 * place[i] + 3; h++) {
        const o = opposite[h]
        const other = o < 0 ? -1 : (o / 3) | 0
        if (other < 0 || !standing[other] || surface[other] !== surface[first]) continue
        const far = 3 * indices[o % 3 === 0 ? o + 2 : o - 1]
        if (!inPlane(p, 3 * indices[3 * first], 3 * indices[3 * first + 1], 3 * indices[3 * first + 2], far)) continue
        standing[other] = 0
        place.push(other)
      }
    // one triangle by itself is parted as any other
    if (place.length > 1) for (const t of place) kinds[t] = number
    number++
  }
  return kinds
}

/** Exact (Shewchuk, "Adaptive precision floating-point arithmetic", 1997). */
const inPlane = (p: Float64Array, a: number, b: number, c: number, d: number): boolean =>
  orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], p[d], p[d + 1], p[d + 2]) === 0

function recut(solid: Solid): Solid {
  const { positions: p, indices } = solid
  const x = new Float64Array(vertexCount(solid))
  const y = new Float64Array(vertexCount(solid))
  const gone = new Uint8Array(indices.length / 3)
  const triangles: number[] = []
  /** the corner each new corner takes its attributes from, and the triangle each new triangle its surface */
  const corners: number[] = []
  const from: number[] = []
  const kinds = flatKinds(solid)
  for (const { triangles: old, rings } of patchesOf(indices, (t) => kinds[t])) {
    if (old.length < 3) continue
    const n = crossOf(solid, old[0])
    const k = mostAlong(n)
    let [i, j] = [(k + 1) % 3, (k + 2) % 3]
    // seen from outside
    if (n[k] < 0) [i, j] = [j, i]
    const cornerOf = new Map<number, number>()
    for (const t of old) for (let h = 3 * t; h < 3 * t + 3; h++) cornerOf.set(indices[h], h)
    const border = rings.flat()
    const onBorder = new Set(border)
    // a ring that touches itself is left as it is
    if (onBorder.size !== border.length) continue
    const ids = [...border, ...[...cornerOf.keys()].filter((v) => !onBorder.has(v))]
    for (const v of ids) {
      x[v] = p[3 * v + i]
      y[v] = p[3 * v + j]
    }
    const found = constrainedTriangles(rings, ids, x, y)
    if (!found) continue
    for (const t of old) gone[t] = 1
    for (const v of found) {
      triangles.push(v)
      corners.push(cornerOf.get(v) as number)
    }
    for (let n = 0; n < found.length; n += 3) from.push(old[0])
  }
  if (from.length === 0) return solid
  const left: number[] = []
  for (let t = 0; t < gone.length; t++) if (!gone[t]) left.push(t)
  const all = Uint32Array.from({ length: 3 * left.length + corners.length }, (_, n) =>
    n < 3 * left.length ? 3 * left[Math.floor(n / 3)] + (n % 3) : corners[n - 3 * left.length],
  )
  return {
    ...solid,
    indices: Uint32Array.from(all, (h) => indices[h]),
    surface: Uint32Array.from({ length: left.length + from.length }, (_, n) => solid.surface[n < left.length ? left[n] : from[n - left.length]]),
    attributes: mapAttributes(solid.attributes, (_, array, { at, size }) => (at === 'corner' ? pickPlaces(array, size, all) : array)),
  }
}
