import type { Apart, Thing } from '../repeat/apart'
import { copySolid } from '../solid/assembly'
import { joinSolids } from '../solid/operations'
import type { Solid } from '../solid/solid'

/** A thing as one solid in the assembly's coordinates, over the assembly's list of letters. */
export const solidOfThing = ({ assembly }: Apart, { entries }: Thing): Solid =>
  entries.length === 1
    ? copySolid(assembly, entries[0])
    : { ...joinSolids(entries.map((entry) => ({ ...copySolid(assembly, entry), letters: [] }))), letters: assembly.letters }
