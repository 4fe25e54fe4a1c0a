import type { PolygonSet } from '../outline/polygon'
import { straightSkeleton } from '../solid/skeleton'

/** The way from a node of an axis to one beside it. */
export interface Link {
  readonly to: number
  /** between the two borders there, degrees; 180 where they run in parallel */
  readonly angle: number
}

/** The medial axis of an area as a graph: nodes with the radius of the largest circle about them, mm. */
export interface Axis {
  readonly x: readonly number[]
  readonly y: readonly number[]
  readonly r: readonly number[]
  readonly links: readonly (readonly Link[])[]
}

/** Borders that touch a circle within this of each other touch it at one place, mm. */
const ONE_PLACE = 1e-7

/**
 * The medial axis of a polygon set (Blum, "A transformation for extracting new descriptors of shape", 1967), from the straight skeleton with rounded
 * concave corners; radii are right within 1 % there and exact elsewhere. What only fans out at such a corner is left out. Branches into every convex
 * corner are in it: see prune.ts.
 */
export function axisOf(set: PolygonSet): Axis {
  const { x, y, t, edges, arcFace, arcFrom, arcTo } = straightSkeleton(set, { limit: Infinity, corners: 'round' })
  const links: Link[][] = x.map(() => [])
  const faceOf = new Map<number, number>()
  arcFace.forEach((face, i) => void faceOf.set(arcFrom[i] * 2 ** 24 + arcTo[i], face))
  /** where the circle about a node touches an edge */
  const touch = (node: number, face: number): [number, number] => {
    const [p, q] = [edges.start[face], edges.end[face]]
    const [ux, uy] = [x[q] - x[p], y[q] - y[p]]
    const square = ux * ux + uy * uy
    const f = square > 0 ? Math.max(0, Math.min(1, ((x[node] - x[p]) * ux + (y[node] - y[p]) * uy) / square)) : 0
    return [x[p] + f * ux, y[p] + f * uy]
  }
  arcFace.forEach((face, i) => {
    const [a, b] = [arcFrom[i], arcTo[i]]
    const other = a < b ? faceOf.get(b * 2 ** 24 + a) : undefined
    // sides of the outline itself have one face
    if (other === undefined || other === face) return
    const inner = t[a] > t[b] ? a : b
    const [[px, py], [qx, qy]] = [touch(inner, face), touch(inner, other)]
    if (Math.hypot(px - qx, py - qy) < ONE_PLACE) return
    const turn = edges.nx[face] * edges.nx[other] + edges.ny[face] * edges.ny[other]
    const angle = (Math.acos(Math.max(-1, Math.min(1, turn))) * 180) / Math.PI
    links[a].push({ to: b, angle })
    links[b].push({ to: a, angle })
  })
  return { x, y, r: t, links }
}

/** A way through an axis between ends, forks or round a ring: its nodes, and its length, mm. */
export interface Branch {
  readonly nodes: readonly number[]
  readonly length: number
}

/** The branches of an axis: every link is in one. */
export function branchesOf({ x, y, links }: Axis): Branch[] {
  const found: Branch[] = []
  const walked = new Set<number>()
  const key = (a: number, b: number) => a * 2 ** 24 + b
  const walk = (from: number, to: number) => {
    const nodes = [from, to]
    let length = Math.hypot(x[from] - x[to], y[from] - y[to])
    walked.add(key(from, to))
    let [before, at] = [from, to]
    while (links[at].length === 2 && at !== from) {
      const next = (links[at][0].to === before ? links[at][1] : links[at][0]).to
      walked.add(key(at, next)).add(key(at, before))
      length += Math.hypot(x[at] - x[next], y[at] - y[next])
      ;[before, at] = [at, next]
      nodes.push(at)
    }
    walked.add(key(at, before))
    found.push({ nodes, length })
  }
  // from ends and forks first; what is left then are rings
  for (const rings of [false, true])
    links.forEach((list, n) => {
      if (list.length === 0 || (list.length === 2) !== rings) return
      for (const { to } of list) if (!walked.has(key(n, to))) walk(n, to)
    })
  return found
}

/** The ends of a branch. */
export const endsOf = ({ nodes }: Branch): [number, number] => [nodes[0], nodes[nodes.length - 1]]
