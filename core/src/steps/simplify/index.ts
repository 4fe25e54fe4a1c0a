import { z } from 'zod'
import { fitPath } from '../../outline/fit'
import { flattenPath } from '../../outline/flatten'
import type { Region } from '../../outline/outline'
import { type Path, toSvgPath } from '../../outline/path'
import { meta, plain } from '../meta'
import { defineStep, failed } from '../step'

const simplifyParams = z.object({
  tolerance: z
    .number('The tolerance must be a number.')
    .min(0.002, 'The tolerance must be at least 0.002 mm.')
    .max(20, 'The tolerance can be at most 20 mm.')
    .default(0.1)
    .meta(meta({ title: 'Within', unit: 'mm', step: 0.05, description: 'Largest distance from the outline as it comes.' })),
  corner: z
    .number('The angle must be a number.')
    .min(5)
    .max(120)
    .default(25)
    .meta(meta({ title: 'Corners from', unit: '°', step: 5, description: 'A turn sharper than this stays a corner.' })),
})

export const simplify = defineStep({
  kind: 'simplify',
  version: 1,
  family: 'Outline',
  title: 'Simplify',
  summary: 'Redraws the outline with as few nodes as a tolerance allows.',
  takes: 'outline',
  gives: 'outline',
  params: simplifyParams,
  describe: ({ tolerance }) => `Few nodes, within ${plain(tolerance)} mm`,
  async evaluate(input, { tolerance, corner }) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Simplify needs an outline to work on.', 'Put a source such as Lettering before it.')
    // half is for the flattening's own chords and for the fit each, so that the sum stays within
    const redraw = (path: Path): Path => {
      const { xy, closed } = flattenPath(path, { tolerance: tolerance * 0.1, maxTurn: 4 })
      const fitted = fitPath(xy, closed, { tolerance: tolerance * 0.85, corner })
      return fitted.verbs.length < path.verbs.length ? fitted : path
    }
    const regions = input.regions.map((region): Region => {
      const members = region.members.map((member) => ({ ...member, paths: member.paths.map(redraw) }))
      return { ...region, members, key: `simple:${members.map((m) => toSvgPath(m.paths)).join('+')}` }
    })
    return { ok: true, value: { ...input, regions, strokes: input.strokes.map(redraw) }, issues: [] }
  },
})
