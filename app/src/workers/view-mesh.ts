import { type Group, type Material, type Solid, surfacesOf } from '@kelvar/core/solid/solid'

/** Triangles of one surface, ready for the view: nine numbers a triangle each, not indexed. */
export interface ViewGroup {
  readonly group: Group
  readonly name: string
  readonly positions: Float32Array
  readonly normals: Float32Array
  /** the letter each triangle belongs to, as in Solid.letter */
  readonly letters: Uint16Array
  readonly material: Material
}

export interface ViewMesh {
  readonly groups: readonly ViewGroup[]
  /** [minX, minY, minZ, maxX, maxY, maxZ] mm */
  readonly box: readonly [number, number, number, number, number, number]
}

/** New arrays for the view, one set for every surface; may be transferred. */
export function viewMesh(solid: Solid): ViewMesh {
  const { surfaces, of } = surfacesOf(solid)
  const counts = new Uint32Array(surfaces.length)
  for (const g of of) counts[g]++
  const groups = surfaces.map(({ group, name, material }, g) => ({
    group,
    name,
    positions: new Float32Array(9 * counts[g]),
    normals: new Float32Array(9 * counts[g]),
    letters: new Uint16Array(counts[g]),
    material,
  }))
  const at = new Uint32Array(surfaces.length)
  const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  const { positions: p, indices, normals } = solid
  for (let t = 0; t < solid.group.length; t++) {
    const g = of[t]
    const target = groups[g]
    let o = at[g]
    target.letters[o / 9] = solid.letter[t]
    for (let i = 0; i < 3; i++) {
      const v = 3 * indices[3 * t + i]
      for (let k = 0; k < 3; k++) {
        const value = p[v + k]
        if (value < box[k]) box[k] = value
        if (value > box[k + 3]) box[k + 3] = value
        target.positions[o] = value
        target.normals[o] = normals[9 * t + 3 * i + k]
        o++
      }
    }
    at[g] = o
  }
  return { groups, box }
}

export const meshBuffers = (mesh: ViewMesh): ArrayBuffer[] =>
  mesh.groups.flatMap((g) => [g.positions, g.normals, g.letters].map((array) => array.buffer as ArrayBuffer))
