import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { ballBody, plainSolid } from '../../test/bodies'
import { boxMesh, together } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { loadManifold } from '../kernel/manifold'
import { duplicates } from './duplicates'
import { faceOneWay } from './facing'
import { closeHoles } from './holes'
import { joinSeams } from './seams'
import { uniteShells } from './unite-shells'
import { weld } from './weld'

beforeAll(async () => void (await loadManifold()))

/** Sides that have no counterpart running the other way, or that run the same way more than once: counted by words, with no table of the kernel's. */
function loose(indices: ArrayLike<number>): string[] {
  const count = new Map<string, number>()
  for (let i = 0; i < indices.length; i++) {
    const key = `${indices[i]}>${indices[i % 3 === 2 ? i - 2 : i + 1]}`
    count.set(key, (count.get(key) ?? 0) + 1)
  }
  return [...count].filter(([key, n]) => n !== 1 || count.get(key.split('>').reverse().join('>')) !== 1).map(([key]) => key)
}

/** By tetrahedra from the origin. */
function volume(p: ArrayLike<number>, indices: ArrayLike<number>): number {
  let sum = 0
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    sum += p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) + p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])
  }
  return sum / 6
}

const concat = (a: ArrayLike<number>, b: ArrayLike<number>) => Uint32Array.from([...Array.from(a), ...Array.from(b)])
/** A mesh whose sides are all matched is one that has no loose ones. */
const whole = (indices: ArrayLike<number>) => expect(loose(indices)).toEqual([])

describe('welding', () => {
  const lattice = 2 ** -6
  const coordinate = fc.integer({ min: -4, max: 4 })
  const jitter = fc.double({ min: -0.49, max: 0.49, noNaN: true })

  it('makes one of all that round to one place, and keeps apart what does not', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(coordinate, coordinate, coordinate, jitter, jitter, jitter), { minLength: 1, maxLength: 80 }), (points) => {
        const { places, of } = weld(
          points.flatMap(([i, j, k, x, y, z]) => [(i + x) * lattice, (j + y) * lattice, (k + z) * lattice]),
          lattice,
        )
        points.forEach(([i, j, k], v) => {
          expect([...places.subarray(3 * of[v], 3 * of[v] + 3)]).toEqual([i * lattice + 0, j * lattice + 0, k * lattice + 0])
        })
        expect(places.length / 3).toBe(new Set(points.map(([i, j, k]) => `${i} ${j} ${k}`)).size)
        // numbers in the order in which places are met first
        const met = new Set<number>()
        for (const w of of) {
          expect(w).toBeLessThanOrEqual(met.size)
          met.add(w)
        }
      }),
    )
  })

  it('takes both zeros for one, and places far from the origin', () => {
    const { places, of } = weld([0, 0, 0, -0, -0, -0, 1e6, -1e6, 1e6, 1e6, -1e6, 1e6], lattice)
    expect([...of]).toEqual([0, 0, 1, 1])
    expect(Object.is(places[0], 0)).toBe(true)
    expect(weld([], lattice)).toEqual({ places: new Float64Array(0), of: new Uint32Array(0) })
  })
})

describe('duplicates', () => {
  const corner = fc.constantFrom(0, 1, 2, 3, 4)
  const triangle = fc.tuple(corner, corner, corner).filter(([a, b, c]) => a !== b && b !== c && a !== c)
  /** the corners, and which way round they run */
  const named = ([a, b, c]: readonly number[]) => {
    const sorted = [a, b, c].sort()
    const at = sorted.indexOf(a)
    return { corners: sorted.join(), way: sorted[(at + 1) % 3] === b ? 1 : -1 }
  }

  it('leaves nothing twice; one where all run one way, none of a pair back to back', () => {
    fc.assert(
      fc.property(fc.array(triangle, { maxLength: 40 }), (triangles) => {
        const out = duplicates(Uint32Array.from(triangles.flat()))
        expect([...out]).toEqual([...new Set(out)].sort((a, b) => a - b))
        const left = triangles.filter((_, t) => !out.includes(t)).map(named)
        expect(new Set(left.map((n) => n.corners)).size).toBe(left.length)
        const all = triangles.map(named)
        for (const corners of new Set(all.map((n) => n.corners))) {
          const members = all.filter((n) => n.corners === corners)
          const stays = left.filter((n) => n.corners === corners)
          if (members.every((m) => m.way === members[0].way)) expect(stays).toEqual([members[0]])
          if (members.length === 2 && members[0].way !== members[1].way) expect(stays).toEqual([])
        }
      }),
    )
  })

  it('takes the wall between two boxes that stand face to face out, and both are one closed box', () => {
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    // the same in a mirror, so that the wall is cut along the same diagonal
    const mirrored = { positions: box.positions.map((v, i) => (i % 3 === 0 ? 2 - v : v)), indices: box.indices.toReversed() }
    const { positions, indices } = together(box, mirrored)
    const { places, of } = weld(positions, 2 ** -10)
    const welded = indices.map((v) => of[v])
    const out = duplicates(welded)
    expect(out).toHaveLength(4)
    const left = welded.filter((_, i) => !out.includes(Math.floor(i / 3)))
    whole(left)
    expect(volume(places, left)).toBeCloseTo(2, 12)
  })
})

describe('facing', () => {
  const shapes: [string, { positions: Float64Array; indices: Uint32Array }, number][] = [
    ['a box', boxMesh(0, 0, 0, 3, 2, 1), 6],
    ['two boxes apart', together(boxMesh(0, 0, 0, 1, 1, 1), boxMesh(5, 5, 5, 7, 7, 7)), 9],
    ['a box in a box, which is a hollow', together(boxMesh(0, 0, 0, 9, 9, 9), boxMesh(3, 3, 3, 6, 6, 6)), 729 - 27],
    ['a box in a hollow in a box', together(boxMesh(0, 0, 0, 9, 9, 9), boxMesh(2, 2, 2, 7, 7, 7), boxMesh(4, 4, 4, 5, 5, 5)), 729 - 125 + 1],
  ]
  it.each(shapes)('turns %s the right way, whichever of its triangles were turned over', (_, { positions, indices }, expected) => {
    fc.assert(
      fc.property(fc.infiniteStream(fc.boolean()), (coins) => {
        const turned = indices.slice()
        for (let t = 0; t < turned.length; t += 3) if (coins.next().value) [turned[t + 1], turned[t + 2]] = [turned[t + 2], turned[t + 1]]
        const before = turned.slice()
        const told = faceOneWay(positions, turned)
        whole(turned)
        expect(volume(positions, turned)).toBeCloseTo(expected, 9)
        // told are those that differ, and no others
        const differ: number[] = []
        for (let t = 0; t < turned.length / 3; t++) if (before[3 * t + 1] !== turned[3 * t + 1]) differ.push(t)
        expect([...told]).toEqual(differ)
      }),
      { numRuns: 30 },
    )
  })

  it('is not led astray by a fin on a side where three triangles meet', () => {
    const box = boxMesh(0, 0, 0, 1, 1, 1)
    const [a, b] = [box.indices[0], box.indices[1]]
    const positions = Float64Array.from([...box.positions, 5, 5, 5])
    const indices = concat(box.indices, [a, b, positions.length / 3 - 1])
    for (let t = 3; t < 12; t += 6) [indices[t + 1], indices[t + 2]] = [indices[t + 2], indices[t + 1]]
    faceOneWay(positions, indices)
    expect(Math.abs(volume(positions, indices.subarray(0, box.indices.length)))).toBeCloseTo(1, 9)
  })
})

describe('holes', () => {
  const ball = ballBody(10, 6)
  const full = checkMesh(ball).volume

  it('closes what was taken out of a ball, however much and wherever: nothing loose, little volume lost, one hole for each', () => {
    const triangles = ball.indices.length / 3
    fc.assert(
      fc.property(fc.integer({ min: 0, max: triangles - 1 }), fc.integer({ min: 1, max: 12 }), (seed, much) => {
        // a patch that grows from one triangle over its sides
        const patch = new Set([seed])
        for (const t of patch) {
          if (patch.size >= much) break
          const own = new Set(ball.indices.subarray(3 * t, 3 * t + 3))
          for (let o = 0; o < triangles && patch.size < much; o++)
            if ([...ball.indices.subarray(3 * o, 3 * o + 3)].filter((v) => own.has(v)).length === 2) patch.add(o)
        }
        const left = ball.indices.filter((_, i) => !patch.has(Math.floor(i / 3)))
        const { added, source, holes } = closeHoles(ball.positions, left)
        whole(concat(left, added))
        expect(holes.reduce((sum, { triangles: n }) => sum + n, 0)).toBe(added.length / 3)
        expect(source).toHaveLength(added.length / 3)
        // each takes its look from one that stood at the rim
        for (let t = 0; t < source.length; t++) expect([...left.subarray(3 * source[t], 3 * source[t] + 3)]).toContain(added[3 * t])
        const closed = volume(ball.positions, concat(left, added))
        // a ball of cut squares is not quite convex
        expect(closed).toBeLessThanOrEqual(full * (1 + 1e-4))
        expect(closed).toBeGreaterThan(0.9 * full)
      }),
      { numRuns: 60 },
    )
  })

  it('gives a box its lost side back in its plane, and does nothing where nothing is open', () => {
    const box = boxMesh(0, 0, 0, 4, 3, 2)
    expect(closeHoles(box.positions, box.indices).added).toHaveLength(0)
    for (let axis = 0; axis < 3; axis++)
      for (const at of [0, [4, 3, 2][axis]]) {
        const left = box.indices.filter((_, i) => {
          const t = 3 * Math.floor(i / 3)
          return ![0, 1, 2].every((k) => box.positions[3 * box.indices[t + k] + axis] === at)
        })
        expect(left.length).toBe(box.indices.length - 6)
        const { added, holes } = closeHoles(box.positions, left)
        expect(holes).toEqual([expect.objectContaining({ triangles: 2 })])
        for (const v of added) expect(box.positions[3 * v + axis]).toBe(at)
        expect(volume(box.positions, concat(left, added))).toBeCloseTo(24, 9)
      }
  })

  it('closes a curved rim by the least skin: a saddle is no larger than either way of cutting it', () => {
    // a tent without its floor: four points that lie in no plane
    const positions = Float64Array.from([0, 0, 0, 4, 0, 1.5, 4, 4, 0.3, 0, 4, 2.5, 2, 2, 8])
    const sides = Uint32Array.from([0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 0, 4])
    const { added } = closeHoles(positions, sides)
    whole(concat(sides, added))
    const area = (indices: ArrayLike<number>) => {
      let sum = 0
      for (let t = 0; t < indices.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => positions[3 * indices[t + k] + j]))
        const [u, v] = [b, c].map((q) => q.map((x, j) => x - a[j]))
        sum += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
      }
      return sum
    }
    const ways = [
      [1, 0, 2, 2, 0, 3],
      [1, 0, 3, 2, 1, 3],
    ].map(area)
    expect(area(added)).toBeCloseTo(Math.min(...ways), 9)
  })
})

describe('seams', () => {
  /** A box whose upper side is a fan of its own, with points along its four sides that the walls know nothing of. */
  function lidded(points: readonly number[], off: (k: number) => number) {
    const box = boxMesh(0, 0, 0, 4, 4, 4)
    const walls = box.indices.filter((_, i) => {
      const t = 3 * Math.floor(i / 3)
      return ![0, 1, 2].every((k) => box.positions[3 * box.indices[t + k] + 2] === 4)
    })
    const places = [...box.positions]
    const corners = [
      [0, 0],
      [4, 0],
      [4, 4],
      [0, 4],
    ]
    const at = (x: number, y: number, k: number) => {
      places.push(x + off(3 * k), y + off(3 * k + 1), 4 + off(3 * k + 2))
      return places.length / 3 - 1
    }
    let k = 0
    const rim: number[] = []
    corners.forEach(([x, y], side) => {
      rim.push(at(x, y, k++))
      const [nx, ny] = corners[(side + 1) % 4]
      for (const share of points) rim.push(at(x + share * (nx - x), y + share * (ny - y), k++))
    })
    const middle = at(2, 2, k++)
    const lid = rim.flatMap((v, i) => [v, rim[(i + 1) % rim.length], middle])
    return { positions: Float64Array.from(places), indices: concat(walls, lid), walls: walls.length / 3 }
  }
  const shares = fc.uniqueArray(fc.integer({ min: 1, max: 15 }), { maxLength: 5 }).map((list) => list.sort((a, b) => a - b).map((n) => n / 16))

  it('splits walls where a lid has points on their sides: closed, the same volume, each from the triangle it was', () => {
    fc.assert(
      fc.property(shares, (points) => {
        const { positions, indices } = lidded(points, () => 0)
        expect(loose(indices).length).toBeGreaterThan(0)
        const { indices: joined, source, splits } = joinSeams(positions, indices, 1e-6)
        whole(joined)
        expect(volume(positions, joined)).toBeCloseTo(64, 9)
        expect(new Set(splits).size).toBe(4 * points.length)
        expect(source).toHaveLength(joined.length / 3)
        // what came of a triangle lies in its plane, and all of it together is as large
        const areas = new Map<number, number>()
        const normal = (of: ArrayLike<number>, t: number) => {
          const [a, b, c] = [0, 1, 2].map((j) => [0, 1, 2].map((x) => positions[3 * of[3 * t + j] + x]))
          const [u, v] = [b, c].map((q) => q.map((x, j) => x - a[j]))
          return [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
        }
        for (let t = 0; t < source.length; t++) {
          const [own, from] = [normal(joined, t), normal(indices, source[t])]
          areas.set(source[t], (areas.get(source[t]) ?? 0) + Math.hypot(...own))
          const along = own.reduce((sum, x, j) => sum + x * from[j], 0)
          expect(along).toBeCloseTo(Math.hypot(...own) * Math.hypot(...from), 9)
        }
        for (const [t, area] of areas) expect(area).toBeCloseTo(Math.hypot(...normal(indices, t)), 9)
      }),
      { numRuns: 40 },
    )
  })

  it('draws points together that are nearer than the reach, and leaves a gap that is wider', () => {
    const off = (k: number) => 0.004 * Math.sin(7 * k + 1)
    const { positions, indices } = lidded([0.25, 0.5], off)
    const { indices: joined, joined: drawn } = joinSeams(positions, indices, 0.02)
    whole(joined)
    expect(drawn.length).toBeGreaterThanOrEqual(4)
    expect(Math.abs(volume(positions, joined) / 64 - 1)).toBeLessThan(0.01)
    const apart = lidded([0.25, 0.5], (k) => (k % 3 === 2 ? 0.5 : 0))
    const left = joinSeams(apart.positions, apart.indices, 0.02)
    expect(left.splits.length + left.joined.length).toBe(0)
    expect([...left.indices]).toEqual([...apart.indices])
  })
})

describe('uniting shells', () => {
  const united = (...boxes: Parameters<typeof together>) => {
    const { positions, indices } = together(...boxes)
    return uniteShells(plainSolid(positions, indices))
  }

  it('makes one body of boxes that pass through each other, of the volume that they cover together', () => {
    const made = united(boxMesh(0, 0, 0, 4, 4, 4), boxMesh(2, 2, 2, 6, 6, 6), boxMesh(5, 5, 5, 8, 8, 8))
    if (!made.ok) throw new Error('not united')
    expect(made.bodies).toBe(3)
    const check = checkMesh(made.solid)
    expect(check.findings).toEqual([])
    expect(check.volume).toBeCloseTo(64 + 64 + 27 - 8 - 1, 6)
  })

  it('keeps a hollow that nothing passes through', () => {
    const hollow = boxMesh(1, 1, 1, 2, 2, 2)
    for (let t = 0; t < hollow.indices.length; t += 3) [hollow.indices[t + 1], hollow.indices[t + 2]] = [hollow.indices[t + 2], hollow.indices[t + 1]]
    const made = united(boxMesh(0, 0, 0, 4, 4, 4), boxMesh(3, 3, 3, 6, 6, 6), hollow)
    if (!made.ok) throw new Error('not united')
    expect(checkMesh(made.solid).volume).toBeCloseTo(64 + 27 - 1 - 1, 6)
  })

  it('says so where there is nothing to unite, and where a hollow lies in nothing', () => {
    expect(united(boxMesh(0, 0, 0, 1, 1, 1)).ok).toBe(false)
    const astray = boxMesh(9, 9, 9, 10, 10, 10)
    for (let t = 0; t < astray.indices.length; t += 3) [astray.indices[t + 1], astray.indices[t + 2]] = [astray.indices[t + 2], astray.indices[t + 1]]
    expect(united(boxMesh(0, 0, 0, 1, 1, 1), boxMesh(3, 3, 3, 4, 4, 4), astray).ok).toBe(false)
  })
})
