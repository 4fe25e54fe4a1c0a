import { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { fitRings, offsetRings } from '../../../outline/areas'
import { toPairs } from '../../../outline/polygon'
import type { Path } from '../../../outline/path'
import { placesAlong } from '../../../repeat/along'
import type { Ground } from '../../../repeat/grounds'
import { copyCount } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { groundField, groundsOf, setOnCarrier, spotsOn } from '../../shared/grounds'
import { millimetres } from '../../shared/lengths'
import { byHandParam, holeFields, powerField, tooManyCopies, unitFields, unitOf, unitsNamed } from '../../shared/repeating'
import { defineStep, failed } from '../../step'

const alongParams = z.object({
  along: z
    .enum(['both', 'outline', 'strokes'])
    .default('both')
    .meta(meta({ title: 'Along', labels: ['Outlines and drawn lines', 'Outlines', 'Drawn lines'] })),
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(8)
    .meta(
      meta({
        title: 'Spacing',
        unit: 'mm',
        step: 0.5,
        pull: 'right',
        strengths: [5, 6, 8, 12, 20],
        description: 'From one to the next, fitted evenly to each line.',
      }),
    ),
  inset: z
    .number('The inset must be a number.')
    .min(-500)
    .max(500)
    .default(3)
    .meta(
      meta({
        title: 'Inside the outline by',
        unit: 'mm',
        step: 0.5,
        when: { field: 'along', is: ['both', 'outline'] },
        description: 'Below nought it is outside.',
      }),
    ),
  corners: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'One in every corner' })),
  ends: millimetres('The distance', 0, 5000)
    .default(0)
    .meta(meta({ title: 'Free at the ends', unit: 'mm', step: 0.5, when: { field: 'along', is: ['both', 'strokes'] } })),
  facing: z
    .enum(['along', 'upright'])
    .default('along')
    .meta(meta({ title: 'Facing', labels: ['Along the line', 'Upright'] })),
  on: groundField,
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})

export const along = defineStep({
  kind: 'along',
  version: 1,
  family: 'Repeat',
  title: 'Along a line',
  summary: 'Sets beads, rivets or any piece along outlines or drawn lines, evenly fitted, with one in every corner.',
  takes: ['outline', 'solid', 'assembly'],
  gives: 'assembly',
  params: alongParams,
  describe: ({ pitch, unit, width, size, inset, along }) =>
    `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, every ${plain(pitch)} mm${along !== 'strokes' && inset !== 0 ? `, ${plain(Math.abs(inset))} mm ${inset > 0 ? 'inside' : 'outside'}` : ''}`,

  async evaluate(input, params, context) {
    const found = groundsOf(input, params.on, 'Along a line')
    if ('ok' in found) return found
    const unit = unitOf(params, context)
    if ('ok' in unit) return unit
    await loadManifold()
    const { pitch, inset, corners, ends, facing } = params
    const lines: { readonly ground: Ground; readonly paths: readonly Path[] }[] = []
    if (params.along !== 'strokes')
      for (const ground of found.grounds) {
        await context.breathe()
        lines.push({
          ground,
          paths: inset === 0 ? ground.borders() : context.memo.get(`inset-borders:${inset}:${ground.key}`, () => insetBorders(ground, inset)),
        })
      }
    if (params.along !== 'outline' && found.strokes.length > 0) lines.push({ ground: SHEET, paths: found.strokes })
    const places: Float64Array[] = []
    let count = 0
    for (const { paths } of lines) {
      const out: number[] = []
      for (const path of paths) {
        const { measured, at } = placesAlong(path, { pitch, corners, ends })
        if (measured.length / pitch > 1e6)
          return tooManyCopies(Math.round(measured.length / pitch), 'pitch') ?? failed('too-many', 'Too many copies.', 'Give a wider spacing.', 'pitch')
        for (const s of at) {
          const { x, y, tx, ty } = measured.at(s)
          out.push(x, y, (Math.atan2(ty, tx) * 180) / Math.PI)
        }
      }
      places.push(Float64Array.from(out))
      count += out.length / 3
    }
    const many = tooManyCopies(count * copyCount(unit.assembly), 'pitch')
    if (many) return many
    if (count === 0)
      return lines.length === 0
        ? failed(
            'no-lines',
            params.along === 'strokes' ? 'There are no drawn lines here.' : 'There is no line to go along.',
            'Draw some, or go along outlines.',
            'along',
          )
        : failed('no-line-left', `${plain(inset)} mm inside the outline nothing is left to go along.`, 'Go less far inside.', 'inset')
    const spots = spotsOn(
      lines.map(({ ground }) => ground),
      places,
      facing === 'along',
    )
    return setOnCarrier({ carrier: found, unit, spots, params }, context)
  },
})

/** Drawn lines lie in the plane of the outline. */
const SHEET: Ground = { key: '', set: () => ({ rings: [], lattice: 2 ** -14 }), borders: () => [], x: 0, y: 0, z: 0, letter: -1 }

const insetBorders = (ground: Ground, inset: number): Path[] =>
  fitRings(
    offsetRings(
      ground.set().rings.map(({ xy }) => toPairs(xy)),
      -inset,
      'mitre',
    ),
  )
