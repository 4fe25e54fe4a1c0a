import { checkMesh } from '../../check/check'
import { mendedSolid } from '../../join/placed'
import { snap } from '../../outline/lattice'
import type { Solid } from '../../solid/solid'
import type { StepIssue } from '../step'

/** More crossings than this are no matter of rounding. */
const MOST_ROUNDED = 40

/** So many places are shown at most. */
export const MOST_PLACES = 8

export type Places = readonly (readonly [number, number, number])[]

/** A solid whose surface was changed, certified: as it is, or mended where rounding has spoilt it (at `most` so many places); or where it crosses itself: a few places to be shown, and all that are known. */
export function certified(
  solid: Solid,
  most = MOST_ROUNDED,
): { readonly ok: true; readonly solid: Solid } | { readonly ok: false; readonly places: Places; readonly all: Places } {
  const check = checkMesh(solid)
  if (check.sound) return { ok: true, solid }
  const all = check.findings.flatMap((finding) => finding.places)
  const places = all.slice(0, MOST_PLACES)
  if (check.findings.some(({ code }) => code !== 'crossing' && code !== 'degenerate' && code !== 'pinched') || check.crossings > most)
    return { ok: false, places, all }
  const { solid: mended, mended: did } = mendedSolid(solid)
  return did.sound && checkMesh(mended).sound ? { ok: true, solid: mended } : { ok: false, places, all }
}

/** Positions on a lattice. */
export const onLattice = (positions: Float64Array, lattice: number): Float64Array => positions.map((v) => snap(v, lattice) + 0)

/** That a surface was left as it was where it would have passed through itself; `field` and `remedy` say what leaves less so. */
export const keptThere = (places: Places, field: string, remedy: string): StepIssue => ({
  code: 'kept-there',
  severity: 'note',
  message: 'It is as it was where the surface would pass through itself otherwise.',
  remedy: `The places are shown in the view. ${remedy}`,
  places: places.slice(0, MOST_PLACES),
  field,
})
