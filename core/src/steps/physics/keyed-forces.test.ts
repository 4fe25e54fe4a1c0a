import { beforeAll, describe, expect, it } from 'vitest'
import { runWith, step, words } from '../../../test/simulating'
import type { RouteStep } from '../../document/schema'
import { momentOf } from '../../document/moment'
import { loadManifold } from '../../kernel/manifold'
import { track } from '../../motion/track'
import { bakedAssembly } from '../../solid/assembly'
import type { Value } from '../value'

beforeAll(() => loadManifold())

const RATE = 24
const keyed = (at: RouteStep, name: string, list: readonly (readonly [number, number])[], ease = 'hold'): RouteStep => ({
  ...at,
  tracks: { ...at.tracks, [name]: track.parse({ keys: list.map(([frame, value]) => ({ at: frame, value, ease })), after: 'stays' }) },
})
const placesOf = (value: Value | undefined) => {
  if (value?.kind !== 'assembly') throw new Error('no assembly')
  return bakedAssembly(value).positions
}

/** What comes out, and the recordings that were made for it. */
async function seen(steps: readonly RouteStep[], frames: readonly number[]) {
  const bakes = new Map<string, Uint8Array>()
  const values: (Value | undefined)[] = []
  for (const frame of frames) values.push((await runWith({ bakes: storeOf(bakes), rate: RATE, moment: momentOf(frame, RATE) }, ...steps)).value)
  return { values, recordings: new Set(bakes.keys()) }
}
const storeOf = (map: Map<string, Uint8Array>) => ({
  read: async (key: string) => map.get(key),
  write: async (key: string, bytes: Uint8Array) => void map.set(key, bytes),
})

const floating = (params: Record<string, unknown>): RouteStep =>
  step('drop', { floor: 'none', gravity: 0, force: 'pull', spot: [4000, 20, 0], reach: 0, at: 2, length: 2, ...params })

describe('a force with keys', () => {
  it('acts as one that begins when its keys say so, bit for bit', async () => {
    const route = words('Qu')
    const late = await seen([...route, floating({ power: 10, begins: 1 })], [0])
    const held = await seen(
      [
        ...route,
        keyed(floating({ power: 3 }), 'power', [
          [0, 0],
          [RATE, 10],
        ]),
      ],
      [0],
    )
    expect(placesOf(held.values[0])).toEqual(placesOf(late.values[0]))
    // and not as one that has been there from the start
    const early = await seen([...route, floating({ power: 10 })], [0])
    expect(placesOf(early.values[0])).not.toEqual(placesOf(late.values[0]))
  })

  it('is one recording for the whole film, and another when a key is another', async () => {
    const route = words('I')
    const waxing = keyed(
      floating({}),
      'power',
      [
        [0, 0],
        [48, 20],
      ],
      'even',
    )
    const film = keyed(
      waxing,
      'at',
      [
        [0, 0],
        [48, 2],
      ],
      'even',
    )
    const { values, recordings } = await seen([...route, film], [0, 12, 24, 48])
    expect(recordings.size).toBe(1)
    const firsts = values.map((value) => placesOf(value)[0])
    // ever faster towards the spot
    for (let i = 1; i < firsts.length; i++) expect(firsts[i]).toBeGreaterThan(firsts[i - 1])
    const other = await seen(
      [
        ...route,
        keyed(
          film,
          'power',
          [
            [0, 0],
            [48, 30],
          ],
          'even',
        ),
      ],
      [48],
    )
    expect(other.recordings).not.toEqual(recordings)
    expect(placesOf(other.values[0])[0]).toBeGreaterThan(firsts[3])
  })

  it.each(['drop', 'jelly', 'drape'])('moves what %s moves by keyed wind', async (kind) => {
    const route = words('I')
    const blown = step(kind, { floor: 'none', gravity: 0, air: 'wind', wind: 0, towards: 0, rising: 60, gusts: 0, turbulence: 0, at: 1, length: 1 })
    /** how far to the right and up, mm */
    const middle = async (steps: readonly RouteStep[]) => {
      const places = placesOf((await seen(steps, [0])).values[0])
      let sum = 0
      for (let i = 0; i < places.length; i += 3) sum += places[i] + places[i + 1]
      return sum / (places.length / 3)
    }
    const calm = await middle([...route, blown])
    const windy = await middle([
      ...route,
      keyed(blown, 'wind', [
        [0, 0],
        [12, 40],
      ]),
    ])
    expect(windy).toBeGreaterThan(calm + 0.05)
  })
})
