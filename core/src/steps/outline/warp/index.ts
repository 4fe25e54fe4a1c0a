import { plain } from '../../meta'
import { defineStep } from '../../step'
import { warpParams } from './schema'

export const warp = defineStep(
  {
    kind: 'warp',
    version: 2,
    family: 'Outline',
    title: 'Warp',
    summary: 'Bends the whole outline: arch, ripple, swelling middle, perspective, or between two drawn lines.',
    takes: ['outline'],
    gives: 'outline',
    params: warpParams,
    describe: ({ shape, angle, amount }) =>
      shape === 'arch'
        ? `Arch of ${plain(angle)}°`
        : shape === 'corners'
          ? 'Perspective by four corners'
          : shape === 'envelope'
            ? 'Between two drawn lines'
            : `${{ ripple: 'Ripple', swell: 'Swell', perspective: 'Perspective' }[shape]} of ${plain(amount)} %`,
  },
  () => import('./make'),
)
