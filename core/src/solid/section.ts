import type { Point } from '../check/rays'

/** A closed line in which a plane cuts a mesh; the mesh's inside lies to its left as seen against the plane's normal. */
export interface SectionLoop {
  /** x, y in the plane, mm, along the axes that were given */
  readonly xy: Float64Array
  /** the triangle that each of its sides was cut from, the side that begins at the point of that number */
  readonly triangles: Uint32Array
}

/**
 * The lines in which a plane through a point cuts a closed mesh. `x` and `y` are unit vectors in the plane, `normal` theirs crossed. Vertices
 * at one place count as one, also where the mesh has several there, as for the view; what lies in the plane counts as above it, so that every
 * triangle is cut once or not at all.
 */
export function sectionLoops(
  { positions: p, indices }: { readonly positions: ArrayLike<number>; readonly indices: ArrayLike<number> },
  point: Point,
  x: Point,
  y: Point,
): SectionLoop[] {
  const n = [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]]
  const height = (v: number) => (p[3 * v] - point[0]) * n[0] + (p[3 * v + 1] - point[1]) * n[1] + (p[3 * v + 2] - point[2]) * n[2]
  /** where a side crosses the plane, the same from either end */
  const crossing = (u: number, v: number): [number, number] => {
    let [a, b] = [u, v]
    for (let k = 0; k < 3; k++) {
      if (p[3 * a + k] === p[3 * b + k]) continue
      if (p[3 * a + k] > p[3 * b + k]) [a, b] = [b, a]
      break
    }
    const [h, g] = [height(a), height(b)]
    const t = h / (h - g)
    const d = [0, 1, 2].map((k) => p[3 * a + k] + t * (p[3 * b + k] - p[3 * a + k]) - point[k])
    return [d[0] * x[0] + d[1] * x[1] + d[2] * x[2], d[0] * y[0] + d[1] * y[1] + d[2] * y[2]]
  }
  interface Side {
    readonly from: [number, number]
    readonly to: string
    readonly triangle: number
  }
  const starting = new Map<string, Side[]>()
  for (let i = 0; i < indices.length; i += 3) {
    const above = [0, 1, 2].map((k) => height(indices[i + k]) >= 0)
    if (above[0] === above[1] && above[1] === above[2]) continue
    let from: [number, number] | undefined
    let to: [number, number] | undefined
    for (let k = 0; k < 3; k++) {
      const j = (k + 1) % 3
      if (above[k] && !above[j]) from = crossing(indices[i + k], indices[i + j])
      else if (!above[k] && above[j]) to = crossing(indices[i + k], indices[i + j])
    }
    if (!from || !to) continue
    const key = from.join()
    const side: Side = { from, to: to.join(), triangle: i / 3 }
    // a side of no length leads nowhere
    if (side.to === key) continue
    const list = starting.get(key)
    if (list) list.push(side)
    else starting.set(key, [side])
  }
  const loops: SectionLoop[] = []
  for (const [first, list] of starting) {
    while (list.length > 0) {
      const sides: Side[] = []
      let at = first
      for (;;) {
        const side = starting.get(at)?.pop()
        if (!side) break
        sides.push(side)
        at = side.to
        if (at === first) break
      }
      if (sides.length >= 3 && at === first)
        loops.push({ xy: Float64Array.from(sides.flatMap(({ from }) => from)), triangles: Uint32Array.from(sides, ({ triangle }) => triangle) })
    }
  }
  return loops
}

/** The area within a loop, mm²; below nought for one that runs with the clock, which is a hole. */
export function loopArea({ xy }: SectionLoop): number {
  let twice = 0
  for (let i = 0; i < xy.length; i += 2) {
    const j = (i + 2) % xy.length
    twice += xy[i] * xy[j + 1] - xy[j] * xy[i + 1]
  }
  return twice / 2
}
