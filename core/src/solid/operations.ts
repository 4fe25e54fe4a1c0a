import { type Look, materialKey } from '../look/material'
import { ATTRIBUTE_NAMES, type AttributeArray, type AttributeKind, ATTRIBUTES, attributeArray, type Attributes, mapAttributes, pickPlaces } from './attributes'
import { joinTables, type Label, NONE, pickRows, rowCount } from './labels'
import { normalsOf, uvsOf } from './shading'
import { partCount, type Solid, type SolidLayer, triangleCount, vertexCount } from './solid'

/** A solid and how it stands: shared arrays, moved by (dx, dy, dz) mm. What form kernels cache. */
export interface Placed {
  readonly solid: Solid
  readonly dx: number
  readonly dy: number
  readonly dz: number
  /** what the solid's letters are called in the whole: `letters[k]` for its letter k */
  readonly letters: readonly number[]
  /** the layer all of it belongs to; its own when left out */
  readonly layer?: number
}

/**
 * One solid of several placed ones over common lists of letters and layers; arrays are new. Nothing is united: parts that overlap go
 * on overlapping.
 */
export function joinPlaced(parts: readonly Placed[], letters: readonly string[], lattice: number, layers: readonly SolidLayer[] = []): Solid {
  return join(
    parts.map(({ solid, dx, dy, dz, letters: numbers, layer }) => ({
      solid,
      move: [dx, dy, dz],
      relabel: (label, value) => (label === 'letter' ? (numbers[value] ?? NONE) : label === 'layer' ? (layer ?? value) : value),
    })),
    lattice,
    { letters, layers },
  )
}

/**
 * One solid of several that know nothing of each other: their letters stand one behind another, layers, bands and looks that are alike
 * become one. Nothing is united. The lattice is the coarsest of theirs, to which the others are rounded.
 */
export function joinSolids(solids: readonly Solid[]): Solid {
  const lattice = solids.reduce((most, { lattice }) => Math.max(most, lattice), 2 ** -14)
  const { letters, layers, relabel } = commonNames(solids)
  return join(
    solids.map((solid, k) => ({ solid, relabel: relabel[k] })),
    lattice,
    { letters, layers },
  )
}

/** Common lists for solids that know nothing of each other, and what the labels of each become in them. */
export function commonNames(sources: readonly Names[]): { letters: string[]; layers: SolidLayer[]; relabel: Relabel[] } {
  const letters: string[] = []
  const layers = new Listed<SolidLayer>(({ name, colour }) => `${colour ?? ''} ${name}`)
  const relabel = sources.map((source): Relabel => {
    const base = letters.length
    for (const letter of source.letters) letters.push(letter)
    const layerOf = source.layers.map((layer) => layers.number(layer))
    return (label, value) => (label === 'letter' ? (value < 0 ? NONE : base + value) : label === 'layer' ? (layerOf[value] ?? 0) : value)
  })
  return { letters, layers: layers.list, relabel }
}

/** What labels are numbers of. */
export type Names = Pick<Solid, 'labels' | 'letters' | 'layers' | 'bands' | 'looks'>

type Relabel = (label: Label, value: number) => number

/** One set of labels for several sources, the rows of each behind those of the one before; for solids made of parts of all of them. */
export function joinNames(sources: readonly Names[]): Names {
  const { letters, layers, relabel } = commonNames(sources)
  return { letters, layers, ...joinRows(sources.map((source, k) => ({ solid: source, relabel: relabel[k] }))) }
}

function joinRows(
  parts: readonly { readonly solid: Names; readonly relabel: Relabel }[],
  partBase?: readonly number[],
): Pick<Solid, 'labels' | 'bands' | 'looks'> {
  const bands = new Listed<string>((name) => name)
  const looks = new Listed<Look>(lookKey)
  const bandOf = parts.map(({ solid }) => solid.bands.map((band) => bands.number(band)))
  const lookOf = parts.map(({ solid }) => solid.looks.map((look) => looks.number(look)))
  const labels = joinTables(
    parts.map(({ solid }) => solid.labels),
    (label, value, k) => {
      if (label === 'part') return value + (partBase?.[k] ?? 0)
      if (label === 'band') return bandOf[k][value] ?? NONE
      if (label === 'look') return lookOf[k][value] ?? NONE
      return parts[k].relabel(label, value)
    },
  )
  return { labels, bands: bands.list, looks: looks.list }
}

interface JoinPart {
  readonly solid: Solid
  readonly move?: readonly [number, number, number]
  readonly relabel: Relabel
}

function join(parts: readonly JoinPart[], lattice: number, { letters, layers }: Pick<Solid, 'letters' | 'layers'>): Solid {
  let [vertices, triangles] = [0, 0]
  for (const { solid } of parts) {
    vertices += vertexCount(solid)
    triangles += triangleCount(solid)
  }
  const partBase: number[] = []
  parts.reduce((base, { solid }, k) => ((partBase[k] = base), base + partCount(solid)), 0)
  const positions = new Float64Array(3 * vertices)
  const indices = new Uint32Array(3 * triangles)
  const surface = new Uint32Array(triangles)
  let [v, t, row] = [0, 0, 0]
  for (const { solid, move } of parts) {
    const p = solid.positions
    const finer = solid.lattice < lattice
    if (!move && !finer) positions.set(p, 3 * v)
    else {
      const [dx, dy, dz] = move ?? [0, 0, 0]
      for (let i = 0, o = 3 * v; i < p.length; i += 3, o += 3) {
        positions[o] = p[i] + dx
        positions[o + 1] = p[i + 1] + dy
        positions[o + 2] = p[i + 2] + dz
      }
      if (finer) for (let i = 3 * v; i < 3 * v + p.length; i++) positions[i] = Math.round(positions[i] / lattice) * lattice
    }
    for (let i = 0, o = 3 * t; i < solid.indices.length; i++, o++) indices[o] = solid.indices[i] + v
    for (let i = 0; i < solid.surface.length; i++) surface[t + i] = solid.surface[i] + row
    v += vertexCount(solid)
    t += triangleCount(solid)
    row += rowCount(solid.labels)
  }
  const solids = parts.map(({ solid }) => solid)
  return {
    kind: 'solid',
    positions,
    indices,
    surface,
    ...joinRows(parts, partBase),
    attributes: joinAttributes(solids, vertices, 3 * triangles),
    letters,
    layers,
    lattice,
  }
}

/** Names numbered as they come, like ones once. */
class Listed<T> {
  readonly list: T[] = []
  private readonly numbers = new Map<string, number>()
  constructor(private readonly key: (item: T) => string) {}
  number(item: T): number {
    const key = this.key(item)
    let number = this.numbers.get(key)
    if (number === undefined) this.numbers.set(key, (number = this.list.push(item) - 1))
    return number
  }
}

const lookKey = ({ name, material }: Look) => `${materialKey(material)} ${name}`

function joinAttributes(solids: readonly Solid[], vertices: number, corners: number): Attributes {
  const out: Partial<Record<string, AttributeArray>> = {}
  for (const name of ATTRIBUTE_NAMES) {
    if (!solids.some(({ attributes }) => attributes[name])) continue
    const { at, size } = ATTRIBUTES[name]
    const joined = attributeArray(name, vertices, corners)
    let base = 0
    for (const solid of solids) {
      // what is absent and can be made is made: a join must not turn a shaded surface flat
      const source = solid.attributes[name] ?? (name === 'normal' ? normalsOf(solid) : name === 'uv' ? uvsOf(solid) : undefined)
      if (source) joined.set(source, size * base)
      base += at === 'vertex' ? vertexCount(solid) : solid.indices.length
    }
    out[name] = joined
  }
  return out as Attributes
}

/** Some of the triangles, in the order given, with the vertices they use; letters, layers and looks keep their numbers. */
export function gather(solid: Solid, triangles: ArrayLike<number>): Solid {
  const count = triangles.length
  const vertexOf = new Int32Array(vertexCount(solid)).fill(-1)
  const rowOf = new Int32Array(rowCount(solid.labels)).fill(-1)
  const usedVertices = new Uint32Array(Math.min(vertexOf.length, 3 * count))
  const usedRows: number[] = []
  const corners = new Uint32Array(3 * count)
  const indices = new Uint32Array(3 * count)
  const surface = new Uint32Array(count)
  let vertices = 0
  for (let i = 0; i < count; i++) {
    const t = triangles[i]
    for (let k = 0; k < 3; k++) {
      const v = solid.indices[3 * t + k]
      if (vertexOf[v] < 0) {
        vertexOf[v] = vertices
        usedVertices[vertices++] = v
      }
      indices[3 * i + k] = vertexOf[v]
      corners[3 * i + k] = 3 * t + k
    }
    const row = solid.surface[t]
    if (rowOf[row] < 0) rowOf[row] = usedRows.push(row) - 1
    surface[i] = rowOf[row]
  }
  const kept = usedVertices.subarray(0, vertices)
  const positions = new Float64Array(3 * vertices)
  for (let i = 0; i < vertices; i++) for (let k = 0; k < 3; k++) positions[3 * i + k] = solid.positions[3 * kept[i] + k]
  return {
    ...solid,
    positions,
    indices,
    surface,
    labels: pickRows(solid.labels, usedRows),
    attributes: mapAttributes(solid.attributes, (_, array, { at, size }) => pickPlaces(array, size, at === 'vertex' ? kept : corners)),
  }
}

/** The solid taken apart: one for every number that `groupOf` gives, by that number; triangles of a negative one are left out. */
export function split(solid: Solid, groupOf: (triangle: number) => number): Map<number, Solid> {
  const lists = new Map<number, number[]>()
  for (let t = 0; t < triangleCount(solid); t++) {
    const group = groupOf(t)
    if (group < 0) continue
    const list = lists.get(group)
    if (list) list.push(t)
    else lists.set(group, [t])
  }
  return new Map([...lists].map(([group, list]) => [group, gather(solid, list)]))
}

/** Rows of a 3 × 4 matrix: what x, y and z become, each of x, y, z and 1. */
export type Matrix = readonly [number, number, number, number, number, number, number, number, number, number, number, number]

export const UNMOVED: Matrix = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]

/** The point through a matrix. */
export const apply = (m: Matrix, x: number, y: number, z: number): [number, number, number] => [
  m[0] * x + m[1] * y + m[2] * z + m[3],
  m[4] * x + m[5] * y + m[6] * z + m[7],
  m[8] * x + m[9] * y + m[10] * z + m[11],
]

/** First `b`, then `a`. */
export function compose(a: Matrix, b: Matrix): Matrix {
  const out: number[] = []
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 4; c++) out.push(a[4 * r] * b[c] + a[4 * r + 1] * b[4 + c] + a[4 * r + 2] * b[8 + c] + (c === 3 ? a[4 * r + 3] : 0))
  return out as unknown as Matrix
}

/**
 * The solid moved, turned, sized or mirrored; positions are rounded to its lattice, so what was turned or sized should be checked
 * again. A mirrored solid is turned right side out. Directions are turned by the matrix's inverse transpose.
 */
export function transformed(solid: Solid, m: Matrix, lattice = solid.lattice): Solid {
  const positions = new Float64Array(solid.positions.length)
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [solid.positions[i], solid.positions[i + 1], solid.positions[i + 2]]
    for (let k = 0; k < 3; k++) {
      const value = m[4 * k] * x + m[4 * k + 1] * y + m[4 * k + 2] * z + m[4 * k + 3]
      // without a negative nought, which some readers print
      positions[i + k] = Math.round(value / lattice) * lattice + 0
    }
  }
  // the cofactors are the inverse transpose times the determinant
  const cofactor = [
    m[5] * m[10] - m[6] * m[9],
    m[6] * m[8] - m[4] * m[10],
    m[4] * m[9] - m[5] * m[8],
    m[2] * m[9] - m[1] * m[10],
    m[0] * m[10] - m[2] * m[8],
    m[1] * m[8] - m[0] * m[9],
    m[1] * m[6] - m[2] * m[5],
    m[2] * m[4] - m[0] * m[6],
    m[0] * m[5] - m[1] * m[4],
  ]
  const mirrored = m[0] * cofactor[0] + m[1] * cofactor[1] + m[2] * cofactor[2] < 0
  const turned = mapAttributes(solid.attributes, (_, array, kind) => (kind.turns ? turnedDirections(array, cofactor, mirrored) : array))
  return mirrored ? turnedOver({ ...solid, positions, attributes: turned, lattice }) : { ...solid, positions, attributes: turned, lattice }
}

function turnedDirections(array: AttributeArray, c: readonly number[], mirrored: boolean): AttributeArray {
  const out = new Float32Array(array.length)
  for (let i = 0; i < array.length; i += 3) {
    const [x, y, z] = [array[i], array[i + 1], array[i + 2]]
    const n = [c[0] * x + c[1] * y + c[2] * z, c[3] * x + c[4] * y + c[5] * z, c[6] * x + c[7] * y + c[8] * z]
    const size = (Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) || 1) * (mirrored ? -1 : 1)
    for (let k = 0; k < 3; k++) out[i + k] = n[k] / size + 0
  }
  return out
}

/** The same surface seen from its other side; directions are the caller's. */
function turnedOver(solid: Solid): Solid {
  const corners = new Uint32Array(solid.indices.length)
  for (let i = 0; i < corners.length; i += 3) {
    corners[i] = i
    corners[i + 1] = i + 2
    corners[i + 2] = i + 1
  }
  return {
    ...solid,
    indices: Uint32Array.from(corners, (c) => solid.indices[c]),
    attributes: mapAttributes(solid.attributes, (_, array, { at, size }: AttributeKind) => (at === 'corner' ? pickPlaces(array, size, corners) : array)),
  }
}
