import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { valueAt, track } from '../motion/track'
import { accelerations, forceOn, type Forces, inMetres, isCalmFrom, isCalm } from './forces'
import { blow, dragOn, isStill, windField } from './wind'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const vector = fc.tuple(number(-8, 8), number(-8, 8), number(-8, 8))
const place = fc.tuple(number(-3, 3), number(-3, 3), number(-3, 3))
const still = { gusts: 0, turbulence: 0, seed: 1 }

describe('the wind', () => {
  it('that is even blows alike everywhere and at all times; gusts change all of it together', () => {
    fc.assert(
      fc.property(vector, place, place, number(0, 60), number(0, 1), (speed, a, b, seconds, gusts) => {
        const [one, other] = [new Float64Array(3), new Float64Array(3)]
        windField({ speed, ...still })(...a, seconds, one)
        for (let k = 0; k < 3; k++) expect(one[k]).toBeCloseTo(speed[k], 12)
        const gusty = windField({ speed, gusts, turbulence: 0, seed: 5 })
        gusty(...a, seconds, one)
        gusty(...b, seconds, other)
        expect([...one]).toEqual([...other])
        // never against its own way
        expect(one.reduce((sum, v, k) => sum + v * speed[k], 0)).toBeGreaterThanOrEqual(0)
      }),
    )
  })

  it('is the same again for the same seed; its eddies drift along with it', () => {
    fc.assert(
      fc.property(vector, place, number(0, 20), fc.nat(1000), (speed, at, seconds, seed) => {
        const air = { speed, gusts: 0, turbulence: 0.7, seed }
        const [one, other] = [new Float64Array(3), new Float64Array(3)]
        windField(air)(...at, seconds, one)
        windField(air)(...at, seconds, other)
        expect([...one]).toEqual([...other])
        const later = at.map((v, k) => v + 2 * speed[k]) as [number, number, number]
        windField(air)(...later, seconds + 2, other)
        for (let k = 0; k < 3; k++) expect(other[k]).toBeCloseTo(one[k], 6)
      }),
    )
    expect(isStill({ speed: [0, 0, 0], ...still })).toBe(true)
    expect(isStill({ speed: [0, 0.1, 0], ...still })).toBe(false)
  })

  it('pushes a plate that stands across it by ½ρA v², one that lies along it not at all, and never past its own speed', () => {
    // two triangles: 1 m by 2 m across z
    const positions = Float32Array.from([0, 0, 0, 1, 0, 0, 1, 2, 0, 0, 2, 0])
    const triangles = Uint32Array.from([0, 1, 2, 0, 2, 3])
    const step = 1e-3
    const pushed = (speed: [number, number, number], mass: number, from = [0, 0, 0]) => {
      const velocities = Float32Array.from({ length: 12 }, (_, i) => from[i % 3])
      blow(triangles, positions, velocities, new Float64Array(4).fill(1 / mass), windField({ speed, ...still }), 0, step)
      return velocities
    }
    const across = pushed([0, 0, 5], 2)
    let force = 0
    for (let v = 0; v < 4; v++) force += (across[3 * v + 2] * 2) / step
    // ½ · 1.2 kg/m³ · 2 m² · 25 m²/s²
    // the second triangle meets corners that the first has made a little faster
    expect(force).toBeCloseTo(30, 1)
    const back = pushed([0, 0, -5], 2)
    for (let v = 0; v < 4; v++) expect(back[3 * v + 2]).toBeCloseTo(-across[3 * v + 2], 6)
    for (const v of pushed([5, 3, 0], 2)) expect(Math.abs(v)).toBeLessThan(1e-6)
    // as fast as the air: nothing blows on it
    for (const [i, v] of pushed([0, 0, 5], 2, [0, 0, 5]).entries()) expect(v).toBeCloseTo(i % 3 === 2 ? 5 : 0, 5)
    // a single triangle as light as nothing takes the air's own speed
    const feather = new Float32Array(9)
    blow(triangles.subarray(0, 3), positions.subarray(0, 9), feather, new Float64Array(3).fill(1e9), windField({ speed: [0, 0, 5], ...still }), 0, step)
    for (const [i, v] of feather.entries()) expect(v).toBeCloseTo(i % 3 === 2 ? 5 : 0, 6)
  })

  it('does not move what is held', () => {
    const velocities = new Float32Array(9)
    blow(
      Uint32Array.from([0, 1, 2]),
      Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0]),
      velocities,
      Float64Array.from([0, 0, 0]),
      windField({ speed: [0, 0, 9], ...still }),
      0,
      0.01,
    )
    expect([...velocities]).toEqual(new Array(9).fill(0))
  })
})

describe('forces', () => {
  const none: Forces = { spot: [0, 0, 0], pull: 0, whirl: 0, shake: 0, reach: 0, seed: 3 }
  const at = (forces: Partial<Forces>, where: readonly [number, number, number], seconds = 0) => {
    const out = new Float64Array(3)
    accelerations({ ...none, ...forces })(...where, seconds, out)
    return [...out] as [number, number, number]
  }

  it('are nothing where there are none', () => {
    expect(isCalm(none)).toBe(true)
    for (const one of ['pull', 'whirl', 'shake'] as const) expect(isCalm({ ...none, [one]: -1 })).toBe(false)
    fc.assert(
      fc.property(place, number(0, 9), (where, seconds) => {
        for (const a of at({}, where, seconds)) expect(Math.abs(a)).toBe(0)
      }),
    )
  })

  it('pull straight to the spot, about as strong as asked, and away from it below 0', () => {
    fc.assert(
      fc.property(place, place, number(0.5, 20), (spot, where, pull) => {
        const off = spot.map((v, k) => v - where[k])
        const far = Math.hypot(...off)
        fc.pre(far > 0.6)
        const a = at({ spot, pull }, where)
        const size = Math.hypot(...a)
        expect(a.reduce((sum, v, k) => sum + v * off[k], 0) / (size * far)).toBeCloseTo(1, 9)
        expect(size / pull).toBeGreaterThan(0.9)
        expect(size / pull).toBeLessThanOrEqual(1)
        const away = at({ spot, pull: -pull }, where)
        for (let k = 0; k < 3; k++) expect(away[k]).toBeCloseTo(-a[k], 9)
      }),
    )
    // and at the spot itself nowhere
    expect(at({ pull: 9 }, [0, 0, 0]).map(Math.abs)).toEqual([0, 0, 0])
  })

  it('are half as strong at the reach', () => {
    const [near, far] = [at({ pull: 4, reach: 2 }, [2, 0, 0]), at({ pull: 4 }, [2, 0, 0])]
    expect(near[0] / far[0]).toBeCloseTo(0.5, 9)
  })

  it('act from one moment until another, and nothing waits for what is over', () => {
    const forces: Forces = { spot: [0, 0, 0], pull: 4, whirl: 1, shake: 2, reach: 0, seed: 1, acts: [0.5, 1.25] }
    const always = { ...forces, acts: undefined }
    for (const seconds of [0, 0.49, 0.5, 1, 1.249, 1.25, 9]) {
      const [now, all] = [forces, always].map((one) => {
        const out = new Float64Array(3).fill(7)
        accelerations(one)(1, 2, 3, seconds, out)
        return [...out]
      })
      expect(now).toEqual(seconds >= 0.5 && seconds < 1.25 ? all : [0, 0, 0])
      expect(isCalmFrom(forces, seconds)).toBe(seconds >= 1.25)
      expect(isCalmFrom(always, seconds)).toBe(false)
    }
    expect(inMetres(forces, 0.02).acts).toEqual([0.5, 1.25])
  })

  it('whirl level about the upright line, anticlockwise seen from above', () => {
    fc.assert(
      fc.property(place, number(0.5, 20), (where, whirl) => {
        fc.pre(Math.hypot(where[0], where[2]) > 0.5)
        const a = at({ whirl }, where)
        expect(a[1]).toBeCloseTo(0, 12)
        // across the way to the line
        expect(a[0] * where[0] + a[2] * where[2]).toBeCloseTo(0, 6)
        // seen from above, x to the right and z towards one: z × x is up
        expect(where[2] * a[0] - where[0] * a[2]).toBeGreaterThan(0)
      }),
    )
  })

  it('shake every which way, differently from place to place and moment to moment, and evenly in the long run', () => {
    const sum = [0, 0, 0]
    let most = 0
    for (let i = 0; i < 4000; i++) {
      const a = at({ shake: 5 }, [0.13 * i, 0.07 * (i % 90), 0], 0.11 * i)
      a.forEach((v, k) => (sum[k] += v))
      most = Math.max(most, Math.hypot(...a))
    }
    for (const s of sum) expect(Math.abs(s / 4000)).toBeLessThan(0.4)
    expect(most).toBeGreaterThan(2)
    expect(at({ shake: 5 }, [1, 2, 3], 4)).toEqual(at({ shake: 5 }, [1, 2, 3], 4))
    expect(at({ shake: 5 }, [1, 2, 3], 4)).not.toEqual(at({ shake: 5 }, [1, 2, 3], 5))
  })
})

describe('what acts on points', () => {
  it('makes them faster by the force for as long as it acts; what is held stays', () => {
    const field = accelerations({ spot: [0, 0, 0], pull: 0, whirl: 3, shake: 0, reach: 0, seed: 1 })
    const places = Float32Array.from([1, 0, 0, 0, 0, 2, 4, 4, 4])
    const speeds = Float32Array.from([0, 0, 0, 1, 1, 1, 7, 7, 7])
    forceOn(places, speeds, Float64Array.from([1, 0.5, 0]), field, 0, 0.1)
    const by = new Float64Array(3)
    field(1, 0, 0, 0, by)
    for (let k = 0; k < 3; k++) expect(speeds[k]).toBeCloseTo(0.1 * by[k], 6)
    field(0, 0, 2, 0, by)
    for (let k = 0; k < 3; k++) expect(speeds[3 + k]).toBeCloseTo(1 + 0.1 * by[k], 6)
    expect([...speeds.subarray(6)]).toEqual([7, 7, 7])
  })

  it('is the same in metres as in mm, with its lengths', () => {
    const forces: Forces = { spot: [100, 200, 300], pull: 2, whirl: 1, shake: 0, reach: 50, seed: 1 }
    const metres = inMetres(forces, 0.001)
    expect(metres.spot.map((v) => Number(v.toFixed(6)))).toEqual([0.1, 0.2, 0.3])
    expect(metres.reach).toBeCloseTo(0.05, 9)
    expect(metres).toMatchObject({ pull: 2, whirl: 1, shake: 0, seed: 1 })
    expect(forces.spot).toEqual([100, 200, 300])
  })

  it('of the air is as the square of its speed, against it, along each axis by the area shown there', () => {
    fc.assert(
      fc.property(vector, fc.tuple(number(0, 3), number(0, 3), number(0, 3)), (speed, areas) => {
        const [one, twice, back] = [speed, speed.map((v) => 2 * v), speed.map((v) => -v)].map((v) => dragOn(areas, v))
        for (let k = 0; k < 3; k++) {
          expect(one[k]).toBeCloseTo(0.6 * areas[k] * speed[k] * Math.abs(speed[k]), 9)
          expect(twice[k]).toBeCloseTo(4 * one[k], 9)
          expect(back[k]).toBeCloseTo(-one[k], 9)
        }
      }),
    )
  })
})

describe('what changes over time', () => {
  const keys = (list: readonly (readonly [number, number])[], after = 'stays') =>
    track.parse({ keys: list.map(([at, value]) => ({ at, value, ease: 'even' })), after })
  const over = (list: readonly (readonly [number, number])[], after?: string) => ({ track: keys(list, after), rate: 24, least: -200, most: 200 })

  it('is as strong at each moment as its keys say, and held to what it may be', () => {
    fc.assert(
      fc.property(number(-300, 300), number(-300, 300), place, number(0, 4), (first, last, at, seconds) => {
        const calm: Forces = { spot: [1, 2, 3], pull: 1, whirl: 0, shake: 0, reach: 0.5, seed: 3 }
        const strength = over([
          [0, first],
          [48, last],
        ])
        const [one, keyed] = [new Float64Array(3), new Float64Array(3)]
        accelerations(calm)(...at, seconds, one)
        accelerations({ ...calm, strength })(...at, seconds, keyed)
        const value = Math.min(200, Math.max(-200, valueAt(strength.track, 24 * seconds) as number))
        for (let k = 0; k < 3; k++) expect(Math.abs(keyed[k] - value * one[k])).toBeLessThan(1e-6)
      }),
    )
  })

  it('is calm once it is nought for good, and not before', () => {
    const calm: Forces = { spot: [0, 0, 0], pull: 1, whirl: 0, shake: 0, reach: 0, seed: 1 }
    const ends = {
      ...calm,
      strength: over([
        [0, 5],
        [24, 0],
      ]),
    }
    expect([0.5, 0.99, 1, 3].map((s) => isCalmFrom(ends, s))).toEqual([false, false, true, true])
    expect(
      isCalmFrom(
        {
          ...calm,
          strength: over(
            [
              [0, 5],
              [24, 0],
            ],
            'again',
          ),
        },
        3,
      ),
    ).toBe(false)
    expect(
      isCalmFrom(
        {
          ...calm,
          strength: over([
            [0, 0],
            [24, 5],
          ]),
        },
        3,
      ),
    ).toBe(false)
  })

  it('blows as air of that speed does, and its eddies drift as far as it has gone', () => {
    fc.assert(
      fc.property(place, number(0.5, 20), number(0, 3), fc.nat(100), (at, speed, seconds, seed) => {
        const [one, other] = [new Float64Array(3), new Float64Array(3)]
        const rest = { gusts: 0.4, turbulence: 0.6, seed }
        windField({ speed: [speed, 0, 0], ...rest })(...at, seconds, one)
        windField({ speed: [1, 0, 0], ...rest, strength: over([[0, speed]]) })(...at, seconds, other)
        for (let k = 0; k < 3; k++) expect(Math.abs(one[k] - other[k])).toBeLessThan(1e-3)
      }),
    )
    // from 0 to 12 m/s in 2 s it goes 12 m, as at 6 m/s
    const [ramp, even] = [new Float64Array(3), new Float64Array(3)]
    const air = { gusts: 0, turbulence: 0.5, seed: 8 }
    windField({
      speed: [1, 0, 0],
      ...air,
      strength: over([
        [0, 0],
        [48, 12],
      ]),
    })(0.3, 0.1, 0.2, 2, ramp)
    windField({ speed: [6, 0, 0], ...air })(0.3, 0.1, 0.2, 2, even)
    // twice as strong, of the same eddies
    for (let k = 0; k < 3; k++) expect(Math.abs(ramp[k] - 2 * even[k])).toBeLessThan(0.05)
  })
})
