import { snap } from '../outline/lattice'
import { doubleArea, type PolygonSet } from '../outline/polygon'
import { OutlineFrame, SolidBuilder } from './builder'
import { CAP, type CornerStyle, edgeSurface, type EdgeSurface } from './edge-surface'
import { evenCaps, type Division } from './even-caps'
import { type Band, cutProfile, heightAt, overWall, type Profile, type ProfileCut, type ProfileSegment } from './profile'
import { BACK, EDGE, FACE, NONE, RETURN } from './labels'
import type { Solid } from './solid'

export interface ExtrudeOptions {
  /** overall depth in mm, edges included; the back lies at z = 0, the face looks to +Z */
  readonly depth: number
  readonly front?: Profile
  readonly back?: Profile
  /** largest distance between the profile's curve and its chords, mm */
  readonly tolerance: number
  /** how the edge goes round concave corners; mitred when left out */
  readonly corners?: CornerStyle
  /** parts of the front edge with a name of their own */
  readonly bands?: readonly Band[]
  /** faces, walls and edges divided evenly, for deforming later */
  readonly division?: Division
  /** which letter the surface over an outline edge or a point of the plane belongs to; NONE for none */
  readonly letterAt?: (x: number, y: number) => number
  readonly letters?: readonly string[]
}

export interface ExtrudeResult {
  readonly solid: Solid
  /** ridges cut to plateaus by the fallback kernel */
  readonly approximate: boolean
  /** edges' heights were multiplied by this to fit the depth; 1 when they fit */
  readonly heightScale: number
  /** the front (back) edge leaves no face (back) at all: it closes in ridges everywhere */
  readonly faceless: boolean
}

/**
 * An extruded solid with shaped edges from a clean polygon set: closed, two-manifold, oriented, on the set's lattice.
 * Depth and profiles must be finite and positive where given (the step checks what people type); edges that are taller
 * than the depth are lowered to fit and the factor reported.
 */
export function extrudePolygons(set: PolygonSet, options: ExtrudeOptions): ExtrudeResult {
  const { lattice } = set
  const { corners, bands = [], division } = options
  const depth = Math.max(4 * lattice, snap(options.depth, lattice))
  const cut = (profile: Profile | undefined, scale: number, named: readonly Band[]) =>
    overWall(cutProfile(profile, options.tolerance, lattice, { heightScale: scale, bands: named, longest: division?.edge }))
  /** both edges, lowered from a scale on until they leave each other room: curves are cut otherwise when they are lower, and heights are rounded one by one */
  const fitted = (scale: number, wall: number, apart: number) => {
    for (let round = 1; ; round++) {
      const front = cut(options.front, scale, bands)
      const back = options.back === options.front && bands.length === 0 ? front : cut(options.back, scale, [])
      const share = fittingShare(front, back, depth, wall, apart)
      if (share === 1 || scale === 0) return { front, back, scale }
      // what does not come to an end goes on without edges
      scale = round < MOST_ROUNDS ? Math.min(share, 1 - (round * lattice) / depth) * scale : 0
    }
  }
  const fits = fitted(1, 0, STEPS_APART * lattice)
  const heightScale = fits.scale
  let { front, back } = fits
  const surfaceOf = ({ cut: c }: OnWall) => {
    const { surface } = edgeSurface(set, c.levels, steppedLevels(c), corners)
    return division ? evenCaps(surface, division, lattice) : surface
  }
  let frontSurface = surfaceOf(front)
  let backSurface = back === front ? frontSurface : surfaceOf(back)
  const approximate = frontSurface.approximate || backSurface.approximate
  if (approximate && fittingShare(front, back, depth, LEAST_WALL, LEAST_WALL) < 1) {
    // the fallback cuts corners across: without a wall between, front and back would lie on each other there
    ;({ front, back } = fitted(heightScale, LEAST_WALL, LEAST_WALL))
    frontSurface = surfaceOf(front)
    backSurface = back === front ? frontSurface : surfaceOf(back)
  }
  const mesh = new SideBuilder(set, options.letterAt, corners === 'round')
  mesh.side(frontSurface, front.cut, depth - front.cut.maxHeight, 1)
  if (back === front) mesh.mesh.mirror(depth, FACE, BACK)
  else mesh.side(backSurface, back.cut, back.cut.maxHeight, -1)
  const [zLow, zHigh] = [taken(back), depth - taken(front)]
  mesh.frame.walls(mesh.mesh, zLow, zHigh, RETURN, division ? Math.max(1, Math.round((zHigh - zLow) / division.edge)) : 1)
  return {
    solid: mesh.mesh.finish(
      options.letters ?? [],
      bands.map((band) => band.name),
      // what one outline bounds, with or without holes, hangs together at least at points
      set.rings.filter(({ xy }) => doubleArea(xy) > 0).length === 1,
    ),
    approximate,
    heightScale,
    faceless: !frontSurface.strip.includes(CAP),
  }
}

/** Wall left between front and back where one of them is approximated, mm. */
const LEAST_WALL = 0.01

type OnWall = ReturnType<typeof overWall>

/** What an edge takes of the depth at the rim. */
const taken = ({ cut, rim }: OnWall): number => cut.maxHeight - rim

const steppedLevels = (cut: ProfileCut): boolean[] => cut.risers.slice(1).map((list) => list.length > 0)

/** Within the outline front and back stay at least so many steps of the lattice apart; at the rim they may meet in a sharp edge. */
const STEPS_APART = 16
/** Rounds of lowering edges. */
const MOST_ROUNDS = 20

/** The factor (at most 1) by which edges are to be lowered so that they leave each other a wall at the rim, and are so far apart within, mm. */
function fittingShare(front: OnWall, back: OnWall, depth: number, wall: number, apart: number): number {
  /** the lowest that a profile is at an inset, where it rises straight up the lower end of that */
  const lowest = ({ cut }: OnWall, inset: number): number => {
    const k = cut.levels.findIndex((d) => inset <= d)
    if (k < 0) return cut.faceHeight
    if (inset < cut.levels[k]) return heightAt(cut, k, inset)
    return Math.min(heightAt(cut, k, inset), ...cut.risers[k + 1].map((s) => s.height1), cut.strips[k + 1]?.height0 ?? cut.faceHeight)
  }
  const rim = taken(front) + taken(back)
  const most = front.cut.maxHeight + back.cut.maxHeight
  let within = 0
  for (const d of [...front.cut.levels, ...back.cut.levels]) within = Math.max(within, most - lowest(front, d) - lowest(back, d))
  const fit = (wanted: number, room: number) => (wanted > room ? Math.max(0, room) / wanted : 1)
  return Math.min(fit(rim, depth - wall), fit(within, depth - apart))
}

/** Turns edge surfaces into the front and back of a solid. */
export class SideBuilder {
  readonly mesh: SolidBuilder
  readonly frame: OutlineFrame
  private readonly lattice: number

  constructor(
    set: PolygonSet,
    private readonly letterAt: ((x: number, y: number) => number) | undefined,
    private readonly roundCorners: boolean,
  ) {
    this.lattice = set.lattice
    this.mesh = new SolidBuilder(set.lattice)
    this.frame = new OutlineFrame(set.rings, letterAt)
  }

  /** One side's edge and face. `base` is z at profile height 0; `up` is 1 for the front, −1 for the back. */
  side(surface: EdgeSurface, cut: ProfileCut, base: number, up: 1 | -1, capGroup: number = up === 1 ? FACE : BACK): void {
    const { x, y, inset, triangles, strip, edge, capLevel } = surface
    const { point: points } = surface.frames
    const { mesh, frame } = this
    // a side more of each: the other side, mirrored, or what stands straight up
    mesh.reserve(x.length, 2 * x.length, (2 * triangles.length) / 3 + 2 * frame.next.length)
    const complete = capLevel === cut.levels.length - 1
    const capHeight = complete ? cut.faceHeight : capLevel < 0 ? cut.strips[0].height0 : cut.strips[capLevel].height1
    const faceZ = base + up * capHeight
    const level = new Map(cut.levels.map((d, k) => [d, k]))
    const steps = new Map<number, [number, number, number, number]>()
    // any vertex made over a point of the surface leads to the others over it
    const column = new Int32Array(x.length).fill(-1)
    const height = new Float64Array(x.length)
    const at = (v: number, z: number) => {
      const known = column[v]
      if (known >= 0 && height[v] === z) return known
      height[v] = z
      return (column[v] = known >= 0 ? mesh.inColumn(known, x[v], y[v], z) : mesh.vertex(x[v], y[v], z))
    }
    this.seenFor = new Int32Array(x.length)
    this.seenX = new Float64Array(x.length)
    this.seenY = new Float64Array(x.length)
    const hasRisers = cut.risers.some((list, l) => l > 0 && list.length > 0)
    const corner = [0, 0, 0]
    for (let i = 0; i < triangles.length; i += 3) {
      const k = strip[i / 3]
      const e = edge[i / 3]
      if (k === CAP) {
        const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]]
        const letter = this.letterAt ? this.letterAt((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3) : NONE
        for (let j = 0; j < 3; j++) {
          const v = triangles[i + j]
          corner[j] = at(v, faceZ)
          mesh.setNormal(j, 0, 0, up)
          mesh.setUv(j, x[v], y[v])
        }
        mesh.triangle(corner[0], corner[1], corner[2], capGroup, letter, up)
      } else {
        const segment = cut.strips[k]
        const point = points[e]
        const along = frame.along[point]
        for (let j = 0; j < 3; j++) {
          const v = triangles[i + j]
          corner[j] = at(v, base + up * snap(heightAt(cut, k, inset[v]), this.lattice))
          this.normal(j, surface, e, v, segment, inset[v], up)
          mesh.setUv(j, along + frame.alongSide(point, x[v], y[v]), runAt(segment, inset[v]))
        }
        mesh.triangle(corner[0], corner[1], corner[2], EDGE, frame.letter[point], up, segment.band)
      }
      if (!hasRisers) continue
      // sides on a level where the profile rises straight up: remember those of the inner strip
      for (let j = 0; j < 3; j++) {
        const a = triangles[i + j]
        const b = triangles[i + ((j + 1) % 3)]
        if (inset[a] !== inset[b]) continue
        const l = level.get(inset[a])
        if (l === undefined || cut.risers[l + 1].length === 0 || (k === CAP ? !complete : k <= l)) continue
        steps.set(a * 67108864 + b, [a, b, l, e])
      }
    }
    for (const [a, b, l, e] of steps.values()) {
      if (steps.has(b * 67108864 + a)) continue
      const owner = e >= 0 ? e : this.nearestFrame(surface, a, b)
      for (const riser of cut.risers[l + 1]) this.riser(surface, owner, a, b, riser, base, up)
    }
    // the foot of the edge: straight pieces at inset 0 stand on the outline itself
    const count = frame.next.length
    for (const riser of cut.risers[0]) {
      for (let i = 0; i < count; i++) this.riser(surface, this.frameOf(surface, i), i, frame.next[i], riser, base, up)
    }
  }

  /** A straight-up piece of the profile over the side a→b. */
  private riser(surface: EdgeSurface, e: number, a: number, b: number, riser: ProfileSegment, base: number, up: 1 | -1): void {
    const { x, y, inset } = surface
    const { mesh, frame } = this
    const z0 = base + up * riser.height0
    const z1 = base + up * riser.height1
    const sign = riser.height1 > riser.height0 ? 1 : -1
    const flatSegment: ProfileSegment = { ...riser, n0: [sign, 0], n1: [sign, 0] }
    const point = surface.frames.point[e]
    const [p, q] = [mesh.vertex(x[a], y[a], z0), mesh.vertex(x[b], y[b], z0)]
    const [s, r] = [mesh.inColumn(p, x[a], y[a], z1), mesh.inColumn(q, x[b], y[b], z1)]
    const ua = frame.along[point] + frame.alongSide(point, x[a], y[a])
    const ub = frame.along[point] + frame.alongSide(point, x[b], y[b])
    const letter = frame.letter[point]
    this.normal(0, surface, e, a, flatSegment, inset[a], up)
    this.normal(1, surface, e, b, flatSegment, inset[b], up)
    this.normal(2, surface, e, b, flatSegment, inset[b], up)
    mesh.setUv(0, ua, riser.run0)
    mesh.setUv(1, ub, riser.run0)
    mesh.setUv(2, ub, riser.run1)
    mesh.triangle(p, q, r, EDGE, letter, up, riser.band)
    this.normal(2, surface, e, a, flatSegment, inset[a], up)
    mesh.setUv(1, ub, riser.run1)
    mesh.setUv(2, ua, riser.run1)
    mesh.triangle(p, r, s, EDGE, letter, up, riser.band)
  }

  /** Sets the shading normal of corner j: that of the face of edge e at a vertex, the outline's own tangent there tilted by the profile's. */
  private normal(j: number, surface: EdgeSurface, e: number, v: number, segment: ProfileSegment, inset: number, up: 1 | -1): void {
    // the direction in the plane is the same for all triangles of one face at one vertex, and they come together
    const { seenFor, seenX, seenY } = this
    if (seenFor[v] !== e + 1) {
      this.direction(surface, e, v)
      seenFor[v] = e + 1
    }
    const f = segment.inset1 > segment.inset0 ? Math.max(0, Math.min(1, (inset - segment.inset0) / (segment.inset1 - segment.inset0))) : 0
    const out = segment.n0[0] * (1 - f) + segment.n1[0] * f
    const high = segment.n0[1] * (1 - f) + segment.n1[1] * f
    const size = Math.sqrt(out * out + high * high) || 1
    this.mesh.setNormal(j, (seenX[v] * out) / size, (seenY[v] * out) / size, (up * high) / size)
  }
  private seenFor = new Int32Array(0)
  private seenX = new Float64Array(0)
  private seenY = new Float64Array(0)

  /** Works out which way the face of edge e looks in the plane at a vertex. */
  private direction(surface: EdgeSurface, e: number, v: number): void {
    const { frames, around } = surface
    const { tangents, next, length: sideLength } = this.frame
    let hx = 0
    let hy = 0
    const point = frames.point[e]
    const end = next[point]
    if (around) {
      const list = around[v]
      if (list)
        for (const f of list) {
          if (f === e) continue
          const q = frames.point[f]
          if (q === point) {
            // faces that fan out round one corner
            if (this.roundCorners) {
              hx += frames.outX[e] + frames.outX[f]
              hy += frames.outY[e] + frames.outY[f]
            }
          } else if (next[q] === point) {
            // the trace of the edge's start
            hx += tangents[4 * point + 3]
            hy -= tangents[4 * point + 2]
          } else if (q === end) {
            hx += tangents[4 * end + 1]
            hy -= tangents[4 * end]
          } else if (frames.outX[e] * frames.outX[f] + frames.outY[e] * frames.outY[f] > 0.9 && this.smoothBetween(q, point)) {
            hx += frames.outX[e] + frames.outX[f]
            hy += frames.outY[e] + frames.outY[f]
          }
        }
    } else {
      const f = Math.max(0, Math.min(1, this.frame.alongSide(point, surface.x[v], surface.y[v]) / sideLength[point]))
      hx = tangents[4 * point + 3] * (1 - f) + tangents[4 * end + 1] * f
      hy = -tangents[4 * point + 2] * (1 - f) - tangents[4 * end] * f
    }
    let length = Math.sqrt(hx * hx + hy * hy)
    if (length < 1e-6) {
      hx = frames.outX[e]
      hy = frames.outY[e]
      length = 1
    }
    this.seenX[v] = hx / length
    this.seenY[v] = hy / length
  }

  /** Whether the outline runs smoothly, without a corner, from one point's edge to another's within a few edges. */
  private smoothBetween(p: number, q: number): boolean {
    const { tangents: t, next } = this.frame
    for (let way = 0; way < 2; way++) {
      let at = way === 0 ? p : q
      const to = way === 0 ? q : p
      for (let i = 0; i < 12; i++) {
        at = next[at]
        if (t[4 * at] * t[4 * at + 2] + t[4 * at + 1] * t[4 * at + 3] < 0.99) break
        if (at === to) return true
      }
    }
    return false
  }

  /** The frame of the outline edge that starts at a point: the last one, extra ones at corners come before it. */
  private frameOf(surface: EdgeSurface, point: number): number {
    if (!this.frames || this.framesOf !== surface) {
      this.framesOf = surface
      this.frames = new Int32Array(this.frame.next.length)
      for (let e = 0; e < surface.frames.point.length; e++) this.frames[surface.frames.point[e]] = e
    }
    return this.frames[point]
  }
  private frames: Int32Array | undefined
  private framesOf: EdgeSurface | undefined

  /** For a cap's side: the edge whose face lies beyond it. */
  private nearestFrame(surface: EdgeSurface, a: number, b: number): number {
    const shared = surface.around?.[a]?.filter((e) => surface.around?.[b]?.includes(e)) ?? []
    if (shared.length > 0) {
      const { outX, outY } = surface.frames
      const dx = surface.x[b] - surface.x[a]
      const dy = surface.y[b] - surface.y[a]
      return shared.reduce((best, e) => (outX[e] * dy - outY[e] * dx > outX[best] * dy - outY[best] * dx ? e : best))
    }
    const { next, length, x, y } = this.frame
    const mx = (surface.x[a] + surface.x[b]) / 2
    const my = (surface.y[a] + surface.y[b]) / 2
    let best = 0
    let bestDistance = Infinity
    for (let i = 0; i < next.length; i++) {
      const f = Math.max(0, Math.min(1, this.frame.alongSide(i, mx, my) / length[i]))
      const j = next[i]
      const d = Math.hypot(x[i] + f * (x[j] - x[i]) - mx, y[i] + f * (y[j] - y[i]) - my)
      if (d < bestDistance) {
        bestDistance = d
        best = i
      }
    }
    return this.frameOf(surface, best)
  }
}

function runAt(segment: ProfileSegment, inset: number): number {
  const f = Math.max(0, Math.min(1, (inset - segment.inset0) / (segment.inset1 - segment.inset0)))
  return segment.run0 + f * (segment.run1 - segment.run0)
}
