import fc from 'fast-check'
import { expect, it } from 'vitest'
import { latticeFor, snap } from '../outline/lattice'
import { doubleArea } from '../outline/polygon'
import { constrainedTriangles } from './delaunay'
import { PairTable } from './pair-table'

const LATTICE = latticeFor(100)

/** A star about a point: simple by construction, with a hole that stays inside. */
const starWithHole = fc.record({
  radii: fc.array(fc.double({ min: 12, max: 40, noNaN: true }), { minLength: 5, maxLength: 60 }),
  hole: fc.option(fc.array(fc.double({ min: 1, max: 4, noNaN: true }), { minLength: 3, maxLength: 12 }), { nil: undefined }),
})

it('fills a polygon with holes exactly, by the number of triangles that Euler asks for', () => {
  fc.assert(
    fc.property(starWithHole, ({ radii, hole }) => {
      const x: number[] = []
      const y: number[] = []
      const ring = (rs: readonly number[], way: 1 | -1) =>
        rs.map((r, i) => {
          const angle = (way * 2 * Math.PI * i) / rs.length
          x.push(snap(r * Math.cos(angle), LATTICE))
          y.push(snap(r * Math.sin(angle), LATTICE))
          return x.length - 1
        })
      const loops = [ring(radii, 1), ...(hole ? [ring(hole, -1)] : [])]
      const area = loops.reduce((sum, loop) => sum + doubleArea(loop.flatMap((v) => [x[v], y[v]])), 0)
      // a hole that pokes through the star is no polygon set
      const inner = Math.min(...radii) * Math.cos(Math.PI / radii.length)
      if (hole && inner < 4.1) return
      const found = constrainedTriangles(loops, loops.flat(), x, y)
      expect(found).toBeDefined()
      let sum = 0
      const directed = new Set<string>()
      for (let i = 0; i < (found ?? []).length; i += 3) {
        const [a, b, c] = (found as number[]).slice(i, i + 3)
        const one = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
        expect(one).toBeGreaterThan(0)
        sum += one
        for (const side of [`${a} ${b}`, `${b} ${c}`, `${c} ${a}`]) {
          expect(directed.has(side)).toBe(false)
          directed.add(side)
        }
      }
      expect(sum).toBeCloseTo(area, 6)
      for (const loop of loops) loop.forEach((v, i) => expect(directed.has(`${v} ${loop[(i + 1) % loop.length]}`)).toBe(true))
    }),
    { numRuns: 150 },
  )
})

it('gives up, and says so, where points coincide', () => {
  const x = [0, 10, 10, 0, 0]
  const y = [0, 0, 10, 10, 0]
  expect(constrainedTriangles([[0, 1, 2, 3, 4]], [0, 1, 2, 3, 4], x, y)).toBeUndefined()
})

it('a table of pairs answers as a map would', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(2 ** 31 - 2), fc.nat(40), fc.nat(1000)), { maxLength: 400 }), (entries) => {
      const table = new PairTable(4)
      const map = new Map<string, number>()
      for (const [a, b, value] of entries) {
        expect(table.set(a, b, value)).toBe(!map.has(`${a} ${b}`))
        map.set(`${a} ${b}`, value)
      }
      expect(table.size).toBe(map.size)
      for (const [a, b] of entries) expect(table.get(a, b)).toBe(map.get(`${a} ${b}`))
      expect(table.get(7, 41)).toBe(-1)
      const marks = new PairTable(4)
      const bits = new Map<string, number>()
      for (const [a, b, value] of entries) {
        const key = `${a} ${b}`
        expect(marks.mark(a, b, 1 << (value % 3))).toBe(bits.get(key) ?? 0)
        bits.set(key, (bits.get(key) ?? 0) | (1 << (value % 3)))
      }
    }),
  )
})
