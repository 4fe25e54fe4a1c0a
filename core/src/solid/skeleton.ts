import { TooMuchWork } from '../kernel/work-bound'
import { controlBounds } from '../outline/path'
import { doubleArea, type PolygonSet, winding } from '../outline/polygon'
import { CORNER_STYLES } from './corner-styles'

/**
 * Straight skeleton by wavefront propagation: every edge of a polygon moves inwards at unit speed; the traces of the
 * corners are the arcs. Aichholzer, Aurenhammer, Alberts, Gärtner, "A novel type of skeleton for polygons" (1995); events
 * are found as in Felkel and Obdržálek (1998), but which segment a concave corner hits is decided only when its event is
 * taken, so that later changes do no harm.
 *
 * What else was measured over 536 glyphs (shared/edge-kernel.md): three's ExtrudeGeometry crosses itself on over half of
 * them; nested insets never fail but flatten ridges by up to 3.4 mm; a CGAL binding is no choice for its licence.
 *
 * Every arc is stored in both of its faces in opposite directions, so that closure is bookkeeping and not arithmetic.
 */
export interface Skeleton {
  /** node coordinates and the time (= inset, mm) at which the wavefront passes them; nodes 0…n−1 are the polygon's points */
  readonly x: number[]
  readonly y: number[]
  readonly t: number[]
  /** outline edges: unit direction, inward normal, start and end node; zero-length ones stand at sharp concave corners */
  readonly edges: SkeletonEdges
  /** directed boundary pieces of the faces: arcFace[k] has a piece from arcFrom[k] to arcTo[k] */
  readonly arcFace: number[]
  readonly arcFrom: number[]
  readonly arcTo: number[]
  /** loops of nodes at the time limit, counter-clockwise around what is left, and for each loop the edge behind each side */
  readonly caps: readonly { readonly nodes: number[]; readonly edges: number[] }[]
  /** what the propagation could not settle; empty when all is well */
  readonly unresolved: readonly string[]
}

export interface SkeletonEdges {
  readonly count: number
  readonly dx: Float64Array
  readonly dy: Float64Array
  readonly nx: Float64Array
  readonly ny: Float64Array
  /** n·p of the edge's line at time 0 */
  readonly c: Float64Array
  readonly start: Int32Array
  readonly end: Int32Array
}

/** mm: how far outside a segment a hit still counts. */
const HIT = 1e-7

/** mm: nodes nearer than this at one instant are one node. */
const SAME = 1e-7

/** 1 + n1·n2 below this: the two edges are anti-parallel and close along a ridge. */
const ANTIPARALLEL = 1e-13

/** Looks of concave corners at edges, about 20 s of work. */
const MAX_LOOKS = 1_000_000_000

/** Binary heap of events ordered by time, kept in parallel arrays. */
class EventHeap {
  private time: number[] = []
  private first: number[] = []
  private second: number[] = []
  topTime = 0
  topFirst = 0
  topSecond = 0

  get size(): number {
    return this.time.length
  }

  push(time: number, first: number, second: number): void {
    const { time: T, first: A, second: B } = this
    let i = T.length
    T.push(time)
    A.push(first)
    B.push(second)
    while (i > 0) {
      const parent = (i - 1) >> 1
      if (T[parent] <= time) break
      T[i] = T[parent]
      A[i] = A[parent]
      B[i] = B[parent]
      i = parent
    }
    T[i] = time
    A[i] = first
    B[i] = second
  }

  /** Takes the earliest event into topTime, topFirst, topSecond. */
  pop(): void {
    const { time: T, first: A, second: B } = this
    this.topTime = T[0]
    this.topFirst = A[0]
    this.topSecond = B[0]
    const time = T.pop() as number
    const first = A.pop() as number
    const second = B.pop() as number
    const n = T.length
    if (n === 0) return
    let i = 0
    for (;;) {
      let child = 2 * i + 1
      if (child >= n) break
      if (child + 1 < n && T[child + 1] < T[child]) child++
      if (T[child] >= time) break
      T[i] = T[child]
      A[i] = A[child]
      B[i] = B[child]
      i = child
    }
    T[i] = time
    A[i] = first
    B[i] = second
  }
}

/** How the wavefront goes round a concave corner: carried on to a mitre with a cap, in an arc, or cut across. */
export type CornerStyle = (typeof CORNER_STYLES)[number]

/** Turns under this stay as they are when corners are rounded or cut, degrees: the facets of a curve are no corners. */
const CORNER_FROM = 20

/** What one edge of a round corner's arc turns, degrees. */
const ARC = 15

export interface SkeletonOptions {
  /** the inset at which to stop, mm; Infinity runs until all has closed */
  readonly limit: number
  /** concave turns beyond this many degrees get extra edges, so that mitres stay short. Default 150. */
  readonly mitreTurn?: number
  /** default 'mitre' */
  readonly corners?: CornerStyle
  /** with round corners: what one edge of an arc turns at most, degrees; 15 when left out. Insets then are distances to 1/cos of half of it */
  readonly arc?: number
}

/** Propagates the wavefront of a clean polygon set. Never throws for geometry: see `unresolved`. */
export function straightSkeleton(set: PolygonSet, options: SkeletonOptions): Skeleton {
  return new Wavefront(set, options).run()
}

/** For every ring of a set the number of the part it bounds: an outline with the holes in it. */
function partsOf({ rings }: PolygonSet): Int32Array {
  const parts = new Int32Array(rings.length)
  const areas = rings.map(({ xy }) => doubleArea(xy))
  const outer = areas.flatMap((area, i) => (area > 0 ? [i] : []))
  if (outer.length < 2) return parts
  const boxes = rings.map(({ xy, closed }) => controlBounds([{ verbs: new Uint8Array(), coords: xy, closed }]))
  outer.forEach((ring, part) => {
    parts[ring] = part
  })
  rings.forEach(({ xy }, hole) => {
    if (areas[hole] > 0) return
    // the smallest outline about its box; where a hole touches it, its own first point may lie on either side
    let best = -1
    outer.forEach((ring, part) => {
      const [about, own] = [boxes[ring], boxes[hole]]
      if (about[0] > own[0] || about[1] > own[1] || about[2] < own[2] || about[3] < own[3]) return
      if (best >= 0 && areas[outer[best]] <= areas[ring]) return
      if (winding([rings[ring]], (xy[0] + xy[2]) / 2, (xy[1] + xy[3]) / 2) !== 0) best = part
    })
    parts[hole] = Math.max(0, best)
  })
  return parts
}

/** All values with the other sign. */
export const negated = (values: ArrayLike<number>): Float64Array => {
  const out = new Float64Array(values.length)
  for (let i = 0; i < out.length; i++) out[i] = -values[i]
  return out
}

/** Edges that follow each other are looked at together: so many of them. */
const BLOCK = 16

/** mm: what the boxes of edges are wider by than they need be. */
const ROOM = 1e-3

class Wavefront {
  private readonly limit: number
  /** per block of edges the box that they sweep until the limit: x and y from, x and y to */
  private swept = new Float64Array(0)
  // nodes
  private readonly x: number[] = []
  private readonly y: number[] = []
  private readonly t: number[] = []
  // edges
  private readonly edges: SkeletonEdges
  // wavefront vertices: between edge a and edge b, at (px, py) at time pt, moving with (vx, vy)
  private readonly a: number[] = []
  private readonly b: number[] = []
  private readonly px: number[] = []
  private readonly py: number[] = []
  private readonly pt: number[] = []
  private readonly vx: number[] = []
  private readonly vy: number[] = []
  private readonly node: number[] = []
  private readonly prev: number[] = []
  private readonly next: number[] = []
  private readonly alive: boolean[] = []
  private readonly ridge: boolean[] = [] // anti-parallel: no velocity
  private readonly reflex: boolean[] = []
  private liveCount = 0
  // what is apart stays apart: per edge its part, per part the stretches of edges (from, to, …) that are its own
  private readonly partOf: Int32Array
  private readonly stretches: readonly Int32Array[]
  // the live segments of an edge: vertices whose b is the edge, doubly linked
  private readonly segmentHead: Int32Array
  private readonly segmentNext: number[] = []
  private readonly segmentPrev: number[] = []
  // the hits a concave vertex has before it: its stretch of the common list, of which few are ever asked for
  private readonly hitFrom: number[] = []
  private readonly hitTo: number[] = []
  private hits = 0
  private hitTime: Float64Array
  private hitLine: Int32Array
  private readonly heap = new EventHeap()
  private readonly arcFace: number[] = []
  private readonly arcFrom: number[] = []
  private readonly arcTo: number[] = []
  private readonly unresolved: string[] = []

  constructor(set: PolygonSet, options: SkeletonOptions) {
    this.limit = options.limit
    const { corners = 'mitre', arc = ARC } = options
    const mitreTurn = ((corners === 'mitre' ? (options.mitreTurn ?? 150) : arc < ARC ? arc : CORNER_FROM) * Math.PI) / 180
    const sharp = Math.cos(mitreTurn)
    // the turn that one extra edge takes
    const share = ((corners === 'round' ? arc : 90) * Math.PI) / 180
    const dx: number[] = []
    const dy: number[] = []
    const start: number[] = []
    const end: number[] = []
    const rings: number[][] = []
    for (const { xy } of set.rings) {
      const n = xy.length / 2
      const base = this.x.length
      for (let i = 0; i < n; i++) this.newNode(xy[2 * i], xy[2 * i + 1], 0)
      const ux = new Float64Array(n)
      const uy = new Float64Array(n)
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n
        const ex = xy[2 * j] - xy[2 * i]
        const ey = xy[2 * j + 1] - xy[2 * i + 1]
        const length = Math.sqrt(ex * ex + ey * ey)
        ux[i] = ex / length
        uy[i] = ey / length
      }
      const ring: number[] = []
      for (let i = 0; i < n; i++) {
        const p = (i + n - 1) % n
        const cross = ux[p] * uy[i] - uy[p] * ux[i]
        const dot = ux[p] * ux[i] + uy[p] * uy[i]
        if (cross < 0 && dot < sharp) {
          const turn = Math.atan2(cross, dot)
          const from = Math.atan2(uy[p], ux[p])
          const parts = Math.max(2, Math.ceil(-turn / share - 1e-9))
          for (let k = 1; k < parts; k++) {
            const angle = from + (turn * k) / parts
            ring.push(dx.length)
            dx.push(Math.cos(angle))
            dy.push(Math.sin(angle))
            start.push(base + i)
            end.push(base + i)
          }
        }
        ring.push(dx.length)
        dx.push(ux[i])
        dy.push(uy[i])
        start.push(base + i)
        end.push(base + ((i + 1) % n))
      }
      rings.push(ring)
    }
    const count = dx.length
    const c = new Float64Array(count)
    for (let e = 0; e < count; e++) c[e] = -dy[e] * this.x[start[e]] + dx[e] * this.y[start[e]]
    this.edges = {
      count,
      dx: Float64Array.from(dx),
      dy: Float64Array.from(dy),
      nx: negated(dy),
      ny: Float64Array.from(dx),
      c,
      start: Int32Array.from(start),
      end: Int32Array.from(end),
    }
    this.partOf = new Int32Array(count)
    const parts = partsOf(set)
    const own = Array.from({ length: parts.reduce((most, part) => Math.max(most, part + 1), 1) }, (): number[] => [])
    rings.forEach((ring, r) => {
      if (ring.length === 0) return
      this.partOf.fill(parts[r], ring[0], ring[0] + ring.length)
      const stretches = own[parts[r]]
      if (stretches[stretches.length - 1] === ring[0]) stretches[stretches.length - 1] += ring.length
      else stretches.push(ring[0], ring[0] + ring.length)
    })
    this.stretches = own.map((stretches) => Int32Array.from(stretches))
    this.segmentHead = new Int32Array(count).fill(-1)
    this.hitTime = new Float64Array(4 * count)
    this.hitLine = new Int32Array(4 * count)
    for (const ring of rings) {
      const first = this.a.length
      ring.forEach((e, i) => {
        const s = start[e]
        this.newVertex(ring[(i + ring.length - 1) % ring.length], e, this.x[s], this.y[s], 0, s)
      })
      for (let i = 0; i < ring.length; i++) this.link(first + i, first + ((i + 1) % ring.length))
    }
    this.sweep()
    this.boundWork()
  }

  /**
   * The boxes that blocks of edges sweep. An edge grows only at concave ends, whose speed is 1/cos of half their turn; no concave corner that comes
   * later turns more, since where an edge shrinks to nothing the turns at its ends are summed and one of them is convex.
   */
  private sweep(): void {
    const { x, y, limit } = this
    const { start, end, count } = this.edges
    let speed = 1
    for (let v = 0; v < this.reflex.length; v++) if (this.reflex[v] && !this.ridge[v]) speed = Math.max(speed, Math.hypot(this.vx[v], this.vy[v]))
    const reach = limit * speed + ROOM
    this.swept = new Float64Array(4 * Math.ceil(count / BLOCK))
    for (let block = 0; block * BLOCK < count; block++) {
      let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity]
      const to = Math.min(count, (block + 1) * BLOCK)
      for (let e = block * BLOCK; e < to; e++) {
        const [s, f] = [start[e], end[e]]
        minX = Math.min(minX, x[s], x[f])
        minY = Math.min(minY, y[s], y[f])
        maxX = Math.max(maxX, x[s], x[f])
        maxY = Math.max(maxY, y[s], y[f])
      }
      this.swept[4 * block] = minX - reach
      this.swept[4 * block + 1] = minY - reach
      this.swept[4 * block + 2] = maxX + reach
      this.swept[4 * block + 3] = maxY + reach
    }
  }

  /** Every concave corner looks at every edge of its part. */
  private boundWork(): void {
    const size = (part: number) => this.stretches[part].reduce((sum, at, i) => sum + (i % 2 === 0 ? -at : at), 0)
    const sizes = this.stretches.map((_, part) => size(part))
    let looks = 0
    for (let v = 0; v < this.reflex.length; v++) if (this.reflex[v]) looks += sizes[this.partOf[this.a[v]]]
    if (looks > MAX_LOOKS)
      throw new TooMuchWork(
        `The outline has a shape of ${sizes.reduce((most, n) => Math.max(most, n), 0).toLocaleString('en')} corners, too many for an edge.`,
        'Smooth the outline or simplify the drawing first.',
      )
  }

  run(): Skeleton {
    const initial = this.a.length
    for (let v = 0; v < initial; v++) this.scheduleEdgeEvent(v, 0)
    for (let v = 0; v < initial; v++) this.scheduleHits(v, 0)
    let now = 0
    let steps = 0
    const maxSteps = this.edges.count * 800 + 20000
    while (this.heap.size > 0 && this.liveCount > 0) {
      this.heap.pop()
      const { topTime, topFirst: v, topSecond: other } = this.heap
      if (!this.alive[v]) continue
      if (topTime > this.limit) break
      if (topTime > now) now = topTime
      if (++steps > maxSteps) {
        this.unresolved.push('too many events')
        break
      }
      // an edge event carries its other vertex, a hit the edge as −1 − edge
      if (other >= 0) {
        if (this.alive[other] && this.next[v] === other) this.edgeEvent(v, other, now)
      } else this.hitEvent(v, -1 - other, now)
    }
    const caps = this.close()
    return {
      x: this.x,
      y: this.y,
      t: this.t,
      edges: this.edges,
      arcFace: this.arcFace,
      arcFrom: this.arcFrom,
      arcTo: this.arcTo,
      caps,
      unresolved: this.unresolved,
    }
  }

  private newNode(x: number, y: number, t: number): number {
    this.x.push(x)
    this.y.push(y)
    this.t.push(t)
    return this.x.length - 1
  }

  /** A node at this place and time; that of one of the given vertices when it is the same place. */
  private nodeAt(x: number, y: number, t: number, v: number, w = -1): number {
    for (const u of [v, w]) {
      if (u < 0) continue
      const n = this.node[u]
      if (Math.abs(this.x[n] - x) < SAME && Math.abs(this.y[n] - y) < SAME) return n
    }
    return this.newNode(x, y, t)
  }

  private newVertex(a: number, b: number, x: number, y: number, t: number, node: number): number {
    const { nx, ny, dx, dy } = this.edges
    const v = this.a.length
    const dot = nx[a] * nx[b] + ny[a] * ny[b]
    const cross = dx[a] * dy[b] - dy[a] * dx[b]
    const ridge = 1 + dot < ANTIPARALLEL
    this.a.push(a)
    this.b.push(b)
    this.px.push(x)
    this.py.push(y)
    this.pt.push(t)
    this.vx.push(ridge ? 0 : (nx[a] + nx[b]) / (1 + dot))
    this.vy.push(ridge ? 0 : (ny[a] + ny[b]) / (1 + dot))
    this.node.push(node)
    this.prev.push(-1)
    this.next.push(-1)
    this.alive.push(true)
    this.ridge.push(ridge)
    this.reflex.push(cross < -1e-12)
    this.hitFrom.push(0)
    this.hitTo.push(0)
    const head = this.segmentHead[b]
    this.segmentNext.push(head)
    this.segmentPrev.push(-1)
    if (head >= 0) this.segmentPrev[head] = v
    this.segmentHead[b] = v
    this.liveCount++
    return v
  }

  private kill(v: number): void {
    if (!this.alive[v]) return
    this.alive[v] = false
    this.liveCount--
    const p = this.segmentPrev[v]
    const n = this.segmentNext[v]
    if (p >= 0) this.segmentNext[p] = n
    else this.segmentHead[this.b[v]] = n
    if (n >= 0) this.segmentPrev[n] = p
  }

  private link(v: number, w: number): void {
    this.next[v] = w
    this.prev[w] = v
  }

  private xAt(v: number, t: number): number {
    return this.px[v] + this.vx[v] * (t - this.pt[v])
  }

  private yAt(v: number, t: number): number {
    return this.py[v] + this.vy[v] * (t - this.pt[v])
  }

  private piece(face: number, from: number, to: number): void {
    this.arcFace.push(face)
    this.arcFrom.push(from)
    this.arcTo.push(to)
  }

  /** The trace of vertex v ends at `node`: one arc, once in each of its two faces. */
  private arc(v: number, node: number): void {
    const from = this.node[v]
    if (from === node) return
    this.piece(this.a[v], from, node)
    this.piece(this.b[v], node, from)
  }

  private scheduleEdgeEvent(v: number, now: number): void {
    const w = this.next[v]
    if (this.ridge[v] || this.ridge[w] || w === v) return
    const e = this.b[v]
    const dx = this.edges.dx[e]
    const dy = this.edges.dy[e]
    const length = (this.xAt(w, now) - this.xAt(v, now)) * dx + (this.yAt(w, now) - this.yAt(v, now)) * dy
    const rate = (this.vx[w] - this.vx[v]) * dx + (this.vy[w] - this.vy[v]) * dy
    let t: number
    if (length <= 1e-10 && rate <= 1e-10) t = now
    else if (rate < 0) t = now - length / rate
    else if (length < -HIT) {
      t = now
      this.unresolved.push('an edge turned inside out')
    } else return
    if (t < now) t = now
    if (t <= this.limit) this.heap.push(t, v, w)
  }

  /** Lists when a concave vertex would hit every other edge's line of its part; the nearest is put on the heap. */
  private scheduleHits(v: number, now: number): void {
    if (!this.reflex[v] || this.ridge[v]) return
    const { nx, ny, c, count } = this.edges
    const { segmentHead, limit, swept } = this
    if (this.hits + count > this.hitTime.length) this.growHits()
    const { hitTime: times, hitLine: lines } = this
    const x = this.xAt(v, now)
    const y = this.yAt(v, now)
    const vx = this.vx[v]
    const vy = this.vy[v]
    const a = this.a[v]
    const b = this.b[v]
    // the box of its way
    const [farX, farY] = limit === Infinity ? [x, y] : [x + vx * (limit - now), y + vy * (limit - now)]
    const [minX, maxX] = x < farX ? [x, farX] : [farX, x]
    const [minY, maxY] = y < farY ? [y, farY] : [farY, y]
    let found = this.hits
    const stretches = this.stretches[this.partOf[a]]
    for (let s = 0; s < stretches.length; s += 2) {
      const to = stretches[s + 1]
      for (let first = stretches[s]; first < to; ) {
        const block = (first / BLOCK) | 0
        const end = Math.min(to, (block + 1) * BLOCK)
        const from = first
        first = end
        const box = 4 * block
        if (swept[box] > maxX || swept[box + 1] > maxY || swept[box + 2] < minX || swept[box + 3] < minY) continue
        for (let e = from; e < end; e++) {
          const distance = nx[e] * x + ny[e] * y - c[e] - now
          if (distance < -HIT) continue
          const rate = nx[e] * vx + ny[e] * vy - 1
          // reached before the limit?
          if (rate >= -1e-12 || distance > (now - limit) * rate) continue
          if (e === a || e === b || segmentHead[e] < 0) continue
          const t = Math.max(now, now - distance / rate)
          if (t > limit) continue
          times[found] = t
          lines[found++] = e
        }
      }
    }
    this.hitFrom[v] = this.hits
    this.hitTo[v] = found
    this.hits = found
    this.nextHit(v)
  }

  /** Makes room for one more vertex's hits, leaving behind those of vertices that are gone. */
  private growHits(): void {
    const { alive, hitFrom, hitTo, hitTime, hitLine } = this
    let held = 0
    for (let v = 0; v < alive.length; v++) if (alive[v]) held += hitTo[v] - hitFrom[v]
    const size = 2 * (held + this.edges.count)
    this.hitTime = new Float64Array(size)
    this.hitLine = new Int32Array(size)
    this.hits = 0
    for (let v = 0; v < alive.length; v++) {
      if (!alive[v]) continue
      this.hitTime.set(hitTime.subarray(hitFrom[v], hitTo[v]), this.hits)
      this.hitLine.set(hitLine.subarray(hitFrom[v], hitTo[v]), this.hits)
      const count = hitTo[v] - hitFrom[v]
      hitFrom[v] = this.hits
      hitTo[v] = this.hits += count
    }
  }

  /** Puts the nearest hit that a vertex still has before it on the heap. */
  private nextHit(v: number): void {
    const { hitTime: times, hitLine: lines } = this
    const from = this.hitFrom[v]
    const to = this.hitTo[v]
    if (from >= to) return
    let nearest = from
    for (let i = from + 1; i < to; i++) {
      // at one time the edge that was there first, so that the same outline always gives the same solid
      if (times[i] < times[nearest] || (times[i] === times[nearest] && lines[i] < lines[nearest])) nearest = i
    }
    this.heap.push(times[nearest], v, -1 - lines[nearest])
    times[nearest] = times[from]
    lines[nearest] = lines[from]
    this.hitFrom[v] = from + 1
  }

  private edgeEvent(v: number, w: number, now: number): void {
    if (this.prev[v] === w) {
      this.closeLoop(v, w, now)
      return
    }
    const slower = Math.hypot(this.vx[v], this.vy[v]) < Math.hypot(this.vx[w], this.vy[w]) ? v : w
    const x = this.xAt(slower, now)
    const y = this.yAt(slower, now)
    const node = this.nodeAt(x, y, now, v, w)
    this.arc(v, node)
    this.arc(w, node)
    const before = this.prev[v]
    const after = this.next[w]
    this.kill(v)
    this.kill(w)
    const u = this.newVertex(this.a[v], this.b[w], x, y, now, node)
    this.link(before, u)
    this.link(u, after)
    this.settle(u, now)
  }

  private hitEvent(v: number, e: number, now: number): void {
    const { dx, dy } = this.edges
    const x = this.xAt(v, now)
    const y = this.yAt(v, now)
    let target = -1
    let best = -Infinity
    let fromStart = 0
    let toEnd = 0
    for (let s = this.segmentHead[e]; s >= 0; s = this.segmentNext[s]) {
      const n = this.next[s]
      if (s === v || n === v) continue
      const d0 = (x - this.xAt(s, now)) * dx[e] + (y - this.yAt(s, now)) * dy[e]
      const d1 = (this.xAt(n, now) - x) * dx[e] + (this.yAt(n, now) - y) * dy[e]
      const inside = Math.min(d0, d1)
      if (inside < -HIT || inside <= best) continue
      // two events must not bounce at one instant between vertices that have just been parted
      if (d0 < HIT && (this.a[s] === this.a[v] || this.node[s] === this.node[v])) continue
      if (d1 < HIT && (this.b[n] === this.b[v] || this.node[n] === this.node[v])) continue
      if ((d0 < HIT && s === this.next[v]) || (d1 < HIT && n === this.prev[v])) continue
      best = inside
      target = s
      fromStart = d0
      toEnd = d1
    }
    if (target < 0) {
      this.nextHit(v)
      return
    }
    const far = this.next[target]
    const node = this.nodeAt(x, y, now, v)
    this.arc(v, node)
    const before = this.prev[v]
    const after = this.next[v]
    this.kill(v)
    let left: number
    let right: number
    if (fromStart < HIT && fromStart <= toEnd) {
      // the hit is on the segment's start: the two chains join there directly
      this.arc(target, node)
      const targetBefore = this.prev[target]
      this.kill(target)
      left = this.newVertex(this.a[v], e, x, y, now, node)
      right = this.newVertex(this.a[target], this.b[v], x, y, now, node)
      this.link(before, left)
      this.link(left, far)
      this.link(targetBefore, right)
      this.link(right, after)
    } else if (toEnd < HIT) {
      this.arc(far, node)
      const farAfter = this.next[far]
      this.kill(far)
      left = this.newVertex(this.a[v], this.b[far], x, y, now, node)
      right = this.newVertex(e, this.b[v], x, y, now, node)
      this.link(before, left)
      this.link(left, farAfter)
      this.link(target, right)
      this.link(right, after)
    } else {
      left = this.newVertex(this.a[v], e, x, y, now, node)
      right = this.newVertex(e, this.b[v], x, y, now, node)
      this.link(before, left)
      this.link(left, far)
      this.link(target, right)
      this.link(right, after)
    }
    this.settle(left, now)
    this.settle(right, now)
    if (this.alive[target]) this.scheduleEdgeEvent(target, now)
  }

  /** A loop of two vertices closes with one arc between them. */
  private closeLoop(v: number, w: number, now: number): void {
    const at = (u: number): [number, number] => (this.ridge[u] ? [this.px[u], this.py[u]] : [this.xAt(u, now), this.yAt(u, now)])
    const [vx, vy] = at(v)
    const [wx, wy] = at(w)
    const first = this.nodeAt(vx, vy, now, v)
    const second = Math.hypot(vx - wx, vy - wy) < SAME ? first : this.nodeAt(wx, wy, now, w)
    this.arc(v, first)
    this.arc(w, second)
    if (first !== second) {
      this.piece(this.a[v], first, second)
      this.piece(this.a[w], second, first)
    }
    this.kill(v)
    this.kill(w)
  }

  /** After a vertex was made and linked: close what is closed, run along ridges, schedule what comes next. */
  private settle(vertex: number, now: number): void {
    const { dx, dy } = this.edges
    let v = vertex
    for (let guard = 0; ; guard++) {
      if (!this.alive[v]) return
      if (this.next[v] === v) {
        this.kill(v)
        this.unresolved.push('a loop of one')
        return
      }
      if (this.next[v] === this.prev[v]) {
        this.closeLoop(v, this.next[v], now)
        return
      }
      if (!this.ridge[v]) break
      if (guard > 100000) {
        this.unresolved.push('an endless ridge')
        return
      }
      // anti-parallel edges touch: the ridge runs to the nearer of the two far ends
      const p = this.prev[v]
      const n = this.next[v]
      const [bx, by] = [this.xAt(p, now), this.yAt(p, now)]
      const [fx, fy] = [this.xAt(n, now), this.yAt(n, now)]
      const back = (this.px[v] - bx) * dx[this.a[v]] + (this.py[v] - by) * dy[this.a[v]]
      const forth = (fx - this.px[v]) * dx[this.b[v]] + (fy - this.py[v]) * dy[this.b[v]]
      let u: number
      if (back <= forth) {
        const node = this.nodeAt(bx, by, now, p, v)
        this.arc(v, node)
        this.arc(p, node)
        u = this.newVertex(this.a[p], this.b[v], bx, by, now, node)
        this.link(this.prev[p], u)
        this.link(u, n)
        this.kill(p)
      } else {
        const node = this.nodeAt(fx, fy, now, n, v)
        this.arc(v, node)
        this.arc(n, node)
        u = this.newVertex(this.a[v], this.b[n], fx, fy, now, node)
        this.link(p, u)
        this.link(u, this.next[n])
        this.kill(n)
      }
      this.kill(v)
      v = u
    }
    this.scheduleEdgeEvent(v, now)
    this.scheduleEdgeEvent(this.prev[v], now)
    this.scheduleHits(v, now)
  }

  /** What still lives at the limit becomes the caps. */
  private close(): Skeleton['caps'] {
    if (this.liveCount === 0) return []
    if (this.limit === Infinity) {
      this.unresolved.push(`${this.liveCount} corners never met`)
      return []
    }
    const t = this.limit
    const live: number[] = []
    const end = new Int32Array(this.a.length)
    for (let v = 0; v < this.a.length; v++) if (this.alive[v]) live.push(v)
    for (const v of live) end[v] = this.nodeAt(this.xAt(v, t), this.yAt(v, t), t, v)
    for (const v of live) {
      this.arc(v, end[v])
      const n = this.next[v]
      if (end[n] !== end[v]) this.piece(this.b[v], end[n], end[v])
    }
    const caps: { nodes: number[]; edges: number[] }[] = []
    const seen = new Uint8Array(this.a.length)
    for (const first of live) {
      if (seen[first]) continue
      const nodes: number[] = []
      const edges: number[] = []
      let v = first
      do {
        seen[v] = 1
        if (nodes.length === 0 || nodes[nodes.length - 1] !== end[v]) {
          nodes.push(end[v])
          edges.push(this.b[v])
        } else edges[edges.length - 1] = this.b[v]
        v = this.next[v]
      } while (v !== first)
      if (nodes.length > 1 && nodes[0] === nodes[nodes.length - 1]) {
        nodes.pop()
        edges.pop()
      }
      if (nodes.length >= 3) caps.push({ nodes, edges })
      else this.unresolved.push('a cap with fewer than three corners')
    }
    return caps
  }
}
