import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { PathBuilder } from '../outline/path'
import type { CurvePoint } from '../outline/through-points'
import { BULGE_LIMITS, bulgeMap } from './bulge'
import { type Cage, cageMap } from './cage'
import { type RunAlong, runAlongMap } from './run-along'
import { shearMap } from './shear'
import { shareOf, type SpaceMap } from './space-map'
import { stretchMap } from './stretch'
import { taperMap } from './taper'
import { waveMap } from './wave'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const place = fc.tuple(number(-40, 40), number(-40, 40), number(-40, 40))

function sent(map: SpaceMap, at: readonly number[]): [number, number, number] {
  // somewhere in the middle of others, which stay as they are
  const p = Float64Array.from([7, 8, 9, ...at, 7, 8, 9])
  map(p, 3)
  expect([...p.subarray(0, 3), ...p.subarray(6)]).toEqual([7, 8, 9, 7, 8, 9])
  return [p[3], p[4], p[5]]
}

/** How much larger a small cube at a place becomes, below 0 where it is turned inside out: by differences. */
function swelling(map: SpaceMap, at: readonly number[], h = 1e-4): number {
  const columns = [0, 1, 2].map((k) => {
    const [a, b] = [-h, h].map((d) =>
      sent(
        map,
        at.map((v, i) => (i === k ? v + d : v)),
      ),
    )
    return b.map((v, i) => (v - a[i]) / (2 * h))
  })
  const [u, v, w] = columns
  return u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) + u[2] * (v[0] * w[1] - v[1] * w[0])
}

const near = (found: readonly number[], wanted: readonly number[], digits = 9) => wanted.forEach((v, k) => expect(found[k]).toBeCloseTo(v, digits))

describe('an extent', () => {
  it('is gone through from 0 to 1, held at its ends, and a step where it has no length', () => {
    fc.assert(
      fc.property(number(-50, 50), number(0.1, 60), number(-200, 200), (from, length, at) => {
        const share = shareOf({ from, to: from + length }, at)
        if (at <= from) expect(share).toBe(0)
        else if (at >= from + length) expect(share).toBe(1)
        else expect(from + share * length).toBeCloseTo(at, 9)
      }),
    )
    expect([4.9, 5, 5.1].map((at) => shareOf({ from: 5, to: 5 }, at))).toEqual([0, 1, 1])
  })
})

describe('shearing', () => {
  const axes = fc.tuple(fc.constantFrom(0, 1, 2), fc.constantFrom(0, 1, 2)).filter(([a, b]) => a !== b) as fc.Arbitrary<[0 | 1 | 2, 0 | 1 | 2]>
  it('slides planes, keeps volume and every other coordinate, and is undone by the opposite slope', () => {
    fc.assert(
      fc.property(axes, number(-30, 30), number(-3, 3), place, ([moved, by], level, slope, at) => {
        const map = shearMap({ kind: 'shear', moved, by, level, slope })
        const to = sent(map, at)
        for (let k = 0; k < 3; k++) if (k !== moved) expect(to[k]).toBe(at[k])
        expect(to[moved] - at[moved]).toBeCloseTo(slope * (at[by] - level), 9)
        expect(swelling(map, at)).toBeCloseTo(1, 6)
        near(sent(shearMap({ kind: 'shear', moved, by, level, slope: -slope }), to), at)
        // what lies on the level stays
        const still = at.map((v, k) => (k === by ? level : v))
        near(sent(map, still), still)
      }),
    )
  })
})

describe('stretching', () => {
  it('multiplies distances from its centre along each axis, and volumes by all three', () => {
    fc.assert(
      fc.property(fc.tuple(number(0.1, 4), number(0.1, 4), number(0.1, 4)), place, place, (factors, centre, at) => {
        const map = stretchMap({ kind: 'stretch', factors, centre })
        const to = sent(map, at)
        for (let k = 0; k < 3; k++) expect(to[k] - centre[k]).toBeCloseTo(factors[k] * (at[k] - centre[k]), 9)
        expect(swelling(map, at) / (factors[0] * factors[1] * factors[2])).toBeCloseTo(1, 5)
        near(sent(map, centre), centre)
        const back = stretchMap({ kind: 'stretch', factors: factors.map((f) => 1 / f) as [number, number, number], centre })
        near(sent(back, to), at)
      }),
    )
  })
})

describe('tapering', () => {
  const straight = (from: number, to: number): CurvePoint[] => [
    [0, from],
    [1, to],
  ]
  it('sizes cuts by what its curve says there, holds its ends, and leaves the axis it goes along', () => {
    fc.assert(
      fc.property(fc.constantFrom(0, 1, 2), number(0.2, 3), number(0.2, 3), place, place, (along, first, last, centre, at) => {
        const sized = [0, 1, 2].map((k) => k !== along) as [boolean, boolean, boolean]
        const extent = { from: -20, to: 20 }
        const map = taperMap({ kind: 'taper', along: along as 0 | 1 | 2, extent, centre, sized, curve: straight(first, last) })
        const to = sent(map, at)
        expect(to[along]).toBe(at[along])
        const factor = first + (last - first) * Math.min(1, Math.max(0, (at[along] + 20) / 40))
        for (let k = 0; k < 3; k++) if (k !== along) expect(to[k] - centre[k]).toBeCloseTo(factor * (at[k] - centre[k]), 6)
        if (Math.abs(Math.abs(at[along]) - 20) > 0.01) expect(swelling(map, at) / factor ** 2).toBeCloseTo(1, 4)
      }),
    )
  })

  it('sizes one way only where that is asked', () => {
    const map = taperMap({ kind: 'taper', along: 0, extent: { from: 0, to: 10 }, centre: [0, 1, 1], sized: [false, true, false], curve: straight(1, 2) })
    near(sent(map, [10, 4, 4]), [10, 7, 4])
    near(sent(map, [5, 4, 4]), [5, 5.5, 4])
    near(sent(map, [0, 4, 4]), [0, 4, 4])
  })
})

describe('waves', () => {
  const wave = fc.record({ height: number(0, 8), length: number(5, 60), phase: number(-360, 360), start: number(-30, 30) })
  it('move one axis by a sine of another: the same a length further on, the other way half a length on', () => {
    fc.assert(
      fc.property(wave, place, fc.constantFrom<[0 | 1 | 2, 0 | 1 | 2]>([0, 1], [0, 2], [1, 2], [2, 0]), (w, at, [along, moved]) => {
        const map = waveMap({ kind: 'wave', along, moved, centre: [0, 0], ...w })
        const by = (off: number) => {
          const from = at.map((v, k) => (k === along ? v + off : v))
          return sent(map, from)[moved] - from[moved]
        }
        expect(Math.abs(by(0))).toBeLessThanOrEqual(w.height + 1e-9)
        expect(by(w.length)).toBeCloseTo(by(0), 7)
        expect(by(w.length / 2)).toBeCloseTo(-by(0), 7)
        // quarters a quarter apart make the whole: sin² + cos²
        expect(Math.hypot(by(0), by(w.length / 4))).toBeCloseTo(w.height, 7)
        for (let k = 0; k < 3; k++) if (k !== moved) expect(sent(map, at)[k]).toBe(at[k])
        // what is moved across its own way keeps its volume
        expect(swelling(map, at)).toBeCloseTo(1, 5)
      }),
    )
  })

  it('begin where they are told to, rising, and a phase of 90° begins at a crest', () => {
    const map = (phase: number) => waveMap({ kind: 'wave', along: 0, moved: 2, centre: [0, 0], start: 3, height: 2, length: 20, phase })
    near(sent(map(0), [3, 1, 5]), [3, 1, 5])
    expect(sent(map(0), [4, 1, 5])[2]).toBeGreaterThan(5)
    near(sent(map(90), [3, 1, 5]), [3, 1, 7])
    near(sent(map(0), [8, 1, 5]), [8, 1, 7])
  })

  it('in rings depend on the distance from their centre alone', () => {
    fc.assert(
      fc.property(number(0, 40), number(-180, 180), number(-180, 180), (r, a, b) => {
        const map = waveMap({ kind: 'wave', along: 'ring', moved: 2, centre: [5, -3], start: 99, height: 2, length: 11, phase: 20 })
        const on = (angle: number) => sent(map, [5 + r * Math.cos((angle * Math.PI) / 180), -3 + r * Math.sin((angle * Math.PI) / 180), 1])[2]
        expect(on(a)).toBeCloseTo(on(b), 9)
        expect(on(a)).toBeCloseTo(1 + 2 * Math.sin((2 * Math.PI * r) / 11 + Math.PI / 9), 9)
      }),
    )
  })
})

describe('bulging', () => {
  it('moves nothing beyond its radius, straight out from the centre within, and never folds', () => {
    fc.assert(
      fc.property(number(BULGE_LIMITS[0], BULGE_LIMITS[1]), number(5, 60), place, place, (amount, radius, centre, at) => {
        const map = bulgeMap({ kind: 'bulge', centre, axes: [true, true, true], radius, amount })
        const to = sent(map, at)
        const off = at.map((v, k) => v - centre[k])
        const gone = to.map((v, k) => v - centre[k])
        const [before, after] = [Math.hypot(...off), Math.hypot(...gone)]
        if (before >= radius) {
          near(to, at, 12)
          return
        }
        // on the same ray, and no further than the border
        if (before > 1e-6) for (let k = 0; k < 3; k++) expect(gone[k] * before).toBeCloseTo(off[k] * after, 6)
        expect(after).toBeLessThanOrEqual(radius * (1 + 1e-9))
        if (Math.abs(before - radius) > 0.01) expect(swelling(map, at)).toBeGreaterThan(0)
      }),
    )
  })

  it('about a line leaves what is along it', () => {
    const map = bulgeMap({ kind: 'bulge', centre: [0, 0, 0], axes: [true, true, false], radius: 10, amount: 1 })
    for (const z of [-100, 0, 37]) {
      const [x, y, to] = sent(map, [3, 4, z])
      expect(to).toBe(z)
      expect(Math.hypot(x, y)).toBeCloseTo(5 * (1 + 0.75 ** 2), 9)
    }
  })
})

describe('a cage', () => {
  const counts: Cage['counts'] = [4, 3, 2]
  const box = [-10, -5, 0, 10, 5, 4]
  const every = (by: (at: readonly [number, number, number], place: readonly number[]) => readonly [number, number, number]): Cage['moved'] => {
    const moved: { at: [number, number, number]; by: readonly [number, number, number] }[] = []
    for (let i = 0; i < 4; i++)
      for (let j = 0; j < 3; j++) for (let k = 0; k < 2; k++) moved.push({ at: [i, j, k], by: by([i, j, k], [-10 + (20 * i) / 3, -5 + 5 * j, 4 * k]) })
    return moved
  }
  const inside = fc.tuple(number(-10, 10), number(-5, 5), number(0, 4))
  const vector = fc.tuple(number(-3, 3), number(-3, 3), number(-3, 3))

  it('that is moved as a whole moves all by that, and one moved evenly (sheared, sized) moves what is in it just so', () => {
    fc.assert(
      fc.property(vector, fc.array(number(-0.3, 0.3), { minLength: 9, maxLength: 9 }), inside, (by, m, at) => {
        near(
          sent(cageMap({ kind: 'cage', box, counts, moved: every(() => by) }), at),
          at.map((v, k) => v + by[k]),
        )
        // Bernstein polynomials give back what is linear
        const linear = (p: readonly number[]): [number, number, number] => [0, 3, 6].map((r) => m[r] * p[0] + m[r + 1] * p[1] + m[r + 2] * p[2]) as never
        near(
          sent(cageMap({ kind: 'cage', box, counts, moved: every((_, p) => linear(p)) }), at),
          at.map((v, k) => v + linear(at)[k]),
        )
      }),
      { numRuns: 60 },
    )
  })

  it('draws by each point what is near it most, and corners by corners alone', () => {
    fc.assert(
      fc.property(fc.tuple(fc.nat(3), fc.nat(2), fc.nat(1)), vector, inside, (point, by, at) => {
        const map = cageMap({ kind: 'cage', box, counts, moved: [{ at: point as [number, number, number], by }] })
        const to = sent(map, at)
        // de Casteljau along each axis tells the same weight
        const weight = [0, 1, 2].reduce((product, k) => {
          const t = (at[k] - box[k]) / (box[3 + k] - box[k])
          let row = Array.from({ length: counts[k] }, (_, i): number => (i === point[k] ? 1 : 0))
          while (row.length > 1) row = row.slice(1).map((v, i) => (1 - t) * row[i] + t * v)
          return product * row[0]
        }, 1)
        near(
          to,
          at.map((v, k) => v + weight * by[k]),
          6,
        )
        const corner = [box[3], box[1], box[5]]
        const is = point[0] === 3 && point[1] === 0 && point[2] === 1
        near(
          sent(map, corner),
          corner.map((v, k) => v + (is ? by[k] : 0)),
        )
      }),
    )
  })

  it('moves what lies beyond it as its border does, and stands where no point is moved or a box is flat', () => {
    const map = cageMap({ kind: 'cage', box, counts, moved: [{ at: [3, 1, 0], by: [0, 2, 0] }] })
    const border = sent(map, [10, 1, 1])
    near(sent(map, [50, 1, 1]), [50, border[1], 1])
    near(sent(cageMap({ kind: 'cage', box, counts, moved: [] }), [1, 2, 3]), [1, 2, 3])
    const flat = cageMap({ kind: 'cage', box: [0, 0, 0, 10, 10, 0], counts: [2, 2, 2], moved: [{ at: [0, 0, 0], by: [0, 0, 5] }] })
    near(sent(flat, [0, 0, 0]), [0, 0, 5])
  })
})

describe('running along a line', () => {
  const steady: CurvePoint[] = [
    [0, 1],
    [1, 1],
  ]
  const none: CurvePoint[] = [
    [0, 0],
    [1, 0],
  ]
  const base = { kind: 'run-along', start: 0, scale: 1, from: 0, level: 0, offset: 0, banking: none, size: steady, length: 100, middle: 3 } as const

  const slanted = new PathBuilder(0, 0)
  slanted.lineTo(300, 400)
  const line = slanted.build(false)

  it('keeps lengths, heights and depths along a straight line', () => {
    fc.assert(
      fc.property(number(0, 200), number(-20, 20), number(-10, 10), number(0, 100), number(-5, 5), (x, y, z, from, offset) => {
        const map = runAlongMap({ ...base, path: line, from, offset })
        const [s, v] = [from + x, y + offset]
        // along (0.6, 0.8), to the left of it (−0.8, 0.6)
        near(sent(map, [x, y, z]), [0.6 * s - 0.8 * v, 0.8 * s + 0.6 * v, z], 6)
      }),
    )
  })

  it('turns about the line by its banking, sizes about it, and stretches along it by its scale', () => {
    const by = (more: Partial<RunAlong>) => runAlongMap({ ...base, path: line, ...more })
    const even = (y: number): CurvePoint[] => [
      [0, y],
      [1, y],
    ]
    fc.assert(
      fc.property(number(1, 90), number(-10, 10), number(-6, 10), number(-180, 180), number(0.3, 3), number(0.2, 2), (x, y, z, turn, size, scale) => {
        const to = sent(by({ banking: even(turn), size: even(size), scale }), [x, y, z])
        const flat = sent(by({ scale }), [x, 0, 3])
        // where the line is, at that length
        near(flat, [0.6 * x * scale, 0.8 * x * scale, 3], 6)
        expect(Math.hypot(...to.map((v, k) => v - flat[k]))).toBeCloseTo(size * Math.hypot(y, z - 3), 6)
        // nothing goes along the line
        expect((to[0] - flat[0]) * 0.6 + (to[1] - flat[1]) * 0.8).toBeCloseTo(0, 6)
      }),
    )
    // a quarter turn: what was up lies forward
    near(sent(by({ banking: even(90) }), [0, 5, 3]), [0, 0, 8], 6)
  })

  it('bends round a circle: heights stand on its spokes', () => {
    // a half circle of 50 mm about (0, 50), counter-clockwise from below
    const k = (4 / 3) * Math.tan(Math.PI / 8) * 50
    const bow = new PathBuilder(0, 0)
    bow.cubicTo(k, 0, 50, 50 - k, 50, 50)
    bow.cubicTo(50, 50 + k, k, 100, 0, 100)
    const map = runAlongMap({ ...base, path: bow.build(false) })
    fc.assert(
      fc.property(number(1, 150), number(-20, 20), (x, y) => {
        const [px, py] = sent(map, [x, y, 3])
        // its left is towards the middle
        expect(Math.abs(Math.hypot(px, py - 50) - (50 - y))).toBeLessThan(0.05)
        expect(Math.abs(Math.atan2(px, 50 - py) - x / 50)).toBeLessThan(0.005)
      }),
    )
  })
})
