import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nestingDepths } from '../outline/nesting'
import { areSimple, winding } from '../outline/polygon'
import { boundCrossings, MAX_CROSSINGS, sidesOfPairs, sidesOfRings, visitMeetingSides } from './sides'
import { TooMuchWork } from './work-bound'

const coordinate = fc.integer({ min: 0, max: 40 })
const ring = fc.array(fc.tuple(coordinate, coordinate), { minLength: 3, maxLength: 12 }).map((points) => points.flat())
const rings = fc.array(ring, { minLength: 1, maxLength: 6 })

/** Pairs of sides whose boxes meet, each looked at with every other. */
function meetingPairs(sides: Float64Array): Set<string> {
  const found = new Set<string>()
  const box = (i: number, k: 0 | 1) => [Math.min(sides[4 * i + k], sides[4 * i + 2 + k]), Math.max(sides[4 * i + k], sides[4 * i + 2 + k])]
  for (let i = 0; i < sides.length / 4; i++)
    for (let j = 0; j < i; j++) if (([0, 1] as const).every((k) => box(i, k)[0] <= box(j, k)[1] && box(j, k)[0] <= box(i, k)[1])) found.add(`${j},${i}`)
  return found
}

describe('sides that meet', () => {
  it('are visited once each, all of them and no others', () => {
    fc.assert(
      fc.property(rings, (list) => {
        const sides = sidesOfRings(list)
        const seen: string[] = []
        expect(visitMeetingSides(sides, (i, j) => seen.push(`${Math.min(i, j)},${Math.max(i, j)}`) > 0)).toBe(true)
        expect(seen.length).toBe(new Set(seen).size)
        expect(new Set(seen)).toEqual(meetingPairs(sides))
      }),
      { numRuns: 300 },
    )
  })

  it('are the same of rings in pairs', () => {
    fc.assert(
      fc.property(rings, (list) => {
        const pairs = list.map((r) => Array.from({ length: r.length / 2 }, (_, i) => [r[2 * i], r[2 * i + 1]]))
        expect(sidesOfPairs(pairs)).toEqual(sidesOfRings(list))
      }),
    )
  })

  it('that run along one another without end are given up', () => {
    // 40,000 lines, each across all of the others' boxes both ways
    const diagonals = new Float64Array(4 * 40_000)
    for (let i = 0; i < 40_000; i++) diagonals.set([i, 0, i + 40_000, 40_000], 4 * i)
    expect(() => visitMeetingSides(diagonals, () => true)).toThrow(TooMuchWork)
    // lines that lie level are no trouble
    const level = new Float64Array(4 * 200_000)
    for (let i = 0; i < 200_000; i++) level.set([0, i, 1000, i + 0.5], 4 * i)
    let met = 0
    expect(visitMeetingSides(level, () => ++met > 0)).toBe(true)
    expect(met).toBe(0)
  })

  it('may cross so often and no more', () => {
    // n lines down and n lines across cross n² times
    const grid = (n: number) => {
      const sides: number[] = []
      for (let i = 1; i <= n; i++) sides.push(i, 0, i, n + 1, 0, i, n + 1, i)
      return Float64Array.from(sides)
    }
    const most = Math.floor(Math.sqrt(MAX_CROSSINGS))
    expect(() => boundCrossings(grid(most))).not.toThrow()
    expect(() => boundCrossings(grid(most + 1))).toThrow('more than 200,000 times')
    // a fine line whose neighbours touch crosses nowhere
    const round = Float64Array.from({ length: 800_000 }, (_, i) => (i % 2 === 0 ? Math.cos : Math.sin)((2 * Math.PI * (i >> 1)) / 400_000))
    expect(() => boundCrossings(sidesOfRings([round]))).not.toThrow()
  })
})

describe('simple rings', () => {
  const cross = (a: number[], b: number[]) => a[0] * b[1] - a[1] * b[0]

  it('are told from those that cross, by exact arithmetic over every pair', () => {
    let simple = 0
    fc.assert(
      fc.property(
        fc.oneof(
          rings,
          fc
            .array(fc.tuple(coordinate, coordinate, fc.integer({ min: 1, max: 9 })), { minLength: 1, maxLength: 4 })
            .map((squares) => squares.map(([x, y, s]) => [x, y, x + s, y, x + s, y + s, x, y + s])),
        ),
        (list) => {
          const sides = sidesOfRings(list)
          const n = sides.length / 4
          const point = (i: number, k: 0 | 2) => [sides[4 * i + k], sides[4 * i + k + 1]]
          const turn = (i: number, p: number[]) => {
            const [a, b] = [point(i, 0), point(i, 2)]
            return Math.sign(cross([b[0] - a[0], b[1] - a[1]], [p[0] - a[0], p[1] - a[1]]))
          }
          const within = (i: number, p: number[]) => {
            const [a, b] = [point(i, 0), point(i, 2)]
            return turn(i, p) === 0 && (p[0] - a[0]) * (p[0] - b[0]) + (p[1] - a[1]) * (p[1] - b[1]) < 0
          }
          const same = (p: number[], q: number[]) => p[0] === q[0] && p[1] === q[1]
          let clean = true
          for (let i = 0; i < n; i++)
            for (let j = 0; j < i; j++) {
              const [a, b, c, d] = [point(i, 0), point(i, 2), point(j, 0), point(j, 2)]
              if (turn(i, c) * turn(i, d) < 0 && turn(j, a) * turn(j, b) < 0) clean = false
              if (within(i, c) || within(i, d) || within(j, a) || within(j, b)) clean = false
              if ((same(a, c) && same(b, d)) || (same(a, d) && same(b, c))) clean = false
            }
          if (clean) simple++
          expect(areSimple(list)).toBe(clean)
        },
      ),
      { numRuns: 500 },
    )
    expect(simple).toBeGreaterThan(40)
  })
})

describe('nesting', () => {
  it('is counted as winding about each ring’s first point says', () => {
    fc.assert(
      fc.property(rings, (list) => {
        const depths = nestingDepths(list)
        list.forEach((own, i) => {
          const around = list.filter((other, k) => k !== i && winding([{ xy: other }], own[0], own[1]) !== 0)
          expect(depths[i]).toBe(around.length)
        })
      }),
      { numRuns: 300 },
    )
    expect(nestingDepths([])).toEqual(new Uint32Array())
  })
})
