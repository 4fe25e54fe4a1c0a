import type { OverTime } from '../../motion/over-time'
import type { Forces } from '../../physics/forces'
import type { Surroundings } from '../../physics/surroundings'
import type { Air } from '../../physics/wind'
import type { Assembly } from '../../solid/assembly'
import { transformed, UNMOVED } from '../../solid/operations'
import { type Solid, triangleCount } from '../../solid/solid'
import { plain } from '../meta'
import type { Mask } from '../../mask/schema'
import { MASK_NOWHERE } from './masks'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import type { Value } from '../value'

/** More things, or triangles to fall upon, are too much for the engine's memory. */
const MOST_THINGS = 1000

const MOST_OBSTACLE = 200_000

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
  strength?: OverTime,
): Forces => ({
  spot: p.spot ?? ([0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as [number, number, number]),
  pull: p.force === 'pull' ? (strength ? 1 : p.power) : 0,
  whirl: p.force === 'whirl' ? (strength ? 1 : p.power) : 0,
  shake: p.force === 'shake' ? (strength ? 1 : p.power) : 0,
  reach: p.reach,
  seed: p.seed,
  ...(p.begins > 0 || p.ends < 30 ? { acts: [p.begins, p.ends] as const } : {}),
  ...(strength && p.force !== 'none' ? { strength } : {}),
})

export function airOf(
  p: {
    readonly air: string
    readonly wind: number
    readonly towards: number
    readonly rising: number
    readonly gusts: number
    readonly turbulence: number
    readonly seed: number
  },
  strength?: OverTime,
): Air {
  const [a, b] = [p.towards, p.rising].map((v) => (v * Math.PI) / 180)
  // to a millionth, which every engine rounds alike
  const part = (v: number) => Math.round(1e6 * v) / 1e6
  const wind = p.air !== 'wind' ? 0 : strength ? 1 : p.wind
  const flat = wind * Math.cos(b)
  return {
    speed: [part(flat * Math.cos(a)), part(wind * Math.sin(b)), part(-flat * Math.sin(a))],
    gusts: p.gusts / 100,
    turbulence: p.turbulence / 100,
    seed: p.seed,
    ...(strength && p.air === 'wind' ? { strength } : {}),
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
