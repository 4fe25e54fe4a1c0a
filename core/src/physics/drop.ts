import { z } from 'zod'
import type { Bake } from '../format/bake'
import { centreOf } from '../break/figures'
import { volumeOf } from '../solid/volume'
import { randomShares } from '../cache/random'
import { loadManifold } from '../kernel/manifold'
import { massOf, type Stuff } from '../look/densities'
import type { Apart } from '../repeat/apart'
import { movedThings } from '../repeat/moved'
import { type Assembly, assemblyBounds } from '../solid/assembly'
import type { Matrix } from '../solid/operations'
import type { Solid } from '../solid/solid'
import { openEngine } from './engine'
import { accelerations, type Forces, inMetres, isCalmFrom } from './forces'
import { FARTHEST, momentsAbout, NoStand, RATE, type Work } from './recording'
import { bodyShape } from './shape'
import { addSurroundings, type Surroundings } from './surroundings'
import type { Tether } from './tethers'
import { solidOfThing } from './things'
import { insideEachOther, touching } from './touching'
import { type Air, dragOn, isStill, windField } from './wind'
import { World } from './world'
import { HINGE_EDGES } from './hinge-edges'

/** How things fall. */
export interface Dropping extends Surroundings {
  readonly stuff: Stuff
  /** mm/s to the right, up and forward, and degrees a second about each axis at most, by lot */
  readonly push: readonly [number, number, number]
  readonly spin: number
  /** of each thing whether it is let go at once, or stays until something touches it; all are when left out */
  readonly letGo?: readonly boolean[]
  readonly air: Air
  readonly forces: Forces
  /** how much of wind and forces each thing feels, 0 to 1; all of it when left out */
  readonly felt?: readonly number[]
  /** ropes and chains */
  readonly tethers: readonly Tether[]
  /** each thing turns about an edge of its box, as a door or a flap does */
  readonly hinged?: HingeEdge
  /** what touches at the beginning holds together until it would have to hold so many times what a thing weighs on the whole */
  readonly glue?: number
  /** what begins inside another is pushed out of it first, without falling */
  readonly pushApart: boolean
  readonly seed: number
  /** how long it is followed, s */
  readonly seconds: number
}

export type HingeEdge = (typeof HINGE_EDGES)[number]

/** What was seen, sixty times a second. */
export interface Recording {
  readonly frames: number
  readonly things: number
  /** x, y, z in mm and the quaternion x, y, z, w of each thing's balance point, frame by frame: 7·things·frames */
  readonly poses: Float32Array
  /** each thing's balance point at rest, mm */
  readonly centres: Float64Array
  /** the worst share by which a thing's bodies fill more or less than it does, and how many bodies they are in all */
  readonly off: number
  readonly bodies: number
  /** pairs of things that begin inside each other */
  readonly inside: number
  /** they were pushed apart first */
  readonly pushed: boolean
  /** glued places, and how many of them gave way */
  readonly glued: number
  readonly parted: number
  /** when all came to rest, s; undefined when it had not */
  readonly rest?: number
}

/** Collision steps in each step of time: two leave a fifth of the overlap that one leaves (shared/physics-notes.md §2). */
const COLLISIONS = 2

/** What begins inside another is out of it after so many steps, or never. */
const MOST_PUSHES = 400

/**
 * Lets things fall and records it. The same things and values give the same numbers, in Node.js and in a browser: fixed steps, one order, one engine. Things are bodies of convex parts
 * (see bodyShape); their masses are by volume and density.
 */
export async function drop(apart: Apart, how: Dropping, work: Work): Promise<Recording> {
  await loadManifold()
  const J = await openEngine()
  const { things } = apart
  const frames = Math.round(how.seconds * RATE) + 1
  const world = new World(J, { gravity: how.gravity, most: things.length + how.obstacles.length })
  try {
    return await followed(world, apart, how, frames, work)
  } finally {
    world[Symbol.dispose]()
  }
}

async function followed(world: World, apart: Apart, how: Dropping, frames: number, { breathe, progress, from, keep }: Work): Promise<Recording> {
  const { things } = apart
  const size = 1 / how.metre
  const solids: Solid[] = []
  for (const [i, thing] of things.entries()) {
    solids.push(solidOfThing(apart, thing))
    if (i % 16 === 15) await breathe()
  }
  const { centres, off, bodies, heaviness } = await addThings(world, solids, how, breathe)
  addSurroundings(world, assemblyBounds(apart.assembly), how)
  for (const { from, to, length } of how.tethers) world.tie(from.thing, scaled(from.at, size), to.thing, scaled(to.at, size), length * size)
  if (how.hinged)
    for (const [i, { box }] of things.entries()) world.hinge(i, scaled(hingeOf(box, how.hinged), size), isUpright(how.hinged) ? [0, 1, 0] : [1, 0, 0])
  const pairs = how.glue === undefined ? [] : touching(things, solids)
  let glued = pairs.map(({ one, other, at }, number) => ({ number, place: world.glue(one, other, scaled(at, size)) }))
  const inside = insideEachOther(apart, solids)
  const stride = 7 * things.length
  const poses = new Float32Array(stride * frames)
  world.poses(poses, 0)
  if (how.pushApart && !from) pushedApart(world, poses.subarray(0, stride), how.gravity)
  const windy = !isStill(how.air)
  const shown = windy ? solids.map((solid) => shownAreas(solid, size)) : []
  const [wind, field] = [windField(how.air), accelerations(inMetres(how.forces, size))]
  const acting = new Float64Array(3)
  const holds = (how.glue ?? 0) * heaviness * how.gravity
  let [rest, made]: [number | undefined, number] = [undefined, from?.frames ?? 1]
  if (from) {
    if (from.values.length !== stride * made || made > frames) throw new NoStand('so many things were not recorded')
    poses.set(from.values)
    const holding = new Set(from.own)
    for (const { number, place } of glued) if (!holding.has(number)) world.part(place)
    glued = glued.filter(({ number }) => holding.has(number))
    world.restore(from.engine)
  }
  for (let frame = made; frame < frames; frame++, made++) {
    const before = poses.subarray(stride * (frame - 1), stride * frame)
    if (windy) blowOnThings(world, before, shown, wind, frame / RATE, how.felt)
    if (!isCalmFrom(how.forces, frame / RATE))
      for (let i = 0; i < things.length; i++) {
        field(before[7 * i], before[7 * i + 1], before[7 * i + 2], frame / RATE, acting)
        if (how.felt) for (let k = 0; k < 3; k++) acting[k] *= how.felt[i]
        world.accelerate(i, acting)
      }
    world.step(1 / RATE, COLLISIONS)
    // each of its collision steps has to be held
    glued = glued.filter(({ place }) => {
      if (world.strain(place, 1 / RATE / COLLISIONS) <= holds) return true
      world.part(place)
      return false
    })
    world.poses(poses, stride * frame)
    if (!windy && isCalmFrom(how.forces, frame / RATE) && !world.awake) {
      rest ??= frame / RATE
      break
    }
    if (frame % 12 === 0) {
      progress(frame / frames)
      await breathe()
      await keep?.(() => ({
        frames: frame + 1,
        values: poses.subarray(0, stride * (frame + 1)),
        engine: world.state(),
        own: glued.map(({ number }) => number),
      }))
    }
  }
  const whole = Math.min(frames, made + 1)
  const seen = poses.slice(0, stride * whole)
  for (let o = 0; o < seen.length; o += 7) for (let k = 0; k < 3; k++) seen[o + k] = Math.min(FARTHEST, Math.max(-FARTHEST, seen[o + k] * how.metre))
  return {
    frames: whole,
    things: things.length,
    poses: seen,
    centres,
    off,
    bodies,
    inside,
    pushed: how.pushApart,
    glued: pairs.length,
    parted: pairs.length - glued.length,
    ...(rest === undefined ? {} : { rest }),
  }
}

const scaled = (at: readonly [number, number, number], size: number) => at.map((v) => v * size) as [number, number, number]

const isUpright = (edge: HingeEdge) => edge === 'left' || edge === 'right'

/** The line that what is in a box turns about when it is hinged at an edge of it, halfway in: its two ends, mm. */
export function hingeLine(box: readonly number[], edge: HingeEdge): [[number, number, number], [number, number, number]] {
  const [x, y, z] = hingeOf(box, edge)
  return isUpright(edge)
    ? [
        [x, box[1], z],
        [x, box[4], z],
      ]
    : [
        [box[0], y, z],
        [box[3], y, z],
      ]
}

/** A place of a hinge: in the middle of an edge of a box, halfway in. */
function hingeOf(box: readonly number[], edge: HingeEdge): [number, number, number] {
  const [x, y, z] = [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2)
  return [edge === 'left' ? box[0] : edge === 'right' ? box[3] : x, edge === 'top' ? box[4] : edge === 'bottom' ? box[1] : y, z]
}

/** Adds every thing as a body. `heaviness`: what they weigh on the whole, kg. */
async function addThings(world: World, solids: readonly Solid[], how: Dropping, breathe: Work['breathe']) {
  const size = 1 / how.metre
  const centres = new Float64Array(3 * solids.length)
  const next = randomShares(how.seed ^ 0x4cf5ad43)
  let [off, bodies, weight] = [0, 0, 0]
  for (const [i, solid] of solids.entries()) {
    const centre = centreOf(solid)
    centres.set(centre, 3 * i)
    const shape = bodyShape(solid)
    off = Math.max(off, shape.off)
    bodies += shape.parts.length
    const drawn = () => ((2 * next() - 1) * how.spin * Math.PI) / 180
    const mass = Math.max(1e-6, massOf(Math.abs(volumeOf(solid)), how.stuff) * 1e6 * size ** 3)
    weight += mass
    world.add({
      parts: shape.parts.map((part) => part.map((v, k) => (v - centre[k % 3]) * size)),
      at: scaled(centre, size),
      mass,
      friction: how.friction,
      bounce: how.bounce,
      speed: scaled(how.push, size),
      spin: [drawn(), drawn(), drawn()],
      asleep: how.letGo !== undefined && !how.letGo[i],
    })
    await breathe()
  }
  return { centres, off, bodies, heaviness: solids.length > 0 ? weight / solids.length : 0 }
}

/** Steps without gravity, stopping everything after each, until nothing pushes anything any more; then nothing has a speed. `poses` are those of then. */
function pushedApart(world: World, poses: Float32Array, gravity: number): void {
  world.setGravity(0)
  const before = poses.slice()
  for (let i = 0; i < MOST_PUSHES; i++) {
    world.halt()
    before.set(poses)
    world.step(1 / RATE, COLLISIONS)
    world.poses(poses, 0)
    if (poses.every((v, k) => Math.abs(v - before[k]) < 1e-5)) break
  }
  world.halt()
  world.setGravity(gravity)
}

/** How much of itself a closed solid shows along x, y and z, m²: half of what its triangles show, as every second one looks the other way. */
function shownAreas({ positions: p, indices }: Solid, size: number): Float64Array {
  const areas = new Float64Array(3)
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    for (let k = 0; k < 3; k++) {
      const [u, v] = [(k + 1) % 3, (k + 2) % 3]
      areas[k] += Math.abs((p[b + u] - p[a + u]) * (p[c + v] - p[a + v]) - (p[b + v] - p[a + v]) * (p[c + u] - p[a + u])) / 4
    }
  }
  for (let k = 0; k < 3; k++) areas[k] *= size * size
  return areas
}

/** Pushes everything that moves by the air that meets it. `poses`: as they are now, m, seven numbers a thing; `felt`: how much of the air each feels. */
function blowOnThings(
  world: World,
  poses: Float32Array,
  shown: readonly Float64Array[],
  wind: ReturnType<typeof windField>,
  seconds: number,
  felt?: readonly number[],
): void {
  const air = new Float64Array(3)
  shown.forEach((areas, i) => {
    const at = poses.subarray(7 * i, 7 * i + 7)
    wind(at[0], at[1], at[2], seconds, air)
    const speed = world.speedOf(i)
    const turn = turnOf(at.subarray(3, 7))
    const meets = [0, 1, 2].map((k) => air[k] - speed[k])
    // along the thing's own axes and back
    const force = dragOn(
      areas,
      [0, 1, 2].map((k) => turn[0][k] * meets[0] + turn[1][k] * meets[1] + turn[2][k] * meets[2]),
    )
    const share = felt ? felt[i] : 1
    world.push(i, turn.map((row) => share * (row[0] * force[0] + row[1] * force[1] + row[2] * force[2])) as [number, number, number])
  })
}

/** The rotation of a unit quaternion x, y, z, w, by rows. */
const turnOf = ([x, y, z, w]: ArrayLike<number> & Iterable<number>): number[][] => [
  [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
  [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
  [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
]

/**
 * Things as they were seen at a moment, s; between two frames in between, after the last as they were then. At the beginning everything stands where it stood, exactly, unless it was pushed apart first.
 */
export function seenAt(apart: Apart, recording: Recording, seconds: number): Assembly {
  return seconds <= 0 && !recording.pushed ? apart.assembly : movedThings(apart, (_, i) => poseMatrix(recording, i, seconds))
}

/** What brings a thing from where it was at rest to where it was seen. */
export function poseMatrix({ frames, poses, things, centres }: Recording, thing: number, seconds: number): Matrix {
  const { low, high, share: t } = momentsAbout(frames, seconds)
  const a = 7 * (low * things + thing)
  const b = 7 * (high * things + thing)
  const near = [3, 4, 5, 6].reduce((sum, k) => sum + poses[a + k] * poses[b + k], 0) < 0 ? -1 : 1
  const [px, py, pz] = [0, 1, 2].map((k) => poses[a + k] + t * (poses[b + k] - poses[a + k]))
  const q = [3, 4, 5, 6].map((k) => poses[a + k] + t * (near * poses[b + k] - poses[a + k]))
  const size = Math.hypot(...q)
  const turn = turnOf(q.map((v) => v / size))
  const centre = centres.subarray(3 * thing, 3 * thing + 3)
  return [px, py, pz].flatMap((p, r) => [...turn[r], p - (turn[r][0] * centre[0] + turn[r][1] * centre[1] + turn[r][2] * centre[2])]) as unknown as Matrix
}

const aboutDrop = z.object({
  things: z.number(),
  centres: z.array(z.number()),
  off: z.number(),
  bodies: z.number(),
  inside: z.number(),
  pushed: z.boolean(),
  glued: z.number(),
  parted: z.number(),
  rest: z.number().optional(),
})

/** As it is kept. */
export const dropCodec = {
  pack: ({ frames, things, poses, centres, ...about }: Recording): Bake => ({
    about: { ...about, things, centres: Array.from(centres) },
    frames,
    stride: 7 * things,
    period: 7,
    values: poses,
  }),
  read({ about, frames, stride, values }: Bake): Recording | undefined {
    const read = aboutDrop.safeParse(about)
    if (!read.success || stride !== 7 * read.data.things || read.data.centres.length !== 3 * read.data.things) return undefined
    const { rest, ...more } = read.data
    return { ...more, centres: Float64Array.from(more.centres), frames, poses: values, ...(rest === undefined ? {} : { rest }) }
  },
}
