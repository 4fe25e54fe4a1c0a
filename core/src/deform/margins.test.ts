import fc from 'fast-check'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { ballBody, bumps, plainSolid } from '../../test/bodies'
import { deformation, mapVertices, number, share } from '../../test/deformations'
import { Memo } from '../cache/memo'
import { checkMesh } from '../check/check'
import { trianglesCross } from '../check/triangles'
import { loadManifold } from '../kernel/manifold'
import { joinSolids } from '../solid/operations'
import { connectedParts, type Solid, triangleCount, vertexCount } from '../solid/solid'
import { boundsOfAll, cellsOf } from './bounds'
import { Composed, type Stage } from './composed'
import type { Deformation } from './deformation'
import { deformSolid } from './deform'
import { haveVertex, marginsOf, needsApart, radiiOf, starsOf, type Straying } from './margins'
import { Parting } from './parting'
import { type Moved, staysApart, strayingOf } from './stays-apart'

const L = 2 ** -14
/** As often here as there. */
const even = (min: number, max: number) => fc.integer({ min: 0, max: 1000 }).map((i) => min + ((max - min) * i) / 1000)

beforeAll(async () => void (await loadManifold()))

/** A box of squares of about that size, mm, each of two triangles. */
function squaredBox(least: readonly number[], most: readonly number[], side: number): Solid {
  const parts = least.map((from, k) => Math.max(1, Math.round((most[k] - from) / side)))
  const numbers = new Map<string, number>()
  const positions: number[] = []
  const indices: number[] = []
  const vertex = (at: number[]) => {
    const key = at.join()
    if (!numbers.has(key)) {
      numbers.set(key, numbers.size)
      positions.push(...at.map((i, k) => Math.round((least[k] + (i / parts[k]) * (most[k] - least[k])) / L) * L))
    }
    return numbers.get(key) as number
  }
  for (let axis = 0; axis < 3; axis++)
    for (const end of [0, parts[axis]]) {
      const [u, v] = [(axis + 1) % 3, (axis + 2) % 3]
      for (let i = 0; i < parts[u]; i++)
        for (let j = 0; j < parts[v]; j++) {
          const at = (a: number, b: number) => {
            const p = [0, 0, 0]
            p[axis] = end
            p[u] = i + a
            p[v] = j + b
            return vertex(p)
          }
          const [a, b, c, d] = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)]
          if (end > 0) indices.push(a, b, c, a, c, d)
          else indices.push(a, c, b, a, d, c)
        }
    }
  return plainSolid(positions, indices)
}

/** A prism 4 mm high, its ends triangles from a middle to each two points of a ring. */
function prismOver(ring: readonly (readonly number[])[], [x, y]: readonly number[]): Solid {
  const n = ring.length
  const indices = ring.flatMap((_, i) => {
    const [a, b, c, d] = [2 * i, 2 * ((i + 1) % n), 2 * ((i + 1) % n) + 1, 2 * i + 1]
    return [a, b, c, a, c, d, 2 * n + 1, d, c, 2 * n, b, a]
  })
  const positions = ring.flatMap(([u, v]) => [u, v, 0, u, v, 4])
  return plainSolid(
    [...positions, x, y, 0, x, y, 4].map((at) => Math.round(at / L) * L),
    indices,
  )
}

/** Two bars beside each other, and a block before their ends: all that far apart. */
const nearEachOther = (gap: number, side: number): Solid =>
  joinSolids([
    squaredBox([-40, -10, 0], [30, 0, 6], side),
    squaredBox([-40, gap, 0], [30, 10, 6], 0.8 * side),
    squaredBox([30 + gap, -10, 0], [60, 12, 6], side),
  ])

/** Where a map takes a solid, as a step would have it. */
function moved(solid: Solid, map: (p: Float64Array) => void, bend: number, lattice: number): Moved {
  const step = 1e-4
  const ends = solid.positions.slice()
  map(ends)
  const jacobian = new Float64Array(3 * ends.length)
  for (let k = 0; k < 3; k++) {
    const near = solid.positions.slice()
    // inwards: what begins or ends with the box is asked within it
    for (let o = k; o < near.length; o += 3) near[o] += near[o] > 0 ? -step : step
    const off = near.map((at, i) => at - solid.positions[i])
    map(near)
    for (let v = 0; 3 * v < near.length; v++) for (let r = 0; r < 3; r++) jacobian[9 * v + 3 * r + k] = (near[3 * v + r] - ends[3 * v + r]) / off[3 * v + k]
  }
  const positions = ends.map((at) => Math.round(at / lattice) * lattice + 0)
  return { indices: solid.indices, rest: solid.positions, ends, positions, rounding: lattice, jacobian, unsure: bend * step + 1e-6, bend }
}

const point = (p: Float64Array, ids: Uint32Array, t: number, [a, b]: readonly number[]) => {
  const [u, v] = a + b > 1 ? [1 - a, 1 - b] : [a, b]
  return [0, 1, 2].map((k) => (1 - u - v) * p[3 * ids[3 * t] + k] + u * p[3 * ids[3 * t + 1] + k] + v * p[3 * ids[3 * t + 2] + k])
}

describe('margins at rest', () => {
  it('of stars: no map that bends or rounds so much makes two triangles about a vertex cross, and hardly one that does so ten times as much', () => {
    const came = { stars: 0, crossing: 0 }
    const way = fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1))
    const unit = (of: readonly number[]) => of.map((one) => one / (Math.hypot(...of) || 1))
    // about the first vertex spokes that are long and short, and many at hardly any angle
    const spoke = fc.tuple(fc.oneof(even(0.01, 0.1), even(0.3, 1.5)), even(-2, 1), even(-0.3, 0.3))
    fc.assert(
      fc.property(
        fc.array(spoke, { minLength: 4, maxLength: 8 }),
        fc.boolean(),
        fc.array(fc.tuple(way, way, fc.array(way, { minLength: 9, maxLength: 9 })), { minLength: 40, maxLength: 40 }),
        (spokes, rounds, maps) => {
          const all = spokes.reduce((sum, [turn]) => sum + turn, 0)
          let turn = 0
          const rest = [[0, 0, 0]]
          for (const [by, power, height] of spokes) {
            const far = 10 ** power
            rest.push([far * Math.cos(turn), far * Math.sin(turn), far * height])
            turn += (2 * Math.PI * by) / all
          }
          const p = Float64Array.from(rest.flat())
          const ids = Uint32Array.from(spokes.flatMap((_, i) => [0, i + 1, i + 1 < spokes.length ? i + 2 : 1]))
          const pairs = spokes.flatMap((_, s) => spokes.slice(0, s).map((__, t) => [s, t]))
          if (pairs.some(([s, t]) => trianglesCross(p, ids, s, t))) return
          const strays = (power: number): Straying =>
            rounds ? { bend: 2 ** power / 1000, rounding: 2 ** power } : { bend: 2 ** power, rounding: 2 ** power / 1e6 }
          const holds = (power: number) => !starsOf(p, ids, strays(power)).slim.includes(0)
          let power = 4
          while (power > -24 && !holds(power)) power -= 0.25
          if (power <= -24) return
          came.stars++
          // along one way by half of that times the square, and each corner somewhere on the lattice
          const crosses = ({ bend, rounding }: Straying) =>
            maps.some(([across, towards, ways]) => {
              const [u, w] = [unit(across), unit(towards)]
              const to = Float64Array.from(
                rest.flatMap((at, i) => {
                  const off = u.reduce((sum, one, k) => sum + one * at[k], 0)
                  const aside = unit(ways[i])
                  return at.map((c, k) => c + (bend / 2) * off ** 2 * w[k] + rounding * aside[k])
                }),
              )
              return pairs.some(([s, t]) => trianglesCross(to, ids, s, t))
            })
          expect(crosses(strays(power))).toBe(false)
          if (crosses(strays(power + Math.log2(10)))) came.crossing++
        },
      ),
      { numRuns: 250 },
    )
    expect(came.stars).toBeGreaterThan(60)
    expect(came.crossing).toBeGreaterThan(0.4 * came.stars)
    // once round, and twice
    for (const rounds of [1, 2]) {
      const ring = Array.from({ length: 6 }, (_, i) => [Math.cos((i * rounds * Math.PI) / 3), Math.sin((i * rounds * Math.PI) / 3), 0])
      const { slim } = starsOf(Float64Array.from([0, 0, 0, ...ring.flat()]), Uint32Array.from(ring.flatMap((_, i) => [0, i + 1, ((i + 1) % 6) + 1])), {
        bend: 0.01,
        rounding: L,
      })
      expect(slim.includes(0)).toBe(rounds === 2)
    }
  })

  it('of triangles apart: a map that bends no more than that does not make them cross', () => {
    const came = { hold: 0, cross: 0 }
    const corner = fc.tuple(even(-3, 3), even(0, 0.3), even(-3, 3))
    const triangle = fc.tuple(corner, corner, corner)
    fc.assert(
      fc.property(triangle, triangle, even(0.02, 0.6), even(-8, -1), even(0, Math.PI), even(-0.4, 0.4), (one, other, gap, power, turn, tilt) => {
        // below y = 0, and above the gap, which one corner of each is at
        const [low, high] = [Math.max(...one.map(([, y]) => y)), Math.min(...other.map(([, y]) => y))]
        const rest = [...one.map(([x, y, z]) => [x, y - low, z]), ...other.map(([x, y, z]) => [x, y - high + gap, z])]
        const [bend, ids] = [2 ** power, Uint32Array.of(0, 1, 2, 3, 4, 5)]
        const far = (a: number, b: number) => Math.hypot(...[0, 1, 2].map((k) => rest[a][k] - rest[b][k]))
        // along one way it is moved by half of that times the square, about its first corner
        const [u, w] = [
          [Math.cos(turn), 0, Math.sin(turn)],
          [Math.sin(tilt), Math.cos(tilt), 0],
        ]
        const p = Float64Array.from(
          rest.flatMap((at) => at.map((c, k) => c + (bend / 2) * [0, 1, 2].reduce((sum, m) => sum + u[m] * (at[m] - rest[0][m]), 0) ** 2 * w[k])),
        )
        const crosses = trianglesCross(p, ids, 0, 1)
        if (crosses) came.cross++
        const least = 1 - bend * Math.max(...rest.map((_, i) => far(0, i)))
        const radii = radiiOf(Float64Array.from(rest.flat()), ids)
        if (!(least * gap > needsApart(radii[0], radii[1], { bend, rounding: 0 }))) return
        came.hold++
        expect(crosses).toBe(false)
      }),
      { numRuns: 3000 },
    )
    expect(came.hold).toBeGreaterThan(200)
    expect(came.cross).toBeGreaterThan(100)
  })

  it('of triangles that have no vertex in common: those that are not listed are as far apart as they must be, and listed ones are parted as it says', () => {
    fc.assert(
      fc.property(
        number(0.02, 0.6),
        number(3, 8),
        even(-7, -3),
        fc.array(fc.tuple(share, share), { minLength: 6, maxLength: 6 }),
        (gap, edge, power, places) => {
          const solid = nearEachOther(gap, edge)
          const { positions: p, indices: ids } = solid
          const within = { bend: 2 ** power, rounding: 0.01 }
          const margins = marginsOf(solid, within)
          if (!margins) throw new Error('no margins')
          const pair = (s: number, t: number) => Math.min(s, t) * triangleCount(solid) + Math.max(s, t)
          const parting = new Parting(p, ids)
          /** where in the list each pair is */
          const listed = new Map<number, number>()
          for (let i = 0; i < margins.parted.length; i++) {
            const [s, t] = margins.near.subarray(2 * i, 2 * i + 2)
            expect(haveVertex(ids, s, t)).toBe(false)
            listed.set(pair(s, t), i)
            parting.take(s, t)
            expect(parting.along(margins.parted[i])).toBeGreaterThan(0)
          }
          expect(listed.size).toBe(margins.parted.length)
          const levels = margins.levels.filter((_, i) => i % 4 === 0)
          expect(levels[0]).toEqual({ bend: within.bend, pairs: listed.size })
          expect(levels.at(-1)?.pairs).toBeLessThan(listed.size)
          const points = Array.from({ length: triangleCount(solid) }, (_, t) => places.map((at) => point(p, ids, t, at)))
          // the smallest circle about a triangle is no smaller than that on its longest side
          const radius = (t: number) =>
            Math.max(...[0, 1, 2].map((k) => Math.hypot(...[0, 1, 2].map((x) => p[3 * ids[3 * t + k] + x] - p[3 * ids[3 * t + ((k + 1) % 3)] + x])))) / 2
          let least = Infinity
          for (let t = 0; t < points.length; t++)
            for (let u = t % 7; u < t; u += 7) {
              if (haveVertex(ids, t, u)) continue
              const at = listed.get(pair(t, u)) ?? Infinity
              let between = Infinity
              for (const a of points[t]) for (const b of points[u]) between = Math.min(between, Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]))
              for (const { bend, pairs } of levels)
                if (at >= pairs) least = Math.min(least, between - needsApart(radius(t), radius(u), { bend, rounding: within.rounding }))
            }
          expect(least).toBeGreaterThan(0)
        },
      ),
      { numRuns: 4 },
    )
  })

  it('are none where too much is too near to something else', () => {
    const sheets = squaredBox([0, 0, 0], [40, 40, 0.02], 1)
    expect(marginsOf(sheets, { bend: 1e-4, rounding: L })).toBeDefined()
    expect(marginsOf(sheets, { bend: 1, rounding: L })).toBeUndefined()
  })
})

/** Moves what is within `radius` of a vertex by up to `far`: (1 − s²)³ of it, whose second derivative is at most six to the square of the radius. */
const bump =
  ([x, y, z]: Float64Array, radius: number, far: readonly number[]) =>
  (p: Float64Array): void => {
    for (let o = 0; o < p.length; o += 3) {
      const share = ((p[o] - x) ** 2 + (p[o + 1] - y) ** 2 + (p[o + 2] - z) ** 2) / radius ** 2
      if (share < 1) for (let k = 0; k < 3; k++) p[o + k] += far[k] * (1 - share) ** 3
    }
  }

describe('what margins tell of a deformed solid', () => {
  const came = { proven: 0, sound: 0, crossing: 0 }
  /** What is said to stay apart is sound by the check, which knows nothing of margins; these are measured for more than the map does, or for less. */
  function tried(solid: Solid, map: (p: Float64Array) => void, bend: number, patience?: number, cells?: Int32Array, further = 1.6, lattice = L): void {
    const there = { ...moved(solid, map, bend, lattice), cells }
    const strays = strayingOf(there)
    if (!(strays.bend >= 0)) return
    const margins = marginsOf(solid, { bend: further * strays.bend, rounding: (lattice > L ? further : 1.6) * strays.rounding })
    if (!margins) return
    const report = checkMesh({ positions: there.positions, indices: solid.indices })
    if (staysApart(margins, there, patience)) {
      came.proven++
      expect(report.findings).toEqual([])
    }
    if (report.sound) came.sound++
    else came.crossing++
  }
  beforeEach(() => void Object.assign(came, { proven: 0, sound: 0, crossing: 0 }))
  const shape = fc.oneof(fc.tuple(even(0.02, 1), even(4, 9)), even(0, 5))
  const made = (of: number | [number, number]) => (typeof of === 'number' ? ballBody(7, 6, bumps(of)) : nearEachOther(...of))

  it('is true, and is told of nearly all that is sound', () => {
    fc.assert(
      fc.property(shape, fc.array(fc.tuple(deformation, fc.oneof(fc.constant(1), share)), { minLength: 1, maxLength: 3 }), (of, list) => {
        const solid = made(of)
        const stages = list.map(([by, strength]): Stage => ({ by: [by], strength }))
        const bounds = boundsOfAll(stages, solid.positions)
        const map = new Composed(stages)
        if (bounds) tried(solid, (p) => mapVertices(map, p), bounds.bend)
      }),
      { numRuns: 150 },
    )
    expect(came.sound).toBeGreaterThan(60)
    expect(came.proven).toBeGreaterThan(0.6 * came.sound)
  })

  /** As `tried`, each of three bodies by a map of its own. */
  function triedEach(solid: Solid, by: readonly Deformation[], strength: number, ...then: readonly Stage[]): void {
    const { part } = connectedParts(solid.indices, vertexCount(solid))
    const units = new Int32Array(vertexCount(solid))
    for (const [i, v] of solid.indices.entries()) units[v] = part[Math.floor(i / 3)]
    const stages: Stage[] = [{ by, units, strength }, ...then]
    const bounds = boundsOfAll(stages, solid.positions)
    const map = new Composed(stages)
    if (bounds) tried(solid, (p) => mapVertices(map, p), bounds.bend, 1000, cellsOf(stages, units.length).of)
  }

  it('is true where each body goes by a map of its own', () => {
    fc.assert(
      fc.property(
        fc.tuple(even(0.02, 1), even(3, 9)),
        fc.tuple(deformation, deformation, deformation),
        deformation,
        even(0, 0.3),
        (of, by, other, strength) => {
          triedEach(nearEachOther(...of), by, strength, { by: [other], strength: 1 })
        },
      ),
      { numRuns: 150 },
    )
    expect(came.proven).toBe(came.sound)
    expect(came.proven).toBeGreaterThan(10)
    expect(came.crossing).toBeGreaterThan(10)
    // one bar goes far away, the other stays, and the block grows into that
    const before = { ...came }
    const away = (slope: number): Deformation => ({ kind: 'shear', moved: 2, by: 0, level: 200, slope })
    const grown: Deformation = { kind: 'stretch', factors: [2, 1, 1], centre: [60, 0, 0] }
    for (const slope of [-4, 4])
      for (const by of [
        [away(slope), away(0)],
        [away(0), away(slope)],
      ])
        triedEach(nearEachOther(0.5, 4), [...by, grown], 1)
    expect(came).toEqual({ ...before, crossing: before.crossing + 4 })
  })

  it('is true where space about a place is moved further than it bears', () => {
    fc.assert(
      fc.property(shape, even(0, 1), even(0.3, 6), even(-2.5, 1), fc.tuple(number(-1, 1), number(-1, 1), number(-1, 1)), (of, at, size, much, way) => {
        const solid = made(of)
        const v = 3 * Math.floor(at * 0.999 * vertexCount(solid))
        const [radius, far] = [4 * size, way.map((one) => (one / (Math.hypot(...way) || 1)) * 4 * size * 2 ** much)]
        tried(solid, bump(solid.positions.slice(v, v + 3), radius, far), (6 * Math.hypot(...far)) / radius ** 2, 1000, undefined, 0.05)
      }),
      { numRuns: 80 },
    )
    expect(came.proven).toBeGreaterThan(50)
    expect(came.crossing).toBeGreaterThan(8)
  })

  it('is true where a corner is moved, within those about it, to where they cannot all be seen from', () => {
    // the ends of a prism with four points, each about its middle
    const prism = prismOver(
      Array.from({ length: 8 }, (_, i) => [Math.cos((i * Math.PI) / 4) * (i % 2 ? 4 : 10), Math.sin((i * Math.PI) / 4) * (i % 2 ? 4 : 10)]),
      [0, 0],
    )
    expect(checkMesh(prism).sound).toBe(true)
    const ball = ballBody(20, 8)
    // with something else whose stars have margins, as most of a piece must
    const both = joinSolids([prism, { ...ball, positions: ball.positions.map((at) => at + 60) }])
    for (let far = 0.5; far < 9; far += 0.5) tried(both, bump(Float64Array.of(0, 0, 4), 3.5, [far, 0, 0]), (6 * far) / 3.5 ** 2, 1000, undefined, 0.05)
    expect(came.proven).toBe(came.sound)
    expect(came.sound).toBeGreaterThan(4)
    expect(came.crossing).toBeGreaterThan(4)
  })

  it('is not told of a bar that is bent into itself, nor of walls whose chords cross', () => {
    const bentBy = (solid: Solid, [from, to]: readonly number[], neutral: number, curvature: number, further: number) => {
      const stages: Stage[] = [{ by: [{ kind: 'bend', along: 0, towards: 1, extent: { from, to }, middle: 0, neutral, curvature }], strength: 1 }]
      const map = new Composed(stages)
      tried(solid, (p) => mapVertices(map, p), boundsOfAll(stages, solid.positions)?.bend ?? 0, 1000, undefined, further)
    }
    const bar = squaredBox([-50, 0, 0], [50, 4, 4], 2)
    for (let turns = 1; turns < 1.7; turns += 0.04) bentBy(bar, [-50, 50], 2, (2 * Math.PI * turns) / 100, 1.6)
    expect(came.crossing).toBe(18)
    const walls = nearEachOther(0.05, 7)
    for (const further of [0.02, 1.6]) for (let curvature = 0.0005; curvature < 0.03; curvature += 0.0005) bentBy(walls, [-40, 60], 0, curvature, further)
    expect(came.crossing).toBeGreaterThan(60)
    // of all of a piece stars hold, though not what else there is
    const blocks = joinSolids([squaredBox([-4, -4, 0], [4, 0, 8], 8), squaredBox([-4, 0.0005, 0], [4, 4, 8], 4)])
    const before = came.crossing
    for (const further of [0.02, 1.6]) for (const curvature of [-5e-4, -4e-4, 4e-4, 5e-4]) bentBy(blocks, [-4, 4], 0, curvature, further)
    expect(came.crossing).toBe(before + 4)
    expect(came.proven).toBe(came.sound)
  })

  it('is not told of points of a face that its long sides are bent past', () => {
    // beside a long side a shorter one ends, and a point lies near a border
    const spoked = prismOver(
      [
        [10, 0],
        [3, 0.05],
        [0, 5],
        [-5, 0],
        [0, -5],
      ],
      [0, 0],
    )
    const edged = prismOver(
      [
        [-5, 0],
        [5, 0],
        [0, 5],
      ],
      [0, 0.05],
    )
    for (const solid of [spoked, edged])
      for (const further of [0.02, 1.1, 1.6, 4])
        for (let curvature = -0.015; curvature < 0.015; curvature += 0.001) {
          const stages: Stage[] = [
            { by: [{ kind: 'bend', along: 0, towards: 1, extent: { from: -5, to: 10 }, middle: 0, neutral: 0, curvature }], strength: 1 },
          ]
          const map = new Composed(stages)
          tried(solid, (p) => mapVertices(map, p), boundsOfAll(stages, solid.positions)?.bend ?? 0, 1000, undefined, further)
        }
    expect(came.proven).toBe(came.sound)
    expect(came.sound).toBeGreaterThan(100)
    expect(came.crossing).toBeGreaterThan(60)
  })

  it('is not told of what a coarse lattice brings to one place', () => {
    const blocks = joinSolids([squaredBox([-4, -4, 0], [4, 0, 8], 4), squaredBox([-4, 0.01, 0], [4, 4, 8], 4)])
    // their triangles lie next to each other in a tree
    const slabs = joinSolids([0, 0.1, 0.2].map((y) => squaredBox([-4, y, 0], [4, y + 0.09, 8], 8)))
    for (const solid of [blocks, slabs])
      for (const further of [0.02, 1.6])
        for (let power = -12; power < -4; power++)
          for (const slope of [0.1, 0.3]) {
            const map = new Composed([{ by: [{ kind: 'shear', moved: 1, by: 0, level: 0, slope }], strength: 1 }])
            tried(solid, (p) => mapVertices(map, p), 0, 1000, undefined, further, 2 ** power)
          }
    expect(came.proven).toBe(came.sound)
    expect(came.sound).toBeGreaterThan(10)
    expect(came.crossing).toBeGreaterThan(6)
  })

  it('is asked from the second time on, and changes nothing of what comes out', async () => {
    const solid = nearEachOther(0.5, 1)
    const memo = new Memo()
    const bent = (curvature: number): Deformation => ({ kind: 'bend', along: 0, towards: 1, extent: { from: -40, to: 61 }, middle: 0, neutral: 0, curvature })
    for (const curvature of [0.004, 0.01, 0.018]) {
      const stages: Stage[] = [
        { by: [bent(curvature)], strength: 1 },
        { by: [{ kind: 'wave', along: 0, moved: 2, centre: [0, 0], start: 0, height: 2, length: 60, phase: 0 }], strength: 0.5 },
      ]
      const [known, anew] = [await deformSolid(solid, stages, { tolerance: 0.05, memo }), await deformSolid(solid, stages, { tolerance: 0.05 })]
      expect(known).toEqual(anew)
      expect(known.ok).toBe(true)
    }
    expect((await deformSolid(solid, [{ by: [bent(0.075)], strength: 1 }], { tolerance: 0.05, memo })).ok).toBe(false)
  })
})
