import type { Task } from '../../parallel/share-out'
import type { Triangles } from '../../solid/from-triangles'
import type { Solid } from '../../solid/solid'
import { volumeOf } from '../../solid/volume'
import type { Side } from '../../volume/beyond'
import { BAND } from '../../volume/estimate'
import type { SparseField } from '../../volume/field'
import type { Filter } from '../../volume/filter-names'
import { labelled, type LabelledMesh } from '../../volume/labelled'
import { type Breathe, fieldOf, type Meshed, redistanced, solidOfField, type Way, type Working } from '../../volume/remesh'
import { shifted, softened, type Softened } from '../../volume/soften'

interface Meshing extends Working {
  readonly way: Way
  readonly lattice: number
}

/** A field's surface as a certified solid. */
export async function meshedField(field: SparseField, source: LabelledMesh, names: Solid, meshing: Meshing): Promise<Meshed> {
  const meshed = await solidOfField(field, source, names, meshing)
  if (meshed.ok || meshed.places.length === 0) return meshed
  // filters leave distances that are none: right ones again, and what crossed is gone most often
  return solidOfField(await redistanced(field, { ...meshing, band: BAND }), source, names, meshing)
}

/** What is done to the field of a body before it becomes triangles again; lengths in mm. */
export type BodyChange =
  | { readonly kind: 'soften'; readonly how: Filter; readonly passes: number; readonly keepVolume: boolean }
  | { readonly kind: 'grow'; readonly how: 'grow' | 'shrink' | 'close' | 'open'; readonly by: number }

/** A changed field, and how far its surface was moved besides, so that it holds what it did, mm. */
export async function changedField(
  field: SparseField,
  change: BodyChange,
  source: Triangles,
  working: Working & { readonly breathe: Breathe },
): Promise<Softened> {
  if (change.kind === 'soften') return softened(field, change.how, change.passes, working, change.keepVolume ? volumeOf(source) : undefined)
  const { how, by } = change
  const first = how === 'grow' || how === 'close' ? by : -by
  const moved = shifted(field, first)
  if (how === 'grow' || how === 'shrink') return { field: moved, shift: 0 }
  // and back, by distances from where it came to lie
  return { field: shifted(await redistanced(moved, { ...working, band: field.band, side: sideOf(-first) }), -first), shift: 0 }
}

/** Where a surface goes that is moved by so much. */
export const sideOf = (by: number): Side => (by > 0 ? 'outside' : 'inside')

interface BodyToRemesh {
  readonly way: Way
  readonly lattice: number
  readonly solid: Solid
  readonly voxel: number
  /** voxels about the surface in which distances are right */
  readonly band: number
  /** the one side on which they are; both when left out */
  readonly side?: Side
  readonly change?: BodyChange
}

/** One body through its volume and back, for other threads. */
export const bodyThroughVolume: Task<BodyToRemesh, { readonly meshed: Meshed; readonly shift: number }> = {
  name: 'through-volume',
  run: async ({ solid, voxel, band, side, change, way, lattice }, breathe) => {
    const source = labelled(solid)
    const plain = await fieldOf(source, voxel, { band, side, breathe })
    const { field, shift } = change ? await changedField(plain.field, change, source, { breathe }) : { field: plain.field, shift: 0 }
    return { meshed: await meshedField(field, source, solid, { way, lattice, breathe }), shift }
  },
}
