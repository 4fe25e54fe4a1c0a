import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { UNMOVED } from '../../../solid/operations'
import { solidOf } from '../../shared/joining'
import { throughVolume } from '../../shared/volumes'
import { type Evaluate, failed } from '../../step'
import type { remeshParams } from './schema'

export const evaluate: Evaluate<typeof remeshParams> = async (input, params, context) => {
  let body = solidOf(input)
  const others = (context.inputs.others ?? []).flatMap((value) => solidOf(value) ?? [])
  if (body && others.length > 0) {
    // distances are right only where solids do not overlap: they are united first
    await loadManifold()
    const places = context.placed?.others ?? []
    const partners = others.map((solid, i) => ({ solid, matrix: places[i]?.matrix ?? places[0]?.matrix ?? UNMOVED }))
    const joined = joinSolid(body, partners, 'fuse')
    if (!joined.ok) return failed('not-certified', 'The pieces could not be made one exactly.', 'Move one of them by a tenth of a millimetre.', 'others')
    body = joined.solid
  }
  return throughVolume(body ?? input, context, { title: 'Voxel remesh', params, way: params.way, byBodies: (voxel) => ({ apart: voxel }) })
}
