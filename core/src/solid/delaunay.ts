import Constrainautor from '@kninnug/constrainautor'
import Delaunator from 'delaunator'
import { doubleArea, winding } from '../outline/polygon'

/**
 * The triangles of a constrained Delaunay triangulation inside the loops, counter-clockwise, with every point used; undefined
 * when the border could not be kept or a triangle has no area. `ids` begins with the points of the loops in their order; what
 * follows are points within. x and y are indexed by id.
 */
export function constrainedTriangles(
  loops: readonly (readonly number[])[],
  ids: readonly number[],
  x: ArrayLike<number>,
  y: ArrayLike<number>,
): number[] | undefined {
  const n = ids.length
  const coords = new Float64Array(2 * n)
  for (let i = 0; i < n; i++) {
    coords[2 * i] = x[ids[i]]
    coords[2 * i + 1] = y[ids[i]]
  }
  // the point after each one on its loop, −1 for points within
  const after = new Int32Array(n).fill(-1)
  const rings: { xy: Float64Array }[] = []
  let base = 0
  let holes = 0
  for (const { length } of loops) {
    for (let i = 0; i < length; i++) after[base + i] = base + ((i + 1) % length)
    const xy = coords.subarray(2 * base, 2 * (base + length))
    rings.push({ xy })
    if (doubleArea(xy) < 0) holes++
    base += length
  }
  let mesh: Delaunator<Float64Array>
  try {
    mesh = new Delaunator(coords)
    // most of the border is there of itself
    if (!holdsBorder(mesh, after, base)) {
      const border: [number, number][] = []
      for (let i = 0; i < base; i++) border.push([i, after[i]])
      new Constrainautor(mesh, border)
    }
  } catch {
    return undefined
  }
  const { triangles, halfedges } = mesh
  const count = triangles.length / 3
  // inside or outside changes only across the border: one winding test for every stretch between borders
  const side = new Int8Array(count)
  const stack: number[] = []
  for (let t = 0; t < count; t++) {
    if (side[t] !== 0) continue
    const a = 2 * triangles[3 * t]
    const b = 2 * triangles[3 * t + 1]
    const c = 2 * triangles[3 * t + 2]
    const value = winding(rings, (coords[a] + coords[b] + coords[c]) / 3, (coords[a + 1] + coords[b + 1] + coords[c + 1]) / 3) > 0 ? 1 : -1
    stack.push(t)
    side[t] = value
    while (stack.length > 0) {
      const u = stack.pop() as number
      for (let e = 3 * u; e < 3 * u + 3; e++) {
        const twin = halfedges[e]
        if (twin < 0) continue
        const w = (twin / 3) | 0
        if (side[w] !== 0) continue
        const [p, q] = [triangles[e], triangles[twin]]
        if (after[p] === q || after[q] === p) continue
        side[w] = value
        stack.push(w)
      }
    }
  }
  const out: number[] = []
  for (let t = 0; t < count; t++) {
    if (side[t] < 0) continue
    // Delaunator's triangles run clockwise in a plane whose y points up
    const a = ids[triangles[3 * t]]
    const c = ids[triangles[3 * t + 1]]
    const b = ids[triangles[3 * t + 2]]
    const area = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
    if (area === 0) return undefined
    if (area > 0) out.push(a, b, c)
    else out.push(a, c, b)
  }
  // a disc with holes of V points, H holes and B border sides has 2V − B − 2 + 2H triangles: sum over its loops
  return out.length / 3 === 2 * n - base - 2 * (loops.length - holes) + 2 * holes ? out : undefined
}

/** Whether all `count` sides of the border are sides of triangles. */
function holdsBorder({ triangles, halfedges }: Delaunator<Float64Array>, after: Int32Array, count: number): boolean {
  let held = 0
  for (let e = 0; e < triangles.length; e++) {
    const p = triangles[e]
    const q = triangles[e % 3 === 2 ? e - 2 : e + 1]
    // a side between two triangles is met from both
    if (after[p] === q || (halfedges[e] < 0 && after[q] === p)) held++
  }
  return held === count
}
