import type { Task } from '../../parallel/share-out'
import type { Solid } from '../../solid/solid'
import { BAND } from '../../volume/estimate'
import type { SparseField } from '../../volume/field'
import { labelled, type LabelledMesh } from '../../volume/labelled'
import { type Breathe, fieldOf, type Meshed, redistanced, solidOfField, type Way } from '../../volume/remesh'

interface Meshing {
  readonly way: Way
  readonly lattice: number
  readonly breathe: Breathe
}

/** A field's surface as a certified solid. */
export async function meshedField(field: SparseField, source: LabelledMesh, names: Solid, meshing: Meshing): Promise<Meshed> {
  const meshed = await solidOfField(field, source, names, meshing)
  if (meshed.ok || meshed.places.length === 0) return meshed
  // filters leave distances that are none: right ones again, and what crossed is gone most often
  return solidOfField(await redistanced(field, { band: BAND, breathe: meshing.breathe }), source, names, meshing)
}

interface BodyToRemesh extends Omit<Meshing, 'breathe'> {
  readonly solid: Solid
  readonly voxel: number
  /** voxels about the surface in which distances are right */
  readonly band: number
}

/** One body through its volume and back, for other threads. */
export const remeshBody: Task<BodyToRemesh, Meshed> = {
  name: 'voxel-remesh',
  run: async ({ solid, voxel, band, way, lattice }, breathe) => {
    const source = labelled(solid)
    const { field } = await fieldOf(source, voxel, { band, breathe })
    return meshedField(field, source, solid, { way, lattice, breathe })
  },
}
