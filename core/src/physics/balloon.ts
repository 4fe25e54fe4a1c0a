import { volumeOf } from '../solid/volume'
import type { Solid } from '../solid/solid'
import { BalloonContacts } from './balloon-contacts'
import { openEngine } from './engine'
import type { Foil } from './foil'
import { FARTHEST, momentsAbout, NoStand, type PointRecording, RATE, TOO_FAST, type Work } from './recording'
import type { SoftBody } from './soft-body'
import type { SkinMask } from './skin-mask'
import { addObstacles } from './surroundings'
import { type Air, blow, isStill, windField } from './wind'
import { World } from './world'

/** How envelopes are filled. */
export interface Filling {
  /** Pa of gauge pressure at the size that things seem to have */
  readonly pressure: number
  /** by what share the skin is to stretch, about, where it is fullest: 0 for foil */
  readonly stretch: number
  /** how easily it creases: m/N that lines across its sides give */
  readonly crease: number
  /** so many mm seem a metre */
  readonly metre: number
  /** about how long sides of the skin's triangles are, mm */
  readonly side: number
  /** tied by a string that is so many mm long, drawn upwards by so many m/s² and blown about; free, and kept from drifting, when left out */
  readonly tied?: { readonly length: number; readonly lift: number; readonly air: Air }
  /** what stands still and is met */
  readonly obstacles: readonly Solid[]
  /** how long it is followed, s */
  readonly seconds: number
}

/** A foil to be filled, and the corner its string is tied to. */
export interface Envelope {
  readonly foil: Foil
  readonly valve: number
}

/** kg a m² of skin */
const SHEET = 0.375
/** Solver rounds: with half of them it may blow up at high pressure (shared/physics-notes.md §4). */
const ROUNDS = 10
/** m/N: foil gives nothing to speak of */
const STIFF = 1e-7
/** It is filled within so long, s. */
const RAMP = 1
const DAMPING = { free: 6, tied: 1.5 }
/** What is slower for so many frames is at rest, m/s. */
const SLOW = 0.012
const FRAMES_SLOW = 15
/** Skins of different balloons are held so far apart, and off what stands in their way, sides of triangles. */
const APART = 0.5
const FRICTION = 0.5
/** Corners that the engine can hold. */
export const MOST_CORNERS = 40_000

/** A balloon's own skin as springs: two corners each, how long they are in m at rest is theirs at the beginning. */
export interface Skin {
  readonly edges: Uint32Array
  /** how many of them are sides of triangles; the rest keep it from creasing */
  readonly sides: number
}

/** Sides of triangles, and lines across them from one opposite corner to the other, but not across the seam. */
export function skinOf({ triangles, border }: Foil): Skin {
  const opposite = new Map<number, number[]>()
  for (let i = 0; i < triangles.length; i++) {
    const [a, b, c] = [triangles[i], triangles[i % 3 === 2 ? i - 2 : i + 1], triangles[i % 3 === 0 ? i + 2 : i - 1]]
    const key = Math.min(a, b) * 0x4000000 + Math.max(a, b)
    const list = opposite.get(key)
    if (list) list.push(c)
    else opposite.set(key, [c])
  }
  const sides: number[] = []
  const across: number[] = []
  for (const [key, corners] of opposite) {
    const [a, b] = [Math.floor(key / 0x4000000), key % 0x4000000]
    sides.push(a, b)
    if ((a < border && b < border) || corners.length !== 2) continue
    across.push(corners[0], corners[1])
  }
  return { edges: Uint32Array.from([...sides, ...across]), sides: sides.length / 2 }
}

/**
 * How much sides give, and lines across them, m/N. Foil: its sides nothing, lines across as much as it is to crease. Rubber is to stretch by about the share asked where strokes are `radius` m round: there
 * the skin holds pressure × radius along the round and half of that along the stroke, and a net of springs k in even triangles gives 0.72 of that over k (Y = 2k/√3, ν = 1/3; Seung & Nelson, "Defects in
 * flexible membranes", 1988). Lines across are √3 as long, so that they count threefold.
 */
export function givesFor(
  { pressure, stretch, crease }: Pick<Filling, 'pressure' | 'stretch' | 'crease'>,
  radius: number,
): { readonly side: number; readonly across: number } {
  if (stretch <= 0) return { side: STIFF, across: crease }
  const whole = stretch / (0.72 * pressure * radius)
  return { side: (whole * 8) / 5, across: whole * 8 }
}

/** The radius that strokes swell to, mm: of a tube of the shape's own mean width. */
export function roundness({ points, triangles, border }: Foil): number {
  let [area, length] = [0, 0]
  // its front alone; lines between corners of the border are sides of the border there
  for (let i = 0; i < triangles.length / 2; i += 3) {
    const [a, b, c] = [3 * triangles[i], 3 * triangles[i + 1], 3 * triangles[i + 2]]
    area += flatArea(points, a, b, c)
    for (const [p, q] of [
      [a, b],
      [b, c],
      [c, a],
    ])
      if (p < 3 * border && q < 3 * border) length += Math.sqrt((points[p] - points[q]) ** 2 + (points[p + 1] - points[q + 1]) ** 2)
  }
  // of a strip much longer than wide: its area over half of its border is its width, and twice that goes round
  return length > 0 ? (2 * area) / length / Math.PI : 0
}

/** The area of a triangle in the plane; a, b and c: where its corners stand in p. */
const flatArea = (p: Float64Array, a: number, b: number, c: number): number =>
  Math.abs((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])) / 2

interface Filled {
  readonly envelope: Envelope
  readonly soft: SoftBody
  readonly inverse: Float64Array
  readonly places: Float32Array
  readonly speeds: Float32Array
  readonly feels?: Float64Array
  /** whether any of its corners is held, so that it does not drift */
  readonly held: boolean
}

/**
 * Fills envelopes and records them. Jolt's own pressure is p·n·R·T; it is set anew in every step so that the gauge pressure stays what was asked. The same envelopes and values give the same numbers.
 * Undefined where they blow up. What is `pinned` or feels less is told for the corners of all of them, one behind another.
 */
export async function fill(
  envelopes: readonly Envelope[],
  how: Filling,
  { breathe, progress, from, keep }: Work,
  { pinned, felt }: SkinMask = {},
): Promise<PointRecording | undefined> {
  const J = await openEngine()
  const world = new World(J, { gravity: how.tied ? -how.tied.lift : 0, most: envelopes.length + how.obstacles.length })
  try {
    let corners = 0
    const list = envelopes.map((envelope) => {
      const filled = added(world, envelope, how, corners)
      corners += envelope.foil.points.length / 3
      return filled
    })
    addObstacles(world, { ...how, friction: FRICTION, bounce: 0 })
    const frames = Math.round(how.seconds * RATE) + 1
    const points = new Float32Array(3 * corners * frames)
    const air = how.tied && !isStill(how.tied.air) ? how.tied.air : undefined
    const wind = air && windField(air)
    let [slow, rest, made]: [number, number | undefined, number] = [from?.own[0] ?? 0, undefined, from?.frames ?? 0]
    if (from) {
      if (from.values.length !== 3 * corners * made || made > frames) throw new NoStand('so many corners were not recorded')
      points.set(from.values)
      world.restore(from.engine)
      list.forEach(({ soft }, i) => soft.setPressure(from.own[1 + i]))
    }
    const pressures = new Array<number>(list.length).fill(0)
    const contacts = new BalloonContacts(
      list.map(({ envelope: { foil }, inverse, places, speeds }) => ({ places, speeds, inverse, triangles: foil.triangles, count: foil.points.length / 3 })),
      how.side / how.metre,
      (APART * how.side) / how.metre,
    )
    for (let frame = made; frame < frames; frame++, made++) {
      if (frame > 0) world.step(1 / RATE, 1)
      let [o, fastest] = [3 * corners * frame, 0]
      for (const [number, { envelope, soft, inverse, places, speeds, feels, held }] of list.entries()) {
        soft.positions(places)
        soft.velocities(speeds)
        const own = envelope.foil.points.length
        for (let i = 0; i < own; i++, o++) {
          const at = places[i] * how.metre
          if (!(Math.abs(speeds[i]) < TOO_FAST) || !Number.isFinite(at)) return undefined
          points[o] = Math.min(FARTHEST, Math.max(-FARTHEST, at))
          fastest = Math.max(fastest, Math.abs(speeds[i]))
        }
        const t = Math.min(1, (frame + 1) / RATE / RAMP)
        pressures[number] = how.pressure * t * Math.max(1e-7, volumeOf({ positions: places, indices: envelope.foil.triangles }))
        soft.setPressure(pressures[number])
        if (how.tied) {
          if (wind) blow(envelope.foil.triangles, places, speeds, inverse, wind, frame / RATE, 1 / RATE, feels)
        } else if (!held) calm(places, speeds, own / 3)
      }
      contacts.apply(1 / RATE)
      for (const { soft, speeds } of list) soft.setVelocities(speeds)
      slow = fastest < SLOW && frame > RATE * RAMP ? slow + 1 : 0
      if (slow >= FRAMES_SLOW && !wind) {
        rest = frame / RATE
        made++
        break
      }
      if (frame % 4 === 0) {
        progress(frame / frames)
        await breathe()
        await keep?.(() => ({
          frames: frame + 1,
          values: points.subarray(0, 3 * corners * (frame + 1)),
          engine: world.state(),
          own: [slow, ...pressures],
        }))
      }
    }
    return { frames: Math.min(frames, made), points: points.slice(0, 3 * corners * Math.min(frames, made)), ...(rest === undefined ? {} : { rest }) }
  } finally {
    world[Symbol.dispose]()
  }

  function added(into: World, envelope: Envelope, { metre, tied, side }: Filling, from: number): Filled {
    const size = 1 / metre
    const { foil, valve } = envelope
    const corners = foil.points.length / 3
    const { edges, sides } = skinOf(foil)
    // the string's far end is one corner more, which stays
    const all = tied ? corners + 1 : corners
    const points = new Float64Array(3 * all)
    points.set(foil.points.map((v) => v * size))
    const mass = massesOf(points, foil.triangles, all)
    const inverse = mass.map((kg, i) => (kg > 0 && !(i < corners && pinned?.[from + i]) ? 1 / kg : 0))
    const gives = givesFor(how, roundness(foil) * size)
    const compliance = new Float64Array(edges.length / 2 + (tied ? 1 : 0)).fill(gives.across)
    compliance.fill(gives.side, 0, sides)
    let list = edges
    if (tied) {
      points.set([points[3 * valve], points[3 * valve + 1] - tied.length * size, points[3 * valve + 2]], 3 * corners)
      list = Uint32Array.from([...edges, valve, corners])
      compliance[edges.length / 2] = 0
    }
    const soft = into.addSoft({
      points,
      at: [0, 0, 0],
      inverse,
      edges: list,
      compliance,
      triangles: foil.triangles,
      iterations: ROUNDS,
      damping: tied ? DAMPING.tied : DAMPING.free,
      friction: FRICTION,
      bounce: 0,
      radius: (APART * side) / metre,
      restless: true,
    })
    return {
      envelope,
      soft,
      inverse,
      places: new Float32Array(3 * all),
      speeds: new Float32Array(3 * all),
      feels: felt?.subarray(from, from + corners),
      held: pinned?.subarray(from, from + corners).includes(1) ?? false,
    }
  }
}

/** kg of each corner: a third of each of its triangles. */
function massesOf(points: Float64Array, triangles: Uint32Array, count: number): Float64Array {
  const mass = new Float64Array(count)
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [3 * triangles[i], 3 * triangles[i + 1], 3 * triangles[i + 2]]
    const area = flatArea(points, a, b, c)
    for (const corner of [a, b, c]) mass[corner / 3] += (SHEET * area) / 3
  }
  return mass
}

/** Takes the drift and the spin of the whole out of speeds: the solver leaves some, and what is free would wander off. */
function calm(p: Float32Array, v: Float32Array, count: number): void {
  const [c, u, turn, inertia] = [new Float64Array(3), new Float64Array(3), new Float64Array(3), new Float64Array(3)]
  for (let i = 0; i < 3 * count; i++) {
    c[i % 3] += p[i] / count
    u[i % 3] += v[i] / count
  }
  for (let i = 0; i < 3 * count; i += 3) {
    const [x, y, z] = [p[i] - c[0], p[i + 1] - c[1], p[i + 2] - c[2]]
    const [a, b, d] = [v[i] - u[0], v[i + 1] - u[1], v[i + 2] - u[2]]
    turn[0] += y * d - z * b
    turn[1] += z * a - x * d
    turn[2] += x * b - y * a
    inertia[0] += y * y + z * z
    inertia[1] += x * x + z * z
    inertia[2] += x * x + y * y
  }
  const w = turn.map((l, k) => (inertia[k] > 0 ? l / inertia[k] : 0))
  for (let i = 0; i < 3 * count; i += 3) {
    const [x, y, z] = [p[i] - c[0], p[i + 1] - c[1], p[i + 2] - c[2]]
    v[i] -= u[0] + w[1] * z - w[2] * y
    v[i + 1] -= u[1] + w[2] * x - w[0] * z
    v[i + 2] -= u[2] + w[0] * y - w[1] * x
  }
}

/** Where the corners of an envelope were at a moment, s: x, y, z, mm. */
export function balloonAt(envelopes: readonly Envelope[], number: number, { frames, points }: PointRecording, seconds: number): Float64Array {
  const { low, high, share } = momentsAbout(frames, seconds)
  const all = envelopes.reduce((sum, { foil }) => sum + foil.points.length, 0)
  const before = envelopes.slice(0, number).reduce((sum, { foil }) => sum + foil.points.length, 0)
  return Float64Array.from({ length: envelopes[number].foil.points.length }, (_, i) => {
    const [a, b] = [points[all * low + before + i], points[all * high + before + i]]
    return a + share * (b - a)
  })
}
