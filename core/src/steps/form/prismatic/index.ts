import { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { regionPolygons } from '../../../outline/polygon'
import { type ExtrudeResult, extrudePolygons } from '../../../solid/extrude'
import { shippedProfile } from '../../../solid/profile'
import { transformed } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { approximateIssue, formRegions, letterFinder, regionRidge, strokesLeft } from '../../shared/forming'
import { meta, plain } from '../../meta'
import { defineStep, failed } from '../../step'
import { curvesWithin } from '../../shared/lengths'

const prismaticParams = z.object({
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

export const prismatic = defineStep({
  kind: 'prismatic',
  version: 1,
  family: 'Form',
  title: 'Prismatic',
  summary: 'Ridged letters, as a carver cuts them: slopes from every side that meet along the middle.',
  takes: ['outline'],
  gives: 'solid',
  params: prismaticParams,
  describe: ({ by, angle, height, walls, way }) =>
    `${way === 'raised' ? 'Ridges' : 'Sunk ridges'} ${by === 'angle' ? `at ${plain(angle)}°` : `${plain(height)} mm high`}, walls ${plain(walls)} mm`,

  async evaluate(input, params, context) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Prismatic needs an outline to work on.', 'Put a source such as Lettering before it.')
    if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to form.', 'Close the strokes, or set some words.')
    await loadManifold()
    // every letter's slopes rise alike, so the widest stroke decides how far they reach
    let widest = 0
    for (const region of input.regions) {
      widest = Math.max(widest, regionRidge(context.memo, region, params.tolerance, input.lattice))
      await context.breathe()
    }
    const rise = params.by === 'angle' ? Math.tan((params.angle * Math.PI) / 180) : params.height / widest
    // a little further than the middle, so that the last ridge closes
    const inset = widest * 1.001 + 0.002
    const front = shippedProfile(params.slope, inset, inset * rise)
    const key = `prismatic:${JSON.stringify([params.slope, inset, rise, params.walls, params.tolerance, input.lattice])}`
    const { solid: raised, results } = await formRegions<ExtrudeResult>(input, context, () => ({
      key,
      make: (region) =>
        extrudePolygons(regionPolygons(region, params.tolerance, input.lattice), {
          depth: params.walls + inset * rise,
          front,
          tolerance: params.tolerance,
          letterAt: letterFinder(region, params.tolerance, input.lattice),
        }),
    }))
    if (raised.indices.length === 0) return failed('vanished', 'The shapes are too small to form a solid at this size.', 'Raise the cap height.', 'walls')
    const issues = [...strokesLeft(input), ...approximateIssue(input, results, 'ridges', params.walls)]
    return {
      ok: true,
      value: params.way === 'sunk' ? turnedOver(raised) : raised,
      issues,
      told: params.by === 'angle' ? `highest ${plain(widest * rise)} mm` : `slopes of ${plain((Math.atan(rise) * 180) / Math.PI)}°`,
    }
  },
})

/** The solid mirrored in the plane of the letters, its highest point now its lowest at the same height 0; still closed and oriented. */
function turnedOver(solid: Solid): Solid {
  const top = solidBounds(solid.positions)[5]
  return transformed(solid, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, top])
}
