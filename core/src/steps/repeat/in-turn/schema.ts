import { z } from 'zod'
import { type Ease, EASES } from '../../../motion/easing'
import { APART_BY } from '../../../repeat/apart-by'
import { meta } from '../../meta'
import { seedParam } from '../../shared/seed'
import { curvePoints } from '../../shared/curve-along'
import { maskOf } from '../../shared/mask-fields'

const length = (title: string, extra: { description?: string; advanced?: boolean } = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(-10_000)
    .max(10_000)
    .default(0)
    .meta(meta({ title, unit: 'mm', step: 1, ...extra }))

const angle = (title: string, description: string, advanced = false) =>
  z
    .number(`${title} must be a number.`)
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title, unit: '°', step: 5, description, advanced }))

const share = (title: string, start: number, description: string) =>
  z
    .number(`${title} must be a number.`)
    .min(0, `${title} goes from 0 to 100 %.`)
    .max(100, `${title} goes from 0 to 100 %.`)
    .default(start)
    .meta(meta({ title, unit: '%', step: 1, description }))

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)

export const inTurnParams = z.object({
  done: share('Done', 50, '0: all are away; 100: all stand where they belong. Key it at two frames to set the movement going.'),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: ['Letter', 'Word', 'Line', 'Copy or shard', 'Connected part'] })),
  apart: share('One after another', 60, '0: all at once; 100: each waits until the one before has arrived.'),
  order: z
    .enum(['text', 'middle', 'lot', 'distance', 'mask'])
    .default('text')
    .meta(meta({ title: 'Order', labels: ['As one reads', 'From the middle', 'By lot', 'From a spot', 'By a mask'] })),
  turned: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'The other way round' })),
  point: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'order', is: ['distance'] } })),
  mask: maskOf().meta(meta({ title: 'Mask', holds: 'mask', when: { field: 'order', is: ['mask'] }, description: 'Where it is strong comes first.' })),
  ease: z
    .enum(Object.keys(EASES) as [Ease, ...Ease[]])
    .default('gentle')
    .meta(meta({ title: 'Each moves', labels: Object.keys(EASES).map((name) => name[0].toUpperCase() + name.slice(1)) })),
  right: length('From the right', { description: 'Where each comes from, seen from its own place; negative from the left.' }),
  up: length('From above'),
  forward: length('From the front'),
  lean: angle('Tipped', 'About the level axis through its pivot.'),
  swing: angle('Swung', 'About the upright axis.', true),
  turn: angle('Turned', 'About the axis that looks forward.'),
  size: z
    .number('The size must be a number.')
    .min(0, 'The size must be at least 0 %.')
    .max(1000)
    .default(100)
    .meta(meta({ title: 'Size away', unit: '%', step: 5, description: 'At 0 it grows out of nothing.' })),
  pivot: z
    .enum(['foot', 'middle', 'top'])
    .default('foot')
    .meta(meta({ title: 'Pivot, up', labels: ['Its foot', 'Its middle', 'Its top'] })),
  pivotDepth: z
    .enum(['back', 'middle', 'front'])
    .default('middle')
    .meta(meta({ title: 'Pivot, in depth', labels: ['Its back', 'Halfway', 'Its front'], advanced: true })),
  stray: z
    .number('The distance must be a number.')
    .min(0)
    .max(10_000)
    .default(0)
    .meta(meta({ title: 'Strewn', unit: 'mm', step: 5, description: 'So far away in a direction by lot.' })),
  tumble: angle('Tumbled', 'So far at most about each axis, by lot.'),
  seed: seedParam(),
  curve: curvePoints('The course', 0, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(
      meta({
        title: 'Course of the turns',
        unit: '%',
        step: 5,
        holds: 'curve',
        most: 100,
        advanced: true,
        description: 'When each begins, from the first to the last.',
      }),
    ),
  unseen: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Not there before its turn' })),
})

export const WORDS = { letter: 'letter', word: 'word', line: 'line', copy: 'copy', part: 'part' } as const
