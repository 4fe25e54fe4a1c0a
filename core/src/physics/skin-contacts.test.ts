import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody } from '../../test/bodies'
import { type CellLattice, cellLattice } from './cell-lattice'
import { type ContactBody, SkinContacts } from './skin-contacts'

/** m to a mm */
const SIZE = 0.001
const CELL = 4
const STEP = 1 / 120

/** A ball of 10 mm, finely divided, hung in cells, with its middle at `at` (mm) and moving (m/s). */
const skin = ballBody(10, 10)
const lattice: CellLattice = cellLattice(skin, CELL)

function ball(at: readonly [number, number, number], speed: readonly [number, number, number], heavy = 1): ContactBody {
  const corners = lattice.points.length / 3
  return {
    lattice,
    skin,
    places: Float32Array.from(lattice.points, (v, i) => (v + at[i % 3]) * SIZE),
    speeds: Float32Array.from({ length: 3 * corners }, (_, i) => speed[i % 3]),
    inverse: new Float64Array(corners).fill(heavy === Infinity ? 0 : 1 / heavy),
  }
}

/** The sum of all speeds, which is momentum where all corners weigh the same. */
function momentum(bodies: readonly ContactBody[]): number[] {
  const sum = [0, 0, 0]
  for (const { speeds } of bodies) speeds.forEach((v, i) => (sum[i % 3] += v))
  return sum
}

const mean = ({ speeds }: ContactBody, k: number) => {
  let sum = 0
  for (let i = k; i < speeds.length; i += 3) sum += speeds[i]
  return sum / (speeds.length / 3)
}

describe('jelly against jelly', () => {
  it('leaves bodies that are apart as they are, whatever they do', () => {
    const speed = fc.tuple(
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
    )
    fc.assert(
      fc.property(speed, speed, fc.double({ min: 22, max: 60, noNaN: true }), (a, b, far) => {
        const bodies = [ball([0, 0, 0], a), ball([far, 0, 0], b)]
        const before = bodies.map(({ speeds }) => speeds.slice())
        expect(new SkinContacts(bodies, SIZE).apply(STEP)).toBe(false)
        bodies.forEach(({ speeds }, i) => expect([...speeds]).toEqual([...before[i]]))
      }),
      { numRuns: 15 },
    )
  })

  it('turns two balls that come at each other round, gives nobody speed sideways, and keeps their momentum', () => {
    for (const way of [0, 1, 2]) {
      const along = (v: number) => [0, 1, 2].map((k) => (k === way ? v : 0)) as [number, number, number]
      // they overlap by half a millimetre
      const bodies = [ball([0, 0, 0], along(0.4)), ball(along(19.5), along(-0.4))]
      const before = momentum(bodies)
      expect(new SkinContacts(bodies, SIZE).apply(STEP)).toBe(true)
      const after = momentum(bodies)
      for (let k = 0; k < 3; k++) expect(Math.abs(after[k] - before[k])).toBeLessThan(1e-2)
      // slower towards each other than before, on the whole
      expect(mean(bodies[0], way)).toBeLessThan(0.4)
      expect(mean(bodies[1], way)).toBeGreaterThan(-0.4)
      for (let k = 0; k < 3; k++) if (k !== way) expect(Math.abs(mean(bodies[0], k))).toBeLessThan(0.02)
    }
  })

  it('never pulls together what goes apart already', () => {
    const bodies = [ball([0, 0, 0], [-5, 0, 0]), ball([19.5, 0, 0], [5, 0, 0])]
    new SkinContacts(bodies, SIZE).apply(STEP)
    expect(mean(bodies[0], 0)).toBeCloseTo(-5, 4)
    expect(mean(bodies[1], 0)).toBeCloseTo(5, 4)
  })

  it('pushes the one that is free from the one that is held', () => {
    const bodies = [ball([0, 0, 0], [0, 0, 0], Infinity), ball([0, 19, 0], [0, -1, 0])]
    const contacts = new SkinContacts(bodies, SIZE)
    expect(contacts.apply(STEP)).toBe(true)
    for (const v of bodies[0].speeds) expect(v).toBe(0)
    expect(mean(bodies[1], 1)).toBeGreaterThan(-1)
  })

  it('gives the lighter one more of it', () => {
    const bodies = [ball([0, 0, 0], [0, 0, 0], 9), ball([19.5, 0, 0], [0, 0, 0], 1)]
    expect(new SkinContacts(bodies, SIZE).apply(STEP)).toBe(true)
    expect(mean(bodies[1], 0)).toBeGreaterThan(0)
    expect(mean(bodies[0], 0)).toBeLessThan(0)
    expect(mean(bodies[1], 0) / -mean(bodies[0], 0)).toBeCloseTo(9, 3)
  })

  it('does not hold the two sides of one body off each other', () => {
    const alone = [ball([0, 0, 0], [0, 0, 0])]
    // pressed to a tenth of its height, it is near to itself everywhere
    for (let i = 2; i < alone[0].places.length; i += 3) (alone[0].places as Float32Array)[i] *= 0.1
    expect(new SkinContacts(alone, SIZE).apply(STEP)).toBe(false)
    for (const v of alone[0].speeds) expect(v).toBe(0)
  })
})
