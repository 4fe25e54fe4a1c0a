import { snap } from '../outline/lattice'
import type { PolygonSet } from '../outline/polygon'
import { CAP, edgeSurface, type EdgeSurface } from './edge-surface'
import { cutProfile, heightAt, type Profile, type ProfileCut, type ProfileSegment } from './profile'
import { BACK, connectedParts, EDGE, FACE, NO_LETTER, RETURN, type Solid } from './solid'

export interface ExtrudeOptions {
  /** overall depth in mm, edges included; the back lies at z = 0, the face looks to +Z */
  readonly depth: number
  readonly front?: Profile
  readonly back?: Profile
  /** largest distance between the profile's curve and its chords, mm */
  readonly tolerance: number
  /** which letter the surface over an outline edge or a point of the plane belongs to; NO_LETTER for none */
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
  const depth = Math.max(4 * lattice, snap(options.depth, lattice))
  const heightScale = fittingScale(options, depth, lattice)
  const front = cutProfile(options.front, options.tolerance, lattice, heightScale)
  const back = options.back === options.front ? front : cutProfile(options.back, options.tolerance, lattice, heightScale)
  const frontSurface = edgeSurface(set, front.levels, steppedLevels(front)).surface
  const backSurface = back === front ? frontSurface : edgeSurface(set, back.levels, steppedLevels(back)).surface
  const mesh = new SideBuilder(set, options.letterAt)
  mesh.side(frontSurface, front, depth - front.maxHeight, 1)
  mesh.side(backSurface, back, back.maxHeight, -1)
  mesh.walls(back.maxHeight, depth - front.maxHeight)
  return {
    solid: mesh.finish(options.letters ?? []),
    approximate: frontSurface.approximate || backSurface.approximate,
    heightScale,
    faceless: !frontSurface.strip.includes(CAP),
  }
}

const steppedLevels = (cut: ProfileCut): boolean[] => cut.risers.slice(1).map((list) => list.length > 0)

/** The factor (at most 1) at which front and back edges of these heights leave each other room within the depth. */
function fittingScale(options: ExtrudeOptions, depth: number, lattice: number): number {
  const front = cutProfile(options.front, options.tolerance, lattice)
  const back = cutProfile(options.back, options.tolerance, lattice)
  // room the edges take at a given inset when not scaled
  const sunk = (cut: ProfileCut, inset: number): number => {
    let height = cut.faceHeight
    const k = cut.levels.findIndex((d) => inset <= d)
    if (inset === 0) height = Math.min(0, ...cut.risers[0].map((s) => s.height1))
    else if (k >= 0) height = heightAt(cut, k, inset)
    return cut.maxHeight - height
  }
  let most = 0
  for (const d of [0, ...front.levels, ...back.levels]) most = Math.max(most, sunk(front, d) + sunk(back, d))
  for (const cut of [front, back]) most = Math.max(most, cut.maxHeight - cut.minHeight)
  return most > depth ? depth / most : 1
}

/** Collects triangles with their corner normals, welding vertices by position. */
class SideBuilder {
  private readonly positions: number[] = []
  private readonly indices: number[] = []
  private readonly group: number[] = []
  private readonly letter: number[] = []
  private readonly normals: number[] = []
  private readonly uvs: number[] = []
  private readonly weld = new Map<number, Map<number, number>>()
  private readonly lattice: number
  /** per outline point: tangents arriving and leaving, distance along its ring, the next point */
  private readonly tangents: Float64Array
  private readonly along: Float64Array
  private readonly length: Float64Array
  private readonly next: Int32Array
  private readonly px: Float64Array
  private readonly py: Float64Array
  private readonly edgeLetter: Int32Array

  constructor(
    set: PolygonSet,
    private readonly letterAt: ((x: number, y: number) => number) | undefined,
  ) {
    this.lattice = set.lattice
    const n = set.rings.reduce((sum, ring) => sum + ring.xy.length / 2, 0)
    this.tangents = new Float64Array(4 * n)
    this.along = new Float64Array(n)
    this.length = new Float64Array(n)
    this.next = new Int32Array(n)
    this.px = new Float64Array(n)
    this.py = new Float64Array(n)
    this.edgeLetter = new Int32Array(n).fill(NO_LETTER)
    let base = 0
    for (const { xy, tangents } of set.rings) {
      const m = xy.length / 2
      this.tangents.set(tangents, 4 * base)
      let distance = 0
      for (let i = 0; i < m; i++) {
        const j = (i + 1) % m
        const dx = xy[2 * j] - xy[2 * i]
        const dy = xy[2 * j + 1] - xy[2 * i + 1]
        const l = Math.hypot(dx, dy)
        this.px[base + i] = xy[2 * i]
        this.py[base + i] = xy[2 * i + 1]
        this.along[base + i] = distance
        this.length[base + i] = l
        this.next[base + i] = base + j
        if (letterAt) {
          const probe = Math.min(0.01, l * 0.1)
          const x = xy[2 * i] + dx / 2 - (dy / l) * probe
          const y = xy[2 * i + 1] + dy / 2 + (dx / l) * probe
          this.edgeLetter[base + i] = letterAt(x, y)
        }
        distance += l
      }
      base += m
    }
  }

  /** One side's edge and face. `base` is z at profile height 0; `up` is 1 for the front, −1 for the back. */
  side(surface: EdgeSurface, cut: ProfileCut, base: number, up: 1 | -1): void {
    const { x, y, inset, triangles, strip, edge } = surface
    const { capLevel } = surface
    const complete = capLevel === cut.levels.length - 1
    const capHeight = complete ? cut.faceHeight : capLevel < 0 ? cut.strips[0].height0 : cut.strips[capLevel].height1
    const faceZ = base + up * capHeight
    const level = new Map(cut.levels.map((d, k) => [d, k]))
    const steps = new Map<number, [number, number, number, number]>()
    for (let i = 0; i < triangles.length; i += 3) {
      const k = strip[i / 3]
      const e = edge[i / 3]
      const ids = [triangles[i], triangles[i + 1], triangles[i + 2]]
      if (k === CAP) {
        const letter = this.letterAt ? this.letterAt((x[ids[0]] + x[ids[1]] + x[ids[2]]) / 3, (y[ids[0]] + y[ids[1]] + y[ids[2]]) / 3) : NO_LETTER
        const z = faceZ
        const n = [0, 0, up]
        const corner = (v: number) => this.vertex(x[v], y[v], z)
        this.triangle(
          ids.map(corner),
          [n, n, n],
          ids.map((v) => [x[v], y[v]]),
          up === 1 ? FACE : BACK,
          letter,
          up,
        )
      } else {
        const segment = cut.strips[k]
        const corners = ids.map((v) => this.vertex(x[v], y[v], base + up * snap(heightAt(cut, k, inset[v]), this.lattice)))
        const normals = ids.map((v) => this.normal(surface, e, v, segment, inset[v], up))
        const uv = ids.map((v) => this.edgeUv(surface, e, x[v], y[v], runAt(segment, inset[v])))
        this.triangle(corners, normals, uv, EDGE, this.edgeLetter[surface.frames.point[e]], up)
      }
      // sides on a level where the profile rises straight up: remember those of the inner strip
      for (let j = 0; j < 3; j++) {
        const a = ids[j]
        const b = ids[(j + 1) % 3]
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
    const count = this.next.length
    for (const riser of cut.risers[0]) {
      for (let i = 0; i < count; i++) this.riser(surface, this.frameOf(surface, i), i, this.next[i], riser, base, up)
    }
  }

  /** The side walls between the rims of the two edges. */
  walls(zBack: number, zFront: number): void {
    if (zFront <= zBack) return
    for (let i = 0; i < this.next.length; i++) {
      const j = this.next[i]
      const n0 = [this.tangents[4 * i + 3], -this.tangents[4 * i + 2], 0]
      const n1 = [this.tangents[4 * j + 1], -this.tangents[4 * j], 0]
      const u0 = this.along[i]
      const u1 = u0 + this.length[i]
      const a = this.vertex(this.px[i], this.py[i], zBack)
      const b = this.vertex(this.px[j], this.py[j], zBack)
      const c = this.vertex(this.px[j], this.py[j], zFront)
      const d = this.vertex(this.px[i], this.py[i], zFront)
      const letter = this.edgeLetter[i]
      this.triangle(
        [a, b, c],
        [n0, n1, n1],
        [
          [u0, zBack],
          [u1, zBack],
          [u1, zFront],
        ],
        RETURN,
        letter,
        1,
      )
      this.triangle(
        [a, c, d],
        [n0, n1, n0],
        [
          [u0, zBack],
          [u1, zFront],
          [u0, zFront],
        ],
        RETURN,
        letter,
        1,
      )
    }
  }

  finish(letters: readonly string[]): Solid {
    const indices = Uint32Array.from(this.indices)
    return {
      kind: 'solid',
      positions: Float64Array.from(this.positions),
      indices,
      group: Uint8Array.from(this.group),
      letter: Uint16Array.from(this.letter),
      layer: new Uint16Array(indices.length / 3),
      layers: [],
      part: connectedParts(indices, this.positions.length / 3).part,
      normals: Float32Array.from(this.normals),
      uvs: Float32Array.from(this.uvs),
      letters,
      lattice: this.lattice,
    }
  }

  private vertex(x: number, y: number, z: number): number {
    const key = Math.round(x / this.lattice) * 67108864 + Math.round(y / this.lattice)
    let column = this.weld.get(key)
    if (!column) {
      column = new Map()
      this.weld.set(key, column)
    }
    let v = column.get(z)
    if (v === undefined) {
      v = this.positions.length / 3
      this.positions.push(x, y, z)
      column.set(z, v)
    }
    return v
  }

  private triangle(v: number[], n: number[][], uv: number[][], group: number, letter: number, up: 1 | -1): void {
    if (v[0] === v[1] || v[1] === v[2] || v[0] === v[2]) return
    for (const i of up === 1 ? [0, 1, 2] : [0, 2, 1]) {
      this.indices.push(v[i])
      this.normals.push(n[i][0], n[i][1], n[i][2])
      this.uvs.push(uv[i][0], uv[i][1])
    }
    this.group.push(group)
    this.letter.push(letter)
  }

  /** A straight-up piece of the profile over the side a→b. */
  private riser(surface: EdgeSurface, e: number, a: number, b: number, riser: ProfileSegment, base: number, up: 1 | -1): void {
    const { x, y, inset } = surface
    const z0 = base + up * riser.height0
    const z1 = base + up * riser.height1
    const sign = riser.height1 > riser.height0 ? 1 : -1
    const flatSegment: ProfileSegment = { ...riser, n0: [sign, 0], n1: [sign, 0] }
    const na = this.normal(surface, e, a, flatSegment, inset[a], up)
    const nb = this.normal(surface, e, b, flatSegment, inset[b], up)
    const [p, q, r, s] = [this.vertex(x[a], y[a], z0), this.vertex(x[b], y[b], z0), this.vertex(x[b], y[b], z1), this.vertex(x[a], y[a], z1)]
    const ua = this.edgeUv(surface, e, x[a], y[a], 0)[0]
    const ub = this.edgeUv(surface, e, x[b], y[b], 0)[0]
    const letter = this.edgeLetter[surface.frames.point[e]]
    this.triangle(
      [p, q, r],
      [na, nb, nb],
      [
        [ua, riser.run0],
        [ub, riser.run0],
        [ub, riser.run1],
      ],
      EDGE,
      letter,
      up,
    )
    this.triangle(
      [p, r, s],
      [na, nb, na],
      [
        [ua, riser.run0],
        [ub, riser.run1],
        [ua, riser.run1],
      ],
      EDGE,
      letter,
      up,
    )
  }

  /** Shading normal of the face of edge e at a vertex: the outline's own tangent there, tilted by the profile's. */
  private normal(surface: EdgeSurface, e: number, v: number, segment: ProfileSegment, inset: number, up: 1 | -1): number[] {
    const { frames, around } = surface
    let hx = 0
    let hy = 0
    const point = frames.point[e]
    const end = this.next[point]
    if (around) {
      for (const f of around[v] ?? []) {
        if (f === e) continue
        const q = frames.point[f]
        if (q === point) continue
        if (this.next[q] === point) {
          // the trace of the edge's start
          hx += this.tangents[4 * point + 3]
          hy -= this.tangents[4 * point + 2]
        } else if (q === end) {
          hx += this.tangents[4 * end + 1]
          hy -= this.tangents[4 * end]
        } else if (frames.outX[e] * frames.outX[f] + frames.outY[e] * frames.outY[f] > 0.9 && this.smoothBetween(q, point)) {
          hx += frames.outX[e] + frames.outX[f]
          hy += frames.outY[e] + frames.outY[f]
        }
      }
    } else {
      const f = Math.max(0, Math.min(1, this.sAlong(point, surface.x[v], surface.y[v]) / this.length[point]))
      const t = this.tangents
      hx = t[4 * point + 3] * (1 - f) + t[4 * end + 1] * f
      hy = -t[4 * point + 2] * (1 - f) - t[4 * end] * f
    }
    let length = Math.hypot(hx, hy)
    if (length < 1e-6) {
      hx = frames.outX[e]
      hy = frames.outY[e]
      length = 1
    }
    const f = segment.inset1 > segment.inset0 ? Math.max(0, Math.min(1, (inset - segment.inset0) / (segment.inset1 - segment.inset0))) : 0
    let out = segment.n0[0] * (1 - f) + segment.n1[0] * f
    let high = segment.n0[1] * (1 - f) + segment.n1[1] * f
    const size = Math.hypot(out, high) || 1
    out /= size
    high /= size
    return [(hx / length) * out, (hy / length) * out, up * high]
  }

  /** Whether the outline runs smoothly, without a corner, from one point's edge to another's within a few edges. */
  private smoothBetween(p: number, q: number): boolean {
    for (const [from, to] of [
      [p, q],
      [q, p],
    ]) {
      let at = from
      for (let i = 0; i < 12; i++) {
        at = this.next[at]
        const t = this.tangents
        if (t[4 * at] * t[4 * at + 2] + t[4 * at + 1] * t[4 * at + 3] < 0.99) break
        if (at === to) return true
      }
    }
    return false
  }

  private sAlong(point: number, x: number, y: number): number {
    const j = this.next[point]
    return ((x - this.px[point]) * (this.px[j] - this.px[point]) + (y - this.py[point]) * (this.py[j] - this.py[point])) / this.length[point]
  }

  private edgeUv(surface: EdgeSurface, e: number, x: number, y: number, run: number): [number, number] {
    const point = surface.frames.point[e]
    return [this.along[point] + this.sAlong(point, x, y), run]
  }

  /** The frame of the outline edge that starts at a point: the last one, extra ones at corners come before it. */
  private frameOf(surface: EdgeSurface, point: number): number {
    if (!this.frames || this.framesOf !== surface) {
      this.framesOf = surface
      this.frames = new Int32Array(this.next.length)
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
    const mx = (surface.x[a] + surface.x[b]) / 2
    const my = (surface.y[a] + surface.y[b]) / 2
    let best = 0
    let bestDistance = Infinity
    for (let i = 0; i < this.next.length; i++) {
      const f = Math.max(0, Math.min(1, this.sAlong(i, mx, my) / this.length[i]))
      const j = this.next[i]
      const d = Math.hypot(this.px[i] + f * (this.px[j] - this.px[i]) - mx, this.py[i] + f * (this.py[j] - this.py[i]) - my)
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
