import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { oppositesOf } from '../check/edges'
import { Chart } from './chart'
import { Sheet } from './sheet'
import type { Surface } from './surface'

type Lift = (x: number, y: number) => number

/** A square cloth of 40 mm over the plane, lifted; its places in the plane are its x and y. */
function cloth(n: number, lift: Lift): { surface: Surface; uv: Float64Array; normals: Float64Array } {
  const positions: number[] = []
  const indices: number[] = []
  const step = 40 / n
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i * step - 20, j * step - 20, lift(i * step - 20, j * step - 20))
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++) {
      const a = j * (n + 1) + i
      if ((i + j) % 2) indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1)
      else indices.push(a, a + 1, a + n + 1, a + 1, a + n + 2, a + n + 1)
    }
  const p = Float64Array.from(positions)
  const ids = Uint32Array.from(indices)
  const normals = new Float64Array(p.length)
  const h = 1e-5
  for (let o = 0; o < p.length; o += 3) {
    const [x, y] = [p[o], p[o + 1]]
    const n3 = [-(lift(x + h, y) - lift(x - h, y)) / (2 * h), -(lift(x, y + h) - lift(x, y - h)) / (2 * h), 1]
    const size = Math.hypot(...n3)
    for (let k = 0; k < 3; k++) normals[o + k] = n3[k] / size
  }
  return {
    surface: { positions: p, indices: ids, opposite: oppositesOf(ids) },
    uv: Float64Array.from({ length: (2 * p.length) / 3 }, (_, i) => p[3 * (i >> 1) + (i % 2)]),
    normals,
  }
}

const AREA = [-20, -20, 20, 20] as const
const inside = fc.tuple(fc.double({ min: -19.9, max: 19.9, noNaN: true }), fc.double({ min: -19.9, max: 19.9, noNaN: true }))
const wavy: Lift = (x, y) => 3 * Math.sin(x / 9) * Math.cos(y / 11)

describe('a chart', () => {
  it('finds the triangle over each place, by weights that give the place back; nothing beside it', () => {
    const { surface, uv } = cloth(17, wavy)
    const chart = new Chart(surface, uv, AREA)
    expect(chart.turned).toEqual([])
    expect(chart.shown).toHaveLength(surface.indices.length / 3)
    expect(chart.found).toBe('first')
    fc.assert(
      fc.property(inside, ([u, v]) => {
        const place = chart.at(u, v)
        if (!place) throw new Error(`nothing at ${u}, ${v}`)
        expect(place.weights.reduce((sum, w) => sum + w)).toBeCloseTo(1, 9)
        for (const w of place.weights) expect(w).toBeGreaterThan(-1e-8)
        for (const k of [0, 1])
          expect(place.weights.reduce((sum, w, c) => sum + w * uv[2 * surface.indices[3 * place.triangle + c] + k], 0)).toBeCloseTo([u, v][k], 7)
      }),
    )
    expect(chart.at(25, 0)).toBeUndefined()
    expect(chart.at(0, -20.5)).toBeUndefined()
  })

  it('leaves out what is turned over and what is too wide, and says what is turned', () => {
    const { surface, uv } = cloth(8, () => 0)
    // the middle is drawn over its neighbours
    const middle = 4 * 9 + 4
    const bent = uv.slice()
    bent[2 * middle] += 12
    const chart = new Chart(surface, bent, AREA)
    expect(chart.turned.length).toBeGreaterThan(0)
    expect(chart.turned.length + chart.shown.length).toBe(surface.indices.length / 3)
    for (const t of chart.turned) {
      const [a, b, c] = [0, 1, 2].map((k) => 2 * surface.indices[3 * t + k])
      expect((bent[b] - bent[a]) * (bent[c + 1] - bent[a + 1]) - (bent[c] - bent[a]) * (bent[b + 1] - bent[a + 1])).toBeLessThanOrEqual(0)
    }
    for (let u = -19; u < 20; u += 2.3) for (let v = -19; v < 20; v += 1.7) expect(chart.turned).not.toContain(chart.at(u, v)?.triangle)
    const narrow = new Chart(surface, uv, AREA, undefined, 4)
    expect(narrow.shown).toEqual([])
    expect(narrow.at(0, 0)).toBeUndefined()
    // corners without a place are of no triangle
    const torn = uv.slice()
    torn[2 * middle] = Number.NaN
    expect(new Chart(surface, torn, AREA).at(0, 0)).toBeUndefined()
  })

  it('finds the highest of two that lie over each other, where it is told heights', () => {
    const low = cloth(6, () => 1)
    const high = cloth(5, (x) => (x > 0 ? 4 : -2))
    const count = low.uv.length / 2
    const indices = Uint32Array.from([...low.surface.indices, ...high.surface.indices.map((v) => v + count)])
    const positions = Float64Array.from([...low.surface.positions, ...high.surface.positions])
    const height = Float64Array.from({ length: positions.length / 3 }, (_, v) => positions[3 * v + 2])
    const chart = new Chart({ positions, indices, opposite: oppositesOf(indices) }, Float64Array.from([...low.uv, ...high.uv]), AREA, height)
    expect(chart.found).toBe('highest')
    const own = low.surface.indices.length / 3
    fc.assert(
      fc.property(inside, ([u, v]) => {
        fc.pre(Math.abs(u) > 9)
        const place = chart.at(u, v)
        expect((place?.triangle ?? -1) >= own).toBe(u > 0)
      }),
    )
  })

  it('tells how a triangle is stretched, and where u grows on it', () => {
    // sheared by 45° upwards along x: √2 longer that way, as long across
    const { surface, uv } = cloth(10, (x) => x)
    const chart = new Chart(surface, uv, AREA)
    for (const t of [0, 37, 120]) {
      const [least, most] = chart.stretch(t, surface.positions)
      expect(least).toBeCloseTo(1, 9)
      expect(most).toBeCloseTo(Math.SQRT2, 9)
      const way = chart.direction(t, surface.positions)
      expect(way[0]).toBeCloseTo(1, 9)
      expect(way[1]).toBeCloseTo(0, 9)
      expect(way[2]).toBeCloseTo(1, 9)
    }
  })
})

describe('a sheet', () => {
  const sheetOf = (n: number, lift: Lift, net: number) => {
    const { surface, uv, normals } = cloth(n, lift)
    return new Sheet(new Chart(surface, uv, [-22, -22, 22, 22]), surface, surface.positions, normals, [-16, -16, 16, 16], net)
  }
  const within = fc.tuple(fc.double({ min: -15.9, max: 15.9, noNaN: true }), fc.double({ min: -15.9, max: 15.9, noNaN: true }))

  it('is the plane where the surface is one, and goes on past its border', () => {
    const sheet = sheetOf(12, (x, y) => 0.3 * x - 0.2 * y + 5, 2)
    fc.assert(
      fc.property(within, ([u, v]) => {
        const { point, normal, along } = sheet.at(u, v)
        for (const [k, wanted] of [u, v, 0.3 * u - 0.2 * v + 5].entries()) expect(point[k]).toBeCloseTo(wanted, 6)
        const size = Math.hypot(0.3, 0.2, 1)
        for (const [k, wanted] of [-0.3 / size, 0.2 / size, 1 / size].entries()) expect(normal[k]).toBeCloseTo(wanted, 6)
        // u grows along (1, 0, 0.3)
        expect(along[2] / along[0]).toBeCloseTo(0.3, 6)
        expect(along[1]).toBeCloseTo(0, 6)
      }),
    )
  })

  it('comes nearer to a smooth surface the finer its net is, and is smooth where triangles bend', () => {
    const worst = (net: number) => {
      const sheet = sheetOf(80, wavy, net)
      let off = 0
      for (let u = -14; u <= 14; u += 0.7) for (let v = -14; v <= 14; v += 0.9) off = Math.max(off, Math.abs(sheet.at(u, v).point[2] - wavy(u, v)))
      return off
    }
    const [coarse, fine] = [worst(4), worst(1.5)]
    expect(fine).toBeLessThan(coarse)
    expect(fine).toBeLessThan(0.02)
    // a roof of few triangles: its ridge is round on the sheet, the same from either side
    const roof = sheetOf(4, (x) => -Math.abs(x), 3)
    let last = roof.at(-6, 1.3)
    for (let u = -6; u <= 6; u += 0.05) {
      const next = roof.at(u, 1.3)
      expect(Math.hypot(...next.normal.map((n, k) => n - last.normal[k]))).toBeLessThan(0.05)
      expect(Math.hypot(...next.normal)).toBeCloseTo(1, 9)
      last = next
    }
  })
})
