import { z } from 'zod'
import { MeasuredMask } from '../../../mask/measure'
import { rgbOf } from '../../../look/material'
import { throughPoints } from '../../../outline/through-points'
import { copiesOf, drawnShare, evenShare, feetOf, pointSolid, type Share, varied } from '../../../repeat/vary'
import type { Assembly } from '../../../solid/assembly'
import { type Evaluate, failed } from '../../step'
import type { varyParams } from './schema'

export const evaluate: Evaluate<typeof varyParams> = async (input, params) => {
  if (input?.kind !== 'assembly')
    return failed('no-copies', 'Vary needs copies to work on.', 'Put a step that repeats, such as Grid or Fill inside, before it.')
  const copies = copiesOf(input)
  const { size, turn, lean, right, up, forward } = params
  const colours = params.colours.map((colour) => {
    const [r, g, b] = rgbOf(colour)
    return (r << 16) | (g << 8) | b
  })
  if (size === 0 && turn === 0 && lean === 0 && right === 0 && up === 0 && forward === 0 && colours.length === 0) return { ok: true, value: input, issues: [] }
  const shares = sharesOf(input, copies, params)
  const value = varied(input, copies, { shift: [right, up, forward], turn, lean, size, colours }, (order) => shares[order])
  return { ok: true, value, issues: [], told: `${copies.size.toLocaleString('en')} copies` }
}

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
