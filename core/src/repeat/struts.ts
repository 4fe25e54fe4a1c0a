import { orient3d } from 'robust-predicates'
import { snap } from '../outline/lattice'
import { convexHull } from '../solid/convex-hull'
import { FACE, labelTable, PLAIN_ROW, RETURN } from '../solid/labels'
import { type Solid, withParts } from '../solid/solid'
import { forMeetingBoxes } from './boxes'
import { PartCrossings } from './part-crossings'
import type { StrutGraph } from './strut-graph'

export interface Struts {
  /** radii, mm */
  readonly bar: number
  readonly ball: number
  /** how much of that it is at each node, above 0 to 1; a bar is as thick as its ends on the average */
  readonly shares?: Float64Array
  readonly lattice: number
  readonly letters: readonly string[]
}

export type StrutSolid =
  | { readonly ok: true; readonly solid: Solid; readonly bars: number /** bars that are left out */; readonly out: number }
  | { readonly ok: false; readonly why: 'too-thick'; readonly places: readonly (readonly [number, number, number])[] }

/** Sides of a bar; it is as thick as a round one within 1.8 %. */
export const SIDES = 12
const FULL = Math.sqrt(1 / Math.cos(Math.PI / SIDES))
const COSINES = Float64Array.from({ length: SIDES }, (_, k) => Math.cos((2 * Math.PI * k) / SIDES))
const SINES = Float64Array.from({ length: SIDES }, (_, k) => Math.sin((2 * Math.PI * k) / SIDES))
/** Of a bar's length what is left between the joints at its ends, at least; and how far joints stay behind where bars would touch. */
const LEFT = 0.04
const APART = 1.02
/** The share of bars that may be left out. */
const MOST_OUT = 0.15
const ROUNDS = 6
/** So many crossing pairs are looked for at a time. */
const MOST_PAIRS = 4000
/** Far more than rounding, far less than bars are apart, mm. */
const PARTED = 1e-7

/**
 * Bars with balls at their nodes as one sound solid, without a single boolean: about each node stands the convex hull of its ball and of the ends of its bars, which are
 * cut square where no two of them reach each other (at r / tan(θ/2) for an angle θ between them), and bars run from hull to hull. A bar that has no room between
 * its joints, because it runs beside another at a sharp angle, and one that passes through another where walls are thin, is left out: the other carries on. (Uniting
 * all bars with the solid kernel took 29 s for 3,000; uniting only the 317 of 4,392 that do not fit took 22 s.)
 *
 * What comes out is sound by how it is made: a hull is closed and convex by exact signs; each bar's end on it is a disc of twelve corners of its own, whose border the bar
 * takes over (`wrong` where it is not); and no two parts cross, which is asked exactly.
 */
export function strutSolid(graph: StrutGraph, struts: Struts): StrutSolid {
  const sizes = sizesOf(graph, struts)
  const ways = waysOf(graph)
  const about = barsAbout(graph)
  const lattice: Latticed = { graph, sizes, about, way: ways.way, sides: ringsOf(ways.way, sizes), lattice: struts.lattice }
  const out = new Set(tooSharp(graph, ways, about, sizes))
  for (const bar of tooNear(graph, sizes, out)) out.add(bar)
  const joints: (Joint | undefined)[] = new Array(graph.letter.length)
  const bars = graph.bars.length / 2
  // parts that have been looked at among the others and have not changed since; of bars, the name is their number, of joints the node's after them
  const proven = new Uint8Array(bars + joints.length)
  for (let round = 0; out.size <= MOST_OUT * bars && round <= ROUNDS; round++) {
    const before = joints.slice()
    const bad = joinNodes(lattice, out, joints)
    joints.forEach((joint, n) => {
      if (joint === before[n]) return
      proven[bars + n] = 0
      for (const bar of joint?.own ?? []) proven[bar] = 0
    })
    for (const bar of bad) out.add(bar)
    if (bad.length > 0) continue
    const mesh = jointed(graph, joints)
    const { owners } = mesh
    const parts = new PartCrossings(mesh.positions, mesh.indices, owners, proven.length, MOST_PAIRS)
    strayCrossings(graph, parts, proven)
    // what crosses gives way below, and is new in the next round
    if (!parts.full) proven.fill(1)
    // the sides of one bar lie in wedges of their own about its axis, and no two triangles of a joint do, which is convex
    if (parts.found.length === 0) nodeCrossings(graph, parts, joints)
    const crossing = parts.found
    if (crossing.length === 0) return { ok: true, solid: labelledStruts(mesh, graph, struts), bars: bars - out.size, out: out.size }
    for (const [s, t] of crossing) for (const bar of culprits(graph, owners[s], owners[t], out)) out.add(bar)
  }
  return { ok: false, why: 'too-thick', places: placesOf(graph, out) }
}

/** Radii bar by bar and node by node, mm: those of bars of the circle about their corners, those of balls no less than of any bar there. */
interface Sizes {
  readonly bars: Float64Array
  readonly balls: Float64Array
}

/**
 * What bars and balls come to before they are made, mm³: balls whole, bars from ball to ball. Where bars meet outside of balls, what they have in
 * common is counted for each of them.
 */
export function strutVolume(graph: StrutGraph, struts: Pick<Struts, 'bar' | 'ball' | 'shares'>): number {
  const { bars, letter } = graph
  const sizes = sizesOf(graph, struts)
  const { length } = waysOf(graph)
  const used = new Uint8Array(letter.length)
  let sum = 0
  for (let bar = 0; bar < length.length; bar++) {
    const r = sizes.bars[bar] / FULL
    let free = length[bar]
    for (const n of [bars[2 * bar], bars[2 * bar + 1]]) {
      used[n] = 1
      const ball = sizes.balls[n]
      const reach = Math.sqrt(Math.max(0, ball * ball - r * r))
      free -= reach
      // the cap of the ball beyond the bar's end is the bar's as well
      const cap = ball - reach
      sum -= (Math.PI * cap * cap * (3 * ball - cap)) / 3
    }
    if (free > 0) sum += Math.PI * r * r * free
  }
  for (let n = 0; n < used.length; n++) if (used[n]) sum += (4 / 3) * Math.PI * sizes.balls[n] ** 3
  return sum
}

/** How thick a bar is by what its ends are of the whole. */
export const barShare = ({ bars }: StrutGraph, shares: Float64Array | undefined, bar: number): number =>
  shares ? (shares[bars[2 * bar]] + shares[bars[2 * bar + 1]]) / 2 : 1

function sizesOf(graph: StrutGraph, { bar: thick, ball, shares }: Pick<Struts, 'bar' | 'ball' | 'shares'>): Sizes {
  const { bars, letter } = graph
  const sizes = { bars: new Float64Array(bars.length / 2), balls: new Float64Array(letter.length) }
  for (let n = 0; n < letter.length; n++) sizes.balls[n] = ball * (shares ? shares[n] : 1)
  for (let bar = 0; bar < bars.length / 2; bar++) {
    const radius = thick * barShare(graph, shares, bar)
    sizes.bars[bar] = radius * FULL
    for (const n of [bars[2 * bar], bars[2 * bar + 1]]) sizes.balls[n] = Math.max(sizes.balls[n], radius)
  }
  return sizes
}

const placesOf = ({ nodes, bars }: StrutGraph, list: Iterable<number>): [number, number, number][] =>
  [...list].slice(0, 8).map((bar) => [0, 1, 2].map((k) => (nodes[3 * bars[2 * bar] + k] + nodes[3 * bars[2 * bar + 1] + k]) / 2) as [number, number, number])

/** Bars about each node: from first[n] up to first[n + 1] in the list. */
interface About {
  readonly first: Uint32Array
  readonly list: Uint32Array
}

function barsAbout({ bars, letter }: StrutGraph): About {
  const first = new Uint32Array(letter.length + 1)
  for (const n of bars) first[n + 1]++
  for (let n = 0; n + 1 < first.length; n++) first[n + 1] += first[n]
  const list = new Uint32Array(bars.length)
  const at = first.slice()
  bars.forEach((n, i) => (list[at[n]++] = i >> 1))
  return { first, list }
}

/** Directions and lengths of bars, from their first node to their second. */
interface Ways {
  readonly way: Float64Array
  readonly length: Float64Array
}

function waysOf({ nodes, bars }: StrutGraph): Ways {
  const count = bars.length / 2
  const [way, length] = [new Float64Array(3 * count), new Float64Array(count)]
  for (let b = 0; b < count; b++) {
    const p = 3 * bars[2 * b]
    const q = 3 * bars[2 * b + 1]
    const x = nodes[q] - nodes[p]
    const y = nodes[q + 1] - nodes[p + 1]
    const z = nodes[q + 2] - nodes[p + 2]
    length[b] = Math.sqrt(x * x + y * y + z * z)
    const size = length[b] || 1
    way[3 * b] = x / size
    way[3 * b + 1] = y / size
    way[3 * b + 2] = z / size
  }
  return { way, length }
}

/** Corners of each bar's ends, x, y and z from its axis, mm: the same at both, so that its sides are flat. */
function ringsOf(way: Float64Array, sizes: Sizes): Float64Array {
  const out = new Float64Array(3 * SIDES * sizes.bars.length)
  let at = 0
  for (let bar = 0; bar < sizes.bars.length; bar++) {
    const r = sizes.bars[bar]
    const [x, y, z] = [way[3 * bar], way[3 * bar + 1], way[3 * bar + 2]]
    // two unit vectors square to it and to each other
    let [ux, uy, uz] = Math.abs(z) < 0.9 ? [-y, x, 0] : [0, -z, y]
    const size = Math.sqrt(ux * ux + uy * uy + uz * uz)
    ux /= size
    uy /= size
    uz /= size
    const [vx, vy, vz] = [y * uz - z * uy, z * ux - x * uz, x * uy - y * ux]
    for (let k = 0; k < SIDES; k++) {
      const c = r * COSINES[k]
      const s = r * SINES[k]
      out[at++] = c * ux + s * vx
      out[at++] = c * uy + s * vy
      out[at++] = c * uz + s * vz
    }
  }
  return out
}

/**
 * How far from a node each of its bars begins: where no other one reaches its end plane any more, and outside of the node's ball; and for each the bar that makes
 * it so, −1 for the ball.
 */
function reachesOf(node: number, own: readonly number[], { bars }: StrutGraph, way: Float64Array, sizes: Sizes) {
  const n = own.length
  const ball = sizes.balls[node]
  const radius = own.map((bar) => sizes.bars[bar])
  const reach = Float64Array.from(radius, (r) => Math.sqrt(Math.max(0, ball * ball - r * r)))
  const by = new Int32Array(n).fill(-1)
  const cosines = new Float64Array(n * n)
  const sign = (bar: number) => (bars[2 * bar] === node ? 1 : -1)
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const [p, q] = [3 * own[i], 3 * own[j]]
      const cosine = Math.min(1 - 1e-9, sign(own[i]) * sign(own[j]) * (way[p] * way[q] + way[p + 1] * way[q + 1] + way[p + 2] * way[q + 2]))
      cosines[i * n + j] = cosines[j * n + i] = cosine
      // ends of one length part at r / tan(θ/2) for the thicker one, tan(θ/2) = √((1 − cos θ) / (1 + cos θ))
      const needs = APART * Math.max(radius[i], radius[j]) * Math.sqrt((1 + cosine) / (1 - cosine))
      if (needs > reach[i]) [reach[i], by[i]] = [needs, j]
      if (needs > reach[j]) [reach[j], by[j]] = [needs, i]
    }
  // a long joint at one bar must not stick out of the end of another
  for (let sweep = 0, changed = true; changed && sweep < 24; sweep++) {
    changed = false
    for (let i = 0; i < n; i++)
      for (let j = 0; j < n; j++) {
        if (i === j) continue
        const cosine = cosines[i * n + j]
        const needs = reach[j] * cosine + APART * radius[j] * Math.sqrt(1 - cosine * cosine)
        if (needs <= reach[i] + 1e-6) continue
        ;[reach[i], by[i]] = [needs, j]
        changed = true
      }
  }
  return { reach, by }
}

/** Shares of the nodes on the surface, which come first, for all of them: within, the mean of those that bars lead to, from the surface inwards. */
export function throughBars({ bars, letter }: StrutGraph, shares: Float64Array): Float64Array {
  const out = new Float64Array(letter.length).fill(Number.NaN)
  out.set(shares)
  for (;;) {
    const [sum, times] = [new Float64Array(out.length), new Float64Array(out.length)]
    for (let i = 0; i < bars.length; i++) {
      const [here, there] = [bars[i], bars[i ^ 1]]
      if (!Number.isNaN(out[here]) || Number.isNaN(out[there])) continue
      sum[here] += out[there]
      times[here]++
    }
    if (times.every((count) => count === 0)) break
    for (let n = 0; n < out.length; n++) if (times[n] > 0) out[n] = sum[n] / times[n]
  }
  return out.map((share) => (Number.isNaN(share) ? 1 : share))
}

/** Bars that have no room between the joints at their ends, as few as will do. */
function tooSharp(graph: StrutGraph, { way, length }: Ways, { first, list }: About, sizes: Sizes): number[] {
  const out = new Set<number>()
  const jointOf = (node: number) => {
    const own = Array.from(list.subarray(first[node], first[node + 1])).filter((bar) => !out.has(bar))
    return { own, ...reachesOf(node, own, graph, way, sizes) }
  }
  const joints = Array.from({ length: graph.letter.length }, (_, n) => jointOf(n))
  const at = (node: number, bar: number) => {
    const { own, reach, by } = joints[node]
    const i = own.indexOf(bar)
    return { reach: reach[i], by: by[i] < 0 ? -1 : own[by[i]] }
  }
  const queue = Array.from({ length: length.length }, (_, b) => b).sort((a, b) => length[b] - length[a])
  while (queue.length > 0) {
    const bar = queue.pop() as number
    if (out.has(bar)) continue
    const ends = [graph.bars[2 * bar], graph.bars[2 * bar + 1]]
    const here = ends.map((node) => at(node, bar))
    if (here[0].reach + here[1].reach <= (1 - LEFT) * length[bar]) continue
    // of the bar and the one that runs beside it at its sharper end, the longer one
    const { by } = here[here[0].reach > here[1].reach ? 0 : 1]
    const goes = by >= 0 && length[by] > length[bar] ? by : bar
    out.add(goes)
    for (const n of [graph.bars[2 * goes], graph.bars[2 * goes + 1]]) joints[n] = jointOf(n)
    if (goes !== bar) queue.push(bar)
  }
  return [...out]
}

/** Bars that pass nearer to another one than they are thick, though no node joins them: of each two the longer. */
function tooNear({ nodes, bars }: StrutGraph, { bars: radii }: Sizes, out: ReadonlySet<number>): number[] {
  const own = Array.from({ length: bars.length / 2 }, (_, b) => b).filter((b) => !out.has(b))
  const end = (bar: number, which: 0 | 1, k: number) => nodes[3 * bars[2 * bar + which] + k]
  const boxes = Float64Array.from({ length: 6 * own.length }, (_, i) => {
    const [bar, k] = [own[Math.floor(i / 6)], i % 3]
    return i % 6 < 3 ? Math.min(end(bar, 0, k), end(bar, 1, k)) - radii[bar] : Math.max(end(bar, 0, k), end(bar, 1, k)) + radii[bar]
  })
  const length = (bar: number) => Math.hypot(...[0, 1, 2].map((k) => end(bar, 1, k) - end(bar, 0, k)))
  const gone = new Set<number>()
  forMeetingBoxes(boxes, 0, (i, j) => {
    const [bar, other] = [own[i], own[j]]
    if (gone.has(bar) || gone.has(other)) return
    const [a, b, c, d] = [bars[2 * bar], bars[2 * bar + 1], bars[2 * other], bars[2 * other + 1]]
    if (a === c || a === d || b === c || b === d || apart(nodes, a, b, c, d) >= radii[bar] + radii[other]) return
    gone.add(length(bar) > length(other) ? bar : other)
  })
  return [...gone]
}

/** Looks for crossing triangles of joints and bars that are not joined to each other, but for those of two that are proven. */
function strayCrossings({ bars }: StrutGraph, parts: PartCrossings, proven: Uint8Array): void {
  const count = bars.length / 2
  const end = (name: number, which: 0 | 1) => (name < count ? bars[2 * name + which] : name - count)
  parts.forMeeting((one, other) => {
    if (proven[one] && proven[other]) return
    const [a, b, c, d] = [end(one, 0), end(one, 1), end(other, 0), end(other, 1)]
    if (a !== c && a !== d && b !== c && b !== d) parts.between(one, other)
  })
}

/** Looks for crossing triangles of what meets at each node, its joint and its bars, where it is not plain that none do. */
function nodeCrossings(graph: StrutGraph, parts: PartCrossings, joints: readonly (Joint | undefined)[]): void {
  const { bars, nodes } = graph
  const count = bars.length / 2
  joints.forEach((joint, n) => {
    if (!joint) return
    const { own } = joint
    const ends = own.map((bar) => barOf(bar, n, joint, joints, graph))
    ends.forEach((end, i) => {
      if (!endsInFront(joint, i, end)) parts.between(own[i], count + n)
      for (let j = 0; j < i; j++) if (!onOwnSides(nodes, n, end, ends[j])) parts.between(own[i], own[j])
    })
  })
}

/** A bar as it is seen from a node: its way from there, and the corners of its ends here and there. */
interface BarEnds {
  readonly way: readonly number[]
  readonly here: Float64Array
  readonly there: Float64Array
}

function barOf(bar: number, node: number, joint: Joint, joints: readonly (Joint | undefined)[], { bars, nodes }: StrutGraph): BarEnds {
  const far = bars[2 * bar] === node ? bars[2 * bar + 1] : bars[2 * bar]
  const way = [0, 1, 2].map((k) => nodes[3 * far + k] - nodes[3 * node + k])
  const size = Math.hypot(...way)
  const ring = ({ own, points }: Joint) => points.subarray(3 * SIDES * own.indexOf(bar), 3 * SIDES * (own.indexOf(bar) + 1))
  return { way: way.map((v) => v / size), here: ring(joint), there: ring(joints[far] as Joint) }
}

/**
 * Whether a bar stands wholly in front of the end of a convex joint, so that they have no more than that end's border in common: of each of its sides the corners over there lie in
 * front of the plane of the end's triangle at that side, by exact signs, so that all of the side does but for what it has of the border; and behind such a plane lies the joint.
 */
function endsInFront({ points: p, ends }: Joint, i: number, { there: q }: BarEnds): boolean {
  for (let k = 0; k < SIDES; k++) {
    const o = 3 * (i * SIDES + k)
    if (ends[o] < 0) return false
    const [a, b, c] = [3 * ends[o], 3 * ends[o + 1], 3 * ends[o + 2]]
    for (const v of [3 * k, 3 * ((k + 1) % SIDES)])
      if (!(orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], q[v], q[v + 1], q[v + 2]) < 0)) return false
  }
  return true
}

/** Whether the plane halfway between the ways of two bars, through their node, parts them by more than rounding. */
function onOwnSides(nodes: Float64Array, node: number, one: BarEnds, other: BarEnds): boolean {
  const m = one.way.map((v, k) => v - other.way[k])
  const [x, y, z] = [nodes[3 * node], nodes[3 * node + 1], nodes[3 * node + 2]]
  const beyond = (p: Float64Array, sign: number) => {
    for (let v = 0; v < p.length; v += 3) if (!(sign * ((p[v] - x) * m[0] + (p[v + 1] - y) * m[1] + (p[v + 2] - z) * m[2]) > PARTED)) return false
    return true
  }
  return beyond(one.here, 1) && beyond(one.there, 1) && beyond(other.here, -1) && beyond(other.there, -1)
}

/** The distance of two segments between nodes (Ericson, "Real-Time Collision Detection", 5.1.9). */
function apart(p: Float64Array, a: number, b: number, c: number, d: number): number {
  const v = (from: number, to: number) => [0, 1, 2].map((k) => p[3 * to + k] - p[3 * from + k])
  const dot = (x: readonly number[], y: readonly number[]) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2]
  const [u, w, r] = [v(a, b), v(c, d), v(c, a)]
  const [A, E, F, C, B] = [dot(u, u), dot(w, w), dot(w, r), dot(u, r), dot(u, w)]
  const clamp = (t: number) => Math.min(1, Math.max(0, t))
  const det = A * E - B * B
  let s = det > 1e-12 ? clamp((B * F - C * E) / det) : 0
  let t = (B * s + F) / E
  if (t < 0 || t > 1) {
    t = clamp(t)
    s = clamp((B * t - C) / A)
  }
  return Math.hypot(...[0, 1, 2].map((k) => r[k] + s * u[k] - t * w[k]))
}

/** Bars that give way where two parts of the lattice pass through each other. */
function culprits({ bars }: StrutGraph, s: number, t: number, apart: ReadonlySet<number>): number[] {
  const count = bars.length / 2
  for (const owner of [s, t]) if (owner < count) return [owner]
  const out: number[] = []
  bars.forEach((node, i) => node === t - count && !apart.has(i >> 1) && out.push(i >> 1))
  return out
}

/** Makes the joints of the bars that fit anew where those have changed; gives the bars of nodes whose hull came out otherwise. */
function joinNodes(lattice: Latticed, out: ReadonlySet<number>, joints: (Joint | undefined)[]): number[] {
  const { first, list } = lattice.about
  const globe = ballPoints()
  const bad: number[] = []
  for (let n = 0; n < joints.length; n++) {
    const own: number[] = []
    for (let i = first[n]; i < first[n + 1]; i++) if (!out.has(list[i])) own.push(list[i])
    // most stay as they are from round to round
    const kept = joints[n]
    if (own.length === 0) joints[n] = undefined
    else if (kept?.own.length !== own.length) joints[n] = jointAt(n, own, lattice, globe)
    for (const bar of joints[n]?.wrong ?? []) bad.push(bar)
  }
  return bad
}

/** Joints and the bars between them, each with corners of its own but for the bars' ends, which are the joints'. */
interface StrutMesh {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** what each triangle is of: a bar or, after all bars, a node */
  readonly owners: Uint32Array
}

function jointed({ bars }: StrutGraph, joints: readonly (Joint | undefined)[]): StrutMesh {
  const count = bars.length / 2
  /** where in the corners each bar's end at its first node begins, and that at its second */
  const rings = new Int32Array(bars.length).fill(-1)
  const firsts = new Int32Array(joints.length)
  let corners = 0
  let triangles = 0
  joints.forEach((joint, n) => {
    firsts[n] = corners
    if (!joint) return
    joint.own.forEach((bar, i) => (rings[2 * bar + (bars[2 * bar] === n ? 0 : 1)] = corners + i * SIDES))
    corners += joint.points.length / 3
    triangles += joint.triangles.length / 3
  })
  for (let bar = 0; bar < count; bar++) if (rings[2 * bar] >= 0 && rings[2 * bar + 1] >= 0) triangles += 2 * SIDES
  const positions = new Float64Array(3 * corners)
  const indices = new Uint32Array(3 * triangles)
  const owners = new Uint32Array(triangles)
  let at = 0
  joints.forEach((joint, n) => {
    if (!joint) return
    positions.set(joint.points, 3 * firsts[n])
    const { triangles: own } = joint
    owners.fill(count + n, at / 3, (at + own.length) / 3)
    for (let i = 0; i < own.length; i++) indices[at++] = firsts[n] + own[i]
  })
  for (let bar = 0; bar < count; bar++) {
    const low = rings[2 * bar]
    const high = rings[2 * bar + 1]
    if (low < 0 || high < 0) continue
    owners.fill(bar, at / 3, at / 3 + 2 * SIDES)
    for (let k = 0; k < SIDES; k++) {
      const j = (k + 1) % SIDES
      indices[at++] = low + k
      indices[at++] = low + j
      indices[at++] = high + j
      indices[at++] = low + k
      indices[at++] = high + j
      indices[at++] = high + k
    }
  }
  return { positions, indices, owners }
}

/** The mesh with its labels: joints are face, bars return, of the letter that they begin at. */
function labelledStruts({ positions, indices, owners }: StrutMesh, { bars, letter }: StrutGraph, struts: Struts): Solid {
  const count = bars.length / 2
  const numbers = [...new Set(letter)].sort((a, b) => a - b)
  const numberOf = new Map(numbers.map((name, i) => [name, i]))
  const ofOwner = new Uint32Array(count + letter.length)
  for (let bar = 0; bar < count; bar++) ofOwner[bar] = 2 * (numberOf.get(letter[bars[2 * bar]]) as number) + 1
  for (let n = 0; n < letter.length; n++) ofOwner[count + n] = 2 * (numberOf.get(letter[n]) as number)
  const surface = new Uint32Array(owners.length)
  for (let t = 0; t < surface.length; t++) surface[t] = ofOwner[owners[t]]
  return withParts({
    kind: 'solid',
    positions,
    indices,
    surface,
    labels: labelTable(numbers.flatMap((name) => [FACE, RETURN].map((group) => ({ ...PLAIN_ROW, group, letter: name })))),
    attributes: {},
    letters: struts.letters,
    layers: [],
    bands: [],
    looks: [],
    lattice: struts.lattice,
  })
}

/** What stands about a node: the hull of its ball and of its bars' ends, open where these are. */
interface Joint {
  readonly own: readonly number[]
  /** x, y, z a point on the lattice, mm: the corners of the bars' ends, bar by bar, and the ball's */
  readonly points: Float64Array
  readonly triangles: Int32Array
  /** bars whose end is no whole face of the hull */
  readonly wrong: readonly number[]
  /** of each corner of a bar's end, and the next one, the hull's triangle there: three points, −1 where there is none */
  readonly ends: Int32Array
}

/** What joints are made of: the graph with what has been found of its bars. */
interface Latticed {
  readonly graph: StrutGraph
  readonly sizes: Sizes
  readonly about: About
  readonly way: Float64Array
  readonly sides: Float64Array
  readonly lattice: number
}

function jointAt(n: number, own: readonly number[], { graph, sizes, way, sides, lattice }: Latticed, globe: Float64Array): Joint {
  const { nodes, bars } = graph
  const ball = sizes.balls[n]
  const { reach } = reachesOf(n, own, graph, way, sizes)
  const signs = own.map((bar) => (bars[2 * bar] === n ? 1 : -1))
  const points = new Float64Array(3 * SIDES * own.length + globe.length)
  let filled = 0
  const [nx, ny, nz] = [nodes[3 * n], nodes[3 * n + 1], nodes[3 * n + 2]]
  const put = (x: number, y: number, z: number) => {
    points[filled++] = snap(nx + x, lattice) + 0
    points[filled++] = snap(ny + y, lattice) + 0
    points[filled++] = snap(nz + z, lattice) + 0
  }
  for (let i = 0; i < own.length; i++) {
    const bar = own[i]
    const far = signs[i] * reach[i]
    const x = far * way[3 * bar]
    const y = far * way[3 * bar + 1]
    const z = far * way[3 * bar + 2]
    for (let o = 3 * SIDES * bar; o < 3 * SIDES * (bar + 1); o += 3) put(x + sides[o], y + sides[o + 1], z + sides[o + 2])
  }
  for (let i = 0; i < globe.length; i += 3) {
    const x = ball * globe[i]
    const y = ball * globe[i + 1]
    const z = ball * globe[i + 2]
    let behind = true
    for (let b = 0; behind && b < own.length; b++) {
      const o = 3 * own[b]
      behind = signs[b] * (x * way[o] + y * way[o + 1] + z * way[o + 2]) < reach[b] - 0.02 * sizes.bars[own[b]]
    }
    if (behind) put(x, y, z)
  }
  const hull = convexHull(points.subarray(0, filled))
  // three corners in a line: not with this bars
  if (!hull) return { own, points: points.slice(0, filled), triangles: new Int32Array(0), wrong: own, ends: new Int32Array(0) }
  const endOf = (v: number) => (v < own.length * SIDES ? Math.floor(v / SIDES) : -1)
  const beside = (a: number, b: number) => (b % SIDES === (a + 1) % SIDES ? a : a % SIDES === (b + 1) % SIDES ? b : -1)
  const caps = new Int32Array(own.length)
  // what is no end is kept at the front
  let open = 0
  const ends = new Int32Array(3 * SIDES * own.length).fill(-1)
  for (let i = 0; i < hull.length; i += 3) {
    const end = endOf(hull[i])
    if (end >= 0 && end === endOf(hull[i + 1]) && end === endOf(hull[i + 2])) {
      caps[end]++
      for (let k = i; k < i + 3; k++) {
        const corner = beside(hull[k], hull[next(k)])
        if (corner < 0) continue
        for (let j = 0; j < 3; j++) ends[3 * corner + j] = hull[i + j]
      }
    } else for (let j = i; j < i + 3; j++) hull[open++] = hull[j]
  }
  // points of the ball that lie within are no corners
  const numbers = new Int32Array(filled / 3).fill(-1, own.length * SIDES)
  for (let i = 0; i < open; i++) numbers[hull[i]] = 0
  let used = 0
  for (let v = 0; v < numbers.length; v++) {
    if (numbers[v] < 0) continue
    for (let k = 0; k < 3; k++) points[3 * used + k] = points[3 * v + k]
    numbers[v] = used++
  }
  const triangles = new Int32Array(open)
  for (let i = 0; i < open; i++) triangles[i] = numbers[hull[i]]
  // a whole face of so many corners has two triangles less, and every side of it is one of theirs
  const whole = (i: number) => caps[i] === SIDES - 2 && ends.subarray(3 * SIDES * i, 3 * SIDES * (i + 1)).every((corner) => corner >= 0)
  return { own, points: points.slice(0, 3 * used), triangles, wrong: own.filter((_, i) => !whole(i)), ends }
}

const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)

/** Points of a ball of radius 1, about evenly (golden spiral). */
function ballPoints(): Float64Array {
  const count = 30
  const out = new Float64Array(3 * count)
  for (let i = 0; i < count; i++) {
    const z = 1 - (2 * i + 1) / count
    const [r, a] = [Math.sqrt(1 - z * z), i * Math.PI * (3 - Math.sqrt(5))]
    out.set([r * Math.cos(a), r * Math.sin(a), z], 3 * i)
  }
  return out
}
