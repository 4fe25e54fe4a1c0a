import type { Triangles } from '../solid/from-triangles'
import { dualMesh } from './dual-mesh'
import type { SparseField } from './field'
import { filtered, VARIANCE } from './filters'
import { type Filter } from './filter-names'
import { type Breathe, redistanced, type Working } from './remesh'
import { volumeOf } from '../solid/volume'

/** After so many passes distances are made right again: those beyond the band would be drawn in otherwise. */
const PASSES = 2

/** Passes that a softening by `amount` mm takes at a voxel size; the amount is the width (standard deviation) of a Gaussian that does the same. */
export const passesFor = (amount: number, voxel: number, filter: Filter): number => Math.max(1, Math.round((amount / voxel) ** 2 / VARIANCE[filter]))

/** A softened field, and the level by which it was moved to keep the volume, mm. */
export interface Softened {
  readonly field: SparseField
  readonly shift: number
}

/**
 * Softens a field by passes of a filter. With `keep` (mm³) the surface is moved afterwards until it holds so much again, measured on its
 * triangles; where it cannot, it stays as near as it came.
 */
export async function softened(
  field: SparseField,
  filter: Filter,
  passes: number,
  working: Working & { readonly breathe: Breathe },
  keep?: number,
): Promise<Softened> {
  let now = field
  for (let pass = 1; pass <= passes; pass++) {
    now = await filtered(now, filter, working.breathe)
    if (pass % PASSES === 0 || pass === passes) now = await redistanced(now, working)
  }
  if (keep === undefined) return { field: now, shift: 0 }
  const level = await levelForVolume(now, keep, working.breathe)
  return { field: level === 0 ? now : shifted(now, level), shift: level }
}

/** Distances from the surface that lies `by` mm further out. */
export const shifted = (field: SparseField, by: number): SparseField => field.withDistances(field.distance.map((d) => d - by))

/** The level at which a field's surface holds a volume, by secants on its triangles; at most as far out or in as its band is wide. */
async function levelForVolume(field: SparseField, wanted: number, breathe: Breathe): Promise<number> {
  const most = (field.band - 1.5) * field.voxel
  const held = (v: number) => Math.min(most, Math.max(-most, v))
  const at = async (level: number) => volumeOf((await dualMesh(field, { level, breathe })) as Triangles) - wanted
  let [a, fa] = [0, await at(0)]
  if (Math.abs(fa) < 1e-5 * wanted) return 0
  let b = held(fa > 0 ? -0.2 * field.voxel : 0.2 * field.voxel)
  let fb = await at(b)
  for (let round = 0; round < 6 && Math.abs(fb) > 1e-5 * wanted && fb !== fa; round++) {
    const next = held(b - (fb * (b - a)) / (fb - fa))
    if (next === b) break
    ;[a, fa] = [b, fb]
    b = next
    fb = await at(b)
  }
  return b
}
