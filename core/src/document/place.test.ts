import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxSolid } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { apply, compose, transformed, UNMOVED } from '../solid/operations'
import { againstFace, boxAt, heldTo, onGround, placeMatrix, turnedUpright, turnOf, UNMOVED_PLACE } from './place'

const angle = fc.double({ min: -720, max: 720, noNaN: true })

describe('placeMatrix', () => {
  it('leaves a piece that was never moved where it is, and turns by quarters exactly', () => {
    expect(placeMatrix(UNMOVED_PLACE).map((v) => v + 0)).toEqual([...UNMOVED])
    const box = boxSolid([0, 0, 0], [2, 3, 4])
    for (const turn of [-270, -90, 0, 90, 180, 450]) {
      const moved = transformed(box, placeMatrix({ position: [5, 0, -1], turn: [turn, 90, turn], size: 2 }))
      expect(checkMesh(moved)).toMatchObject({ sound: true, volume: 192 })
    }
  })

  it('is first about x, then y, then z, as turns about one axis each say', () => {
    fc.assert(
      fc.property(angle, angle, angle, fc.double({ min: 0.1, max: 10, noNaN: true }), (x, y, z, size) => {
        const one = (k: number, degrees: number) => {
          const turn: [number, number, number] = [0, 0, 0]
          turn[k] = degrees
          return placeMatrix({ ...UNMOVED_PLACE, turn })
        }
        const whole = placeMatrix({ position: [1, 2, 3], turn: [x, y, z], size })
        const steps = compose(one(2, z), compose(one(1, y), one(0, x)))
        const at = apply(steps, 0.3, -0.7, 1.1).map((v, i) => v * size + [1, 2, 3][i])
        apply(whole, 0.3, -0.7, 1.1).forEach((v, i) => expect(v).toBeCloseTo(at[i], 9))
      }),
      { numRuns: 200 },
    )
  })

  it('turns counter-clockwise as seen against each axis', () => {
    expect(apply(placeMatrix({ ...UNMOVED_PLACE, turn: [0, 0, 90] }), 1, 0, 0)).toEqual([0, 1, 0])
    expect(apply(placeMatrix({ ...UNMOVED_PLACE, turn: [90, 0, 0] }), 0, 1, 0)).toEqual([0, 0, 1])
    expect(apply(placeMatrix({ ...UNMOVED_PLACE, turn: [0, 90, 0] }), 0, 0, 1)).toEqual([1, 0, 0])
  })
})

describe('places found in the view', () => {
  const box = [-10, 0, -2, 30, 20, 6] as const
  const place = fc.record({
    position: fc.tuple(...Array.from({ length: 3 }, () => fc.double({ min: -100, max: 100, noNaN: true }))) as fc.Arbitrary<[number, number, number]>,
    turn: fc.tuple(angle, angle, angle) as fc.Arbitrary<[number, number, number]>,
    size: fc.double({ min: 0.1, max: 5, noNaN: true }),
  })
  const column = (m: readonly number[], k: number): [number, number, number] => [m[k], m[4 + k], m[8 + k]]

  it('have the turn that their axes say, also straight up and down', () => {
    fc.assert(
      fc.property(angle, fc.oneof(angle, fc.constantFrom(90, -90, 270)), angle, (x, y, z) => {
        const m = placeMatrix({ ...UNMOVED_PLACE, turn: [x, y, z] })
        const back = placeMatrix({ ...UNMOVED_PLACE, turn: turnOf(column(m, 0), column(m, 1), column(m, 2)) })
        back.forEach((v, i) => expect(v).toBeCloseTo(m[i], 4))
      }),
    )
  })

  it('turn about the upright through a point, which stays where it is', () => {
    fc.assert(
      fc.property(place, angle, (p, by) => {
        const pivot = apply(placeMatrix(p), 3, 4, 5)
        const turned = turnedUpright(p, by, pivot)
        apply(placeMatrix(turned), 3, 4, 5).forEach((v, i) => expect(v).toBeCloseTo(pivot[i], 2))
        // as high as before, everywhere
        const [before, after] = [boxAt(box, p), boxAt(box, turned)]
        expect(after[1]).toBeCloseTo(before[1], 2)
        expect(after[4]).toBeCloseTo(before[4], 2)
      }),
    )
  })

  it('stand on the ground, and with the back against a face as upright as it lets them', () => {
    fc.assert(
      fc.property(place, fc.tuple(angle, fc.double({ min: -89, max: 89, noNaN: true })), (p, [around, up]) => {
        expect(boxAt(box, onGround(box, p))[1]).toBeCloseTo(0, 6)
        const [a, b] = [(around * Math.PI) / 180, (up * Math.PI) / 180]
        const normal = [Math.cos(b) * Math.sin(a), Math.sin(b), Math.cos(b) * Math.cos(a)] as const
        const laid = againstFace(box, p, [1, 2, 3], normal)
        const m = placeMatrix(laid)
        // every corner of the back lies in the face's plane, and the front stands off it
        for (const [x, y] of [
          [-10, 0],
          [30, 0],
          [30, 20],
        ]) {
          const off = (z: number) => apply(m, x, y, z).reduce((sum, v, k) => sum + (v - [1, 2, 3][k]) * normal[k], 0)
          expect(off(-2)).toBeCloseTo(0, 2)
          expect(off(6)).toBeCloseTo(8 * p.size, 2)
        }
        apply(m, 10, 10, -2).forEach((v, k) => expect(v).toBeCloseTo([1, 2, 3][k], 2))
        expect(column(m, 0)[1]).toBeCloseTo(0, 3)
        expect(column(m, 1)[1]).toBeGreaterThan(0)
      }),
    )
  })

  it('are held to sides and middles of others that are near enough, the nearest first', () => {
    const others = [{ name: 'Stone', box: [50, 0, 0, 90, 30, 20] }]
    expect(heldTo([12, 0, 0, 48.8, 10, 10], others, 0, 2)).toMatchObject({ by: expect.closeTo(1.2, 9), to: 'Stone’s side' })
    expect(heldTo([55, 0, 0, 84, 10, 10], others, 0, 2)).toMatchObject({ by: 0.5, to: 'Stone’s middle' })
    expect(heldTo([12, 0, 0, 40, 10, 10], others, 0, 2)).toBeUndefined()
    expect(heldTo([49, 0, 0, 60, 10, 10], others, 0, 2)).toMatchObject({ by: 1, to: 'Stone’s side' })
  })
})
