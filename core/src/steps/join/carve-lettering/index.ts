import { plain } from '../../meta'
import { layingWords } from '../../shared/laying-fields'
import { defineStep } from '../../step'
import { carveLetteringParams } from './schema'

export const carveLettering = defineStep(
  {
    kind: 'carve-lettering',
    version: 5,
    family: 'Join',
    title: 'Carve lettering',
    summary:
      'Cuts words into this piece or round it, as a carver does: with a V-groove whose ridges are exact, a round groove, or to a floor with leaning walls.',
    takes: ['solid'],
    gives: 'solid',
    params: carveLetteringParams,
    // the tool's angle was the only one
    migrations: { 1: ({ angle, ...rest }) => (angle === undefined ? rest : { ...rest, tool: angle }) },
    describe: (params) => {
      const { cut, tool, depth, draft } = params
      const words =
        cut === 'v'
          ? `V-groove of ${plain(tool)}°`
          : cut === 'round'
            ? `Round groove, ${plain(depth)} mm`
            : `Flat, ${plain(depth)} mm deep${draft > 0 ? `, walls at ${plain(draft)}°` : ''}`
      return `${words}${layingWords(params)}`
    },
  },
  () => import('./make'),
)
