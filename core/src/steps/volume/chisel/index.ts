import { plain } from '../../meta'
import { defineStep } from '../../step'
import { chiselParams, type Params } from './schema'

const WORDS: Record<Params['shape'], string> = {
  cushion: 'Cushion',
  slope: 'Slopes',
  hollow: 'Hollows',
  double: 'Double curve',
  terraces: 'Terraces',
  groove: 'Groove',
  drawn: 'Drawn curve',
}

export const chisel = defineStep(
  {
    kind: 'chisel',
    version: 2,
    family: 'Volume',
    title: 'Chisel',
    summary: 'Raises or sinks faces, flat or shaped, by a curve over the distance to the outline: cushions, ridges, grooves, terraces.',
    takes: ['solid'],
    gives: 'solid',
    params: chiselParams,
    describe: (params) =>
      `${WORDS[params.shape]} ${plain(Math.abs(params.height))} mm ${params.height < 0 !== (params.shape === 'groove') ? 'deep' : 'high'}, ${
        params.shape === 'groove' ? `${plain(params.inside)} mm inside` : `over ${plain(params.reach)} mm`
      }`,
  },
  () => import('./make'),
)
