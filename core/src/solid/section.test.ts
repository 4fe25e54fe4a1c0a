import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody, bottleBody } from '../../test/bodies'
import { assets, boxSolid, wordRoute } from '../../test/helpers'
import { evaluateRoute } from '../evaluate/route'
import { checkMesh } from '../check/check'
import { turnedRing } from './revolve'
import { loopArea, sectionLoops } from './section'
import { cross, unit } from '../lay/surface'
import type { Point } from '../check/rays'

const sideways = (normal: Point): [Point, Point] => {
  const x = unit(cross(Math.abs(normal[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0], normal))
  return [x, cross(normal, x)]
}
const areaOf = (solid: Parameters<typeof sectionLoops>[0], point: Point, normal: Point) =>
  sectionLoops(solid, point, ...sideways(unit(normal))).reduce((sum, loop) => sum + loopArea(loop), 0)

describe('sections', () => {
  it('of a box, a ball and a ring have the area they must have, wherever the plane lies', () => {
    const box = boxSolid([-20, -10, -5], [20, 10, 5])
    const ball = ballBody(30, 60)
    const ring = turnedRing(25, 8, 96, 48, 2 ** -14)
    fc.assert(
      fc.property(fc.double({ min: -0.9, max: 0.9, noNaN: true }), fc.double({ min: -180, max: 180, noNaN: true }), (share, turn) => {
        const t = (turn * Math.PI) / 180
        const around: Point = [Math.cos(t), 0, Math.sin(t)]
        expect(areaOf(box, [20 * share, 0, 0], [1, 0, 0])).toBeCloseTo(20 * 10, 6)
        expect(areaOf(ball, [30 * share * around[0], 0, 30 * share * around[2]], around) / (Math.PI * 900 * (1 - share * share))).toBeCloseTo(1, 2)
        // through the axis: two discs
        const middle: Point = [0, 8, 0]
        expect(areaOf(ring, middle, around) / (2 * Math.PI * 64)).toBeCloseTo(1, 1)
      }),
      { numRuns: 30 },
    )
  })

  it('of words add up to their volume, holes and all, also through vertices', async () => {
    const { value } = await evaluateRoute(wordRoute('Böa8', 'abril-fatface', { size: 20 }, { depth: 6, front: { profile: 'square' } }), { assets })
    if (value?.kind !== 'solid') throw new Error('no solid')
    const { volume } = checkMesh(value, { deep: false })
    // as deep everywhere: the section across the depth is the outline
    expect(areaOf(value, [0, 0, 3], [0, 0, 1]) * 6).toBeCloseTo(volume, 2)
    const xs = [...new Set(Array.from({ length: value.positions.length / 3 }, (_, v) => value.positions[3 * v]))].slice(0, 40)
    for (const x of xs) {
      const loops = sectionLoops(value, [x, 0, 0], ...sideways([1, 0, 0]))
      for (const loop of loops) expect(Math.abs(loopArea(loop))).toBeGreaterThanOrEqual(0)
    }
  })

  it('tell which triangle each side comes from', () => {
    const bottle = bottleBody(60, 40)
    for (const { xy, triangles } of sectionLoops(bottle, [0, 40, 0], [1, 0, 0], [0, 1, 0])) {
      expect(triangles.length).toBe(xy.length / 2)
      triangles.forEach((t, i) => {
        const ys = [0, 1, 2].map((k) => bottle.positions[3 * bottle.indices[3 * t + k] + 1] - 40)
        expect(xy[2 * i + 1]).toBeGreaterThanOrEqual(Math.min(...ys) - 1e-6)
        expect(xy[2 * i + 1]).toBeLessThanOrEqual(Math.max(...ys) + 1e-6)
      })
    }
  })
})
