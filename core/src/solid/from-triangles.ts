import { type Look, materialKey } from '../look/material'
import { latticeFor } from '../outline/lattice'
import { pickPlaces } from './attributes'
import { SolidBuilder } from './builder'
import { FACE, labelTable, NONE, PLAIN_ROW } from './labels'
import { type Solid, type SolidLayer, withParts } from './solid'

/** Bare triangles as readers give them: x, y, z per vertex in mm, and three vertex numbers a triangle. */
export interface Triangles {
  readonly positions: ArrayLike<number>
  readonly indices: ArrayLike<number>
  /** row of `surfaces` per triangle: parts become layers of their names, what they are made of becomes their look */
  readonly surface?: ArrayLike<number>
  readonly surfaces?: readonly { readonly part: string; readonly look?: Look }[]
  /** place of each corner in its material's picture, two numbers each */
  readonly pictureUv?: Float32Array
}

/** What a part is called that its file has no name for. */
const NAMELESS = 'Model'

/**
 * A solid of any triangles: the one way from a file, a kernel or a field to the lattice. Coordinates are rounded to the lattice that suits
 * their extent (or the one given), vertices that come to lie at one point are one, and triangles without three different corners are left
 * out. All of it is plain face, in the layers and looks that are told; normals and texture coordinates are made when asked for. It is as closed as the triangles were; throws
 * RangeError for a coordinate that is no number or an index that is not there.
 */
export function solidFromTriangles({ positions, indices, surface, surfaces, pictureUv }: Triangles, lattice = latticeFor(extentOf(positions))): Solid {
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
  const kept: number[] = []
  for (let i = 0; i + 2 < indices.length; i += 3) {
    const [a, b, c] = [at(indices[i]), at(indices[i + 1]), at(indices[i + 2])]
    mesh.triangle(a, b, c, FACE, NONE)
    if (surface && a !== b && b !== c && a !== c) kept.push(i / 3)
  }
  const solid = mesh.finish()
  if (!surface || !surfaces) return solid
  const looking = dressed(
    solid,
    kept.map((t) => surface[t]),
    surfaces,
  )
  return pictureUv ? { ...looking, attributes: { ...looking.attributes, pictureUv: pickPlaces(pictureUv, 6, kept) as Float32Array } } : looking
}

function dressed(solid: Solid, surface: readonly number[], surfaces: NonNullable<Triangles['surfaces']>): Solid {
  const layers: SolidLayer[] = []
  const looks: Look[] = []
  const layerOf = new Map<string, number>()
  const lookOf = new Map<string, number>()
  const rows = surfaces.map(({ part, look }) => {
    const name = part || NAMELESS
    const layer = layerOf.get(name) ?? layers.push({ name }) - 1
    layerOf.set(name, layer)
    if (!look) return { ...PLAIN_ROW, layer }
    const key = `${look.name}/${materialKey(look.material)}`
    const number = lookOf.get(key) ?? looks.push(look) - 1
    lookOf.set(key, number)
    return { ...PLAIN_ROW, layer, look: number }
  })
  return withParts({ ...solid, surface: Uint32Array.from(surface), labels: labelTable(rows), layers, looks })
}

function extentOf(positions: ArrayLike<number>): number {
  let most = 0
  for (let i = 0; i < positions.length; i++) most = Math.max(most, Math.abs(positions[i]))
  return Number.isFinite(most) ? most : 0
}
