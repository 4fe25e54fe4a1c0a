import { plain } from '../../meta'
import { THINGS } from '../../shared/physics-fields'
import { defineStep } from '../../step'
import { dropParams } from './schema'

export const dropStep = defineStep(
  {
    kind: 'drop',
    version: 1,
    family: 'Physics',
    title: 'Drop',
    summary: 'Letters, copies or shards fall, pile up and hit other pieces; the same every time.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: dropParams,
    moves: ['at', 'power', 'wind'],
    overTime: ['power', 'wind'],
    describe: ({ by, at }) => `${THINGS[by][0].toUpperCase()}${THINGS[by].slice(1)} fall, after ${plain(at)} s`,
  },
  () => import('./make'),
)
