import { GROUPS, type Group, type Material, type Solid } from '@kelvar/core/solid/solid'
import { materialOf } from '@kelvar/core/format/glb'

/** Triangles of one surface group, ready for the view: nine numbers a triangle each, not indexed. */
export interface ViewGroup {
  readonly group: Group
  readonly positions: Float32Array
  readonly normals: Float32Array
  readonly material: Material
}

export interface ViewMesh {
  readonly groups: readonly ViewGroup[]
  /** [minX, minY, minZ, maxX, maxY, maxZ] mm */
  readonly box: readonly [number, number, number, number, number, number]
}

/** New arrays for the view, one set per surface group that has triangles; may be transferred. */
export function viewMesh(solid: Solid): ViewMesh {
  const counts = new Uint32Array(GROUPS.length)
  for (const g of solid.group) counts[g]++
  const groups = GROUPS.map((group, g) => ({
    group,
    positions: new Float32Array(9 * counts[g]),
    normals: new Float32Array(9 * counts[g]),
    material: materialOf(solid.materials, group),
  }))
  const at = new Uint32Array(GROUPS.length)
  const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  const { positions: p, indices, normals } = solid
  for (let t = 0; t < solid.group.length; t++) {
    const g = solid.group[t]
    const target = groups[g]
    let o = at[g]
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
  return { groups: groups.filter((g) => g.positions.length > 0), box }
}

export const meshBuffers = (mesh: ViewMesh): ArrayBuffer[] => mesh.groups.flatMap((g) => [g.positions.buffer as ArrayBuffer, g.normals.buffer as ArrayBuffer])
