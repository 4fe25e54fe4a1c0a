import { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import type { Region } from '../../../outline/outline'
import { regionPolygons } from '../../../outline/polygon'
import { type ChannelResult, channelSolid } from '../../../solid/channel'
import { PROFILE_NAMES, shippedProfile } from '../../../solid/profile'
import { formRegions, letterFinder, MOST_PLACES, named, strokesLeft } from '../../shared/forming'
import { meta, plain } from '../../meta'
import { defineStep, failed, type StepIssue } from '../../step'
import { curvesWithin, millimetres } from '../../shared/lengths'

const RIMS = ['square', 'chamfer', 'round', 'cove', 'ogee', 'bead'] as const satisfies readonly (typeof PROFILE_NAMES)[number][]

const channelParams = z.object({
  depth: millimetres('The depth', 0.5, 2000)
    .default(25)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 1, pull: 'forward', description: 'From the back to the rim.' })),
  wall: millimetres('The wall', 0.1, 100)
    .default(2)
    .meta(meta({ title: 'Wall', unit: 'mm', step: 0.25 })),
  floor: millimetres('The floor', 0.1, 500)
    .default(2)
    .meta(meta({ title: 'Floor', unit: 'mm', step: 0.25 })),
  rim: z
    .enum(RIMS)
    .default('square')
    .meta(
      meta({
        title: 'Return',
        labels: ['Upright', 'Chamfered', 'Rounded', 'Hollow', 'Ogee', 'Bead'],
        description: 'The profile of the outer side, towards the rim.',
      }),
    ),
  rimSize: millimetres('The rim', 0.05, 50)
    .default(0.6)
    .meta(meta({ title: 'Inset at the rim', unit: 'mm', step: 0.1, when: { field: 'rim', is: RIMS.slice(1) } })),
  rimHeight: millimetres('The profile', 0.05, 2000)
    .default(0.6)
    .meta(meta({ title: 'Over a height of', unit: 'mm', step: 0.5, when: { field: 'rim', is: RIMS.slice(1) } })),
  panel: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'Acrylic face' })),
  thickness: millimetres('The panel', 0.1, 100)
    .default(3)
    .meta(meta({ title: 'Acrylic', unit: 'mm', step: 0.5, when: { field: 'panel', is: ['true'] } })),
  clearance: millimetres('The clearance', 0.02, 10)
    .default(0.3)
    .meta(meta({ title: 'Clearance', unit: 'mm', step: 0.05, description: 'Play between acrylic and walls.', when: { field: 'panel', is: ['true'] } })),
  ledge: millimetres('The ledge', 0.1, 50)
    .default(1)
    .meta(
      meta({ title: 'Ledge', unit: 'mm', step: 0.25, description: 'What the acrylic rests on; taken from the wall.', when: { field: 'panel', is: ['true'] } }),
    ),
  mounting: z
    .number('The number of holes must be a number.')
    .int()
    .min(0)
    .max(8, 'A letter takes eight mounting holes at most.')
    .default(2)
    .meta(meta({ title: 'Mounting holes', step: 1, description: 'In every letter, where there is room.' })),
  mountingDiameter: millimetres('The hole', 0.5, 50)
    .default(3.2)
    .meta(meta({ title: 'Hole across', unit: 'mm', step: 0.1 })),
  cable: millimetres('The cable hole', 0, 100)
    .default(0)
    .meta(meta({ title: 'Cable hole', unit: 'mm', step: 0.5, description: 'Across; 0 for none.' })),
  tolerance: curvesWithin,
})

/** The rim left beside the acrylic and the rim's own shape, mm. */
const LEAST_RIM = 0.1
/** What stays upright at the foot of a return, mm. */
const UPRIGHT = 0.2

export const channel = defineStep({
  kind: 'channel',
  version: 1,
  family: 'Form',
  title: 'Channel',
  summary: 'Open-faced letters with walls and a floor, for light, with an acrylic face and holes to mount them.',
  takes: ['outline'],
  gives: 'solid',
  params: channelParams,
  describe: ({ depth, wall, panel, thickness }) =>
    `${plain(depth)} mm deep, walls ${plain(wall)} mm${panel ? `, ${plain(thickness)} mm acrylic set in` : ', open'}`,

  async evaluate(input, params, context) {
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
  },
})

const placeOf = (region: { dx: number; dy: number }, { narrow }: ChannelResult, z: number): [number, number, number] | undefined =>
  narrow.length > 0 ? [region.dx + narrow[0][0], region.dy + narrow[0][1], z] : undefined
