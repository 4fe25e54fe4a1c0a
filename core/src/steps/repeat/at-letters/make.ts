import { letterGroups, outlineBoxes, solidBoxes } from '../../../repeat/letter-boxes'
import { shift, SpotList } from '../../../repeat/spots'
import { bodyWith, carrierOf } from '../../shared/grounds'
import { repeatInStep, unitOf, unitsTold } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { atLettersParams } from './schema'

export const evaluate: Evaluate<typeof atLettersParams> = async (input, params, context) => {
  if (!input) return failed('no-input', 'At letters needs letters.', 'Put a source such as Lettering before it.')
  const unit = unitOf(params, context)
  if ('ok' in unit) return unit
  const carrier = input.kind === 'outline' ? undefined : carrierOf(input)
  if (input.kind !== 'outline' && !carrier)
    return failed('no-body', 'At letters needs one solid with letters, and gets copies only.', 'Put this step before the one that repeats.')
  const letters = input.kind === 'outline' ? input.letters.map(({ text }) => text) : input.letters
  const groups = letterGroups(letters, input.kind === 'outline' ? outlineBoxes(input) : solidBoxes((carrier as NonNullable<typeof carrier>).solid), params.by)
  if (groups.length === 0) return failed('no-letters', 'There are no letters here.', 'Use Grid, Row or Along a line for what is no lettering.')
  const at = (low: number, high: number, which: 'low' | 'middle' | 'high') => (which === 'low' ? low : which === 'high' ? high : (low + high) / 2)
  const list = new SpotList()
  const { across, up, depth, right, higher } = params
  for (const { letter, box } of groups)
    list.push(
      shift(
        at(box[0], box[3], across === 'left' ? 'low' : across === 'right' ? 'high' : 'middle') + right,
        at(box[1], box[4], up === 'bottom' ? 'low' : up === 'top' ? 'high' : 'middle') + higher,
        at(box[2], box[5], depth === 'back' ? 'low' : depth === 'front' ? 'high' : 'middle'),
      ),
      letter,
      0,
      0,
      0,
    )
  return repeatInStep({
    unit: unit.assembly,
    spots: list.finish(),
    hand: params.hand,
    reach: 1,
    letters,
    body: carrier ? bodyWith(carrier.solid, carrier.others) : undefined,
    told: (count) => unitsTold(params.unit, count, params.power),
    issues: [],
  })
}
