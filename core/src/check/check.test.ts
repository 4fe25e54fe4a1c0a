import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxMesh, together } from '../../test/helpers'
import { checkMesh } from './check'
import { crossingPairs } from './crossings'
import { oppositesOf } from './edges'
import { SoundTriangles } from './sound-triangles'
import { buildBoxTree, forEachMeetingPair } from './tree'
import { trianglesCross } from './triangles'

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

  it('finds the same with what lies across each side given, whatever is left out, turned over or put in twice', () => {
    let unsound = 0
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.nat(11), how: fc.constantFrom('without', 'turned', 'twice', 'flat') }), { maxLength: 3 }),
        fc.boolean(),
        (changes, apart) => {
          const box = boxMesh(0, 0, 0, 1, 2, 3)
          const triangles = Array.from({ length: 12 }, (_, t) => Array.from(box.indices.slice(3 * t, 3 * t + 3)))
          for (const { at, how } of changes) {
            const t = at % triangles.length
            const [a, b, c] = triangles[t]
            if (how === 'without') triangles.splice(t, 1)
            else if (how === 'turned') triangles[t] = [c, b, a]
            else triangles.push(how === 'twice' ? [a, b, c] : [a, a, b])
          }
          const indices = Uint32Array.from(triangles.flat())
          // or with corners of their own, which lie at the same places
          const mesh = apart
            ? { positions: Array.from(indices).flatMap((v) => Array.from(box.positions.slice(3 * v, 3 * v + 3))), indices: indices.map((_, i) => i) }
            : { positions: box.positions, indices }
          const report = checkMesh(mesh, { deep: false })
          if (!report.sound) unsound++
          expect(checkMesh(mesh, { deep: false, opposite: oppositesOf(mesh.indices) })).toEqual(report)
          // the edges by another way: how often each is run along
          const runs = new Map<string, [number, number]>()
          for (const [a, b, c] of triangles)
            if (a !== b && b !== c && a !== c)
              for (const [u, v] of [
                [a, b],
                [b, c],
                [c, a],
              ]) {
                const run = runs.get(`${Math.min(u, v)} ${Math.max(u, v)}`) ?? [0, 0]
                run[u < v ? 0 : 1]++
                runs.set(`${Math.min(u, v)} ${Math.max(u, v)}`, run)
              }
          const counted = { open: 0, flipped: 0, overused: 0 }
          for (const [forth, back] of runs.values())
            if (forth !== 1 || back !== 1) counted[forth + back === 1 ? 'open' : forth + back === 2 ? 'flipped' : 'overused']++
          for (const code of ['open', 'flipped', 'overused'] as const)
            expect(report.findings.find((found) => found.code === code)?.count ?? 0).toBe(counted[code])
        },
      ),
    )
    expect(unsound).toBeGreaterThan(20)
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
  const point = (most: number) => fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 0, max: most })))
  const soup = (most: number) =>
    fc.array(fc.tuple(point(most), point(most), point(most)), { minLength: 1, maxLength: 40 }).map((triangles) => ({
      positions: Float64Array.from(triangles.flat(2)),
      indices: Uint32Array.from({ length: 3 * triangles.length }, (_, i) => i),
    }))
  const every = (count: number) => Array.from({ length: count }, (_, s) => Array.from({ length: count - s - 1 }, (_, i) => [s, s + 1 + i])).flat()
  const named = (pairs: readonly (readonly number[])[]) => pairs.map(([s, t]) => `${Math.min(s, t)}-${Math.max(s, t)}`).sort()
  const visited = (tree: ReturnType<typeof buildBoxTree>) => {
    const found: number[][] = []
    forEachMeetingPair(tree, (s, t) => {
      found.push([s, t])
      return true
    })
    return named(found)
  }
  const boxes = (tree: ReturnType<typeof buildBoxTree>) => {
    const b = new Float64Array(tree.triangleBoxes.length)
    tree.order.forEach((t, i) => b.set(tree.triangleBoxes.subarray(6 * i, 6 * i + 6), 6 * t))
    return b
  }

  it('gives just the pairs that brute force gives, each once', () => {
    fc.assert(
      fc.property(soup(40), ({ positions, indices }) => {
        const tree = buildBoxTree(positions, indices)
        const b = boxes(tree)
        const meet = ([s, t]: number[]) => [0, 1, 2].every((k) => b[6 * s + k] <= b[6 * t + 3 + k] && b[6 * t + k] <= b[6 * s + 3 + k])
        expect(visited(tree)).toEqual(named(every(indices.length / 3).filter(meet)))
      }),
      { numRuns: 200 },
    )
  })

  it('leaves out none that cross where flat triangles are parted from others, and only those that touch', () => {
    let left = 0
    fc.assert(
      fc.property(soup(3), ({ positions, indices }) => {
        const pairs = every(indices.length / 3)
        const met = new Set(visited(buildBoxTree(positions, indices, { flatsApart: true })))
        const all = visited(buildBoxTree(positions, indices))
        left += all.length - met.size
        expect(all).toEqual(expect.arrayContaining([...met]))
        const cross = pairs.filter(([s, t]) => trianglesCross(positions, indices, s, t))
        expect([...met]).toEqual(expect.arrayContaining(named(cross)))
        expect(named(crossingPairs(positions, indices, Infinity))).toEqual(named(cross))
      }),
      { numRuns: 400 },
    )
    expect(left).toBeGreaterThan(1000)
  })

  it('leaves out pairs of which both have the same owner, and no others', () => {
    fc.assert(
      fc.property(soup(5), fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 40, maxLength: 40 }), ({ positions, indices }, list) => {
        const owners = Int32Array.from(list.slice(0, indices.length / 3))
        const cross = every(indices.length / 3).filter(([s, t]) => trianglesCross(positions, indices, s, t) && (owners[s] === 0 || owners[s] !== owners[t]))
        expect(named(crossingPairs(positions, indices, Infinity, { owners }))).toEqual(named(cross))
      }),
      { numRuns: 200 },
    )
  })
})

describe('triangles of sound solids', () => {
  const box = boxMesh(0, 0, 0, 9, 6, 3)
  const other = boxMesh(3, 3, 1, 12, 12, 2)
  const solid = ({ positions, indices }: { positions: ArrayLike<number>; indices: ArrayLike<number> }) => ({
    positions: Float64Array.from(positions),
    indices: Uint32Array.from(indices),
  })

  it('are known again, whichever corner comes first and however vertices are numbered, by whose they are', () => {
    const known = new SoundTriangles([solid(box), solid(other)])
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 2 }), fc.integer({ min: 0, max: 2 })), { minLength: 1 }),
        (list) => {
          const positions: number[] = []
          const wanted = list.map(([n, turn, spoilt]) => {
            const [mesh, t] = n < 12 ? [box, n] : [other, n - 12]
            const corners = [0, 1, 2]
              .map((k) => mesh.indices[3 * t + ((k + turn) % 3)])
              .map((v) => Array.from({ length: 3 }, (_, k) => mesh.positions[3 * v + k]))
            // turned over, or a corner moved by next to nothing
            if (spoilt === 1) corners.reverse()
            if (spoilt === 2) corners[turn][0] += 2 ** -14
            positions.push(...corners.flat())
            return spoilt > 0 ? 0 : n < 12 ? 1 : 2
          })
          const mesh = { positions: Float64Array.from(positions), indices: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i) }
          expect([...known.ownersIn(mesh)]).toEqual(wanted)
        },
      ),
    )
  })
})
