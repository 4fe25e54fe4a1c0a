import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { boxSolid } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { withKernelSolids } from '../join/bridge'
import { loadManifold } from '../kernel/manifold'
import type { Look } from '../look/material'
import { assemblyTriangles, bakedAssembly } from './assembly'
import { ATTRIBUTES } from './attributes'
import { solidFromTriangles } from './from-triangles'
import { GROUPS, type LabelRow, labelTable, NONE, PLAIN_ROW, rowOf } from './labels'
import { apply, compose, gather, joinSolids, type Matrix, split, transformed, UNMOVED } from './operations'
import { normalsOf } from './shading'
import { lookOf, type Solid, solidBounds, triangleCount } from './solid'

beforeAll(async () => {
  await loadManifold()
})

/** What a person would call a triangle: every label by its name rather than its number. */
function called(solid: Solid, t: number): string {
  const row = rowOf(solid.labels, solid.surface[t])
  const look = lookOf(solid, solid.surface[t])
  return [
    GROUPS[row.group],
    row.letter === NONE ? '' : solid.letters[row.letter],
    solid.layers[row.layer]?.name ?? '',
    row.band === NONE ? '' : solid.bands[row.band],
    row.copy,
    look.name,
    look.material.colour,
  ].join('/')
}

/** The plane a triangle of a box lies in: the axis and where. */
function planeOf(solid: Solid, t: number): string {
  const corner = (k: number, axis: number) => solid.positions[3 * solid.indices[3 * t + k] + axis]
  const axis = [0, 1, 2].find((a) => corner(0, a) === corner(1, a) && corner(1, a) === corner(2, a))
  return axis === undefined ? 'none' : `${'xyz'[axis]}=${corner(0, axis)}`
}

const COLOURS = ['#cc2211', '#2244cc', '#118833']

/** A box whose six sides are labelled each for itself, and dressed from lists of its own. */
const labelled = (rows: readonly LabelRow[], least: [number, number, number], size: [number, number, number], who: string): Solid => {
  const box = boxSolid(least, [least[0] + size[0], least[1] + size[1], least[2] + size[2]])
  const looks: Look[] = COLOURS.map((colour, i) => ({ name: `${who} look ${i}`, material: { colour, roughness: 0.5, metalness: 0 } }))
  return {
    ...box,
    labels: labelTable(rows),
    // two triangles a side
    surface: Uint32Array.from({ length: 12 }, (_, t) => Math.floor(t / 2) % rows.length),
    letters: ['a', 'b', 'c'].map((l) => who + l),
    layers: [{ name: `${who} layer 0` }, { name: 'common', colour: '#aabbcc' }, { name: `${who} layer 2` }],
    bands: ['rim', `${who} band`],
    looks,
  }
}

const rows = fc.array(
  fc.record({
    group: fc.nat(4),
    letter: fc.integer({ min: -1, max: 2 }),
    layer: fc.nat(2),
    band: fc.integer({ min: -1, max: 1 }),
    part: fc.constant(0),
    copy: fc.integer({ min: -1, max: 9 }),
    look: fc.integer({ min: -1, max: 2 }),
  }),
  { minLength: 6, maxLength: 6 },
)
const whole = fc.integer({ min: 1, max: 40 })
const size = fc.tuple(whole, whole, whole)

describe('labels', () => {
  it('of every triangle are right after solids that are dressed differently are joined', () => {
    fc.assert(
      fc.property(rows, rows, size, size, (ra, rb, sa, sb) => {
        const [a, b] = [labelled(ra, [0, 0, 0], sa, 'A '), labelled(rb, [100, 0, 0], sb, 'B ')]
        const joined = joinSolids([a, b])
        for (let t = 0; t < 12; t++) {
          expect(called(joined, t)).toBe(called(a, t))
          expect(called(joined, 12 + t)).toBe(called(b, t))
        }
        expect(checkMesh(joined)).toMatchObject({ sound: true, parts: 2 })
      }),
      { numRuns: 60 },
    )
  })

  it('come apart and together again as they were', () => {
    fc.assert(
      fc.property(rows, rows, size, size, (ra, rb, sa, sb) => {
        const joined = joinSolids([labelled(ra, [0, 0, 0], sa, 'A '), labelled(rb, [100, 0, 0], sb, 'B ')])
        const parts = split(joined, (t) => joined.labels.part[joined.surface[t]])
        expect([...parts.keys()]).toEqual([0, 1])
        const again = joinSolids([...parts.values()])
        for (let t = 0; t < 24; t++) expect(called(again, t)).toBe(called(joined, t))
        expect(again.positions).toEqual(joined.positions)
        for (const part of parts.values()) expect(checkMesh(part).sound).toBe(true)
      }),
      { numRuns: 40 },
    )
  })

  it('survive a boolean by the provenance of every triangle, for all three kinds', () => {
    fc.assert(
      fc.property(rows, rows, size, (ra, rb, sa) => {
        const a = labelled(ra, [0, 0, 0], sa, 'A ')
        // half inside the other, in general position
        const b = labelled(rb, [sa[0] / 2, -0.25, 0.125], [sa[0], sa[1] + 0.5, sa[2] / 2], 'B ')
        const byPlane = new Map<string, string>()
        for (const solid of [a, b]) for (let t = 0; t < 12; t++) byPlane.set(planeOf(solid, t), called(solid, t))
        for (const how of ['add', 'subtract', 'intersect'] as const) {
          const result = withKernelSolids(['normal', 'uv'], (kernel) => kernel.takeRounded(kernel.own(kernel.put(a)[how](kernel.put(b))), a.lattice))
          expect(checkMesh(result).sound).toBe(true)
          for (let t = 0; t < triangleCount(result); t++) {
            expect(called(result, t)).toBe(byPlane.get(planeOf(result, t)))
            // and shaded to the outside
            const n = (result.attributes.normal as Float32Array).subarray(9 * t, 9 * t + 3)
            expect(n[0] * facing(result, t)[0] + n[1] * facing(result, t)[1] + n[2] * facing(result, t)[2]).toBeGreaterThan(0.99)
          }
        }
      }),
      { numRuns: 25 },
    )
  })

  it('and attributes stay with their triangles through a transform and back, mirrored ones turned right side out', () => {
    const moves: Matrix[] = [
      [0, -1, 0, 8, 1, 0, 0, -4, 0, 0, 1, 2],
      [-1, 0, 0, 3, 0, 1, 0, 0, 0, 0, 1, 0],
      [2, 0, 0, 0, 0, 0, -2, 0, 0, 2, 0, 5],
    ]
    const inverses: Matrix[] = [
      [0, 1, 0, 4, -1, 0, 0, 8, 0, 0, 1, -2],
      [-1, 0, 0, 3, 0, 1, 0, 0, 0, 0, 1, 0],
      [0.5, 0, 0, 0, 0, 0, 0.5, -2.5, 0, -0.5, 0, 0],
    ]
    fc.assert(
      fc.property(rows, size, fc.nat(2), (ra, sa, k) => {
        const plain = labelled(ra, [0, 0, 0], sa, 'A ')
        const weight = Float32Array.from({ length: 8 }, (_, v) => v / 8)
        const a: Solid = { ...plain, attributes: { normal: normalsOf(plain), weight } }
        const moved = transformed(a, moves[k])
        expect(checkMesh(moved).sound).toBe(true)
        for (let t = 0; t < 12; t++) {
          expect(called(moved, t)).toBe(called(a, t))
          const n = (moved.attributes.normal as Float32Array).subarray(9 * t, 9 * t + 3)
          facing(moved, t).forEach((v, i) => expect(n[i]).toBeCloseTo(v, 5))
        }
        expect(compose(inverses[k], moves[k])).toEqual(UNMOVED.map((v) => v + 0))
        const back = transformed(moved, inverses[k])
        expect([...back.positions]).toEqual([...a.positions])
        expect(back.attributes.weight).toEqual(weight)
        expect(apply(moves[k], ...(solidBounds(a.positions).slice(0, 3) as [number, number, number])).every(Number.isFinite)).toBe(true)
      }),
      { numRuns: 40 },
    )
  })

  it('read as missing where a solid without an attribute is joined to one with it', () => {
    const box = boxSolid([0, 0, 0], [1, 1, 1])
    const weighed: Solid = { ...box, attributes: { weight: new Float32Array(8).fill(0.25) } }
    const joined = joinSolids([weighed, transformed(box, [1, 0, 0, 5, 0, 1, 0, 0, 0, 0, 1, 0])])
    expect(joined.attributes.normal).toBeUndefined()
    expect([...(joined.attributes.weight as Float32Array)]).toEqual([...new Array(8).fill(0.25), ...new Array(8).fill(ATTRIBUTES.weight.missing)])
  })
})

/** The way a triangle faces, from its corners. */
function facing({ positions: p, indices }: Solid, t: number): [number, number, number] {
  const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[3 * t + k])
  const u = [0, 1, 2].map((i) => p[b + i] - p[a + i])
  const v = [0, 1, 2].map((i) => p[c + i] - p[a + i])
  const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
  const l = Math.hypot(...n)
  return [n[0] / l, n[1] / l, n[2] / l]
}

describe('gather', () => {
  it('takes triangles in any order with just the vertices and rows they use', () => {
    const box = boxSolid([0, 0, 0], [2, 3, 4])
    const some = gather(box, [11, 0])
    expect(triangleCount(some)).toBe(2)
    expect(some.labels.group.length).toBe(1)
    for (const [t, from] of [
      [0, 11],
      [1, 0],
    ])
      for (let k = 0; k < 3; k++)
        expect([...some.positions.subarray(3 * some.indices[3 * t + k], 3 * some.indices[3 * t + k] + 3)]).toEqual([
          ...box.positions.subarray(3 * box.indices[3 * from + k], 3 * box.indices[3 * from + k] + 3),
        ])
  })
})

describe('solidFromTriangles', () => {
  it('lies on the lattice, welded, without degenerate triangles, and keeps what was closed closed', () => {
    const mesh = boxSolid([0.1, 0.2, 0.3], [700.7, 1, 2])
    expect(mesh.lattice).toBe(2 ** -13)
    for (const value of mesh.positions) expect(value / mesh.lattice).toBe(Math.round(value / mesh.lattice))
    expect(checkMesh(mesh)).toMatchObject({ sound: true, vertices: 8 })
    const tiny = solidFromTriangles({ positions: [0, 0, 0, 1, 0, 0, 0, 1e-9, 0], indices: [0, 1, 2] })
    expect(triangleCount(tiny)).toBe(0)
  })

  it('refuses what is no number and what is not there', () => {
    expect(() => solidFromTriangles({ positions: [0, 0, 0, Number.NaN, 0, 0, 0, 1, 0], indices: [0, 1, 2] })).toThrow(RangeError)
    expect(() => solidFromTriangles({ positions: [0, 0, 0, 1, 0, 0, 0, 1, 0], indices: [0, 1, 3] })).toThrow(RangeError)
  })
})

describe('an assembly', () => {
  it('tells how large it would be, and as one solid has every copy at its place with its numbers and colour', () => {
    const unit: Solid = {
      ...boxSolid([0, 0, 0], [1, 1, 1], { look: 0 }),
      looks: [{ name: 'bulb', material: { colour: '#ffffff', roughness: 0.2, metalness: 0 } }],
    }
    const copies = 50
    const matrix = new Float64Array(12 * copies)
    for (let i = 0; i < copies; i++) matrix.set([i % 2 ? -1 : 1, 0, 0, 3 * i, 0, 1, 0, 0, 0, 0, 1, 0], 12 * i)
    const assembly = {
      kind: 'assembly' as const,
      units: [unit],
      placements: {
        unit: new Uint32Array(copies),
        matrix,
        letter: Int32Array.from({ length: copies }, (_, i) => i % 3),
        copy: Int32Array.from({ length: copies }, (_, i) => i),
        shard: new Int32Array(copies).fill(NONE),
        colour: Int32Array.from({ length: copies }, (_, i) => (i === 7 ? NONE : (3 * i * 256 + 3 * i + 1) * 256 + 3 * i + 2)),
      },
      letters: ['x', 'y', 'z'],
      lattice: unit.lattice,
    }
    expect(assemblyTriangles(assembly)).toBe(12 * copies)
    const one = bakedAssembly(assembly)
    const report = checkMesh(one)
    expect(report).toMatchObject({ sound: true, parts: copies, triangles: assemblyTriangles(assembly) })
    expect(report.volume).toBeCloseTo(copies, 9)
    for (let i = 0; i < copies; i++) {
      const row = rowOf(one.labels, one.surface[12 * i])
      expect(row).toEqual({ ...PLAIN_ROW, letter: i % 3, copy: i, part: i, look: row.look })
      expect(one.looks[row.look].material.colour).toBe(
        i === 7 ? '#ffffff' : `#${[3 * i, 3 * i + 1, 3 * i + 2].map((c) => c.toString(16).padStart(2, '0')).join('')}`,
      )
    }
  })
})
