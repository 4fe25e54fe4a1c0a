import { plain } from '../../meta'
import { defineStep } from '../../step'
import { hollowParams } from './schema'

export const hollow = defineStep(
  {
    kind: 'hollow',
    version: 1,
    family: 'Volume',
    title: 'Hollow',
    summary: 'Leaves a wall of even thickness, outside untouched, with drain holes where they are wanted.',
    takes: ['solid'],
    gives: 'solid',
    params: hollowParams,
    roughly: true,
    describe: ({ wall, drains, drain }) => `${plain(wall)} mm wall${drains === 'none' ? '' : `, ${plain(drain)} mm drain holes ${drains}`}`,
  },
  () => import('./make'),
)
