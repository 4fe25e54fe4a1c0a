import { latticeFor } from '../outline/lattice'
import { SolidBuilder } from './builder'
import { FACE, NONE } from './labels'
import type { Solid } from './solid'

/** Bare triangles as readers give them: x, y, z per vertex in mm, and three vertex numbers a triangle. */
export interface Triangles {
  readonly positions: ArrayLike<number>
  readonly indices: ArrayLike<number>
}

/**
 * A solid of any triangles: the one way from a file, a kernel or a field to the lattice. Coordinates are rounded to the lattice that suits
 * their extent (or the one given), vertices that come to lie at one point are one, and triangles without three different corners are left
 * out. All of it is plain face; normals and texture coordinates are made when asked for. It is as closed as the triangles were; throws
 * RangeError for a coordinate that is no number or an index that is not there.
 */
export function solidFromTriangles({ positions, indices }: Triangles, lattice = latticeFor(extentOf(positions))): Solid {
  const mesh = new SolidBuilder(lattice, false)
  const vertices = positions.length / 3
  mesh.reserve(vertices, vertices, indices.length / 3)
  const number = new Int32Array(vertices).fill(-1)
  const at = (v: number): number => {
    if (!(v < vertices)) throw new RangeError(`vertex ${v} is not there`)
    if (number[v] < 0) {
      const [x, y, z] = [0, 1, 2].map((k) => Math.round(positions[3 * v + k] / lattice) * lattice + 0)
      if (!Number.isFinite(x + y + z)) throw new RangeError(`vertex ${v} has a coordinate that is no number`)
      number[v] = mesh.vertex(x, y, z)
    }
    return number[v]
  }
  for (let i = 0; i + 2 < indices.length; i += 3) mesh.triangle(at(indices[i]), at(indices[i + 1]), at(indices[i + 2]), FACE, NONE)
  return mesh.finish()
}

function extentOf(positions: ArrayLike<number>): number {
  let most = 0
  for (let i = 0; i < positions.length; i++) most = Math.max(most, Math.abs(positions[i]))
  return Number.isFinite(most) ? most : 0
}
