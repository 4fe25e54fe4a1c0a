import { plain } from '../../meta'
import { defineStep } from '../../step'
import { extrudeParams, VERSION } from './schema'
import type { EdgeParams } from '../../shared/edge'

export const extrude = defineStep(
  {
    kind: 'extrude',
    version: VERSION,
    family: 'Form',
    title: 'Extrude',
    summary: 'Gives an outline depth, with shaped edges in front and behind.',
    takes: ['outline'],
    gives: 'solid',
    params: extrudeParams,

    describe(params) {
      const edge = ({ profile, inset, height, name }: EdgeParams) =>
        `${profile === 'points' || profile === 'drawn' ? (name ?? 'own profile') : profile.replaceAll('-', ' ')} ${inset === height ? plain(inset) : `${plain(inset)} × ${plain(height)}`} mm`
      const { front, back, outset } = params
      const words = [`${plain(params.depth)} mm deep`]
      if (outset > 0) words.push(`grown by ${plain(outset)} mm`)
      if (front.profile !== 'square') words.push(`${edge(front)} in front`)
      if (back.profile !== 'square') words.push(`${edge(back)} behind`)
      return words.length === 1 ? `${words[0]}, plain edges` : words.join(' · ')
    },
  },
  () => import('./make'),
)
