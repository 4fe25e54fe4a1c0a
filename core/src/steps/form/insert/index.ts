import { inlayParams } from '../../join/inlay/schema'
import { plain } from '../../meta'
import { defineStep } from '../../step'
import { insertParams } from './schema'

export const insert = defineStep(
  {
    kind: 'insert',
    version: 2,
    family: 'Form',
    title: 'Insert',
    summary: 'The words as they fit into the pocket of another piece’s Inlay step.',
    takes: ['outline'],
    gives: 'solid',
    params: insertParams,
    // what lies on a surface is made on the surface that the pocket was cut into, and by all of its words
    follows: ({ pocket }, settings) => {
      const of = inlayParams.safeParse(settings.pocket).data
      if (!of || of.lay === 'place') return []
      return [
        { name: 'body', accepts: ['solid'], piece: pocket.piece, before: 'inlay' },
        ...(of.words.piece ? [{ name: 'words', accepts: ['outline'] as const, piece: of.words.piece, unlessWaiting: true }] : []),
      ]
    },
    describe: ({ front }) => `Fits the pocket${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}`,
  },
  () => import('./make'),
)
