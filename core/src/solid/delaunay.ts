import Constrainautor from '@kninnug/constrainautor'
import Delaunator from 'delaunator'
import { winding } from '../outline/polygon'
import { PairTable } from './pair-table'

/**
 * The triangles of a constrained Delaunay triangulation inside the loops, counter-clockwise, with every point used; undefined
 * when the border could not be kept or a triangle has no area.
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
  const constraints: [number, number][] = []
  let base = 0
  for (const loop of loops) {
    for (let i = 0; i < loop.length; i++) constraints.push([base + i, base + ((i + 1) % loop.length)])
    base += loop.length
  }
  let mesh: Delaunator<Float64Array>
  try {
    mesh = new Delaunator(coords)
    new Constrainautor(mesh, constraints)
  } catch {
    return undefined
  }
  const rings = loops.map((loop) => ({ xy: Float64Array.from(loop.flatMap((v) => [x[v], y[v]])) }))
  const { triangles, halfedges } = mesh
  const count = triangles.length / 3
  // inside or outside changes only across the border: one winding test for every stretch between borders
  const border = new PairTable(2 * constraints.length)
  for (const [a, b] of constraints) {
    border.set(a, b, 0)
    border.set(b, a, 0)
  }
  const side = new Int8Array(count)
  for (let t = 0; t < count; t++) {
    if (side[t] !== 0) continue
    const cx = (coords[2 * triangles[3 * t]] + coords[2 * triangles[3 * t + 1]] + coords[2 * triangles[3 * t + 2]]) / 3
    const cy = (coords[2 * triangles[3 * t] + 1] + coords[2 * triangles[3 * t + 1] + 1] + coords[2 * triangles[3 * t + 2] + 1]) / 3
    const value = winding(rings, cx, cy) > 0 ? 1 : -1
    const stack = [t]
    side[t] = value
    while (stack.length > 0) {
      const u = stack.pop() as number
      for (let j = 0; j < 3; j++) {
        const e = 3 * u + j
        const twin = halfedges[e]
        if (twin < 0 || border.has(triangles[e], triangles[3 * u + ((j + 1) % 3)])) continue
        const w = Math.floor(twin / 3)
        if (side[w] !== 0) continue
        side[w] = value
        stack.push(w)
      }
    }
  }
  const out: number[] = []
  for (let t = 0; t < count; t++) {
    if (side[t] < 0) continue
    // Delaunator's triangles run clockwise in a plane whose y points up
    const [a, c, b] = [ids[triangles[3 * t]], ids[triangles[3 * t + 1]], ids[triangles[3 * t + 2]]]
    const area = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
    if (area === 0) return undefined
    if (area > 0) out.push(a, b, c)
    else out.push(a, c, b)
  }
  // a disc with holes of V points, H holes and B border sides has 2V − B − 2 + 2H triangles: sum over its loops
  const holes = loops.filter(
    (loop) => loop.reduce((sum, v, i) => sum + x[v] * y[loop[(i + 1) % loop.length]] - x[loop[(i + 1) % loop.length]] * y[v], 0) < 0,
  ).length
  const outer = loops.length - holes
  return out.length / 3 === 2 * ids.length - base - 2 * outer + 2 * holes ? out : undefined
}
