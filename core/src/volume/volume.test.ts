import fc from 'fast-check'
import { beforeAll, describe, expect, it, vi } from 'vitest'
import { ballBody, bumps, noise, plainSolid } from '../../test/bodies'
import { assets, boxMesh, FULL, together, windingNumber, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { trianglesCross } from '../check/triangles'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { snap } from '../outline/lattice'
import type { Threads } from '../parallel/share-out'
import { UNMOVED } from '../solid/operations'
import { joinSolid } from '../join/join'
import { roundedBox, turnedRing } from '../solid/revolve'
import { type Solid, solidBounds } from '../solid/solid'
import type { Triangles } from '../solid/from-triangles'
import { crossingSuspects, crossingVertices } from './crossings'
import { dualMesh } from './dual-mesh'
import { estimate } from './estimate'
import { INSIDE, SparseField, TILE } from './field'
import { filtered } from './filters'
import { labelled } from './labelled'
import { melted } from './melt'
import { toTriangle } from '../solid/nearest'
import { fieldAtDepth, fieldOf, redistanced, solidOfField } from './remesh'
import { volumeOf } from '../solid/volume'
import { softened } from './soften'
import { splat, splatSlab } from './splat'
import { WindingTree } from './winding-tree'

const L = 2 ** -14
const ball = (r: number, steps = 24): Solid => roundedBox(2 * r, 2 * r, 2 * r, r, steps, L)
const noBreath = async () => {}

beforeAll(async () => void (await loadManifold()))

/** Distance from every triangle, and inside by rays: knows nothing of fields. */
function brute({ positions: p, indices }: Triangles, x: number, y: number, z: number): number {
  let least = Infinity
  for (let t = 0; t < indices.length; t += 3) least = Math.min(least, toTriangle(x, y, z, p, 3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]))
  return Math.sqrt(least)
}

const turned = ({ positions, indices }: ReturnType<typeof boxMesh>) => ({
  positions,
  indices: indices.map((_, i) => indices[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]),
})

function eachSample(field: SparseField, visit: (p: number, x: number, y: number, z: number) => void): void {
  for (let s = 0; s < field.count; s++) {
    const [cx, cy, cz] = field.cornerOf(s)
    for (let i = 0; i < TILE; i++)
      visit(
        s * TILE + i,
        field.origin[0] + (cx + (i & 7)) * field.voxel,
        field.origin[1] + (cy + ((i >> 3) & 7)) * field.voxel,
        field.origin[2] + (cz + (i >> 6)) * field.voxel,
      )
  }
}

describe('the field', () => {
  const shapes: [string, Triangles, number][] = [
    ['a ball', ball(10, 8), 0.9],
    ['a ring', turnedRing(12, 4, 24, 12, L), 0.7],
    ['a box on the samples’ own planes', boxMesh(0, 0, 0, 8, 6, 4), 0.5],
    ['two boxes that overlap', together(boxMesh(0, 0, 0, 8, 6, 4), boxMesh(5, 3, 2, 12, 9, 9)), 0.55],
    ['a box in a box', together(boxMesh(0, 0, 0, 9, 9, 9), boxMesh(3, 3, 3, 6, 6, 6)), 0.45],
    [
      'slivers',
      { positions: Float64Array.from([0, 0, 0, 20, 0.001, 0, 10, 6, 0, 10, 2, 9]), indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3]) },
      0.6,
    ],
  ]
  it.each(shapes)('of %s is exact in the band, and right in its signs', async (_, mesh, voxel) => {
    const { field, open } = await fieldOf(mesh, voxel)
    expect(open).toBe(0)
    let [worst, wrong, tried] = [0, 0, 0]
    let n = 0
    eachSample(field, (p, x, y, z) => {
      if (n++ % (FULL ? 7 : 53) !== 0) return
      const [got, want] = [field.distance[p], brute(mesh, x, y, z)]
      if (want < 3 * voxel) worst = Math.max(worst, Math.abs(Math.abs(got) - want))
      else expect(Math.abs(Math.abs(got) - 3 * voxel)).toBeLessThan(1e-5 * voxel)
      if (want > 1e-6) {
        tried++
        if (windingNumber(mesh, x, y, z) > 0.5 !== got < 0) wrong++
      }
    })
    expect(tried).toBeGreaterThan(200)
    expect(wrong).toBe(0)
    expect(worst).toBeLessThan(1e-5 * voxel)
  })

  it('is the very same where other threads do some of it', async () => {
    const count = 4
    const word = (await evaluateRoute(wordRoute('Qu', 'archivo-bold'), { assets })).value as Solid
    const threads: Threads = {
      count,
      ready: true,
      lend: (work) =>
        work({ run: async (_, data) => structuredClone(await splatSlab.run(structuredClone(data) as Parameters<typeof splatSlab.run>[0], noBreath)) }),
    }
    const spied = vi.spyOn(splatSlab, 'run')
    for (const [mesh, voxel] of [
      [ball(22, 90), 0.45],
      [word, 0.1],
    ] as const) {
      const [alone, shared] = [new SparseField(solidBounds(mesh.positions), voxel, 3), new SparseField(solidBounds(mesh.positions), voxel, 3)]
      spied.mockClear()
      await splat(alone, mesh)
      expect(spied).not.toHaveBeenCalled()
      await splat(shared, mesh, { threads })
      expect(spied).toHaveBeenCalledTimes(count + 1)
      expect(shared.count).toBe(alone.count)
      const n = alone.count
      expect(shared.home.subarray(0, n)).toEqual(alone.home.subarray(0, n))
      expect(shared.directory).toEqual(alone.directory)
      expect(shared.distance.subarray(0, TILE * n)).toEqual(alone.distance.subarray(0, TILE * n))
      expect(shared.triangle.subarray(0, TILE * n)).toEqual(alone.triangle.subarray(0, TILE * n))
    }
    spied.mockRestore()
  })

  it.each([5, 9])('of a fine surface is exact %i voxels out, in all its tiles or in some', async (band) => {
    // small triangles against the reach: what is far looks for its own
    const mesh = ball(6, 60)
    const { field } = await fieldOf(mesh, 0.5, { band })
    const only = new SparseField(solidBounds(mesh.positions), 0.5, band)
    const open = Uint8Array.from(only.directory, (_, d) => (d % 3 === 0 ? 1 : 0))
    await splat(only, mesh, { only: open })
    let [n, tried, shared] = [0, 0, 0]
    eachSample(field, (p, x, y, z) => {
      if (n++ % (FULL ? 41 : 199) !== 0) return
      const [got, want] = [Math.abs(field.distance[p]), brute(mesh, x, y, z)]
      expect(Math.abs(got - Math.min(want, 0.5 * band))).toBeLessThan(1e-5)
      expect(field.triangle[p] >= 0).toBe(want < 0.5 * band)
      if (want > 1.5) tried++
      const at = field.home[p >> 9]
      const other = only.directory[at]
      expect(other < 0 || open[at] === 1).toBe(true)
      if (open[at] !== 1 || want >= 0.5 * band) return
      shared++
      expect(Math.abs(Math.sqrt(only.distance[other * TILE + (p & (TILE - 1))]) - want)).toBeLessThan(1e-5)
    })
    expect(tried).toBeGreaterThan(100)
    expect(shared).toBeGreaterThan(30)
  })

  it.each([
    ['a fine ball', ball(6, 60), 0.5, 2.4],
    ['a ring', turnedRing(12, 4, 24, 12, L), 0.3, 2],
    ['two boxes that overlap', together(boxMesh(0, 0, 0, 8, 6, 4), boxMesh(5, 3, 2, 12, 9, 9)), 0.25, 1.1],
    ['a box with room in it', together(boxMesh(0, 0, 0, 9, 9, 9), turned(boxMesh(3, 3, 3, 6, 6, 6))), 0.3, 0.9],
    ['a box whose middle lies less than that deep', boxMesh(0, 0, 0, 9, 9, 3), 0.25, 1.6],
    // a model that was never repaired
    ['a ball with holes', { positions: ball(6, 30).positions, indices: ball(6, 30).indices.filter((_, i) => Math.floor(i / 3) % 97 !== 0) }, 0.4, 1.7],
  ])('about one depth within %s has the same surface there as the one that is exact everywhere', async (_, mesh, voxel, depth) => {
    const deep = await fieldAtDepth(mesh, voxel, depth)
    const { field } = await fieldOf(mesh, voxel, { band: Math.ceil(depth / voxel) + 2 })
    const [got, want] = [await dualMesh(deep, { level: -depth }), await dualMesh(field, { level: -depth })]
    expect(got.indices.length).toBe(want.indices.length)
    expect(Math.abs(volumeOf(got) - volumeOf(want))).toBeLessThan(1e-5 * Math.max(1, volumeOf(want)))
    // one cell may hold several vertices, and no two cells one
    const place = (f: SparseField, { positions, cell }: typeof got) =>
      Array.from(cell, (c, v) => {
        const [x, y, z] = f.cornerOf(c >> 9)
        // the two need not begin at the same tile
        const at = [x + (c & 7), y + ((c >> 3) & 7), z + ((c >> 6) & 7)].map((i, k) => i + Math.round(f.origin[k] / f.voxel))
        return [at.join(' '), ...positions.subarray(3 * v, 3 * v + 3)] as [string, number, number, number]
      }).sort((a, b) => (a[0] < b[0] ? -1 : a[0] > b[0] ? 1 : a[1] - b[1] || a[2] - b[2] || a[3] - b[3]))
    const [here, there] = [place(deep, got), place(field, want)]
    here.forEach(([at, ...p], v) => {
      expect(at).toBe(there[v][0])
      for (let k = 0; k < 3; k++) expect(Math.abs(p[k] - (there[v][k + 1] as number))).toBeLessThan(1e-4)
    })
  })

  it.each(['inside', 'outside'] as const)('is the same %s where it is looked for there alone', async (side) => {
    const sign = side === 'inside' ? -1 : 1
    for (const [mesh, voxel, band] of [
      [ball(6, 60), 0.5, 8],
      [together(boxMesh(0, 0, 0, 9, 9, 9), turned(boxMesh(3, 3, 3, 6, 6, 6))), 0.4, 6],
    ] as const) {
      const { field: one } = await fieldOf(mesh, voxel, { band, side })
      const { field: both } = await fieldOf(mesh, voxel, { band })
      expect(one.origin).toEqual(both.origin)
      let [worst, wrong, far] = [0, 0, 0]
      eachSample(both, (p, x, y, z) => {
        const [i, j, k] = [x, y, z].map((v, axis) => Math.round((v - both.origin[axis]) / voxel))
        const [was, got] = [both.distance[p], one.distanceAt(i, j, k)]
        if (Math.sign(was) !== Math.sign(got)) wrong++
        if (was * sign < 0) return
        if (Math.abs(was) > 3 * voxel) far++
        worst = Math.max(worst, Math.abs(got - was))
        if (one.triangle[one.indexOf(i, j, k)] !== both.triangle[p]) wrong++
      })
      expect(wrong).toBe(0)
      expect(worst).toBeLessThan(1e-6)
      expect(far).toBeGreaterThan(200)
    }
  })

  it('tells its empty tiles apart', async () => {
    const { field } = await fieldOf(ball(40, 12), 0.8)
    const [tx, ty] = field.tiles
    let inside = 0
    field.directory.forEach((slot, d) => {
      if (slot >= 0) return
      const at = [d % tx, Math.floor(d / tx) % ty, Math.floor(d / (tx * ty))].map((t, k) => field.origin[k] + 8 * t * field.voxel)
      const within = Math.hypot(at[0], at[1] - 40, at[2]) < 40
      expect(slot === INSIDE).toBe(within)
      if (within) inside++
    })
    expect(inside).toBeGreaterThan(20)
  })

  it.each([
    // a large triangle that is missing leaves a hole that may be meant
    ['small', 1.2, 1e-4],
    ['large', 0, 5e-4],
  ])('of soups with holes and turned triangles is right at nearly all of their samples, where letters are of %s triangles', async (_, divisionEdge, most) => {
    const word = async (text: string, face: string) => {
      const { value } = await evaluateRoute(
        wordRoute(text, face, { size: 20 }, { depth: 8, ...(divisionEdge > 0 ? { division: 'triangles', divisionEdge } : {}) }),
        { assets },
      )
      if (value?.kind !== 'solid') throw new Error(face)
      return value
    }
    const wholes: [Triangles, number][] = [
      [ballBody(10, 16), 0.7],
      [ballBody(12, 20, bumps(1)), 0.7],
      [await word('R8', 'archivo-bold'), 0.6],
      [await word('ga', 'pacifico'), 0.6],
    ]
    let [wrong, all] = [0, 0]
    for (const [whole, voxel] of wholes)
      for (let seed = 1; seed <= (FULL ? 5 : 2); seed++) {
        const next = noise(seed * 7919)
        // every fortieth missing, every sixtieth turned over
        const indices: number[] = []
        for (let t = 0; t < whole.indices.length; t += 3) {
          const lot = (next() + 1) / 2
          const [a, b, c] = [whole.indices[t], whole.indices[t + 1], whole.indices[t + 2]]
          if (lot > 1 / 40) indices.push(a, ...(lot < 1 / 40 + 1 / 60 ? [c, b] : [b, c]))
        }
        const { field, open } = await fieldOf({ positions: whole.positions, indices: Uint32Array.from(indices) }, voxel)
        expect(open).toBeGreaterThan(0)
        // the whole one is right everywhere, see above
        const { field: right } = await fieldOf(whole, voxel)
        expect(field.origin).toEqual(right.origin)
        for (const [d, slot] of field.directory.entries()) {
          const other = right.directory[d]
          for (let i = 0; slot >= 0 && i < TILE; i++) {
            const [is, want] = [field.distance[slot * TILE + i], other >= 0 ? right.distance[other * TILE + i] : other === INSIDE ? -1 : 1]
            if (Math.abs(is) < 0.2) continue
            all++
            if (is < 0 !== want < 0) wrong++
          }
        }
      }
    expect(all).toBeGreaterThan(80_000)
    expect(wrong / all).toBeLessThan(most)
  })

  it('tells windings by clusters of triangles about as they are', () => {
    const tree = new WindingTree(ball(10, 16))
    for (const [x, want] of [
      [0, 1],
      [9, 1],
      [11, 0],
      [60, 0],
    ])
      expect(Math.abs(tree.at(x, 10, 0) - want)).toBeLessThan(0.1)
  })

  it('refuses a box of too many tiles', () => {
    expect(() => new SparseField([0, 0, 0, 10_000, 10_000, 10_000], 0.01)).toThrow(RangeError)
  })
})

describe('back to triangles', () => {
  /** A field of random signs and sizes: words never test the ambiguous faces, noise does. */
  function noise(seed: number, tiles = 2): SparseField {
    const field = new SparseField([0, 0, 0, 8 * tiles, 8 * tiles, 8 * tiles], 1, 1)
    let state = seed * 2654435761 + 1
    const random = () => {
      state = Math.imul(state ^ (state >>> 15), 2246822507) + 0x9e3779b9
      return ((state >>> 8) & 0xffff) / 0x10000
    }
    for (let d = 0; d < field.directory.length; d++) field.slot(d, 1)
    const wide = field.tiles.map((n) => 8 * n)
    eachSample(field, (p, x, y, z) => {
      const at = [x, y, z].map((v, k) => Math.round(v - field.origin[k]))
      const rim = at.some((v, k) => v < 2 || v > wide[k] - 3)
      field.distance[p] = rim ? 1 : (random() < 0.5 ? -1 : 1) * (0.05 + random())
    })
    return field
  }

  it('noise is closed and two-manifold, every vertex one fan, always', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const mesh = await dualMesh(noise(seed))
      expect(mesh.indices.length).toBeGreaterThan(3000)
      const check = checkMesh(mesh, { deep: false })
      expect(check.findings).toEqual([])
    }
  }, 60_000)

  it('what is said to be free of crossings is, and crossings are found, as pairs of all triangles have it', async () => {
    for (let seed = 1; seed <= (FULL ? 6 : 2); seed++) {
      const mesh = await dualMesh(noise(seed))
      mesh.positions.set(mesh.safe)
      expect(crossingVertices(mesh).size).toBe(0)
      expect(checkMesh(mesh).crossings).toBe(0)
      // vertices moved about within their cells
      const { positions, cell } = mesh
      const field = noise(seed)
      let state = seed
      for (let v = 0; v < cell.length; v++) {
        const corner = field.cornerOf(cell[v] >> 9)
        const own = [cell[v] & 7, (cell[v] >> 3) & 7, (cell[v] >> 6) & 7]
        for (let k = 0; k < 3; k++) {
          state = (Math.imul(state, 1664525) + 1013904223) | 0
          positions[3 * v + k] = field.origin[k] + corner[k] + own[k] + ((state >>> 8) & 0xffff) / 0x10001
        }
      }
      const found = crossingVertices(mesh)
      const { crossings } = checkMesh(mesh)
      expect(found.size > 0).toBe(crossings > 0)
      expect(found.size).toBeGreaterThan(10)
    }
  }, 120_000)

  it('vertices of triangles that were moved are found where these cross others, as pairs of all triangles have it', async () => {
    let crossed = 0
    for (let seed = 1; seed <= 12; seed++) {
      const { positions, indices } = await dualMesh((await fieldOf(ball(4, 24), 1)).field)
      for (let i = 0; i < positions.length; i++) positions[i] = snap(positions[i], L)
      expect(checkMesh({ positions, indices }).crossings).toBe(0)
      const suspect = new Uint8Array(indices.length / 3)
      const moved = new Set<number>()
      let state = seed
      for (let n = 0; n < 6; n++) {
        state = (Math.imul(state, 1664525) + 1013904223) | 0
        const v = (state >>> 8) % (positions.length / 3)
        moved.add(v)
        for (let k = 0; k < 3; k++) positions[3 * v + k] += snap((((state >>> (3 * k)) & 0xff) / 255 - 0.5) * seed * 0.8, L)
      }
      for (let i = 0; i < indices.length; i++) if (moved.has(indices[i])) suspect[Math.floor(i / 3)] = 1
      const meant = new Set<number>()
      for (let s = 0; s < suspect.length; s++)
        for (let t = 0; t < suspect.length; t++)
          if (suspect[s] && s !== t && trianglesCross(positions, indices, s, t))
            for (const of of [s, t]) for (let k = 0; k < 3; k++) meant.add(indices[3 * of + k])
      expect([...crossingSuspects(positions, indices, suspect, { lattice: L, size: 2 })].sort()).toEqual([...meant].sort())
      if (meant.size > 0) crossed++
    }
    expect(crossed).toBeGreaterThan(3)
    expect(crossed).toBeLessThan(12)
  })

  it('smooth ones come as near as a tenth of a voxel, with normals within 3° on a ball of 30 voxels', async () => {
    const r = 30
    const { field } = await fieldOf(ball(r, 48), 2)
    const mesh = await dualMesh(field)
    let worst = 0
    for (let i = 0; i < mesh.positions.length; i += 3)
      worst = Math.max(worst, Math.abs(Math.hypot(mesh.positions[i], mesh.positions[i + 1] - r, mesh.positions[i + 2]) - r))
    expect(worst).toBeLessThan(0.2)
    const sum = new Float64Array(mesh.positions.length)
    const { positions: p, indices } = mesh
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[t + k])
      const [u, v] = [[0, 1, 2].map((k) => p[b + k] - p[a + k]), [0, 1, 2].map((k) => p[c + k] - p[a + k])]
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
      for (const of of [a, b, c]) for (let k = 0; k < 3; k++) sum[of + k] += n[k]
    }
    let angle = 0
    for (let i = 0; i < p.length; i += 3) {
      const [n, out] = [sum.subarray(i, i + 3), [p[i], p[i + 1] - r, p[i + 2]]]
      const cos = (n[0] * out[0] + n[1] * out[1] + n[2] * out[2]) / (Math.hypot(...n) * Math.hypot(...out))
      angle = Math.max(angle, (Math.acos(Math.min(1, cos)) * 180) / Math.PI)
    }
    expect(angle).toBeLessThan(3)
  })

  it.each([0.5, 0.7, 1.3])('sharp ones keep the edges of a box at voxels of %s mm, and its labels', async (voxel) => {
    const h = Math.round(voxel / L) * L
    const solid = roundedBox(20.13, 14.37, 9.71, 0, 1, L)
    const source = labelled(solid)
    const { field } = await fieldOf(source, h)
    const meshed = await solidOfField(field, source, solid, { way: 'sharp', lattice: L })
    if (!meshed.ok) throw new Error('not certified')
    const check = checkMesh(meshed.solid)
    expect(check).toMatchObject({ sound: true, parts: 1 })
    expect(Math.abs(check.volume / (20.13 * 14.37 * 9.71) - 1)).toBeLessThan(2e-3)
    check.size.forEach((s, k) => expect(Math.abs(s - [20.13, 14.37, 9.71][k])).toBeLessThan(0.1 * h))
    // nothing rounds the edges: every vertex lies on one of the six planes
    let off = 0
    const { positions: p } = meshed.solid
    const planes = [
      [-20.13 / 2, 20.13 / 2],
      [0, 14.37],
      [-9.71 / 2, 9.71 / 2],
    ]
    for (let i = 0; i < p.length; i += 3) off = Math.max(off, Math.min(...planes.flatMap((of, k) => of.map((plane) => Math.abs(p[i + k] - plane)))))
    expect(off).toBeLessThan(0.1 * h)
  })

  it('are sound where solids lie a hair from each other, upon the samples’ own planes', async () => {
    const tray = fc.record({
      gap: fc.constantFrom(0, L, 4 * L, 16 * L, 2 ** -5),
      wall: fc.double({ min: 0.4, max: 2.5, noNaN: true }),
      room: fc.double({ min: 0, max: 1.2, noNaN: true }),
      ledge: fc.double({ min: 0, max: 3, noNaN: true }),
      way: fc.constantFrom('smooth' as const, 'sharp' as const),
      angle: fc.double({ min: 0, max: 1.6, noNaN: true }),
    })
    await fc.assert(
      fc.asyncProperty(tray, async ({ gap, wall: t, room, ledge, way, angle }) => {
        // a panel upon the ledges of a tray, turned about the upright axis
        const [w, r] = [t + ledge, t + room]
        const boxes = [
          boxMesh(0, 0, 0, 14, 14, 1.5),
          ...[
            [0, 0, 14, t],
            [0, 14 - t, 14, 14],
          ].flatMap(([x0, y0, x1, y1]) => [boxMesh(x0, y0, 0, x1, y1, 7), boxMesh(y0, x0, 0, y1, x1, 7)]),
          boxMesh(0, 0, 0, 14, w, 4),
          boxMesh(0, 14 - w, 0, 14, 14, 4),
          boxMesh(r, r, 4 + gap, 14 - r, 14 - r, 7),
        ]
        const { positions: p, indices } = together(...boxes)
        const [c, n] = [Math.cos(angle), Math.sin(angle)]
        const solid = plainSolid(
          p.map((v, i) => (i % 3 === 2 ? v : i % 3 === 0 ? c * v - n * p[i + 1] : n * p[i - 1] + c * v)),
          indices,
        )
        const source = labelled(solid)
        const meshed = await solidOfField((await fieldOf(source, 1)).field, source, solid, { way, lattice: L })
        if (!meshed.ok) throw new Error('not certified')
        expect(checkMesh(meshed.solid).findings).toEqual([])
      }),
      { numRuns: FULL ? 1500 : 25 },
    )
  })

  it('have no room within where solids touch', async () => {
    const { positions, indices } = together(boxMesh(0, 0, 0, 8, 8, 4), boxMesh(-2, -2, 4 + 16 * L, 6, 6, 7))
    const solid = plainSolid(positions, indices)
    const source = labelled(solid)
    const meshed = await solidOfField((await fieldOf(source, 1)).field, source, solid, { way: 'smooth', lattice: L })
    if (!meshed.ok) throw new Error('not certified')
    expect(checkMesh(meshed.solid)).toMatchObject({ sound: true, parts: 1 })
  })

  it('borders between labels run straight, not in steps', async () => {
    // a ball whose halves are two letters, cut at x = 0.37
    const whole = ball(20, 24)
    const centre = (t: number) => [0, 1, 2].reduce((sum, k) => sum + whole.positions[3 * whole.indices[3 * t + k]], 0) / 3
    const rows = [...labelled(whole).rows, { ...labelled(whole).rows[0], letter: 7 }]
    const source = { ...labelled(whole), rows, label: Uint32Array.from({ length: whole.indices.length / 3 }, (_, t) => (centre(t) > 0 ? 1 : 0)) }
    const h = Math.round(1.1 / L) * L
    const { field } = await fieldOf(source, h)
    const meshed = await solidOfField(field, source, whole, { way: 'smooth', lattice: L })
    if (!meshed.ok) throw new Error('not certified')
    expect(checkMesh(meshed.solid).sound).toBe(true)
    const { indices, positions, surface, labels } = meshed.solid
    const of = (t: number) => labels.letter[surface[t]]
    const sides = new Map<string, number>()
    let [worst, borders] = [0, 0]
    for (let t = 0; t < surface.length; t++)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [indices[3 * t + k], indices[3 * t + ((k + 1) % 3)]]
        const other = sides.get(`${b} ${a}`)
        if (other !== undefined && of(other) !== of(t)) {
          borders++
          worst = Math.max(worst, Math.abs(positions[3 * a]), Math.abs(positions[3 * b]))
        }
        sides.set(`${a} ${b}`, t)
      }
    expect(borders).toBeGreaterThan(60)
    // the source's own border goes along its triangles' sides near x = 0
    expect(worst).toBeLessThan(0.6 * h)
  })
})

describe('changing it', () => {
  it('softening keeps a volume when it is to, and draws corners in', async () => {
    const mesh = labelled(roundedBox(20, 20, 20, 0, 1, L))
    const { field } = await fieldOf(mesh, 0.5)
    const plain = await softened(field, 'gaussian', 12, { breathe: noBreath })
    const kept = await softened(field, 'gaussian', 12, { breathe: noBreath }, 8000)
    const [a, b] = [volumeOf(await dualMesh(plain.field)), volumeOf(await dualMesh(kept.field))]
    expect(a).toBeLessThan(7990)
    expect(Math.abs(b / 8000 - 1)).toBeLessThan(1e-3)
    expect(kept.shift).toBeGreaterThan(0)
    for (const how of ['mean', 'median', 'flow'] as const) {
      const other = await softened(field, how, 6, { breathe: noBreath })
      const check = checkMesh(await dualMesh(other.field))
      expect(check.sound).toBe(true)
      expect(check.volume).toBeLessThan(8000)
      expect(check.volume).toBeGreaterThan(7700)
    }
  }, 60_000)

  it('a median is the fourteenth of the samples about each, whatever they are', async () => {
    const { field } = await fieldOf(ball(6, 12), 0.7)
    const lots = noise(5)
    for (let p = 0; p < field.distance.length; p++) field.distance[p] = Math.round(20 * lots()) / 20 + 0
    const { distance } = await filtered(field, 'median', noBreath)
    for (let s = 0; s < field.count; s += 7)
      for (let p = 0; p < TILE; p += 13) {
        const [x, y, z] = field.cornerOf(s).map((from, k) => from + ((p >> (3 * k)) & 7))
        const about = [-1, 0, 1].flatMap((a) => [-1, 0, 1].flatMap((b) => [-1, 0, 1].map((c) => [x + a, y + b, z + c])))
        // beside what is not there it is far
        if (about.some((at) => at.some((v, k) => v < 0 || v >= 8 * field.tiles[k]) || field.indexOf(at[0], at[1], at[2]) < 0)) continue
        const sorted = about.map(([i, j, k]) => field.distance[field.indexOf(i, j, k)]).sort((a, b) => a - b)
        expect(distance[s * TILE + p]).toBe(sorted[13])
      }
  })

  it('mean curvature flow shrinks a ball as theory has it: the square of its radius falls by 4 t', async () => {
    const h = 0.5
    let { field } = await fieldOf(ball(8, 40), h)
    const steps = 24
    for (let i = 1; i <= steps; i++) {
      field = await filtered(field, 'flow', noBreath)
      if (i % 2 === 0) field = await redistanced(field)
    }
    const r = Math.cbrt((3 * volumeOf(await dualMesh(field))) / (4 * Math.PI))
    const want = Math.sqrt(64 - (4 * steps * h * h) / 6)
    expect(Math.abs(r - want)).toBeLessThan(0.05 * h + 0.02)
  }, 60_000)

  it('melting: nothing but the union at radius 0, and more the wider', async () => {
    const a = { positions: ball(8, 12).positions, indices: ball(8, 12).indices }
    const b = { positions: a.positions.map((v, i) => (i % 3 === 0 ? v + 14.3 : v)), indices: a.indices }
    const count = a.indices.length / 3
    const bodies = [a, b].map((mesh, i) => ({ mesh, numbers: Uint32Array.from({ length: count }, (_, t) => t + i * count) }))
    const h = 0.5
    const volumes: number[] = []
    for (const radius of [0, 0.5, 1, 2, 4]) {
      const mesh = await dualMesh(await melted(bodies, h, radius, 'together', noBreath))
      const check = checkMesh(mesh)
      expect(check.findings).toEqual([])
      volumes.push(check.volume)
    }
    for (let i = 1; i < volumes.length; i++) expect(volumes[i]).toBeGreaterThan(volumes[i - 1])
    const other = ball(8, 12)
    const union = joinSolid(other, [{ solid: other, matrix: [1, 0, 0, 14.3, ...UNMOVED.slice(4)] as unknown as typeof UNMOVED }], 'fuse')
    if (!union.ok) throw new Error('no union')
    expect(Math.abs(volumes[0] / union.after - 1)).toBeLessThan(0.01)
    // the two other ways
    const out = volumeOf(await dualMesh(await melted(bodies, h, 0, 'out', noBreath)))
    const both = volumeOf(await dualMesh(await melted(bodies, h, 0, 'overlap', noBreath)))
    const one = volumeOf(a)
    expect(Math.abs(out + both - one) / one).toBeLessThan(0.01)
    expect(Math.abs(both - (2 * one - union.after)) / one).toBeLessThan(0.01)
  }, 60_000)

  it('expects more time and memory where distances are needed far from the surface', () => {
    const mesh = boxMesh(0, 0, 0, 20, 20, 20)
    const [near, far, farther] = [3, 8, 16].map((band) => estimate(mesh, 0.5, 'smooth', band))
    expect(far.triangles).toBe(near.triangles)
    expect(far.seconds).toBeGreaterThan(near.seconds)
    expect(farther.seconds).toBeGreaterThan(far.seconds)
    expect(farther.bytes).toBeGreaterThan(far.bytes)
    // and so the smallest voxel that can be had is no finer
    expect(estimate(mesh, 1e-3, 'smooth', 40).smallest).toBeGreaterThanOrEqual(estimate(mesh, 1e-3, 'smooth').smallest)
  })

  it('estimates its triangles within 30 %', () =>
    fc.assert(
      fc.asyncProperty(fc.double({ min: 0.6, max: 2, noNaN: true }), fc.double({ min: 8, max: 20, noNaN: true }), async (h, r) => {
        const mesh = ball(r, 16)
        const made = (await dualMesh((await fieldOf(mesh, h)).field)).indices.length / 3
        const { triangles } = estimate(mesh, h, 'smooth')
        expect(triangles / made).toBeGreaterThan(0.7)
        expect(triangles / made).toBeLessThan(1.3)
      }),
      { numRuns: 10 },
    ))
})
