import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { FULL, wordRoute } from '../../test/helpers'
import { CALM, quiet, run, step, STILL, valueOf, words } from '../../test/simulating'
import { checkMesh } from '../check/check'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { takenApart } from '../repeat/apart'
import { type Assembly, copySolid } from '../solid/assembly'
import { type Solid, solidBounds } from '../solid/solid'
import { balloonAt, fill, type Filling, givesFor, roundness, skinOf } from './balloon'
import { clothAt, clothAtRest, clothPoints, type Draping, drape } from './drape'
import { type Foil, foilOf } from './foil'

beforeAll(() => loadManifold())

const lettering = (text: string, face = 'archivo-bold') => wordRoute(text, face, { size: 40 })[0]
const filling = (more: Partial<Filling> = {}): Filling => ({ pressure: 40, stretch: 0, crease: 0.1, metre: 50, side: 2, seconds: 3, obstacles: [], ...more })
const lattice = 2 ** -10
const strip = (long: number, wide: number) => foilOf([[0, 0, long, 0, long, wide, 0, wide]], 2, lattice) as Foil

describe('An envelope', () => {
  it.each(SHIPPED_FACES.filter((_, i) => FULL || i % 6 === 2).map(({ id }) => id))(
    'of the letters of %s is closed, swells for 60 frames, and what is shown of it is sound and near',
    async (id) => {
      const { value, steps } = await run(lettering('Qa&', id), step('balloon', { at: 1, length: 1, edge: 2.5 }))
      expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
      const assembly = value as Assembly
      for (const unit of assembly.units) {
        expect(checkMesh(unit).sound).toBe(true)
        expect(solidBounds(unit.positions).every((v) => Math.abs(v) < 400)).toBe(true)
      }
      expect(assembly.units.length).toBeGreaterThan(1)
    },
  )

  it('has both sheets of one shape, joined along its border alone', () => {
    const { points, triangles, border } = strip(60, 12)
    const half = triangles.length / 2
    const front = new Set(triangles.subarray(0, half))
    const back = new Set(triangles.subarray(half))
    for (const v of front) if (back.has(v)) expect(v).toBeLessThan(border)
    let area = 0
    for (let i = 0; i < half; i += 3) {
      const [a, b, c] = [3 * triangles[i], 3 * triangles[i + 1], 3 * triangles[i + 2]]
      area += ((points[b] - points[a]) * (points[c + 1] - points[a + 1]) - (points[b + 1] - points[a + 1]) * (points[c] - points[a])) / 2
    }
    expect(area).toBeCloseTo(720, 6)
  })
})

describe('A balloon', () => {
  it('on a tube holds by tension what presses: pressure × radius, within 5 %', async () => {
    const foil = strip(160, 14)
    const envelopes = [{ foil, valve: 0 }]
    // rubber, so that its tension can be told from its lengths
    const how = filling({ stretch: 0.1, seconds: 4 })
    const recording = await fill(envelopes, how, quiet)
    if (!recording) throw new Error('blown up')
    const p = balloonAt(envelopes, 0, recording, 4)
    const size = 1 / how.metre
    // what crosses the plane through the seam, in the middle half of its length: the sides there and the lines across them
    const { edges, sides } = skinOf(foil)
    const gives = givesFor(how, roundness(foil) * size)
    const [from, to] = [40, 120]
    let force = 0
    // what the plane cuts out of the tube: from the mean of its back to the mean of its front
    const cut = { front: [0, 0], back: [0, 0] }
    const height = (v: number) => p[3 * v + 1] - 7
    for (let e = 0; e < edges.length / 2; e++) {
      const [a, b] = [edges[2 * e], edges[2 * e + 1]]
      if (height(a) > 0 === height(b) > 0) continue
      const f = height(a) / (height(a) - height(b))
      const [x, z] = [0, 2].map((k) => p[3 * a + k] + f * (p[3 * b + k] - p[3 * a + k]))
      if (x < from || x > to) continue
      if (e < sides) {
        const own = z > 0 ? cut.front : cut.back
        own[0] += z * size
        own[1]++
      }
      const d = [0, 1, 2].map((k) => (p[3 * b + k] - p[3 * a + k]) * size)
      const long = Math.hypot(...d)
      const rest = Math.hypot(...[0, 1, 2].map((k) => (foil.points[3 * b + k] - foil.points[3 * a + k]) * size))
      force += (((long - rest) / (e < sides ? gives.side : gives.across)) * Math.abs(d[1])) / long
    }
    const area = (cut.front[0] / cut.front[1] - cut.back[0] / cut.back[1]) * (to - from) * size
    expect(Math.abs(force / (how.pressure * area) - 1)).toBeLessThan(0.05)
  })

  it('of foil keeps its lengths and gets as deep as its width lets it; of rubber it is larger', async () => {
    const foil = strip(80, 14)
    const envelopes = [{ foil, valve: 0 }]
    const deep = async (how: Filling) => {
      const recording = await fill(envelopes, how, quiet)
      if (!recording) throw new Error('blown up')
      const p = balloonAt(envelopes, 0, recording, 3)
      let most = 0
      for (let v = 0; v < p.length; v += 3) if (Math.abs(p[v] - 40) < 12) most = Math.max(most, 2 * p[v + 2])
      return most
    }
    const tight = await deep(filling())
    // a tube round of twice 14 mm: 8.9 mm through
    expect(Math.abs(tight / (28 / Math.PI) - 1)).toBeLessThan(0.06)
    expect(await deep(filling({ stretch: 0.25 }))).toBeGreaterThan(1.1 * tight)
  })

  it('comes to rest where it was, gives the same bytes twice, and is sound', async () => {
    const route = [lettering('Ro'), step('balloon', { edge: 2 })]
    const [one, other] = [(await valueOf(...route)) as Assembly, (await valueOf(...route)) as Assembly]
    one.units.forEach((unit, i) => {
      expect(checkMesh(unit).sound).toBe(true)
      expect(unit.positions).toEqual(other.units[i].positions)
    })
    const box = solidBounds(one.units[0].positions)
    const [flat] = ((await valueOf(lettering('Ro'), step('balloon', { edge: 2, at: 0 }))) as Assembly).units
    const rest = solidBounds(flat.positions)
    for (const k of [0, 1]) expect(Math.abs(box[k] + box[k + 3] - rest[k] - rest[k + 3])).toBeLessThan(2)
  })

  it('hangs upwards on a string that is as long as it is', async () => {
    const value = (await valueOf(lettering('I'), step('balloon', { edge: 2, tie: 'string', string: 50, at: 3, length: 3 }))) as Assembly
    const boxes = Array.from({ length: value.placements.unit.length }, (_, i) => solidBounds(copySolid(value, i).positions))
    const [balloon, ...string] = boxes
    const low = Math.min(...string.map((box) => box[1]))
    expect(Math.abs(balloon[1] - low - 50)).toBeLessThan(3)
  })

  it('is held by a mask where it lay while it was flat, and feels the wind only as far as one says', async () => {
    const foil = strip(80, 14)
    const envelopes = [
      { foil, valve: 0 },
      // far from the first
      { foil: { ...foil, points: foil.points.map((v, i) => (i % 3 === 2 ? v + 300 : v)) }, valve: 0 },
    ]
    const corners = foil.points.length / 3
    const left = Uint8Array.from({ length: 2 * corners }, (_, v) => (v < corners && foil.points[3 * v] < 20 ? 1 : 0))
    const far = (recording: { frames: number; points: Float32Array } | undefined, v: number) => {
      if (!recording) throw new Error('blown up')
      const o = 6 * corners * (recording.frames - 1)
      return Math.hypot(...[0, 1, 2].map((k) => recording.points[o + 3 * v + k] - recording.points[3 * v + k]))
    }
    const held = await fill(envelopes, filling(), quiet, { pinned: left })
    left.forEach((pinned, v) => pinned && expect(far(held, v)).toBeLessThan(1e-4))
    // what is not held swells, the other one too
    for (const from of [0, corners]) expect(Math.max(...Array.from({ length: corners }, (_, v) => far(held, from + v)))).toBeGreaterThan(1)
    const windy = filling({ tied: { length: 60, lift: 4, air: { ...STILL, speed: [0, 0, 4] } }, seconds: 2 })
    const blown = await fill(envelopes, windy, quiet, { felt: Float64Array.from({ length: 2 * corners }, (_, v) => (v < corners ? 0 : 1)) })
    const drift = (from: number) => Array.from({ length: corners }, (_, v) => far(blown, from + v)).reduce((a, b) => a + b) / corners
    expect(drift(corners)).toBeGreaterThan(drift(0) + 5)
  })

  it('takes a mask at the step, and says where that is nowhere or has no wind to limit', async () => {
    const made = async (params: object) => {
      const { value, steps } = await run(lettering('lo'), step('balloon', { edge: 2.5, at: 1, length: 1, ...params }))
      const issues = steps.at(-1)?.issues.map(({ code }) => code) ?? []
      return { depths: value?.kind === 'assembly' ? value.units.map(({ positions }) => solidBounds(positions)).map((box) => box[5] - box[2]) : [], issues }
    }
    const ball = (x: number, radius: number) => ({ mask: { list: [{ by: 'ball', centre: [x, 10, 0], radius, soft: 0 }] } })
    const free = await made({})
    const one = await made({ mask: { list: [{ by: 'letters', letters: 'l' }] } })
    expect([free.issues, one.issues]).toEqual([[], []])
    // one of two letters is held, and stays flat
    // but for the thickness it is shown with
    expect(one.depths[0]).toBeLessThan(0.35)
    expect(one.depths[1] / free.depths[1]).toBeCloseTo(1, 2)
    expect((await made(ball(9000, 1))).issues).toContain('mask-nowhere')
    expect((await made({ ...ball(0, 500), does: 'limit' })).issues).toContain('nothing-to-limit')
  })
})

const draping = (more: Partial<Draping>): Draping => ({
  gravity: 9.81,
  metre: 50,
  friction: 0.8,
  bounce: 0,
  obstacles: [],
  falls: 'down',
  cloth: { x: -10, z: -20, y: 60, wide: 80, deep: 60 },
  edge: 2,
  thick: 1,
  stiffness: 0.2,
  held: 'free',
  air: STILL,
  forces: CALM,
  seconds: 1.5,
  ...more,
})

describe('A cloth', () => {
  it.each([
    ['down', { x: -20, z: -22, y: 52, wide: 90, deep: 54 }],
    ['back', { x: -20, z: -60, y: 16, wide: 90, deep: 80 }],
  ] as const)('lies %s on letters, and does not come through them', async (falls, cloth) => {
    const apart = takenApart(await valueOf(...words('AR')), 'part')
    const how = draping({ falls, cloth, ...(falls === 'back' ? { floor: 0 } : {}) })
    const recording = await drape(apart, how, quiet)
    if (!recording) throw new Error('blown up')
    for (const seconds of [0.5, 1, 1.5]) {
      const sheet = clothAt(recording, how, seconds)
      expect(checkMesh(sheet).sound).toBe(true)
      withScope((own) => {
        const { Manifold, Mesh } = manifold()
        const body = (solid: Pick<Solid, 'positions' | 'indices'>) =>
          own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(solid.positions), triVerts: solid.indices })))
        const cloth = body(sheet)
        // it is as thick as it is, and hardly any of it lies in a letter
        expect(Math.abs(cloth.volume() / (how.cloth.wide * how.cloth.deep) - 1)).toBeLessThan(0.12)
        for (const unit of apart.assembly.units) expect(own(cloth.intersect(body(unit))).volume()).toBeLessThan(0.002 * cloth.volume())
      })
    }
  })

  it('hangs where it is held', async () => {
    const apart = takenApart(await valueOf(...words('i')), 'part')
    const how = draping({ held: 'corners', cloth: { x: -30, z: -30, y: 200, wide: 60, deep: 60 }, seconds: 1 })
    const recording = await drape(apart, how, quiet)
    if (!recording) throw new Error('blown up')
    const box = solidBounds(clothAt(recording, how, 1).positions)
    expect(box[4]).toBeCloseTo(200.5, 0)
    expect(box[1]).toBeLessThan(197)
  })

  it('is held by a mask as it lies before it falls, and feels wind and force only as far as one says', async () => {
    const apart = takenApart(await valueOf(...words('i')), 'part')
    const how = draping({ cloth: { x: -30, z: -30, y: 200, wide: 60, deep: 60 }, seconds: 1 })
    const [columns, rows] = clothPoints(how)
    const rest = clothAtRest(how)
    expect(checkMesh(rest).sound).toBe(true)
    const within = Uint8Array.from({ length: columns * rows }, (_, v) => (Math.hypot(rest.positions[3 * v], rest.positions[3 * v + 2]) < 12 ? 1 : 0))
    const held = await drape(apart, how, quiet, { pinned: within })
    if (!held) throw new Error('blown up')
    const moved = (v: number, recording = held) => {
      const o = 3 * columns * rows * (recording.frames - 1)
      return Math.hypot(...[0, 1, 2].map((k) => recording.points[o + 3 * v + k] - recording.points[3 * v + k]))
    }
    const farthest = Math.max(...Array.from(within, (_, v) => moved(v)))
    within.forEach((pinned, v) => pinned && expect(moved(v)).toBeLessThan(1e-4))
    expect(farthest).toBeGreaterThan(3)
    // without gravity the pull moves what feels it, by ½ a t² where all of it does, and nothing where none does
    const lifted = (felt: number) =>
      drape(apart, { ...how, gravity: 0, seconds: 0.3, forces: { ...CALM, spot: [0, 1e9, 0], pull: 5 } }, quiet, {
        felt: new Float64Array(columns * rows).fill(felt),
      })
    for (const felt of [0, 0.5, 1]) {
      const recording = await lifted(felt)
      if (!recording) throw new Error('blown up')
      const mean = Array.from(within, (_, v) => moved(v, recording)).reduce((a, b) => a + b) / within.length
      // what moves is slowed by 0.8 a second
      const want = felt * 0.5 * 5 * 0.3 ** 2 * 50
      expect(mean).toBeLessThan(want + 0.01)
      expect(mean).toBeGreaterThan(0.85 * want - 0.01)
    }
  })

  it('takes a mask at the step, and says where that is nowhere or has nothing to limit', async () => {
    const cloth = { at: 0.5, length: 0.5, edge: 3, show: 'cloth', above: 40 }
    const ball = (radius: number, x = 0) => ({ mask: { list: [{ by: 'ball', centre: [x, 60, 0], radius, soft: 0 }] } })
    const made = async (params: object) => {
      const { value, steps } = await run(...words('o'), step('drape', { ...cloth, ...params }))
      const issues = steps.at(-1)?.issues.map(({ code }) => code) ?? []
      return { box: value?.kind === 'assembly' ? solidBounds(value.units[0].positions) : [], issues }
    }
    const [free, whole] = [await made({}), await made(ball(500))]
    expect([free.issues, whole.issues]).toEqual([[], []])
    // held all over it stays where it lay, flat and as thick as it is
    expect(whole.box[4] - whole.box[1]).toBeCloseTo(1, 3)
    expect(free.box[1]).toBeLessThan(whole.box[1] - 10)
    expect((await made(ball(1, 9000))).issues).toContain('mask-nowhere')
    expect((await made({ ...ball(500), does: 'limit' })).issues).toContain('nothing-to-limit')
    expect((await made({ ...ball(1, 9000), does: 'limit' })).issues).toContain('mask-nowhere')
  })

  it('is told when it is too fine, and falls over what it is told to', async () => {
    const { steps } = await run(...words('Fog'), step('drape', { edge: 0.3 }))
    expect(steps.at(-1)?.issues.map(({ code }) => code)).toContain('too-fine')
    const both = (await valueOf(...words('o'), step('drape', { at: 0.4, length: 0.4, edge: 3 }))) as Assembly
    const cloth = (await valueOf(...words('o'), step('drape', { at: 0.4, length: 0.4, edge: 3, show: 'cloth' }))) as Assembly
    expect(both.units.length).toBe(cloth.units.length + 1)
    expect(cloth.units[0].layers[0].name).toBe('Cloth')
  })
})
