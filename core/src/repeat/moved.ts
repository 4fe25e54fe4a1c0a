import { latticeFor } from '../outline/lattice'
import { type Assembly, assemblyBounds } from '../solid/assembly'
import { compose, type Matrix } from '../solid/operations'
import type { Apart, Thing } from './apart'

/** Things each through a matrix of its own; those without one stay as they stand, exactly. */
export function movedThings({ assembly, things }: Apart, moveOf: (thing: Thing, number: number) => Matrix | undefined): Assembly {
  const { placements } = assembly
  const matrix = placements.matrix.slice()
  things.forEach((thing, i) => {
    const move = moveOf(thing, i)
    if (!move) return
    for (const entry of thing.entries) matrix.set(compose(move, placements.matrix.subarray(12 * entry, 12 * entry + 12) as unknown as Matrix), 12 * entry)
  })
  return onItsLattice({ ...assembly, placements: { ...placements, matrix } })
}

/** An assembly on a lattice that is coarse enough for how far it reaches now. */
export function onItsLattice(assembly: Assembly): Assembly {
  const far = assemblyBounds(assembly).reduce((most, v) => (Number.isFinite(v) ? Math.max(most, Math.abs(v)) : most), 0)
  return { ...assembly, lattice: Math.max(assembly.lattice, latticeFor(far)) }
}
