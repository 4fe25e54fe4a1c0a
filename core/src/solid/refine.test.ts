import fc from 'fast-check'
import { expect, it } from 'vitest'
import { edgesOf } from '../check/edges'
import { refineTriangles } from './refine'

/** The least angle of any triangle, degrees. */
function leastAngle(p: Float64Array, indices: Uint32Array): number {
  let least = 180
  for (let i = 0; i < indices.length; i++) {
    const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[i - (i % 3) + ((i + k) % 3)])
    const [u, v] = [[0, 1, 2].map((k) => p[b + k] - p[a + k]), [0, 1, 2].map((k) => p[c + k] - p[a + k])]
    const [ux, vx] = [Math.hypot(...u), Math.hypot(...v)]
    least = Math.min(least, (Math.acos(Math.max(-1, Math.min(1, (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / (ux * vx)))) * 180) / Math.PI)
  }
  return least
}

const square = (height: number) => ({
  positions: Float64Array.of(0, 0, 0, 40, 0, 0, 40, height, 0, 0, height, 0),
  indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
})

it('parts sides until none is too long, without a gap, says where it all was, and where the longest go first leaves no slivers about a fine spot', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 40, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 10, max: 40, noNaN: true }),
      fc.boolean(),
      (x, share, height, longest) => {
        const from = square(height)
        const tooLong = (p: Float64Array, a: number, b: number) => {
          const [mx, my] = [(p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2]
          return Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1]) > 0.3 + 0.4 * Math.hypot(mx - x, my - share * height)
        }
        const refined = refineTriangles(from, tooLong, { longest })
        if (!refined) throw new Error('too many')
        const { positions: p, indices, weights } = refined
        // each corner lies where its weights say, in triangles that are in the order of those given
        refined.from.forEach((t, i) => {
          if (i > 0) expect(t).toBeGreaterThanOrEqual(refined.from[i - 1])
          for (let c = 3 * i; c < 3 * i + 3; c++)
            for (let j = 0; j < 3; j++) {
              const at = [0, 1, 2].reduce((sum, k) => sum + weights[3 * c + k] * from.positions[3 * from.indices[3 * t + k] + j], 0)
              expect(at).toBeCloseTo(p[3 * indices[c] + j], 9)
            }
        })
        for (let i = 0; i < indices.length; i++) expect(tooLong(p, 3 * indices[i], 3 * indices[i % 3 === 2 ? i - 2 : i + 1])).toBe(false)
        // every edge but those of the border is of two triangles, and the area is what it was
        const { edge, count } = edgesOf(indices)
        const uses = new Uint8Array(count)
        for (const e of edge) uses[e]++
        let area = 0
        for (let i = 0; i < indices.length; i += 3) {
          const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
          area += ((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])) / 2
        }
        expect(area).toBeCloseTo(40 * height, 6)
        edge.forEach((e, i) => {
          const [a, b] = [3 * indices[i], 3 * indices[i % 3 === 2 ? i - 2 : i + 1]]
          const border = [0, 1].some((k) => p[a + k] === p[b + k] && (p[a + k] === 0 || p[a + k] === (k === 0 ? 40 : height)))
          expect(uses[e]).toBe(border ? 1 : 2)
        })
        if (longest) expect(leastAngle(p, indices)).toBeGreaterThan(leastAngle(from.positions, from.indices) / 2 - 1e-6)
      },
    ),
    { numRuns: 60 },
  )
})
