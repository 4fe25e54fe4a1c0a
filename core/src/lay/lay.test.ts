import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, bottleBody, bumps, noise, plainSolid, turnedBody } from '../../test/bodies'
import { boxSolid, FULL } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { Point } from '../check/rays'
import { joinSolid } from '../join/join'
import { loadManifold } from '../kernel/manifold'
import { UNMOVED } from '../solid/operations'
import { labelOf, type Solid, triangleCount, withParts } from '../solid/solid'
import { faired, roughness } from './fair'
import { straightLine } from './geodesic'
import { frameAt, type Ground, groundFor, type LayOptions } from './ground'
import { layOn } from './lay'
import { findRoundBody } from './round-body'
import { atWeights, cross, dot, nearestPlace, type Surface, surfaceAlong, surfaceNear, unit, vertexNormals } from './surface'

beforeAll(async () => void (await loadManifold()))

const R = 30
const cylinder = turnedBody(80, () => R, 400, 60)
/** half angle: its radius goes from 40 to 10 over 80 mm */
const cone = turnedBody(80, (y) => 40 - (30 * y) / 80, 400, 80)
const SLOPE = Math.atan(30 / 80)
const ball = ballBody(R, 80)
const block = boxSolid([-50, 0, -20], [50, 60, 20])

const options = (more: Partial<LayOptions> = {}): LayOptions => ({
  how: 'any',
  point: [0, 40, 100],
  angle: 0,
  line: 'straight',
  area: [-25, -5, 25, 8],
  depth: 1,
  smooth: 0,
  ...more,
})
const onGround = (body: Solid, more: Partial<LayOptions>): Ground => {
  const ground = groundFor(body, options(more))
  if ('why' in ground) throw new Error(ground.why)
  return ground
}
const placeAt = ({ chart, surface }: Ground, u: number, v: number): Point => {
  const place = chart.at(u, v)
  if (!place) throw new Error(`no place at ${u}, ${v}`)
  return atWeights(surface.positions, surface.indices, place.triangle, place.weights)
}
const grid = (area: readonly [number, number, number, number], n = 9) =>
  Array.from(
    { length: n * n },
    (_, i) => [area[0] + ((i % n) * (area[2] - area[0])) / (n - 1), area[1] + (Math.floor(i / n) * (area[3] - area[1])) / (n - 1)] as const,
  )
const apart = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** Bars in the plane, 1.2 mm high from −depth on, as letters are. */
function bars(depth: number, height: number, across = 4): Solid {
  const positions: number[] = []
  const indices: number[] = []
  for (let k = -across; k <= across; k++) {
    const box = boxSolid([5 * k - 1.5, -4, -depth], [5 * k + 1.5, 7, height])
    const base = positions.length / 3
    positions.push(...box.positions)
    indices.push(...Array.from(box.indices, (v) => v + base))
  }
  return withParts(plainSolid(positions, indices))
}

describe('charts of surfaces', () => {
  it.each([
    ['straight on', 'straight'],
    ['over any surface', 'any'],
  ] as const)('on a plane, %s, lengths and angles are those of the plane', (_, how) => {
    for (const angle of [0, 33, -118]) {
      const area = [-18, -5, 18, 8] as const
      const ground = onGround(block, { how, point: [3, 30, 20], angle, area })
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
      for (const [u, v] of grid(area)) expect(apart(placeAt(ground, u, v), [3 + c * u - s * v, 30 + s * u + c * v, 20])).toBeLessThan(1e-6)
    }
  })

  it.each(['round', 'any'] as const)('on a cylinder (%s) they are those of its development within a thousandth', (how) => {
    for (const angle of [0, 40, 90]) {
      const ground = onGround(cylinder, { how, angle })
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
      for (const [u, v] of grid([-25, -5, 25, 8])) {
        const [x, y] = [c * u - s * v, 40 + s * u + c * v]
        const [px, py, pz] = placeAt(ground, u, v)
        expect(Math.hypot(R * Math.atan2(px, pz) - x, py - y)).toBeLessThan(1e-3 * 25)
      }
    }
  })

  it.each(['round', 'any'] as const)('on a cone (%s) they are those of its development within a thousandth', (how) => {
    for (const angle of [0, 25]) {
      const ground = onGround(cone, { how, angle, point: [0, 30, 28.75] })
      // unrolled about the apex: turned by sin of the half angle times the way round
      const flat = ([x, y, z]: Point) => {
        const slant = Math.hypot(x, z) / Math.sin(SLOPE)
        const turn = Math.atan2(x, z) * Math.sin(SLOPE)
        void y
        return [slant * Math.sin(turn), -slant * Math.cos(turn)] as const
      }
      const [ox, oy] = flat(ground.frame.point)
      const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)]
      for (const [u, v] of grid([-25, -5, 25, 8])) {
        const [x, y] = flat(placeAt(ground, u, v))
        expect(Math.hypot(x - ox - (c * u - s * v), y - oy - (s * u + c * v))).toBeLessThan(1e-3 * 25)
      }
    }
  })

  it('on a ball the line is a great circle within 0.05 mm, and lengths along it are kept', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -80, max: 80, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (angle, turn, height) => {
          const t = (turn * Math.PI) / 180
          const point: Point = [2 * R * Math.sin(t), R * height, 2 * R * Math.cos(t)]
          for (const how of ['round', 'any'] as const) {
            const ground = onGround(ball, { how, point, angle })
            const { frame } = ground
            const start = unit(frame.point)
            const pole = unit(cross(start, frame.along))
            for (let u = -25; u <= 25; u += 5) {
              const p = placeAt(ground, u, 0)
              expect(Math.abs(dot(p, pole))).toBeLessThan(0.05)
              expect(Math.abs(Math.atan2(dot(p, cross(pole, start)), dot(p, start)) * R - u)).toBeLessThan(0.05)
            }
          }
        },
      ),
      { numRuns: FULL ? 12 : 3 },
    )
  })

  it('lie level round a cone and a ball where that is asked for', () => {
    for (const how of ['round', 'any'] as const) {
      const ground = onGround(cone, { how, line: 'level', point: [0, 30, 28.75] })
      for (let u = -25; u <= 25; u += 5) expect(Math.abs(placeAt(ground, u, 0)[1] - ground.frame.point[1])).toBeLessThan(0.02)
      const onBall = onGround(ball, { how, line: 'level', point: [0, 15, 26] })
      for (let u = -20; u <= 20; u += 5) expect(Math.abs(placeAt(onBall, u, 0)[1] - onBall.frame.point[1])).toBeLessThan(0.05)
    }
  })

  it('lie level from corners of the body as well', () => {
    const coarse = ballBody(R, 12)
    const p = coarse.positions
    let tried = 0
    for (let v = 0; v < p.length; v += 3 * (FULL ? 1 : 13)) {
      if (Math.abs(p[v + 1]) > 0.7 * R) continue
      const point: Point = [p[v], p[v + 1], p[v + 2]]
      const ground = onGround(coarse, { line: 'level', point, area: [-12, -3, 12, 3] })
      for (const u of [-10, -4, 4, 10]) expect(Math.abs(placeAt(ground, u, 0)[1] - p[v + 1])).toBeLessThan(0.5)
      tried++
    }
    expect(tried).toBeGreaterThan(10)
  })

  it('are never mirrored, and never upside down unless they are turned so', () => {
    const unitVector = fc.tuple(
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
    )
    fc.assert(
      fc.property(
        unitVector.filter(([x, y, z]) => Math.hypot(x, y, z) > 0.1),
        fc.double({ min: -89, max: 89, noNaN: true }),
        (direction, angle) => {
          const normal = unit(direction)
          const { along, up } = frameAt([0, 0, 0], normal, angle)
          expect(dot(cross(along, up), normal)).toBeCloseTo(1, 9)
          if (Math.abs(normal[1]) < 0.99) expect(up[1]).toBeGreaterThan(0)
        },
      ),
    )
    for (const [body, point] of [
      [ball, [20, 10, -40]],
      [cylinder, [-30, 33, 2]],
      [bottleBody(120, 80), [0, 84, 40]],
    ] as const)
      for (const angle of [-70, 0, 45])
        for (const how of ['straight', 'any'] as const) {
          const ground = onGround(body, { how, point, angle, area: [-8, -3, 8, 5] })
          const [o, x, y] = [placeAt(ground, 0, 0), placeAt(ground, 3, 0), placeAt(ground, 0, 3)]
          const sub = (a: Point, b: Point): Point => [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
          expect(dot(cross(sub(x, o), sub(y, o)), ground.frame.normal)).toBeGreaterThan(4)
          expect(y[1]).toBeGreaterThan(o[1])
        }
  })
})

describe('round bodies', () => {
  it('are found where they are, and nothing where there is none', () => {
    const at = (body: Solid, point: Point, radius = 8) => {
      const start = nearestPlace(body, point)
      const around = start && surfaceNear(body, start.point, 4 * radius)
      const surface = around && surfaceAlong(around, [start.point], 4 * radius, 1)
      const place = surface && nearestPlace(surface, start.point)
      return place && findRoundBody(surface, vertexNormals(surface.positions, surface.indices), place.triangle, radius)
    }
    expect(at(cylinder, [20, 33, 40])).toMatchObject({ shape: 'cylinder', radius: expect.closeTo(R, 1) })
    expect(at(bottleBody(), [20, 33, 40])).toMatchObject({ shape: 'cylinder', radius: expect.closeTo(R, 1) })
    expect(at(bottleBody(), [20, 110, 40], 4)).toMatchObject({ shape: 'cylinder', radius: expect.closeTo(11, 1) })
    expect(at(ball, [20, 33, 40])).toMatchObject({ shape: 'ball', radius: expect.closeTo(R, 1) })
    expect(at(cone, [20, 33, 40])).toMatchObject({ shape: 'cone', angle: expect.closeTo(SLOPE, 2) })
    expect(at(block, [0, 30, 40])).toBeUndefined()
    expect(at(ballBody(R, 60, bumps(4)), [0, 0, 40])).toBeUndefined()
  })
})

describe('smoothing', () => {
  it('takes noise away and leaves a smooth surface where it was', () => {
    const jitter = noise(7)
    const rough = ballBody(R, 60, () => 0.08 * jitter())
    const surfaceOf = (body: Solid, near: Point = [0, 0, R]): Surface => {
      const at = nearestPlace(body, near)?.point ?? near
      const around = surfaceNear(body, at, 12)
      return surfaceAlong(around, [at], 12, 1) ?? around
    }
    expect(roughness(surfaceOf(rough))).toBeGreaterThan(0.02)
    for (const body of [ball, cylinder, cone, block, bottleBody()]) expect(roughness(surfaceOf(body, [0, 40, R]))).toBeLessThan(0.01)
    const off = (positions: Float64Array, surface: ReturnType<typeof surfaceOf>) => {
      const radii: number[] = []
      for (let i = 0; i < positions.length; i += 3)
        if (surface.positions[i] ** 2 + surface.positions[i + 1] ** 2 < 64) radii.push(Math.hypot(positions[i], positions[i + 1], positions[i + 2]))
      const mean = radii.reduce((sum, r) => sum + r, 0) / radii.length
      return Math.sqrt(radii.reduce((sum, r) => sum + (r - mean) ** 2, 0) / radii.length)
    }
    const surface = surfaceOf(rough)
    expect(off(faired(surface, 2), surface)).toBeLessThan(0.45 * off(surface.positions, surface))
    const clean = surfaceOf(ball)
    expect(off(faired(clean, 1), clean)).toBeLessThan(0.003)
  })

  it('lets a line go where it goes on the smooth surface', () => {
    const jitter = noise(3)
    const rough = ballBody(R, 80, () => 0.03 * jitter())
    const surface = surfaceNear(rough, [0, 0, R], 40)
    const smooth = { ...surface, positions: faired(surface, 2) }
    const place = nearestPlace(smooth, [0, 0, R]) as NonNullable<ReturnType<typeof nearestPlace>>
    const { stretches } = straightLine(smooth, place.triangle, place.weights, [1, 0, 0], 25, 25)
    for (const { h } of stretches) expect(Math.abs(smooth.positions[3 * smooth.indices[h] + 1])).toBeLessThan(1.5)
    expect(stretches[stretches.length - 1].u1).toBeCloseTo(25, 6)
  })
})

/** How deep the floors of a carved body lie under its surface at the middles of their triangles, mm: the least and the most of those that are no slivers. */
function depths(solid: Solid, under: (p: Point) => number): [number, number] {
  const { positions: p, indices } = solid
  const groups = labelOf(solid, 'band')
  const floor = solid.bands.indexOf('floor')
  let [least, most] = [Infinity, -Infinity]
  for (let t = 0; t < triangleCount(solid); t++) {
    if (groups[t] !== floor) continue
    const corners = [0, 1, 2].map((k) => [0, 1, 2].map((i) => p[3 * indices[3 * t + k] + i]) as unknown as Point)
    const sides = [apart(corners[0], corners[1]), apart(corners[1], corners[2]), apart(corners[2], corners[0])]
    if (Math.min(...sides) < 0.05) continue
    const d = under([0, 1, 2].map((i) => (corners[0][i] + corners[1][i] + corners[2][i]) / 3) as unknown as Point)
    least = Math.min(least, d)
    most = Math.max(most, d)
  }
  return [least, most]
}

describe('words laid on bodies', () => {
  const cut = (solid: Solid): Solid => ({
    ...solid,
    bands: ['floor'],
    labels: {
      ...solid.labels,
      band: Int32Array.from([-1, 0]),
      ...Object.fromEntries(
        (['group', 'letter', 'layer', 'part', 'copy', 'look'] as const).map((l) => [l, Int32Array.from([solid.labels[l][0], solid.labels[l][0]])]),
      ),
    },
    surface: Uint32Array.from({ length: triangleCount(solid) }, (_, t) =>
      [0, 1, 2].every((k) => solid.positions[3 * solid.indices[3 * t + k] + 2] < 0) ? 1 : 0,
    ),
  })
  const upright = (p: Point) => Math.hypot(p[0], p[2])
  const places: [string, Solid, Partial<LayOptions>, (p: Point) => number][] = [
    ['cylinder, wrapped', cylinder, { how: 'round' }, (p) => R - upright(p)],
    ['cylinder', cylinder, { how: 'any', angle: 20 }, (p) => R - upright(p)],
    ['cone, wrapped', cone, { how: 'round', point: [0, 30, 28.75] }, (p) => (40 - (30 * p[1]) / 80 - upright(p)) * Math.cos(SLOPE)],
    ['cone', cone, { how: 'any', point: [0, 30, 28.75] }, (p) => (40 - (30 * p[1]) / 80 - upright(p)) * Math.cos(SLOPE)],
    ['ball, wrapped', ball, { how: 'round', point: [0, 10, 100] }, (p) => R - Math.hypot(...p)],
    ['ball', ball, { how: 'any', point: [0, 10, 100], angle: -30 }, (p) => R - Math.hypot(...p)],
    ['ball, straight on', ball, { how: 'straight', point: [0, 0, 100] }, (p) => R - Math.hypot(...p)],
    ['block', block, { how: 'any', point: [0, 30, 28.75] }, (p) => 20 - p[2]],
  ]
  it.each(places)('%s: as deep everywhere as is asked for, within a hundredth', (_, body, more, under) => {
    const depth = 1.5
    const across = more.how === 'straight' ? 2 : 4
    const flat = cut(bars(depth, 0.6, across))
    const laid = layOn(body, flat, { ...options(more), area: [-5 * across - 1.5, -4, 5 * across + 1.5, 7], depth, letters: 'bent' })
    if (!laid.ok) throw new Error(laid.why)
    expect(checkMesh(laid.solid).findings).toEqual([])
    const joined = joinSolid(body, [{ solid: laid.solid, matrix: UNMOVED, inside: true }], 'carve')
    if (!joined.ok) throw new Error(joined.why)
    expect(checkMesh(joined.solid).findings).toEqual([])
    const [least, most] = depths(joined.solid, under)
    expect(least).toBeGreaterThan(0.99 * depth)
    expect(most).toBeLessThan(1.01 * depth)
  })

  it('letter by letter they keep their shape and reach into the body everywhere', () => {
    const flat = bars(0.5, 2)
    const laid = layOn(cylinder, flat, { ...options(), area: [-21.5, -4, 21.5, 7], depth: 2, letters: 'whole' })
    if (!laid.ok) throw new Error(laid.why)
    const p = laid.solid.positions
    for (let box = 0; box < 9; box++) {
      const corners = Array.from({ length: 8 }, (_, i) => [p[24 * box + 3 * i], p[24 * box + 3 * i + 1], p[24 * box + 3 * i + 2]] as Point)
      const tops = corners.filter(([x, , z]) => Math.hypot(x, z) > R + 1)
      const feet = corners.filter(([x, , z]) => Math.hypot(x, z) < R)
      expect([tops.length, feet.length]).toEqual([4, 4])
      // as far from each other as in the plane
      const widths = [...new Set(tops.flatMap((a) => tops.map((b) => apart(a, b).toFixed(2))))].map(Number).sort((a, b) => a - b)
      expect(widths).toEqual([0, 3, 11, expect.closeTo(Math.hypot(3, 11), 1)])
    }
    const joined = joinSolid(cylinder, [{ solid: laid.solid, matrix: UNMOVED }], 'fuse')
    if (!joined.ok) throw new Error(joined.why)
    expect(checkMesh(joined.solid).parts).toBe(1)
  })

  it('pass over roughness, and say what stands in their way', () => {
    const flat = bars(1, 0.5)
    const jitter = noise(11)
    const rough = ballBody(R, 80, () => 0.05 * jitter())
    const more = { point: [0, 0, 100] as Point, area: [-21.5, -4, 21.5, 7] as const, depth: 1, letters: 'bent' as const }
    const laid = layOn(rough, flat, { ...options(), ...more })
    expect(laid).toMatchObject({ ok: true, smoothed: expect.any(Number) })
    if (laid.ok) {
      expect(laid.smoothed).toBeGreaterThan(0)
      expect(checkMesh(laid.solid).findings).toEqual([])
    }
    const stone = ballBody(R, 90, bumps(2))
    const onStone = layOn(stone, flat, { ...options(), ...more })
    expect(onStone).toMatchObject({ ok: true })
    // over the edge of a block
    const edge = layOn(block, flat, { ...options(), ...more, point: [44, 30, 20] })
    expect(edge.ok ? edge.creases.length : edge.why).not.toBe(0)
    // beyond the end of what there is
    const off = layOn(block, flat, { ...options(), ...more, how: 'straight', point: [44, 30, 20], letters: 'bent' })
    expect(off).toMatchObject({ ok: false, why: 'runs-off' })
    // nothing round
    expect(layOn(block, flat, { ...options(), ...more, how: 'round', point: [0, 30, 20] })).toMatchObject({ ok: false, why: 'not-round' })
    // thicker than a tight bend is round
    const bar = turnedBody(80, () => 3, 60, 100)
    expect(layOn(bar, bars(4, 0.5, 0), { ...options(), point: [0, 40, 3], area: [-1.5, -4, 1.5, 7], depth: 4, how: 'round', letters: 'bent' })).toMatchObject({
      ok: false,
      why: 'folds',
    })
  })
})
