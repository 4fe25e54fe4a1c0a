import { evaluateRoute } from '@kelvar/core/evaluate/route'
import { type Assembly, assemblyBounds, assemblyTriangles, bakedAssembly } from '@kelvar/core/solid/assembly'
import { describe, expect, it } from 'vitest'
import { surfaceMaterials } from '../src/features/view/scene'
import { packLook, unpackLook } from '../src/state/look'
import { flattened, meshTriangles, shownTriangles, valueMesh, valueSurfaces, viewMesh } from '../src/workers/view-mesh'

const assets = {
  font: () => Promise.reject(new Error('no font')),
  file: () => Promise.reject(new Error('no file')),
  picture: () => Promise.reject(new Error('no picture')),
}
const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
const made = async (...route: ReturnType<typeof step>[]) => (await evaluateRoute(route, { assets })).value as Assembly
const BALL = step('block', { shape: 'ball', width: 4, tolerance: 0.3 })

describe('copies for the view', () => {
  it('are sent once with a matrix each, so that they are drawn in as many calls as a unit has surfaces', async () => {
    const value = await made(BALL, step('grid', { across: 200, down: 100, gap: 1 }))
    const mesh = valueMesh(value)
    expect(mesh.copies?.length).toBe(1)
    const [copies] = mesh.copies ?? []
    expect(copies.numbers.length).toBe(20_000)
    expect(copies.mesh.surfaces.length).toBe(1)
    expect(meshTriangles(mesh)).toBe(0)
    expect(shownTriangles(mesh)).toBe(assemblyTriangles(value))
    expect(mesh.box).toEqual(assemblyBounds(value))
    // column by column
    expect([...copies.matrices.subarray(16 * 777, 16 * 778)]).toEqual([
      1,
      0,
      0,
      0,
      0,
      1,
      0,
      0,
      0,
      0,
      1,
      0,
      ...[3, 7, 11].map((k) => Math.fround(value.placements.matrix[12 * 777 + k])),
      1,
    ])
  })

  it('of several colours are as many lists, and the body that carries them is a mesh of its own', async () => {
    const value = await made(
      step('block', { shape: 'box', width: 60, height: 40, depth: 10 }),
      step('on-surface', { unit: 'pearl', width: 3, pitch: 6 }),
      step('vary', { colours: ['#ff0000', '#00ff00'], size: 20 }),
    )
    const mesh = valueMesh(value)
    expect(meshTriangles(mesh)).toBe(12)
    expect(mesh.copies?.map(({ mesh: unit }) => unit.surfaces[0].material.colour).sort()).toEqual(['#00ff00', '#ff0000'])
    // another turn is another shape, the same value is the same
    expect(valueSurfaces(value).shape).toBe(mesh.shape)
    const other = await made(
      step('block', { shape: 'box', width: 60, height: 40, depth: 10 }),
      step('on-surface', { unit: 'pearl', width: 3, pitch: 6 }),
      step('vary', { colours: ['#ff0000', '#00ff00'], size: 20, turn: 9 }),
    )
    expect(valueSurfaces(other).shape).not.toBe(mesh.shape)
  })

  it('are flattened to what they look like, which is remembered and read back', async () => {
    const value = await made(BALL, step('ring', { count: 5, radius: 30 }), step('vary', { lean: 40, size: 30, seed: 4 }))
    const flat = flattened(valueMesh(value))
    const baked = viewMesh(bakedAssembly(value))
    expect(flat.copies).toBeUndefined()
    expect(meshTriangles(flat)).toBe(meshTriangles(baked))
    const sum = ({ positions, indices }: typeof flat) => {
      let area = 0
      for (let i = 0; i < indices.length; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(3 * indices[i + k], 3 * indices[i + k] + 3))
        const [u, v] = [0, 1].map((j) => [0, 1, 2].map((k) => (j === 0 ? b : c)[k] - a[k]))
        area += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0])
      }
      return area
    }
    expect(Math.abs(sum(flat) / sum(baked) - 1)).toBeLessThan(1e-4)
    // normals are of unit length, and the shape is told apart from that of the copies
    for (let i = 0; i < flat.normals.length; i += 300) expect(Math.hypot(flat.normals[i], flat.normals[i + 1], flat.normals[i + 2]) / 32767).toBeCloseTo(1, 2)
    expect(flat.shape).not.toBe(valueMesh(value).shape)
    expect(unpackLook(packLook({ key: 'k', mesh: flat }))?.mesh.indices).toEqual(flat.indices)
  })

  it('of shards say so, also as they are remembered: what they are inside is drawn a little before the rest, and of other copies it is not', async () => {
    const broken = valueMesh(await made(BALL, step('shatter', { pieces: 5 })))
    const remembered = unpackLook(packLook({ key: 'x', mesh: flattened(broken) }))?.mesh
    const drawn = [...(broken.copies ?? []).map(({ mesh }) => mesh), ...(remembered ? [remembered] : [])]
    expect(drawn.length).toBe(6)
    for (const mesh of drawn) {
      expect(mesh.shards).toBe(true)
      const offsets = surfaceMaterials(mesh).map(({ polygonOffset, polygonOffsetFactor }) => (polygonOffset ? polygonOffsetFactor : 0))
      mesh.surfaces.forEach(({ group }, i) => expect(offsets[i] < 0).toBe(group === 'inside'))
      expect(mesh.surfaces.some(({ group }) => group === 'inside')).toBe(true)
    }
    const row = valueMesh(await made(BALL, step('row', {})))
    expect(row.shards).toBeUndefined()
    const [unit] = row.copies ?? []
    expect(
      surfaceMaterials({ ...unit.mesh, surfaces: unit.mesh.surfaces.map((surface) => ({ ...surface, group: 'inside' })) }).some(
        ({ polygonOffset }) => polygonOffset,
      ),
    ).toBe(false)
  })
})
