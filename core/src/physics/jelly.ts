import { volumeOf } from '../solid/volume'
import { blurred } from '../mask/blur'
import { MeasuredMask } from '../mask/measure'
import type { Mask } from '../mask/schema'
import { movedSurface } from '../deform/moved-surface'
import { type Travel, travelled } from '../document/travel'
import type { Apart } from '../repeat/apart'
import { around } from '../repeat/letter-boxes'
import { apply, joinSolids, type Matrix } from '../solid/operations'
import { refineSolid } from '../solid/refine'
import { type Solid, solidBounds, vertexCount } from '../solid/solid'
import { CarriedSkin } from './carried-skin'
import { type CellLattice, cellLattice } from './cell-lattice'
import { openEngine } from './engine'
import { accelerations, forceOn, type Forces, inMetres, isCalm, isCalmFrom } from './forces'
import { FARTHEST, momentsAbout, NoStand, type PointRecording, RATE, TOO_FAST, type Work } from './recording'
import { SkinContacts } from './skin-contacts'
import type { SoftBody } from './soft-body'
import { addSurroundings, type Surroundings } from './surroundings'
import { solidOfThing } from './things'
import { type Air, blow, isStill, windField } from './wind'
import { World } from './world'

/** A thing as it is simulated: its skin at rest and the lattice that carries it. */
export interface JellyBody {
  readonly skin: Solid
  readonly lattice: CellLattice
  /** corners that do not move */
  readonly held: Uint8Array
  /** how stiff it is about each corner beside the rest, 0 to 1 */
  readonly stiff: Float64Array
  /** how much of wind and forces each corner feels, 0 to 1; all of it when left out */
  readonly felt?: Float64Array
}

export interface Jelly {
  readonly bodies: readonly JellyBody[]
  /** corners of all lattices */
  readonly points: number
  /** vertices of the skin that are held */
  readonly pinned: number
}

/** How things wobble. */
export interface Jellying extends Surroundings {
  /** 0, limp, to 1, firm */
  readonly stiffness: number
  /** share of the speed that goes in a second */
  readonly damping: number
  /** how many times as large its volume wants to be */
  readonly swell: number
  /** g/cm³ at the size that things seem to have */
  readonly density: number
  readonly air: Air
  readonly forces: Forces
  /** how all of it is moved about: what is held goes along, the rest follows */
  readonly travel?: Travel
  /** how long it is followed, s */
  readonly seconds: number
}

/** Each moment kept is so many steps from the next: what flies at its own strokes is to meet them. */
const STEPS = 2
const STEP = 1 / RATE / STEPS
/** Corners of all lattices together that the engine can hold and that are stepped in time. */
const MOST_POINTS = 8000
/** The skin's sides at most, shares of a cell. */
const SKIN = 0.8
const MOST_TRIANGLES = 1_000_000
/** How far the jelly keeps off what it hits, m: a quarter of a millimetre where 50 mm seem a metre. */
const RADIUS = 0.005
/** Solver rounds are doubled so often where something blows up. */
const MOST_TRIES = 3
/** A cell this empty is as heavy as if so much of it were filled. */
const LEAST_FILLED = 0.1

export type JellyMade = { readonly ok: true; readonly jelly: Jelly } | { readonly ok: false; readonly why: 'too-fine' | 'too-many' }

/**
 * Things as jelly, each with a lattice of cells of about `cell` mm. Masks are measured here, once, on the shape at rest: every corner of a cell that carries a vertex where `pins` is `full` or more is held where it is, and wind and forces act as far as `felt` says.
 */
export async function makeJelly(
  apart: Apart,
  cell: number,
  pins: Mask,
  stiff: Mask,
  breathe: () => Promise<void>,
  full = 0.5,
  felt?: Mask,
): Promise<JellyMade> {
  const solids = apart.things.map((thing) => solidOfThing(apart, thing))
  // a cell has one corner of its own at least
  if (solids.reduce((sum, solid) => sum + Math.abs(volumeOf(solid)), 0) / cell ** 3 > MOST_POINTS) return { ok: false, why: 'too-many' }
  const skins: Solid[] = []
  for (const solid of solids) {
    await breathe()
    const longest = (SKIN * cell) ** 2
    const skin = refineSolid(solid, (p, a, b) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > longest, {
      most: MOST_TRIANGLES,
      longest: true,
    })
    if (!skin) return { ok: false, why: 'too-fine' }
    skins.push(skin)
  }
  const [held, firm, feels] = [onSkins(skins, pins), onSkins(skins, stiff), felt && onSkins(skins, felt)]
  const bodies: JellyBody[] = []
  let [points, pinned, from] = [0, 0, 0]
  for (const skin of skins) {
    await breathe()
    const lattice = cellLattice(skin, cell)
    const corners = lattice.points.length / 3
    points += corners
    if (points > MOST_POINTS) return { ok: false, why: 'too-many' }
    const fixed = new Uint8Array(corners)
    if (held)
      for (let v = 0; v < vertexCount(skin); v++) {
        if (held[from + v] < full) continue
        for (let c = 0; c < 8; c++) fixed[lattice.cells[8 * lattice.carrier[v] + c]] = 1
        pinned++
      }
    bodies.push({
      skin,
      lattice,
      held: fixed,
      stiff: firm ? throughCells(lattice, firm.subarray(from, from + vertexCount(skin))) : new Float64Array(corners),
      ...(feels ? { felt: throughCells(lattice, feels.subarray(from, from + vertexCount(skin))) } : {}),
    })
    from += vertexCount(skin)
  }
  return { ok: true, jelly: { bodies, points, pinned } }
}

/** Values of a skin's vertices at the corners of its lattice: the mean of what their cells carry, and within, where these carry nothing, of those round about. */
export function throughCells({ cells, carrier, points }: Pick<CellLattice, 'cells' | 'carrier' | 'points'>, values: ArrayLike<number>): Float64Array {
  const corners = points.length / 3
  const out = new Float64Array(corners).fill(Number.NaN)
  const [sum, times] = [new Float64Array(corners), new Float64Array(corners)]
  const settle = () => {
    let news = false
    for (let i = 0; i < corners; i++) {
      if (times[i] === 0 || !Number.isNaN(out[i])) continue
      out[i] = sum[i] / times[i]
      news = true
    }
    return news
  }
  for (let v = 0; v < values.length; v++)
    for (let c = 0; c < 8; c++) {
      sum[cells[8 * carrier[v] + c]] += values[v]
      times[cells[8 * carrier[v] + c]]++
    }
  while (settle()) {
    sum.fill(0)
    times.fill(0)
    for (let cell = 0; cell < cells.length; cell += 8)
      for (let a = 0; a < 8; a++)
        for (let b = 0; b < 8; b++) {
          const [there, here] = [cells[cell + a], cells[cell + b]]
          if (Number.isNaN(out[there]) || !Number.isNaN(out[here])) continue
          sum[here] += out[there]
          times[here]++
        }
  }
  return out.map((value) => (Number.isNaN(value) ? 1 : value))
}

/** A mask on several skins as on one piece; undefined where it has no entries. */
function onSkins(skins: readonly Solid[], mask: Mask): Float32Array | undefined {
  if (mask.list.length === 0) return undefined
  // all over one list of letters
  const whole = { ...joinSolids(skins.map((skin) => ({ ...skin, letters: [] }))), letters: skins[0]?.letters ?? [] }
  const measured = new MeasuredMask(whole, mask)
  const values = Float32Array.from({ length: vertexCount(whole) }, (_, v) => measured.at(whole.positions, 3 * v, v, v, 0))
  return blurred(values, whole.positions, whole.indices, mask.blur)
}

/**
 * Lets things wobble and records their lattices. Softness is a pure number s, and edges give s·w·(dt / rounds)² (shared/physics-notes.md §3); volumes give nothing. The same things and values give the
 * same numbers. Undefined where it blows up however finely it is stepped.
 */
export async function wobble(jelly: Jelly, how: Jellying, work: Work): Promise<PointRecording | undefined> {
  const smallest = Math.min(...jelly.bodies.map(({ lattice }) => Math.min(...lattice.size))) / how.metre
  let rounds = Math.min(30, Math.max(how.stiffness < 0.2 ? 10 : 5, Math.round(5 * (0.08 / smallest) ** 1.4)))
  const begun = work.from?.own[0] ?? 0
  for (let tries = 0; tries < MOST_TRIES; tries++, rounds *= 2) {
    if (tries < begun) continue
    const J = await openEngine()
    const world = new World(J, { gravity: how.gravity, most: jelly.bodies.length + how.obstacles.length })
    try {
      const recording = await followed(world, jelly, how, { rounds, tries }, tries === begun ? work : { ...work, from: undefined })
      if (recording) return recording
    } finally {
      world[Symbol.dispose]()
    }
  }
  return undefined
}

async function followed(
  world: World,
  jelly: Jelly,
  how: Jellying,
  { rounds, tries }: { readonly rounds: number; readonly tries: number },
  { breathe, progress, from, keep: store }: Work,
): Promise<PointRecording | undefined> {
  const size = 1 / how.metre
  const [windy, forced] = [!isStill(how.air), !isCalm(how.forces)]
  const isRestless = (seconds: number) => windy || how.travel !== undefined || !isCalmFrom(how.forces, seconds)
  const softs: { soft: SoftBody; outside: Uint32Array; inverse: Float64Array; places: Float32Array; speeds: Float32Array; felt?: Float64Array }[] = []
  for (const body of jelly.bodies) {
    const { tetrahedra, edges, outside } = meshOf(body.lattice)
    const inverse = inverseMasses(body, how.density, size)
    const compliance = compliances(body, edges, inverse, how.stiffness, rounds)
    const at = [0, 1, 2].map((k) => body.lattice.low[k] * size) as [number, number, number]
    const soft = world.addSoft({
      points: body.lattice.points.map((v, i) => v * size - at[i % 3]),
      at,
      inverse,
      edges,
      compliance,
      tetrahedra,
      swell: how.swell,
      iterations: Math.ceil(rounds / STEPS),
      damping: how.damping,
      friction: how.friction,
      bounce: how.bounce,
      radius: RADIUS,
      restless: isRestless(0),
    })
    softs.push({ soft, outside, inverse, places: new Float32Array(3 * soft.count), speeds: new Float32Array(3 * soft.count), felt: body.felt })
  }
  const box = jelly.bodies.map(({ skin }): ArrayLike<number> => solidBounds(skin.positions)).reduce(around)
  addSurroundings(world, Array.from(box), { ...how, ...(how.floor === undefined ? {} : { floor: how.floor - RADIUS * how.metre }) })
  const frames = Math.round(how.seconds * RATE) + 1
  const points = new Float32Array(3 * jelly.points * frames)
  const wind = windField(how.air)
  const field = accelerations(inMetres(how.forces, size))
  const contacts = new SkinContacts(
    softs.map(({ inverse, places, speeds }, i) => ({ lattice: jelly.bodies[i].lattice, skin: jelly.bodies[i].skin, places, speeds, inverse })),
    size,
  )
  // seen from where the piece is by then
  const keep = (frame: number) => {
    const first = 3 * jelly.points * frame
    let o = first
    for (const { soft } of softs) {
      soft.positions(points, o)
      o += 3 * soft.count
    }
    if (!how.travel) return
    const { back } = travelled(how.travel, frame / RATE)
    for (let i = first; i < o; i += 3) points.set(apply(scaled(back, size), points[i], points[i + 1], points[i + 2]), i)
  }
  const { travel } = how
  const lead =
    travel &&
    leading(
      jelly,
      softs.map(({ soft }) => soft),
      travel,
      size,
    )
  keep(0)
  let [rest, made]: [number | undefined, number] = [undefined, from?.frames ?? 1]
  if (from) {
    if (from.values.length !== 3 * jelly.points * made || made > frames) throw new NoStand('so many points were not recorded')
    points.set(from.values)
    contacts.restore(from.own.slice(1))
    world.restore(from.engine)
  }
  for (let frame = made; frame < frames; frame++, made++) {
    const restless = isRestless((frame - 1) / RATE)
    if (!restless) for (const { soft } of softs) soft.letRest()
    for (let part = 0; part < STEPS; part++) {
      const seconds = (frame - 1 + part / STEPS) / RATE
      for (const { soft, outside, inverse, places, speeds, felt } of softs) {
        soft.velocities(speeds)
        for (let i = 0; i < 3 * soft.count; i++) if (!(Math.abs(speeds[i]) < TOO_FAST)) return undefined
        soft.positions(places)
        if (lead) lead(soft, inverse, places, speeds, seconds + STEP)
        if (windy) blow(outside, places, speeds, inverse, wind, seconds, STEP, felt)
        if (forced) forceOn(places, speeds, inverse, field, seconds, STEP, felt)
      }
      if (contacts.apply(STEP) || restless || lead) for (const { soft, speeds } of softs) soft.setVelocities(speeds)
      world.step(STEP, 1)
    }
    keep(frame)
    if (!restless && softs.every(({ soft }) => !soft.awake)) {
      rest = frame / RATE
      break
    }
    if (frame % 6 === 0) {
      progress(frame / frames)
      await breathe()
      await store?.(() => ({
        frames: frame + 1,
        values: points.subarray(0, 3 * jelly.points * (frame + 1)),
        engine: world.state(),
        own: [tries, ...contacts.state()],
      }))
    }
  }
  const whole = Math.min(frames, made + 1)
  const seen = points.slice(0, 3 * jelly.points * whole)
  let o = 0
  // what is held stays where it was at rest, exactly, and not only as nearly as a float of metres can say
  for (const {
    held,
    lattice: { points: own },
  } of jelly.bodies)
    for (let i = 0; i < own.length; i++, o++)
      for (let frame = 0, at = o; frame < whole; frame++, at += 3 * jelly.points) {
        if (!Number.isFinite(seen[at])) return undefined
        seen[at] = held[Math.floor(i / 3)] ? own[i] : Math.min(FARTHEST, Math.max(-FARTHEST, seen[at] * how.metre))
      }
  return { frames: whole, points: seen, ...(rest === undefined ? {} : { rest }) }
}

/** Gives what is held the speed that brings it to where its piece is at the end of a step. */
function leading(jelly: Jelly, softs: readonly SoftBody[], travel: Travel, size: number) {
  return (soft: SoftBody, inverse: Float64Array, places: Float32Array, speeds: Float32Array, seconds: number): void => {
    const { points } = jelly.bodies[softs.indexOf(soft)].lattice
    const to = scaled(travelled(travel, seconds).to, size)
    for (let i = 0; i < inverse.length; i++) {
      if (inverse[i] !== 0) continue
      const there = apply(to, points[3 * i] * size, points[3 * i + 1] * size, points[3 * i + 2] * size)
      for (let k = 0; k < 3; k++) speeds[3 * i + k] = (there[k] - places[3 * i + k]) / STEP
    }
  }
}

/** The same matrix where mm are so many m. */
const scaled = (m: Matrix, size: number): Matrix => m.map((v, i) => (i % 4 === 3 ? v * size : v)) as unknown as Matrix

/** Cells cut into five tetrahedra each, by turns the two ways that fit their neighbours; their edges; and the triangles that no two cells share. */
function meshOf({ cells, places }: CellLattice) {
  const ways = [
    [0, 1, 2, 4, 3, 2, 1, 7, 5, 4, 7, 1, 6, 7, 4, 2, 1, 2, 4, 7],
    [1, 3, 0, 5, 2, 0, 3, 6, 4, 6, 5, 0, 7, 5, 6, 3, 0, 3, 6, 5],
  ]
  const tetrahedra: number[] = []
  const edges: number[] = []
  const known = new Set<number>()
  const sides = new Map<string, number[]>()
  for (let cell = 0; cell < cells.length / 8; cell++) {
    const odd = (places[3 * cell] + places[3 * cell + 1] + places[3 * cell + 2]) % 2
    const own = ways[odd].map((corner) => cells[8 * cell + corner])
    tetrahedra.push(...own)
    for (let t = 0; t < 20; t += 4)
      for (let a = 0; a < 4; a++)
        for (let b = a + 1; b < 4; b++) {
          const [p, q] = [Math.min(own[t + a], own[t + b]), Math.max(own[t + a], own[t + b])]
          if (known.has(p * 0x100000 + q)) continue
          known.add(p * 0x100000 + q)
          edges.push(p, q)
        }
    for (let axis = 0; axis < 3; axis++)
      for (const far of [0, 1]) {
        const [u, v] = [1 << ((axis + 1) % 3), 1 << ((axis + 2) % 3)]
        const from = far << axis
        const ring = (far ? [from, from + u, from + u + v, from + v] : [from, from + v, from + u + v, from + u]).map((corner) => cells[8 * cell + corner])
        const key = [...ring].sort((a, b) => a - b).join(' ')
        if (sides.has(key)) sides.set(key, [])
        else sides.set(key, ring)
      }
  }
  const outside = [...sides.values()].flatMap((ring) => (ring.length === 0 ? [] : [ring[0], ring[1], ring[2], ring[0], ring[2], ring[3]]))
  return { tetrahedra: Uint32Array.from(tetrahedra), edges: Uint32Array.from(edges), outside: Uint32Array.from(outside) }
}

/** 1/kg of each corner: an eighth of each of its cells, as far as they are filled; 0 for what is held. */
function inverseMasses({ lattice, held }: JellyBody, density: number, size: number): Float64Array {
  const { cells, filled, points } = lattice
  const volume = lattice.size[0] * lattice.size[1] * lattice.size[2] * size ** 3
  const mass = new Float64Array(points.length / 3)
  for (let i = 0; i < cells.length; i++) mass[cells[i]] += (Math.max(LEAST_FILLED, filled[i >> 3]) * volume * density * 1000) / 8
  return mass.map((kg, i) => (held[i] ? 0 : 1 / kg))
}

/** How much each edge gives: 0.05 (firm) to 20 (limp) by stiffness, a thousandth of it where the mask says stiff. */
function compliances({ held, stiff }: JellyBody, edges: Uint32Array, inverse: Float64Array, stiffness: number, rounds: number): Float64Array {
  const free = inverse.filter((_, i) => !held[i])
  const w = free.length > 0 ? free.reduce((sum, v) => sum + v, 0) / free.length : 0
  const softness = 20 * (1 / 400) ** stiffness
  const step = STEP / Math.ceil(rounds / STEPS)
  return Float64Array.from({ length: edges.length / 2 }, (_, i) => {
    const firm = (stiff[edges[2 * i]] + stiff[edges[2 * i + 1]]) / 2
    return softness * w * step * step * 0.001 ** firm
  })
}

const skins = new WeakMap<JellyBody, CarriedSkin>()

/** A body as it was seen at a moment, s: its skin where its lattice was then. Nothing is certified. */
export function jellyAt(jelly: Jelly, number: number, recording: PointRecording, seconds: number): Solid {
  const body = jelly.bodies[number]
  const { low, high, share } = momentsAbout(recording.frames, seconds)
  const before = jelly.bodies.slice(0, number).reduce((sum, { lattice }) => sum + lattice.points.length, 0)
  const count = body.lattice.points.length
  const [a, b] = [low, high].map((frame) => recording.points.subarray(3 * jelly.points * frame + before, 3 * jelly.points * frame + before + count))
  // what is held stays exactly; a bake is near enough for the rest
  const at = Float64Array.from({ length: count }, (_, i) => (body.held[Math.floor(i / 3)] ? body.lattice.points[i] : a[i] + share * (b[i] - a[i])))
  let skin = skins.get(body)
  if (!skin) skins.set(body, (skin = new CarriedSkin(body.lattice, body.skin.positions, body.held)))
  const ends = new Float64Array(body.skin.positions.length)
  const turns = new Float64Array(3 * ends.length)
  skin.carried(at, ends, turns)
  return movedSurface(body.skin, ends, turns)
}
