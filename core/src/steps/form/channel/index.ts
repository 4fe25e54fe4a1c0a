import { plain } from '../../meta'
import { defineStep } from '../../step'
import { channelParams } from './schema'

export const channel = defineStep(
  {
    kind: 'channel',
    version: 2,
    family: 'Form',
    title: 'Channel',
    summary: 'Open-faced letters with walls and a floor, for light, with an acrylic face and holes to mount them.',
    takes: ['outline'],
    gives: 'solid',
    params: channelParams,
    describe: ({ depth, wall, panel, thickness }) =>
      `${plain(depth)} mm deep, walls ${plain(wall)} mm${panel ? `, ${plain(thickness)} mm acrylic set in` : ', open'}`,
  },
  () => import('./make'),
)
