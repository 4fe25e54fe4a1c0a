import { randomShares } from '../cache/random'
import { manifold, withScope } from '../kernel/manifold'
import { snap } from '../outline/lattice'
import { doubleArea, type PolygonSet, toPairs } from '../outline/polygon'
import { constrainedTriangles } from './delaunay'
import { earClip } from './ear-clip'
import { PairTable } from './pair-table'
import { type CornerStyle, negated, type Skeleton, straightSkeleton } from './skeleton'

export type { CornerStyle }

/** strip number of the triangles inside the last inset */
export const CAP = -1

/**
 * The plane under one edge: the polygon cut into triangles, each lying within one strip between two insets, so that
 * turning inset into height by any profile with these levels gives the surface. Whatever the profile's heights, the
 * surface is a graph over the plane: it crosses itself nowhere if no triangle is turned over.
 */
export interface EdgeSurface {
  /** vertices on the lattice, mm; the first ones are the polygon's points, ring after ring */
  readonly x: number[]
  readonly y: number[]
  /** inset of each vertex; equal to a level bit for bit where it lies on one */
  readonly inset: number[]
  /** vertex ids, three a triangle, counter-clockwise seen from +Z */
  readonly triangles: number[]
  /** strip of each triangle: k lies between levels[k−1] and levels[k]; CAP inside the last */
  readonly strip: number[]
  /** index into `frames` for each triangle, −1 on caps */
  readonly edge: number[]
  readonly frames: EdgeFrames
  /** for shading: the edges whose faces meet at a vertex; absent for the approximate kernel */
  readonly around?: readonly (readonly number[] | undefined)[]
  /** index of the level the caps lie at: the last one, or an earlier one where the fallback kernel had to stop; −1 for none */
  readonly capLevel: number
  /** true when made by the fallback kernel: ridges are cut to plateaus */
  readonly approximate: boolean
}

/** The moving edges: the polygon's point each starts at (several at one point where a sharp corner was given extra ones)
 *  and its outward unit normal. */
export interface EdgeFrames {
  readonly point: Int32Array
  readonly outX: Float64Array
  readonly outY: Float64Array
}

/** How the surface was made, for the step's report. */
export interface EdgeSurfaceResult {
  readonly surface: EdgeSurface
  readonly attempts: number
}

/**
 * What is tried in turn, mm: jitter of the outline, and a shift of the levels for ridges that lie exactly on one (the
 * level curve would touch itself there, and a straight-up piece of the profile would stand on that point twice).
 * Always jittering does not help, a little often does.
 */
const ATTEMPTS: readonly { readonly jitter: number; readonly shift: number }[] = [
  { jitter: 0, shift: 0 },
  { jitter: 0, shift: -4e-4 },
  { jitter: 1e-6, shift: 4e-4 },
  { jitter: 1e-5, shift: -8e-4 },
  { jitter: 3e-5, shift: 8e-4 },
  { jitter: 1e-4, shift: -1.2e-3 },
]

/**
 * Cuts the plane under an edge at the given insets (rising, > 0, mm): by the straight skeleton, certified; tried again
 * a little off when the certificate fails; at last by nested insets, which never fail but flatten ridges.
 * `stepped` says at which levels the profile rises straight up, `arc` how finely round corners turn (see SkeletonOptions). Needs the manifold kernel loaded.
 */
export function edgeSurface(
  set: PolygonSet,
  levels: readonly number[],
  stepped: readonly boolean[] = [],
  corners: CornerStyle = 'mitre',
  arc?: number,
): EdgeSurfaceResult {
  if (levels.length === 0) return { surface: flatSurface(set), attempts: 1 }
  for (let i = 0; i < ATTEMPTS.length; i++) {
    const { jitter, shift } = ATTEMPTS[i]
    const surface = skeletonSurface(jittered(set, jitter, i), set, shifted(levels, shift), stepped, corners, arc)
    if (surface) return { surface: { ...surface, inset: moveLevels(surface.inset, shifted(levels, shift), levels) }, attempts: i + 1 }
  }
  return { surface: nestedSurface(set, levels), attempts: ATTEMPTS.length + 1 }
}

/** Levels moved by `shift`, but never by more than a tenth of the way to their neighbours. */
function shifted(levels: readonly number[], shift: number): readonly number[] {
  if (shift === 0) return levels
  return levels.map((d, i) => {
    const room = Math.min(d - (levels[i - 1] ?? 0), (levels[i + 1] ?? Infinity) - d) / 10
    return d + Math.sign(shift) * Math.min(Math.abs(shift), room)
  })
}

function moveLevels(inset: number[], from: readonly number[], to: readonly number[]): number[] {
  if (from === to) return inset
  const target = new Map(from.map((d, k) => [d, to[k]]))
  return inset.map((t) => target.get(t) ?? t)
}

/** The whole polygon as one cap. */
export function flatSurface(set: PolygonSet): EdgeSurface {
  const x: number[] = []
  const y: number[] = []
  for (const { xy } of set.rings) for (let i = 0; i < xy.length; i += 2) x.push(xy[i]), y.push(xy[i + 1])
  const triangles = triangulateLoops(consecutiveLoops(set.rings), x, y)
  const count = triangles.length / 3
  return {
    x,
    y,
    inset: new Array(x.length).fill(0),
    triangles,
    strip: new Array(count).fill(CAP),
    edge: new Array(count).fill(-1),
    frames: outlineFrames(set),
    capLevel: -1,
    approximate: false,
  }
}

function outlineFrames(set: PolygonSet): EdgeFrames {
  const count = set.rings.reduce((sum, ring) => sum + ring.xy.length / 2, 0)
  const frames = { point: Int32Array.from({ length: count }, (_, i) => i), outX: new Float64Array(count), outY: new Float64Array(count) }
  let base = 0
  for (const { xy } of set.rings) {
    const n = xy.length / 2
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n
      const ex = xy[2 * j] - xy[2 * i]
      const ey = xy[2 * j + 1] - xy[2 * i + 1]
      const length = Math.hypot(ex, ey)
      frames.outX[base + i] = ey / length
      frames.outY[base + i] = -ex / length
    }
    base += n
  }
  return frames
}

function consecutiveLoops(rings: PolygonSet['rings']): number[][] {
  let base = 0
  return rings.map(({ xy }) => {
    const loop: number[] = []
    for (let i = 0; i < xy.length; i += 2) loop.push(base++)
    return loop
  })
}

/** Triangulates loops of vertex ids (outer counter-clockwise, holes clockwise); keeps every vertex. */
export function triangulateLoops(loops: number[][], x: ArrayLike<number>, y: ArrayLike<number>): number[] {
  if (loops.length === 0) return []
  if (loops.length === 1) {
    const loop = loops[0]
    if (loop.length <= 24) {
      const out: number[] = []
      earClip(loop, x, y, out)
      return out
    }
  }
  const ids: number[] = []
  for (const loop of loops) for (const v of loop) ids.push(v)
  const fine = constrainedTriangles(loops, ids, x, y)
  if (fine) return fine
  const found = manifold().triangulate(
    loops.map((loop) => loop.map((v) => [x[v], y[v]] as [number, number])),
    -1,
  )
  return found.flatMap(([a, b, c]) => [ids[a], ids[b], ids[c]])
}

function jittered(set: PolygonSet, amount: number, seed: number): PolygonSet {
  if (amount === 0) return set
  // the same outline always gets the same jitter
  const next = randomShares(0x9e3779b9 ^ (seed * 0x85ebca6b))
  const random = () => next() - 0.5
  return { ...set, rings: set.rings.map((ring) => ({ ...ring, xy: ring.xy.map((v) => v + 2 * amount * random()) })) }
}

function skeletonSurface(
  moving: PolygonSet,
  set: PolygonSet,
  levels: readonly number[],
  stepped: readonly boolean[],
  corners: CornerStyle,
  arc: number | undefined,
): EdgeSurface | undefined {
  const skeleton = straightSkeleton(moving, { limit: levels[levels.length - 1], corners, arc })
  if (skeleton.unresolved.length > 0) return undefined
  const faces = assembleFaces(skeleton)
  if (!faces) return undefined
  const surface = new Slicer(set, skeleton, levels).cut(faces)
  return surface && !pinchedLevel(surface, levels, stepped) ? surface : undefined
}

/** Whether the curve of a stepped level passes through one point twice. */
function pinchedLevel(surface: EdgeSurface, levels: readonly number[], stepped: readonly boolean[]): boolean {
  const { triangles, strip, inset } = surface
  for (let k = 0; k < levels.length; k++) {
    if (!stepped[k]) continue
    const sides = new Set<number>()
    for (let i = 0; i < triangles.length; i += 3) {
      if (strip[i / 3] !== CAP && strip[i / 3] <= k) continue
      for (let j = 0; j < 3; j++) {
        const [a, b] = [triangles[i + j], triangles[i + ((j + 1) % 3)]]
        if (inset[a] === levels[k] && inset[b] === levels[k]) sides.add(a * 67108864 + b)
      }
    }
    const seen = new Set<number>()
    for (const key of sides) {
      const a = Math.floor(key / 67108864)
      if (sides.has((key - a * 67108864) * 67108864 + a)) continue
      if (seen.has(a)) return true
      seen.add(a)
    }
  }
  return false
}

interface Face {
  readonly edge: number
  readonly loop: number[]
}

/** Chains each face's directed pieces to loops; undefined when they do not close. */
function assembleFaces(skeleton: Skeleton): Face[] | undefined {
  const { edges, arcFace, arcFrom, arcTo } = skeleton
  // the pieces of each face together, one face behind another
  const from = new Int32Array(edges.count + 1)
  for (let e = 0; e < edges.count; e++) if (edges.start[e] !== edges.end[e]) from[e + 1] = 2
  for (let k = 0; k < arcFace.length; k++) from[arcFace[k] + 1] += 2
  for (let e = 0; e < edges.count; e++) from[e + 1] += from[e]
  const pieces = new Int32Array(from[edges.count])
  const filled = from.slice()
  const put = (e: number, start: number, end: number) => {
    pieces[filled[e]++] = start
    pieces[filled[e]++] = end
  }
  for (let e = 0; e < edges.count; e++) if (edges.start[e] !== edges.end[e]) put(e, edges.start[e], edges.end[e])
  for (let k = 0; k < arcFace.length; k++) put(arcFace[k], arcFrom[k], arcTo[k])
  const faces: Face[] = []
  for (let e = 0; e < edges.count; e++) {
    const only = singleLoop(pieces, from[e], from[e + 1])
    if (only) {
      if (only.length >= 3) faces.push({ edge: e, loop: only })
      continue
    }
    const loops = chain(cancelOpposites(pieces.subarray(from[e], from[e + 1])), skeleton)
    if (!loops) return undefined
    for (const loop of loops) if (loop.length >= 3) faces.push({ edge: e, loop })
  }
  return faces
}

/** The loop that the pieces of a stretch of the list make where it is one and leaves no choice at any vertex, as it nearly always is; undefined otherwise. */
function singleLoop(list: Int32Array, from: number, end: number): number[] | undefined {
  if (from === end) return []
  const loop: number[] = []
  const first = list[from]
  let at = first
  while (2 * loop.length < end - from) {
    let to = -1
    for (let i = from; i < end; i += 2) {
      if (list[i] !== at) continue
      if (to >= 0) return undefined
      to = list[i + 1]
    }
    if (to < 0 || (loop.length > 0 && at === first)) return undefined
    loop.push(at)
    at = to
  }
  return at === first ? loop : undefined
}

function cancelOpposites(list: ArrayLike<number>): number[] {
  const out: number[] = []
  for (let i = 0; i < list.length; i += 2) {
    let j = 0
    while (j < out.length && !(out[j] === list[i + 1] && out[j + 1] === list[i])) j += 2
    if (j < out.length) out.splice(j, 2)
    else out.push(list[i], list[i + 1])
  }
  return out
}

function chain(list: number[], skeleton: Skeleton): number[][] | undefined {
  const loops: number[][] = []
  const left = list
  while (left.length > 0) {
    const start = left[0]
    const loop: number[] = []
    let at = start
    let before = -1
    do {
      let pick = -1
      let bestTurn = Infinity
      for (let i = 0; i < left.length; i += 2) {
        if (left[i] !== at) continue
        const turn = before < 0 ? 0 : leftTurn(skeleton, before, at, left[i + 1])
        if (turn < bestTurn) {
          bestTurn = turn
          pick = i
        }
      }
      if (pick < 0) return undefined
      loop.push(at)
      before = at
      at = left[pick + 1]
      left.splice(pick, 2)
    } while (at !== start)
    loops.push(loop)
  }
  return loops
}

/** Angle that sorts continuations leftmost first. */
function leftTurn({ x, y }: Skeleton, from: number, at: number, to: number): number {
  const bx = x[from] - x[at]
  const by = y[from] - y[at]
  const cx = x[to] - x[at]
  const cy = y[to] - y[at]
  const angle = Math.atan2(bx * cy - by * cx, bx * cx + by * cy)
  return 2 * Math.PI - (angle < 0 ? angle + 2 * Math.PI : angle)
}

/** Cuts faces at the levels. There is one way for all faces: split in two, or into triangles that are split in two. */
class Slicer {
  private readonly x: number[]
  private readonly y: number[]
  private readonly inset: number[]
  private readonly around: (number[] | undefined)[]
  private readonly cuts: PairTable
  private readonly triangles: number[] = []
  private readonly strip: number[] = []
  private readonly edge: number[] = []

  constructor(
    private readonly set: PolygonSet,
    private readonly skeleton: Skeleton,
    private readonly levels: readonly number[],
  ) {
    const { lattice } = set
    const x: number[] = []
    const y: number[] = []
    const inset: number[] = []
    const around: undefined[] = []
    // the outline itself is never moved by the jitter
    for (const { xy } of set.rings) for (let k = 0; k < xy.length; k += 2) x.push(xy[k]), y.push(xy[k + 1])
    for (let i = x.length; i < skeleton.x.length; i++) {
      x.push(snap(skeleton.x[i], lattice))
      y.push(snap(skeleton.y[i], lattice))
    }
    const near = 1.5 * lattice
    for (let i = 0; i < x.length; i++) {
      let t = skeleton.t[i]
      for (let k = 0; t !== 0 && k < levels.length; k++) {
        if (Math.abs(t - levels[k]) >= near) continue
        t = levels[k]
        break
      }
      inset.push(t)
      around.push(undefined)
    }
    this.x = x
    this.y = y
    this.inset = inset
    this.around = around
    this.cuts = new PairTable(2 * this.x.length)
  }

  cut(faces: Face[]): EdgeSurface | undefined {
    const { arcFace, arcFrom, arcTo, edges } = this.skeleton
    for (let k = 0; k < arcFace.length; k++) {
      this.meet(arcFrom[k], arcFace[k])
      this.meet(arcTo[k], arcFace[k])
    }
    for (let e = 0; e < edges.count; e++) {
      this.meet(edges.start[e], e)
      this.meet(edges.end[e], e)
    }
    for (const face of faces) this.slice(this.densify(face), face.edge)
    const caps = triangulateLoops(
      this.skeleton.caps.map((cap) => cap.nodes),
      this.x,
      this.y,
    )
    for (let i = 0; i < caps.length; i += 3) this.emit(caps[i], caps[i + 1], caps[i + 2], CAP, -1)
    const one = this.weld()
    const surface: EdgeSurface = {
      x: this.x,
      y: this.y,
      inset: this.inset,
      triangles: this.triangles,
      strip: this.strip,
      edge: this.edge,
      frames: { point: edges.start, outX: negated(edges.nx), outY: negated(edges.ny) },
      around: this.around,
      capLevel: this.levels.length - 1,
      approximate: false,
    }
    unfold(surface)
    return certify(surface, this.set, one) ? surface : undefined
  }

  /** Makes vertices at one lattice point one vertex, on a level if any of them is, and drops triangles that vanish. Returns the one for each. */
  private weld(): Int32Array {
    const one = coincidence(this.x, this.y, this.set.lattice)
    const { triangles, strip, edge, inset } = this
    for (let v = 0; v < one.length; v++) {
      const u = one[v]
      if (u === v) continue
      if (this.levels.includes(inset[v])) inset[u] = inset[v]
      for (const e of this.around[v] ?? []) this.meet(u, e)
    }
    let kept = 0
    for (let i = 0; i < triangles.length; i += 3) {
      const [a, b, c] = [one[triangles[i]], one[triangles[i + 1]], one[triangles[i + 2]]]
      if (a === b || b === c || a === c) continue
      triangles[3 * kept] = a
      triangles[3 * kept + 1] = b
      triangles[3 * kept + 2] = c
      strip[kept] = strip[i / 3]
      edge[kept] = edge[i / 3]
      kept++
    }
    triangles.length = 3 * kept
    strip.length = kept
    edge.length = kept
    return one
  }

  private meet(vertex: number, edge: number): void {
    const list = this.around[vertex]
    if (!list) this.around[vertex] = [edge]
    else if (!list.includes(edge)) list.push(edge)
  }

  private emit(a: number, b: number, c: number, strip: number, edge: number): void {
    this.triangles.push(a, b, c)
    this.strip.push(strip)
    this.edge.push(edge)
  }

  /** The vertex where the side a–b passes level k, the same one whichever face asks. */
  private cutVertex(a: number, b: number, k: number, edge: number): number {
    const lo = Math.min(a, b)
    const hi = Math.max(a, b)
    const key = hi * this.levels.length + k
    let v = this.cuts.get(lo, key)
    if (v < 0) {
      const d = this.levels[k]
      const f = (d - this.inset[lo]) / (this.inset[hi] - this.inset[lo])
      v = this.x.length
      this.x.push(snap(this.x[lo] + f * (this.x[hi] - this.x[lo]), this.set.lattice))
      this.y.push(snap(this.y[lo] + f * (this.y[hi] - this.y[lo]), this.set.lattice))
      this.inset.push(d)
      this.around.push(undefined)
      this.cuts.set(lo, key, v)
    }
    this.meet(v, edge)
    return v
  }

  /** The face's loop with a vertex wherever one of its sides passes a level. */
  private densify({ edge, loop }: Face): number[] {
    const out: number[] = []
    const { inset, levels } = this
    for (let i = 0; i < loop.length; i++) {
      const p = loop[i]
      const q = loop[(i + 1) % loop.length]
      out.push(p)
      const lo = Math.min(inset[p], inset[q])
      const hi = Math.max(inset[p], inset[q])
      if (lo === hi) continue
      const rising = inset[p] < inset[q]
      for (let j = 0; j < levels.length; j++) {
        const k = rising ? j : levels.length - 1 - j
        if (levels[k] > lo && levels[k] < hi) out.push(this.cutVertex(p, q, k, edge))
      }
    }
    return out
  }

  /**
   * Cuts a face into its strips. Nearly all faces rise from their edge along two chains and come down nowhere: they are cut in one
   * pass from the edge up. The others are split level by level.
   */
  private slice(loop: number[], edge: number): void {
    const { inset, levels } = this
    const n = loop.length
    let top = 0
    while (top + 1 < n && inset[loop[top + 1]] >= inset[loop[top]]) top++
    // the loop begins with its edge, so that it is level there, rises to its top and falls again
    let simple = n > 3 && inset[loop[0]] === 0
    for (let i = top; simple && i + 1 < n; i++) if (inset[loop[i + 1]] > inset[loop[i]]) simple = false
    // a side that lies on a level below the top is for `split` to judge
    for (let i = 1; simple && i + 1 < n; i++) if (inset[loop[i]] === inset[loop[i + 1]] && inset[loop[i]] < inset[loop[top]]) simple = false
    const highest = inset[loop[top]]
    if (!simple || (levels[0] ?? Infinity) >= highest) {
      this.split(loop, 0, edge)
      return
    }
    let right = 1
    let left = n
    const piece: number[] = this.piece
    for (let k = 0; k < levels.length; k++) {
      const d = levels[k]
      let r = right
      while (r < top && inset[loop[r]] < d) r++
      let l = left
      while (l > top && inset[loop[l % n]] < d) l--
      const last = d >= highest || k === levels.length - 1
      piece.length = 0
      if (last) {
        r = l
        for (let i = right; i <= left; i++) piece.push(loop[i % n])
      } else {
        if (inset[loop[r]] !== d || inset[loop[l % n]] !== d) {
          // no vertex on the level where there must be one: leave the rest to the careful way
          for (let i = right; i <= left; i++) piece.push(loop[i % n])
          this.split(piece.slice(), k, edge)
          return
        }
        for (let i = right; i <= r; i++) piece.push(loop[i])
        for (let i = l; i <= left; i++) piece.push(loop[i % n])
      }
      if (piece.length >= 3) {
        const from = this.triangles.length
        earClip(piece, this.x, this.y, this.triangles)
        for (let i = from; i < this.triangles.length; i += 3) {
          this.strip.push(k)
          this.edge.push(edge)
        }
      }
      if (last) return
      right = r
      left = l
    }
  }
  private readonly piece: number[] = []

  /** Splits a loop at the first level that passes through it and goes on with both parts. */
  private split(loop: number[], fromLevel: number, edge: number): void {
    const { inset, levels } = this
    let lo = Infinity
    let hi = -Infinity
    for (const v of loop) {
      lo = Math.min(lo, inset[v])
      hi = Math.max(hi, inset[v])
    }
    let k = fromLevel
    while (k < levels.length && levels[k] <= lo) k++
    if (k >= levels.length || hi <= levels[k]) {
      const from = this.triangles.length
      earClip(loop, this.x, this.y, this.triangles)
      for (let i = from; i < this.triangles.length; i += 3) {
        this.strip.push(Math.min(k, levels.length - 1))
        this.edge.push(edge)
      }
      return
    }
    const parts = this.halve(loop, k, edge)
    if (parts) {
      this.split(parts[0], k, edge)
      this.split(parts[1], k + 1, edge)
      return
    }
    const pieces: number[] = []
    earClip(loop, this.x, this.y, pieces)
    for (let i = 0; i < pieces.length; i += 3) this.split([pieces[i], pieces[i + 1], pieces[i + 2]], k, edge)
  }

  /** [below, above] of a loop that passes the level just twice; undefined when it passes or touches it more often. */
  private halve(source: number[], k: number, edge: number): [number[], number[]] | undefined {
    const { inset, levels } = this
    const d = levels[k]
    let loop = source
    if (loop.length === 3) {
      // only the sides of triangles cut by ourselves can pass a level without a vertex there
      const dense: number[] = []
      for (let i = 0; i < 3; i++) {
        const p = loop[i]
        const q = loop[(i + 1) % 3]
        dense.push(p)
        if ((inset[p] - d) * (inset[q] - d) < 0) dense.push(this.cutVertex(p, q, k, edge))
      }
      loop = dense
    }
    const n = loop.length
    const sides = new Int8Array(n)
    for (let i = 0; i < n; i++) sides[i] = Math.sign(inset[loop[i]] - d)
    // runs of on-level vertices between a part below and a part above
    const passages: { first: number; last: number; up: boolean }[] = []
    for (let i = 0; i < n; i++) {
      const after = sides[(i + 1) % n]
      if (sides[i] === 0 || after !== 0) {
        if (sides[i] * after < 0) return undefined
        continue
      }
      let j = i + 1
      while (sides[(j + 1) % n] === 0) j++
      const beyond = sides[(j + 1) % n]
      if (beyond === sides[i]) return undefined // touches only
      passages.push({ first: (i + 1) % n, last: j % n, up: beyond > 0 })
    }
    if (passages.length !== 2) return undefined
    const { dx, dy } = this.skeleton.edges
    const along = (i: number) => this.x[loop[i]] * dx[edge] + this.y[loop[i]] * dy[edge]
    // a side lying on the level goes to the part whose interior it bounds: split at the run's end nearer the other run
    const nearer = (p: { first: number; last: number }, far: number) =>
      Math.abs(along(p.last) - along(far)) < Math.abs(along(p.first) - along(far)) ? p.last : p.first
    const up = passages[0].up ? passages[0] : passages[1]
    const down = passages[0].up ? passages[1] : passages[0]
    if (up === down || up.up === down.up) return undefined
    const u = nearer(up, down.first)
    const w = nearer(down, u)
    const above = walk(loop, u, w)
    const below = walk(loop, w, u)
    return above.length >= 3 && below.length >= 3 ? [below, above] : undefined
  }
}

/** Part of a loop from one index to another, both included. */
function walk(loop: readonly number[], from: number, to: number): number[] {
  const out: number[] = []
  for (let i = from; ; i = (i + 1) % loop.length) {
    out.push(loop[i])
    if (i === to) return out
  }
}

/**
 * Rounding to the lattice can turn slivers over, or make them stand upright. Such a sliver has its apex on or just beyond
 * its longest side: flipping that side repairs both triangles. Changes `surface.triangles` in place.
 */
function unfold(surface: EdgeSurface): void {
  const { triangles, x, y, strip, edge } = surface
  const area = (a: number, b: number, c: number) => (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
  const turned: number[] = []
  for (let i = 0; i < triangles.length; i += 3) if (area(triangles[i], triangles[i + 1], triangles[i + 2]) <= 0) turned.push(i)
  if (turned.length === 0) return
  const bySide = new Map<number, number>()
  const key = (a: number, b: number) => a * 67108864 + b
  // only the sides about a turned sliver are asked for
  const about = new Set(turned.flatMap((i) => [triangles[i], triangles[i + 1], triangles[i + 2]]))
  for (let i = 0; i < triangles.length; i += 3) {
    if (!about.has(triangles[i]) && !about.has(triangles[i + 1]) && !about.has(triangles[i + 2])) continue
    for (let j = 0; j < 3; j++) bySide.set(key(triangles[i + j], triangles[i + ((j + 1) % 3)]), i)
  }
  for (const i of turned) {
    const ids = [triangles[i], triangles[i + 1], triangles[i + 2]]
    if (area(ids[0], ids[1], ids[2]) > 0) continue
    let done = false
    const sides = [0, 1, 2].sort((p, q) => length(q) - length(p))
    for (const j of sides) {
      const a = ids[j]
      const b = ids[(j + 1) % 3]
      const c = ids[(j + 2) % 3]
      const other = bySide.get(key(b, a))
      if (other === undefined) continue
      const d = [triangles[other], triangles[other + 1], triangles[other + 2]].find((v) => v !== a && v !== b) as number
      if (bySide.has(key(c, d)) || bySide.has(key(d, c))) continue
      if (area(a, d, c) <= 0 || area(d, b, c) <= 0) continue
      triangles.splice(i, 3, a, d, c)
      triangles.splice(other, 3, d, b, c)
      for (const at of [i, other]) for (let s = 0; s < 3; s++) bySide.set(key(triangles[at + s], triangles[at + ((s + 1) % 3)]), at)
      bySide.delete(key(a, b))
      bySide.delete(key(b, a))
      // both now lie where the neighbour lay
      strip[i / 3] = strip[other / 3]
      edge[i / 3] = edge[other / 3]
      done = true
      break
    }
    if (!done) continue
    function length(j: number): number {
      const a = ids[j]
      const b = ids[(j + 1) % 3]
      return (x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2
    }
  }
}

/**
 * The certificate: no triangle turned over and none upright but on level caps, every directed side met by its reverse or part of the outline, and the
 * outline met whole, counting vertices that rounding has made one as one. Lattice coordinates make the signs exact. (The
 * signed total of areas would prove nothing: it always balances.) `one`: for each vertex the first at its place, where that is known.
 */
export function certify(surface: EdgeSurface, set: PolygonSet, one: Int32Array = coincidence(surface.x, surface.y, set.lattice)): boolean {
  const { triangles, strip, x, y } = surface
  // one entry for both directions of a side: bit 1 from the lower vertex to the higher, bit 2 back
  const sides = new PairTable(triangles.length / 2)
  let open = 0
  const walk = (from: number, to: number): boolean => {
    const had = from < to ? sides.mark(from, to, 1) : sides.mark(to, from, 2)
    open += had === 0 ? 1 : -1
    return had === 0 || had === (from < to ? 2 : 1)
  }
  for (let i = 0; i < triangles.length; i += 3) {
    const a = one[triangles[i]]
    const b = one[triangles[i + 1]]
    const c = one[triangles[i + 2]]
    if (a === b || b === c || a === c) continue
    const area = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
    if (area < 0 || (area === 0 && strip[i / 3] !== CAP)) return false
    if (!walk(a, b) || !walk(b, c) || !walk(c, a)) return false
  }
  let outline = 0
  for (const loop of consecutiveLoops(set.rings)) {
    for (let i = 0; i < loop.length; i++) {
      outline++
      const [from, to] = [one[loop[i]], one[loop[(i + 1) % loop.length]]]
      const walked = sides.get(Math.min(from, to), Math.max(from, to))
      if (walked < 0 || (walked & (from < to ? 1 : 2)) === 0) return false
    }
  }
  return open === outline
}

/** For each vertex the first one at its place: on a level piece of the profile they would be one point of the solid too. */
function coincidence(x: ArrayLike<number>, y: ArrayLike<number>, lattice: number): Int32Array {
  const first = new PairTable(x.length)
  const one = new Int32Array(x.length)
  for (let v = 0; v < one.length; v++) {
    // shifted so that both are whole numbers above zero
    const [i, j] = [Math.round(x[v] / lattice) + 1073741824, Math.round(y[v] / lattice) + 1073741824]
    const known = first.get(i, j)
    if (known < 0) first.set(i, j, v)
    one[v] = known < 0 ? v : known
  }
  return one
}

/**
 * Nested insets, the last resort: rings offset by the clipper at every level, the bands between them triangulated.
 * Ridges become plateaus at the last level the clipper still finds something at. Certified too; levels are given up from
 * the innermost outwards until the certificate holds, at worst down to a plain edge.
 */
export function nestedSurface(set: PolygonSet, levels: readonly number[]): EdgeSurface {
  for (let count = levels.length; count > 0; count--) {
    const surface = nest(set, levels.slice(0, count))
    if (certify(surface, set)) return surface
  }
  return { ...flatSurface(set), approximate: true }
}

function nest(set: PolygonSet, levels: readonly number[]): EdgeSurface {
  const x: number[] = []
  const y: number[] = []
  const inset: number[] = []
  const triangles: number[] = []
  const strip: number[] = []
  const edge: number[] = []
  const addRings = (rings: readonly ArrayLike<number>[], d: number): number[][] =>
    rings.map((xy) => {
      const loop: number[] = []
      for (let i = 0; i < xy.length; i += 2) {
        loop.push(x.length)
        x.push(xy[i])
        y.push(xy[i + 1])
        inset.push(d)
      }
      return loop
    })
  const nearest = nearestEdge(set)
  const emit = (loops: number[][], k: number) => {
    const found = triangulateLoops(loops, x, y)
    for (let i = 0; i < found.length; i += 3) {
      const [a, b, c] = [found[i], found[i + 1], found[i + 2]]
      triangles.push(a, b, c)
      strip.push(k)
      edge.push(k === CAP ? -1 : nearest((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3))
    }
  }
  let outer = addRings(
    set.rings.map((ring) => ring.xy),
    0,
  )
  let capLevel = -1
  for (let k = 0; k < levels.length; k++) {
    const rings = insetRings(set, levels[k])
    if (rings.length === 0) break
    const inner = addRings(rings, levels[k])
    emit([...outer, ...inner.map((loop) => loop.slice().reverse())], k)
    outer = inner
    capLevel = k
  }
  emit(outer, CAP)
  return { x, y, inset, triangles, strip, edge, frames: outlineFrames(set), capLevel, approximate: true }
}

function insetRings(set: PolygonSet, distance: number): number[][] {
  const { CrossSection } = manifold()
  return withScope((own) => {
    const section = own(
      new CrossSection(
        set.rings.map((ring) => toPairs(ring.xy)),
        'Positive',
      ),
    )
    const smaller = own(section.offset(-distance, 'Miter', 4))
    return smaller
      .toPolygons()
      .map((ring) => ring.flatMap(([px, py]) => [snap(px, set.lattice), snap(py, set.lattice)]))
      .filter((ring) => Math.abs(doubleArea(ring)) > 2e-4)
  })
}

/** A function that gives the outline edge nearest to a point. */
function nearestEdge(set: PolygonSet): (px: number, py: number) => number {
  return (px, py) => {
    let best = 0
    let bestSquare = Infinity
    let base = 0
    for (const { xy } of set.rings) {
      const n = xy.length / 2
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n
        const ex = xy[2 * j] - xy[2 * i]
        const ey = xy[2 * j + 1] - xy[2 * i + 1]
        const f = Math.max(0, Math.min(1, ((px - xy[2 * i]) * ex + (py - xy[2 * i + 1]) * ey) / (ex * ex + ey * ey)))
        const square = (px - xy[2 * i] - f * ex) ** 2 + (py - xy[2 * i + 1] - f * ey) ** 2
        if (square < bestSquare) {
          bestSquare = square
          best = base + i
        }
      }
      base += n
    }
    return best
  }
}
