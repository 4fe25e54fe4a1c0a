import { MeshoptSimplifier } from 'meshoptimizer/simplifier'
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
  // a vertex stands once for each label at it: seams that are kept
  const numbers = new Map<number, number>()
  const of: number[] = []
  const labels: number[] = []
  const own = new Uint32Array(indices.length)
  for (let i = 0; i < indices.length; i++) {
    const l = label[Math.floor(i / 3)]
    const key = indices[i] * rows.length + l
    let n = numbers.get(key)
    if (n === undefined) {
      numbers.set(key, (n = of.push(indices[i]) - 1))
      labels.push(l)
    }
    own[i] = n
  }
  // about the middle, where 32 bits tell places apart best
  const middle = [0, 1, 2].map((k) => {
    let [low, high] = [Infinity, -Infinity]
    for (let i = k; i < positions.length; i += 3) {
      low = Math.min(low, positions[i])
      high = Math.max(high, positions[i])
    }
    return (low + high) / 2
  })
  const points = new Float32Array(3 * of.length)
  of.forEach((v, n) => {
    for (let k = 0; k < 3; k++) points[3 * n + k] = positions[3 * v + k] - middle[k]
  })
  const [kept, made] = MeshoptSimplifier.simplify(own, points, 3, 3 * triangles, error ?? 1e9, ['ErrorAbsolute'])
  const out = new Uint32Array(kept.length)
  const outLabel = new Uint32Array(kept.length / 3)
  // without the vertices that are gone
  const place = new Map<number, number>()
  const left: number[] = []
  for (let i = 0; i < kept.length; i++) {
    const v = of[kept[i]]
    let n = place.get(v)
    if (n === undefined) {
      place.set(v, (n = left.length / 3))
      left.push(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2])
    }
    out[i] = n
    outLabel[Math.floor(i / 3)] = labels[kept[i]]
  }
  return { mesh: { positions: Float64Array.from(left), indices: out, label: outLabel, rows }, error: made }
}
