import { beforeAll, describe, expect, it } from 'vitest'
import { CALM, falling, quiet, STILL, valueOf, words } from '../../test/simulating'
import { loadManifold } from '../kernel/manifold'
import { maskSchema } from '../mask/schema'
import { takenApart } from '../repeat/apart'
import { fill } from './balloon'
import { drape } from './drape'
import { drop } from './drop'
import { type Foil, foilOf } from './foil'
import { makeJelly, wobble } from './jelly'
import { NoStand, type Stand, type Work } from './recording'
import { hungFromAbove } from './tethers'

beforeAll(() => loadManifold())

const GUSTS = { speed: [4, 0, -5] as const, gusts: 0.7, turbulence: 0.6, seed: 3 }

/** Simulations in which as much is going on as can be: contacts, glue that gives way, ropes, wind, pressure. */
const simulations: Record<string, (work: Work) => Promise<{ readonly frames: number } | undefined>> = {
  'letters that fall in a heap': async (work) => {
    const apart = takenApart(await valueOf(...words('Quay')), 'letter')
    return drop(apart, falling({ floor: -30, pen: [70, 40], spin: 200, glue: 1.2, seconds: 2, forces: { ...CALM, shake: 2000, reach: 400 } }), work)
  },
  'letters on ropes in the wind': async (work) => {
    const apart = takenApart(await valueOf(...words('Qu')), 'letter')
    const tethers = hungFromAbove(apart, (i) => apart.assembly.units[apart.things[i].entries[0]] ?? apart.assembly.units[0], 2, 20)
    return drop(apart, falling({ tethers, air: GUSTS, seconds: 2 }), work)
  },
  'glued shards that break apart': async (work) => {
    const apart = takenApart(await valueOf(...words('I'), { id: 'shatter-1', kind: 'shatter', on: true, params: { pieces: 6 } }), 'copy')
    return drop(apart, falling({ floor: -20, glue: 8, seconds: 2 }), work)
  },
  'jelly letters that meet': async (work) => {
    const none = maskSchema.parse({ list: [] })
    const made = await makeJelly(takenApart(await valueOf(...words('lo')), 'letter'), 4, none, none, quiet.breathe)
    if (!made.ok) throw new Error(made.why)
    const how = { gravity: 9.81, metre: 50, friction: 0.6, bounce: 0, obstacles: [], stiffness: 0.1, damping: 0.3, swell: 1.3, density: 0.2, forces: CALM }
    return wobble(made.jelly, { ...how, air: GUSTS, floor: -10, seconds: 2 }, work)
  },
  'jelly that was drawn up, and comes to rest': async (work) => {
    const none = maskSchema.parse({ list: [] })
    const made = await makeJelly(takenApart(await valueOf(...words('l')), 'letter'), 4, none, none, quiet.breathe)
    if (!made.ok) throw new Error(made.why)
    const how = { gravity: 9.81, metre: 50, friction: 0.6, bounce: 0, obstacles: [], stiffness: 0.8, damping: 4, swell: 1, density: 0.2, air: STILL }
    return wobble(made.jelly, { ...how, forces: { ...CALM, spot: [0, 1e4, 0], pull: 12, acts: [0, 0.3] }, floor: 0, seconds: 2 }, work)
  },
  'a balloon on a string': (work) => {
    const foil = foilOf([[0, 0, 60, 0, 60, 14, 0, 14]], 2, 2 ** -10) as Foil
    return fill(
      [{ foil, valve: 0 }],
      { pressure: 40, stretch: 0.1, crease: 0.1, metre: 50, side: 2, obstacles: [], seconds: 2, tied: { length: 40, lift: 4, air: GUSTS } },
      work,
    )
  },
  'a balloon that is free': (work) => {
    const foil = foilOf([[0, 0, 60, 0, 60, 14, 0, 14]], 2, 2 ** -10) as Foil
    return fill([{ foil, valve: 0 }], { pressure: 40, stretch: 0, crease: 0.1, metre: 50, side: 2, obstacles: [], seconds: 2 }, work)
  },
  'a cloth over letters': async (work) => {
    const apart = takenApart(await valueOf(...words('Q')), 'letter')
    const cloth = { x: -10, z: -20, y: 45, wide: 60, deep: 50 }
    const how = { gravity: 9.81, metre: 50, friction: 0.6, bounce: 0, obstacles: [], falls: 'down', edge: 2, thick: 0.6, stiffness: 0.2, held: 'free' } as const
    return drape(apart, { ...how, cloth, air: STILL, forces: CALM, floor: 0, seconds: 1.5 }, work)
  },
}

describe.each(Object.entries(simulations))('%s', (_, simulate) => {
  it('go on from where they were broken off, to the same end bit by bit', async () => {
    const stands: Stand[] = []
    const whole = await simulate({
      ...quiet,
      keep: async (stand) => {
        const { frames, values, engine, own } = stand()
        stands.push({ frames, values: values.slice(), engine, own })
      },
    })
    if (!whole) throw new Error('blown up')
    expect(stands.length).toBeGreaterThan(3)
    for (const share of [0.3, 0.7]) {
      const from = stands[Math.floor(share * stands.length)]
      const shares: number[] = []
      const again = await simulate({ ...quiet, progress: (done) => shares.push(done), from })
      expect(again).toEqual(whole)
      // it began there, not at the beginning
      expect(shares[0]).toBeGreaterThanOrEqual((from.frames - 1) / whole.frames / 2)
      expect(from.frames).toBeGreaterThan(10)
    }
    // what is of another simulation is told, and nothing of it used
    const last = stands[stands.length - 1]
    await expect(simulate({ ...quiet, from: { ...last, values: last.values.subarray(3) } })).rejects.toThrow(NoStand)
    await expect(simulate({ ...quiet, from: { ...last, engine: last.engine.subarray(0, last.engine.length / 2) } })).rejects.toThrow(NoStand)
  })
})
