import { colourOf, type Look } from '../look/material'
import { NONE, rowCount, withLabel } from './labels'
import { joinSolids, type Matrix, transformed } from './operations'
import { type Solid, triangleCount } from './solid'

/** Where copies of solids stand and what they are numbered; one entry a copy in every column. */
export interface Placements {
  /** which of the assembly's units it is */
  readonly unit: Uint32Array
  /** rows of its 3 × 4 matrix, 12·copies long, see operations.ts */
  readonly matrix: Float64Array
  /** the letter, the copy's number and the shard it stands for; NONE where it is none */
  readonly letter: Int32Array
  readonly copy: Int32Array
  readonly shard: Int32Array
  /** its own colour, red, green and blue a copy; as its unit is dressed when left out */
  readonly colour?: Uint8Array
}

/** Solids with placements. It stays copies of few solids until a step or a format needs one solid. */
export interface Assembly {
  readonly kind: 'assembly'
  readonly units: readonly Solid[]
  readonly placements: Placements
  readonly letters: readonly string[]
  readonly lattice: number
}

export const copyCount = ({ placements }: Pick<Assembly, 'placements'>): number => placements.unit.length

/** How many triangles it would have as one solid: told before it is made one. */
export function assemblyTriangles({ units, placements }: Assembly): number {
  const counts = units.map(triangleCount)
  return placements.unit.reduce((sum, unit) => sum + counts[unit], 0)
}

/** The matrix of a copy. */
export const matrixOf = ({ matrix }: Placements, copy: number): Matrix => Array.from(matrix.subarray(12 * copy, 12 * copy + 12)) as unknown as Matrix

/**
 * The assembly as one solid: every copy at its place, rounded to the lattice, with its numbers among the labels. Nothing is united. Takes
 * `assemblyTriangles` triangles of memory; ask first.
 */
export function bakedAssembly({ units, placements, letters, lattice }: Assembly): Solid {
  const solids = Array.from(placements.unit, (unit, i): Solid => {
    const solid = transformed(units[unit], matrixOf(placements, i), lattice)
    const labels = withLabel(
      withLabel(solid.labels, 'letter', () => NONE),
      'copy',
      () => placements.copy[i],
    )
    return { ...solid, labels, letters: [], looks: placements.colour ? recoloured(solid.looks, placements.colour, i) : solid.looks }
  })
  const whole = joinSolids(solids)
  // the letters are those of the assembly, which all copies share; rows stand copy by copy
  const letter = new Int32Array(rowCount(whole.labels))
  let row = 0
  solids.forEach(({ labels }, i) => letter.fill(placements.letter[i], row, (row += rowCount(labels))))
  return { ...whole, labels: { ...whole.labels, letter }, letters, lattice }
}

const recoloured = (looks: readonly Look[], colours: Uint8Array, i: number): Look[] => {
  const colour = colourOf([colours[3 * i], colours[3 * i + 1], colours[3 * i + 2]])
  return looks.map(({ name, material }) => ({ name, material: { ...material, colour } }))
}
