import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { laidAt, smoothedDabs } from './dabs'

const BOX = [0, 0, 0, 40, 30, 6] as const
type Dab = { at: [number, number, number]; radius: number; soft: number; amount: number; smooths?: boolean }
const flat = (list: readonly Dab[]) =>
  Float64Array.from(list.flatMap(({ at, radius, soft, amount, smooths }) => [...at, radius, radius * (1 - soft / 100), amount / 100, smooths ? 1 : 0]))

const place = fc.tuple(fc.double({ min: 0, max: 40, noNaN: true }), fc.double({ min: 0, max: 30, noNaN: true }), fc.double({ min: 0, max: 6, noNaN: true }))
const laying = fc.record({
  at: place,
  radius: fc.double({ min: 2, max: 15, noNaN: true }),
  soft: fc.integer({ min: 0, max: 100 }),
  amount: fc.integer({ min: -100, max: 100 }),
})
const smoothing = fc.record({
  at: place,
  radius: fc.double({ min: 2, max: 15, noNaN: true }),
  soft: fc.integer({ min: 0, max: 100 }),
  amount: fc.integer({ min: 1, max: 100 }),
  smooths: fc.constant(true),
})
const painted: fc.Arbitrary<Dab[]> = fc.array(fc.oneof<fc.Arbitrary<Dab>[]>(laying, smoothing), { minLength: 1, maxLength: 8 })

/** The value of dabs with their smoothing, or without where none smooths. */
const valueOf = (list: readonly Dab[]) => {
  const dabs = flat(list)
  return smoothedDabs(dabs, BOX) ?? ((x: number, y: number, z: number) => laidAt(dabs, x, y, z))
}
/** How much a function changes over a short way, at the most, along a line through the middle of the box. */
function steepest(value: (x: number, y: number, z: number) => number): number {
  let most = 0
  for (let x = 0; x < 40; x += 0.05) most = Math.max(most, Math.abs(value(x + 0.05, 15, 3) - value(x, 15, 3)) / 0.05)
  return most
}

describe('a brush that smooths', () => {
  it('stays within what was laid on, and is exact where it never was', () => {
    fc.assert(
      fc.property(painted, place, (list, [x, y, z]) => {
        const value = valueOf(list)(x, y, z)
        expect(value).toBeGreaterThanOrEqual(-1e-12)
        expect(value).toBeLessThanOrEqual(1 + 1e-12)
        const smooths = list.filter((one) => one.smooths)
        // the grid's cells reach a little beyond the brush
        if (smooths.every(({ at, radius }) => Math.hypot(x - at[0], y - at[1], z - at[2]) > radius * 1.6)) expect(value).toBe(laidAt(flat(list), x, y, z))
      }),
    )
  })

  it('makes no border of its own: it goes on evenly wherever that is soft', () => {
    fc.assert(
      fc.property(fc.array(laying, { minLength: 1, maxLength: 4 }), smoothing, (list, smooths) => {
        const all = [...list.map((one) => ({ ...one, soft: 100 })), { ...smooths, soft: 100 }]
        const least = Math.min(...all.map(({ radius }) => radius))
        // soft dabs alone rise by 1.5 of their radius at most, each; the smoothing one takes over within a sixth of its own
        expect(steepest(valueOf(all))).toBeLessThan((1.5 * list.length) / least + 8 / least)
      }),
    )
  })

  it('softens a hard border, the more the longer it is pressed there', () => {
    const hard: Dab = { at: [20, 15, 3], radius: 8, soft: 0, amount: 100 }
    const press: Dab = { at: [28, 15, 3], radius: 6, soft: 40, amount: 100, smooths: true }
    const slopes = [0, 1, 3, 9].map((times) => {
      const value = valueOf([hard, ...Array.from({ length: times }, () => press)])
      let most = 0
      for (let x = 26; x < 30; x += 0.05) most = Math.max(most, Math.abs(value(x + 0.05, 15, 3) - value(x, 15, 3)) / 0.05)
      return most
    })
    for (let i = 1; i < slopes.length; i++) expect(slopes[i]).toBeLessThan(0.8 * slopes[i - 1])
    // across the border it is still what lies within on the one side and nothing on the other
    const value = valueOf([hard, press])
    expect(value(20, 15, 3)).toBe(1)
    expect(value(36, 15, 3)).toBe(0)
    expect(value(26, 15, 3)).toBeGreaterThan(value(30, 15, 3))
  })

  it('leaves what rises evenly, and lifts what is curved by as much as a bell curve of a sixth of the radius does', () => {
    const press: Dab = { at: [24, 15, 3], radius: 12, soft: 0, amount: 100, smooths: true }
    // far from its middle a large soft brush is flat across: along x it is t² (3 − 2 t) with t = (x − from) / radius
    const laid = (from: number, radius: number): Dab => ({ at: [from + radius, 15, 3], radius, soft: 100, amount: 100 })
    // half way, where it turns, it is straight
    const straight = laid(-976, 2000)
    for (const x of [20, 24, 28]) expect(Math.abs(valueOf([straight, press])(x, 15, 3) - laidAt(flat([straight]), x, 15, 3))).toBeLessThan(1e-5)
    const curved = laid(0, 2000)
    // the mean of f over a bell curve of width w is f + w² f″ / 2; across it falls off by how far that is from the middle
    const x = 24
    const lifted = (valueOf([curved, press])(x, 15, 3) - laidAt(flat([curved]), x, 15, 3)) / ((6 / 2000 ** 2) * 0.5)
    const width = Math.sqrt(lifted)
    expect(width).toBeGreaterThan(0.7 * (12 / 6))
    expect(width).toBeLessThan(1.4 * (12 / 6))
  })

  it('gives nothing where none smooths, or what does lies beside the box', () => {
    expect(smoothedDabs(flat([{ at: [5, 5, 5], radius: 4, soft: 50, amount: 100 }]), BOX)).toBeUndefined()
    expect(smoothedDabs(flat([{ at: [500, 5, 5], radius: 4, soft: 50, amount: 100, smooths: true }]), BOX)).toBeUndefined()
  })

  it('takes thousands of presses, and a box that is flat', () => {
    const list: Dab[] = Array.from({ length: 2000 }, (_, i) => ({
      at: [(i * 7) % 40, (i * 11) % 30, 6],
      radius: 3 + (i % 5),
      soft: 50,
      amount: 80,
      smooths: i % 2 === 1,
    }))
    const value = smoothedDabs(flat(list), [0, 0, 6, 40, 30, 6])
    expect(value?.(20, 15, 6)).toBeGreaterThan(0)
  })
})
