import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { distanceToRings, polygons } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import type { PolygonSet } from '../outline/polygon'
import { distanceField, reliefSolid } from './relief'

beforeAll(async () => void (await loadManifold()))

const square = () =>
  polygons([
    [0, 0],
    [20, 0],
    [20, 12],
    [0, 12],
  ])
const ring = () =>
  polygons(
    [
      [0, 0],
      [24, 0],
      [24, 24],
      [0, 24],
    ],
    [
      [8, 8],
      [8, 16],
      [16, 16],
      [16, 8],
    ],
  )

describe('the distance to an outline', () => {
  it('is that to the nearest of all sides, from within, from without and from far away, whatever the cells', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<() => PolygonSet>(square, ring),
        fc.double({ min: 0.5, max: 30, noNaN: true }),
        fc.double({ min: -60, max: 80, noNaN: true }),
        fc.double({ min: -60, max: 80, noNaN: true }),
        (make, cell, x, y) => {
          const set = make()
          expect(distanceField(set, cell)(x, y)).toBeCloseTo(distanceToRings(set.rings, x, y), 9)
        },
      ),
      { numRuns: 200 },
    )
  })
})

describe('a relief', () => {
  it('that is flat is a plate: its volume is its area by its height', () => {
    for (const [make, area] of [
      [square, 240],
      [ring, 576 - 64],
    ] as const) {
      const { volume, findings } = checkMesh(reliefSolid(make(), 3, 2, () => 0))
      expect(findings).toEqual([])
      expect(volume).toBeCloseTo(3 * area, 3)
    }
  })

  it('stands as high as it is told at every place, on a flat back, and is sound', () => {
    const height = (x: number, y: number) => 1 + Math.sin(x / 3) * Math.cos(y / 4)
    const solid = reliefSolid(ring(), 2, 0.8, height)
    expect(checkMesh(solid).findings).toEqual([])
    const p = solid.positions
    let front = 0
    for (let v = 0; v < p.length; v += 3) {
      expect(p[v + 2]).toBeGreaterThanOrEqual(0)
      if (p[v + 2] === 0) continue
      expect(Math.abs(p[v + 2] - 2 - height(p[v], p[v + 1]))).toBeLessThanOrEqual(solid.lattice)
      front++
    }
    expect(front).toBeGreaterThan(600)
    // its volume is the integral, by the middles of fine squares
    let sum = 0
    const step = 0.1
    for (let x = step / 2; x < 24; x += step)
      for (let y = step / 2; y < 24; y += step) if (!(x > 8 && x < 16 && y > 8 && y < 16)) sum += (2 + height(x, y)) * step * step
    expect(checkMesh(solid).volume / sum).toBeCloseTo(1, 2)
  })

  it('never goes below its back: what would lie lower is held a little above it', () => {
    const solid = reliefSolid(square(), 0, 2, (x) => (x < 10 ? 0 : 3))
    expect(checkMesh(solid).findings).toEqual([])
    const deep = reliefSolid(square(), 1, 2, () => -50)
    expect(checkMesh(deep).volume).toBeCloseTo(240, 3)
  })

  it('knows of which letter each triangle is, where it is told', () => {
    const solid = reliefSolid(
      square(),
      2,
      2,
      () => 1,
      (x) => (x < 10 ? 0 : 1),
    )
    const { positions: p, indices, surface, labels } = solid
    const letters = new Set<number>()
    for (let t = 0; t < surface.length; t++) {
      const x = (p[3 * indices[3 * t]] + p[3 * indices[3 * t + 1]] + p[3 * indices[3 * t + 2]]) / 3
      const letter = labels.letter[surface[t]]
      letters.add(letter)
      if (x < 8) expect(letter).toBe(0)
      if (x > 12) expect(letter).toBe(1)
    }
    expect([...letters].sort()).toEqual([0, 1])
  })
})
