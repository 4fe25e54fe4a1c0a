import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxSolid } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { apply, compose, transformed, UNMOVED } from '../solid/operations'
import { placeMatrix, UNMOVED_PLACE } from './place'

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
