import { beforeAll, describe, expect, it } from 'vitest'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { withLabel } from '../solid/labels'
import { labelOf, type Solid, solidBounds } from '../solid/solid'
import { alongStrokes } from './along-strokes'
import { masked } from './masked'
import { lettersIn } from './painted'
import { maskSchema } from './schema'

beforeAll(async () => void (await loadManifold()))

async function word(text: string, face = 'jost-bold', height = 0): Promise<Solid> {
  const front = height > 0 ? { profile: 'chamfer', inset: height, height } : { profile: 'square', inset: 0, height: 0 }
  const { value } = await evaluateRoute(wordRoute(text, face, { size: 40 }, { depth: 6, front }), { assets })
  return value as Solid
}

describe('a mask along the strokes', () => {
  it.each([0, 1])('runs evenly from the top of an upright to its foot, with an edge of %s mm or without', async (edge) => {
    const solid = await word('I', 'jost-bold', edge)
    const { at } = alongStrokes(solid)
    const [x0, y0, , x1, y1] = solidBounds(solid.positions)
    const place = new Float64Array(3)
    for (let i = 0; i <= 40; i++)
      for (const side of [0.2, 0.5, 0.8]) {
        place.set([x0 + side * (x1 - x0), y1 + (i / 40) * (y0 - y1), 3])
        expect(Math.abs(at(place, 0, 0) - i / 40)).toBeLessThan(0.04)
      }
  })

  it('goes once round what is closed, and half way up a dot', async () => {
    const solid = await word('o')
    const { at } = alongStrokes(solid)
    const [x0, y0, , x1, y1] = solidBounds(solid.positions)
    const place = new Float64Array(3)
    const round = Array.from({ length: 72 }, (_, i) => {
      const a = (2 * Math.PI * i) / 72
      place.set([(x0 + x1) / 2 + 0.4 * (x1 - x0) * Math.cos(a), (y0 + y1) / 2 + 0.4 * (y1 - y0) * Math.sin(a), 3])
      return at(place, 0, 0)
    })
    // from each to the next by as much, one way round, but for the seam
    const steps = round.map((t, i) => ((((round[(i + 1) % 72] - t + 1.5) % 1) + 1) % 1) - 0.5)
    const way = Math.sign(steps.reduce((a, b) => a + b))
    expect(Math.abs(steps.reduce((a, b) => a + b))).toBeCloseTo(1, 1)
    for (const step of steps) {
      expect(way * step).toBeGreaterThan(0)
      expect(Math.abs(step)).toBeLessThan(3 / 72)
    }
    const dotted = await word('i')
    const { at: value } = alongStrokes(dotted)
    const [, , , right, top] = solidBounds(dotted.positions)
    place.set([right / 2, top - 1, 3])
    expect(value(place, 0, 0)).toBe(0.5)
  })

  it('is the same on a letter whatever stands beside it', async () => {
    const values = async (text: string) => {
      const solid = await word(text)
      const { at, letterOf } = alongStrokes(solid)
      const { corners } = lettersIn(solid)
      const number = text.indexOf('T')
      const corner = corners.get(number) ?? [0, 0, 0]
      const found = new Map<string, number>()
      letterOf.forEach((letter, v) => {
        if (letter !== number) return
        found.set([0, 1, 2].map((k) => Math.round(1e3 * (solid.positions[3 * v + k] - corner[k]))).join(), at(solid.positions, 3 * v, letter))
      })
      return found
    }
    const [alone, among] = [await values('T'), await values('QuTay')]
    expect(alone.size).toBe(among.size)
    for (const [place, value] of alone) expect(Math.abs((among.get(place) ?? -1) - value)).toBeLessThan(0.01)
    // the stem from above to below, the bar from one side to the other
    expect(Math.max(...alone.values()) - Math.min(...alone.values())).toBeGreaterThan(0.9)
  })

  it.each(SHIPPED_FACES.filter((_, i) => FULL || i % 5 === 1).map(({ id }) => id))(
    'is a number from 0 to 1 on every letter of %s, and refines what it acts on',
    async (id) => {
      const solid = await word('Qa8', id, 0.3)
      const { at, letterOf } = alongStrokes(solid)
      const seen = new Map<number, number[]>()
      letterOf.forEach((letter, v) => {
        const value = at(solid.positions, 3 * v, letter)
        expect(value).toBeGreaterThanOrEqual(0)
        expect(value).toBeLessThanOrEqual(1 + 1e-12)
        seen.set(letter, [...(seen.get(letter) ?? []), value])
      })
      for (const values of seen.values()) expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(0.5)
      const { weights, solid: fine } = masked(solid, maskSchema.parse({ list: [{ by: 'stroke', from: 0, to: 100 }] }))
      expect(weights.length).toBe(fine.positions.length / 3)
      expect(labelOf(fine, 'letter').length).toBe(fine.indices.length / 3)
      expect(weights.some((w) => w > 0.2 && w < 0.8)).toBe(true)
    },
  )

  it('goes by the letters of now where the same places stand for other ones', async () => {
    const solid = await word('II')
    const place = Float64Array.from(solid.positions.subarray(0, 3))
    const own = alongStrokes(solid)
    const value = own.at(place, 0, own.letterOf[0])
    const plain = { ...solid, labels: withLabel(solid.labels, 'letter', () => -1) }
    const { at, letterOf } = alongStrokes(plain)
    expect(new Set(letterOf)).toEqual(new Set([-1]))
    expect(Math.abs(at(place, 0, -1) - value)).toBeLessThan(0.04)
    expect(value === 0 || value === 1 || at(place, 0, -1) > 0).toBe(true)
    expect(own.at(place, 0, -1)).toBe(0)
  })

  it('is at 0 where nothing is seen from the front', () => {
    const nothing = {
      positions: new Float64Array(9),
      indices: Uint32Array.of(0, 1, 2),
      surface: Uint32Array.of(0),
      labels: { letter: Int32Array.of(-1) },
      letters: [],
      lattice: 2 ** -14,
    }
    const { at } = alongStrokes(nothing as unknown as Solid)
    expect(at(Float64Array.of(1, 2, 3), 0, -1)).toBe(0)
  })
})
