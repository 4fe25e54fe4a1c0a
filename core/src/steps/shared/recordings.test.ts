import { beforeAll, describe, expect, it } from 'vitest'
import { assets } from '../../../test/helpers'
import { CALM, quiet, STILL, valueOf, words } from '../../../test/simulating'
import type { BakeStore } from '../../cache/bakes'
import { Memo } from '../../cache/memo'
import { loadManifold } from '../../kernel/manifold'
import { maskSchema } from '../../mask/schema'
import { type Jelly, makeJelly, wobble } from '../../physics/jelly'
import { type PointRecording, pointCodec, type Work } from '../../physics/recording'
import { takenApart } from '../../repeat/apart'
import type { StepContext } from '../step'
import { Recordings } from './recordings'

let jelly: Jelly
beforeAll(async () => {
  await loadManifold()
  const none = maskSchema.parse({ list: [] })
  const made = await makeJelly(takenApart(await valueOf(...words('o')), 'letter'), 4, none, none, quiet.breathe)
  if (!made.ok) throw new Error(made.why)
  jelly = made.jelly
})

const how = {
  gravity: 9.81,
  metre: 50,
  friction: 0.6,
  bounce: 0,
  stiffness: 0.2,
  damping: 0.4,
  swell: 1,
  density: 0.2,
  air: STILL,
  forces: CALM,
  floor: -15,
  seconds: 2,
}
const make = (work: Work) => wobble(jelly, { ...how, obstacles: [] }, work)

function store() {
  const bakes = new Map<string, Uint8Array>()
  return {
    bakes,
    read: async (key: string) => bakes.get(key),
    write: async (key: string, bytes: Uint8Array) => void bakes.set(key, bytes),
  }
}

/** A page that records under a name: what it was told of its progress, and what comes of it. `until`: it is closed once so much is done. */
async function page(name: string, bakes: BakeStore, until?: number, things = 'o'): Promise<{ shares: number[]; made?: PointRecording }> {
  const shares: number[] = []
  const closed = new AbortController()
  const context: StepContext = {
    assets,
    inputs: {},
    memo: new Memo(),
    bakes,
    signal: closed.signal,
    progress(done) {
      shares.push(done)
      if (until !== undefined && done > until) closed.abort(new Error('closed'))
    },
    breathe: async () => closed.signal.throwIfAborted(),
  }
  // a page has recordings of its own, and keeps every stand here
  const recording = new Recordings(name, pointCodec, 0).of(things, { obstacles: [] }, context, make)
  if (until === undefined) return { shares, made: await recording }
  await expect(recording).rejects.toThrow('closed')
  return { shares }
}

describe('A recording that was lost with its page', () => {
  it('goes on from the last part that was kept, twice over, and ends as one that never was broken off', async () => {
    const whole = await page('whole', store())
    const kept = store()
    await page('lost', kept, 0.3)
    expect([...kept.bakes.keys()].every((key) => /-p\d+$/.test(key))).toBe(true)
    const second = await page('lost', kept, 0.6)
    expect(second.shares[0]).toBeGreaterThan(0.25)
    const third = await page('lost', kept)
    expect(third.shares[0]).toBeGreaterThan(0.55)
    expect(third.made).toEqual(whole.made)
    // and is kept whole
    expect([...kept.bakes.keys()].filter((key) => !/-p\d+$/.test(key))).toHaveLength(1)
  })

  it('is begun anew where its parts are damaged, are of another attempt, or are of other things', async () => {
    const whole = await page('whole', store())
    const [one, other] = [store(), store()]
    await page('other', one, 0.5)
    await page('other', other, 0.5)
    const keys = [...one.bakes.keys()]
    expect(keys.length).toBeGreaterThan(3)
    // the second part of another attempt: only the first counts
    const mixed = store()
    mixed.bakes.set(keys[0], one.bakes.get(keys[0]) as Uint8Array)
    for (const key of keys.slice(1)) mixed.bakes.set(key, other.bakes.get(key) as Uint8Array)
    const went = await page('other', mixed)
    expect(went.shares[0]).toBeLessThan(0.15)
    expect(went.made).toEqual(whole.made)
    const damaged = store()
    damaged.bakes.set(
      keys[0].replace('other', 'broken'),
      (one.bakes.get(keys[0]) as Uint8Array).map((v, i) => (i > 200 ? v ^ 1 : v)),
    )
    expect((await page('broken', damaged)).made).toEqual(whole.made)
    // parts under the name of something else: its numbers do not fit
    const none = maskSchema.parse({ list: [] })
    const small = await makeJelly(takenApart(await valueOf(...words('i')), 'part'), 5, none, none, quiet.breathe)
    if (!small.ok) throw new Error(small.why)
    const before = jelly
    try {
      jelly = small.jelly
      const strange = store()
      strange.bakes.set(keys[0].replace('other', 'strange'), one.bakes.get(keys[0]) as Uint8Array)
      const [made, own] = [await page('strange', strange), await page('own', store())]
      expect(made.made).toEqual(own.made)
    } finally {
      jelly = before
    }
  })
})
