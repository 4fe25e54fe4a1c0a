import { beforeAll, describe, expect, it } from 'vitest'
import { loadManifold } from '../kernel/manifold'
import { PathBuilder } from '../outline/path'
import { pathPolygons, type PolygonSet } from '../outline/polygon'
import { membraneOf } from './inflate'
import { widestInset } from './ridge'

const LATTICE = 2 ** -14

beforeAll(async () => {
  await loadManifold()
})

function ellipse(a: number, b: number): PolygonSet {
  const n = 720
  const path = new PathBuilder(a, 0)
  for (let i = 1; i < n; i++) path.lineTo(a * Math.cos((2 * Math.PI * i) / n), b * Math.sin((2 * Math.PI * i) / n))
  return pathPolygons([path.build(true)], 0.001, LATTICE)
}

function rectangle(w: number, h: number): PolygonSet {
  const path = new PathBuilder(-w / 2, -h / 2)
  path.lineTo(w / 2, -h / 2)
  path.lineTo(w / 2, h / 2)
  path.lineTo(-w / 2, h / 2)
  return pathPolygons([path.build(true)], 0.01, LATTICE)
}

const swollen = (set: PolygonSet, roundness = 1) => membraneOf(set, widestInset(set), { roundness, rim: 0, division: widestInset(set) / 12 })

/** Largest difference from an exact solution, as a share of its largest value, over vertices that lie where `where` says. */
function worst({ surface, u }: ReturnType<typeof swollen>, exact: (x: number, y: number) => number, where = (_x: number, _y: number) => true): number {
  const used = new Set(surface.triangles)
  let [most, off] = [0, 0]
  for (const v of used) {
    const [x, y] = [surface.x[v], surface.y[v]]
    if (!where(x, y)) continue
    most = Math.max(most, exact(x, y))
    off = Math.max(off, Math.abs(u[v] - exact(x, y)))
  }
  return off / most
}

describe('the membrane under even pressure', () => {
  it('is the paraboloid on a disc, within 0.5 %', () => {
    expect(worst(swollen(ellipse(10, 10)), (x, y) => (100 - x * x - y * y) / 4)).toBeLessThan(0.005)
  })

  it('is the known solution on an ellipse, within 0.5 %', () => {
    const [a, b] = [14, 6]
    const c = 1 / (2 * (1 / a ** 2 + 1 / b ** 2))
    expect(worst(swollen(ellipse(a, b)), (x, y) => c * (1 - (x / a) ** 2 - (y / b) ** 2))).toBeLessThan(0.005)
  })

  it('is a parabola across the middle of a long strip, within 0.5 %', () => {
    const [w, h] = [80, 8]
    expect(
      worst(
        swollen(rectangle(w, h)),
        (_x, y) => ((h / 2) ** 2 - y * y) / 2,
        (x) => Math.abs(x) < 20,
      ),
    ).toBeLessThan(0.005)
  })

  it('flattens towards a cushion as springs are put under it, and never beyond what they allow', () => {
    const set = ellipse(10, 10)
    const [dome, cushion] = [swollen(set, 1), swollen(set, 0)]
    const flatness = ({ u, most }: ReturnType<typeof swollen>) => u.filter((v) => v > 0.8 * most).length / u.length
    expect(flatness(cushion)).toBeGreaterThan(2 * flatness(dome))
    // −Δu + κ²u = 1 stays under 1/κ²
    expect(cushion.most).toBeLessThanOrEqual((widestInset(set) / 8) ** 2)
  })
})
