import { loadManifold } from '../../../kernel/manifold'
import type { Region } from '../../../outline/outline'
import { regionPolygons } from '../../../outline/polygon'
import { type ChannelResult, channelSolid } from '../../../solid/channel'
import { shippedProfile } from '../../../solid/profile'
import { formRegions, letterFinder, MOST_PLACES, named, strokesLeft } from '../../shared/forming'
import { plain } from '../../meta'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { channelParams } from './schema'

export const evaluate: Evaluate<typeof channelParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Channel needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to form.', 'Close the strokes, or set some words.')
  const { panel, wall, depth, floor } = params
  if (panel && params.ledge > wall - LEAST_RIM)
    return failed(
      'ledge-too-wide',
      `A ledge of ${plain(params.ledge)} mm leaves nothing of a wall of ${plain(wall)} mm.`,
      `Make the walls at least ${plain(params.ledge + 0.4)} mm, or the ledge narrower.`,
      'ledge',
    )
  const needed = floor + (panel ? params.thickness + params.clearance : 0) + 0.1
  if (depth < needed)
    return failed(
      'too-shallow',
      `Floor${panel ? ' and acrylic' : ''} need ${plain(needed)} mm; the letters are ${plain(depth)} mm deep.`,
      `Make the depth at least ${plain(needed)} mm.`,
      'depth',
    )
  await loadManifold()
  // the rim's shape stays clear of the opening
  const room = (wall - (panel ? params.ledge : 0)) * 0.9
  const size = Math.min(params.rimSize, room)
  const height = Math.min(params.rimHeight, depth - UPRIGHT)
  const key = `channel:${JSON.stringify([params, input.lattice])}`
  const { solid, results } = await formRegions<ChannelResult>(input, context, () => ({
    key,
    make: (region) =>
      channelSolid(regionPolygons(region, params.tolerance, input.lattice), {
        depth,
        floor,
        wall,
        rim: shippedProfile(params.rim, size, height),
        panel: panel ? params : undefined,
        mounting: params.mounting > 0 ? { diameter: params.mountingDiameter, count: params.mounting } : undefined,
        cable: params.cable > 0 ? { diameter: params.cable } : undefined,
        tolerance: params.tolerance,
        letterAt: letterFinder(region, params.tolerance, input.lattice),
      }),
  }))
  const issues: StepIssue[] = strokesLeft(input)
  const placeIn = (region: Region) => placeOf(region, results[input.regions.indexOf(region)], depth)
  const filled = input.regions.filter((_, i) => results[i].closed)
  if (filled.length > 0)
    issues.push({
      code: 'no-channel',
      severity: 'warning',
      message: `${named(filled, input)} ${filled.length === 1 ? 'is' : 'are'} narrower than two walls of ${plain(wall)} mm and stay${filled.length === 1 ? 's' : ''} solid.`,
      remedy: 'Give thinner walls, or larger letters.',
      field: 'wall',
      places: filled
        .slice(0, MOST_PLACES)
        .map(placeIn)
        .filter((place) => place !== undefined),
    })
  const narrow = input.regions.filter((_, i) => !results[i].closed && results[i].narrow.length > 0)
  if (narrow.length > 0) {
    const places = narrow.reduce((sum, region) => sum + results[input.regions.indexOf(region)].narrow.length, 0)
    issues.push({
      code: 'narrow-strokes',
      severity: 'warning',
      message: `Strokes of ${named(narrow, input)} are narrower than two walls in ${places} place${places === 1 ? '' : 's'} and stay solid there.`,
      remedy: 'Give thinner walls, or a face with stronger strokes.',
      field: 'wall',
      places: narrow
        .slice(0, MOST_PLACES)
        .map(placeIn)
        .filter((place) => place !== undefined),
    })
  }
  const homeless = results.reduce((sum, r) => sum + r.homeless, 0)
  if (homeless > 0)
    issues.push({
      code: 'no-room-for-holes',
      severity: 'warning',
      message: `${homeless} hole${homeless === 1 ? ' finds' : 's find'} no room between the walls of ${named(
        input.regions.filter((_, i) => results[i].homeless > 0),
        input,
      )}.`,
      remedy: 'Give smaller or fewer holes, or thinner walls.',
      field: 'mountingDiameter',
    })
  return { ok: true, value: solid, issues }
}

/** The rim left beside the acrylic and the rim's own shape, mm. */
const LEAST_RIM = 0.1

/** What stays upright at the foot of a return, mm. */
const UPRIGHT = 0.2

const placeOf = (region: { dx: number; dy: number }, { narrow }: ChannelResult, z: number): [number, number, number] | undefined =>
  narrow.length > 0 ? [region.dx + narrow[0][0], region.dy + narrow[0][1], z] : undefined
