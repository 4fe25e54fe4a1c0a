import type { RouteStep } from '../src/document/schema'
import { type EvaluateOptions, evaluateRoute } from '../src/evaluate/route'
import type { Dropping } from '../src/physics/drop'
import type { Forces } from '../src/physics/forces'
import type { Air } from '../src/physics/wind'
import type { Assembly } from '../src/solid/assembly'
import type { Solid } from '../src/solid/solid'
import { assets, wordRoute } from './helpers'

export const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
export const run = (...route: RouteStep[]) => evaluateRoute(route, { assets })
export const runWith = (options: Partial<EvaluateOptions>, ...route: RouteStep[]) => evaluateRoute(route, { assets, ...options })
export const words = (text: string, face = 'archivo-bold') => wordRoute(text, face, { size: 40 }, { depth: 10 })

export async function valueOf(...route: RouteStep[]): Promise<Solid | Assembly> {
  const { value, steps } = await run(...route)
  if (!value || value.kind === 'outline') throw new Error(JSON.stringify(steps.at(-1)?.issues))
  return value
}

export const block = (width: number, height: number, depth: number) => valueOf(step('block', { width, height, depth }))

export const STILL: Air = { speed: [0, 0, 0], gusts: 0, turbulence: 0, seed: 1 }
export const CALM: Forces = { spot: [0, 0, 0], pull: 0, whirl: 0, shake: 0, reach: 0, seed: 1 }
export const quiet = { breathe: async () => {}, progress: () => {} }

/** Falling from rest in an empty world, with what is changed of that. */
export const falling = (more: Partial<Dropping> = {}): Dropping => ({
  gravity: 9.81,
  metre: 50,
  friction: 0.5,
  bounce: 0,
  stuff: 'acrylic',
  push: [0, 0, 0],
  spin: 0,
  obstacles: [],
  air: STILL,
  forces: CALM,
  tethers: [],
  pushApart: false,
  seed: 1,
  seconds: 3,
  ...more,
})
