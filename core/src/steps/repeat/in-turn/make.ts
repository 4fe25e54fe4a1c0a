import { z } from 'zod'
import { randomShares } from '../../../cache/random'
import { throughPoints } from '../../../outline/through-points'
import type { Apart } from '../../../repeat/apart'
import { movedInTurn } from '../../../repeat/in-turn'
import { thingMiddles, thingWeights } from '../../../repeat/thing-mask'
import { apartInStep } from '../../shared/apart'
import { type Evaluate, failed, type StepIssue } from '../../step'
import { type inTurnParams, WORDS } from './schema'

export const evaluate: Evaluate<typeof inTurnParams> = async (input, params) => {
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
    params.size === 100 && [params.right, params.up, params.forward, params.lean, params.swing, params.turn, params.stray, params.tumble].every((v) => v === 0)
  return {
    ok: true,
    value,
    issues: [...(still && !params.unseen ? [STILL] : []), ...togetherSaid(joined, params.by)],
    told: `${things.length.toLocaleString('en')} ${plural(params.by, things.length)}`,
  }
}

type Params = z.infer<typeof inTurnParams>

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
