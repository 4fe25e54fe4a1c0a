import fc from 'fast-check'
import { Vector3 } from 'three'
import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, distanceToRings, FULL, wordRoute } from '../../test/helpers'
import { centreStrokes } from '../centre/strokes'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { type Path, PathBuilder } from '../outline/path'
import { pathPolygons, type PolygonSet, regionPolygons, winding } from '../outline/polygon'
import { type Assembly, copySolid } from '../solid/assembly'
import { sidesFor, turnedRing } from '../solid/revolve'
import { type Solid, solidBounds } from '../solid/solid'
import { placesAlong } from './along'
import { asAssembly, repeated } from './assemble'
import { type Fill, filled, type FillPattern } from './fill'
import { gridCount, gridSpots, ringSpots, rowSpots } from './patterns'
import { scattered } from './scatter'
import { changedByHand, shift, SpotList } from './spots'
import { asOneSolid, meeting } from './united'
import { readyUnit } from './units'
import { UNITS } from './unit-names'
import { copiesOf, drawnShare, evenShare, varied } from './vary'

const LATTICE = 2 ** -14

beforeAll(async () => void (await loadManifold()))

const line = (points: readonly (readonly [number, number])[], closed: boolean): Path => {
  const path = new PathBuilder(points[0][0], points[0][1])
  for (const [x, y] of points.slice(1)) path.lineTo(x, y)
  return path.build(closed)
}
const areaOf = (...rings: readonly (readonly [number, number])[][]): PolygonSet =>
  pathPolygons(
    rings.map((ring) => line(ring, true)),
    0.001,
    LATTICE,
  )
const circle = (r: number, turn: 1 | -1, sides = 360) =>
  Array.from({ length: sides }, (_, i): [number, number] => [r * Math.cos((turn * 2 * Math.PI * i) / sides), r * Math.sin((turn * 2 * Math.PI * i) / sides)])
const FILL: Fill = { pattern: 'middle', pitch: 4, radius: 1, edge: 0.5, corners: true, rows: 3, angle: 0, through: [0, 0], seed: 1 }
const fillOf = (set: PolygonSet, more: Partial<Fill> = {}) => filled(set, () => centreStrokes(set), { ...FILL, ...more })
const placesOf = ({ places }: { places: Float64Array }): [number, number][] =>
  Array.from({ length: places.length / 3 }, (_, i) => [places[3 * i], places[3 * i + 1]])
const gap = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((v, k) => v - b[k]))
const nearestOf = (list: readonly (readonly number[])[], i: number) => list.reduce((best, p, j) => (i === j ? best : Math.min(best, gap(p, list[i]))), Infinity)

const textFor = (id: string) => (id === 'lalezar' ? 'سوق 8' : id === 'suez-one' ? 'רציף 8' : id === 'yatra-one' ? 'घाट 8' : 'Quay 8')

/** How far the border is on both sides of a way, where it runs along it there: the points nearest to the place lie opposite each other and square to the way. By looking at every edge. */
function feetOf(rings: readonly { xy: ArrayLike<number> }[], x: number, y: number, angle: number): [number, number] | undefined {
  const feet: [number, number, number][] = []
  for (const { xy } of rings)
    for (let i = 0; i < xy.length; i += 2) {
      const j = (i + 2) % xy.length
      const [ex, ey] = [xy[j] - xy[i], xy[j + 1] - xy[i + 1]]
      const t = Math.min(1, Math.max(0, ((x - xy[i]) * ex + (y - xy[i + 1]) * ey) / (ex * ex + ey * ey || 1)))
      feet.push([xy[i] + t * ex - x, xy[i + 1] + t * ey - y, Math.hypot(xy[i] + t * ex - x, xy[i + 1] + t * ey - y)])
    }
  const turned = (a: readonly number[], b: readonly number[]) => (a[0] * b[0] + a[1] * b[1]) / (a[2] * b[2])
  const nearest = (list: [number, number, number][]) => list.reduce((least, foot) => (foot[2] < least[2] ? foot : least), [0, 0, Infinity])
  const one = nearest(feet)
  const other = nearest(feet.filter((foot) => turned(foot, one) < -0.5))
  const way = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180), 1]
  if (!(turned(one, other) < Math.cos((165 * Math.PI) / 180)) || [one, other].some((foot) => Math.abs(turned(foot, way)) > Math.sin((20 * Math.PI) / 180)))
    return undefined
  return [one[2], other[2]]
}

describe('patterns', () => {
  it('of grids have as many places as they say, none twice, with the same gap everywhere', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 3 }),
        fc.constantFrom('straight' as const, 'bricks' as const, 'staggered' as const),
        fc.constantFrom('first' as const, 'middle' as const),
        (across, down, deep, rows, from) => {
          const spots = gridSpots({ across, down, deep, step: [10, 7, 5], rows, from })
          expect(spots.count).toBe(gridCount({ across, down, deep, rows }))
          const at = Array.from({ length: spots.count }, (_, i) => [3, 7, 11].map((k) => spots.matrix[12 * i + k]))
          expect(new Set(at.map((p) => p.join())).size).toBe(spots.count)
          if (from === 'first') expect(at[0]).toEqual([0, 0, 0])
          // along a row the next one stands a step further
          for (let i = 1; i < spots.count; i++) if (spots.spot[3 * i] > 0) expect(at[i][0] - at[i - 1][0]).toBeCloseTo(10, 9)
          if (from === 'middle' && rows === 'straight') for (const k of [0, 1, 2]) expect(at.reduce((sum, p) => sum + p[k], 0)).toBeCloseTo(0, 6)
        },
      ),
    )
  })

  it('of rings stand on the circle, evenly; whole ones have none twice', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 40 }),
        fc.oneof(fc.double({ min: 30, max: 350, noNaN: true }), fc.constant(360)),
        fc.constantFrom('upright' as const, 'lying' as const),
        fc.boolean(),
        (count, sweep, plane, turned) => {
          const { matrix } = ringSpots({ count, radius: 50, sweep, begin: 17, plane, turned })
          const at = Array.from({ length: count }, (_, i) => [3, 7, 11].map((k) => matrix[12 * i + k]))
          const chords = at.slice(1).map((p, i) => gap(p, at[i]))
          for (const p of at) expect(Math.hypot(...p)).toBeCloseTo(50, 9)
          for (const chord of chords) expect(chord).toBeCloseTo(chords[0], 9)
          expect(gap(at[0], at[count - 1])).toBeGreaterThan(1e-6)
          // what is turned with an upright ring has its head outwards
          if (turned && plane === 'upright')
            for (let i = 0; i < count; i++) expect(matrix[12 * i + 1] * at[i][0] + matrix[12 * i + 5] * at[i][1]).toBeCloseTo(50, 9)
        },
      ),
    )
  })

  it('of rows turn one after another', () => {
    const { matrix } = rowSpots({ count: 5, step: [3, 0, 0], turn: 90, from: 'first' })
    expect([matrix[12], matrix[13]]).toEqual([0, -1])
    expect([0, 1, 2, 3, 4].map((i) => matrix[12 * i + 3])).toEqual([0, 3, 6, 9, 12])
  })
})

describe('filling', () => {
  it('goes down the true middle of bars and rings, evenly, to the hundredth', () => {
    const bar = placesOf(
      fillOf(
        areaOf([
          [0, 0],
          [100, 0],
          [100, 6],
          [0, 6],
        ]),
        { pitch: 5 },
      ),
    )
    expect(bar.length).toBeGreaterThan(15)
    bar.sort((a, b) => a[0] - b[0])
    for (const [, y] of bar) expect(Math.abs(y - 3)).toBeLessThan(0.06)
    const steps = bar.slice(1).map((p, i) => gap(p, bar[i]))
    const mean = steps.reduce((sum, s) => sum + s, 0) / steps.length
    for (const step of steps) expect(Math.abs(step / mean - 1)).toBeLessThan(0.01)
    expect(Math.abs(mean / 5 - 1)).toBeLessThan(0.1)

    const ring = placesOf(fillOf(areaOf(circle(30, 1), circle(24, -1)), { pitch: 5 }))
    const angles = ring.map(([x, y]) => Math.atan2(y, x)).sort((a, b) => a - b)
    for (const [x, y] of ring) expect(Math.abs(Math.hypot(x, y) - 27)).toBeLessThan(0.06)
    const turns = angles.map((a, i) => (i + 1 < angles.length ? angles[i + 1] - a : angles[0] + 2 * Math.PI - a))
    for (const turn of turns) expect(Math.abs((turn * ring.length) / (2 * Math.PI) - 1)).toBeLessThan(0.01)
  })

  it.each(SHIPPED_FACES.filter(({ id }, i) => id !== 'monoton' && (FULL || i % 5 === 1)).map(({ id }) => id))(
    'goes down the true middle of strokes of %s within 1 % of their width, away from ends and junctions',
    async (id) => {
      const { value } = await evaluateRoute(wordRoute(textFor(id), id, { size: 40 }).slice(0, 1), { assets })
      let judged = 0
      for (const region of (value as Outline).regions) {
        const set = regionPolygons(region, 0.01, LATTICE)
        const strokes = centreStrokes(set)
        const ends = strokes.flatMap(({ points, closed }) => (closed ? [] : [points[0], points[points.length - 1]]))
        const { places } = filled(set, () => strokes, { ...FILL, pitch: 2, radius: 0.1, edge: 0.1, rows: 1, corners: false })
        for (let i = 0; i < places.length; i += 3) {
          const [x, y, angle] = places.subarray(i, i + 3)
          const away = feetOf(set.rings, x, y, angle)
          if (!away || ends.some((end) => Math.hypot(end[0] - x, end[1] - y) < away[0] + away[1])) continue
          judged++
          expect(Math.abs(away[0] - away[1]) / 2, `${x}, ${y}`).toBeLessThan(0.01 * (away[0] + away[1]))
        }
      }
      expect(judged).toBeGreaterThan(30)
    },
  )

  it('sets rows side by side where a stroke is wide, as many as asked at most', () => {
    const wide = areaOf([
      [0, 0],
      [100, 0],
      [100, 14],
      [0, 14],
    ])
    const rowsOf = (rows: number) => new Set(placesOf(fillOf(wide, { rows })).map(([, y]) => Math.round(y))).size
    expect(rowsOf(1)).toBe(1)
    expect(rowsOf(2)).toBe(2)
    expect(rowsOf(9)).toBe(3)
  })

  it('meets corners when asked', () => {
    const angle = areaOf([
      [0, 0],
      [60, 0],
      [60, 8],
      [8, 8],
      [8, 60],
      [0, 60],
    ])
    const atCorner = (corners: boolean) => placesOf(fillOf(angle, { pitch: 7, rows: 1, corners })).some((p) => gap(p, [4, 4]) < 0.1)
    expect(atCorner(true)).toBe(true)
    const places = placesOf(fillOf(angle, { pitch: 7, rows: 1 }))
    expect(Math.min(...places.map((_, i) => nearestOf(places, i)))).toBeGreaterThan(0.7 * 7 - 1e-9)
  })

  const faces = FULL ? SHIPPED_FACES : SHIPPED_FACES.filter((_, i) => i % 7 === 2)
  it.each(faces.map(({ id }) => id))('keeps every unit inside %s and as far from its edge as asked, by brute force', async (id) => {
    const { value } = await evaluateRoute(wordRoute(textFor(id), id, { size: 40 }).slice(0, 1), { assets })
    const sets = (value as Outline).regions.map((region) => regionPolygons(region, 0.01, LATTICE))
    // one face is drawn in many fine lines
    const [pitch, radius, edge] = id === 'monoton' ? [1.5, 0.2, 0.08] : [3, 0.8, 0.3]
    const need = radius + edge
    let made = 0
    for (const set of sets) {
      const strokes = centreStrokes(set)
      for (const pattern of ['middle', 'rows', 'hexagons', 'dots'] as FillPattern[]) {
        const fill: Fill = { ...FILL, pattern, pitch, radius, edge }
        const places = placesOf(filled(set, () => strokes, fill))
        made += places.length
        for (const [i, [x, y]] of places.entries()) {
          expect(winding(set.rings, x, y)).toBeGreaterThan(0)
          expect(distanceToRings(set.rings, x, y)).toBeGreaterThan(need - 1e-6)
          if (pattern !== 'rows') expect(nearestOf(places, i)).toBeGreaterThan((pattern === 'middle' ? 0.5 : 0.999) * pitch)
        }
        // a stroke that is longer than the pitch and wide enough has one
        if (pattern !== 'middle') continue
        for (const { points } of strokes) {
          const own = points.filter(([x, y]) => distanceToRings(set.rings, x, y) > need && winding(set.rings, x, y) > 0)
          const far = own.length > 1 ? gap(own[0], own[own.length - 1]) : 0
          if (far > 2 * pitch) expect(Math.min(...own.flatMap((p) => places.map((q) => gap(p.slice(0, 2), q))))).toBeLessThan(pitch)
        }
      }
    }
    expect(made).toBeGreaterThan(10)
  })

  it('scatters dots without gaps or heaps', () => {
    const places = placesOf(
      fillOf(
        areaOf([
          [0, 0],
          [80, 0],
          [80, 80],
          [0, 80],
        ]),
        { pattern: 'dots', pitch: 3 },
      ),
    )
    const near = places.map((_, i) => nearestOf(places, i))
    const mean = near.reduce((sum, d) => sum + d, 0) / near.length
    expect(Math.min(...near)).toBeGreaterThan(0.8 * mean)
    expect(
      fillOf(
        areaOf([
          [0, 0],
          [80, 0],
          [80, 80],
          [0, 80],
        ]),
        { pattern: 'dots', pitch: 3 },
      ).places,
    ).toEqual(Float64Array.from(places.flatMap((p) => [...p, 0])))
  })
})

describe('along a line', () => {
  const points = fc.array(fc.tuple(fc.integer({ min: -60, max: 60 }), fc.integer({ min: -60, max: 60 })), { minLength: 3, maxLength: 7 })
  it('stretches between corners are filled evenly, with one in every corner and at open ends', () => {
    fc.assert(
      fc.property(points, fc.boolean(), fc.double({ min: 2, max: 30, noNaN: true }), (list, closed, pitch) => {
        const own = list.filter((p, i) => i === 0 || gap(p, list[i - 1]) > 1)
        if (own.length < 3 || (closed && gap(own[0], own[own.length - 1]) < 1)) return
        const path = line(own, closed)
        const { measured, at } = placesAlong(path, { pitch, corners: true, ends: 0 })
        const turn = (i: number) => {
          const [a, b, c] = [own[(i + own.length - 1) % own.length], own[i], own[(i + 1) % own.length]]
          const [u, v] = [Math.atan2(b[1] - a[1], b[0] - a[0]), Math.atan2(c[1] - b[1], c[0] - b[0])]
          return Math.abs(Math.atan2(Math.sin(v - u), Math.cos(v - u)))
        }
        const places = at.map((s) => measured.at(s))
        own.forEach((corner, i) => {
          const end = !closed && (i === 0 || i === own.length - 1)
          if (end || turn(i) > (26 * Math.PI) / 180) expect(Math.min(...places.map(({ x, y }) => gap([x, y], corner)))).toBeLessThan(1e-6)
        })
        // between two neighbours lies about a pitch, where the stretch is long enough for one
        const steps = at.slice(1).map((s, i) => s - at[i])
        for (const step of steps) expect(step).toBeLessThan(1.5 * pitch + 1e-6)
        expect(new Set(at.map((s) => s.toFixed(6))).size).toBe(at.length)
      }),
    )
  })

  it('round a circle without corners the whole length is shared', () => {
    const { at, measured } = placesAlong(line(circle(20, 1), true), { pitch: 7, corners: false, ends: 0 })
    expect(at.length).toBe(Math.round(measured.length / 7))
    for (const [i, s] of at.entries()) expect(s).toBeCloseTo((i * measured.length) / at.length, 9)
  })

  it('leaves the ends of open lines free', () => {
    const { at } = placesAlong(
      line(
        [
          [0, 0],
          [50, 0],
        ],
        false,
      ),
      { pitch: 7, corners: true, ends: 6 },
    )
    expect([at[0], at[at.length - 1]]).toEqual([6, 44])
  })
})

describe('scattering over a surface', () => {
  it('is even by area over a torus, and nothing stands too near to another', () => {
    const [R, r] = [40, 15]
    const ring = turnedRing(R, r, sidesFor(R, 0.02), sidesFor(r, 0.02), LATTICE)
    const { places } = scattered(ring, 1.6, 5)
    const count = places.length / 6
    expect(count).toBeGreaterThan(5000)
    const at = Array.from({ length: count }, (_, i) => Array.from(places.subarray(6 * i, 6 * i + 3)))
    // shares of the tube's turn: the outer half has more area than the inner one
    const bins = 8
    const found = new Float64Array(bins)
    for (const [x, y, z] of at) found[Math.floor((((Math.atan2(y - r, Math.hypot(x, z) - R) + 2 * Math.PI) % (2 * Math.PI)) / (2 * Math.PI)) * bins) % bins]++
    for (let b = 0; b < bins; b++) {
      const [from, to] = [(2 * Math.PI * b) / bins, (2 * Math.PI * (b + 1)) / bins]
      const share = (R * (to - from) + r * (Math.sin(to) - Math.sin(from))) / (2 * Math.PI * R)
      expect(Math.abs(found[b] / count / share - 1)).toBeLessThan(0.05)
    }
    const some = at.slice(0, 400)
    const near = some.map((p, i) => at.reduce((best, q, j) => (i === j ? best : Math.min(best, gap(p, q))), Infinity))
    const mean = near.reduce((sum, d) => sum + d, 0) / near.length
    expect(Math.min(...near)).toBeGreaterThan(0.8 * mean)
    expect(scattered(ring, 1.6, 5).places).toEqual(places)
    expect(scattered(ring, 1.6, 6).places).not.toEqual(places)
  })
})

describe('changes by hand', () => {
  it('stay with their letter, are found when the place has moved a little, and are set aside when it is gone', () => {
    const list = new SpotList()
    for (let i = 0; i < 6; i++) list.push(shift(10 * i, 0, 0), i < 3 ? 0 : 1, 10 * (i % 3), 5, 0)
    const spots = list.finish()
    const changes = [
      { at: 0, spot: [11, 5, 0] as const, out: true, by: [0, 0, 0] as const },
      { at: 4, spot: [0, 5, 0] as const, out: false, by: [1, 2, 3] as const },
      { at: 9, spot: [0, 5, 0] as const, out: true, by: [0, 0, 0] as const },
      { at: 0, spot: [90, 5, 0] as const, out: true, by: [0, 0, 0] as const },
    ]
    const { spots: left, numbers, aside } = changedByHand(spots, changes, 4, (at) => ({ 0: 0, 4: 1 })[at])
    expect(Array.from(numbers)).toEqual([0, 2, 3, 4, 5])
    expect(aside).toBe(2)
    expect([3, 7, 11].map((k) => left.matrix[12 * 2 + k])).toEqual([31, 2, 3])
  })
})

/** The least cosine between a triangle and what its corners are shaded as. */
function cosinesToNormals({ positions: p, indices, attributes }: Solid): number {
  let least = 1
  const { normal } = attributes
  for (let t = 0; normal && 3 * t < indices.length; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => new Vector3(...p.subarray(3 * indices[3 * t + k], 3 * indices[3 * t + k] + 3)))
    const looks = b.sub(a).cross(c.sub(a)).normalize()
    for (let o = 9 * t; o < 9 * t + 9; o += 3) least = Math.min(least, looks.dot(new Vector3(...normal.subarray(o, o + 3))))
  }
  return least
}

describe('ready units', () => {
  it.each(UNITS)('%s is sound, stands about its axis, and is as wide as asked', (name) => {
    // every number of sides that there is
    for (const width of [0.5, 2, 4, 5, 6, 7, 8, 9, 10, 12, 15, 60]) {
      const unit = readyUnit(name, width)
      const check = checkMesh(unit)
      expect(check).toMatchObject({ sound: true, closed: true })
      expect(check.volume).toBeGreaterThan(0)
      let far = 0
      for (let o = 0; o < unit.positions.length; o += 3) {
        const [x, y, z] = unit.positions.subarray(o, o + 3)
        // what slopes outwards is as wide as that where it comes out of what it stands on
        expect(Math.hypot(x, y)).toBeLessThan((z < 0 ? 0.54 : 0.51) * width)
        far = Math.max(far, Math.hypot(x, y))
      }
      expect(far).toBeGreaterThan(0.49 * width)
      expect(unit.labels.look.every((look) => unit.looks[look] !== undefined)).toBe(true)
      // what is shaded as if it looked the other way is turned over where it is deformed
      expect(cosinesToNormals(unit)).toBeGreaterThan(0.3)
      // its foot is in what it stands on
      expect(solidBounds(unit.positions)[2]).toBeLessThan(-0.02 * width)
    }
  })
})

const boxes = async (...at: [number, number, number][]): Promise<Assembly> => {
  const { value } = await evaluateRoute([{ id: 'b', kind: 'block', on: true, params: { shape: 'box', width: 10, height: 10, depth: 10 } }], { assets })
  const list = new SpotList()
  for (const [x, y, z] of at) list.push(shift(x, y, z), -1, x, y, z)
  const spots = list.finish()
  return repeated(asAssembly(value as never), spots, Int32Array.from(at.keys()))
}

describe('one solid of copies', () => {
  it('unites those that meet, and has the volume of their union', async () => {
    const one = await asOneSolid(await boxes([0, 0, 0], [5, 0, 0], [40, 0, 0], [50, 0, 0], [80, 3, 1]))
    if (!one.ok) throw new Error(one.message)
    const check = checkMesh(one.solid)
    expect(check).toMatchObject({ sound: true, parts: 3 })
    // two that overlap by half, two that touch, one alone
    expect(check.volume).toBeCloseTo(1500 + 2000 + 1000, 6)
    expect(new Set(Array.from(one.solid.surface, (row) => one.solid.labels.copy[row]))).toEqual(new Set([0, 1, 2, 3, 4]))
  })

  it('finds the same groups of boxes as looking at every pair', () => {
    const box = fc.tuple(fc.integer({ min: 0, max: 30 }), fc.integer({ min: 0, max: 30 }), fc.integer({ min: 0, max: 8 }), fc.integer({ min: 1, max: 6 }))
    fc.assert(
      fc.property(fc.array(box, { maxLength: 30 }), (list) => {
        const flat = Float64Array.from(list.flatMap(([x, y, z, s]) => [x, y, z, x + s, y + s, z + s]))
        const group = list.map((_, i) => i)
        const root = (i: number): number => (group[i] === i ? i : root(group[i]))
        for (let i = 0; i < list.length; i++)
          for (let j = 0; j < i; j++)
            if ([0, 1, 2].every((k) => flat[6 * i + k] <= flat[6 * j + k + 3] && flat[6 * j + k] <= flat[6 * i + k + 3])) group[root(i)] = root(j)
        const expected = new Map<number, number[]>()
        list.forEach((_, i) => expected.set(root(i), [...(expected.get(root(i)) ?? []), i]))
        const sorted = (groups: readonly (readonly number[])[]) => groups.map((g) => [...g].sort((a, b) => a - b).join()).sort()
        expect(sorted(meeting(flat))).toEqual(sorted([...expected.values()]))
      }),
    )
  })

  it('says when there would be too much of it', async () => {
    const unit = await boxes([0, 0, 0])
    const many: Assembly = { ...unit, placements: { ...unit.placements, unit: new Uint32Array(200_000), copy: new Int32Array(200_000) } }
    expect(await asOneSolid(many)).toMatchObject({ ok: false, code: 'too-many-triangles' })
  })
})

describe('variation', () => {
  it('by lot is the same for a copy whatever the others are, and within its bounds', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 0, max: 50_000 }), (seed, number) => {
        const share = drawnShare(seed, number)
        expect(drawnShare(seed, number)).toEqual(share)
        for (const t of [...share.shift, share.turn, ...share.lean, share.size]) expect(Math.abs(t)).toBeLessThanOrEqual(1)
        expect(drawnShare(seed + 1, number)).not.toEqual(share)
      }),
    )
    const drawn = Array.from({ length: 4000 }, (_, i) => drawnShare(3, i).turn)
    expect(Math.abs(drawn.reduce((sum, t) => sum + t, 0) / drawn.length)).toBeLessThan(0.04)
  })

  it('turns and sizes a copy about its own foot, all its parts together', async () => {
    const assembly = await boxes([100, 0, 0], [200, 50, 0])
    const by = { shift: [0, 0, 0] as const, turn: 90, lean: 0, size: 100, colours: [0xff0000] }
    const out = varied(assembly, copiesOf(assembly), by, () => evenShare(1, 0))
    const middle = (a: Assembly, i: number) => {
      const { positions } = copySolid(a, i)
      return [0, 1, 2].map((k) => {
        const own = Array.from(positions).filter((_, o) => o % 3 === k)
        return [Math.min(...own), Math.max(...own)]
      })
    }
    for (const i of [0, 1]) {
      const [was, is] = [middle(assembly, i), middle(out, i)]
      for (const k of [0, 1]) {
        expect((is[k][0] + is[k][1]) / 2).toBeCloseTo((was[k][0] + was[k][1]) / 2, 3)
        expect(is[k][1] - is[k][0]).toBeCloseTo(20, 3)
      }
      // it grows off the ground it stands on
      expect(is[2][0]).toBeCloseTo(was[2][0], 3)
      expect(copySolid(out, i).looks[copySolid(out, i).labels.look[0]].material.colour).toBe('#ff0000')
    }
  })
})
