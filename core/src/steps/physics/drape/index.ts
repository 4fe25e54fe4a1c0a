import { plain } from '../../meta'
import { defineStep } from '../../step'
import { drapeParams } from './schema'

export const drapeStep = defineStep(
  {
    kind: 'drape',
    version: 1,
    family: 'Physics',
    title: 'Drape',
    summary: 'A cloth falls over letters and hangs in folds, with a thickness of its own; the same every time.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: drapeParams,
    moves: ['at', 'power', 'wind'],
    overTime: ['power', 'wind'],
    describe: ({ thick, at, stiffness }) => `${plain(thick)} mm thick, ${stiffness < 35 ? 'soft' : stiffness < 70 ? 'firm' : 'stiff'}, after ${plain(at)} s`,
  },
  () => import('./make'),
)
