import type { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { fitRings, letterOf, offsetRings, regionArea, regionFrom, regionRings } from '../../../outline/areas'
import { ArcLength } from '../../../outline/arc-length'
import { type Outline, type Region, regionPaths } from '../../../outline/outline'
import { type Path, PathBuilder } from '../../../outline/path'
import { regionPolygons } from '../../../outline/polygon'
import { bent } from '../../../outline/round'
import { strokeOutlines } from '../../../outline/stroker'
import { uniteRegions } from '../../../outline/unite'
import { extrudePolygons, type ExtrudeResult } from '../../../solid/extrude'
import { type Profile, shippedProfile } from '../../../solid/profile'
import { approximateIssue, formRegions, letterFinder } from '../../shared/forming'
import { type Evaluate, failed, type StepIssue } from '../../step'
import { sweep } from '../sweep'
import { edgeProfile } from '../../shared/edge'
import type { tubeParams } from './schema'

export const evaluate: Evaluate<typeof tubeParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Tube needs an outline to work on.', 'Put a source such as Lettering or Drawing before it.')
  await loadManifold()
  const bars: Region[] = []
  let short = 0
  const sources: { paths: Path[]; letter: number; layer: number }[] = []
  if (params.along !== 'strokes')
    for (const region of input.regions) sources.push({ paths: outlinesOf(region, params.offset), letter: letterOf(region), layer: region.layer })
  if (params.along !== 'outlines') for (const stroke of input.strokes) sources.push({ paths: [stroke], letter: -1, layer: 0 })
  if (params.crossings === 'lifted' && params.section === 'round') {
    // a bar that rises over another leaves the plane: that is a sweep of a round section
    const strokes = sources.flatMap(({ paths }) => paths.flatMap((path) => opened(bent(path, params.bend), params.gap + 2 * params.radius, params)))
    const size = { width: 2 * params.radius, height: 2 * params.radius }
    const values = sweep.params.parse({ ...size, section: 'round', along: 'strokes', ends: 'round', crossings: 'lifted', tolerance: params.tolerance })
    return sweep.evaluate({ ...input, regions: [], strokes }, values, { ...context, inputs: {} })
  }
  for (const { paths, letter, layer } of sources) {
    await context.breathe()
    const outlines: Path[] = []
    for (const path of paths) {
      const line = bent(path, params.bend)
      const length = line.closed && params.gap > 0 ? new ArcLength(line).length : 0
      const open = params.gap > 0 && line.closed
      if (open && length <= params.gap + 2 * params.radius) {
        short++
        continue
      }
      // the rounded ends reach into the gap by the radius
      const gap = params.gap + 2 * params.radius
      const dashes = open ? [length - gap, gap] : undefined
      const dashOffset = open ? length - gap / 2 - (length * params.gapAt) / 100 : undefined
      outlines.push(...strokeOutlines([line], { width: 2 * params.radius, cap: 'round', join: params.bend > 0 ? 'round' : 'mitre', dashes, dashOffset }, 0.01))
    }
    if (outlines.length > 0) bars.push(regionFrom(outlines, letter, layer))
  }
  if (bars.length === 0)
    return params.along === 'strokes'
      ? failed('no-strokes', 'The outline has no open strokes to bend a bar along.', 'Draw some, or let it run along outlines.', 'along')
      : failed('nothing-to-follow', 'Nothing is left for the bar to follow.', 'Give a smaller offset or gap.', 'offset')
  // where bars cross or touch they are one
  const regions = uniteRegions(bars.map((region) => ({ region, area: regionArea(region) })))
  const outline: Outline = { ...input, regions, strokes: [], layers: input.layers.length > 0 ? input.layers : [{ id: 'bar', name: 'Bar' }] }
  const side = sideProfile(params)
  if (side && 'message' in side) return failed('profile', side.message, side.remedy, 'profile')
  const key = `tube:${JSON.stringify([params.radius, params.section, params.section === 'profile' ? params.profile : 0, params.tolerance, input.lattice])}`
  const { solid, results } = await formRegions<ExtrudeResult>(outline, context, () => ({
    key,
    make: (region) =>
      extrudePolygons(regionPolygons(region, params.tolerance, input.lattice), {
        depth: 2 * params.radius,
        front: side,
        back: side,
        tolerance: params.tolerance,
        letterAt: letterFinder(region, params.tolerance, input.lattice),
      }),
  }))
  const issues: StepIssue[] = approximateIssue(outline, results, 'bar', params.radius)
  if (short > 0)
    issues.push({
      code: 'parts-vanished',
      severity: 'warning',
      message: `${short} outline${short === 1 ? ' is' : 's are'} shorter than the gap and left out.`,
      remedy: 'Give a smaller gap.',
      field: 'gap',
    })
  return { ok: true, value: solid, issues }
}

type Params = z.infer<typeof tubeParams>

/** The borders a bar follows, moved out or in. */
function outlinesOf(region: Region, offset: number): Path[] {
  if (offset === 0 && region.members.length === 1) return regionPaths(region)
  const rings = regionRings(region)
  return fitRings(offset === 0 ? rings : offsetRings(rings, offset, 'round'))
}

/** A closed path with its gap left open, as a line of short chords; others, and all without a gap, as they are. */
function opened(path: Path, gap: number, { gap: asked, gapAt, tolerance }: Params): Path[] {
  if (!path.closed || asked <= 0) return [path]
  const measured = new ArcLength(path)
  const { length } = measured
  if (length <= gap) return []
  const start = (length * gapAt) / 100 + gap / 2
  // chords short enough for the tightest bend that the tolerance lets through
  const count = Math.max(8, Math.ceil((length - gap) / Math.max(0.2, 12 * tolerance)))
  const points = Array.from({ length: count + 1 }, (_, i) => measured.at(start + ((length - gap) * i) / count))
  const line = new PathBuilder(points[0].x, points[0].y)
  for (const { x, y } of points.slice(1)) line.lineTo(x, y)
  return [line.build(false)]
}

function sideProfile({ section, radius, profile, tolerance }: Params): ReturnType<typeof edgeProfile> {
  if (section === 'square') return undefined
  if (section === 'profile') return edgeProfile({ ...profile, inset: Math.min(profile.inset, radius), height: Math.min(profile.height, radius) })
  // a quarter circle, level beyond it: the middle of the bar may lie a hair further in
  const round = new PathBuilder(0, 0)
  round.follow(shippedProfile('round', radius, radius) as Profile)
  round.lineTo(radius + 4 * tolerance, radius)
  return round.build(false) satisfies Profile
}
