import { checkMesh } from '../../check/check'
import type { Apart } from '../../repeat/apart'
import { onItsLattice } from '../../repeat/moved'
import { type Assembly, pickEntries } from '../../solid/assembly'
import { turnedBack } from '../../solid/flip'
import { NONE } from '../../solid/labels'
import { UNMOVED } from '../../solid/operations'
import { type Solid, solidBounds } from '../../solid/solid'
import { labelled } from '../../volume/labelled'
import { fieldOf, solidOfField } from '../../volume/remesh'
import type { StepContext, StepIssue, StepOutcome } from '../step'
import { certified } from './surfaces'

/** A voxel is no smaller than this share of what is mended. */
const FINEST = 1 / 400
/** What crosses at more places does not do so by rounding. */
const ROUNDED = 4

/**
 * What things were seen as at a moment, each a sound solid: as it was, mended where rounding spoilt it, or through its volume (voxels of about `voxel` mm) where it crosses itself. What stands still stays.
 * `mended`: how many had to go through their volume.
 */
export async function frameOf(
  { assembly, things }: Apart,
  shapeOf: (thing: number) => Solid,
  voxel: number,
  context: Pick<StepContext, 'breathe'>,
): Promise<{ readonly ok: true; readonly assembly: Assembly; readonly mended: number } | Extract<StepOutcome, { ok: false }>> {
  const moving = new Set(things.flatMap(({ entries }) => entries))
  const still = [...assembly.placements.unit.keys()].filter((entry) => !moving.has(entry))
  const units: Solid[] = [...assembly.units]
  const { placements } = assembly
  const rows: { unit: number; from: number; matrix: ArrayLike<number> }[] = still.map((entry) => ({
    unit: placements.unit[entry],
    from: entry,
    matrix: placements.matrix.subarray(12 * entry, 12 * entry + 12),
  }))
  let mended = 0
  for (const [i, thing] of things.entries()) {
    await context.breathe()
    const shape = turnedBack(shapeOf(i))
    const sure = certified(shape, ROUNDED)
    let solid = sure.ok ? sure.solid : undefined
    if (!solid) {
      mended++
      solid = await throughItsVolume(shape, voxel, context)
      if (!solid)
        return {
          ok: false,
          issue: {
            code: 'not-certified',
            severity: 'failed',
            message: 'At this moment it crosses itself, and could not be mended.',
            remedy: 'Show another moment, or make it stiffer. The place is shown in the view.',
            ...(sure.ok ? {} : { places: sure.places }),
            field: 'at',
          },
        }
    }
    rows.push({ unit: units.push(solid) - 1, from: thing.entries[0], matrix: UNMOVED })
  }
  // only units that are used
  const used = [...new Set(rows.map(({ unit }) => unit))]
  const picked = pickEntries(
    assembly,
    rows.map(({ from }) => from),
  )
  const matrix = new Float64Array(12 * rows.length)
  rows.forEach((row, i) => matrix.set(row.matrix, 12 * i))
  return {
    ok: true,
    mended,
    assembly: onItsLattice({
      ...picked,
      units: used.map((unit) => units[unit]),
      placements: {
        ...picked.placements,
        unit: Uint32Array.from(rows, ({ unit }) => used.indexOf(unit)),
        matrix,
        // a thing's own triangles know their letters
        letter: Int32Array.from(rows, ({ unit }, i) => (unit < assembly.units.length ? picked.placements.letter[i] : NONE)),
      },
      lattice: Math.max(assembly.lattice, ...units.map(({ lattice }) => lattice)),
    }),
  }
}

/** A closed surface that crosses itself, as the surface of all that it holds at least once. */
async function throughItsVolume(solid: Solid, voxel: number, { breathe }: Pick<StepContext, 'breathe'>): Promise<Solid | undefined> {
  const source = labelled(solid)
  const box = solidBounds(solid.positions)
  const longest = Math.max(...[0, 1, 2].map((k) => box[k + 3] - box[k]))
  // a coarser one where a finer one cannot be certified
  for (const [way, times] of [
    ['sharp', 1],
    ['smooth', 1],
    ['smooth', 1.5],
  ] as const) {
    const step = Math.max(1, Math.round((times * Math.max(voxel, longest * FINEST)) / solid.lattice)) * solid.lattice
    const { field } = await fieldOf(source, step, { breathe: () => breathe() })
    const meshed = await solidOfField(field, source, solid, { way, lattice: solid.lattice, breathe: () => breathe() })
    if (meshed.ok && checkMesh(meshed.solid).sound) return meshed.solid
  }
  return undefined
}

/** Said of a moment at which something had to be mended. */
export const mendedSaid = (count: number): StepIssue[] =>
  count === 0
    ? []
    : [
        {
          code: 'mended',
          severity: 'note',
          message:
            count === 1
              ? 'One thing crosses itself at this moment: it is mended through its volume, and a little rounder there.'
              : `${count} things cross themselves at this moment: they are mended through their volumes, and a little rounder there.`,
          remedy: 'Show another moment, or make it stiffer, to have it as it is.',
          field: 'at',
        },
      ]
