import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxMesh, together } from '../../test/helpers'
import { checkMesh } from './check'
import { buildBoxTree, forEachMeetingPair } from './tree'

const codes = (mesh: Parameters<typeof checkMesh>[0]) => checkMesh(mesh).findings.map((f) => f.code)

describe('checkMesh', () => {
  it('measures a box exactly', () => {
    const report = checkMesh(boxMesh(1, 2, 3, 4, 7, 5))
    expect(report).toMatchObject({
      sound: true,
      closed: true,
      manifold: true,
      crossings: 0,
      triangles: 12,
      vertices: 8,
      parts: 1,
      volume: 30,
      area: 62,
      size: [3, 5, 2],
    })
  })

  it('finds a hole and says where', () => {
    const box = boxMesh(0, 0, 0, 2, 2, 2)
    const report = checkMesh({ ...box, indices: box.indices.slice(3) })
    expect(report).toMatchObject({ sound: false, closed: false })
    expect(report.findings[0]).toMatchObject({ code: 'open', count: 3 })
    expect(report.findings[0].places).toContainEqual([1, 1, 0])
  })

  it('finds a triangle turned round', () => {
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    const indices = box.indices.slice()
    ;[indices[0], indices[1]] = [indices[1], indices[0]]
    expect(codes({ ...box, indices })).toContain('flipped')
  })

  it('finds a solid turned inside out', () => {
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    expect(codes({ ...box, indices: box.indices.slice().reverse() })).toEqual(['inside-out'])
  })

  it('finds an edge with four faces and a point where sheets touch', () => {
    expect(codes(together(boxMesh(0, 0, 0, 1, 1, 1), boxMesh(1, 1, 0, 2, 2, 1)))).toContain('overused')
    expect(codes(together(boxMesh(0, 0, 0, 1, 1, 1), boxMesh(1, 1, 1, 2, 2, 2)))).toContain('pinched')
  })

  it('finds nothing in an empty mesh but its emptiness, and names what is not a number', () => {
    expect(codes({ positions: [], indices: [] })).toEqual(['empty'])
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    box.positions[4] = Number.NaN
    expect(codes(box)).toContain('not-a-number')
  })

  it('tells boxes that cross from boxes that do not, at any offset', () => {
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -160, max: 160 }))), (offset) => {
        // sixteenths, moved off the grid so that no faces coincide
        const [dx, dy, dz] = offset.map((v) => v / 16 + 1 / 64)
        const mesh = together(boxMesh(0, 0, 0, 4, 4, 4), boxMesh(dx, dy, dz, dx + 4, dy + 4, dz + 4))
        const overlap = [dx, dy, dz].every((d) => Math.abs(d) < 4)
        const report = checkMesh(mesh)
        expect(report.crossings > 0).toBe(overlap)
        expect(report.sound).toBe(!overlap)
        expect(report.parts).toBe(2)
        expect(report.volume).toBeCloseTo(128, 9)
      }),
      { numRuns: 300 },
    )
  })

  it('sees a box within a box as two shells that do not cross', () => {
    expect(checkMesh(together(boxMesh(0, 0, 0, 9, 9, 9), boxMesh(3, 3, 3, 4, 4, 4)))).toMatchObject({ crossings: 0, parts: 2 })
  })

  it('finds surfaces that coincide', () => {
    expect(codes(together(boxMesh(0, 0, 0, 4, 4, 4), boxMesh(1, 1, 0, 2, 2, 4)))).toContain('crossing')
  })
})

describe('forEachMeetingPair', () => {
  it('gives just the pairs that brute force gives, each once', () => {
    const point = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 0, max: 40 })))
    fc.assert(
      fc.property(fc.array(fc.tuple(point, point, point), { minLength: 1, maxLength: 40 }), (triangles) => {
        const positions = triangles.flat(2)
        const indices = Array.from({ length: 3 * triangles.length }, (_, i) => i)
        const tree = buildBoxTree(positions, indices)
        const found: string[] = []
        forEachMeetingPair(tree, (s, t) => {
          found.push(`${Math.min(s, t)}-${Math.max(s, t)}`)
          return true
        })
        const wanted: string[] = []
        const b = new Float64Array(tree.triangleBoxes.length)
        tree.order.forEach((t, i) => b.set(tree.triangleBoxes.subarray(6 * i, 6 * i + 6), 6 * t))
        for (let s = 0; s < triangles.length; s++)
          for (let t = s + 1; t < triangles.length; t++)
            if ([0, 1, 2].every((k) => b[6 * s + k] <= b[6 * t + 3 + k] && b[6 * t + k] <= b[6 * s + 3 + k])) wanted.push(`${s}-${t}`)
        expect(found.sort()).toEqual(wanted.sort())
      }),
      { numRuns: 200 },
    )
  })
})
