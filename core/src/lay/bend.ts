import type { Point } from '../check/rays'
import { mendedSolid } from '../join/placed'
import { mapAttributes } from '../solid/attributes'
import { stoutTriangles } from '../solid/flip'
import { refineSolid, type TooLong } from '../solid/refine'
import { labelAt, type Solid, solidBounds, triangleCount } from '../solid/solid'
import type { Ground } from './ground'
import { areaNormal, atWeights, cross, dot, nextOf, unit } from './surface'

/** What came of laying words on a ground. */
export interface Bent {
  /** on the lattice, in the body's coordinates */
  readonly solid: Solid
  /** nothing of it crosses itself */
  readonly sound: boolean
  /** letters that find no surface beneath them, by their number; NONE for what is no letter */
  readonly off: readonly number[]
  /** how much longer or shorter lengths are on the surface than in the plane, at the worst, and where */
  readonly stretch: { readonly least: number; readonly most: number; readonly place: Point | undefined }
  /** where depth turns the surface inside out, or the plane folds over it */
  readonly folds: readonly Point[]
  /** where the surface has an edge beneath the words */
  readonly creases: readonly Point[]
}

/** The share of the depth that bent triangles may be off by, and how many there may be. */
const SHARE = 0.004
const MOST_TRIANGLES = 700_000
const LEAST_STEP = 0.15
/** A side is no longer than this share of the whole: what lies between its ends must not be passed over. */
const MOST_ALONG = 12
/** Of a side's length, what must be left of it at its depth. */
const LEFT = 0.1
const CREASE = Math.cos((40 * Math.PI) / 180)
const MOST_PLACES = 12

/**
 * A flat solid bent over a ground: its x and y find a place on the surface, its z stands off it along the surface's direction. Its triangles are
 * parted as far as the surface curves, `finer` times as near to it. Everything is rounded to the lattice, and mended where that has spoilt it.
 */
export function bendOver(ground: Ground, flat: Solid, depth: number, lattice: number, finer = 1): Bent {
  const lay = new Layer(ground)
  // what has no place on the ground at its own corners has none when it is finer
  const first = spotsOf(lay, flat)
  const none = { off: lettersOf(flat, (v) => first[v].off), folds: lay.turnedOver() }
  if (none.off.length + none.folds.length > 0) return { solid: flat, sound: false, ...told(lay), ...none, folds: none.folds.slice(0, MOST_PLACES) }
  const [u0, v0, , u1, v1] = solidBounds(flat.positions)
  const widest = Math.max(u1 - u0, v1 - v0) / MOST_ALONG
  let fine: Solid | undefined
  const stout = stoutTriangles(flat)
  for (let off = (SHARE * depth) / finer; !fine; off *= 2) fine = refineSolid(stout, bendsMore(lay, off, widest), { most: MOST_TRIANGLES })
  fine = stoutTriangles(fine)
  const { positions: p } = fine
  const n = p.length / 3
  const spots = spotsOf(lay, fine)
  const points = new Float64Array(3 * n)
  const ups = new Float64Array(3 * n)
  spots.forEach(({ point, axes }, v) => {
    points.set(point, 3 * v)
    ups.set(axes[2], 3 * v)
  })
  const positions = new Float64Array(3 * n)
  for (let v = 0; v < n; v++)
    for (let k = 0; k < 3; k++) positions[3 * v + k] = Math.round((points[3 * v + k] + p[3 * v + 2] * ups[3 * v + k]) / lattice) * lattice + 0
  const normals = fine.attributes.normal
  const turned = normals && turnNormals(fine, normals, (v) => spots[v].axes)
  const bent: Solid = { ...fine, positions, lattice, attributes: mapAttributes(fine.attributes, (name, array) => (name === 'normal' ? turned : array)) }
  const folds = [...lay.turnedOver(), ...squeezed(fine, points, ups)].slice(0, MOST_PLACES)
  // what is turned inside out cannot be mended, and would take for ever
  const { solid, mended } = folds.length > 0 ? { solid: bent, mended: undefined } : mendedSolid(bent)
  return {
    solid,
    sound: mended?.sound ?? false,
    off: lettersOf(fine, (v) => spots[v].off),
    folds,
    ...told(lay),
  }
}

const told = (lay: Layer): Pick<Bent, 'stretch' | 'creases'> => ({ stretch: lay.stretch(), creases: lay.creases() })

const spotsOf = (lay: Layer, { positions: p }: Solid): Spot[] => Array.from({ length: p.length / 3 }, (_, v) => lay.at(p[3 * v], p[3 * v + 1]))

/**
 * Every letter by itself put on the ground as it is: it stands on the plane that touches the surface beneath its middle. What reaches into the
 * body is made so much longer that it does so everywhere; what stands out of a cutter likewise.
 */
export function standOn(ground: Ground, flat: Solid, lattice: number): Bent {
  const { positions: p, indices } = flat
  const n = p.length / 3
  // letters by their number; what is none by its part
  const group = new Int32Array(n)
  for (let t = 0; t < triangleCount(flat); t++) {
    const letter = labelAt(flat, t, 'letter')
    for (let k = 0; k < 3; k++) group[indices[3 * t + k]] = letter >= 0 ? letter : -1 - labelAt(flat, t, 'part')
  }
  const boxes = new Map<number, [number, number, number, number]>()
  for (let v = 0; v < n; v++) {
    const box = boxes.get(group[v]) ?? [Infinity, Infinity, -Infinity, -Infinity]
    for (let k = 0; k < 2; k++) {
      box[k] = Math.min(box[k], p[3 * v + k])
      box[2 + k] = Math.max(box[2 + k], p[3 * v + k])
    }
    boxes.set(group[v], box)
  }
  const lay = new Layer(ground)
  const positions = new Float64Array(3 * n)
  const off = new Set<number>()
  const stands = new Map<number, { point: Point; axes: Axes; u: number; v: number; sink: number; rise: number }>()
  for (const [letter, [u0, v0, u1, v1]] of boxes) {
    const [u, v] = [(u0 + u1) / 2, (v0 + v1) / 2]
    const { point, axes, off: none } = lay.at(u, v)
    if (none) off.add(Math.max(-1, letter))
    stands.set(letter, { point, axes, u, v, sink: 0, rise: 0 })
  }
  for (let v = 0; v < n; v++) {
    const stand = stands.get(group[v])
    if (!stand) continue
    const { point, off: none } = lay.at(p[3 * v], p[3 * v + 1])
    if (none) {
      off.add(Math.max(-1, group[v]))
      continue
    }
    const above = dot([point[0] - stand.point[0], point[1] - stand.point[1], point[2] - stand.point[2]], stand.axes[2])
    stand.sink = Math.max(stand.sink, -above)
    stand.rise = Math.max(stand.rise, above)
  }
  const folds = lay.turnedOver().slice(0, MOST_PLACES)
  if (off.size + folds.length > 0) return { solid: flat, sound: false, off: [...off], stretch: lay.stretch(), folds, creases: [] }
  for (let v = 0; v < n; v++) {
    const stand = stands.get(group[v])
    if (!stand) continue
    const z = p[3 * v + 2]
    const [x, y] = [p[3 * v] - stand.u, p[3 * v + 1] - stand.v]
    const height = z < 0 ? z - stand.sink : z > 0 ? z + stand.rise : z
    for (let k = 0; k < 3; k++)
      positions[3 * v + k] = Math.round((stand.point[k] + x * stand.axes[0][k] + y * stand.axes[1][k] + height * stand.axes[2][k]) / lattice) * lattice + 0
  }
  const normals = flat.attributes.normal
  const turned = normals && turnNormals(flat, normals, (v) => stands.get(group[v])?.axes ?? axesOf(ground.frame.along, ground.frame.normal))
  const { solid, mended } = mendedSolid({
    ...flat,
    positions,
    lattice,
    attributes: mapAttributes(flat.attributes, (name, array) => (name === 'normal' ? turned : array)),
  })
  return { solid, sound: mended.sound, off: [], stretch: lay.stretch(), folds, creases: [] }
}

type Axes = readonly [Point, Point, Point]

interface Spot {
  readonly point: Point
  readonly axes: Axes
  readonly off: boolean
}

/** Unit vectors at right angles: along, up and off a surface. */
function axesOf(u: Point, normal: Point): Axes {
  const d = dot(u, normal)
  const along = unit([u[0] - d * normal[0], u[1] - d * normal[1], u[2] - d * normal[2]])
  return [along, cross(normal, along), normal]
}

/** Looks things up on a ground and remembers which triangles were met. */
class Layer {
  private readonly used = new Set<number>()

  constructor(private readonly ground: Ground) {}

  /** The surface over a place of the plane, the directions of u, v and the depth there, and whether there is any. */
  at(u: number, v: number): Spot {
    const { chart, surface, normals, sheet, frame } = this.ground
    const place = chart.at(u, v)
    if (!place)
      return {
        point: [0, 1, 2].map((k) => frame.point[k] + u * frame.along[k] + v * frame.up[k]) as unknown as Point,
        axes: [frame.along, frame.up, frame.normal],
        off: true,
      }
    const { triangle, weights } = place
    this.used.add(triangle)
    const real = atWeights(surface.positions, surface.indices, triangle, weights)
    if (!sheet) {
      const normal = unit(atWeights(normals, surface.indices, triangle, weights))
      return { point: real, axes: axesOf(chart.direction(triangle, surface.positions), normal), off: false }
    }
    // beside the sheet it goes smoothly, off it as far as the surface itself
    const { point, normal, along } = sheet.at(u, v)
    const above = dot([real[0] - point[0], real[1] - point[1], real[2] - point[2]], normal)
    return { point: [point[0] + above * normal[0], point[1] + above * normal[1], point[2] + above * normal[2]], axes: axesOf(along, normal), off: false }
  }

  /** The surface over a place of the plane without its roughness, which need not be followed. */
  smoothAt(u: number, v: number): { point: Point; normal: Point } {
    const { sheet } = this.ground
    if (sheet) return sheet.at(u, v)
    const { point, axes } = this.at(u, v)
    return { point, normal: axes[2] }
  }

  stretch(): Bent['stretch'] {
    const { chart, measured, surface } = this.ground
    let [least, most] = [1, 1]
    let place: Point | undefined
    for (const t of this.used) {
      const [lo, hi] = chart.stretch(t, measured)
      if (Math.max(1 / lo, hi) > Math.max(1 / least, most)) place = middleOf(surface.positions, surface.indices, t)
      least = Math.min(least, lo)
      most = Math.max(most, hi)
    }
    return { least, most, place }
  }

  /** Triangles beside those met that are turned over in the plane. */
  turnedOver(): Point[] {
    const { chart, surface } = this.ground
    if (chart.found !== 'first') return []
    return chart.turned
      .filter((t) => [0, 1, 2].some((k) => this.used.has(Math.floor(surface.opposite[3 * t + k] / 3))))
      .map((t) => middleOf(surface.positions, surface.indices, t))
  }

  creases(): Point[] {
    const { surface, edged } = this.ground
    const found: Point[] = []
    for (const t of this.used) {
      const n = areaNormal(edged, surface.indices, t)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const s = Math.floor(surface.opposite[h] / 3)
        if (s < 0) continue
        const m = areaNormal(edged, surface.indices, s)
        if (dot(n, m) < CREASE * Math.hypot(...n) * Math.hypot(...m)) found.push(middleOf(surface.positions, surface.indices, t))
      }
      if (found.length >= MOST_PLACES) break
    }
    return found
  }
}

const middleOf = (p: Float64Array, indices: Uint32Array, t: number): Point =>
  [0, 1, 2].map((k) => (p[3 * indices[3 * t] + k] + p[3 * indices[3 * t + 1] + k] + p[3 * indices[3 * t + 2] + k]) / 3) as unknown as Point

/** Whether the middle of a side comes to lie further off the middle of its ends than so much, mm, when they are bent; sides longer than `widest` do. */
function bendsMore(lay: Layer, off: number, widest: number): TooLong {
  const known = new Map<number, { point: Point; normal: Point }>()
  const at = (p: Float64Array, o: number) => {
    let spot = known.get(o)
    if (!spot) known.set(o, (spot = lay.smoothAt(p[o], p[o + 1])))
    return spot
  }
  return (p, a, b) => {
    const square = (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2
    if (square < LEAST_STEP * LEAST_STEP) return false
    if (square > widest * widest) return true
    const [from, to, middle] = [at(p, a), at(p, b), lay.smoothAt((p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2)]
    const [za, zb] = [p[a + 2], p[b + 2]]
    let miss = 0
    for (let k = 0; k < 3; k++) {
      const chord = (from.point[k] + za * from.normal[k] + to.point[k] + zb * to.normal[k]) / 2
      miss += (middle.point[k] + ((za + zb) / 2) * middle.normal[k] - chord) ** 2
    }
    return miss > off * off
  }
}

/** Sides of the flat solid that are next to nothing at the depth its triangles lie at: the surface curves more there than it is deep. */
function squeezed({ positions: p, indices }: Solid, points: Float64Array, ups: Float64Array): Point[] {
  let [low, high] = [0, 0]
  for (let i = 2; i < p.length; i += 3) {
    low = Math.min(low, p[i])
    high = Math.max(high, p[i])
  }
  const found: Point[] = []
  for (let h = 0; h < indices.length && found.length < MOST_PLACES; h++) {
    const [a, b] = [3 * indices[h], 3 * indices[nextOf(h)]]
    if (a > b) continue
    const side: Point = [points[b] - points[a], points[b + 1] - points[a + 1], points[b + 2] - points[a + 2]]
    const turn: Point = [ups[b] - ups[a], ups[b + 1] - ups[a + 1], ups[b + 2] - ups[a + 2]]
    const square = dot(side, side)
    if (square < 1e-6) continue
    const along = dot(side, turn) / square
    if (1 + Math.min(low * along, high * along) < LEFT) found.push([points[a], points[a + 1], points[a + 2]])
  }
  return found
}

/** Corner normals turned with the axes at their vertices. */
function turnNormals({ indices }: Solid, normals: Float32Array, axesOf: (v: number) => Axes): Float32Array {
  const out = new Float32Array(normals.length)
  const kept = new Map<number, Axes>()
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    let axes = kept.get(v)
    if (!axes) kept.set(v, (axes = axesOf(v)))
    for (let k = 0; k < 3; k++) out[3 * i + k] = normals[3 * i] * axes[0][k] + normals[3 * i + 1] * axes[1][k] + normals[3 * i + 2] * axes[2][k]
  }
  return out
}

/** The letters that have a vertex of which something is true. */
function lettersOf(solid: Solid, is: (v: number) => boolean): number[] {
  const found = new Set<number>()
  for (let t = 0; t < triangleCount(solid); t++) if ([0, 1, 2].some((k) => is(solid.indices[3 * t + k]))) found.add(labelAt(solid, t, 'letter'))
  return [...found]
}
