import { type PolygonSet, winding } from '../outline/polygon'
import { type Axis, axisOf, type Branch, branchesOf, endsOf } from './axis'
import { type Drawn, partedAtCorners, type Spot } from './corners'
import { type Line, resampled, unit } from './line'
import { eroded, pruned } from './prune'

/** One stroke of a letter, as a brush or a pen would draw it. */
export interface CentreStroke {
  /** x, y and half the width there, mm */
  readonly points: readonly Spot[]
  readonly closed: boolean
  /** a round part of which nothing but its middle is left */
  readonly dot: boolean
}

/** Leaves between borders that meet at less than this are no spurs even, degrees: facets of a curve. */
const HAIR = 20
/** Ends are trimmed where borders meet at less than this, degrees. */
const END = 150
/** Ways through a fork turn by less than this, degrees; and what unlike widths add to it. */
const MOST_TURN = 50
const UNLIKE = 15
/** A fork belongs to another one this many radii away. */
const SAME_FORK = 1.6
/** Steps in which an end is run on to the outline, and how far, by its radius. */
const STEP = 0.02
const FURTHEST = 6

/** Where branches meet: forks whose circles reach each other. */
interface Joint {
  x: number
  y: number
  r: number
  forks: number
  readonly arms: Arm[]
}

/** A branch as it leaves a joint. */
interface Arm {
  readonly branch: Branch
  readonly end: 0 | 1
  readonly nodes: readonly number[]
  dx: number
  dy: number
  r: number
}

/**
 * The strokes of an area: its medial axis without spurs, taken through forks by least turning, parted at corners, and run on to the outline at its ends
 * (shared/deform-notes.md: right for 123 of 126 light letters; slabs and hairline serifs give an axis, but hardly strokes). They come in writing order,
 * left to right and top to bottom, and so do their points.
 */
export function centreStrokes(set: PolygonSet): CentreStroke[] {
  const whole = eroded(axisOf(set), ({ angle }) => angle < HAIR)
  const clean = pruned(whole)
  // of two spurs at an end one went as a branch, and the other has become the end of the stroke: that goes by its angle
  const { axis, dots } = dotsOf(
    clean,
    eroded(clean, ({ angle }) => angle < END),
  )
  const lines = throughForks(axis)
  // a corner of the outline has left a spur there, a tight bend of a bold stroke has not
  const spurs = axis.links.flatMap((list, n): Spot[] =>
    list.length > 0 && whole.links[n].some(({ to }) => axis.links[to].length === 0) ? [[axis.x[n], axis.y[n], axis.r[n]]] : [],
  )
  const strokes = lines.flatMap((line) => partedAtCorners(line, spurs))
  for (const stroke of strokes) if (!stroke.closed) runOn(stroke, set)
  return [
    ...strokes.filter(({ points }) => points.length > 1).map(({ points, closed }) => asWritten({ points, closed, dot: false })),
    ...dots.map((spot) => ({ points: [spot], closed: false, dot: true })),
  ].sort((a, b) => place(a) - place(b))
}

/** Left to right, and what is higher first. */
const place = ({ points: [[x, y]] }: CentreStroke): number => x - y / 2

/** From the top down, or from left to right where it is flatter than that; rings from their top. */
function asWritten(stroke: CentreStroke): CentreStroke {
  const { points, closed } = stroke
  if (closed) {
    const top = points.reduce((best, p, i) => (p[1] > points[best][1] ? i : best), 0)
    let area = 0
    points.forEach(([x, y], i) => {
      const [u, v] = points[(i + 1) % points.length]
      area += x * v - u * y
    })
    const turned = [...points.slice(top), ...points.slice(0, top)]
    return { ...stroke, points: area >= 0 ? turned : [turned[0], ...turned.slice(1).reverse()] }
  }
  const [[ax, ay], [bx, by]] = [points[0], points[points.length - 1]]
  const backwards = Math.abs(by - ay) > Math.abs(bx - ax) ? by > ay : bx < ax
  return backwards ? { ...stroke, points: [...points].reverse() } : stroke
}

/** The branches of an axis, put together where one goes straight on through a fork. */
function throughForks(axis: Axis): Drawn[] {
  const branches = branchesOf(axis)
  const { joints, inner } = jointsOf(axis, branches)
  const mates = matesOf(axis, new Set(joints.values()))
  const used = new Set<Branch>(inner)
  const mate = (branch: Branch, end: 0 | 1) => mates.get(branch)?.[end]
  const lines: Drawn[] = []
  for (const branch of branches) {
    if (used.has(branch)) continue
    used.add(branch)
    /** [branch, whether it is run through backwards] */
    const chain: [Branch, boolean][] = [[branch, false]]
    for (const forwards of [true, false]) {
      let [at, end] = [branch, forwards ? 1 : 0] as [Branch, 0 | 1]
      for (;;) {
        const next = mate(at, end)
        if (!next || used.has(next.branch)) break
        used.add(next.branch)
        // entered at its own end: run through backwards when that is its last node
        const backwards = next.end === 1
        if (forwards) chain.push([next.branch, backwards])
        else chain.unshift([next.branch, !backwards])
        ;[at, end] = [next.branch, next.end === 1 ? 0 : 1]
      }
    }
    lines.push(drawn(axis, chain, joints))
  }
  return lines
}

/** Forks gathered where their circles reach each other, by node; and the branches between such. */
function jointsOf(axis: Axis, branches: readonly Branch[]): { readonly joints: ReadonlyMap<number, Joint>; readonly inner: ReadonlySet<Branch> } {
  const parent = new Map<number, number>()
  const find = (n: number): number => {
    const up = parent.get(n) as number
    return up === n ? n : find(up)
  }
  const isFork = (n: number) => axis.links[n].length >= 3
  for (const branch of branches) for (const n of endsOf(branch)) if (isFork(n)) parent.set(n, n)
  const inner = new Set<Branch>()
  for (const branch of branches) {
    const [a, b] = endsOf(branch)
    if (a === b || !isFork(a) || !isFork(b) || branch.length >= SAME_FORK * Math.max(axis.r[a], axis.r[b])) continue
    parent.set(find(a), find(b))
    inner.add(branch)
  }
  const byRoot = new Map<number, Joint>()
  const joints = new Map<number, Joint>()
  for (const n of parent.keys()) {
    const joint = byRoot.get(find(n)) ?? { x: 0, y: 0, r: 0, forks: 0, arms: [] }
    byRoot.set(find(n), joint)
    joint.x = (joint.x * joint.forks + axis.x[n]) / (joint.forks + 1)
    joint.y = (joint.y * joint.forks + axis.y[n]) / (joint.forks + 1)
    joint.r = Math.max(joint.r, axis.r[n])
    joint.forks++
    joints.set(n, joint)
  }
  for (const branch of branches) {
    if (inner.has(branch)) continue
    for (const end of [0, 1] as const) {
      const joint = joints.get(endsOf(branch)[end])
      joint?.arms.push({ branch, end, nodes: end === 0 ? branch.nodes : [...branch.nodes].reverse(), dx: 0, dy: 0, r: 0 })
    }
  }
  return { joints, inner }
}

/** For each branch and end the arm it goes on in, where it does. */
function matesOf(axis: Axis, joints: Iterable<Joint>): Map<Branch, [Arm | undefined, Arm | undefined]> {
  const mates = new Map<Branch, [Arm | undefined, Arm | undefined]>()
  const link = (from: Arm, to: Arm) => {
    const pair = mates.get(from.branch) ?? [undefined, undefined]
    pair[from.end] = to
    mates.set(from.branch, pair)
  }
  for (const { arms, r } of joints) {
    for (const arm of arms) direct(axis, arm, Math.min(1.3 * r, 0.4 * arm.branch.length), Math.min(3.2 * r, 0.95 * arm.branch.length))
    const pairs: { readonly cost: number; readonly a: Arm; readonly b: Arm }[] = []
    arms.forEach((a, i) => {
      for (const b of arms.slice(i + 1)) {
        const turn = (Math.acos(Math.max(-1, Math.min(1, -(a.dx * b.dx + a.dy * b.dy)))) * 180) / Math.PI
        const unlike = Math.abs(Math.log((a.r + r * 0.02) / (b.r + r * 0.02)))
        if (turn < MOST_TURN) pairs.push({ cost: turn + UNLIKE * unlike, a, b })
      }
    })
    const taken = new Set<Arm>()
    for (const { a, b } of pairs.sort((p, q) => p.cost - q.cost)) {
      if (taken.has(a) || taken.has(b)) continue
      taken.add(a).add(b)
      link(a, b)
      link(b, a)
    }
  }
  return mates
}

/** The direction of an arm between two distances from its joint (least squares), pointing away, and its mean radius there. */
function direct({ x, y, r }: Axis, arm: Arm, near: number, far: number): void {
  const line = resampled(
    arm.nodes.map((n): Spot => [x[n], y[n], r[n]]),
    Math.max(1e-6, (far - near) / 16),
  )
  let s = 0
  const spots: Spot[] = []
  line.forEach((p, i) => {
    if (i > 0) s += Math.hypot(p[0] - line[i - 1][0], p[1] - line[i - 1][1])
    if (s >= near && s <= far) spots.push(p)
  })
  const last = spots.length >= 2 ? spots : [line[0], line[line.length - 1]]
  const mean = [0, 1, 2].map((k) => last.reduce((sum, p) => sum + p[k], 0) / last.length)
  let [xx, xy, yy] = [0, 0, 0]
  for (const [px, py] of last) {
    xx += (px - mean[0]) ** 2
    xy += (px - mean[0]) * (py - mean[1])
    yy += (py - mean[1]) ** 2
  }
  const angle = Math.atan2(2 * xy, xx - yy) / 2
  const [first, end] = [last[0], last[last.length - 1]]
  const way = (end[0] - first[0]) * Math.cos(angle) + (end[1] - first[1]) * Math.sin(angle) < 0 ? -1 : 1
  Object.assign(arm, { dx: way * Math.cos(angle), dy: way * Math.sin(angle), r: mean[2] })
}

/** A branch is drawn with no more points than about so many. */
const MOST_SPOTS = 2000

/** The points of a chain of branches. Within the circle of a joint the axis dips: there they are left out, which bridges it straight. */
function drawn({ x, y, r }: Axis, chain: readonly [Branch, boolean][], joints: ReadonlyMap<number, Joint>): Drawn {
  const points: Spot[] = []
  for (const [branch, backwards] of chain) {
    const nodes = backwards ? [...branch.nodes].reverse() : branch.nodes
    const around = [joints.get(nodes[0]), joints.get(nodes[nodes.length - 1])]
    const within = (px: number, py: number) => around.some((j) => j && Math.hypot(px - j.x, py - j.y) < Math.min(1.15 * j.r, 0.45 * branch.length))
    // a straight stroke is one arc of two nodes: points are put on it before any are left out
    const spots = nodes.map((n): Spot => [x[n], y[n], r[n]])
    const ends = Math.max(r[nodes[0]], r[nodes[nodes.length - 1]])
    // where outlines all but touch at both its ends it would have no end of them
    const step = Math.max(0.05 * r[nodes[0]], Math.min(0.3 * ends, branch.length / 12), branch.length / MOST_SPOTS)
    const line = resampled(spots, step)
    const kept = line.filter(([px, py]) => !within(px, py))
    points.push(...(kept.length > 0 ? kept : [spots[0], spots[spots.length - 1]]))
  }
  const [[first, firstBack], [last, lastBack]] = [chain[0], chain[chain.length - 1]]
  const [from, to] = [endsOf(first)[firstBack ? 1 : 0], endsOf(last)[lastBack ? 0 : 1]]
  const closed = from === to && !joints.has(from)
  if (closed) points.pop()
  return { points, closed, joints: [joints.get(from), joints.get(to)], corners: [undefined, undefined] }
}

/** Ends a line: in the middle of the joint or the corner it comes to, or on the outline. */
function runOn(stroke: Drawn, set: PolygonSet): void {
  for (const end of [0, 1] as const) {
    const line: Line = end === 1 ? stroke.points : [...stroke.points].reverse()
    const last = line[line.length - 1]
    const [joint, corner] = [stroke.joints[end], stroke.corners[end]]
    if (corner) {
      const met = asFarAsWithin(set, last, [corner[0], corner[1], last[2]])
      stroke.points = end === 1 ? [...line, met] : [met, ...stroke.points]
      continue
    }
    // the direction from where spurs do not reach any more
    let k = line.length - 1
    while (k > 0 && apart(line[k], last) < (joint ? 0.2 : 0.4) * last[2]) k--
    let m = k
    while (m > 0 && apart(line[m], line[k]) < 1.6 * last[2]) m--
    const [dx, dy] = unit(line[k][0] - line[m][0], line[k][1] - line[m][1])
    let on = 0
    if (joint) on = Math.max(0, (joint.x - last[0]) * dx + (joint.y - last[1]) * dy)
    else if (dx !== 0 || dy !== 0) {
      const step = STEP * Math.max(last[2], line[k][2])
      while (on < FURTHEST * (step / STEP) && winding(set.rings, last[0] + (on + step) * dx, last[1] + (on + step) * dy) > 0) on += step
    }
    const added = asFarAsWithin(set, last, [last[0] + on * dx, last[1] + on * dy, last[2]])
    stroke.points = end === 1 ? [...line, added] : [added, ...stroke.points]
  }
}

/** The end of a line, or the last of it that still lies in the letter: lines may meet beyond its edge, or hardly at all. */
function asFarAsWithin(set: PolygonSet, from: Spot, to: Spot): Spot {
  const at = (f: number): Spot => [from[0] + f * (to[0] - from[0]), from[1] + f * (to[1] - from[1]), to[2]]
  const within = (f: number) => winding(set.rings, at(f)[0], at(f)[1]) > 0
  if (within(1)) return to
  let [low, high] = [0, 1]
  for (let i = 0; i < 24; i++) {
    const f = (low + high) / 2
    if (within(f)) low = f
    else high = f
  }
  return at(low)
}

const apart = (a: Spot, b: Spot) => Math.hypot(a[0] - b[0], a[1] - b[1])

/** A part whose middle line is shorter than this share of its radius is round. */
const ROUND = 0.6

/** The deepest points of round parts, of which next to nothing is left, and the axis without them. */
function dotsOf(before: Axis, after: Axis): { readonly axis: Axis; readonly dots: readonly Spot[] } {
  const seen = new Uint8Array(before.x.length)
  const dots: Spot[] = []
  const links = [...after.links]
  before.links.forEach((list, start) => {
    if (seen[start] || list.length === 0) return
    const part = [start]
    seen[start] = 1
    let [left, best] = [0, start]
    for (let i = 0; i < part.length; i++) {
      const n = part[i]
      for (const { to } of after.links[n]) left += Math.hypot(after.x[n] - after.x[to], after.y[n] - after.y[to]) / 2
      if (before.r[n] > before.r[best]) best = n
      for (const { to } of before.links[n]) {
        if (seen[to]) continue
        seen[to] = 1
        part.push(to)
      }
    }
    if (left >= ROUND * before.r[best]) return
    dots.push([before.x[best], before.y[best], before.r[best]])
    for (const n of part) links[n] = []
  })
  return { axis: { ...after, links }, dots }
}
