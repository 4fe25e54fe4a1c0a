import { z } from 'zod'
import { pieceReference } from '../../document/piece-reference'
import type { Forces } from '../../physics/forces'
import type { Surroundings } from '../../physics/surroundings'
import type { Air } from '../../physics/wind'
import type { Assembly } from '../../solid/assembly'
import { transformed, UNMOVED } from '../../solid/operations'
import { type Solid, triangleCount } from '../../solid/solid'
import { meta, plain } from '../meta'
import type { Mask } from '../../mask/schema'
import { MASK_NOWHERE } from './masks'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import type { Value } from '../value'

/** More things, or triangles to fall upon, are too much for the engine's memory. */
const MOST_THINGS = 1000
const MOST_OBSTACLE = 200_000

export const APART_LABELS = ['Letter', 'Word', 'Line', 'Shard or copy', 'Connected part']
export const THINGS = { letter: 'letters', word: 'words', line: 'lines', copy: 'pieces', part: 'parts' } as const

const forced = { field: 'force', is: ['pull', 'whirl', 'shake'] }
const blown = { field: 'air', is: ['wind'] }

/** A number between bounds that says so when it is not. */
export const bounded = (title: string, low: number, high: number, start: number, more: Record<string, unknown> = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(low, `${title} is at least ${low}.`)
    .max(high, `${title} is at most ${high}.`)
    .default(start)
    .meta(meta({ title, ...more }))

/** The moment that is shown, and how long is followed. */
export const momentFields = (start: number, length: number) => ({
  at: bounded('After', 0, 30, start, { unit: 's', step: 0.1, description: 'The moment that is shown. Key it from 0 to have it happen while the film runs.' }),
  length: bounded('Followed for', 0.1, 30, length, { unit: 's', step: 0.5, description: 'Longer takes longer; it ends when all is at rest.' }),
})

/** What is fallen upon. */
export const surroundingFields = (floor: 'below' | 'none') => ({
  floor: z
    .enum(['below', 'pen', 'none'])
    .default(floor)
    .meta(meta({ title: 'Floor', labels: ['A floor', 'A floor in a pen', 'None'] })),
  fall: bounded('Its depth below', 0, 5000, 60, {
    unit: 'mm',
    step: 5,
    when: { field: 'floor', is: ['below', 'pen'] },
    description: 'From the lowest of what falls.',
  }),
  room: bounded('Room beside', 0, 1000, 20, { unit: 'mm', step: 5, when: { field: 'floor', is: ['pen'] } }),
  belt: bounded('The floor goes', -2000, 2000, 0, {
    unit: 'mm/s',
    step: 10,
    when: { field: 'floor', is: ['below', 'pen'] },
    advanced: true,
    description: 'To the right, and takes along what lies on it.',
  }),
  others: z
    .array(pieceReference)
    .max(24, 'At most 24 pieces.')
    .default([])
    .meta(meta({ title: 'Falls upon', input: ['solid'], placed: true })),
})

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)

/** Forces beside gravity and air, out of the way at first. */
export const forceFields = {
  force: z
    .enum(['none', 'pull', 'whirl', 'shake'])
    .default('none')
    .meta(meta({ title: 'Another force', labels: ['None', 'Pull or push at a spot', 'Whirl about a spot', 'Shaking'] })),
  power: bounded('Its strength', -200, 200, 10, {
    unit: 'm/s²',
    step: 1,
    when: forced,
    description: 'Below 0 it pushes away, or whirls the other way. Gravity has 9.81.',
  }),
  spot: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(
      meta({
        title: 'Spot',
        holds: 'spot on the piece',
        when: { field: 'force', is: ['pull', 'whirl'] },
        description: 'In the middle of everything when none is picked.',
      }),
    ),
  reach: bounded('Half as strong at', 0, 10_000, 0, {
    unit: 'mm',
    step: 5,
    when: { field: 'force', is: ['pull', 'whirl'] },
    description: 'From the spot; 0: as strong everywhere.',
  }),
  begins: bounded('Acts from', 0, 30, 0, { unit: 's', step: 0.1, when: forced, description: 'By the time of what moves, like After.' }),
  ends: bounded('Until', 0, 30, 30, { unit: 's', step: 0.1, when: forced }),
}

export const forcesOf = (
  p: {
    readonly force: string
    readonly power: number
    readonly spot: readonly [number, number, number] | null
    readonly reach: number
    readonly seed: number
    readonly begins: number
    readonly ends: number
  },
  box: readonly number[],
): Forces => ({
  spot: p.spot ?? ([0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as [number, number, number]),
  pull: p.force === 'pull' ? p.power : 0,
  whirl: p.force === 'whirl' ? p.power : 0,
  shake: p.force === 'shake' ? p.power : 0,
  reach: p.reach,
  seed: p.seed,
  ...(p.begins > 0 || p.ends < 30 ? { acts: [p.begins, p.ends] as const } : {}),
})

export const metreField = bounded('So many mm seem a metre', 1, 1000, 50, {
  unit: 'mm',
  step: 5,
  advanced: true,
  description: 'The fewer, the heavier and slower things seem.',
})

export const gravityFields = {
  gravity: bounded('Gravity', 0, 100, 9.81, { unit: 'm/s²', step: 0.5, advanced: true }),
  metre: metreField,
}

/** Wind: strength, where it goes, and how it comes and goes; shown only when asked for. */
export const windFields = (when?: { readonly field: string; readonly is: readonly string[] }) => ({
  air: z
    .enum(['still', 'wind'])
    .default('still')
    .meta(meta({ title: 'Air', labels: ['Still', 'Wind'], ...(when ? { when } : {}) })),
  wind: bounded('Its speed', 0, 60, 8, { unit: 'm/s', step: 1, most: 30, when: blown }),
  towards: bounded('Blows towards', -360, 360, 90, { unit: '°', step: 5, when: blown, description: '0 is to the right, 90 to the back, −90 to the front.' }),
  rising: bounded('Rising', -90, 90, 0, { unit: '°', step: 5, when: blown, advanced: true }),
  gusts: bounded('Gusts', 0, 100, 50, { unit: '%', step: 5, when: blown }),
  turbulence: bounded('Turbulence', 0, 100, 40, { unit: '%', step: 5, when: blown }),
})

export function airOf(p: {
  readonly air: string
  readonly wind: number
  readonly towards: number
  readonly rising: number
  readonly gusts: number
  readonly turbulence: number
  readonly seed: number
}): Air {
  const [a, b] = [p.towards, p.rising].map((v) => (v * Math.PI) / 180)
  // to a millionth, which every engine rounds alike
  const part = (v: number) => Math.round(1e6 * v) / 1e6
  const wind = p.air === 'wind' ? p.wind : 0
  const flat = wind * Math.cos(b)
  return {
    speed: [part(flat * Math.cos(a)), part(wind * Math.sin(b)), part(-flat * Math.sin(a))],
    gusts: p.gusts / 100,
    turbulence: p.turbulence / 100,
    seed: p.seed,
  }
}

/** What a physics step may not have, in words. */
export function tooMuch(count: number, obstacles: readonly Solid[]): Extract<StepOutcome, { ok: false }> | undefined {
  if (count > MOST_THINGS)
    return failed(
      'too-many',
      `${count.toLocaleString('en')} things are more than can be followed at once.`,
      `At most ${MOST_THINGS.toLocaleString('en')}; take fewer.`,
      'by',
    )
  if (obstacles.reduce((sum, solid) => sum + triangleCount(solid), 0) > MOST_OBSTACLE)
    return failed('too-many', 'What things fall upon has too many triangles.', 'Reduce it, or leave one out.', 'others')
  return undefined
}

/** The other pieces where they stand in this one's coordinates. */
export const obstaclesOf = (context: StepContext): Solid[] =>
  (context.inputs.others ?? []).flatMap((value, i) => (value.kind === 'solid' ? [transformed(value, context.placed?.others?.[i]?.matrix ?? UNMOVED)] : []))

/** Where things fall; `box`: of all of them, mm. */
export const surroundingsOf = (
  { gravity, metre, floor, fall, room, belt }: Readonly<Record<'gravity' | 'metre' | 'fall' | 'room' | 'belt', number>> & { readonly floor: string },
  box: readonly number[],
  obstacles: readonly Solid[],
): Pick<Surroundings, 'gravity' | 'metre' | 'floor' | 'belt' | 'pen' | 'obstacles'> => ({
  gravity,
  metre,
  ...(floor === 'none' ? {} : { floor: box[1] - fall, belt }),
  ...(floor === 'pen' ? { pen: [(box[3] - box[0]) / 2 + room, (box[5] - box[2]) / 2 + room] as const } : {}),
  obstacles,
})

/** A value physics works on, or what is said when there is none. */
export const solidsIn = (title: string, input: Value | undefined): Solid | Assembly | Extract<StepOutcome, { ok: false }> =>
  input?.kind === 'solid' || input?.kind === 'assembly'
    ? input
    : failed('no-input', `${title} needs a solid, copies or shards.`, 'Put a form such as Extrude before it.')

/** Said where a mask is to limit wind and force and there are none, or it is nowhere. */
export function limitSaid({ force, air, mask }: { readonly force: string; readonly air: string; readonly mask: Mask }, nowhere: boolean): StepIssue[] {
  if (mask.list.length === 0) return []
  if (nowhere) return [MASK_NOWHERE]
  if (force !== 'none' || air === 'wind') return []
  return [
    {
      code: 'nothing-to-limit',
      severity: 'note',
      message: 'There is no wind and no force for the mask to limit.',
      remedy: 'Choose one of them.',
      field: 'force',
    },
  ]
}

/** Said when a moment is later than what was followed. */
export const beyond = (at: number, length: number): StepIssue[] =>
  at <= length
    ? []
    : [
        {
          code: 'beyond',
          severity: 'note',
          message: `It is followed for ${plain(length)} s only, and shown as it is then.`,
          remedy: 'Follow it for longer.',
          field: 'length',
        },
      ]
