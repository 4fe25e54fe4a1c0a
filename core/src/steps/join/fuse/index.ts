import { plain } from '../../meta'
import { defineStep } from '../../step'
import { fuseParams } from './schema'

export const fuse = defineStep(
  {
    kind: 'fuse',
    version: 2,
    family: 'Join',
    title: 'Fuse',
    summary: 'Makes this piece and others one body, each where it stands.',
    takes: ['solid'],
    gives: 'solid',
    params: fuseParams,
    describe: ({ others, stand, sunk }) =>
      `With ${others.length === 1 ? 'one piece' : `${others.length} pieces`}${stand === 'face' ? `, on the face, ${plain(sunk)} mm in` : ''}`,
  },
  () => import('./make'),
)
