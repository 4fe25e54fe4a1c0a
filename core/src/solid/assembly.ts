import { type Look, recoloured } from '../look/material'
import { NONE, withLabel } from './labels'
import { compose, joinSolids, type Matrix, transformed } from './operations'
import { labelAt, type Solid, solidBounds, triangleCount } from './solid'

/** Where copies of solids stand and what they are numbered; one entry a copy in every column. */
export interface Placements {
  /** which of the assembly's units it is */
  readonly unit: Uint32Array
  /** rows of its 3 × 4 matrix, 12·copies long, see operations.ts */
  readonly matrix: Float64Array
  /** the letter all of it stands for; NONE where its triangles keep the letters they have */
  readonly letter: Int32Array
  /** the copy's number, NONE for what is no copy; several entries may make up one copy */
  readonly copy: Int32Array
  /** the shard it stands for; NONE where it is none */
  readonly shard: Int32Array
  /** what its place is called among those of its letter, three numbers a copy (see repeat/spots.ts); left out where places have no names */
  readonly spot?: Float64Array
  /** its own colour as 0xrrggbb, NONE for as its unit is dressed; all are so when left out */
  readonly colour?: Int32Array
}

/** Solids with placements. It stays copies of few solids until a step or a format needs one solid. */
export interface Assembly {
  readonly kind: 'assembly'
  readonly units: readonly Solid[]
  readonly placements: Placements
  /** what the letters of units and placements are numbers of */
  readonly letters: readonly string[]
  readonly lattice: number
  /** see Outline */
  readonly nothingYet?: boolean
}

/** How many things stand in it, the bodies that carry copies among them. */
export const copyCount = ({ placements }: Pick<Assembly, 'placements'>): number => placements.unit.length

/** How many copies stand in it: what is no copy is not counted, and what several entries make up counts once. */
export const copiesIn = ({ placements: { copy } }: Pick<Assembly, 'placements'>): number => new Set(copy.filter((number) => number !== NONE)).size

/** How many triangles it would have as one solid: told before it is made one. */
export function assemblyTriangles({ units, placements }: Pick<Assembly, 'units' | 'placements'>): number {
  const counts = units.map(triangleCount)
  return placements.unit.reduce((sum, unit) => sum + counts[unit], 0)
}

/** The matrix of a copy. */
export const matrixOf = ({ matrix }: Placements, copy: number): Matrix => Array.from(matrix.subarray(12 * copy, 12 * copy + 12)) as unknown as Matrix

/** The box about each copy, six numbers each as solidBounds gives them, mm: of its unit's box, turned with it, so never too small. */
export function copyBoxes({ units, placements: { unit, matrix } }: Pick<Assembly, 'units' | 'placements'>): Float64Array {
  const own = units.map(({ positions }) => solidBounds(positions))
  const out = new Float64Array(6 * unit.length)
  for (let i = 0; i < unit.length; i++) {
    const box = own[unit[i]]
    for (let k = 0; k < 3; k++) {
      const o = 12 * i + 4 * k
      let [middle, half] = [matrix[o + 3], 0]
      for (let j = 0; j < 3; j++) {
        middle += (matrix[o + j] * (box[j] + box[j + 3])) / 2
        half += (Math.abs(matrix[o + j]) * (box[j + 3] - box[j])) / 2
      }
      out[6 * i + k] = middle - half
      out[6 * i + k + 3] = middle + half
    }
  }
  return out
}

/** So many vertices are gone through for a box that is exact. */
const MOST_MEASURED = 4_000_000

/**
 * [minX, minY, minZ, maxX, maxY, maxZ] of all that stands in it; infinities when empty. Exact, but that turned copies count with the boxes of their units where there are
 * more than four million vertices of such.
 */
export function assemblyBounds(assembly: Pick<Assembly, 'units' | 'placements'>): [number, number, number, number, number, number] {
  const { units, placements } = assembly
  const { unit, matrix: m } = placements
  const boxes = copyBoxes(assembly)
  const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  const isTurned = (o: number) => [0, 1, 2].some((k) => [0, 1, 2].filter((j) => m[o + 4 * k + j] !== 0).length > 1)
  const turned = Uint8Array.from(unit, (_, i) => (isTurned(12 * i) ? 1 : 0))
  const exact = unit.reduce((sum, u, i) => sum + (turned[i] ? units[u].positions.length / 3 : 0), 0) <= MOST_MEASURED
  for (let i = 0; i < unit.length; i++) {
    // what lies within the others' box need not be looked at more closely
    const within = [0, 1, 2].every((k) => boxes[6 * i + k] >= box[k] && boxes[6 * i + k + 3] <= box[k + 3])
    if (within) continue
    if (!turned[i] || !exact) {
      for (let k = 0; k < 3; k++) {
        box[k] = Math.min(box[k], boxes[6 * i + k])
        box[k + 3] = Math.max(box[k + 3], boxes[6 * i + k + 3])
      }
      continue
    }
    const p = units[unit[i]].positions
    for (let v = 0; v < p.length; v += 3)
      for (let k = 0; k < 3; k++) {
        const o = 12 * i + 4 * k
        const at = m[o] * p[v] + m[o + 1] * p[v + 1] + m[o + 2] * p[v + 2] + m[o + 3]
        if (at < box[k]) box[k] = at
        if (at > box[k + 3]) box[k + 3] = at
      }
  }
  return box
}

/** An assembly through a matrix, e.g. set upon its foot. */
export function movedAssembly(assembly: Assembly, by: Matrix): Assembly {
  const { matrix } = assembly.placements
  const moved = new Float64Array(matrix.length)
  for (let o = 0; o < matrix.length; o += 12) moved.set(compose(by, matrix.subarray(o, o + 12) as unknown as Matrix), o)
  return { ...assembly, placements: { ...assembly.placements, matrix: moved } }
}

/** Some of what stands in an assembly, in the order given. */
export function pickEntries(assembly: Assembly, entries: readonly number[]): Assembly {
  const { placements: p } = assembly
  const ints = (list: Int32Array) => Int32Array.from(entries, (i) => list[i])
  const rows = (list: Float64Array, size: number) => {
    const out = new Float64Array(size * entries.length)
    entries.forEach((entry, i) => out.set(list.subarray(size * entry, size * entry + size), size * i))
    return out
  }
  return {
    ...assembly,
    placements: {
      unit: Uint32Array.from(entries, (i) => p.unit[i]),
      matrix: rows(p.matrix, 12),
      letter: ints(p.letter),
      copy: ints(p.copy),
      shard: ints(p.shard),
      ...(p.spot ? { spot: rows(p.spot, 3) } : {}),
      ...(p.colour ? { colour: ints(p.colour) } : {}),
    },
  }
}

/** Its copy i as a solid of its own: at its place, rounded to the assembly's lattice, with its numbers and colour, over the assembly's list of letters. */
export function copySolid({ units, placements, letters, lattice }: Assembly, i: number): Solid {
  const solid = transformed(units[placements.unit[i]], matrixOf(placements, i), lattice)
  const { letter, copy, colour } = placements
  const labels = withLabel(
    withLabel(solid.labels, 'letter', (row) => (letter[i] === NONE ? solid.labels.letter[row] : letter[i])),
    'copy',
    () => copy[i],
  )
  return { ...solid, labels, letters, looks: colour && colour[i] !== NONE ? inOneColour(solid.looks, colour[i]) : solid.looks }
}

/**
 * The assembly as one solid: every copy at its place, rounded to the lattice, with its numbers among the labels. Nothing is united. Takes
 * `assemblyTriangles` triangles of memory; ask first.
 */
export function bakedAssembly(assembly: Assembly): Solid {
  // without lists of letters, which would be listed one behind another, numbers stay as they are
  const whole = joinSolids(Array.from({ length: copyCount(assembly) }, (_, i): Solid => ({ ...copySolid(assembly, i), letters: [] })))
  return { ...whole, letters: assembly.letters, lattice: assembly.lattice }
}

/** "#rrggbb" of 0xrrggbb. */
export const hexOf = (colour: number): string => `#${colour.toString(16).padStart(6, '0')}`

/** A solid with all its looks in one colour, 0xrrggbb. */
export const inColour = (solid: Solid, colour: number): Solid => ({ ...solid, looks: inOneColour(solid.looks, colour) })

const inOneColour = (looks: readonly Look[], colour: number): Look[] =>
  looks.map(({ name, material }) => ({ name, material: recoloured(material, hexOf(colour)) }))

/** All that stands in two assemblies, the first one's before the second's, which keeps no places of its own among letters; letters are the first one's. */
export function besideAssembly(whole: Assembly, more: Assembly): Assembly {
  const { placements: a } = whole
  const { placements: b } = more
  const ints = (name: 'letter' | 'copy' | 'shard') => Int32Array.from([...a[name], ...b[name]])
  return {
    ...whole,
    units: [...whole.units, ...more.units],
    placements: {
      unit: Uint32Array.from([...a.unit, ...b.unit.map((unit) => unit + whole.units.length)]),
      matrix: Float64Array.from([...a.matrix, ...b.matrix]),
      letter: ints('letter'),
      copy: ints('copy'),
      shard: ints('shard'),
      ...(a.spot ? { spot: Float64Array.from([...a.spot, ...new Float64Array(3 * b.unit.length)]) } : {}),
      ...(a.colour ? { colour: Int32Array.from([...a.colour, ...new Int32Array(b.unit.length).fill(NONE)]) } : {}),
    },
    lattice: Math.max(whole.lattice, more.lattice),
  }
}

/** Solids at places, with no numbers of their own: row after row of `matrices` and which of the units stands there. */
export function placedUnits(units: readonly Solid[], unit: readonly number[], matrices: readonly Matrix[]): Assembly {
  const none = () => new Int32Array(unit.length).fill(NONE)
  return {
    kind: 'assembly',
    units,
    placements: { unit: Uint32Array.from(unit), matrix: Float64Array.from(matrices.flat()), letter: none(), copy: none(), shard: none() },
    letters: [],
    lattice: Math.max(...units.map(({ lattice }) => lattice)),
  }
}

/** What each of what stands in an assembly is called: shards by their letter and their number among its shards, "a 3"; nothing for all else. */
export function shardNames({ units, placements: { unit, shard }, letters }: Assembly): string[] {
  const counts = new Map<string, number>()
  return Array.from(unit, (u, i) => {
    if (shard[i] === NONE) return ''
    const solid = units[u]
    const called = (letters[solid.indices.length > 0 ? labelAt(solid, 0, 'letter') : NONE] ?? '').trim() || 'Shard'
    const number = (counts.get(called) ?? 0) + 1
    counts.set(called, number)
    return `${called} ${number}`
  })
}
