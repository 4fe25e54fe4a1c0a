import { plain } from '../../meta'
import { unitsNamed } from '../../shared/repeat-fields'
import { defineStep } from '../../step'
import { onSurfaceParams } from './schema'

export const onSurface = defineStep(
  {
    kind: 'on-surface',
    version: 3,
    family: 'Repeat',
    title: 'On a surface',
    summary: 'Scatters pearls, studs or any piece over the whole surface or what a mask leaves of it, even by area, in no order.',
    takes: ['solid', 'assembly'],
    gives: 'assembly',
    params: onSurfaceParams,
    describe: ({ pitch, unit, width, size, mask }) =>
      `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, ${plain(pitch)} mm apart${mask.list.length > 0 ? ', by mask' : ''}`,
  },
  () => import('./make'),
)
