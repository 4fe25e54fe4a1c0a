import type { CrossSection } from 'manifold-3d/manifold.js'
import { manifold, type Own, type SimplePolygon, withScope } from '../kernel/manifold'
import { boundCrossings, sidesOfPairs } from '../kernel/sides'
import { cubicAt, cubicPart, cubicSlope } from './cubic'
import { chordCount } from './flatten'
import { type Path, PathBuilder, pathArea, segmentsOf } from './path'

/** Curves are clipped as chords this near to them, mm; what comes out is the curves again. */
const CHORD = 0.006
const TURN = 9
/** How near a clipped corner lies to the chord it is on, mm; the clipper rounds far finer. */
const NEAR = 1e-5
/** Sides and areas below these are dust of the clipper, mm and mm². */
const SHORT = 2e-5
const DUST = 1e-6
const BUCKETS = 256

export type ClipHow = 'add' | 'subtract' | 'intersect' | 'exclude'

/**
 * An area bounded by closed paths (filled by the non-zero rule), made ready for clipping: its curves, the chords that stand
 * for them, and an index to find the curve again that a clipped side came from. Open paths are left out.
 */
export class Area {
  readonly rings: SimplePolygon[] = []
  /** eight numbers each */
  readonly cubics: Float64Array[] = []
  readonly straight: boolean[] = []
  /** per chord x0, y0, x1, y1, t0, t1 */
  readonly chords: Float64Array
  readonly chordOf: Int32Array
  /** [minX, minY, maxX, maxY] of the chords; infinities when empty */
  readonly box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity]
  private buckets: Int32Array[] | undefined

  constructor(readonly paths: readonly Path[]) {
    const chords: number[] = []
    const chordOf: number[] = []
    for (const path of paths) {
      if (!path.closed) continue
      const ring: [number, number][] = []
      for (const { cubic, straight } of segmentsOf(path)) {
        const n = straight ? 1 : chordCount(cubic, CHORD, TURN)
        if (n === 0 || (straight && cubic[0] === cubic[6] && cubic[1] === cubic[7])) continue
        let [x, y] = [cubic[0], cubic[1]]
        for (let i = 1; i <= n; i++) {
          const [u, v] = i === n ? [cubic[6], cubic[7]] : cubicAt(cubic, i / n)
          chords.push(x, y, u, v, (i - 1) / n, i / n)
          chordOf.push(this.cubics.length)
          ring.push([x, y])
          this.grow(x, y)
          x = u
          y = v
        }
        this.cubics.push(cubic)
        this.straight.push(straight)
      }
      if (ring.length >= 3) this.rings.push(ring)
    }
    this.chords = Float64Array.from(chords)
    this.chordOf = Int32Array.from(chordOf)
  }

  private grow(x: number, y: number): void {
    const { box } = this
    if (x < box[0]) box[0] = x
    if (y < box[1]) box[1] = y
    if (x > box[2]) box[2] = x
    if (y > box[3]) box[3] = y
  }

  /** The chord that the side from (px, py) to (qx, qy) lies on, looked for about `last` first; −1 when it lies on none. */
  chordAlong(px: number, py: number, qx: number, qy: number, last: number): number {
    const { chordOf } = this
    // a border mostly goes on to the next chord, one way or the other
    if (last >= 0)
      for (let step = 0; step < 3; step++) {
        const k = last + (step === 0 ? 1 : step === 1 ? -1 : 0)
        if (k >= 0 && k < chordOf.length && this.holds(k, px, py, qx, qy)) return k
      }
    const prefer = last >= 0 ? chordOf[last] : -1
    let found = -1
    const bucket = this.bucketAt((px + qx) / 2)
    for (let i = 0; i < bucket.length; i++) {
      const k = bucket[i]
      if (!this.holds(k, px, py, qx, qy)) continue
      if (chordOf[k] === prefer) return k
      if (found < 0) found = k
    }
    return found
  }

  private holds(k: number, px: number, py: number, qx: number, qy: number): boolean {
    const { chords } = this
    return liesOn(chords, 6 * k, px, py) && liesOn(chords, 6 * k, qx, qy)
  }

  private bucketAt(x: number): Int32Array {
    this.buckets ??= this.fillBuckets()
    const [x0, , x1] = this.box
    if (x < x0 - NEAR || x > x1 + NEAR) return EMPTY
    return this.buckets[Math.min(BUCKETS - 1, Math.max(0, Math.floor(((x - x0) / (x1 - x0 || 1)) * BUCKETS)))]
  }

  private fillBuckets(): Int32Array[] {
    const [x0, , x1] = this.box
    const scale = BUCKETS / (x1 - x0 || 1)
    const lists: number[][] = Array.from({ length: BUCKETS }, () => [])
    for (let k = 0; k < this.chordOf.length; k++) {
      const [a, b] = [this.chords[6 * k], this.chords[6 * k + 2]]
      const from = Math.max(0, Math.floor((Math.min(a, b) - NEAR - x0) * scale))
      const to = Math.min(BUCKETS - 1, Math.floor((Math.max(a, b) + NEAR - x0) * scale))
      for (let i = from; i <= to; i++) lists[i].push(k)
    }
    return lists.map((list) => Int32Array.from(list))
  }
}

const EMPTY = new Int32Array(0)

/** Whether a point lies on the chord at an offset. */
function liesOn(chords: Float64Array, o: number, x: number, y: number): boolean {
  const ax = chords[o]
  const ay = chords[o + 1]
  const bx = chords[o + 2]
  const by = chords[o + 3]
  if ((x < ax - NEAR && x < bx - NEAR) || (x > ax + NEAR && x > bx + NEAR) || (y < ay - NEAR && y < by - NEAR) || (y > ay + NEAR && y > by + NEAR)) return false
  const dx = bx - ax
  const dy = by - ay
  const cross = (x - ax) * dy - (y - ay) * dx
  return cross * cross <= NEAR * NEAR * (dx * dx + dy * dy)
}

/** Where a point of a chord lies on its curve. */
function parameterOn(chords: Float64Array, k: number, x: number, y: number): number {
  const o = 6 * k
  const ax = chords[o]
  const ay = chords[o + 1]
  const t0 = chords[o + 4]
  const dx = chords[o + 2] - ax
  const dy = chords[o + 3] - ay
  const f = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)))
  return t0 + (chords[o + 5] - t0) * f
}

/** A stretch of a result's border: a curve from one parameter to another, or (curve undefined) a plain side. */
interface Run {
  readonly cubic: Float64Array | undefined
  readonly straight: boolean
  /** whether it is of the first area's border */
  readonly ofFirst: boolean
  from: number
  to: number
  /** where it begins */
  x: number
  y: number
}

/**
 * Union, difference, intersection or symmetric difference of two areas as closed paths, outer ones counter-clockwise and
 * holes clockwise. Curves stay the curves they were: they are only cut, at their true crossings, so that parts put together
 * again have the area of the whole. The topology is the clipper's (chords within 0.006 mm); the crossings are then found
 * on the curves themselves by Newton's method. Needs the manifold kernel loaded.
 */
export function clipAreas(a: Area, b: Area, how: ClipHow): Path[] {
  if (a.rings.length === 0) return how === 'add' || how === 'exclude' ? (b.rings.length === 0 ? [] : clipAreas(b, a, 'add')) : []
  if (b.rings.length === 0 && how === 'intersect') return []
  boundBoth(a, b)
  const { CrossSection } = manifold()
  const polygons = withScope((own) => {
    if (b.rings.length === 0) return own(new CrossSection(a.rings, 'NonZero')).toPolygons()
    const [first, second] = [own(new CrossSection(a.rings, 'NonZero')), own(new CrossSection(b.rings, 'NonZero'))]
    if (how === 'add') return own(first.add(second)).toPolygons()
    if (how === 'intersect') return own(first.intersect(second)).toPolygons()
    const left = own(first.subtract(second))
    return how === 'subtract' ? left.toPolygons() : own(left.add(own(second.subtract(first)))).toPolygons()
  })
  return recovered(polygons, a, b)
}

const boundBoth = (a: Area, b: Area) => boundCrossings(sidesOfPairs([...a.rings, ...b.rings]))

/** What of an area lies in another one and what outside of it, each as `clipAreas` would give it, for half the work. */
export function splitArea(a: Area, b: Area): { inside: Path[]; outside: Path[] } {
  if (a.rings.length === 0 || b.rings.length === 0) return { inside: [], outside: clipAreas(a, b, 'subtract') }
  boundBoth(a, b)
  const { CrossSection } = manifold()
  const [inside, outside] = withScope((own) => {
    const [first, second] = [own(new CrossSection(a.rings, 'NonZero')), own(new CrossSection(b.rings, 'NonZero'))]
    return [own(first.intersect(second)).toPolygons(), own(first.subtract(second)).toPolygons()]
  })
  return { inside: recovered(inside, a, b), outside: recovered(outside, a, b) }
}

/** Whether two areas overlap by more than dust, or come nearer than `reach`, mm, without making what they have in common. */
export function areasOverlap(a: Area, b: Area, reach = 0): boolean {
  if (a.rings.length === 0 || b.rings.length === 0) return false
  boundBoth(a, b)
  const { CrossSection } = manifold()
  return withScope((own) => {
    const [first, second] = [a, b].map(({ rings }) => own(new CrossSection(rings, 'NonZero')))
    return commonArea(own, first, second, reach) > DUST
  })
}

/** What two sections have in common when one of them is grown by `reach`, mm². */
export const commonArea = (own: Own, a: CrossSection, b: CrossSection, reach: number): number =>
  own(a.intersect(reach > 0 ? own(b.offset(reach, 'Round', 2, 16)) : b)).area()

/** The area of paths that may overlap (non-zero rule), as paths that do not. */
export const unitePaths = (paths: readonly Path[]): Path[] => clipAreas(new Area(paths), NOTHING, 'add')

const NOTHING = new Area([])

const recovered = (rings: readonly SimplePolygon[], a: Area, b: Area) =>
  rings.map((ring) => recover(ring, [a, b])).filter((path): path is Path => path !== undefined)

function recover(source: SimplePolygon, areas: readonly Area[]): Path | undefined {
  const ring = source.filter(([x, y], i) => {
    const [px, py] = source[(i + source.length - 1) % source.length]
    return Math.hypot(x - px, y - py) > SHORT
  })
  if (ring.length < 3) return undefined
  const runs: Run[] = []
  let last: { area: Area; chord: number } | undefined
  for (let i = 0; i < ring.length; i++) {
    const [px, py] = ring[i]
    const [qx, qy] = ring[(i + 1) % ring.length]
    let run: Run = { cubic: undefined, straight: true, ofFirst: false, from: 0, to: 1, x: px, y: py }
    for (const area of last?.area === areas[1] ? [areas[1], areas[0]] : areas) {
      const k = area.chordAlong(px, py, qx, qy, last?.area === area ? last.chord : -1)
      if (k < 0) continue
      const segment = area.chordOf[k]
      last = { area, chord: k }
      run = {
        cubic: area.cubics[segment],
        straight: area.straight[segment],
        ofFirst: area === areas[0],
        from: parameterOn(area.chords, k, px, py),
        to: parameterOn(area.chords, k, qx, qy),
        x: px,
        y: py,
      }
      break
    }
    const before = runs.at(-1)
    if (before && goesOn(before, run)) before.to = run.to
    else runs.push(run)
  }
  // the ring may begin in the middle of a curve
  const [first] = runs
  const end = runs[runs.length - 1]
  if (runs.length > 1 && goesOn(end, first)) {
    first.from = end.from
    first.x = end.x
    first.y = end.y
    runs.pop()
  }
  if (runs.length > 1) for (let i = 0; i < runs.length; i++) meet(runs[(i + runs.length - 1) % runs.length], runs[i])
  const path = write(runs.filter((run) => run.cubic === undefined || Math.abs(run.to - run.from) > 1e-9))
  return path && Math.abs(pathArea(path)) > DUST ? path : undefined
}

function goesOn(a: Run, b: Run): boolean {
  if (a.cubic === undefined || a.cubic !== b.cubic) return false
  return Math.abs(a.to - b.from) < 1e-6 && Math.sign(a.to - a.from) === Math.sign(b.to - b.from)
}

/** Moves the corner between two stretches to where their curves truly meet. */
function meet(a: Run, b: Run): void {
  const [ca, cb] = [a.cubic, b.cubic]
  if (!ca || !cb) return
  const atNode = (t: number) => t < 1e-9 || t > 1 - 1e-9
  if (atNode(a.to) && atNode(b.from)) {
    const [x, y] = cubicAt(cb, b.from)
    const [u, v] = cubicAt(ca, a.to)
    if (Math.hypot(x - u, y - v) < NEAR) {
      b.x = x
      b.y = y
    }
    return
  }
  const crossing = crossingNear(ca, cb, a.to, b.from, b.x, b.y)
  if (crossing) {
    ;[a.to, b.from, b.x, b.y] = crossing
    return
  }
  // curves that touch or run along each other: the corner is laid on the first area's border, which so stays as it was
  if (a.ofFirst === b.ofFirst) return
  const [x, y] = a.ofFirst ? cubicAt(ca, a.to) : cubicAt(cb, b.from)
  if (Math.hypot(x - b.x, y - b.y) > 8 * CHORD) return
  b.x = x
  b.y = y
}

/** Parameters and place of the crossing of two curves next to a guess (Newton's method); undefined when there is none near. */
function crossingNear(ca: Float64Array, cb: Float64Array, s0: number, t0: number, x0: number, y0: number): [number, number, number, number] | undefined {
  let [s, t] = [s0, t0]
  for (let i = 0; i < 12; i++) {
    const [ax, ay] = cubicAt(ca, s)
    const [bx, by] = cubicAt(cb, t)
    const [ex, ey] = [bx - ax, by - ay]
    if (Math.hypot(ex, ey) < 1e-12) break
    const [pu, pv] = cubicSlope(ca, s)
    const [qu, qv] = cubicSlope(cb, t)
    const determinant = pv * qu - pu * qv
    if (Math.abs(determinant) < 1e-9 * (Math.hypot(pu, pv) * Math.hypot(qu, qv) + 1e-30)) return undefined
    s += (ey * qu - ex * qv) / determinant
    t += (ey * pu - ex * pv) / determinant
    if (!(s > -0.02 && s < 1.02 && t > -0.02 && t < 1.02)) return undefined
  }
  s = Math.max(0, Math.min(1, s))
  t = Math.max(0, Math.min(1, t))
  const [x, y] = cubicAt(ca, s)
  const [u, v] = cubicAt(cb, t)
  return Math.hypot(x - u, y - v) > 1e-7 || Math.hypot(x - x0, y - y0) > 8 * CHORD ? undefined : [s, t, x, y]
}

function write(runs: readonly Run[]): Path | undefined {
  if (runs.length === 0) return undefined
  if (runs.length === 1) {
    // a whole outline of one curve
    const { cubic, from, to } = runs[0]
    if (!cubic || Math.abs(to - from) < 1 - 1e-6) return undefined
    const whole = to > from ? cubic : backwards(cubic)
    const builder = new PathBuilder(whole[0], whole[1])
    builder.cubicTo(whole[2], whole[3], whole[4], whole[5], whole[6], whole[7])
    return builder.build(true)
  }
  const builder = new PathBuilder(runs[0].x, runs[0].y)
  runs.forEach(({ cubic, straight, from, to, x, y }, i) => {
    const next = runs[(i + 1) % runs.length]
    if (!cubic || straight) {
      if (i < runs.length - 1) builder.lineTo(next.x, next.y)
      return
    }
    const part = to > from ? cubicPart(cubic, from, to) : backwards(cubicPart(cubic, to, from))
    // handles go along with ends that were moved by less than the chords' tolerance
    const [ax, ay, bx, by] = [x - part[0], y - part[1], next.x - part[6], next.y - part[7]]
    builder.cubicTo(part[2] + ax, part[3] + ay, part[4] + bx, part[5] + by, next.x, next.y)
  })
  // a single curve closed by a straight side is an area, a single line none
  return builder.segments < (runs.some((run) => !run.straight) ? 1 : 2) ? undefined : builder.build(true)
}

const backwards = (c: ArrayLike<number>) => Float64Array.of(c[6], c[7], c[4], c[5], c[2], c[3], c[0], c[1])
