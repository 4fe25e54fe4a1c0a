import { loadManifold } from '../../../kernel/manifold'
import { regionPolygons } from '../../../outline/polygon'
import { extrudePolygons, type ExtrudeResult } from '../../../solid/extrude'
import { shippedProfile } from '../../../solid/profile'
import { transformed } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { approximateIssue, formRegions, letterFinder, regionRidge, strokesLeft } from '../../shared/forming'
import { plain } from '../../meta'
import { type Evaluate, failed } from '../../step'
import type { prismaticParams } from './schema'

export const evaluate: Evaluate<typeof prismaticParams> = async (input, params, context) => {
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
}

/** The solid mirrored in the plane of the letters, its highest point now its lowest at the same height 0; still closed and oriented. */
function turnedOver(solid: Solid): Solid {
  const top = solidBounds(solid.positions)[5]
  return transformed(solid, [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, top])
}
