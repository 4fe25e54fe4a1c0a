import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { type Assembly, bakedAssembly, copyBoxes, matrixOf } from '../solid/assembly'
import { UNMOVED } from '../solid/operations'
import type { Solid } from '../solid/solid'
import { checkAssembly } from './check'
import { sharesDone } from './in-turn'

const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const run = (route: RouteStep[]) => evaluateRoute(route, { assets })
const made = async (...route: RouteStep[]): Promise<Assembly> => {
  const { value, steps } = await run(route)
  const failed = steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')
  if (failed) throw new Error(failed.message)
  if (value?.kind !== 'assembly') throw new Error(value?.kind)
  return value
}
const words = (text: string, face = 'archivo-bold') => wordRoute(text, face, { size: 40 }, { depth: 8 })
const turn = (params: Record<string, unknown> = {}) => step('in-turn', { ease: 'even', ...params })
const middles = (assembly: Assembly) => {
  const boxes = copyBoxes(assembly)
  return Array.from({ length: boxes.length / 6 }, (_, i) => [0, 1, 2].map((k) => (boxes[6 * i + k] + boxes[6 * i + k + 3]) / 2))
}

describe('shares', () => {
  it('of things that go strictly one after another: one moves at a time, and none goes back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (count, a, b) => {
        const turns = Array.from({ length: count }, (_, i) => (count > 1 ? i / (count - 1) : 0))
        const [early, late] = [Math.min(a, b), Math.max(a, b)]
        const at = (done: number, apart: number) => sharesDone({ done, apart, ease: 'even', turns })
        const now = at(early, 1)
        expect(now.filter((share) => share > 1e-9 && share < 1 - 1e-9).length).toBeLessThanOrEqual(1)
        for (let i = 1; i < count; i++) expect(now[i]).toBeLessThanOrEqual(now[i - 1])
        for (const apart of [0, 0.3, 1]) {
          at(late, apart).forEach((share, i) => expect(share).toBeGreaterThanOrEqual(at(early, apart)[i]))
          expect([...at(0, apart)].every((share) => share === 0)).toBe(true)
          expect([...at(1, apart)].every((share) => share > 1 - 1e-12)).toBe(true)
        }
        // all at once are as far as the whole
        for (const share of at(early, 0)) expect(share).toBeCloseTo(early, 12)
      }),
    )
  })
})

describe('In turn', () => {
  it('brings letters from where they are said to be to where they belong, exactly', async () => {
    const word = (await run(words('Tern quay'))).value as Solid
    const arrived = await made(...words('Tern quay'), turn({ done: 100, up: 30, lean: 50, size: 20, stray: 40, tumble: 90 }))
    expect(arrived.units).toHaveLength(8)
    for (let i = 0; i < 8; i++) expect(matrixOf(arrived.placements, i)).toEqual([...UNMOVED])
    expect(checkAssembly(arrived)).toMatchObject({ sound: true, parts: checkMesh(word).parts, triangles: checkMesh(word).triangles })
    expect(checkAssembly(arrived).volume).toBeCloseTo(checkMesh(word).volume, 6)
    const away = await made(...words('Tern quay'), turn({ done: 0, right: -7, up: 30, forward: 4 }))
    middles(away).forEach((at, i) => {
      for (const [k, by] of [-7, 30, 4].entries()) expect(at[k] - middles(arrived)[i][k]).toBeCloseTo(by, 9)
    })
    // half of each one's way in the middle when all go at once
    const halfway = await made(...words('Tern quay'), turn({ done: 50, apart: 0, up: 30 }))
    middles(halfway).forEach((at, i) => expect(at[1] - middles(arrived)[i][1]).toBeCloseTo(15, 9))
  })

  it('keeps what stands still where it turns: a letter unfolds about its foot', async () => {
    const flat = await made(...words('H'), turn({ done: 0, lean: -90, pivot: 'foot', pivotDepth: 'back' }))
    const box = checkAssembly(flat).size
    const stands = checkMesh((await run(words('H'))).value as Solid).size
    expect(box[0]).toBeCloseTo(stands[0], 6)
    expect(box[1]).toBeCloseTo(stands[2], 6)
    expect(box[2]).toBeCloseTo(stands[1], 6)
    expect(middles(flat)[0][1]).toBeCloseTo(
      stands[2] / 2 +
        (await made(...words('H'), turn({ done: 100 }))).units[0].positions.reduce((least, v, i) => (i % 3 === 1 ? Math.min(least, v) : least), Infinity),
      3,
    )
  })

  it('goes by words and lines, from the middle, backwards, by lot, from a spot and by a mask', async () => {
    const order = async (params: Record<string, unknown>, text = 'abcde') => {
      const here = middles(await made(...words(text), turn({ ...params, done: 100 })))
      // how far each still has to go tells when its turn is
      return middles(await made(...words(text), turn({ ...params, apart: 50, done: 45, up: 1000 }))).map((at, i) => Math.round(at[1] - here[i][1]))
    }
    const rising = (list: number[]) => list.every((v, i) => i === 0 || v >= list[i - 1])
    const text = await order({})
    expect(rising(text)).toBe(true)
    expect(text[0]).toBeLessThan(text[4])
    expect(rising((await order({ turned: true })).reverse())).toBe(true)
    const middle = await order({ order: 'middle' })
    expect(middle[0]).toBe(middle[4])
    expect(middle[2]).toBeLessThan(middle[1])
    const spot = await order({ order: 'distance', point: [1000, 0, 0] })
    expect(rising([...spot].reverse())).toBe(true)
    const mask = await order({ order: 'mask', mask: { list: [{ by: 'letters', letters: 'c', turned: false }] } })
    expect(mask.indexOf(Math.min(...mask))).toBe(2)
    const lot = await order({ order: 'lot', seed: 5 })
    expect(lot).not.toEqual(text)
    expect(lot).toEqual(await order({ order: 'lot', seed: 5 }))
    const wordsApart = await order({ by: 'word' }, 'ab cd')
    expect(wordsApart).toHaveLength(2)
    expect(await order({ by: 'line' }, 'ab\ncd')).toHaveLength(2)
    expect(await order({ by: 'part' }, 'ij')).toHaveLength(4)
  })

  it('a letter that is typed later gets its share, and the lots of the others stay', async () => {
    const way = async (text: string) => {
      const [away, here] = [
        await made(...words(text), turn({ done: 0, stray: 60, tumble: 90, seed: 3, pivot: 'middle' })),
        await made(...words(text), turn({ done: 100 })),
      ]
      return Array.from(away.units, (_, i) => {
        const m = matrixOf(away.placements, i)
        const at = middles(here)[i]
        return [
          ...[0, 1, 2].map((k) => m[4 * k] * at[0] + m[4 * k + 1] * at[1] + m[4 * k + 2] * at[2] + m[4 * k + 3] - at[k]),
          ...m.filter((_, k) => k % 4 < 3),
        ]
      })
    }
    const [before, after] = [await way('Quay'), await way('Quays')]
    expect(after).toHaveLength(5)
    before.forEach((list, i) => list.forEach((v, k) => expect(after[i][k]).toBeCloseTo(v, 6)))
    for (const [x, y, z] of after) expect(Math.hypot(x, y, z)).toBeCloseTo(60, 6)
  })

  it('takes copies along with the letters that carry them, and copies by themselves', async () => {
    const bulbs = step('fill-inside', { unit: 'bulb', width: 4, pitch: 7 })
    const sign = await made(...words('Pi'), bulbs)
    const moved = await made(...words('Pi'), bulbs, turn({ done: 0, up: 50 }))
    expect(checkAssembly(moved).volume).toBeCloseTo(checkAssembly(sign).volume, 3)
    const up = (a: Assembly, b: Assembly) => new Set(middles(a).map((at, i) => Math.round(at[1] - middles(b)[i][1])))
    const still = await made(...words('Pi'), bulbs, turn({ done: 100 }))
    expect(up(moved, still)).toEqual(new Set([50]))
    const copies = await made(...words('Pi'), bulbs, turn({ by: 'copy', done: 0, forward: 9 }))
    const numbers = [...copies.placements.copy]
    middles(copies).forEach((at, i) => expect(at[2] - middles(sign)[i][2]).toBeCloseTo(numbers[i] >= 0 ? 9 : 0, 9))
    expect((await run([...words('Pi'), turn({ by: 'copy' })])).steps[2].issues[0]).toMatchObject({ severity: 'failed', code: 'nothing-apart', field: 'by' })
  })

  it('says where letters hang together, moves them as one, and leaves out what is not there yet', async () => {
    const { steps, value } = await run([...words('Quay', 'pacifico'), turn({ up: 10 })])
    expect(steps[2].issues.map(({ code }) => code)).toContain('joined')
    expect((value as Assembly).units.length).toBeLessThan(4)
    expect((await made(...words('Quay'), turn({ done: 40, apart: 100, unseen: true, up: 1 }))).placements.unit.length).toBeLessThan(4)
    expect((await made(...words('Quay'), turn({ done: 0, size: 0 }))).placements.unit).toHaveLength(0)
    expect((await run([...words('Quay'), turn()])).steps[2].issues.map(({ code }) => code)).toEqual(['not-away'])
  })

  it('is one sound solid wherever a step wants one', async () => {
    const { value } = await run([...words('Quay'), turn({ done: 60, up: 10, lean: 30 }), step('bend', { angle: 20 })])
    expect(checkMesh(value as Solid).sound).toBe(true)
    expect(checkMesh(bakedAssembly(await made(...words('Quay'), turn({ done: 30, up: 100 })))).closed).toBe(true)
  })
})
