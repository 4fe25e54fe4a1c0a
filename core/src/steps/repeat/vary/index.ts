import { z } from 'zod'
import { MeasuredMask } from '../../../mask/measure'
import { rgbOf } from '../../../look/material'
import { throughPoints } from '../../../outline/through-points'
import { copiesOf, drawnShare, evenShare, feetOf, pointSolid, type Share, varied } from '../../../repeat/vary'
import type { Assembly } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { curvePoints } from '../../shared/curve-along'
import { maskOf } from '../../shared/masks'
import { defineStep, failed } from '../../step'

const amount = (title: string, unit: string, most: number, step: number, extra: { advanced?: boolean; description?: string } = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(-most)
    .max(most)
    .default(0)
    .meta(meta({ title, unit, step, ...extra }))

const finite = z.number('It must be a number.').min(-10_000).max(10_000)
const BY_CURVE = { field: 'by', is: ['order', 'mask', 'distance', 'letters'] } as const

const varyParams = z.object({
  by: z
    .enum(['lot', 'order', 'letters', 'distance', 'mask'])
    .default('lot')
    .meta(meta({ title: 'By', labels: ['Lot', 'Their order', 'Letter after letter', 'Distance from a spot', 'A mask'] })),
  seed: seedParam({ when: { field: 'by', is: ['lot'] } }),
  per: z
    .enum(['copy', 'letter'])
    .default('copy')
    .meta(
      meta({
        title: 'Each its own',
        labels: ['Copy', 'Letter'],
        when: { field: 'by', is: ['lot', 'order'] },
        description: 'Copies of one letter may all take the same, or the order begins anew in each.',
      }),
    ),
  point: z
    .tuple([finite, finite, finite])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'by', is: ['distance'] } })),
  far: z
    .number('The distance must be a number.')
    .min(0.01, 'The distance must be at least 0.01 mm.')
    .max(10_000)
    .default(100)
    .meta(meta({ title: 'Whole at a distance of', unit: 'mm', step: 5, when: { field: 'by', is: ['distance'] } })),
  mask: maskOf().meta(meta({ title: 'Mask', holds: 'mask', when: { field: 'by', is: ['mask'] } })),
  curve: curvePoints('The course', -100, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(
      meta({
        title: 'Course',
        unit: '%',
        step: 5,
        holds: 'curve',
        most: 100,
        when: BY_CURVE,
        description: 'How much of it is taken, from the first to the last.',
      }),
    ),
  size: amount('Size', '%', 500, 5, { description: 'Larger or smaller by so much.' }),
  turn: amount('Turn', '°', 3600, 5, { description: 'About its own axis.' }),
  lean: amount('Lean', '°', 180, 5),
  right: amount('To the side', 'mm', 1000, 0.5),
  up: amount('Up', 'mm', 1000, 0.5),
  forward: amount('Off the ground', 'mm', 1000, 0.5),
  colours: z
    .array(z.string().regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.'))
    .max(24, 'At most 24 colours.')
    .default([])
    .meta(meta({ title: 'Colours', holds: 'colours' })),
})

export const vary = defineStep({
  kind: 'vary',
  version: 1,
  family: 'Repeat',
  title: 'Vary',
  summary: 'Makes copies differ in place, turn, size and colour: by lot, in their order, by distance, by letter or by a mask.',
  takes: ['assembly'],
  gives: 'assembly',
  params: varyParams,
  describe({ by, size, turn, lean, right, up, forward, colours }) {
    const parts = [
      ...(size ? [`size ${plain(size)} %`] : []),
      ...(turn ? [`turn ${plain(turn)}°`] : []),
      ...(lean ? [`lean ${plain(lean)}°`] : []),
      ...(right || up || forward ? ['place'] : []),
      ...(colours.length > 0 ? [`${colours.length} colour${colours.length === 1 ? '' : 's'}`] : []),
    ]
    const words = { lot: 'by lot', order: 'in their order', letters: 'letter after letter', distance: 'by distance', mask: 'by a mask' } as const
    return parts.length > 0 ? `${parts.join(', ')}, ${words[by]}` : 'Nothing varies yet'
  },
  async evaluate(input, params) {
    if (input?.kind !== 'assembly')
      return failed('no-copies', 'Vary needs copies to work on.', 'Put a step that repeats, such as Grid or Fill inside, before it.')
    const copies = copiesOf(input)
    const { size, turn, lean, right, up, forward } = params
    const colours = params.colours.map((colour) => {
      const [r, g, b] = rgbOf(colour)
      return (r << 16) | (g << 8) | b
    })
    if (size === 0 && turn === 0 && lean === 0 && right === 0 && up === 0 && forward === 0 && colours.length === 0)
      return { ok: true, value: input, issues: [] }
    const shares = sharesOf(input, copies, params)
    const value = varied(input, copies, { shift: [right, up, forward], turn, lean, size, colours }, (order) => shares[order])
    return { ok: true, value, issues: [], told: `${copies.size.toLocaleString('en')} copies` }
  },
})

type Params = z.infer<typeof varyParams>

function sharesOf(assembly: Assembly, copies: ReadonlyMap<number, readonly number[]>, params: Params): Share[] {
  const { by, seed, per, point, far, mask, curve } = params
  const numbers = [...copies.keys()]
  const letterOf = [...copies.values()].map(([first]) => assembly.placements.letter[first])
  if (by === 'lot') return numbers.map((number, i) => drawnShare(seed, per === 'letter' ? 100_000 + letterOf[i] : number))
  const course = throughPoints(curve, 0)
  const share = (t: number) => evenShare(course(t) / 100, Math.min(0.999999, Math.max(0, t)))
  if (by === 'order' || by === 'letters') {
    const places =
      by === 'letters' ? ranks(letterOf) : per === 'letter' ? placesWithin(letterOf) : { at: numbers.map((_, i) => i), of: numbers.map(() => numbers.length) }
    return places.at.map((at, i) => {
      const of = places.of[i]
      const even = share(of > 1 ? at / (of - 1) : 0)
      // colours go round
      return { ...even, colour: params.colours.length > 0 ? ((at % params.colours.length) + 0.5) / params.colours.length : 0 }
    })
  }
  const feet = feetOf(assembly, copies)
  const [x, y, z] = point ?? [0, 0, 0]
  if (by === 'distance') return numbers.map((_, i) => share(Math.min(1, Math.hypot(feet[3 * i] - x, feet[3 * i + 1] - y, feet[3 * i + 2] - z) / far)))
  const measured = new MeasuredMask(pointSolid(assembly, feet, letterOf), mask)
  return numbers.map((_, i) => share(mask.list.length === 0 ? 1 : measured.at(feet, 3 * i, i, i, 0)))
}

/** Numbered as they come, like ones once; and how many there are. */
function ranks(list: readonly number[]): { readonly at: number[]; readonly of: number[] } {
  const order = new Map([...new Set(list)].sort((a, b) => a - b).map((v, i) => [v, i]))
  return { at: list.map((v) => order.get(v) as number), of: list.map(() => order.size) }
}

/** Each one's place among its likes, and how many these are. */
function placesWithin(list: readonly number[]): { readonly at: number[]; readonly of: number[] } {
  const counts = new Map<number, number>()
  const at = list.map((v) => {
    const now = counts.get(v) ?? 0
    counts.set(v, now + 1)
    return now
  })
  return { at, of: list.map((v) => counts.get(v) as number) }
}
