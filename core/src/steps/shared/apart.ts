import { type Apart, type ApartBy, takenApart } from '../../repeat/apart'
import type { Assembly } from '../../solid/assembly'
import type { Solid } from '../../solid/solid'
import { failed } from '../step'

/** A value taken apart for a step that moves things each for itself, or why it cannot be. */
export function apartInStep(value: Solid | Assembly, by: ApartBy): Apart | ReturnType<typeof failed> {
  const apart = takenApart(value, by)
  if (apart.things.length > 0) return apart
  return failed(
    'nothing-apart',
    by === 'copy' ? 'There are no copies and no shards here.' : 'There is nothing here to take apart.',
    'Choose letters or connected parts, or put Shatter or a step that repeats before it.',
    'by',
  )
}
