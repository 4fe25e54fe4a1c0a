import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { deformation, mapVertices, place, share } from '../../test/deformations'
import { PathBuilder } from '../outline/path'
import type { CurvePoint } from '../outline/through-points'
import { Composed, type Stage } from './composed'
import { type Deformation, mapOf } from './deformation'
import type { Box } from './units'

const identity = () => Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1)

/** What a map does to x, y and z there, by differences of where points go: from there on, and back. */
function differences(map: (p: Float64Array) => void, at: readonly number[], step: number): Float64Array {
  const from = Float64Array.from(at)
  map(from)
  const out = new Float64Array(9)
  for (let k = 0; k < 3; k++) {
    const to = Float64Array.from(at)
    to[k] += step
    map(to)
    for (let r = 0; r < 3; r++) out[3 * r + k] = (to[r] - from[r]) / step
  }
  return out
}

/** Whether it ends something there, but for a hair. */
const isByAnEnd = (by: Deformation, at: readonly number[]) => {
  const axis = by.kind === 'twist' ? by.about : by.kind === 'bend' || by.kind === 'taper' ? by.along : undefined
  return axis !== undefined && 'extent' in by && [by.extent.from, by.extent.to].some((end) => end !== at[axis] && Math.abs(end - at[axis]) < 2e-4)
}

const off = (a: Float64Array, b: Float64Array) => Math.max(...a.map((value, i) => Math.abs(value - b[i])))

/** No further from the differences ahead and back than those are from each other, and a little. */
function expectBetween(found: Float64Array, map: (p: Float64Array) => void, at: readonly number[]): void {
  const [ahead, back] = [differences(map, at, 1e-5), differences(map, at, -1e-5)]
  const size = Math.max(1, ...ahead.map(Math.abs), ...back.map(Math.abs))
  for (let i = 0; i < 9; i++) {
    expect(found[i]).toBeGreaterThanOrEqual(Math.min(ahead[i], back[i]) - 1e-4 * size)
    expect(found[i]).toBeLessThanOrEqual(Math.max(ahead[i], back[i]) + 1e-4 * size)
  }
}

/** Turning and thinning along a bow. */
const bow = new PathBuilder(0, 0)
bow.cubicTo(30, 60, 90, 60, 120, 0)
const along: Deformation = {
  kind: 'run-along',
  path: bow.build(false),
  start: -10,
  scale: 0.8,
  from: 2,
  level: 1,
  offset: 2,
  banking: [
    [0, 0],
    [1, 40],
  ],
  size: [
    [0, 1],
    [1, 0.6],
  ],
  length: 40,
  middle: 1,
}

describe('derivatives of deformations', () => {
  it('are what differences tend to, one deformation at a time, multiplied from the left', () => {
    fc.assert(
      fc.property(deformation, place, (by, at) => {
        fc.pre(!isByAnEnd(by, at))
        const found = Float64Array.of(9, 9, 2, 0, 0, 0, 3, 0, 0, 0, -1, 9)
        mapOf(by)(Float64Array.of(7, ...at), 1, found, 2)
        expect([found[0], found[1], found[11]]).toEqual([9, 9, 9])
        // what was there sizes x, y and z
        const plain = found.slice(2, 11).map((value, i) => value / [2, 3, -1][i % 3])
        expectBetween(plain, (p) => mapOf(by)(p, 0), at)
      }),
      { numRuns: 1000 },
    )
  })

  it('of stacks, at any strength', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(deformation, fc.oneof(fc.constant(1), fc.constant(0), share)), { minLength: 1, maxLength: 4 }), place, (list, at) => {
        const stages = list.map(([by, strength]): Stage => ({ by: [by], strength }))
        const [p, found] = [Float64Array.from(at), identity()]
        new Composed(stages).placeFrom(0, p, found)
        const map = (q: Float64Array) => mapVertices(new Composed(stages), q)
        const q = Float64Array.from(at)
        map(q)
        expect(p).toEqual(q)
        expectBetween(found, map, at)
      }),
      { numRuns: 500 },
    )
  })

  it('grow with weights along the surface', () => {
    const weightAt = (at: ArrayLike<number>) => 0.4 + 0.003 * at[0] - 0.002 * at[1] + 0.01 * at[2]
    fc.assert(
      fc.property(deformation, deformation, place, share, (one, two, at, strength) => {
        // corners about a place, in which weights rise evenly
        const about = [at, [1, 0, 0], [-1, 0, 0], [0, 1, 0], [0, -1, 0], [0, 0, 1], [0, 0, -1]].map((d, i) => (i === 0 ? at : d.map((far, k) => at[k] + far)))
        const weights = Float32Array.from(about, weightAt)
        const stages: Stage[] = [
          { by: [one], weights, strength },
          { by: [two], strength: 1 },
        ]
        const map = new Composed(stages)
        map.measureGradients(Float64Array.from(about.flat()), Uint32Array.of(0, 1, 3, 0, 3, 2, 0, 2, 4, 0, 4, 1, 0, 5, 6, 0, 6, 5))
        const [p, j] = [Float64Array.from(about.flat()), new Float64Array(9 * about.length)]
        j.set(identity())
        map.place(p, j)
        const mapped = (q: Float64Array) => mapVertices(new Composed([{ by: [one], strength: strength * weightAt(q) }, stages[1]]), q)
        // doubts of slivers take a little off a gradient
        const [ahead, back] = [differences(mapped, at, 1e-5), differences(mapped, at, -1e-5)]
        const size = Math.max(1, ...ahead.map(Math.abs), ...p.map((to, i) => Math.abs(to - about.flat()[i]) * 0.01))
        if (off(ahead, back) < 1e-4) expect(off(j.slice(0, 9), ahead)).toBeLessThan(0.02 * size)
      }),
      { numRuns: 300 },
    )
  })

  it('of what begins or ends with the piece are those on its side, and of what is beyond those beyond', () => {
    const extent = { from: -10, to: 30 }
    const curve: CurvePoint[] = [
      [0, 1],
      [1, 2],
    ]
    const all: Deformation[] = [
      { kind: 'bend', along: 0, towards: 1, extent, middle: 5, neutral: 1, curvature: 0.02 },
      { kind: 'twist', about: 0, extent, centre: [1, 2], start: 10, end: 70 },
      { kind: 'taper', along: 0, extent, centre: [0, 1, 2], sized: [false, true, true], curve },
      along,
    ]
    for (const by of all)
      for (const [x, way] of [
        [30, -1],
        [-10, 1],
      ]) {
        const map = (p: Float64Array) => mapOf(by)(p, 0)
        const derivative = (at: number, box?: Box) => {
          const j = identity()
          mapOf(by, box)(Float64Array.of(at, 6, 4), 0, j)
          return j
        }
        const [inside, outside] = [way, -way].map((to) => differences(map, [x, 6, 4], to * 1e-4))
        expect(off(inside, outside)).toBeGreaterThan(1e-3)
        const within: Box = [-10, 0, 0, 30, 8, 8]
        const beyond: Box = way < 0 ? [30, 0, 0, 60, 8, 8] : [-60, 0, 0, -10, 8, 8]
        // as rounded to a lattice
        for (const hair of [0, 2e-5, -2e-5]) {
          // a line that is run along is gone along by differences itself
          const most = (by.kind === 'run-along' ? Math.abs(hair) / 1e-4 + 0.01 : 1e-3) * off(inside, outside) + 1e-4
          expect(off(derivative(x + hair, within), inside)).toBeLessThan(most)
          expect(off(derivative(x + hair, beyond), outside)).toBeLessThan(most)
        }
      }
  })

  it('are one of nothing that is moved, to the bit', () => {
    const [p, j] = [Float64Array.of(3, 4, 5), identity()]
    new Composed([{ by: [{ kind: 'twist', about: 0, extent: { from: 0, to: 10 }, centre: [0, 0], start: 0, end: 90 }], strength: 0 }]).place(p, j)
    expect([[...p], [...j]]).toEqual([[3, 4, 5], [...identity()]])
  })
})
