import { hashJson } from '../../../cache/hash'
import { jellyAt, type Jellying, type JellyMade, makeJelly, wobble } from '../../../physics/jelly'
import { pointCodec, secondsFor } from '../../../physics/recording'
import type { Mask } from '../../../mask/schema'
import type { Apart } from '../../../repeat/apart'
import { assemblyBounds } from '../../../solid/assembly'
import { plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { MASK_NOWHERE } from '../../shared/masks'
import { forceMarks } from '../../shared/force-marks'
import { allMarks, floorMarks } from '../../shared/hang-marks'
import { frameOf, mendedSaid } from '../../shared/frames'
import { airOf, beyond, forcesOf, limitSaid, obstaclesOf, solidsIn, surroundingsOf, tooMuch } from '../../shared/physics'
import { THINGS } from '../../shared/physics-fields'
import { Recordings, thingsKey } from '../../shared/recordings'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { jellyParams } from './schema'

export const evaluate: Evaluate<typeof jellyParams> = async (input, params, context) => {
  const value = solidsIn('Jelly', input)
  if ('ok' in value) return value
  const apart = apartInStep(value, params.by)
  if ('ok' in apart) return apart
  const obstacles = obstaclesOf(context)
  const refused = tooMuch(apart.things.length, obstacles)
  if (refused) return refused
  const made = await jellyOf(apart, params.cell, masksOf(params), () => context.breathe())
  if (!made.ok) return tooFine(params.cell)
  const { jelly: own } = made
  const longest = secondsFor(own.points)
  if (params.length > longest)
    return failed('too-long', `So fine a jelly can be followed for ${longest} s.`, 'Follow it for less time, or take larger cells.', 'length')
  const box = assemblyBounds(apart.assembly)
  const how: Jellying = {
    ...surroundingsOf(params, box, obstacles),
    friction: params.friction,
    bounce: params.bounce / 100,
    stiffness: params.stiffness / 100,
    damping: params.damping,
    swell: 1 + params.swell / 100,
    density: params.density,
    air: airOf(params, context.overTime?.wind),
    forces: forcesOf(params, box, context.overTime?.power),
    ...(context.travel ? { travel: context.travel } : {}),
    seconds: params.length,
  }
  const recording = await recordings.of(hashJson([thingsKey(apart), params.cell, params.mask, params.does]), how, context, (work) => wobble(own, how, work))
  if (!recording) return failed('blown-up', 'It is too limp or too fine to be followed: it flies apart.', 'Make it stiffer, or take larger cells.', 'stiffness')
  const alone = params.follows === 'piece' && !context.travel
  const issues: StepIssue[] = [
    ...(params.mask.list.length > 0 && params.does === 'hold' && own.pinned === 0 ? [MASK_NOWHERE] : []),
    ...(params.does === 'limit'
      ? limitSaid(
          params,
          own.bodies.every(({ felt }) => felt?.every((share) => share === 0) ?? false),
        )
      : []),
    ...beyond(params.at, params.length),
  ]
  if (alone)
    issues.push({
      code: 'stands-still',
      severity: 'note',
      message: 'Its piece stands still: there is nothing to follow.',
      remedy: 'Key its place in All pieces.',
      field: 'follows',
    })
  if (params.floor === 'none' && own.pinned === 0 && params.gravity > 0)
    issues.push({
      code: 'no-floor',
      severity: 'note',
      message: 'There is nothing to fall upon, and nothing holds it.',
      remedy: 'Choose a floor, or hold some of it by a mask.',
      field: 'floor',
    })
  const told = `${own.points.toLocaleString('en')} points carry ${apart.things.length === 1 ? 'it' : `${apart.things.length.toLocaleString('en')} ${THINGS[params.by]}`}${recording.rest === undefined ? '' : `, at rest after ${plain(recording.rest)} s`}`
  const marked = allMarks(floorMarks(params, box), forceMarks(params, how.air, box))
  if (params.at === 0) return { ok: true, value: apart.assembly, issues, told, ...marked }
  const frame = await frameOf(apart, (i) => jellyAt(own, i, recording, params.at), params.cell / 8, context)
  if (!frame.ok) return frame
  return { ok: true, value: frame.assembly, issues: [...issues, ...mendedSaid(frame.mended)], told, ...marked }
}

const tooFine = (cell: number) =>
  failed('too-fine', `Cells of ${plain(cell)} mm are too many here.`, `Take larger cells, such as ${plain(2 * cell)} mm.`, 'cell')

const recordings = new Recordings('jelly', pointCodec)

/** The same things with the same cells and masks are made jelly once. */
const known = new WeakMap<Apart, Map<string, JellyMade>>()

async function jellyOf(apart: Apart, cell: number, [pins, firm, full, felt]: ReturnType<typeof masksOf>, breathe: () => Promise<void>) {
  const list = known.get(apart) ?? new Map<string, JellyMade>()
  known.set(apart, list)
  const key = hashJson([cell, pins, firm, full, felt ?? null])
  const made = list.get(key) ?? (await makeJelly(apart, cell, pins, firm, breathe, full, felt))
  list.delete(key)
  list.set(key, made)
  for (const old of list.keys()) if (list.size > 3) list.delete(old)
  return made
}

/** What holds and what stiffens, from what on it holds, and what feels wind and forces. */
function masksOf({ mask, does }: { readonly mask: Mask; readonly does: 'hold' | 'stiffen' | 'both' | 'limit' }): [Mask, Mask, number, Mask?] {
  const none = { ...mask, list: [] }
  if (does === 'limit') return [none, none, 0.5, mask]
  return does === 'hold' ? [mask, none, 0.5] : does === 'stiffen' ? [none, mask, 0.5] : [mask, mask, 0.95]
}
