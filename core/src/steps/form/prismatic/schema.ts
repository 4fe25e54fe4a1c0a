import { z } from 'zod'
import { meta } from '../../meta'
import { curvesWithin } from '../../shared/lengths'

export const prismaticParams = z.object({
  by: z
    .enum(['angle', 'height'])
    .default('angle')
    .meta(meta({ title: 'Ridges by', labels: ['Angle', 'Height'] })),
  angle: z
    .number('The angle must be a number.')
    .min(5, 'The slopes must rise by 5° at least.')
    .max(80, 'The slopes can rise by 80° at most.')
    .default(40)
    .meta(
      meta({
        title: 'Slope',
        unit: '°',
        step: 1,
        pull: 'forward',
        pullBy: 'scale',
        description: 'Of the slopes from the plane of the letters.',
        when: { field: 'by', is: ['angle'] },
      }),
    ),
  height: z
    .number('The height must be a number.')
    .min(0.1, 'The ridges must be at least 0.1 mm high.')
    .max(1000)
    .default(6)
    .meta(
      meta({
        title: 'Height',
        unit: 'mm',
        step: 0.5,
        pull: 'forward',
        description: 'Of the highest ridge over the walls.',
        when: { field: 'by', is: ['height'] },
      }),
    ),
  slope: z
    .enum(['chamfer', 'round', 'cove', 'ogee'])
    .default('chamfer')
    .meta(meta({ title: 'Slopes', labels: ['Straight', 'Swelling', 'Hollow', 'Double curve'] })),
  walls: z
    .number('The walls must be a number.')
    .min(0.1, 'The walls must be at least 0.1 mm high.')
    .max(1000)
    .default(3)
    .meta(meta({ title: 'Walls', unit: 'mm', step: 0.5, description: 'Upright part under the slopes.' })),
  way: z
    .enum(['raised', 'sunk'])
    .default('raised')
    .meta(meta({ title: 'Way', labels: ['Raised', 'Sunk'], description: 'Sunk is the section that a carver cuts: its ridges point down.' })),
  tolerance: curvesWithin,
})
