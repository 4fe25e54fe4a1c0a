import { crossingPairs } from '../check/crossings'
import { loadManifold } from '../kernel/manifold'
import type { Apart } from '../repeat/apart'
import { latticeFor, snap } from '../outline/lattice'
import { BACK, EDGE, FACE, labelTable, NONE, PLAIN_ROW } from '../solid/labels'
import { type Solid, solidBounds } from '../solid/solid'
import { openEngine } from './engine'
import { accelerations, forceOn, type Forces, inMetres, isCalm, isCalmFrom } from './forces'
import { pointNormals } from './point-normals'
import { FARTHEST, momentsAbout, NoStand, type PointRecording, RATE, TOO_FAST, type Work } from './recording'
import { bodyShape } from './shape'
import type { SkinMask } from './skin-mask'
import { addSurroundings, type Surroundings } from './surroundings'
import { solidOfThing } from './things'
import { type Air, blow, isStill, windField } from './wind'
import { World } from './world'
import { CLOTH_HELD } from './cloth-held'

/** A cloth and how it falls. But for the things it falls on, coordinates are turned so that down is −y, whichever way it falls (see `turned`). */
export interface Draping extends Surroundings {
  readonly falls: Down
  /** the cloth's corner and its two sides along x and z, mm, at the height it begins at */
  readonly cloth: { readonly x: number; readonly z: number; readonly y: number; readonly wide: number; readonly deep: number }
  /** sides of its squares, mm */
  readonly edge: number
  /** mm */
  readonly thick: number
  /** 0, falls in soft folds, to 1, stands by itself */
  readonly stiffness: number
  /** what of it does not move */
  readonly held: (typeof CLOTH_HELD)[number]
  readonly air: Air
  readonly forces: Forces
  /** how long it is followed, s */
  readonly seconds: number
}

/** kg a m² of cloth */
const SHEET = 0.3

/** Fewer solver rounds overstretch it (shared/physics-notes.md §5). */
const ROUNDS = 12

const DAMPING = 0.8

/** m/N of threads, and of what keeps it from shearing */
const THREAD = 1e-6

const SHEAR = 2e-5

/** The cloth keeps so far off what it lies on, shares of a square's side: else edges come through between its points. */
const OFF = 0.7

export const MOST_POINTS = 30_000

const FASTEST = 20

/** Folds are smoothed so often at most, so many of them at once, with so many rings of points about them. */
const MOST_SMOOTHED = 14

const MOST_CROSSINGS = 4000

const RING = 2

/** As long as it is not dressed. */
const COLOUR = '#b5483f'

export const clothPoints = ({ cloth, edge }: Pick<Draping, 'cloth' | 'edge'>): readonly [number, number] => [
  Math.max(2, Math.round(cloth.wide / edge)) + 1,
  Math.max(2, Math.round(cloth.deep / edge)) + 1,
]

/**
 * Lets a cloth fall over things that stand still and records it. It does not meet itself. The same things, values and `masked` give the same numbers. Undefined where it blows up.
 */
export async function drape(
  apart: Apart,
  how: Draping,
  { breathe, progress, from, keep }: Work,
  { pinned, felt }: SkinMask = {},
): Promise<PointRecording | undefined> {
  await loadManifold()
  const J = await openEngine()
  const world = new World(J, { gravity: how.gravity, most: apart.things.length + how.obstacles.length })
  try {
    const size = 1 / how.metre
    for (const thing of apart.things) {
      // what it falls into is told from the front
      world.addParts(
        bodyShape(solidOfThing(apart, thing)).parts.map((part) => turned(part, how.falls).map((v) => v * size)),
        how.friction,
        how.bounce,
      )
      await breathe()
    }
    const [columns, rows] = clothPoints(how)
    const { points, inverse, edges, compliance, triangles } = clothOf(how, columns, rows, size)
    if (pinned) for (let i = 0; i < inverse.length; i++) if (pinned[i]) inverse[i] = 0
    const off = Math.max(how.thick / 2, OFF * how.edge)
    const box = [how.cloth.x, how.cloth.y, how.cloth.z, how.cloth.x + how.cloth.wide, how.cloth.y, how.cloth.z + how.cloth.deep]
    // its lower side lies on the floor
    addSurroundings(world, box, { ...how, ...(how.floor === undefined ? {} : { floor: how.floor - off + how.thick / 2 }) })
    const windy = !isStill(how.air)
    const forced = !isCalm(how.forces)
    const soft = world.addSoft({
      points,
      at: [0, 0, 0],
      inverse,
      edges,
      compliance,
      triangles,
      iterations: ROUNDS,
      damping: DAMPING,
      friction: how.friction,
      bounce: how.bounce,
      radius: off * size,
      // between letters that are nearer than twice that, points would be thrown to and fro ever faster
      fastest: FASTEST,
      restless: windy || forced,
    })
    const frames = Math.round(how.seconds * RATE) + 1
    const kept = new Float32Array(3 * columns * rows * frames)
    const [places, speeds] = [new Float32Array(points.length), new Float32Array(points.length)]
    const [wind, field] = [windField(how.air), accelerations(inMetres(how.forces, size))]
    let made = from?.frames ?? 0
    if (from) {
      if (from.values.length !== points.length * made || made > frames) throw new NoStand('so many points were not recorded')
      kept.set(from.values)
      world.restore(from.engine)
    }
    for (let frame = made; frame < frames; frame++, made++) {
      if (frame > 0) world.step(1 / RATE, 1)
      soft.positions(places)
      soft.velocities(speeds)
      const o = frame * points.length
      for (let i = 0; i < points.length; i++) {
        if (!Number.isFinite(places[i]) || !(Math.abs(speeds[i]) < TOO_FAST)) return undefined
        kept[o + i] = Math.min(FARTHEST, Math.max(-FARTHEST, places[i] * how.metre))
      }
      if (windy) blow(triangles, places, speeds, inverse, wind, frame / RATE, 1 / RATE, felt)
      if (forced) forceOn(places, speeds, inverse, field, frame / RATE, 1 / RATE, felt)
      if (windy || forced) soft.setVelocities(speeds)
      const restless = windy || !isCalmFrom(how.forces, frame / RATE)
      if (!restless) soft.letRest()
      if (!restless && !soft.awake) {
        made++
        break
      }
      if (frame % 4 === 0) {
        progress(frame / frames)
        await breathe()
        await keep?.(() => ({ frames: frame + 1, values: kept.subarray(0, points.length * (frame + 1)), engine: world.state(), own: [] }))
      }
    }
    return { frames: Math.min(made, frames), points: kept.slice(0, Math.min(made, frames) * points.length) }
  } finally {
    world[Symbol.dispose]()
  }
}

/** The cloth as it lies before it falls, with its thickness: its points are the first of its vertices. */
export function clothAtRest(how: Draping): Solid {
  const [columns, rows] = clothPoints(how)
  return thickened(turnedBack(clothOf(how, columns, rows, 1).points, how.falls), columns, rows, how.thick)
}

/** Points in a net, threads along and across, lines that keep it from shearing, and lines over two threads that keep it from folding sharply. */
function clothOf(how: Draping, columns: number, rows: number, size: number) {
  const { cloth, held, stiffness } = how
  const count = columns * rows
  const points = new Float64Array(3 * count)
  const at = (i: number, j: number) => j * columns + i
  const [dx, dz] = [cloth.wide / (columns - 1), cloth.deep / (rows - 1)]
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) points.set([(cloth.x + i * dx) * size, cloth.y * size, (cloth.z + j * dz) * size], 3 * at(i, j))
  const each = (SHEET * cloth.wide * cloth.deep * size * size) / count
  const inverse = new Float64Array(count).fill(1 / each)
  const corner = (i: number, j: number) => (i === 0 || i === columns - 1) && (j === 0 || j === rows - 1)
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++)
      if ((held === 'corners' && corner(i, j)) || (held === 'far' && j === 0) || (held === 'sides' && (i === 0 || i === columns - 1))) inverse[at(i, j)] = 0
  const edges: number[] = []
  const compliance: number[] = []
  const tie = (a: number, b: number, gives: number) => {
    edges.push(a, b)
    compliance.push(gives)
  }
  const bends = 10 ** (-1.8 - 0.7 * stiffness)
  // what is stiffer holds over a longer way
  const far = stiffness > 0.3 ? 10 ** (-1 - 2 * (stiffness - 0.3)) : 0
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      if (i + 1 < columns) tie(at(i, j), at(i + 1, j), THREAD)
      if (j + 1 < rows) tie(at(i, j), at(i, j + 1), THREAD)
      if (i + 2 < columns) tie(at(i, j), at(i + 2, j), bends)
      if (j + 2 < rows) tie(at(i, j), at(i, j + 2), bends)
      if (far > 0 && i + 5 < columns) tie(at(i, j), at(i + 5, j), far)
      if (far > 0 && j + 5 < rows) tie(at(i, j), at(i, j + 5), far)
      if (i + 1 === columns || j + 1 === rows) continue
      tie(at(i, j), at(i + 1, j + 1), SHEAR)
      tie(at(i + 1, j), at(i, j + 1), SHEAR)
    }
  return { points, inverse, edges: Uint32Array.from(edges), compliance: Float64Array.from(compliance), triangles: netTriangles(columns, rows) }
}

/** Two triangles for each square of a net, by turns the two ways; anticlockwise as seen from above. */
function netTriangles(columns: number, rows: number): Uint32Array {
  const out: number[] = []
  for (let j = 0; j + 1 < rows; j++)
    for (let i = 0; i + 1 < columns; i++) {
      const a = j * columns + i
      const [b, c, d] = [a + 1, a + columns + 1, a + columns]
      if ((i + j) % 2 === 0) out.push(a, d, c, a, c, b)
      else out.push(a, d, b, b, d, c)
    }
  return Uint32Array.from(out)
}

/** Where down is: along −y, or backwards along −z, as for letters that lie. */
export type Down = 'down' | 'back'

/** Positions turned so that down is −y. */
export const turned = (p: ArrayLike<number>, down: Down): Float64Array =>
  down === 'down' ? Float64Array.from(p) : Float64Array.from({ length: p.length }, (_, i) => (i % 3 === 0 ? p[i] : i % 3 === 1 ? p[i + 1] : -p[i - 1]))

/** The other way round. */
export const turnedBack = (p: ArrayLike<number>, down: Down): Float64Array =>
  down === 'down' ? Float64Array.from(p) : Float64Array.from({ length: p.length }, (_, i) => (i % 3 === 0 ? p[i] : i % 3 === 1 ? -p[i + 1] : p[i - 1]))

/**
 * The cloth as it was seen at a moment, s, with its thickness. Where it would cross itself (folds sharper than it is thick, or laid into each other, as it does not meet itself) its points are drawn
 * towards the middle of their neighbours, there alone, as often as it takes or helps. Nothing is certified.
 */
export function clothAt({ frames, points }: PointRecording, how: Pick<Draping, 'cloth' | 'edge' | 'falls' | 'thick'>, seconds: number): Solid {
  const [columns, rows] = clothPoints(how)
  const { falls: down, thick } = how
  const { low, high, share } = momentsAbout(frames, seconds)
  const count = columns * rows
  const middle = turnedBack(
    Float64Array.from({ length: 3 * count }, (_, i) => {
      const [a, b] = [points[3 * count * low + i], points[3 * count * high + i]]
      return a + share * (b - a)
    }),
    down,
  )
  for (let round = 0; ; round++) {
    const cloth = thickened(middle, columns, rows, thick)
    const crossing = round < MOST_SMOOTHED ? crossingPairs(cloth.positions, cloth.indices, MOST_CROSSINGS).flat() : []
    if (crossing.length === 0) return cloth
    const near = new Set(crossing.flatMap((t) => [0, 1, 2].map((k) => cloth.indices[3 * t + k] % count)))
    smoothAbout(middle, near, columns, rows)
  }
}

/** Draws points of a net, and those about them, towards the middle of their neighbours. */
function smoothAbout(p: Float64Array, points: ReadonlySet<number>, columns: number, rows: number): void {
  const about = new Set<number>()
  for (const v of points) {
    const [i, j] = [v % columns, Math.floor(v / columns)]
    for (let b = Math.max(0, j - RING); b <= Math.min(rows - 1, j + RING); b++)
      for (let a = Math.max(0, i - RING); a <= Math.min(columns - 1, i + RING); a++) about.add(b * columns + a)
  }
  for (let round = 0; round < 3; round++)
    for (const v of about) {
      const [i, j] = [v % columns, Math.floor(v / columns)]
      for (let k = 0; k < 3; k++) {
        let [sum, n] = [0, 0]
        // on the border along the border only, so that it does not shrink
        if (i > 0 && i + 1 < columns) {
          sum += p[3 * (v - 1) + k] + p[3 * (v + 1) + k]
          n += 2
        }
        if (j > 0 && j + 1 < rows) {
          sum += p[3 * (v - columns) + k] + p[3 * (v + columns) + k]
          n += 2
        }
        if (n > 0) p[3 * v + k] += 0.5 * (sum / n - p[3 * v + k])
      }
    }
}

/** A net of points as a sheet that is so thick, mm. */
function thickened(middle: Float64Array, columns: number, rows: number, thick: number): Solid {
  const count = columns * rows
  const sheet = netTriangles(columns, rows)
  const normals = pointNormals(middle, sheet)
  const lattice = latticeFor(solidBounds(middle).reduce((most, v) => Math.max(most, Math.abs(v)), 0) + thick)
  const positions = new Float64Array(6 * count)
  for (let i = 0; i < 3 * count; i++) {
    positions[i] = snap(middle[i] + (thick / 2) * normals[i], lattice) + 0
    positions[3 * count + i] = snap(middle[i] - (thick / 2) * normals[i], lattice) + 0
  }
  const rim = [
    ...Array.from({ length: columns - 1 }, (_, i) => [i + 1, i]),
    ...Array.from({ length: rows - 1 }, (_, j) => [j * columns, (j + 1) * columns]),
    ...Array.from({ length: columns - 1 }, (_, i) => [(rows - 1) * columns + i, (rows - 1) * columns + i + 1]),
    ...Array.from({ length: rows - 1 }, (_, j) => [(j + 2) * columns - 1, (j + 1) * columns - 1]),
  ]
  const indices = Uint32Array.from([
    ...sheet,
    ...Array.from({ length: sheet.length }, (_, i) => count + sheet[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]),
    // the rim runs along the sheet's border, the sheet to its left
    ...rim.flatMap(([a, b]) => [b, a, count + a, b, count + a, count + b]),
  ])
  const triangles = sheet.length / 3
  const row = (group: number) => ({ ...PLAIN_ROW, group, letter: NONE })
  return {
    kind: 'solid',
    positions,
    indices,
    surface: Uint32Array.from({ length: indices.length / 3 }, (_, t) => (t < triangles ? 0 : t < 2 * triangles ? 1 : 2)),
    labels: labelTable([row(FACE), row(BACK), row(EDGE)]),
    attributes: {},
    letters: [],
    layers: [{ name: 'Cloth', colour: COLOUR }],
    bands: [],
    looks: [],
    lattice,
  }
}
