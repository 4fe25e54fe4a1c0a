import { doubleArea } from '../outline/polygon'
import { constrainedTriangles } from '../solid/delaunay'

/** A convex polygon, counter-clockwise: x, y each. */
export type Convex = readonly (readonly [number, number])[]

interface Part {
  readonly hull: Convex
  readonly area: number
  readonly near: Set<number>
  alive: boolean
}

/** The convex hull of points, counter-clockwise (Andrew 1979). */
export function hullOf(points: readonly (readonly [number, number])[]): Convex {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const turn = (o: readonly number[], a: readonly number[], b: readonly number[]) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0])
  const run = (list: readonly (readonly [number, number])[]) => {
    const out: (readonly [number, number])[] = []
    for (const p of list) {
      while (out.length > 1 && turn(out[out.length - 2], out[out.length - 1], p) <= 1e-12) out.pop()
      out.push(p)
    }
    out.pop()
    return out
  }
  return [...run(sorted), ...run(sorted.reverse())]
}

/** The area of a convex polygon, mm². */
export const areaOf = (convex: Convex): number => doubleArea(convex.flat()) / 2

/**
 * Convex parts that together cover a flat shape: its triangles, merged with their neighbours, cheapest first, while the hull of both covers at most `slack` of the whole area
 * beside it (after Hertel & Mehlhorn 1983, with slack; shared/physics-notes.md §2). `rings`: closed, x and y, outer ones counter-clockwise. Undefined where the shape cannot be divided.
 */
export function convexParts(rings: readonly ArrayLike<number>[], slack: number): Convex[] | undefined {
  const loops: number[][] = []
  const [x, y]: [number[], number[]] = [[], []]
  for (const ring of rings) {
    const loop: number[] = []
    for (let i = 0; i < ring.length; i += 2) {
      loop.push(x.length)
      x.push(ring[i])
      y.push(ring[i + 1])
    }
    loops.push(loop)
  }
  const triangles = constrainedTriangles(loops, [...x.keys()], x, y)
  if (!triangles || triangles.length === 0) return undefined
  const parts: Part[] = []
  const sides = new Map<string, number>()
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = triangles.slice(t, t + 3)
    const hull = hullOf(corners.map((v) => [x[v], y[v]] as const))
    const number = parts.push({ hull, area: areaOf(hull), near: new Set(), alive: true }) - 1
    for (let k = 0; k < 3; k++) {
      const [a, b] = [corners[k], corners[(k + 1) % 3]]
      const key = `${Math.min(a, b)} ${Math.max(a, b)}`
      const other = sides.get(key)
      if (other === undefined) sides.set(key, number)
      else {
        parts[other].near.add(number)
        parts[number].near.add(other)
      }
    }
  }
  const total = parts.reduce((sum, { area }) => sum + area, 0)
  const queue: { readonly a: number; readonly b: number; readonly hull: Convex; readonly cost: number; readonly area: number }[] = []
  const offer = (a: number, b: number) => {
    const hull = hullOf([...parts[a].hull, ...parts[b].hull])
    const area = parts[a].area + parts[b].area
    const cost = areaOf(hull) - area
    if (cost <= slack * total + 1e-9) queue.push({ a, b, hull, cost, area })
  }
  parts.forEach(({ near }, i) => {
    for (const other of near) if (other > i) offer(i, other)
  })
  while (queue.length > 0) {
    let best = 0
    for (let i = 1; i < queue.length; i++)
      if (queue[i].cost < queue[best].cost || (queue[i].cost === queue[best].cost && queue[i].area > queue[best].area)) best = i
    const { a, b, hull, area } = queue[best]
    queue[best] = queue[queue.length - 1]
    queue.pop()
    if (!parts[a].alive || !parts[b].alive) continue
    parts[a].alive = parts[b].alive = false
    const near = new Set([...parts[a].near, ...parts[b].near].filter((i) => i !== a && i !== b && parts[i].alive))
    const number = parts.push({ hull, area, near, alive: true }) - 1
    for (const other of near) {
      parts[other].near.add(number)
      offer(number, other)
    }
  }
  return parts.filter(({ alive }) => alive).map(({ hull }) => hull)
}
