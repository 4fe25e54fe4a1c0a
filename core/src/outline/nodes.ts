import { z } from 'zod'
import { cubicAt, splitCubic } from './cubic'
import { fitOne } from './fit'
import { asCubic, LINE, type Path, PathBuilder, QUADRATIC } from './path'
import { NODE_KINDS, pathNode, nodePath } from './node-path'

export type NodeKind = (typeof NODE_KINDS)[number]

export type PathNode = z.infer<typeof pathNode>

export type NodePath = z.infer<typeof nodePath>

/** to a nanometre; never −0, which JSON does not keep */
const rounded = (v: number) => Math.round(v * 1e6) / 1e6 + 0

const handleOf = (dx: number, dy: number): [number, number] | undefined => (Math.hypot(dx, dy) < 1e-6 ? undefined : [rounded(dx), rounded(dy)])

/** How many sides a drawn line has. */
export const sideCount = ({ closed, nodes }: NodePath): number => (nodes.length < 2 ? 0 : closed ? nodes.length : nodes.length - 1)

/** The side after a node as a cubic of eight numbers, and whether it is straight. */
export function sideOf({ nodes }: NodePath, i: number): { readonly cubic: Float64Array; readonly straight: boolean } {
  const [a, b] = [nodes[i], nodes[(i + 1) % nodes.length]]
  if (!a.out && !b.in) return { cubic: asCubic([a.x, a.y, b.x, b.y], 1), straight: true }
  const [ox, oy] = a.out ?? [0, 0]
  const [ix, iy] = b.in ?? [0, 0]
  return { cubic: Float64Array.of(a.x, a.y, a.x + ox, a.y + oy, b.x + ix, b.y + iy, b.x, b.y), straight: false }
}

/** The curve through the nodes; a new path. */
export function toPath(drawn: NodePath): Path {
  const [first] = drawn.nodes
  const builder = new PathBuilder(first.x, first.y)
  for (let i = 0; i < sideCount(drawn); i++) {
    const { cubic: c, straight } = sideOf(drawn, i)
    if (!straight) builder.cubicTo(c[2], c[3], c[4], c[5], c[6], c[7])
    else if (!drawn.closed || i < drawn.nodes.length - 1) builder.lineTo(c[6], c[7])
  }
  return builder.build(drawn.closed)
}

/** The nodes of a curve, each of the kind that its handles show. Quadratic sides become the same curve as cubics. */
export function fromPath({ verbs, coords, closed }: Path): NodePath {
  const nodes: { x: number; y: number; in?: [number, number]; out?: [number, number]; kind?: NodeKind }[] = [{ x: rounded(coords[0]), y: rounded(coords[1]) }]
  let o = 0
  for (const verb of verbs) {
    const c = verb === QUADRATIC ? asCubic(coords.subarray(o, o + 6), 2) : coords.subarray(o, o + 2 + 2 * verb)
    o += 2 * verb
    const last = nodes[nodes.length - 1]
    const [x, y] = [coords[o], coords[o + 1]]
    const next: (typeof nodes)[number] = { x: rounded(x), y: rounded(y) }
    if (verb !== LINE) {
      last.out = handleOf(c[2] - c[0], c[3] - c[1])
      next.in = handleOf(c[4] - x, c[5] - y)
    }
    nodes.push(next)
  }
  const [first, last] = [nodes[0], nodes[nodes.length - 1]]
  if (closed && nodes.length > 1 && Math.hypot(first.x - last.x, first.y - last.y) < 1e-6) {
    first.in = last.in
    nodes.pop()
  }
  return { closed, nodes: nodes.map((node) => ({ ...definedHandles(node), kind: kindOf(node) })) }
}

const definedHandles = ({ x, y, in: arriving, out, pressure }: PathNode): PathNode => ({
  x,
  y,
  ...(arriving ? { in: arriving } : {}),
  ...(out ? { out } : {}),
  ...(pressure !== undefined ? { pressure } : {}),
})

function kindOf({ in: a, out: b }: Pick<PathNode, 'in' | 'out'>): NodeKind {
  if (!a || !b) return 'corner'
  const [la, lb] = [Math.hypot(...a), Math.hypot(...b)]
  if (Math.hypot(a[0] / la + b[0] / lb, a[1] / la + b[1] / lb) > 0.02) return 'corner'
  return Math.abs(la - lb) < 0.01 * Math.max(la, lb) ? 'symmetric' : 'smooth'
}

const withNodes = (drawn: NodePath, nodes: PathNode[]): NodePath => ({ ...drawn, nodes })

const replaced = (drawn: NodePath, i: number, node: PathNode): NodePath =>
  withNodes(
    drawn,
    drawn.nodes.map((n, k) => (k === i ? node : n)),
  )

/** A node put into a side at parameter t; the curve stays the same. */
export function insertNode(drawn: NodePath, side: number, t: number): NodePath {
  const { cubic, straight } = sideOf(drawn, side)
  const j = (side + 1) % drawn.nodes.length
  const nodes = drawn.nodes.slice()
  const [x, y] = cubicAt(cubic, t)
  const [a, b] = [nodes[side], nodes[j]]
  const pressure = a.pressure === undefined && b.pressure === undefined ? {} : { pressure: (a.pressure ?? 1) + ((b.pressure ?? 1) - (a.pressure ?? 1)) * t }
  if (straight) nodes.splice(side + 1, 0, { x: rounded(x), y: rounded(y), kind: 'corner', ...pressure })
  else {
    const [c, d] = splitCubic(cubic, t)
    nodes[side] = definedHandles({ ...a, out: handleOf(c[2] - c[0], c[3] - c[1]) })
    if (a.kind) nodes[side].kind = a.kind === 'symmetric' ? 'smooth' : a.kind
    nodes[j] = definedHandles({ ...b, in: handleOf(d[4] - d[6], d[5] - d[7]) })
    if (b.kind) nodes[j].kind = b.kind === 'symmetric' ? 'smooth' : b.kind
    nodes.splice(side + 1, 0, {
      x: rounded(x),
      y: rounded(y),
      in: handleOf(c[4] - x, c[5] - y),
      out: handleOf(d[2] - x, d[3] - y),
      kind: 'smooth',
      ...pressure,
    })
  }
  return withNodes(drawn, nodes)
}

/** The line without some of its nodes; what joins their neighbours is the curve nearest to what was there. Undefined when too few are left. */
export function removeNodes(drawn: NodePath, indices: Iterable<number>): NodePath | undefined {
  let left: NodePath | undefined = drawn
  for (const i of [...new Set(indices)].sort((a, b) => b - a)) left = left && removeNode(left, i)
  return left
}

function removeNode(drawn: NodePath, i: number): NodePath | undefined {
  const { closed, nodes } = drawn
  const n = nodes.length
  if (n <= (closed ? 3 : 2)) return undefined
  const without = nodes.filter((_, k) => k !== i)
  if (!closed && (i === 0 || i === n - 1)) {
    const end = i === 0 ? 0 : without.length - 1
    without[end] = { ...definedHandles(without[end]), kind: 'corner' }
    if (i === 0) delete without[end].in
    else delete without[end].out
    return withNodes(drawn, without)
  }
  const [p, q] = [(i + n - 1) % n, (i + 1) % n]
  const [before, after] = [sideOf(drawn, p), sideOf(drawn, i)]
  const at = (k: number) => (k > i ? k - 1 : k)
  if (before.straight && after.straight) return withNodes(drawn, without)
  const points: number[] = []
  const sample = (c: Float64Array, from: number) => {
    for (let k = from; k <= 16; k++) points.push(...cubicAt(c, k / 16))
  }
  sample(before.cubic, 0)
  sample(after.cubic, 1)
  const c = fitOne(Float64Array.from(points))
  without[at(p)] = { ...nodes[p], out: handleOf(c[2] - c[0], c[3] - c[1]) }
  without[at(q)] = { ...nodes[q], in: handleOf(c[4] - c[6], c[5] - c[7]) }
  for (const k of [at(p), at(q)]) without[k] = { ...definedHandles(without[k]), kind: without[k].kind === 'corner' ? 'corner' : kindOf(without[k]) }
  return withNodes(drawn, without)
}

/** Nodes moved by a distance, their handles with them. */
export function moveNodes(drawn: NodePath, indices: Iterable<number>, dx: number, dy: number): NodePath {
  const moved = new Set(indices)
  return withNodes(
    drawn,
    drawn.nodes.map((node, i) => (moved.has(i) ? { ...node, x: rounded(node.x + dx), y: rounded(node.y + dy) } : node)),
  )
}

/** A handle set to a distance from its node; the other one follows as the node's kind asks. */
export function moveHandle(drawn: NodePath, i: number, which: 'in' | 'out', dx: number, dy: number): NodePath {
  const node = drawn.nodes[i]
  const other = which === 'in' ? 'out' : 'in'
  const next: PathNode = { ...node, [which]: handleOf(dx, dy) }
  const l = Math.hypot(dx, dy)
  const opposite = node[other]
  if (node.kind === 'symmetric') next[other] = handleOf(-dx, -dy)
  else if (node.kind === 'smooth' && opposite && l > 0) {
    const k = Math.hypot(...opposite) / l
    next[other] = handleOf(-dx * k, -dy * k)
  }
  return replaced(drawn, i, { ...definedHandles(next), kind: node.kind ?? 'corner' })
}

/** A node made another kind; handles that it lacks grow from its neighbours, those it has are laid in one line. */
export function setNodeKind(drawn: NodePath, i: number, kind: NodeKind): NodePath {
  const { nodes, closed } = drawn
  const node = nodes[i]
  if (kind === 'corner') return replaced(drawn, i, { ...node, kind })
  const n = nodes.length
  const prev = closed || i > 0 ? nodes[(i + n - 1) % n] : undefined
  const next = closed || i < n - 1 ? nodes[(i + 1) % n] : undefined
  const [ax, ay] = node.in ?? (prev ? [prev.x - node.x, prev.y - node.y] : [node.x - (next as PathNode).x, node.y - (next as PathNode).y])
  const [bx, by] = node.out ?? (next ? [next.x - node.x, next.y - node.y] : [-ax, -ay])
  const [la, lb] = [Math.hypot(ax, ay) || 1, Math.hypot(bx, by) || 1]
  let [tx, ty] = [bx / lb - ax / la, by / lb - ay / la]
  const l = Math.hypot(tx, ty)
  if (l < 1e-6) [tx, ty] = [-by / lb, bx / lb]
  else {
    tx /= l
    ty /= l
  }
  let [inLength, outLength] = [node.in ? la : la / 3, node.out ? lb : lb / 3]
  if (kind === 'symmetric') inLength = outLength = (inLength + outLength) / 2
  return replaced(drawn, i, {
    ...definedHandles({ ...node, in: prev && handleOf(-tx * inLength, -ty * inLength), out: next && handleOf(tx * outLength, ty * outLength) }),
    kind,
  })
}

/** An outline opened at a node, or a line parted there into two. An end of a line gives the line back. */
export function splitAt(drawn: NodePath, i: number): NodePath[] {
  const { closed, nodes } = drawn
  const endOf = (node: PathNode, side: 'in' | 'out'): PathNode => {
    const end: PathNode = { ...definedHandles(node), kind: 'corner' }
    delete end[side]
    return end
  }
  if (closed) return [{ closed: false, nodes: [endOf(nodes[i], 'in'), ...nodes.slice(i + 1), ...nodes.slice(0, i), endOf(nodes[i], 'out')] }]
  if (i === 0 || i === nodes.length - 1) return [drawn]
  return [
    { closed: false, nodes: [...nodes.slice(0, i), endOf(nodes[i], 'out')] },
    { closed: false, nodes: [endOf(nodes[i], 'in'), ...nodes.slice(i + 1)] },
  ]
}

/** The same line run the other way. */
export function reverseNodes(drawn: NodePath): NodePath {
  return withNodes(
    drawn,
    drawn.nodes.map((node) => ({ ...definedHandles({ ...node, in: node.out, out: node.in }), ...(node.kind ? { kind: node.kind } : {}) })).reverse(),
  )
}

/** Ends nearer than this become one node, mm. */
const SAME = 0.01

/** Joins an end of one open line with an end of another, by a straight side where they lie apart. */
export function joinEnds(a: NodePath, endOfA: 'start' | 'end', b: NodePath, endOfB: 'start' | 'end'): NodePath {
  const first = endOfA === 'end' ? a : reverseNodes(a)
  const second = endOfB === 'start' ? b : reverseNodes(b)
  return { closed: false, nodes: merged(first.nodes, second.nodes) }
}

/** Closes an open line into an outline. */
export function closeNodes(drawn: NodePath): NodePath {
  const { nodes } = drawn
  const [first, last] = [nodes[0], nodes[nodes.length - 1]]
  if (nodes.length > 2 && Math.hypot(first.x - last.x, first.y - last.y) < SAME) {
    const node = { ...first, in: last.in }
    return { closed: true, nodes: [{ ...definedHandles(node), kind: kindOf(node) }, ...nodes.slice(1, -1)] }
  }
  return { closed: true, nodes }
}

function merged(a: readonly PathNode[], b: readonly PathNode[]): PathNode[] {
  const [end, start] = [a[a.length - 1], b[0]]
  if (Math.hypot(end.x - start.x, end.y - start.y) >= SAME) return [...a, ...b]
  const node = { ...end, out: start.out }
  return [...a.slice(0, -1), { ...definedHandles(node), kind: kindOf(node) }, ...b.slice(1)]
}

/** The place on a drawn line that lies nearest to a point; undefined for a single node. */
export function nearestPlace(drawn: NodePath, x: number, y: number): { side: number; t: number; x: number; y: number; distance: number } | undefined {
  let best: { side: number; t: number; x: number; y: number; distance: number } | undefined
  for (let side = 0; side < sideCount(drawn); side++) {
    const { cubic } = sideOf(drawn, side)
    let near = { t: 0, distance: Infinity }
    const look = (t: number) => {
      const [px, py] = cubicAt(cubic, t)
      const distance = Math.hypot(px - x, py - y)
      if (distance < near.distance) near = { t, distance }
      return distance
    }
    for (let k = 0; k <= 24; k++) look(k / 24)
    // then by thirds between its neighbours
    let [low, high] = [Math.max(0, near.t - 1 / 24), Math.min(1, near.t + 1 / 24)]
    for (let i = 0; i < 32; i++) {
      const [p, q] = [low + (high - low) / 3, high - (high - low) / 3]
      if (look(p) < look(q)) high = q
      else low = p
    }
    if (!best || near.distance < best.distance) {
      const [px, py] = cubicAt(cubic, near.t)
      best = { side, t: near.t, x: px, y: py, distance: near.distance }
    }
  }
  return best
}

/** A closed path's or line's number of curve and line sides, as nodes are counted by people. */
export const nodeCount = (path: Path): number => {
  const { coords, verbs, closed } = path
  const n = coords.length
  const shut = closed && Math.hypot(coords[0] - coords[n - 2], coords[1] - coords[n - 1]) < 1e-9
  return verbs.length + (shut ? 0 : 1)
}

/** Nodes and the ends of their handles; −0-safe placeholders keep the count equal whether or not a node has handles. */
export function pointsOf({ nodes }: NodePath): number[] {
  return nodes.flatMap((node) => [
    node.x,
    node.y,
    node.x + (node.in?.[0] ?? 0),
    node.y + (node.in?.[1] ?? 0),
    node.x + (node.out?.[0] ?? 0),
    node.y + (node.out?.[1] ?? 0),
  ])
}
