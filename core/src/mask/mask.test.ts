import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { FACE } from '../solid/labels'
import { roundedBox } from '../solid/revolve'
import { labelAt, type Solid, solidBounds, triangleCount } from '../solid/solid'
import { curvatures } from './curvature'
import { masked } from './masked'
import { MeasuredMask } from './measure'
import { distanceTo, seenOutline } from './outline-distance'
import { type Mask, maskSchema } from './schema'

const L = 2 ** -14

beforeAll(async () => void (await loadManifold()))

async function word(text = 'Quay', face = 'jost-bold'): Promise<Solid> {
  const { value } = await evaluateRoute(wordRoute(text, face, {}, { depth: 8, front: { profile: 'chamfer', inset: 1, height: 1 } }), { assets })
  return value as Solid
}

const mask = (...list: object[]): Mask => maskSchema.parse({ list })

describe('curvature', () => {
  it('is within 3 % on a ball', () => {
    const ball = roundedBox(20, 20, 20, 10, 40, L)
    // all but the caps about the poles, where triangles meet in dozens
    curvatures(ball).forEach((k, v) => Math.abs(ball.positions[3 * v + 1] - 10) < 9 && expect(Math.abs(10 * k - 1)).toBeLessThan(0.03))
  })

  it('is within 3 % on a cylinder and on a torus, inside as outside', () => {
    const grid = (n: number, m: number, at: (u: number, v: number) => [number, number, number]) => {
      const positions = Float64Array.from({ length: n * m }, (_, i) => i).reduce<number[]>((out, i) => (out.push(...at(i % n, Math.floor(i / n))), out), [])
      const indices: number[] = []
      for (let j = 0; j < m; j++)
        for (let i = 0; i < n; i++) {
          const [a, b, c, d] = [i + n * j, ((i + 1) % n) + n * j, ((i + 1) % n) + n * ((j + 1) % m), i + n * ((j + 1) % m)]
          indices.push(a, b, c, a, c, d)
        }
      return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
    }
    const [R, r, n, m] = [12, 4, 120, 60]
    const torus = grid(n, m, (i, j) => {
      const [u, v] = [(2 * Math.PI * i) / n, (2 * Math.PI * j) / m]
      return [(R + r * Math.cos(v)) * Math.cos(u), (R + r * Math.cos(v)) * Math.sin(u), r * Math.sin(v)]
    })
    // the tube's own radius is the sharper one all round
    for (const k of curvatures(torus)) expect(Math.abs(r * k - 1)).toBeLessThan(0.03)
    // a very long torus is a cylinder
    const tube = grid(400, 60, (i, j) => {
      const [u, v] = [(2 * Math.PI * i) / 400, (2 * Math.PI * j) / 60]
      return [(800 + r * Math.cos(v)) * Math.cos(u), (800 + r * Math.cos(v)) * Math.sin(u), r * Math.sin(v)]
    })
    for (const k of curvatures(tube)) expect(Math.abs(r * k - 1)).toBeLessThan(0.03)
    // turned inside out it is as hollow
    const hollow = { positions: torus.positions, indices: torus.indices.map((_, i, all) => all[i % 3 === 1 ? i + 1 : i % 3 === 2 ? i - 1 : i]) }
    for (const k of curvatures(hollow)) expect(Math.abs(r * k + 1)).toBeLessThan(0.03)
  })
})

describe('the distance from the outline', () => {
  it.each([
    ['closed', { drains: 'none' }],
    ['with holes to drain it', { drains: 'below' }],
  ])('is that of a hollow letter from its outside alone: %s', async (_, params) => {
    const route = wordRoute('o', 'jost-bold')
    const full = (await evaluateRoute(route, { assets })).value as Solid
    const hollow = (
      await evaluateRoute([...route, { id: 'h', kind: 'hollow', on: true, params: { wall: 1.4, fit: 'given', voxel: 0.5, ...params } }], { assets })
    ).value as Solid
    expect(triangleCount(hollow)).toBeGreaterThan(triangleCount(full))
    const [sides, inside] = [distanceTo(seenOutline(full)), distanceTo(seenOutline(hollow))]
    const box = solidBounds(full.positions)
    for (let x = box[0]; x < box[3]; x += 0.9) for (let y = box[1]; y < box[4]; y += 0.9) expect(Math.abs(inside(x, y) - sides(x, y))).toBeLessThan(0.4)
  })

  it('is that to the nearest side, to a hundredth of a millimetre and far better', async () => {
    const solid = await word('Rg&', 'pacifico')
    const sides = seenOutline(solid)
    const distance = distanceTo(sides)
    const box = solidBounds(solid.positions)
    let state = 7
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647
    for (let i = 0; i < 2000; i++) {
      const [x, y] = [box[0] - 20 + random() * (box[3] - box[0] + 40), box[1] - 20 + random() * (box[4] - box[1] + 40)]
      let least = Infinity
      for (let o = 0; o < sides.length; o += 4) {
        const [dx, dy] = [sides[o + 2] - sides[o], sides[o + 3] - sides[o + 1]]
        const f = Math.max(0, Math.min(1, ((x - sides[o]) * dx + (y - sides[o + 1]) * dy) / (dx * dx + dy * dy)))
        least = Math.min(least, Math.hypot(sides[o] + f * dx - x, sides[o + 1] + f * dy - y))
      }
      expect(Math.abs(distance(x, y) - least)).toBeLessThan(1e-9)
      // with a limit it is the same up to there
      const limited = distanceTo(sides, 3)(x, y)
      if (i < 20) expect(least < 3 ? Math.abs(limited - least) < 1e-9 : limited === Infinity).toBe(true)
    }
  })

  it('is measured from the letters, not from their edges', async () => {
    const solid = await word('O')
    const sides = seenOutline(solid)
    const box = solidBounds(solid.positions)
    let [least, most] = [Infinity, -Infinity]
    for (let o = 0; o < sides.length; o += 2) {
      least = Math.min(least, sides[o])
      most = Math.max(most, sides[o])
    }
    expect([least, most]).toEqual([box[0], box[3]])
  })
})

describe('a mask', () => {
  it('is right between its vertices: the surface is divided where it must be', async () => {
    const solid = await word()
    const { solid: fine, weights } = masked(solid, mask({ by: 'distance', from: 0, to: 3 }))
    const distance = distanceTo(seenOutline(solid))
    let worst = 0
    const p = fine.positions
    for (let t = 0; t < fine.indices.length; t += 3) {
      const [a, b, c] = [fine.indices[t], fine.indices[t + 1], fine.indices[t + 2]]
      const [x, y] = [0, 1].map((k) => (p[3 * a + k] + p[3 * b + k] + p[3 * c + k]) / 3)
      worst = Math.max(worst, Math.abs((weights[a] + weights[b] + weights[c]) / 3 - Math.min(1, distance(x, y) / 3)))
    }
    expect(worst).toBeLessThan(0.12)
    expect(weights.some((w) => w === 0) && weights.some((w) => w === 1)).toBe(true)
  })

  it('takes surfaces, letters and layers whole, to their borders', async () => {
    const solid = await word('AB')
    const { solid: fine, weights } = masked(solid, mask({ by: 'group', groups: ['face'] }))
    for (let t = 0; t < triangleCount(fine); t++)
      if (labelAt(fine, t, 'group') === FACE) for (let k = 0; k < 3; k++) expect(weights[fine.indices[3 * t + k]]).toBe(1)
    const letters = masked(solid, mask({ by: 'letters', letters: 'B' }))
    for (let t = 0; t < triangleCount(letters.solid); t++)
      for (let k = 0; k < 3; k++) expect(letters.weights[letters.solid.indices[3 * t + k]]).toBe(labelAt(letters.solid, t, 'letter') === 1 ? 1 : 0)
  })

  it('is whole within a ball, a box and before a plane however hard their border, and nought beyond it', async () => {
    const solid = await word('I')
    const [x0, y0, z0, x1, y1, z1] = solidBounds(solid.positions)
    const middle = [(x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2] as const
    const far = (p: ArrayLike<number>) => Math.hypot(p[0] - middle[0], p[1] - middle[1], p[2] - middle[2])
    const inBox = (p: ArrayLike<number>) => Math.max(...[0, 1, 2].map((k) => Math.abs(p[k] - middle[k]) - 6))
    const rising = (p: ArrayLike<number>) => middle[1] - p[1]
    const centre = [...middle]
    const cases = [
      [{ by: 'ball', centre, radius: 9 }, (p: ArrayLike<number>) => far(p) - 9],
      [{ by: 'box', centre, size: [12, 12, 12] }, inBox],
      [{ by: 'plane', centre, facing: 'up' }, rising],
    ] as const
    for (const [entry, beyond] of cases)
      for (const soft of [0, 0.001, 3]) {
        const measured = new MeasuredMask(solid, mask({ ...entry, soft }))
        const seen = new Set<number>()
        const place = new Float64Array(3)
        for (let i = 0; i < 4000; i++) {
          for (let k = 0; k < 3; k++) place[k] = middle[k] + 20 * (((i * [0.618, 0.755, 0.57][k]) % 1) - 0.5)
          const weight = measured.at(place, 0, 0, 0, 0)
          const by = beyond(place)
          if (by < -soft - 1e-6) expect(weight).toBe(1)
          if (by > soft * 2 + 1e-6) expect(weight).toBe(0)
          seen.add(Math.round(weight))
        }
        expect(seen.size).toBe(2)
      }
  })

  it('combines its entries from top to bottom', () => {
    const ball = roundedBox(20, 20, 20, 10, 12, L)
    const half = { by: 'plane', facing: 'up', centre: [0, 10, 0], soft: 0 }
    const right = { by: 'plane', facing: 'right', centre: [0, 0, 0], soft: 0 }
    const at = (list: object[], x: number, y: number) => {
      const { solid, weights } = masked(ball, mask(...list))
      let best = 0
      const off = (v: number) => Math.hypot(solid.positions[3 * v] - x, solid.positions[3 * v + 1] - y, solid.positions[3 * v + 2])
      for (let v = 0; v < weights.length; v++) if (off(v) < off(best)) best = v
      return weights[best]
    }
    const [up, side] = [10 + 7.07, 7.07]
    expect(at([half], side, up)).toBe(1)
    expect(at([half], side, 3)).toBe(0)
    expect(at([half, { ...right, way: 'multiply' }], -side, up)).toBe(0)
    expect(at([half, { ...right, way: 'add' }], side, 3)).toBe(1)
    expect(at([half, { ...right, way: 'subtract' }], side, up)).toBe(0)
    expect(at([half, { ...right, way: 'higher' }], -side, up)).toBe(1)
    expect(at([half, { ...right, way: 'lower' }], -side, up)).toBe(0)
    expect(at([{ ...half, turned: true }], side, 3)).toBe(1)
    expect(at([{ ...half, strength: 40 }], side, 3)).toBeCloseTo(0.6, 6)
    expect(
      at(
        [
          {
            ...half,
            curve: [
              [0, 30],
              [1, 80],
            ],
          },
        ],
        side,
        3,
      ),
    ).toBeCloseTo(0.3, 6)
  })

  it('stays between 0 and 1 when blurred, and spreads', () => {
    const ball = roundedBox(20, 20, 20, 10, 24, L)
    const sharp = mask({ by: 'plane', facing: 'up', centre: [0, 10, 0], soft: 0 })
    const { weights } = masked(ball, { ...sharp, blur: 2 })
    expect(weights.every((w) => w >= 0 && w <= 1)).toBe(true)
    expect(weights.filter((w) => w > 0.05 && w < 0.95).length).toBeGreaterThan(20)
  })

  it('is the same noise for the same seed, and another for another', () => {
    const ball = roundedBox(20, 20, 20, 10, 8, L)
    const of = (seed: number) => [...masked(ball, mask({ by: 'noise', seed, scale: 4 })).weights]
    expect(of(3)).toEqual(of(3))
    expect(of(3)).not.toEqual(of(4))
  })

  it.each([
    { list: [{ by: 'distance', to: Number.NaN }] },
    { list: [{ by: 'noise', scale: 0 }] },
    { list: [{ by: 'ball', centre: [0, 0, Infinity] }] },
    {
      list: [
        {
          by: 'height',
          curve: [
            [0, 0],
            [0, 50],
          ],
        },
      ],
    },
    { list: Array.from({ length: 13 }, () => ({})) },
    { blur: -1 },
  ])('refuses %o', (bad) => {
    expect(maskSchema.safeParse(bad).success).toBe(false)
  })
})
