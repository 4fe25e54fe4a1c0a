import { z } from 'zod'
import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { UNMOVED } from '../../../solid/operations'
import { meta, plain } from '../../meta'
import { partnersParam, solidOf } from '../../shared/joining'
import { throughVolume, voxelFields } from '../../shared/volumes'
import { defineStep, failed } from '../../step'

const remeshParams = z.object({
  ...voxelFields,
  way: z
    .enum(['smooth', 'sharp'])
    .default('smooth')
    .meta(meta({ title: 'Edges', labels: ['Soft', 'Sharp'], description: 'Sharp keeps edges and corners where they were.' })),
  others: partnersParam,
})

export const voxelRemesh = defineStep({
  kind: 'voxel-remesh',
  version: 1,
  family: 'Volume',
  title: 'Voxel remesh',
  summary: 'Takes the piece through a volume: one even, fine surface, its colours and words kept.',
  takes: ['solid'],
  gives: 'solid',
  params: remeshParams,
  roughly: true,
  describe: ({ fit, voxel, way, others }) =>
    `${fit === 'piece' ? 'Voxels fitted' : `${plain(voxel)} mm voxels`}, ${way === 'sharp' ? 'edges sharp' : 'edges soft'}${others.length > 0 ? `, with ${others.length === 1 ? 'one piece' : `${others.length} pieces`}` : ''}`,
  async evaluate(input, params, context) {
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
    return throughVolume(body ?? input, context, { title: 'Voxel remesh', params, way: params.way })
  },
})
