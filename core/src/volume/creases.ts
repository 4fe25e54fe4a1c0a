import { oppositesOf } from '../check/edges'
import type { LabelledMesh } from './labelled'

/** What a mesh's sides are to smoothing: which keep their line, and which triangles lie at each. */
export interface Creases {
  /** per vertex the two neighbours along its crease; −1 and −1 where it lies on none, and twice itself where it stays where it is */
  readonly along: Int32Array
  /** for each corner's side (to the next corner): 1 where it is a crease */
  readonly crease: Uint8Array
  /** for each corner's side the corner in the other triangle that lies across it */
  readonly across: Int32Array
}

/** Creases are sides that bend by more than `angle` degrees, and borders between labels. The mesh must be closed. */
export function creasesOf({ positions: p, indices, label }: LabelledMesh, angle: number): Creases {
  const triangles = indices.length / 3
  const normal = new Float64Array(3 * triangles)
  for (let t = 0; t < triangles; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const size = Math.hypot(n[0], n[1], n[2]) || 1
    for (let k = 0; k < 3; k++) normal[3 * t + k] = n[k] / size
  }
  const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)
  const opposite = oppositesOf(indices)
  const across = new Int32Array(indices.length)
  const crease = new Uint8Array(indices.length)
  const least = Math.cos((angle * Math.PI) / 180)
  const along = new Int32Array((2 * p.length) / 3).fill(-1)
  const count = new Uint8Array(p.length / 3)
  for (let i = 0; i < indices.length; i++) {
    const twin = opposite[i] < 0 ? i : opposite[i]
    across[i] = next(next(twin))
    const [s, t] = [Math.floor(i / 3), Math.floor(twin / 3)]
    const cos = normal[3 * s] * normal[3 * t] + normal[3 * s + 1] * normal[3 * t + 1] + normal[3 * s + 2] * normal[3 * t + 2]
    if (cos >= least && label[s] === label[t]) continue
    crease[i] = 1
    const [v, w] = [indices[i], indices[next(i)]]
    // each crease is met from both its sides: once from each end
    if (count[v] < 2) along[2 * v + count[v]] = w
    if (count[v] < 3) count[v]++
  }
  for (let v = 0; v < count.length; v++) if (count[v] === 1 || count[v] > 2) along[2 * v] = along[2 * v + 1] = v
  return { along, crease, across }
}
