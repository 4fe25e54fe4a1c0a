import { z } from 'zod'
import { randomShares } from '../../../cache/random'
import { EASES, type Ease } from '../../../motion/easing'
import { throughPoints } from '../../../outline/through-points'
import { APART_BY, type Apart } from '../../../repeat/apart'
import { movedInTurn } from '../../../repeat/in-turn'
import { thingMiddles, thingWeights } from '../../../repeat/thing-mask'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { curvePoints } from '../../shared/curve-along'
import { apartInStep } from '../../shared/apart'
import { maskOf } from '../../shared/masks'
import { defineStep, failed, type StepIssue } from '../../step'

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

const inTurnParams = z.object({
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

type Params = z.infer<typeof inTurnParams>

const WORDS = { letter: 'letter', word: 'word', line: 'line', copy: 'copy', part: 'part' } as const

export const inTurn = defineStep({
  kind: 'in-turn',
  version: 1,
  family: 'Repeat',
  title: 'In turn',
  summary: 'Brings letters, words, lines, copies or parts to their places one after another: key how far it is done.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: inTurnParams,
  describe({ by, done, order, turned }) {
    const orders = {
      text: turned ? 'from the last' : 'from the first',
      middle: 'from the middle',
      lot: 'by lot',
      distance: 'from a spot',
      mask: 'by a mask',
    } as const
    return `${WORDS[by]} after ${WORDS[by]} ${orders[order]}, ${plain(done)} % done`
  },
  async evaluate(input, params) {
    if (input?.kind !== 'solid' && input?.kind !== 'assembly')
      return failed('no-input', 'In turn needs a solid or copies.', 'Put a step such as Extrude before it.')
    const apart = apartInStep(input, params.by)
    if ('ok' in apart) return apart
    const { things, joined } = apart
    const level = { foot: 0, back: 0, middle: 0.5, top: 1, front: 1 } as const
    const value = movedInTurn(
      apart,
      {
        shift: [params.right, params.up, params.forward],
        turn: [params.lean, params.swing, params.turn],
        size: params.size,
        stray: params.stray,
        tumble: params.tumble,
        seed: params.seed,
        pivot: [0.5, level[params.pivot], level[params.pivotDepth]],
        unseen: params.unseen,
      },
      { done: params.done / 100, apart: params.apart / 100, ease: params.ease, turns: turnsOf(apart, params) },
    )
    const still =
      params.size === 100 &&
      [params.right, params.up, params.forward, params.lean, params.swing, params.turn, params.stray, params.tumble].every((v) => v === 0)
    return {
      ok: true,
      value,
      issues: [...(still && !params.unseen ? [STILL] : []), ...togetherSaid(joined, params.by)],
      told: `${things.length.toLocaleString('en')} ${plural(params.by, things.length)}`,
    }
  },
})

const plural = (by: Params['by'], count: number) => (by === 'copy' ? (count === 1 ? 'copy' : 'copies') : `${WORDS[by]}${count === 1 ? '' : 's'}`)

const STILL: StepIssue = {
  code: 'not-away',
  severity: 'note',
  message: 'Nothing is away from its place: nothing moves yet.',
  remedy: 'Say where each comes from, how it is turned or how large it is there.',
  field: 'up',
}

const togetherSaid = (joined: number, by: Params['by']): StepIssue[] =>
  joined === 0
    ? []
    : [
        {
          code: 'joined',
          severity: 'note',
          message: `Some ${WORDS[by]}s hang together and move as one.`,
          remedy: 'Put more space between them to have each move for itself.',
        },
      ]

/** When each thing has its turn, 0 to 1. */
function turnsOf(apart: Apart, { order, turned, seed, point, mask, curve }: Params): Float64Array {
  const { things } = apart
  const count = things.length
  const middles = thingMiddles(apart)
  const course = throughPoints(curve, 0)
  const even = (i: number) => (count > 1 ? i / (count - 1) : 0)
  let at: number[]
  if (order === 'text') at = things.map((_, i) => even(i))
  else if (order === 'middle') at = spread(things.map((_, i) => Math.abs(i - (count - 1) / 2)))
  else if (order === 'lot') {
    const drawn = things.map(({ lot }) => {
      const next = randomShares(Math.imul(seed ^ 0x2c1b3c6d, 0x9e3779b1) ^ Math.imul(lot + 1, 0xc2b2ae35))
      for (let i = 0; i < 3; i++) next()
      return next()
    })
    const ranked = [...drawn.keys()].sort((a, b) => drawn[a] - drawn[b] || a - b)
    at = drawn.map(() => 0)
    ranked.forEach((thing, rank) => {
      at[thing] = even(rank)
    })
  } else if (order === 'distance') {
    const [x, y, z] = point ?? [0, 0, 0]
    at = spread(things.map((_, i) => Math.hypot(middles[3 * i] - x, middles[3 * i + 1] - y, middles[3 * i + 2] - z)))
  } else {
    const weights = thingWeights(apart, mask)
    at = things.map((_, i) => (mask.list.length === 0 ? 0 : 1 - weights[i]))
  }
  return Float64Array.from(at, (t) => Math.min(1, Math.max(0, course(turned ? 1 - t : t) / 100)))
}

/** From the least to the most of them, 0 to 1. */
function spread(list: readonly number[]): number[] {
  const least = list.reduce((a, b) => Math.min(a, b), Infinity)
  const most = list.reduce((a, b) => Math.max(a, b), -Infinity)
  return list.map((v) => (most > least ? (v - least) / (most - least) : 0))
}
