import { centreOf } from '../break/figures'
import { volumeOf } from '../break/samples'
import { randomShares } from '../cache/random'
import { loadManifold } from '../kernel/manifold'
import { massOf, type Stuff } from '../look/densities'
import type { Apart, Thing } from '../repeat/apart'
import { movedThings } from '../repeat/moved'
import { type Assembly, assemblyBounds, copySolid } from '../solid/assembly'
import { joinSolids, type Matrix } from '../solid/operations'
import type { Solid } from '../solid/solid'
import { openEngine } from './engine'
import { bodyShape } from './shape'
import { World } from './world'

/** How things fall. */
export interface Dropping {
  /** m/s² at the size that things seem to have */
  readonly gravity: number
  /** so many mm seem a metre: the larger, the quicker things fall */
  readonly metre: number
  readonly friction: number
  readonly bounce: number
  readonly stuff: Stuff
  /** the floor's height, mm; none when left out */
  readonly floor?: number
  /** walls about the floor, this far from the middle of everything: half its width and depth, mm; none when left out */
  readonly pen?: readonly [number, number]
  /** mm/s to the right, up and forward, and degrees a second about each axis at most, by lot */
  readonly push: readonly [number, number, number]
  readonly spin: number
  /** of each thing whether it is let go at once, or stays until something touches it; all are when left out */
  readonly letGo?: readonly boolean[]
  /** what things fall upon, in their own coordinates */
  readonly obstacles: readonly Solid[]
  readonly seed: number
  /** how long it is followed, s */
  readonly seconds: number
}

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
  /** when all came to rest, s; undefined when it had not */
  readonly rest?: number
}

export const RATE = 60
/** Collision steps in each step of time: two leave a fifth of the overlap that one leaves (shared/physics-notes.md §2). */
const COLLISIONS = 2
/** Things are followed so far, mm: what falls for ever is not. */
const FARTHEST = 20_000

interface Work {
  breathe(): Promise<void>
  progress(done: number): void
}

/** A thing as one solid in the assembly's coordinates. */
const solidOfThing = ({ assembly }: Apart, { entries }: Thing): Solid =>
  entries.length === 1 ? copySolid(assembly, entries[0]) : joinSolids(entries.map((entry) => ({ ...copySolid(assembly, entry), letters: [] })))

/**
 * Lets things fall and records it. The same things and values give the same numbers, in Node.js and in a browser: fixed steps, one order, one engine. Things are bodies of convex parts
 * (see bodyShape); their masses are by volume and density.
 */
export async function drop(apart: Apart, how: Dropping, { breathe, progress }: Work): Promise<Recording> {
  await loadManifold()
  const J = await openEngine()
  const { things } = apart
  const frames = Math.round(how.seconds * RATE) + 1
  const world = new World(J, { gravity: how.gravity, most: things.length + how.obstacles.length })
  try {
    return await followed(world, apart, how, frames, { breathe, progress })
  } finally {
    world[Symbol.dispose]()
  }
}

async function followed(world: World, apart: Apart, how: Dropping, frames: number, { breathe, progress }: Work): Promise<Recording> {
  const { things } = apart
  const size = 1 / how.metre
  const centres = new Float64Array(3 * things.length)
  const next = randomShares(how.seed ^ 0x4cf5ad43)
  let [off, bodies] = [0, 0]
  for (const [i, thing] of things.entries()) {
    const solid = solidOfThing(apart, thing)
    const centre = centreOf(solid)
    centres.set(centre, 3 * i)
    const shape = bodyShape(solid)
    off = Math.max(off, shape.off)
    bodies += shape.parts.length
    const drawn = () => ((2 * next() - 1) * how.spin * Math.PI) / 180
    world.add({
      parts: shape.parts.map((part) => part.map((v, k) => (v - centre[k % 3]) * size)),
      at: centre.map((v) => v * size) as [number, number, number],
      mass: Math.max(1e-6, massOf(Math.abs(volumeOf(solid)), how.stuff) * 1e6 * size ** 3),
      friction: how.friction,
      bounce: how.bounce,
      speed: how.push.map((v) => v * size) as [number, number, number],
      spin: [drawn(), drawn(), drawn()],
      asleep: how.letGo !== undefined && !how.letGo[i],
    })
    if (i % 16 === 15) await breathe()
  }
  const box = assemblyBounds(apart.assembly)
  const middle = [0, 1, 2].map((k) => ((box[k] + box[k + 3]) / 2) * size)
  if (how.floor !== undefined) {
    const floor = how.floor * size
    world.addBox([middle[0], floor - 5, middle[2]], [40, 5, 40], how.friction, how.bounce)
    if (how.pen) {
      const [across, deep] = how.pen.map((v) => v * size)
      for (const side of [-1, 1]) {
        world.addBox([middle[0] + side * (across + 1), floor + 20, middle[2]], [1, 25, deep + 2], how.friction, how.bounce)
        world.addBox([middle[0], floor + 20, middle[2] + side * (deep + 1)], [across + 2, 25, 1], how.friction, how.bounce)
      }
    }
  }
  for (const { positions, indices } of how.obstacles)
    world.addMesh(
      positions.map((v) => v * size),
      indices,
      how.friction,
      how.bounce,
    )
  const poses = new Float32Array(7 * things.length * frames)
  world.poses(poses, 0)
  let [rest, made]: [number | undefined, number] = [undefined, 1]
  for (let frame = 1; frame < frames; frame++, made++) {
    world.step(1 / RATE, COLLISIONS)
    world.poses(poses, 7 * things.length * frame)
    if (!world.awake) {
      rest ??= frame / RATE
      break
    }
    if (frame % 12 === 0) {
      progress(frame / frames)
      await breathe()
    }
  }
  const whole = Math.min(frames, made + 1)
  const seen = poses.subarray(0, 7 * things.length * whole)
  for (let o = 0; o < seen.length; o += 7) for (let k = 0; k < 3; k++) seen[o + k] = Math.min(FARTHEST, Math.max(-FARTHEST, seen[o + k] * how.metre))
  return { frames: whole, things: things.length, poses: seen.slice(), centres, off, bodies, ...(rest === undefined ? {} : { rest }) }
}

/** Things as they were seen at a moment, s; between two frames in between, after the last as they were then. At the beginning everything stands where it stood, exactly. */
export function seenAt(apart: Apart, recording: Recording, seconds: number): Assembly {
  const at = Math.min(recording.frames - 1, Math.max(0, seconds * RATE))
  return at === 0 ? apart.assembly : movedThings(apart, (_, i) => poseMatrix(recording, i, at))
}

/** What brings a thing from where it was at rest to where it was seen. */
function poseMatrix({ poses, things, centres }: Recording, thing: number, at: number): Matrix {
  const [low, high] = [Math.floor(at), Math.ceil(at)]
  const t = at - low
  const a = 7 * (low * things + thing)
  const b = 7 * (high * things + thing)
  const near = [3, 4, 5, 6].reduce((sum, k) => sum + poses[a + k] * poses[b + k], 0) < 0 ? -1 : 1
  const [px, py, pz] = [0, 1, 2].map((k) => poses[a + k] + t * (poses[b + k] - poses[a + k]))
  const q = [3, 4, 5, 6].map((k) => poses[a + k] + t * (near * poses[b + k] - poses[a + k]))
  const size = Math.hypot(...q)
  const [x, y, z, w] = q.map((v) => v / size)
  const turn = [
    [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
    [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
    [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
  ]
  const centre = centres.subarray(3 * thing, 3 * thing + 3)
  return [px, py, pz].flatMap((p, r) => [...turn[r], p - (turn[r][0] * centre[0] + turn[r][1] * centre[1] + turn[r][2] * centre[2])]) as unknown as Matrix
}
