import { defineStep } from '../../step'
import { freeCageParams } from './schema'

export const freeCage = defineStep(
  {
    kind: 'free-cage',
    version: 3,
    family: 'Deform',
    title: 'Free cage',
    summary: 'Puts a cage of points about the piece; pull them in the view, and the piece follows.',
    takes: ['solid'],
    gives: 'solid',
    params: freeCageParams,
    describe: ({ across, up, deep, moved }) => `${across} × ${up} × ${deep} points, ${moved.length === 0 ? 'none' : moved.length} moved`,
  },
  () => import('./make'),
)
