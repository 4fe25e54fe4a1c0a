import type { CameraStand } from '../document/camera'
import type { ProjectDocument, RouteStep } from '../document/schema'
import { toCount } from '../steps/source/lettering/counting'
import { dressParams } from '../steps/dress/dress/schema'
import { type Keyed, type Track, track } from '../motion/track'
import { stepKind } from '../steps/registry'
import { givenBy } from '../steps/step'
import type { ValueKind } from '../steps/value'
import { newStep } from './new-project'

/** What a ready movement is made for. */
export interface Occasion {
  readonly route: readonly RouteStep[]
  /** width, height and depth of the piece, mm */
  readonly size: readonly [number, number, number]
  /** its first frame, and how many it takes */
  readonly at: number
  readonly frames: number
}

/** A movement to begin with: it puts steps and keys on a route that are edited like all others. */
export interface ReadyMovement {
  readonly id: string
  readonly title: string
  readonly summary: string
  /** The route with it; undefined where there is nothing on it to move, see `needs`. */
  readonly onto: (occasion: Occasion) => RouteStep[] | undefined
  /** what is wanted where it does not go */
  readonly needs?: string
}

type Keys = readonly (readonly [at: number, value: Keyed, ease?: Track['keys'][number]['ease']])[]

/** A track of keys at whole frames; of those that a short movement has no frames for, the later ones are left out. */
function moved(keys: Keys, more: Partial<Track> = {}): Track {
  const whole = keys.map(([at, value, ease = 'gentle']) => ({ at: Math.round(at), value, ease }))
  return track.parse({ keys: whole.filter(({ at }, i) => i === 0 || at > whole[i - 1].at), ...more })
}

/** An id that no step of the route has. */
function freeId(kind: string, route: readonly RouteStep[]): string {
  let number = 1
  while (route.some(({ id }) => id === `${kind}-${number}`)) number++
  return `${kind}-${number}`
}

const added = (route: readonly RouteStep[], kind: string, params: Record<string, unknown>, tracks: Record<string, Track>): RouteStep[] => [
  ...route,
  { ...newStep(freeId(kind, route), kind, params), tracks },
]

const inTurn =
  (params: (occasion: Occasion) => Record<string, unknown>, keys: (occasion: Occasion) => Keys): ReadyMovement['onto'] =>
  (occasion) =>
    occasion.size[0] > 0 ? added(occasion.route, 'in-turn', params(occasion), { done: moved(keys(occasion)) }) : undefined

/** From away to its place, over all its frames. */
const arrives = ({ at, frames }: Occasion): Keys => [
  [at, 0, 'even'],
  [at + frames, 100],
]

const rounded = (v: number) => Number(v.toFixed(1))

/** A tube that strikes: dark, two short flashes, a longer one, then on. Shares of the time, and how bright. */
const STRIKES: readonly (readonly [number, number])[] = [
  [0, 0],
  [0.18, 0.7],
  [0.22, 0.05],
  [0.38, 0.9],
  [0.42, 0.1],
  [0.5, 0.5],
  [0.54, 0],
  [0.76, 0.85],
  [0.8, 0.35],
  [0.86, 1],
]

/** Ways a camera moves from where it stands. */
export const CAMERA_MOVES = ['push', 'orbit', 'slide'] as const
export type CameraMove = (typeof CAMERA_MOVES)[number]

/** A camera on its way: slowly nearer to what it looks at, in a part of a circle about it, or sideways past it. */
export function cameraMove(move: CameraMove, { at, aim, lens }: CameraStand, from: number, frames: number): NonNullable<ProjectDocument['camera']> {
  const [dx, dy, dz] = at.map((v, k) => v - aim[k])
  // a circle is not a line: enough keys that it is one to a thousandth of its radius
  const steps = move === 'orbit' ? Math.max(1, Math.min(12, Math.floor(frames))) : 1
  const stands = Array.from({ length: steps + 1 }, (_, i): { at: number[]; aim: number[] } => {
    const t = i / steps
    if (move === 'push') return { at: aim.map((v, k) => v + (at[k] - v) * (1 - 0.3 * t)), aim: [...aim] }
    if (move === 'orbit') {
      const angle = (t - 0.5) * (Math.PI / 3)
      const [c, s] = [Math.cos(angle), Math.sin(angle)]
      return { at: [aim[0] + c * dx + s * dz, aim[1] + dy, aim[2] + c * dz - s * dx], aim: [...aim] }
    }
    const size = Math.hypot(dx, dz) || 1
    const by = (t - 0.5) * 0.35 * Math.hypot(dx, dy, dz)
    const along = [(by * dz) / size, 0, (-by * dx) / size]
    return { at: at.map((v, k) => v + along[k]), aim: aim.map((v, k) => v + along[k]) }
  })
  const ease = move === 'orbit' ? 'even' : 'gentle'
  const keys = (value: (stand: (typeof stands)[number]) => Keyed) => moved(stands.map((stand, i) => [from + (frames * i) / steps, value(stand), ease] as const))
  const three = (list: number[]) => list.map((v) => Number(v.toFixed(3)))
  return { at: keys((stand) => three(stand.at)), aim: keys((stand) => three(stand.aim)), lens: moved([[from, lens]]) }
}

const GLOWING = ['face', 'edge'] as const

export const READY_MOVEMENTS: readonly ReadyMovement[] = [
  {
    id: 'unfold',
    title: 'Unfold from the base',
    summary: 'Letters lie flat and stand up one after another.',
    onto: inTurn(() => ({ lean: 90, pivot: 'foot', pivotDepth: 'back', apart: 60, ease: 'beyond and back' }), arrives),
  },
  {
    id: 'rise',
    title: 'Rise and sink again',
    summary: 'Letters come forward out of the ground behind them, stay, and go back.',
    onto: inTurn(
      ({ size }) => ({ forward: rounded(-1.05 * size[2]), apart: 50 }),
      ({ at, frames }) => [
        [at, 0, 'even'],
        [at + 0.4 * frames, 100, 'even'],
        [at + 0.6 * frames, 100, 'even'],
        [at + frames, 0],
      ],
    ),
  },
  {
    id: 'assemble',
    title: 'Assemble from parts',
    summary: 'All parts are strewn about, tumbled, and find their places by lot.',
    onto: inTurn(
      ({ size }) => ({ by: 'part', stray: rounded(0.5 * Math.max(size[0], size[1])), tumble: 160, pivot: 'middle', order: 'lot', apart: 35, ease: 'slow end' }),
      arrives,
    ),
  },
  {
    id: 'grow',
    title: 'Grow one by one',
    summary: 'Each letter grows out of nothing, a little too far and back.',
    onto: inTurn(() => ({ size: 0, pivot: 'foot', apart: 70, ease: 'beyond and back' }), arrives),
  },
  {
    id: 'drop-in',
    title: 'Come down from the middle',
    summary: 'Letters sink from above and turn into their places, the middle ones first.',
    onto: inTurn(({ size }) => ({ up: rounded(1.6 * size[1]), swing: 90, pivot: 'middle', order: 'middle', apart: 50, ease: 'slow end' }), arrives),
  },
  {
    id: 'burst',
    title: 'Burst and come together',
    summary: 'The word breaks, its pieces fly apart, and all of it runs back.',
    onto({ route, size, at, frames }) {
      if (!(size[0] > 0)) return undefined
      const strength = moved([
        [at, 0, 'even'],
        [at + 0.1 * frames, 0, 'slow end'],
        [at + 0.45 * frames, 120, 'gentle'],
        [at + 0.6 * frames, 130, 'slow start'],
        [at + 0.95 * frames, 0],
      ])
      // what breaks is dressed with everything else where Dress comes after it
      const i = route.findIndex(({ kind, on }) => kind === 'dress' && on)
      const dressLast = i >= 0 && route.slice(i).every(({ kind }) => kind === 'dress')
      const breaks = { ...newStep(freeId('shatter', route), 'shatter', { pattern: 'impact', pieces: 40, reach: rounded(0.4 * size[1]) }) }
      const broken = dressLast ? [...route.slice(0, i), breaks, ...route.slice(i)] : [...route, breaks]
      return added(broken, 'burst', { far: rounded(0.7 * size[1]), turn: 140 }, { strength })
    },
  },
  {
    id: 'fall',
    title: 'Fall down',
    summary: 'Letters fall and come to lie as they will, the same every time.',
    onto({ route, size, at, frames }) {
      if (!(size[0] > 0)) return undefined
      const seconds = 3
      const moment = moved([
        [at, 0, 'even'],
        [at + frames, seconds],
      ])
      return added(route, 'drop', { length: seconds, fall: rounded(1.5 * size[1]) }, { at: moment })
    },
  },
  {
    id: 'sway',
    title: 'Sway in the wind',
    summary: 'The word bends and twists a little, never the same way twice.',
    onto({ route, at, frames }) {
      const drift = (amount: number, seed: number) => ({ besides: { kind: 'drift' as const, amount, frames: Math.max(4, Math.round(frames / 2)), seed } })
      const bent = added(route, 'bend', { angle: 0 }, { angle: moved([[at, 0]], drift(22, 1)) })
      return added(bent, 'twist', { angle: 0 }, { angle: moved([[at, 0]], drift(14, 2)) })
    },
  },
  {
    id: 'strike-up',
    title: 'Neon strikes up',
    summary: 'Faces and edges flicker and then stay alight.',
    needs: 'A Dress step is wanted on the route, whose faces are to glow.',
    onto({ route, at, frames }) {
      const i = route.findLastIndex(({ kind, on }) => kind === 'dress' && on)
      if (i < 0) return undefined
      const keys = STRIKES.map(([t, glow], k) => [at + t * frames, glow, k === STRIKES.length - 2 ? 'swift' : 'hold'] as const)
      const dress = route[i]
      const tracks = Object.fromEntries(GLOWING.map((surface) => [`${surface}.glow`, moved(keys)]))
      // a surface that is dressed as it comes has no value yet that could move
      const whole = dressParams.safeParse(dress.params)
      if (!whole.success) return undefined
      const params = { ...dress.params, ...Object.fromEntries(GLOWING.map((surface) => [surface, whole.data[surface]])) }
      return route.map((step) => (step === dress ? { ...dress, params, tracks: { ...dress.tracks, ...tracks } } : step))
    },
  },
  {
    id: 'light-sweep',
    title: 'A light runs over it',
    summary: 'Letters light up one after another and fade again.',
    onto: ({ route, size, at, frames }) =>
      size[0] > 0
        ? added(
            route,
            'running-light',
            {},
            {
              at: moved([
                [at, 0, 'even'],
                [at + frames, 100],
              ]),
            },
          )
        : undefined,
  },
  {
    id: 'count-up',
    title: 'Count up',
    summary: 'The last number in the words runs up from nought.',
    needs: 'A number is wanted in the words.',
    onto({ route, at, frames }) {
      const i = route.findIndex(({ kind, on }) => kind === 'lettering' && on)
      const found = i >= 0 ? toCount(String(route[i].params.text ?? '')) : undefined
      if (!found) return undefined
      const number = moved([
        [at, 0, 'slow end'],
        [at + frames, found.number],
      ])
      const params = { ...route[i].params, text: found.text, counts: true, number: found.number }
      return route.map((step, k) => (k === i ? { ...step, params, tracks: { ...step.tracks, number } } : step))
    },
  },
  {
    id: 'write-on',
    title: 'Written on',
    summary: 'A pen, or the brush where there is one, writes stroke after stroke.',
    needs: 'Letters or lines are wanted on the route, which a pen could write.',
    onto({ route, at, frames }) {
      const written = moved([
        [at, 0, 'even'],
        [at + frames, 100],
      ])
      const brush = route.findLast(({ kind, on }) => kind === 'brush' && on)
      if (brush) return route.map((step) => (step === brush ? { ...step, tracks: { ...step.tracks, drawn: written } } : step))
      const last = lastOutline(route)
      if (last < 0) return undefined
      const pen = { ...newStep(freeId('write-on', route), 'write-on', {}), tracks: { written } }
      return [...route.slice(0, last + 1), pen, ...route.slice(last + 1)]
    },
  },
]

/** The place of the last step that gives an outline, before anything is formed of it; −1 where there is none. */
function lastOutline(route: readonly RouteStep[]): number {
  let value: ValueKind | undefined
  let last = -1
  for (const [i, { kind: name, on, params }] of route.entries()) {
    const kind = on ? stepKind(name) : undefined
    if (!kind) continue
    value = givenBy(kind, value, params)
    if (value !== 'outline') break
    last = i
  }
  return last
}
