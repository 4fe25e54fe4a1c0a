import { mapAttributes, pickPlaces } from '../solid/attributes'
import { constrainedTriangles } from '../solid/delaunay'
import { patchesOf } from '../solid/patches'
import { refineSolid, type TooLong } from '../solid/refine'
import { type Solid, vertexCount } from '../solid/solid'

/** The flat places of a solid: in planes of two axes, each of one surface. */
export class Flats {
  /** the axis a triangle stands square to, −1 for those that stand askew */
  readonly axis: Int8Array
  private readonly sides = new Set<number>()

  constructor(solid: Solid) {
    const kindOf = flatKinds(solid)
    const { positions: p, indices } = solid
    this.axis = Int8Array.from({ length: indices.length / 3 }, (_, t) => {
      const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
      return [0, 1, 2].find((k) => p[a + k] === p[b + k] && p[b + k] === p[c + k]) ?? -1
    })
    for (const { rings } of patchesOf(indices, kindOf))
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
 * not both ways: a bar of twelve triangles takes a thousand and not ten thousand. `made` hears of every new vertex, as `flats` does.
 */
export function flatsAnew(
  solid: Solid,
  flats: Flats,
  tooLong: TooLong,
  made: (vertex: number, a: number, b: number) => void,
  most: number,
): { readonly solid: Solid; readonly flats: Flats } | undefined {
  const bordered = refineSolid(solid, (p, a, b, t) => flats.borders(a / 3, b / 3) && tooLong(p, a, b, t), { most, made })
  if (!bordered || vertexCount(bordered) === vertexCount(solid)) return bordered && { solid: bordered, flats }
  const cut = recut(bordered)
  return { solid: cut, flats: new Flats(cut) }
}

/** Which plane of two axes and which surface a triangle lies in; −1 for those that stand askew. */
function flatKinds({ positions: p, indices, surface }: Solid): (triangle: number) => number {
  const planes = new Map<string, number>()
  return (t) => {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    for (let k = 0; k < 3; k++) {
      if (p[a + k] !== p[b + k] || p[b + k] !== p[c + k]) continue
      const key = `${k} ${p[a + k]} ${surface[t]}`
      let number = planes.get(key)
      if (number === undefined) planes.set(key, (number = planes.size))
      return number
    }
    return -1
  }
}

function recut(solid: Solid): Solid {
  const { positions: p, indices } = solid
  const x = new Float64Array(vertexCount(solid))
  const y = new Float64Array(vertexCount(solid))
  const gone = new Uint8Array(indices.length / 3)
  const triangles: number[] = []
  /** the corner each new corner takes its attributes from, and the triangle each new triangle its surface */
  const corners: number[] = []
  const from: number[] = []
  for (const { triangles: old, rings } of patchesOf(indices, flatKinds(solid))) {
    if (old.length < 3) continue
    const [a, b, c] = [3 * indices[3 * old[0]], 3 * indices[3 * old[0] + 1], 3 * indices[3 * old[0] + 2]]
    const k = p[a] === p[b] && p[b] === p[c] ? 0 : p[a + 1] === p[b + 1] && p[b + 1] === p[c + 1] ? 1 : 2
    let [i, j] = [(k + 1) % 3, (k + 2) % 3]
    // seen from outside
    if ((p[b + i] - p[a + i]) * (p[c + j] - p[a + j]) - (p[b + j] - p[a + j]) * (p[c + i] - p[a + i]) < 0) [i, j] = [j, i]
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
