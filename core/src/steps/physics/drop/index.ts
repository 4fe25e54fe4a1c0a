import { z } from 'zod'
import { hashBits } from '../../../cache/hash'
import { pieceReference } from '../../../document/piece-reference'
import { STUFF_LABELS, STUFFS } from '../../../look/densities'
import { drop, type Dropping, type Recording, seenAt } from '../../../physics/drop'
import { APART_BY, type Apart } from '../../../repeat/apart'
import { thingWeights } from '../../../repeat/thing-mask'
import { assemblyBounds } from '../../../solid/assembly'
import { transformed, UNMOVED } from '../../../solid/operations'
import { triangleCount } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { maskOf } from '../../shared/masks'
import { seedParam } from '../../shared/seed'
import { defineStep, failed, type StepContext, type StepIssue } from '../../step'

/** More things or triangles to fall upon are too much for the engine's memory. */
const MOST_THINGS = 1000
const MOST_OBSTACLE = 200_000

const number = (title: string, low: number, high: number, start: number, more: Record<string, unknown> = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(low, `${title} is at least ${low}.`)
    .max(high, `${title} is at most ${high}.`)
    .default(start)
    .meta(meta({ title, ...more }))

const dropParams = z.object({
  at: number('After', 0, 30, 2, { unit: 's', step: 0.1, description: 'The moment that is shown. Key it from 0 to let things fall while the film runs.' }),
  length: number('Followed for', 0.1, 30, 5, { unit: 's', step: 0.5, description: 'Longer takes longer; it ends when all is at rest.' }),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: ['Letter', 'Word', 'Line', 'Shard or copy', 'Connected part'] })),
  floor: z
    .enum(['below', 'pen', 'none'])
    .default('below')
    .meta(meta({ title: 'Floor', labels: ['A floor', 'A floor in a pen', 'None'] })),
  fall: number('Its depth below', 0, 5000, 60, {
    unit: 'mm',
    step: 5,
    when: { field: 'floor', is: ['below', 'pen'] },
    description: 'From the lowest of what falls.',
  }),
  room: number('Room beside', 0, 1000, 20, { unit: 'mm', step: 5, when: { field: 'floor', is: ['pen'] } }),
  others: z
    .array(pieceReference)
    .max(24, 'At most 24 pieces.')
    .default([])
    .meta(meta({ title: 'Falls upon', input: ['solid'], placed: true })),
  stuff: z
    .enum(STUFFS)
    .default('acrylic')
    .meta(meta({ title: 'Made of', labels: STUFF_LABELS })),
  friction: number('Friction', 0, 2, 0.5, { step: 0.05 }),
  bounce: number('Bounce', 0, 95, 15, { unit: '%', step: 5 }),
  right: number('Pushed right', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  up: number('Pushed up', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  forward: number('Pushed forward', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  spin: number('Spun, by lot', 0, 3600, 60, { unit: '°/s', step: 10 }),
  gravity: number('Gravity', 0, 100, 9.81, { unit: 'm/s²', step: 0.5, advanced: true }),
  metre: number('So many mm seem a metre', 1, 1000, 50, { unit: 'mm', step: 5, advanced: true, description: 'The fewer, the heavier and slower things seem.' }),
  mask: maskOf().meta(meta({ title: 'Let go by a mask', holds: 'mask', description: 'What it does not take stays where it is until something touches it.' })),
  seed: seedParam(),
})

type Params = z.infer<typeof dropParams>

const WORDS = { letter: 'letters', word: 'words', line: 'lines', copy: 'pieces', part: 'parts' } as const

export const dropStep = defineStep({
  kind: 'drop',
  version: 1,
  family: 'Physics',
  title: 'Drop',
  summary: 'Letters, copies or shards fall, pile up and hit other pieces; the same every time.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: dropParams,
  describe: ({ by, at }) => `${WORDS[by][0].toUpperCase()}${WORDS[by].slice(1)} fall, after ${plain(at)} s`,
  async evaluate(input, params, context) {
    if (input?.kind !== 'solid' && input?.kind !== 'assembly')
      return failed('no-input', 'Drop needs a solid, copies or shards.', 'Put a form such as Extrude before it.')
    const apart = apartInStep(input, params.by)
    if ('ok' in apart) return apart
    const count = apart.things.length
    if (count > MOST_THINGS)
      return failed(
        'too-many',
        `${count.toLocaleString('en')} things are more than can fall at once.`,
        `At most ${MOST_THINGS.toLocaleString('en')}; take fewer.`,
        'by',
      )
    const obstacles = (context.inputs.others ?? []).flatMap((value, i) =>
      value.kind === 'solid' ? [transformed(value, context.placed?.others?.[i]?.matrix ?? UNMOVED)] : [],
    )
    if (obstacles.reduce((sum, solid) => sum + triangleCount(solid), 0) > MOST_OBSTACLE)
      return failed('too-many', 'What things fall upon has too many triangles.', 'Reduce it, or leave one out.', 'others')
    const box = assemblyBounds(apart.assembly)
    const how: Dropping = {
      gravity: params.gravity,
      metre: params.metre,
      friction: params.friction,
      bounce: params.bounce / 100,
      stuff: params.stuff,
      ...(params.floor === 'none' ? {} : { floor: box[1] - params.fall }),
      ...(params.floor === 'pen' ? { pen: [(box[3] - box[0]) / 2 + params.room, (box[5] - box[2]) / 2 + params.room] as const } : {}),
      push: [params.right, params.up, params.forward],
      spin: params.spin,
      ...(params.mask.list.length > 0 ? { letGo: Array.from(thingWeights(apart, params.mask), (weight) => weight >= 0.5) } : {}),
      obstacles,
      seed: params.seed,
      seconds: params.length,
    }
    const recording = await recorded(apart, how, context)
    return {
      ok: true,
      value: seenAt(apart, recording, params.at),
      issues: said(recording, params),
      told: `${count.toLocaleString('en')} ${WORDS[params.by]}${recording.rest === undefined ? '' : `, at rest after ${plain(recording.rest)} s`}`,
    }
  },
})

/** What was recorded of the same things falling the same way; one moment is shown of it after the other. */
const known = new WeakMap<Apart, Map<string, Promise<Recording>>>()

async function recorded(apart: Apart, how: Dropping, context: StepContext): Promise<Recording> {
  const list = known.get(apart) ?? new Map<string, Promise<Recording>>()
  known.set(apart, list)
  const { obstacles, ...values } = how
  const key = JSON.stringify([values, obstacles.map(({ positions, indices }) => [hashBits(positions), hashBits(indices)])])
  const before = list.get(key)
  if (before) {
    try {
      return await before
    } catch (error) {
      // whoever began it did not want it any more
      if (context.signal?.aborted) throw error
    }
  }
  const made = drop(apart, how, context)
  list.set(key, made)
  // one that was stopped is begun anew
  made.catch(() => list.delete(key))
  // old ones make way
  for (const old of list.keys()) if (list.size > 4 && old !== key) list.delete(old)
  return made
}

function said(recording: Recording, { floor, others, at, length }: Params): StepIssue[] {
  const issues: StepIssue[] = []
  if (floor === 'none' && others.length === 0)
    issues.push({
      code: 'no-floor',
      severity: 'note',
      message: 'There is nothing to fall upon.',
      remedy: 'Choose a floor, or pieces that stand in the way.',
      field: 'floor',
    })
  if (at > length)
    issues.push({
      code: 'beyond',
      severity: 'note',
      message: `It is followed for ${plain(length)} s only, and shown as it is then.`,
      remedy: 'Follow it for longer.',
      field: 'length',
    })
  if (recording.off > 0.15)
    issues.push({
      code: 'coarse-shape',
      severity: 'note',
      message: `Something is taken ${plain(100 * recording.off)} % larger or smaller than it is while it falls.`,
      remedy: 'Break it into simpler parts, or choose connected parts.',
      field: 'by',
    })
  return issues
}
