import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { weldByPosition } from './check'
import { EdgeTable } from './edge-table'
import { within } from '../../test/within'

describe('EdgeTable', () => {
  it('keeps what a map keeps, directions apart', () => {
    const vertex = fc.oneof(fc.nat(8), fc.nat(2 ** 31 - 2))
    fc.assert(
      fc.property(fc.array(fc.tuple(vertex, vertex), { maxLength: 300 }), vertex, vertex, (edges, a, b) => {
        const table = new EdgeTable(edges.length)
        const map = new Map<string, number>()
        for (const [u, v] of edges) {
          table.value[table.slot(u, v)]++
          map.set(`${u},${v}`, (map.get(`${u},${v}`) ?? 0) + 1)
        }
        for (const [u, v] of edges) expect(table.get(u, v, -1)).toBe(map.get(`${u},${v}`))
        expect(table.get(a, b, -1)).toBe(map.get(`${a},${b}`) ?? -1)
        expect(table.from.filter((v) => v >= 0).length).toBe(map.size)
      }),
      { numRuns: 300 },
    )
  })
})

describe('weldByPosition', () => {
  it('makes one vertex of every place, whatever the order, and keeps the triangles', () => {
    const place = fc.constantFrom(0, -0, 1, 0.1, 0.30000000000000004, 0.3, -7.5)
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place, place), { minLength: 3, maxLength: 60 }), (points) => {
        const positions = Float64Array.from(points.flat())
        const indices = Uint32Array.from({ length: 3 * Math.floor(points.length / 3) }, (_, i) => i)
        const welded = weldByPosition({ positions, indices })
        const names = new Set(points.map((p) => p.map((v) => v + 0).join()))
        expect(welded.positions.length).toBe(3 * names.size)
        welded.indices.forEach((v, i) => {
          const at = [0, 1, 2].map((k) => welded.positions[3 * v + k])
          expect(at).toEqual(points[i].map((c) => c + 0))
        })
      }),
      { numRuns: 300 },
    )
  })

  it('does not slow down on thousands of equal places or of NaN', async () => {
    for (const value of [1.25, Number.NaN]) {
      const positions = new Float64Array(300_000).fill(value)
      const welded = await within(2000, () => weldByPosition({ positions, indices: Uint32Array.of(0, 1, 2) }))
      expect(welded.positions.length).toBe(3)
    }
  })
})
