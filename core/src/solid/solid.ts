import { type Look, type Material, materialKey, UNDRESSED, withoutPicture } from '../look/material'
import type { Attributes } from './attributes'
import { GROUPS, type Group, type Label, LABELS, type LabelTable, NONE, rowCount } from './labels'

export interface SolidLayer {
  readonly name: string
  /** "#rrggbb" */
  readonly colour?: string
}

/**
 * A closed, oriented triangle mesh in mm; outward sides are counter-clockwise. Vertices are shared by position alone; what differs
 * between neighbouring triangles is stored per triangle (labels) or per corner (attributes). Arrays are shared between solids that
 * have them in common: nobody changes them once the solid is made.
 */
export interface Solid {
  readonly kind: 'solid'
  /** x, y, z per vertex, on the lattice; 3·vertices long */
  readonly positions: Float64Array
  /** vertex numbers, 3·triangles long */
  readonly indices: Uint32Array
  /** row of `labels` per triangle */
  readonly surface: Uint32Array
  /** what the rows are; some may be used by no triangle */
  readonly labels: LabelTable
  readonly attributes: Attributes
  readonly letters: readonly string[]
  readonly layers: readonly SolidLayer[]
  /** named bands of edges */
  readonly bands: readonly string[]
  readonly looks: readonly Look[]
  readonly lattice: number
  /** what it was before it was deformed, and by what; counts only for the very solid that came of that (deform/deform.ts alone reads it) */
  readonly deformed?: { readonly from: Solid; readonly stages: readonly unknown[]; readonly key: string }
  /** see Outline */
  readonly nothingYet?: boolean
}

/** Number of triangles. */
export const triangleCount = (solid: Pick<Solid, 'indices'>): number => solid.indices.length / 3

export const vertexCount = (solid: Pick<Solid, 'positions'>): number => solid.positions.length / 3

/** One label of one triangle. */
export const labelAt = ({ labels, surface }: Pick<Solid, 'surface' | 'labels'>, triangle: number, label: Label): number => labels[label][surface[triangle]]

/** One label of every triangle, a new array. */
export function labelOf(solid: Pick<Solid, 'surface' | 'labels'>, label: Label): Int32Array {
  const column = solid.labels[label]
  const out = new Int32Array(solid.surface.length)
  for (let t = 0; t < out.length; t++) out[t] = column[solid.surface[t]]
  return out
}

/** Triangles that look alike: one surface group in one material. */
export interface Surface {
  readonly group: Group
  readonly name: string
  readonly material: Material
}

/** The surfaces that occur on a solid, in the order of groups and layers, and which of them each triangle belongs to. */
export function surfacesOf(solid: Solid): { surfaces: Surface[]; of: Uint32Array } {
  const { labels, surface } = solid
  const rows = rowCount(labels)
  const used = new Uint8Array(rows)
  for (let t = 0; t < surface.length; t++) used[surface[t]] = 1
  const order = Array.from({ length: rows }, (_, row) => row).filter((row) => used[row])
  // lists of materials read alike whatever comes first in the mesh
  const keys: readonly Label[] = ['group', 'layer', 'band', 'letter']
  order.sort((a, b) => {
    for (const key of keys) if (labels[key][a] !== labels[key][b]) return labels[key][a] - labels[key][b]
    return a - b
  })
  const surfaces: Surface[] = []
  const numbers = new Map<string, number>()
  const ofRow = new Uint32Array(rows)
  for (const row of order) {
    const look = lookOf(solid, row)
    const { name } = look
    const material = solid.attributes.pictureUv ? look.material : withoutPicture(look.material)
    const group = GROUPS[labels.group[row]]
    const key = `${group}/${materialKey(material)}`
    let number = numbers.get(key)
    if (number === undefined) numbers.set(key, (number = surfaces.push({ group, name, material }) - 1))
    ofRow[row] = number
  }
  // plain loops: a callback for each of a million triangles takes a hundred times as long
  const of = new Uint32Array(surface.length)
  for (let t = 0; t < of.length; t++) of[t] = ofRow[surface[t]]
  return { surfaces, of }
}

/** How a row of the labels looks: as it is dressed, or as clay in its layer's colour. */
export function lookOf({ labels, looks, layers }: Pick<Solid, 'labels' | 'looks' | 'layers'>, row: number): Look {
  const dressed = looks[labels.look[row]]
  if (dressed) return dressed
  const group = GROUPS[labels.group[row]]
  const layer = layers[labels.layer[row]]
  if (layer?.colour === undefined) return { name: group, material: UNDRESSED }
  return { name: layers.length > 1 ? `${group} ${layer.name}` : group, material: { ...UNDRESSED, colour: layer.colour } }
}

/** Numbers the connected parts of a mesh: one number per triangle, and how many there are. */
export function connectedParts(indices: ArrayLike<number>, vertices: number): { part: Int32Array; count: number } {
  // each leads to a lower one of its part, the lowest to itself
  const parent = new Int32Array(vertices)
  for (let i = 0; i < vertices; i++) parent[i] = i
  const lowest = (start: number) => {
    let v = start
    for (let p = parent[v]; p !== v; p = parent[v]) v = parent[v] = parent[p]
    return v
  }
  const join = (v: number, w: number) => {
    if (parent[v] === parent[w]) return
    const [a, b] = [lowest(v), lowest(w)]
    if (a < b) parent[b] = a
    else parent[a] = b
  }
  for (let i = 0; i < indices.length; i += 3) {
    join(indices[i], indices[i + 1])
    join(indices[i], indices[i + 2])
  }
  for (let i = 0; i < vertices; i++) parent[i] = parent[parent[i]]
  const numbers = new Int32Array(vertices).fill(-1)
  let count = 0
  const part = new Int32Array(indices.length / 3)
  for (let i = 0; i < part.length; i++) {
    const root = parent[indices[3 * i]]
    if (numbers[root] < 0) numbers[root] = count++
    part[i] = numbers[root]
  }
  return { part, count }
}

/**
 * The solid with its connected parts numbered anew: rows that several parts share are made as many rows. What makes or cuts triangles
 * ends with this.
 */
export function withParts(solid: Solid): Solid {
  const { part, count } = connectedParts(solid.indices, vertexCount(solid))
  const rows = rowCount(solid.labels)
  // most glyphs hang together
  if (count <= 1) return solid.labels.part.every((p) => p === 0) ? solid : { ...solid, labels: { ...solid.labels, part: new Int32Array(rows) } }
  const numbers = new Map<number, number>()
  const from: number[] = []
  const parts: number[] = []
  const surface = new Uint32Array(part.length)
  let [last, lastNumber] = [-1, 0]
  for (let t = 0; t < part.length; t++) {
    const key = part[t] * rows + solid.surface[t]
    if (key !== last) {
      let number = numbers.get(key)
      if (number === undefined) {
        numbers.set(key, (number = from.push(solid.surface[t]) - 1))
        parts.push(part[t])
      }
      ;[last, lastNumber] = [key, number]
    }
    surface[t] = lastNumber
  }
  const labels = Object.fromEntries(
    LABELS.map((label) => [label, label === 'part' ? Int32Array.from(parts) : Int32Array.from(from, (row) => solid.labels[label][row])]),
  ) as unknown as LabelTable
  return { ...solid, surface, labels }
}

/** Number of connected parts, as the labels have it. */
export function partCount({ labels, surface }: Pick<Solid, 'labels' | 'surface'>): number {
  let most = NONE
  for (let t = 0; t < surface.length; t++) most = Math.max(most, labels.part[surface[t]])
  return most + 1
}

/** [minX, minY, minZ, maxX, maxY, maxZ] in mm; infinities when empty. */
export function solidBounds(positions: ArrayLike<number>): [number, number, number, number, number, number] {
  let [x0, y0, z0, x1, y1, z1] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i], positions[i + 1], positions[i + 2]]
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
    if (z < z0) z0 = z
    if (z > z1) z1 = z
  }
  return [x0, y0, z0, x1, y1, z1]
}
