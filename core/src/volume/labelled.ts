import { type LabelRow, labelTable, rowCount, rowOf } from '../solid/labels'
import { type Solid, withParts } from '../solid/solid'

/** Triangles with what they are told apart by: `label` names a row of `rows`. */
export interface LabelledMesh {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  readonly label: Uint32Array
  readonly rows: readonly LabelRow[]
}

/** A solid's triangles, told apart by everything but the connected part they belong to. */
export function labelled(solid: Solid): LabelledMesh {
  const rows: LabelRow[] = []
  const numbers = new Map<string, number>()
  const ofRow = Uint32Array.from({ length: rowCount(solid.labels) }, (_, r) => {
    const row = { ...rowOf(solid.labels, r), part: 0 }
    const key = Object.values(row).join(' ')
    const number = numbers.get(key) ?? rows.push(row) - 1
    numbers.set(key, number)
    return number
  })
  return { positions: solid.positions, indices: solid.indices, label: solid.surface.map((r) => ofRow[r]), rows }
}

/** A solid of labelled triangles that lie on the lattice; names are those of the solid it was made of. Normals and texture places are made when asked for. */
export const solidOf = ({ positions, indices, label, rows }: LabelledMesh, names: Solid, lattice: number): Solid =>
  withParts({ ...names, positions, indices, surface: label, labels: labelTable(rows), attributes: {}, lattice })

/** Triangles about each vertex: from `first[v]` up to `first[v + 1]` in the list. */
export function trianglesAbout(indices: Uint32Array, vertices: number): { first: Uint32Array; list: Uint32Array } {
  const first = new Uint32Array(vertices + 1)
  for (let i = 0; i < indices.length; i++) first[indices[i] + 1]++
  for (let v = 0; v < vertices; v++) first[v + 1] += first[v]
  const list = new Uint32Array(indices.length)
  const fill = first.slice(0, vertices)
  for (let i = 0, t = 0; i < indices.length; i += 3, t++) for (let k = i; k < i + 3; k++) list[fill[indices[k]]++] = t
  return { first, list }
}
