import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ballBody, noise } from '../../test/bodies'
import { boxMesh, together } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { Triangles } from '../solid/from-triangles'
import { repairTriangles } from './repair'

const LATTICE = 2 ** -14

type Body = Triangles & { readonly indices: Uint32Array }

/** What happens to models on their way: each kind of damage, at places drawn by lot. */
interface Harm {
  /** every triangle has corners of its own, off by so much, mm */
  readonly apart?: number
  readonly turned?: number
  readonly repeated?: number
  readonly lost?: number
  readonly flat?: number
}

function harmed({ positions: p, indices }: Body, { apart, turned = 0, repeated = 0, lost = 0, flat = 0 }: Harm, seed: number): Triangles {
  const draw = noise(seed)
  const any = (n: number) => Math.min(n - 1, Math.floor(((draw() + 1) / 2) * n))
  let triangles = Array.from({ length: indices.length / 3 }, (_, t) => [...indices.subarray(3 * t, 3 * t + 3)])
  // holes lie apart, so that each is one
  const gone = new Set<number>()
  const near = new Set<number>()
  for (let i = 0; i < 200 && gone.size < lost; i++) {
    const t = any(triangles.length)
    if (triangles[t].some((v) => near.has(v))) continue
    gone.add(t)
    for (const v of triangles[t]) near.add(v)
  }
  triangles = triangles.filter((_, t) => !gone.has(t))
  for (let i = 0; i < turned; i++) triangles[any(triangles.length)].reverse()
  const more = Array.from({ length: repeated }, () => [...triangles[any(triangles.length)]])
  const thin = Array.from({ length: flat }, () => {
    const [a, b] = triangles[any(triangles.length)]
    return [a, b, b]
  })
  triangles = [...triangles, ...more, ...thin]
  if (apart === undefined) return { positions: Float64Array.from(p), indices: Uint32Array.from(triangles.flat()) }
  const positions = triangles.flat().flatMap((v) => [0, 1, 2].map((k) => p[3 * v + k] + apart * draw()))
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(positions.keys()).slice(0, positions.length / 3) }
}

const bodies: [string, Body][] = [
  ['a ball', ballBody(10, 6)],
  ['a box', boxMesh(0, 0, 0, 8, 5, 3)],
  ['two balls apart', together(ballBody(6, 4), { ...ballBody(6, 4), positions: ballBody(6, 4).positions.map((v) => v + 30) })],
  ['a box with a hollow', together(boxMesh(0, 0, 0, 9, 9, 9), { ...boxMesh(3, 3, 3, 6, 6, 6), indices: boxMesh(3, 3, 3, 6, 6, 6).indices.toReversed() })],
]

describe('repairing', () => {
  it.each(bodies)('leaves %s that is sound as it is, and finds nothing', (_, body) => {
    const made = repairTriangles(body, LATTICE)
    expect(made.found).toEqual([])
    expect([made.degenerate, made.duplicate, made.gaps, made.seams, made.turned, made.holes]).toEqual([0, 0, 0, 0, 0, 0])
    expect(checkMesh(made).volume).toBeCloseTo(checkMesh(body).volume, 6)
    expect(made.indices).toHaveLength(body.indices.length)
  })

  it.each(bodies)('makes %s whole again, whatever of it was torn apart, turned, repeated, flattened or lost', (_, body) => {
    const whole = checkMesh(body)
    const few = Math.max(1, Math.floor(body.indices.length / 60))
    fc.assert(
      fc.property(fc.nat(1e6), fc.nat(few), fc.nat(few), fc.nat(2), fc.nat(3), fc.boolean(), (seed, turned, repeated, lost, flat, apart) => {
        const given = harmed(body, { turned, repeated, lost, flat, ...(apart ? { apart: 0 } : {}) }, seed)
        const made = repairTriangles(given, LATTICE)
        const check = checkMesh(made)
        expect(check.findings).toEqual([])
        // what is lost is closed flat: a ball loses the caps over its triangles at most
        expect(check.volume / whole.volume).toBeGreaterThan(0.93)
        expect(check.volume / whole.volume).toBeLessThan(1.0001)
        expect(made.degenerate).toBe(flat)
        // for every triangle there is one that it came of
        expect(made.source).toHaveLength(made.indices.length / 3)
        for (const t of made.source) expect(t).toBeLessThan(given.indices.length / 3)
      }),
      { numRuns: 25 },
    )
  })

  it('draws corners together that rounding has torn apart, and says how many', () => {
    const ball = ballBody(10, 5)
    const given = harmed(ball, { apart: 5e-5 }, 11)
    const made = repairTriangles(given, LATTICE)
    expect(checkMesh(made).findings).toEqual([])
    expect(made.gaps).toBeGreaterThan(0)
    expect(made.found.some(({ damage }) => damage === 'gap')).toBe(true)
    expect(checkMesh(made).volume / checkMesh(ball).volume).toBeCloseTo(1, 3)
  })

  it('tells each kind of damage with the places of the first of it, within the model', () => {
    const ball = ballBody(10, 6)
    const expected: [Harm, string][] = [
      [{ turned: 5 }, 'turned'],
      [{ repeated: 4 }, 'duplicate'],
      [{ lost: 3 }, 'hole'],
    ]
    for (const [harm, damage] of expected) {
      const { found } = repairTriangles(harmed(ball, harm, 5), LATTICE)
      expect(found.map((f) => f.damage)).toEqual([damage])
      expect(found[0].count).toBeGreaterThan(0)
      expect(found[0].places.length).toBeGreaterThan(0)
      for (const place of found[0].places) expect(Math.abs(Math.hypot(...place) - 10)).toBeLessThan(1.5)
    }
  })

  it('turns what is inside out, all of it', () => {
    const ball = ballBody(10, 6)
    const made = repairTriangles({ positions: ball.positions, indices: ball.indices.toReversed() }, LATTICE)
    expect(made.turned).toBe(ball.indices.length / 3)
    expect(checkMesh(made).volume).toBeCloseTo(checkMesh(ball).volume, 6)
  })

  it('takes nothing calmly, and triangles without area for nothing', () => {
    expect(repairTriangles({ positions: new Float64Array(0), indices: new Uint32Array(0) }, LATTICE).indices).toHaveLength(0)
    const none = repairTriangles({ positions: Float64Array.from([1, 2, 3, 4, 5, 6]), indices: Uint32Array.from([0, 1, 1, 0, 0, 0]) }, LATTICE)
    expect(none.indices).toHaveLength(0)
    expect(none.degenerate).toBe(2)
  })
})
