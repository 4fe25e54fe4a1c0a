import { checkMesh } from '../../check/check'
import { mendedSolid } from '../../join/placed'
import { snap } from '../../outline/lattice'
import type { Solid } from '../../solid/solid'

/** More crossings than this are no matter of rounding. */
const MOST_ROUNDED = 40

type Places = readonly (readonly [number, number, number])[]

/** A solid whose surface was changed, certified: as it is, or mended where rounding has spoilt it (at `most` so many places); or where it crosses itself: a few places to be shown, and all that are known. */
export function certified(
  solid: Solid,
  most = MOST_ROUNDED,
): { readonly ok: true; readonly solid: Solid } | { readonly ok: false; readonly places: Places; readonly all: Places } {
  const check = checkMesh(solid)
  if (check.sound) return { ok: true, solid }
  const all = check.findings.flatMap((finding) => finding.places)
  const places = all.slice(0, 8)
  if (check.findings.some(({ code }) => code !== 'crossing' && code !== 'degenerate' && code !== 'pinched') || check.crossings > most)
    return { ok: false, places, all }
  const { solid: mended, mended: did } = mendedSolid(solid)
  return did.sound && checkMesh(mended).sound ? { ok: true, solid: mended } : { ok: false, places, all }
}

/** Positions on a lattice. */
export const onLattice = (positions: Float64Array, lattice: number): Float64Array => positions.map((v) => snap(v, lattice) + 0)
