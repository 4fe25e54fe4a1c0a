import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { quiet, runWith, step, STILL } from '../../test/simulating'
import { wordRoute } from '../../test/helpers'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import type { Piece } from '../document/schema'
import type { Assembly } from '../solid/assembly'
import { solidBounds } from '../solid/solid'
import { BalloonContacts, type BalloonSkin } from './balloon-contacts'
import { balloonAt, fill, type Filling } from './balloon'
import { type Foil, foilOf } from './foil'

beforeAll(() => loadManifold())

const STEP = 1 / 60
const ball = ballBody(10, 10)
/** m to a mm, and about how long a side is, m */
const SIZE = 0.02
const SIDE = 0.04

function skin(at: readonly [number, number, number], speed: readonly [number, number, number], heavy = 1): BalloonSkin {
  const count = ball.positions.length / 3
  return {
    places: Float32Array.from(ball.positions, (v, i) => (v + at[i % 3]) * SIZE),
    speeds: Float32Array.from({ length: 3 * count }, (_, i) => speed[i % 3]),
    inverse: new Float64Array(count).fill(heavy === Infinity ? 0 : 1 / heavy),
    triangles: ball.indices,
    count,
  }
}

const mean = ({ speeds }: BalloonSkin, k: number) => {
  let sum = 0
  for (let i = k; i < speeds.length; i += 3) sum += speeds[i]
  return sum / (speeds.length / 3)
}

const number = (most: number) => fc.double({ min: -most, max: most, noNaN: true })

describe('balloons against balloons', () => {
  it('that do not come near each other go on as they are', () => {
    fc.assert(
      fc.property(fc.tuple(number(2), number(2), number(2)), fc.tuple(number(2), number(2), number(2)), fc.double({ min: 32, max: 60 }), (a, b, far) => {
        const skins = [skin([0, 0, 0], a), skin([far, 0, 0], b)]
        const before = skins.map(({ speeds }) => speeds.slice())
        expect(new BalloonContacts(skins, SIDE, SIDE / 3).apply(STEP)).toBe(false)
        skins.forEach(({ speeds }, i) => expect(speeds).toEqual(before[i]))
      }),
      { numRuns: 30 },
    )
  })

  it('keep their momentum, and come nearer only as far as there is room', () => {
    for (const way of [0, 1, 2]) {
      const along = (v: number) => [0, 1, 2].map((k) => (k === way ? v : 0)) as [number, number, number]
      // a millimetre apart, and fast
      const skins = [skin([0, 0, 0], along(1)), skin(along(21), along(-1))]
      expect(new BalloonContacts(skins, SIDE, SIDE / 3).apply(STEP)).toBe(true)
      for (let k = 0; k < 3; k++) expect(mean(skins[0], k) + mean(skins[1], k)).toBeCloseTo(0, 4)
      // where they face each other they do not get through each other in a step
      let nearest = Infinity
      for (let v = 0; v < skins[0].count; v++)
        if (skins[0].places[3 * v + way] > 9.7 * SIZE) nearest = Math.min(nearest, skins[0].places[3 * v + way] + skins[0].speeds[3 * v + way] * STEP)
      for (let v = 0; v < skins[1].count; v++)
        if (skins[1].places[3 * v + way] < 11.3 * SIZE)
          expect(skins[1].places[3 * v + way] + skins[1].speeds[3 * v + way] * STEP).toBeGreaterThan(nearest - 0.1 * SIDE)
    }
  })

  it('are not pulled together when they part, and one that is held stays', () => {
    const parting = [skin([0, 0, 0], [-5, 0, 0]), skin([19.5, 0, 0], [5, 0, 0])]
    new BalloonContacts(parting, SIDE, SIDE / 3).apply(STEP)
    expect([mean(parting[0], 0), mean(parting[1], 0)]).toEqual([-5, 5])
    const held = [skin([0, 0, 0], [0, 0, 0], Infinity), skin([0, 19.5, 0], [0, -1, 0])]
    expect(new BalloonContacts(held, SIDE, SIDE / 3).apply(STEP)).toBe(true)
    for (const v of held[0].speeds) expect(v).toBe(0)
    expect(mean(held[1], 1)).toBeGreaterThan(-1)
  })
})

const strip = (x: number): Foil => {
  const foil = foilOf([[0, 0, 14, 0, 14, 60, 0, 60]], 2, 2 ** -10) as Foil
  return { ...foil, points: foil.points.map((v, i) => (i % 3 === 0 ? v + x : v)) }
}
const filling = (more: Partial<Filling>): Filling => ({ pressure: 40, stretch: 0, crease: 0.1, metre: 50, side: 2, seconds: 2, obstacles: [], ...more })

/** mm³ that closed meshes have in common, at most */
const common = (meshes: readonly { readonly positions: ArrayLike<number>; readonly indices: Uint32Array }[]) =>
  withScope((own) => {
    const { Manifold, Mesh } = manifold()
    const [a, b] = meshes.map(({ positions, indices }) =>
      own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(positions), triVerts: indices }))),
    )
    return { shared: own(a.intersect(b)).volume(), volume: a.volume() }
  })

describe('balloons that are filled', () => {
  it('bump into each other in the wind, and hardly any of one is in the other', async () => {
    const tied = { length: 30, lift: 4, air: { ...STILL, speed: [5, 0, 0] as const, gusts: 0.5, seed: 2 } }
    // the one on the left is blown against the other, which feels nothing of the wind
    const envelopes = [0, 20].map((x) => ({ foil: strip(x), valve: 0 }))
    const corners = envelopes[0].foil.points.length / 3
    const felt = Float64Array.from({ length: 2 * corners }, (_, v) => (v < corners ? 1 : 0))
    const both = await fill(envelopes, filling({ tied }), quiet, { felt })
    const alone = await Promise.all([0, 1].map((i) => fill([envelopes[i]], filling({ tied }), quiet, { felt: felt.subarray(i * corners, (i + 1) * corners) })))
    if (!both) throw new Error('blown up')
    let [most, without] = [0, 0]
    for (let seconds = 0.1; seconds <= 2; seconds += 1 / 30) {
      const at = [0, 1].map((i) => ({ positions: balloonAt(envelopes, i, both, seconds), indices: envelopes[i].foil.triangles }))
      const now = common(at)
      most = Math.max(most, now.shared / now.volume)
      const through = alone.map((each, i) => {
        if (!each) throw new Error('blown up')
        return { positions: balloonAt([envelopes[i]], 0, each, seconds), indices: envelopes[i].foil.triangles }
      })
      const other = common(through)
      without = Math.max(without, other.shared / other.volume)
    }
    // by themselves they would go through each other
    expect(without).toBeGreaterThan(0.2)
    expect(most).toBeLessThan(0.02)
  })

  it('are stopped by a piece that the wind drives them against, where it stands', async () => {
    const air = { air: 'wind', wind: 6, towards: 0, gusts: 0, turbulence: 0 }
    const balloon = step('balloon', { edge: 2.5, tie: 'string', string: 40, at: 2, length: 2, others: [{ piece: 'wall' }], ...air })
    const [lettering] = wordRoute('o', 'archivo-bold', { size: 40 })
    const farthest = async (x: number) => {
      const pieces: Piece[] = [
        { id: 'words', name: 'Words', route: [lettering, balloon] },
        {
          id: 'wall',
          name: 'Wall',
          place: { position: [x + 5, -150, 0], turn: [0, 0, 0], size: 1 },
          route: [step('block', { width: 10, height: 300, depth: 120 })],
        },
      ]
      const { value, steps } = await runWith({ pieces, piece: 'words' }, ...pieces[0].route)
      expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
      // strings are copies behind the balloons
      return solidBounds((value as Assembly).units[0].positions)[3]
    }
    const free = await farthest(500)
    expect(free).toBeGreaterThan(60)
    for (const wall of [free - 10, free - 20]) expect(await farthest(wall)).toBeLessThan(wall + 0.1)
  })
})
