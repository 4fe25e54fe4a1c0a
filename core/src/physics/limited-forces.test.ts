import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { block, CALM, falling, quiet, run, step, STILL, valueOf, words } from '../../test/simulating'
import { loadManifold } from '../kernel/manifold'
import { type Mask, maskSchema } from '../mask/schema'
import { takenApart } from '../repeat/apart'
import { matrixOf } from '../solid/assembly'
import { solidBounds } from '../solid/solid'
import { cellLattice } from './cell-lattice'
import { drop, type Recording } from './drop'
import type { Forces } from './forces'
import { type Jellying, makeJelly, throughCells, wobble } from './jelly'

beforeAll(() => loadManifold())

/** Upwards everywhere alike. */
const LIFT: Forces = { ...CALM, spot: [0, 1e9, 0], pull: 5 }
const NOTHING = maskSchema.parse({ list: [] })
const jellying: Jellying = {
  gravity: 0,
  metre: 50,
  friction: 0.6,
  bounce: 0,
  obstacles: [],
  stiffness: 0.5,
  damping: 0,
  swell: 1,
  density: 0.2,
  air: STILL,
  forces: LIFT,
  seconds: 0.5,
}
const risen = ({ poses, things, frames }: Recording, thing: number) => poses[7 * (things * (frames - 1) + thing) + 1] - poses[7 * thing + 1]

describe('forces that a mask limits', () => {
  it('move each thing by its share, to within a hundredth of the formula, and what feels none not at all', async () => {
    const apart = takenApart(await valueOf(step('block', { width: 10, height: 6, depth: 10 }), step('grid', { across: 3, down: 1, gap: 30 })), 'copy')
    const how = falling({ gravity: 0, forces: LIFT, seconds: 1 })
    const felt = [0, 0.5, 1]
    const some = await drop(apart, { ...how, felt }, quiet)
    // ½ a t², mm, at 50 mm a metre
    felt.forEach((share, i) => expect(Math.abs(risen(some, i) - share * 0.5 * 5 * 50)).toBeLessThan(0.01 * 125 + 0.01))
    expect(risen(some, 0)).toBe(0)
    const all = await drop(apart, how, quiet)
    const whole = await drop(apart, { ...how, felt: [1, 1, 1] }, quiet)
    expect(whole.poses).toEqual(all.poses)
  })

  it('let the wind go by what is outside of the mask', async () => {
    const apart = takenApart(await valueOf(step('block', { width: 10, height: 6, depth: 10 }), step('grid', { across: 2, down: 1, gap: 30 })), 'copy')
    const rec = await drop(apart, falling({ gravity: 0, air: { ...STILL, speed: [0, 20, 0] }, felt: [0, 1], seconds: 1 }), quiet)
    expect(risen(rec, 0)).toBe(0)
    expect(risen(rec, 1)).toBeGreaterThan(5)
  })

  it('act on jelly corner by corner', async () => {
    const bar = await block(30, 10, 10)
    if (bar.kind !== 'solid') throw new Error('no solid')
    const [left] = solidBounds(bar.positions)
    const apart = takenApart(bar, 'part')
    const middleAfter = async (felt: Mask | undefined, more: Partial<Jellying> = {}) => {
      const made = await makeJelly(apart, 5, NOTHING, NOTHING, quiet.breathe, 0.5, felt)
      if (!made.ok) throw new Error(made.why)
      const rec = await wobble(made.jelly, { ...jellying, ...more }, quiet)
      if (!rec) throw new Error('blown up')
      const rises = Array.from({ length: made.jelly.points }, (_, i) => rec.points[3 * (made.jelly.points * (rec.frames - 1) + i) + 1] - rec.points[3 * i + 1])
      return { rises, mean: rises.reduce((a, b) => a + b) / rises.length, points: made.jelly.bodies[0].lattice.points, rec }
    }
    const all = await middleAfter(undefined)
    expect(Math.abs(all.mean - 0.5 * 5 * 0.5 ** 2 * 50)).toBeLessThan(0.03 * 31.25)
    // nought of a ball that is far away, of which a half counts
    const half = await middleAfter(maskSchema.parse({ list: [{ by: 'ball', centre: [9000, 0, 0], radius: 1, soft: 0, strength: 50 }] }))
    expect(Math.abs(half.mean / all.mean - 0.5)).toBeLessThan(0.01)
    const none = await middleAfter(maskSchema.parse({ list: [{ by: 'ball', centre: [9000, 0, 0], radius: 1, soft: 0 }] }))
    for (const rise of none.rises) expect(Math.abs(rise)).toBeLessThan(1e-3)
    // on the right half alone it turns, and its middle of mass goes up half as fast
    const right = await middleAfter(maskSchema.parse({ list: [{ by: 'along', from: 49.9, to: 50.1 }] }), { seconds: 0.2 })
    const side = (way: number) => {
      const own = right.rises.filter((_, i) => way * (right.points[3 * i] - left - 15) > 8)
      return own.reduce((a, b) => a + b) / own.length
    }
    expect(side(1)).toBeGreaterThan(side(-1) + 1)
    expect(Math.abs(right.mean - 0.25 * 5 * 0.2 ** 2 * 50)).toBeLessThan(0.25 * 0.5 * 5 * 0.2 ** 2 * 50)
  })

  it('reach through cells that carry nothing, within what lies on the skin', async () => {
    const skin = await block(40, 40, 40)
    if (skin.kind !== 'solid') throw new Error('no solid')
    const lattice = cellLattice(skin, 5)
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 8, maxLength: 8 }), (list) => {
        const values = Float64Array.from({ length: skin.positions.length / 3 }, (_, v) => list[v % 8])
        const [low, high] = [Math.min(...values), Math.max(...values)]
        for (const value of throughCells(lattice, values)) {
          expect(value).toBeGreaterThanOrEqual(low - 1e-12)
          expect(value).toBeLessThanOrEqual(high + 1e-12)
        }
      }),
      { numRuns: 20 },
    )
  })

  it('are chosen at the step, which says when there is nothing to limit or the mask is nowhere', async () => {
    const force = { force: 'pull', power: 10, spot: [0, 9000, 0], gravity: 0, at: 0.5, length: 0.5 }
    const only = (letters: string) => ({ mask: { list: [{ by: 'letters', letters }] }, does: 'limit' })
    for (const kind of ['drop', 'jelly']) {
      const { value, steps } = await run(...words('II'), step(kind, { ...force, spin: 0, ...only('I') }))
      expect(steps.at(-1)?.issues.filter(({ code }) => code === 'mask-nowhere' || code === 'nothing-to-limit')).toEqual([])
      expect(value?.kind).toBe('assembly')
      const codes = async (params: object) =>
        (await run(...words('I'), step(kind, { at: 0.1, length: 0.1, ...params }))).steps.at(-1)?.issues.map(({ code }) => code)
      expect(await codes(only('I'))).toContain('nothing-to-limit')
      expect(await codes({ ...force, ...only('x') })).toContain('mask-nowhere')
    }
    // of two letters one is lifted, the other stays
    const [first, second] = await Promise.all(
      ['T', 'I'].map(async (letters) => {
        const { value } = await run(...words('TI'), step('drop', { ...force, spin: 0, floor: 'none', ...only(letters) }))
        if (value?.kind !== 'assembly') throw new Error('nothing')
        return [0, 1].map((i) => matrixOf(value.placements, i)[7])
      }),
    )
    expect(first[0]).toBeGreaterThan(first[1] + 10)
    expect(second[1]).toBeGreaterThan(second[0] + 10)
  })
})
