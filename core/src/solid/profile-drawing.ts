import { fromPath, type NodePath, type PathNode } from '../outline/nodes'
import type { Path } from '../outline/path'
import { lineProfile, type Profile } from './profile'

/** A profile as a person edits it: nodes in mm of inset (x) and height (y), from the wall's rim inwards. */
export function profileNodes(profile: Profile | undefined, inset: number, height: number): NodePath {
  return fromPath(profile ?? lineProfile([0, 0, inset, height]))
}

/** An open stroke taken for a profile: begun at inset 0 and height 0, run inwards. Its size stays as drawn. */
export function profileFromStroke(stroke: Path): NodePath {
  const drawn = fromPath({ ...stroke, closed: false })
  const [first, last] = [drawn.nodes[0], drawn.nodes[drawn.nodes.length - 1]]
  const way = last.x < first.x ? -1 : 1
  const turned = (h: readonly [number, number] | undefined): [number, number] | undefined => (h ? [way * h[0], h[1]] : undefined)
  return {
    closed: false,
    nodes: drawn.nodes.map((node) => withHandles({ ...node, x: way * (node.x - first.x), y: node.y - first.y }, turned(node.in), turned(node.out))),
  }
}

/** The largest inset and the largest height that a drawn profile reaches, mm. */
export function profileSize({ nodes }: NodePath): { inset: number; height: number } {
  return { inset: nodes[nodes.length - 1].x, height: Math.max(...nodes.map((node) => Math.abs(node.y))) }
}

/**
 * The profile kept usable while it is edited: it starts at inset 0 and height 0, and neither nodes nor handles reach back over their
 * neighbours, since an edge has no undercuts.
 */
export function heldProfile({ nodes }: NodePath): NodePath {
  const xs: number[] = []
  nodes.forEach((node, i) => xs.push(i === 0 ? 0 : Math.max(xs[i - 1], node.x)))
  return {
    closed: false,
    nodes: nodes.map((node, i) => {
      const x = xs[i]
      const left = x - (xs[i - 1] ?? x)
      const right = (xs[i + 1] ?? x) - x
      const arriving = node.in && clamped(node.in, -left, 0)
      const leaving = node.out && clamped(node.out, 0, right)
      return withHandles({ ...node, x, y: i === 0 ? 0 : node.y }, i === 0 ? undefined : arriving, i === nodes.length - 1 ? undefined : leaving)
    }),
  }
}

/**
 * Both halves alike: the half nearer the wall decides, the other is its mirror image about the line between rim and face. A profile
 * whose end has no height is mirrored about its middle.
 */
export function mirroredProfile(drawn: NodePath): NodePath {
  const { nodes } = drawn
  const { x: w, y: h } = nodes[nodes.length - 1]
  // in shares of width and height the mirror swaps (u, v) for (1 − v, 1 − u); without a height only the insets are turned round
  const slanted = Math.abs(h) > 1e-6
  const mirror = (x: number, y: number): [number, number] => (slanted ? [w * (1 - y / h), h * (1 - x / w)] : [w - x, y])
  const turn = (v: readonly [number, number] | undefined): [number, number] | undefined => v && (slanted ? [(-v[1] * w) / h, (-v[0] * h) / w] : [-v[0], v[1]])
  const before = (node: PathNode) => (slanted ? node.x / w + node.y / h < 1 - 1e-6 : node.x < w / 2 - 1e-6)
  const near = nodes.filter((node, i) => i < nodes.length - 1 && before(node))
  const middle = nodes.find(
    (node, i) => i > 0 && i < nodes.length - 1 && !before(node) && near.length === i && Math.abs(slanted ? node.x / w + node.y / h - 1 : node.x - w / 2) < 0.02,
  )
  const far = near
    .slice()
    .reverse()
    .map((node) => {
      const [x, y] = mirror(node.x, node.y)
      return withHandles({ ...node, x, y }, turn(node.out), turn(node.in))
    })
  // a node on the mirror itself looks alike to both sides
  const centre = middle ? [withHandles(middle, middle.in, middle.in && turn(middle.in))] : []
  return heldProfile({ closed: false, nodes: [...near, ...centre, ...far] })
}

/** The nodes scaled to another inset and height, mm. */
export function scaledNodes(drawn: NodePath, sx: number, sy: number): NodePath {
  const scale = (v: readonly [number, number] | undefined): [number, number] | undefined => v && [v[0] * sx, v[1] * sy]
  return { closed: false, nodes: drawn.nodes.map((node) => withHandles({ ...node, x: node.x * sx, y: node.y * sy }, scale(node.in), scale(node.out))) }
}

const clamped = ([x, y]: readonly [number, number], low: number, high: number): [number, number] => {
  const held = Math.max(low, Math.min(high, x))
  return [held, y]
}

function withHandles({ x, y, kind }: PathNode, arriving: readonly [number, number] | undefined, leaving: readonly [number, number] | undefined): PathNode {
  const round = (v: number) => Math.round(v * 1e4) / 1e4 + 0
  const some = (h: readonly [number, number] | undefined): h is readonly [number, number] => h !== undefined && Math.hypot(round(h[0]), round(h[1])) > 1.5e-4
  return {
    x: round(x),
    y: round(y),
    ...(kind ? { kind } : {}),
    ...(some(arriving) ? { in: [round(arriving[0]), round(arriving[1])] as [number, number] } : {}),
    ...(some(leaving) ? { out: [round(leaving[0]), round(leaving[1])] as [number, number] } : {}),
  }
}
