import { MeshoptSimplifier } from 'meshoptimizer/simplifier'
import { solidBounds } from '../solid/solid'
import type { LabelledMesh } from './labelled'

/** What is aimed at: so many triangles, or as few as lie within so many mm of the surface. */
export interface Aim {
  readonly triangles: number
  /** mm; no bound when left out */
  readonly error?: number
}

/**
 * Fewer triangles by collapsing sides in the order of their quadric errors (Garland & Heckbert, 1997; meshoptimizer). Vertices that are left
 * stay where they are; borders between labels are collapsed along themselves only, and the mesh keeps its topology. Gives the error that
 * was made as well, mm.
 */
export async function reduced({ positions, indices, label, rows }: LabelledMesh, { triangles, error }: Aim): Promise<{ mesh: LabelledMesh; error: number }> {
  await MeshoptSimplifier.ready
  const vertices = positions.length / 3
  // a vertex stands once for each label at it: seams that are kept. Those of one vertex are chained, and there is mostly one
  const head = new Int32Array(vertices).fill(-1)
  const after = new Int32Array(indices.length).fill(-1)
  const of = new Uint32Array(indices.length)
  const labels = new Uint32Array(indices.length)
  const own = new Uint32Array(indices.length)
  let count = 0
  for (let i = 0, t = 0; i < indices.length; t++)
    for (const end = i + 3; i < end; i++) {
      const v = indices[i]
      let n = head[v]
      while (n >= 0 && labels[n] !== label[t]) n = after[n]
      if (n < 0) {
        n = count++
        of[n] = v
        labels[n] = label[t]
        after[n] = head[v]
        head[v] = n
      }
      own[i] = n
    }
  // about the middle, where 32 bits tell places apart best
  const box = solidBounds(positions)
  const middle = [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2)
  const points = new Float32Array(3 * count)
  for (let n = 0; n < count; n++) for (let k = 0; k < 3; k++) points[3 * n + k] = positions[3 * of[n] + k] - middle[k]
  const [kept, made] = MeshoptSimplifier.simplify(own, points, 3, 3 * triangles, error ?? 1e9, ['ErrorAbsolute'])
  const out = new Uint32Array(kept.length)
  const outLabel = new Uint32Array(kept.length / 3)
  // without the vertices that are gone
  const place = new Int32Array(vertices).fill(-1)
  const left = new Float64Array(3 * Math.min(vertices, kept.length))
  let used = 0
  for (let i = 0; i < kept.length; i++) {
    const v = of[kept[i]]
    if (place[v] < 0) {
      place[v] = used
      for (let k = 0; k < 3; k++) left[3 * used + k] = positions[3 * v + k]
      used++
    }
    out[i] = place[v]
    if (i % 3 === 0) outLabel[i / 3] = labels[kept[i]]
  }
  return { mesh: { positions: left.slice(0, 3 * used), indices: out, label: outLabel, rows }, error: made }
}
