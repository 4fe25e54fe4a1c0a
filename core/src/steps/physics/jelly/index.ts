import { z } from 'zod'
import { hashJson } from '../../../cache/hash'
import { jellyAt, type Jellying, type JellyMade, makeJelly, wobble } from '../../../physics/jelly'
import { pointCodec, secondsFor } from '../../../physics/recording'
import type { Mask } from '../../../mask/schema'
import { APART_BY, type Apart } from '../../../repeat/apart'
import { assemblyBounds } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { MASK_NOWHERE, maskOf } from '../../shared/masks'
import { forceMarks } from '../../shared/force-marks'
import { frameOf, mendedSaid } from '../../shared/frames'
import {
  airOf,
  APART_LABELS,
  beyond,
  bounded,
  forceFields,
  forcesOf,
  gravityFields,
  limitSaid,
  momentFields,
  obstaclesOf,
  solidsIn,
  surroundingFields,
  surroundingsOf,
  THINGS,
  tooMuch,
  windFields,
} from '../../shared/physics'
import { Recordings, thingsKey } from '../../shared/recordings'
import { seedParam } from '../../shared/seed'
import { defineStep, failed, type StepIssue } from '../../step'

const jellyParams = z.object({
  ...momentFields(1, 4),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: APART_LABELS })),
  stiffness: bounded('Stiffness', 0, 100, 50, { unit: '%', step: 5 }),
  damping: bounded('Damping', 0, 20, 0.6, { unit: '1/s', step: 0.1, most: 5, description: 'How soon it stops wobbling.' }),
  swell: bounded('Swollen by', -50, 200, 0, { unit: '%', step: 5, most: 100, description: 'How much more room it wants than it has.' }),
  cell: bounded('Cells', 0.5, 200, 5, {
    unit: 'mm',
    step: 0.5,
    most: 20,
    description: 'What it wobbles in: smaller ones let thin strokes bend, and take longer. The surface stays as fine as it is.',
  }),
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'Nothing is held. A mask holds some of it where it is, makes it stiffer there, or limits wind and force to it.',
    }),
  ),
  does: z
    .enum(['hold', 'stiffen', 'both', 'limit'])
    .default('hold')
    .meta(
      meta({
        title: 'The mask',
        labels: ['Holds it there', 'Stiffens it there', 'Stiffens it, and holds it where it is full', 'Limits wind and force to there'],
      }),
    ),
  follows: z
    .enum(['stays', 'piece'])
    .default('stays')
    .meta(
      meta({
        title: 'Its piece',
        labels: ['Stands still', 'Takes it along'],
        description: 'What is held goes where the keys of the piece’s place take it, the rest follows. Key After by the clock for that: 1 s at 1 s.',
      }),
    ),
  ...windFields(),
  ...forceFields,
  ...surroundingFields('below'),
  friction: bounded('Friction', 0, 2, 0.6, { step: 0.05, advanced: true }),
  bounce: bounded('Bounce', 0, 95, 0, { unit: '%', step: 5, advanced: true }),
  density: bounded('Density', 0.01, 20, 0.2, { unit: 'g/cm³', step: 0.05, advanced: true, description: 'The lighter, the more the wind moves it.' }),
  ...gravityFields,
  seed: seedParam(),
})

export const jelly = defineStep({
  kind: 'jelly',
  version: 2,
  family: 'Physics',
  title: 'Jelly',
  summary: 'Letters wobble as soft bodies, fall, sway in the wind and hang by what a mask holds; the same every time.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: jellyParams,
  moves: ['at'],
  travels: ({ follows }) => follows === 'piece',
  describe: ({ stiffness, at, air }) => `${plain(stiffness)} % stiff${air === 'wind' ? ' in the wind' : ''}, after ${plain(at)} s`,
  async evaluate(input, params, context) {
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
      air: airOf(params),
      forces: forcesOf(params, box),
      ...(context.travel ? { travel: context.travel } : {}),
      seconds: params.length,
    }
    const recording = await recordings.of(hashJson([thingsKey(apart), params.cell, params.mask, params.does]), how, context, (work) => wobble(own, how, work))
    if (!recording)
      return failed('blown-up', 'It is too limp or too fine to be followed: it flies apart.', 'Make it stiffer, or take larger cells.', 'stiffness')
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
    const marked = forceMarks(params, how.air, box)
    if (params.at === 0) return { ok: true, value: apart.assembly, issues, told, ...marked }
    const frame = await frameOf(apart, (i) => jellyAt(own, i, recording, params.at), params.cell / 8, context)
    if (!frame.ok) return frame
    return { ok: true, value: frame.assembly, issues: [...issues, ...mendedSaid(frame.mended)], told, ...marked }
  },
})

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
