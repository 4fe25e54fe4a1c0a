import { creasesOf } from './creases'
import type { LabelledMesh } from './labelled'

/**
 * Each triangle as four (Loop, "Smooth subdivision surfaces based on triangles", 1987, with the creases of Hoppe et al., 1994): sides that
 * bend by more than `angle` and borders between labels keep their line, where more than two of them meet the corner stays. With `plain` all
 * points stay and new ones are the middles of the sides.
 */
export function subdivided(mesh: LabelledMesh, angle: number, plain: boolean): LabelledMesh {
  const { positions: p, indices, label, rows } = mesh
  const { along, crease, across } = creasesOf(mesh, angle)
  const vertices = p.length / 3
  const sides = indices.length / 2
  const positions = new Float64Array(3 * (vertices + sides))
  const next = (i: number) => (i % 3 === 2 ? i - 2 : i + 1)
  // new points, one for each side; a side is numbered from the corner that is met first
  const middle = new Int32Array(indices.length).fill(-1)
  let made = vertices
  for (let i = 0; i < indices.length; i++) {
    if (middle[i] >= 0) continue
    // the corner of the other triangle at which the same side begins
    const twin = next(across[i])
    middle[i] = middle[twin] = made
    const [a, b, c, d] = [indices[i], indices[next(i)], indices[next(next(i))], indices[across[i]]]
    for (let k = 0; k < 3; k++)
      positions[3 * made + k] = plain || crease[i] ? (p[3 * a + k] + p[3 * b + k]) / 2 : (3 * (p[3 * a + k] + p[3 * b + k]) + p[3 * c + k] + p[3 * d + k]) / 8
    made++
  }
  if (plain) positions.set(p)
  else {
    const sum = new Float64Array(p.length)
    const valence = new Uint16Array(vertices)
    for (let i = 0; i < indices.length; i++) {
      valence[indices[i]]++
      for (let k = 0; k < 3; k++) sum[3 * indices[i] + k] += p[3 * indices[next(i)] + k]
    }
    for (let v = 0; v < vertices; v++) {
      const [l, r] = [along[2 * v], along[2 * v + 1]]
      const n = valence[v]
      const beta = n === 3 ? 3 / 16 : 3 / (8 * n)
      for (let k = 3 * v; k < 3 * v + 3; k++) {
        const j = k - 3 * v
        if (l === v || n === 0) positions[k] = p[k]
        else if (l >= 0) positions[k] = 0.75 * p[k] + 0.125 * (p[3 * l + j] + p[3 * r + j])
        else positions[k] = (1 - n * beta) * p[k] + beta * sum[k]
      }
    }
  }
  const out = new Uint32Array(4 * indices.length)
  const labels = new Uint32Array(4 * label.length)
  for (let t = 0; t < label.length; t++) {
    const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    const [ab, bc, ca] = [middle[3 * t], middle[3 * t + 1], middle[3 * t + 2]]
    out.set([a, ab, ca, b, bc, ab, c, ca, bc, ab, bc, ca], 12 * t)
    labels.fill(label[t], 4 * t, 4 * t + 4)
  }
  return { positions, indices: out, label: labels, rows }
}
