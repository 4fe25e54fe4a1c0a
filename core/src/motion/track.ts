import { z } from 'zod'
import { colourOfLinear, linearColour } from '../look/material'
import { noise } from '../solid/noise'
import { EASES, type Ease, eased } from './easing'

/** Frames of a project, and keys of one value, at most. */
export const MOST_FRAMES = 36_000
const MOST_KEYS = 2000

const finite = z.number('A key holds a number.').min(-1e6).max(1e6)
const keyed = z.union([
  finite,
  z.boolean(),
  // a colour, or one of a few words
  z.string().max(200),
  z.array(z.union([finite, z.array(finite).max(16)])).max(200),
])
/** What can be keyed: numbers, switches, colours and words, and lists of numbers, as points of a curve. */
export type Keyed = z.infer<typeof keyed>

const share = z.number().min(0, 'The times of a curve’s handles lie between 0 and 1.').max(1, 'The times of a curve’s handles lie between 0 and 1.')

const key = z.object({
  /** the frame, counted from 0; between frames where it was timed to a sound */
  at: z
    .number('A key stands at a frame.')
    .min(0, 'Keys stand at frame 0 or later.')
    .max(MOST_FRAMES, { error: () => `Keys stand at frame ${MOST_FRAMES.toLocaleString('en')} at most.` }),
  value: keyed,
  /** the way to the next key: by name, by the handles of a Bézier, or held until then */
  ease: z.union([z.enum(['hold', ...(Object.keys(EASES) as Ease[])]), z.tuple([share, finite, share, finite])]).default('gentle'),
})

/** What a value goes on as after its last key. */
export const AFTERS = ['stays', 'again', 'there and back', 'goes on'] as const

/** One value of a step over time. */
export const track = z.object({
  keys: z
    .array(key)
    .min(1, 'A movement has a key at least.')
    .max(MOST_KEYS, `A movement has ${MOST_KEYS} keys at most.`)
    .refine((keys) => keys.every((k, i) => i === 0 || k.at > keys[i - 1].at), 'Two keys stand at one frame, or keys are out of order. Move one of them.'),
  after: z.enum(AFTERS).default('stays'),
  /** what numbers do besides: tremble or drift about their course, or swing when a key is reached */
  besides: z
    .object({
      kind: z.enum(['tremble', 'drift', 'swing']),
      /** how far, in the value's own unit; of a swing, % of the step it has just made */
      amount: finite,
      /** frames for one spot of it, or one swing to and fro */
      frames: z.number().min(1, 'It takes a frame at least.').max(MOST_FRAMES),
      seed: z.int('The seed must be a whole number.').min(0).max(1e9).default(1),
    })
    .optional(),
})
export type Track = z.infer<typeof track>
type Key = Track['keys'][number]

/** A value at a frame, which need not be a whole one. The same at any order of asking. */
export function valueAt({ keys, after, besides }: Track, frame: number): Keyed {
  const time = timeWithin(keys, after, frame)
  let value = between(keys, time)
  if (after === 'goes on' && frame > keys[keys.length - 1].at) value = goneOn(keys, frame)
  if (!besides || typeof value !== 'number') return value
  const { kind, amount, frames, seed } = besides
  if (kind === 'swing') return value + swing(keys, time, amount / 100, frames)
  const wave = noise(seed)
  const t = frame / frames
  return value + amount * (kind === 'tremble' ? 2 * wave(t, 0.5, 0.5) : wave(t, 0.5, 0.5) + wave(t / 2.7, 7.5, 0.5))
}

/** The frame among the keys that a frame stands for: a loop comes round after its last one. */
function timeWithin(keys: readonly Key[], after: Track['after'], frame: number): number {
  const [first, last] = [keys[0].at, keys[keys.length - 1].at]
  const length = last - first
  if (frame <= last || length === 0 || (after !== 'again' && after !== 'there and back')) return frame
  const run = (frame - first) % (after === 'again' ? length : 2 * length)
  return first + (after === 'there and back' && run > length ? 2 * length - run : run)
}

function between(keys: readonly Key[], time: number): Keyed {
  let [low, high] = [0, keys.length - 1]
  if (time <= keys[0].at) return keys[0].value
  if (time >= keys[high].at) return keys[high].value
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (keys[middle].at <= time) low = middle
    else high = middle
  }
  const [a, b] = [keys[low], keys[high]]
  if (a.ease === 'hold') return a.value
  return mixed(a.value, b.value, eased(typeof a.ease === 'string' ? EASES[a.ease] : a.ease, (time - a.at) / (b.at - a.at)))
}

const COLOUR = /^#[0-9a-f]{6}$/i

/** A share of the way from one value to another; what has no way between changes when the other is reached. */
function mixed(a: Keyed, b: Keyed, f: number): Keyed {
  if (typeof a === 'number' && typeof b === 'number') return a + f * (b - a)
  if (typeof a === 'string' && typeof b === 'string' && COLOUR.test(a) && COLOUR.test(b)) {
    // light is mixed, not the numbers of its encoding
    const [p, q] = [linearColour(a), linearColour(b)]
    return colourOfLinear(p.map((v, k) => v + f * (q[k] - v)))
  }
  if (Array.isArray(a) && Array.isArray(b) && a.length === b.length) return a.map((v, i) => mixed(v, b[i], f)) as Keyed
  return f >= 1 ? b : a
}

/** A number past its last key, at the speed with which it came there. */
function goneOn(keys: readonly Key[], frame: number): Keyed {
  const last = keys[keys.length - 1]
  if (typeof last.value !== 'number' || keys.length < 2) return last.value
  const step = Math.min(0.01, (last.at - keys[keys.length - 2].at) / 2)
  const before = between(keys, last.at - step)
  return typeof before === 'number' ? last.value + ((last.value - before) / step) * (frame - last.at) : last.value
}

/** How far a number still swings about the last key it has reached: a spring that a step has struck, dying away over three swings. */
function swing(keys: readonly Key[], time: number, share: number, frames: number): number {
  let at = -1
  for (let i = 1; i < keys.length && keys[i].at <= time; i++) at = i
  if (at < 1) return 0
  const [a, b] = [keys[at - 1].value, keys[at].value]
  if (typeof a !== 'number' || typeof b !== 'number') return 0
  const t = (time - keys[at].at) / frames
  return share * (b - a) * Math.exp(-1.5 * t) * Math.sin(2 * Math.PI * t)
}
