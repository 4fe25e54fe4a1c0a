import { GROUPS, type Materials } from '../../solid/solid'
import { defineStep, failed } from '../step'
import { dressParams } from './schema'

export const dress = defineStep({
  kind: 'dress',
  version: 1,
  family: 'Dress',
  title: 'Dress',
  summary: 'Gives face, edge, return, back and inside their own colour and finish.',
  takes: 'solid',
  gives: 'solid',
  params: dressParams,

  describe(params) {
    const finish = (m: { metalness: number; roughness: number }) =>
      m.metalness > 0.4 ? (m.roughness < 0.35 ? 'polished metal' : 'brushed metal') : m.roughness < 0.35 ? 'gloss' : 'matt'
    return `Face ${finish(params.face)} · edge ${finish(params.edge)} · return ${finish(params.return)}`
  },

  async evaluate(input, params) {
    if (input?.kind !== 'solid') return failed('no-solid', 'Dress needs a solid to work on.', 'Put a form such as Extrude before it.')
    const materials = Object.fromEntries(GROUPS.map((group) => [group, params[group]])) as Materials
    return { ok: true, value: { ...input, materials, layerColours: params.layerColours }, issues: [] }
  },
})
