import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { circlePath } from '../../test/helpers'
import { ArcLength } from './arc-length'
import { type Path, PathBuilder } from './path'
import { SpaceLine } from './space-line'
import { type CurvePoint, curveThrough } from './through-points'

type Vector = readonly number[]
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
const minus = (a: Vector, b: Vector) => a.map((v, k) => v - b[k])
const size = (a: Vector) => Math.sqrt(dot(a, a))

function bow(): Path {
  const path = new PathBuilder(0, 0)
  path.cubicTo(60, 90, 120, -70, 200, 20)
  path.lineTo(240, 65)
  return path.build(false)
}
const HUMP: CurvePoint[] = [
  [0, 0],
  [0.3, 40],
  [0.5, 20],
  [1, 0],
]

/** A frame taken along places by double reflection (Wang, Jüttler, Zheng and Liu, "Computation of rotation minimizing frames", 2008). */
function carried(line: SpaceLine, from: number, to: number, count: number): Vector {
  let { at, along, left } = line.at(from) as { at: Vector; along: Vector; left: Vector }
  for (let i = 1; i <= count; i++) {
    const next = line.at(from + ((to - from) * i) / count)
    const v1 = minus(next.at, at)
    const reflected = (a: Vector, v: Vector) => a.map((x, k) => x - (2 / dot(v, v)) * dot(v, a) * v[k])
    const [r, t] = [reflected(left, v1), reflected(along, v1)]
    const v2 = minus(next.along, t)
    left = dot(v2, v2) > 1e-30 ? reflected(r, v2) : r
    ;[at, along] = [next.at, next.along]
  }
  return left
}

describe('a line in space', () => {
  it('is the path itself where it does not rise', () => {
    const [flat, line] = [new ArcLength(bow()), new SpaceLine(bow(), [], 'least-twist')]
    expect(line.length).toBeCloseTo(flat.length, 8)
    fc.assert(
      fc.property(fc.double({ min: -50, max: 350, noNaN: true }), (s) => {
        const [a, b] = [flat.at(s), line.at(s)]
        expect(size(minus(b.at, [a.x, a.y, 0]))).toBeLessThan(1e-7)
        expect(size(minus(b.left, [-a.ty, a.tx, 0]))).toBeLessThan(1e-7)
        expect(size(minus(b.up, [0, 0, 1]))).toBeLessThan(1e-7)
      }),
    )
  })

  it('is as long as it is and goes on without a jump, in frames at right angles', () => {
    for (const frames of ['least-twist', 'level'] as const) {
      for (const [path, rise] of [
        [bow(), HUMP],
        [circlePath(50), HUMP],
        [circlePath(30), [[0, 0] as const, [1, 25] as const]],
      ] as const) {
        const line = new SpaceLine(path, rise, frames)
        const step = 1e-4
        fc.assert(
          fc.property(fc.double({ min: -30, max: 2.5 * line.length, noNaN: true }), (s) => {
            // an open one that goes on straight may leave its own curve with an edge
            fc.pre(path.closed || Math.abs(s + step / 2) > step)
            const [a, b] = [line.at(s), line.at(s + step)]
            // a mm of the line is a mm in space
            expect(size(minus(b.at, a.at)) / step).toBeCloseTo(1, 4)
            expect(dot(minus(b.at, a.at), a.along) / step).toBeCloseTo(1, 4)
            for (const [u, v] of [
              [a.along, a.left],
              [a.left, a.up],
              [a.up, a.along],
            ])
              expect(Math.abs(dot(u, v))).toBeLessThan(1e-9)
            // right-handed: along × left is up
            const [x, y] = [a.along, a.left]
            expect(dot([x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]], a.up)).toBeCloseTo(1, 9)
            if (frames === 'level') expect(a.left[2]).toBe(0)
          }),
        )
      }
    }
  })

  it('turns about itself as little as can be, as frames carried along by reflections do', () => {
    for (const [path, rise] of [
      [bow(), HUMP],
      [circlePath(30), [[0, 0] as const, [1, 25] as const]],
    ] as const) {
      const line = new SpaceLine(path, rise, 'least-twist')
      for (const share of [0.2, 0.55, 0.9])
        expect(size(minus(carried(line, 0, share * line.length, 4000), line.at(share * line.length).left))).toBeLessThan(2e-3)
    }
    // and that differs from level
    const level = new SpaceLine(
      circlePath(30),
      [
        [0, 0],
        [1, 60],
      ],
      'level',
    )
    expect(size(minus(carried(level, 0, level.length * 0.9, 4000), level.at(level.length * 0.9).left))).toBeGreaterThan(0.3)
  })

  it('closes where a closed line comes back, and winds on where it does not', () => {
    const closed = new SpaceLine(circlePath(50), HUMP, 'least-twist')
    expect(closed.closed).toBe(true)
    const [a, b] = [closed.at(0), closed.at(closed.length * (1 - 1e-12))]
    for (const key of ['at', 'along', 'left', 'up'] as const) expect(size(minus(a[key], b[key]))).toBeLessThan(2e-3)

    const wound = new SpaceLine(
      circlePath(50),
      [
        [0, 0],
        [1, 30],
      ],
      'level',
    )
    expect(wound.closed).toBe(false)
    // a helix: √((2πr)² + 30²) for each turn, up to what four cubics are off a circle
    expect(wound.length).toBeCloseTo(Math.hypot(2 * Math.PI * 50, 30), 1)
    for (const turns of [-1, 0.3, 1.7, 4]) {
      const { at } = wound.at(turns * wound.length)
      expect(at[2]).toBeCloseTo(30 * turns, 6)
      expect(Math.hypot(at[0], at[1])).toBeCloseTo(50, 1)
      expect(Math.atan2(at[1], at[0])).toBeCloseTo(Math.atan2(Math.sin(2 * Math.PI * turns), Math.cos(2 * Math.PI * turns)), 2)
    }
  })
})

describe('a curve through points', () => {
  it('has the slope of its values', () => {
    for (const round of [false, true]) {
      const curve = curveThrough(HUMP, 0, round)
      fc.assert(
        fc.property(fc.double({ min: 0.001, max: 0.999, noNaN: true }), (t) => {
          fc.pre(HUMP.every(([at]) => Math.abs(at - t) > 1e-5))
          expect(curve.slope(t)).toBeCloseTo((curve.value(t + 1e-6) - curve.value(t - 1e-6)) / 2e-6, 2)
        }),
      )
      if (round) expect(curve.slope(0)).toBe(curve.slope(1))
    }
  })
})
