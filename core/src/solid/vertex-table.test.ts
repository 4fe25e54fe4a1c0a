import fc from 'fast-check'
import { expect, it } from 'vitest'
import { longer, VertexTable } from './vertex-table'

const LATTICE = 2 ** -14

/** Points of the lattice, near one another so that many fall together, or far out on either side. */
const coordinate = fc.oneof(fc.integer({ min: -3, max: 3 }), fc.integer({ min: -8_000_000, max: 8_000_000 })).map((n) => n * LATTICE)
const points = fc.array(fc.tuple(coordinate, coordinate, coordinate), { maxLength: 600 })

it('has one vertex for every point, in the order they first came, whatever room was made before', () => {
  fc.assert(
    fc.property(points, fc.nat(50), (list, room) => {
      const table = new VertexTable(LATTICE)
      table.reserveVertices(room, room)
      const numbers = new Map<string, number>()
      for (const [x, y, z] of list) {
        const name = [x, y, z].map((v) => v + 0).join()
        if (!numbers.has(name)) numbers.set(name, numbers.size)
        expect(table.vertex(x, y, z)).toBe(numbers.get(name))
      }
      expect(Array.from(table.vertexPositions(), (v) => v + 0).join()).toBe([...numbers.keys()].join())
    }),
    { numRuns: 150 },
  )
})

it('finds a vertex over the same point of the plane as another, and makes it where there is none', () => {
  fc.assert(
    fc.property(fc.array(coordinate, { minLength: 1, maxLength: 40 }), coordinate, coordinate, (heights, x, y) => {
      const table = new VertexTable(LATTICE)
      const first = table.vertex(x, y, heights[0])
      const made = heights.map((z) => table.inColumn(first, x, y, z))
      expect(heights.map((z) => table.vertex(x, y, z))).toEqual(made)
      // from any vertex over that point
      expect(heights.map((z, i) => table.inColumn(made[(i + 1) % made.length], x, y, z))).toEqual(made)
      expect(table.vertexPositions().length).toBe(3 * new Set(heights.map((z) => z + 0)).size)
    }),
  )
})

it('makes arrays longer without changing what is in them', () => {
  const list = Float32Array.from([1, 2, 3])
  expect(longer(list, 5)).toEqual(Float32Array.from([1, 2, 3, 0, 0]))
  expect(list).toHaveLength(3)
})
