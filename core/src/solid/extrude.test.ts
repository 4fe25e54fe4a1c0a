import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { distanceToRings, polygons } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import { PathBuilder } from '../outline/path'
import { pathPolygons, polygonArea, type PolygonSet } from '../outline/polygon'
import { certify, edgeSurface, nestedSurface } from './edge-surface'
import { extrudePolygons } from './extrude'
import { cutProfile, profileFromPoints, shippedProfile, type Profile } from './profile'
import { PROFILE_NAMES } from './profile-names'
import { straightSkeleton } from './skeleton'
import { BACK, EDGE, FACE, RETURN } from './labels'
import { normalsOf } from './shading'
import { labelAt, type Solid, solidBounds, triangleCount } from './solid'

const LATTICE = 2 ** -14

beforeAll(async () => {
  await loadManifold()
})

const rectangle = (w: number, h: number, x = 0, y = 0): [number, number][] => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
]

/** A star-shaped polygon from radii: simple by construction. */
const star = fc
  .array(fc.double({ min: 2, max: 30, noNaN: true }), { minLength: 3, maxLength: 40 })
  .map((radii) => radii.map((r, i) => [r * Math.cos((2 * Math.PI * i) / radii.length), r * Math.sin((2 * Math.PI * i) / radii.length)] as [number, number]))

function expectSound(solid: Solid): void {
  const report = checkMesh(solid)
  expect(report.findings).toEqual([])
  // every coordinate survives a 32-bit file
  expect(solid.positions.every((v) => Math.fround(v) === v)).toBe(true)
}

/** Lengths from next to nothing to more than there is room for, mm. */
const size = fc.integer({ min: 1, max: 300 }).map((n) => n / 100)

const profile = (name: (typeof PROFILE_NAMES)[number], inset: number, height = inset) => shippedProfile(name, inset, height)

describe('extrudePolygons', () => {
  it('gives the frustum of a chamfered square its exact volume', () => {
    const set = polygons(rectangle(20, 20))
    const { solid } = extrudePolygons(set, { depth: 10, front: profile('chamfer', 2), tolerance: 0.02 })
    expectSound(solid)
    const frustum = (2 / 3) * (400 + 256 + Math.sqrt(400 * 256))
    expect(checkMesh(solid).volume).toBeCloseTo(400 * 8 + frustum, 6)
    expect(checkMesh(solid).size).toEqual([20, 20, 10])
  })

  it('closes in a ridge of exact height when the inset is wider than the stroke', () => {
    const set = polygons(rectangle(40, 10))
    const { solid, faceless } = extrudePolygons(set, { depth: 12, front: profile('chamfer', 8), tolerance: 0.02 })
    expectSound(solid)
    expect(faceless).toBe(true)
    // half the width is 5 mm: the ridge stands 5 mm over a rim at 4 mm
    const top = Math.max(...Array.from(solid.positions).filter((_, i) => i % 3 === 2))
    expect(top).toBe(9)
  })

  it('is sound for any star, any profile, any width, front and back', () => {
    fc.assert(
      fc.property(
        star,
        fc.constantFrom(...PROFILE_NAMES),
        fc.constantFrom(...PROFILE_NAMES),
        fc.double({ min: 0.05, max: 12, noNaN: true }),
        (points, front, back, inset) => {
          const set = polygons(points)
          if (set.rings.length === 0) return
          const { solid } = extrudePolygons(set, { depth: 2 * inset + 3, front: profile(front, inset), back: profile(back, inset / 2, inset), tolerance: 0.02 })
          expectSound(solid)
        },
      ),
      { numRuns: 150 },
    )
  })

  it('is sound for symmetric figures, where many events fall on one instant', () => {
    const comb: [number, number][] = [
      [0, 0],
      [44, 0],
    ]
    for (let i = 10; i >= 0; i--) comb.push([4 * i + 4 - 2, 0 + 12], [4 * i + 4 - 2, 4], [4 * i, 4], [4 * i, 12])
    const ngon = (n: number, r: number, turn = 0, cx = 0) =>
      Array.from({ length: n }, (_, i) => [cx + r * Math.cos(turn + (2 * Math.PI * i) / n), r * Math.sin(turn + (2 * Math.PI * i) / n)] as [number, number])
    const burst = (n: number, a: number, b: number) =>
      Array.from(
        { length: 2 * n },
        (_, i) => [(i % 2 ? a : b) * Math.cos((Math.PI * i) / n), (i % 2 ? a : b) * Math.sin((Math.PI * i) / n)] as [number, number],
      )
    const reversed = (p: [number, number][]) => p.slice().reverse()
    const hash = [rectangle(2, 20, 4, 0), rectangle(2, 20, 12, 0), rectangle(18, 2, 0, 5), rectangle(18, 2, 0, 13)]
    const figures: Record<string, PolygonSet> = {
      comb: polygons(comb.filter((p, i) => i === 0 || p[0] !== comb[i - 1][0] || p[1] !== comb[i - 1][1])),
      square: polygons(rectangle(10, 10)),
      cross: polygons([
        [4, 0],
        [6, 0],
        [6, 4],
        [10, 4],
        [10, 6],
        [6, 6],
        [6, 10],
        [4, 10],
        [4, 6],
        [0, 6],
        [0, 4],
        [4, 4],
      ]),
      hash: polygons(...hash),
      ring: polygons(ngon(48, 20), reversed(ngon(48, 12))),
      'square ring': polygons(rectangle(20, 20), reversed(rectangle(10, 10, 5, 5))),
      ...Object.fromEntries([3, 4, 6, 8, 12, 64].map((n) => [`${n}-gon`, polygons(ngon(n, 15))])),
      ...Object.fromEntries([4, 5, 8, 16].map((n) => [`${n}-star`, polygons(burst(n, 6, 15))])),
      grid: polygons(rectangle(31, 31), ...[0, 1, 2].flatMap((i) => [0, 1, 2].map((j) => reversed(rectangle(9, 9, 1 + 10 * i, 1 + 10 * j))))),
      needle: polygons([
        [0, 0],
        [60, 0.4],
        [0, 0.8],
      ]),
    }
    for (const [name, set] of Object.entries(figures)) {
      for (const kind of ['chamfer', 'stepped', 'ogee'] as const) {
        for (const inset of [0.3, 1, 2.5, 5, 20]) {
          const { solid } = extrudePolygons(set, { depth: 2 * inset + 4, front: profile(kind, inset), back: profile('round', inset), tolerance: 0.05 })
          const report = checkMesh(solid)
          expect(report.findings, `${name}, ${kind} ${inset}`).toEqual([])
        }
      }
    }
  })

  it('keeps every surface group where it belongs', () => {
    const set = polygons(rectangle(20, 12))
    const { solid } = extrudePolygons(set, { depth: 8, front: profile('cove', 1.5), back: profile('chamfer', 1), tolerance: 0.02 })
    const area = [0, 0, 0, 0, 0]
    for (let t = 0; t < triangleCount(solid); t++) {
      const [a, b, c] = [0, 1, 2].map((i) => solid.positions.subarray(3 * solid.indices[3 * t + i], 3 * solid.indices[3 * t + i] + 3))
      const u = [0, 1, 2].map((k) => b[k] - a[k])
      const v = [0, 1, 2].map((k) => c[k] - a[k])
      area[labelAt(solid, t, 'group')] += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
    }
    expect(area[FACE]).toBeCloseTo(17 * 9, 6)
    expect(area[BACK]).toBeCloseTo(18 * 10, 6)
    expect(area[RETURN]).toBeCloseTo((8 - 1.5 - 1) * 64, 6)
    expect(area[EDGE]).toBeGreaterThan(0)
  })

  it('takes shading normals from the circle and the profile, not from the facets', () => {
    const path = new PathBuilder(10, 0)
    const k = 5.522847498
    path.cubicTo(10, k, k, 10, 0, 10)
    path.cubicTo(-k, 10, -10, k, -10, 0)
    path.cubicTo(-10, -k, -k, -10, 0, -10)
    path.cubicTo(k, -10, 10, -k, 10, 0)
    const set = pathPolygons([path.build(true)], 0.05, LATTICE)
    const { solid } = extrudePolygons(set, { depth: 6, front: profile('chamfer', 2), tolerance: 0.02 })
    for (let corner = 0; corner < solid.indices.length; corner++) {
      const group = labelAt(solid, Math.floor(corner / 3), 'group')
      if (group !== EDGE && group !== RETURN) continue
      const v = solid.indices[corner]
      const r = Math.hypot(solid.positions[3 * v], solid.positions[3 * v + 1])
      const [nx, ny, nz] = normalsOf(solid).subarray(3 * corner, 3 * corner + 3)
      const radial = (nx * solid.positions[3 * v] + ny * solid.positions[3 * v + 1]) / r
      const wanted = group === EDGE ? [Math.SQRT1_2, Math.SQRT1_2] : [1, 0]
      expect(radial).toBeCloseTo(wanted[0], 2)
      expect(nz).toBeCloseTo(wanted[1], 4)
    }
  })

  it('lowers edges that are taller than the depth and says by how much', () => {
    const set = polygons(rectangle(30, 30))
    const { solid, heightScale } = extrudePolygons(set, { depth: 4, front: profile('chamfer', 2, 6), back: profile('chamfer', 2, 2), tolerance: 0.02 })
    expect(heightScale).toBeCloseTo(0.5, 6)
    expectSound(solid)
  })

  it('any two edges fit any depth: the solid is sound and within the depth, whatever had to be lowered', () => {
    const named = fc
      .record({ name: fc.constantFrom(...PROFILE_NAMES), inset: size, height: size })
      .map(({ name, inset, height }) => profile(name, inset, height))
    const dipping = fc
      .array(fc.tuple(fc.integer({ min: 0, max: 100 }), fc.integer({ min: -100, max: 300 })), { minLength: 2, maxLength: 5 })
      .map((points) => points.sort(([a], [b]) => a - b).map(([inset, height]) => [inset / 40, height / 80] as const))
      .map((points) => profileFromPoints([[0, 0], ...points]))
      .map((made) => ('message' in made ? undefined : made))
    const edge = fc.oneof(named, dipping)
    let lowered = 0
    fc.assert(
      fc.property(star, edge, fc.option(edge, { nil: undefined }), fc.constantFrom(0.5, 1, 2, 3.7), (points, front, other, depth) => {
        const set = polygons(points)
        if (set.rings.length === 0) return
        const { solid, heightScale } = extrudePolygons(set, { depth, front, back: other ?? front, tolerance: 0.02 })
        if (heightScale < 1) lowered++
        expectSound(solid)
        const [, , low, , , high] = solidBounds(solid.positions)
        expect(low).toBeGreaterThanOrEqual(0)
        expect(high).toBeLessThanOrEqual(depth + LATTICE)
      }),
      { numRuns: 150 },
    )
    expect(lowered).toBeGreaterThan(30)
  })

  it('is the same solid every time', () => {
    const set = polygons(rectangle(20, 7), rectangle(7, 20))
    const make = () => extrudePolygons(set, { depth: 9, front: profile('ogee', 3), tolerance: 0.02 }).solid
    expect(make()).toEqual(make())
  })
})

describe('edgeSurface', () => {
  it('puts every vertex at an inset equal to its distance from the outline, for convex shapes', () => {
    let [tried, skipped] = [0, 0]
    const convex = fc
      // whole numbers, since doubles are drawn evenly from their bits and nearly all lie beside zero
      .array(fc.integer({ min: 0, max: 9999 }), { minLength: 5, maxLength: 30 })
      .map((angles) =>
        angles
          .sort((a, b) => a - b)
          .map((n) => (n * Math.PI) / 5000)
          .map((t) => [25 * Math.cos(t), 18 * Math.sin(t)] as [number, number]),
      )
    fc.assert(
      fc.property(convex, (points) => {
        const set = polygons(points)
        if (set.rings.length !== 1 || polygonArea(set) < 1) return
        const { surface, attempts } = edgeSurface(set, [1, 3, 100])
        // what was jittered or cut off lies elsewhere on purpose; how often that is so is counted
        tried++
        if (surface.approximate || attempts > 1) {
          skipped++
          return
        }
        for (let v = 0; v < surface.x.length; v++)
          expect(Math.abs(surface.inset[v] - distanceToRings(set.rings, surface.x[v], surface.y[v]))).toBeLessThan(5e-4)
      }),
      { numRuns: 100 },
    )
    expect(tried).toBeGreaterThan(80)
    expect(skipped / tried).toBeLessThan(0.05)
  })

  it('covers the polygon exactly once', () => {
    fc.assert(
      fc.property(star, fc.double({ min: 0.2, max: 10, noNaN: true }), (points, inset) => {
        const set = polygons(points)
        const { surface } = edgeSurface(set, [inset / 3, inset])
        let sum = 0
        for (let i = 0; i < surface.triangles.length; i += 3) {
          const [a, b, c] = surface.triangles.slice(i, i + 3)
          sum += ((surface.x[b] - surface.x[a]) * (surface.y[c] - surface.y[a]) - (surface.y[b] - surface.y[a]) * (surface.x[c] - surface.x[a])) / 2
        }
        expect(sum).toBeCloseTo(polygonArea(set), 6)
        expect(certify(surface, set)).toBe(true)
      }),
      { numRuns: 100 },
    )
  })

  it('has a fallback that is certified too, and stops at a plateau', () => {
    const set = polygons(rectangle(40, 10))
    const surface = nestedSurface(set, [2, 4, 8])
    expect(surface.approximate).toBe(true)
    expect(surface.capLevel).toBe(1)
    expect(certify(surface, set)).toBe(true)
  })

  it('refuses a surface with a triangle turned over, or one too few', () => {
    const set = polygons(rectangle(10, 10))
    const { surface } = edgeSurface(set, [2])
    expect(certify(surface, set)).toBe(true)
    expect(certify({ ...surface, triangles: surface.triangles.slice(3) }, set)).toBe(false)
    const turned = surface.triangles.slice()
    ;[turned[0], turned[1]] = [turned[1], turned[0]]
    expect(certify({ ...surface, triangles: turned }, set)).toBe(false)
  })
})

describe('straightSkeleton', () => {
  it('of a rectangle is the hipped roof', () => {
    const skeleton = straightSkeleton(polygons(rectangle(20, 8)), { limit: Infinity })
    expect(skeleton.unresolved).toEqual([])
    const inner = skeleton.t.map((t, i) => [skeleton.x[i], skeleton.y[i], t]).filter(([, , t]) => t > 0)
    expect(inner.sort((a, b) => a[0] - b[0])).toEqual([
      [4, 4, 4],
      [16, 4, 4],
    ])
  })
})

describe('profiles', () => {
  it('never run backwards and end at their stated size', () => {
    for (const name of PROFILE_NAMES) {
      const shaped = profile(name, 2, 3)
      if (!shaped) continue
      const cut = cutProfile(shaped, 0.02, LATTICE)
      expect(cut.levels.at(-1)).toBeCloseTo(2, 3)
      // the face itself may lie lower than a rim or a bead about it
      expect(cut.maxHeight).toBeCloseTo(3, 1)
      expect(cut.faceHeight).toBeGreaterThan(0)
      // a profile begins at the wall's rim
      expect([shaped.coords[0], shaped.coords[1]]).toEqual([0, 0])
      for (let i = 1; i < cut.levels.length; i++) expect(cut.levels[i]).toBeGreaterThan(cut.levels[i - 1])
    }
  })

  it('refuse bad points with the point and the remedy', () => {
    const bad: [unknown, RegExp][] = [
      [[[0, 0]], /two points/],
      [
        [
          [0, 0],
          [2, 1],
          [1, 2],
        ],
        /backwards at point 3/,
      ],
      [
        [
          [0, 0],
          [Number.NaN, 1],
        ],
        /Point 2/,
      ],
      [
        [
          [-1, 0],
          [1, 1],
        ],
        /backwards at point 1/,
      ],
      [Array.from({ length: 10_000 }, (_, i) => [i, i]), /10000 points/],
    ]
    for (const [points, message] of bad) {
      const result = profileFromPoints(points as [number, number][])
      expect(result).toMatchObject({ message: expect.stringMatching(message), remedy: expect.any(String) })
    }
  })

  it('from points make sound solids, vertical steps and grooves included', () => {
    const profiles = [
      [
        [0, 0],
        [0, 1],
        [1, 1],
        [1, 2],
        [3, 2],
      ],
      [
        [0.5, 0],
        [1, 2],
        [2, 1],
        [2, 3],
      ],
      [
        [0, 2],
        [2, 0],
        [4, 2],
      ],
      [
        [0, 0],
        [50, 10],
      ],
    ] as [number, number][][]
    for (const points of profiles) {
      const shaped = profileFromPoints(points) as Profile
      const { solid } = extrudePolygons(polygons(rectangle(24, 16), rectangle(8, 30)), { depth: 14, front: shaped, back: shaped, tolerance: 0.02 })
      expectSound(solid)
    }
  })
})
