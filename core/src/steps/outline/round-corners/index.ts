import { z } from 'zod'
import type { Region } from '../../../outline/outline'
import { keyOf } from '../../../outline/areas'
import { doubleArea } from '../../../outline/polygon'
import { flattenPath } from '../../../outline/flatten'
import { roundCorners } from '../../../outline/round'
import { meta, plain } from '../../meta'
import { defineStep, failed } from '../../step'

const radius = (what: string) => z.number(`${what} must be a number.`).min(0, `${what} cannot be below 0 mm.`).max(500, `${what} can be at most 500 mm.`)

const roundCornersParams = z.object({
  outer: radius('The outer radius')
    .default(1.5)
    .meta(meta({ title: 'Outer', unit: 'mm', step: 0.25, description: 'Radius of corners that stick out.' })),
  inner: radius('The inner radius')
    .default(0)
    .meta(meta({ title: 'Inner', unit: 'mm', step: 0.25, description: 'Radius of corners that go in.' })),
  from: z
    .number('The angle must be a number.')
    .min(1)
    .max(170)
    .default(20)
    .meta(meta({ title: 'Corners from', unit: '°', step: 5, description: 'Turns smaller than this are left as they are.', advanced: true })),
})

export const roundCornersStep = defineStep({
  kind: 'round-corners',
  version: 1,
  family: 'Outline',
  title: 'Round corners',
  summary: 'Rounds corners by a radius, outer and inner ones apart.',
  takes: ['outline'],
  gives: 'outline',
  params: roundCornersParams,
  describe: ({ outer, inner }) =>
    [outer > 0 && `outer corners ${plain(outer)} mm`, inner > 0 && `inner ones ${plain(inner)} mm`].filter(Boolean).join(', ') || 'Corners left as they are',
  async evaluate(input, params) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Round corners needs an outline to work on.', 'Put a source such as Lettering before it.')
    const regions = input.regions.map((region): Region => {
      const members = region.members.map((member) => {
        const area = member.paths.reduce((sum, path) => sum + doubleArea(flattenPath(path, { tolerance: 0.05 }).xy), 0)
        return { ...member, paths: member.paths.map((path) => roundCorners(path, { ...params, side: area < 0 ? -1 : 1 })) }
      })
      return {
        ...region,
        members,
        key: keyOf(
          'round',
          members.flatMap((m) => m.paths),
        ),
      }
    })
    return { ok: true, value: { ...input, regions }, issues: [] }
  },
})
