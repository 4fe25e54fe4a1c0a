import { readFileSync } from 'node:fs'
import type { CameraStand } from '@kelvar/core/document/camera'
import { newProject, newStep } from '@kelvar/core/project/new-project'
import { solidFromTriangles } from '@kelvar/core/solid/from-triangles'
import { BACK, FACE, GROUPS, labelTable, NONE, PLAIN_ROW, RETURN } from '@kelvar/core/solid/labels'
import { type Solid, solidBounds } from '@kelvar/core/solid/solid'
import { effectiveParams } from '@kelvar/core/steps/fields'
import type { StepOutcome } from '@kelvar/core/steps/step'
import { STEPS, stepKind } from '@kelvar/core/steps/registry'
import fc from 'fast-check'
import * as THREE from 'three'
import { acceleratedRaycast } from 'three-mesh-bvh'
import { describe, expect, it } from 'vitest'
import { sortedSteps } from '@/features/route/finder'
import { boxAbout, FIELD_OF_VIEW, framingOf, keyLight, matrixOf, meshGeometry, shadedGround, STANDARD_VIEWS, standFor } from '@/features/view/scene'
import { sectionBeside } from '@/features/view/section'
import { stand, standBeside, standInProject } from '@/features/view/standing'
import { packLook, unpackLook } from '@/state/look'
import { lighterMesh } from '@/workers/reduced-mesh'
import { SharedMemory } from '@/workers/shared-results'
import { flattened, inMaterials, meshBuffers, meshBytes, meshTriangles, type ViewMesh, viewMesh, viewSurfaces } from '@/workers/view-mesh'
import { buildTree, plantTree } from '@/workers/view-tree'
import { boxSolid } from '../../core/test/helpers'

const LOOKS = ['#000000', '#000001', '#000002', '#000003', '#000004'].map((colour, i) => ({
  name: GROUPS[i],
  material: { colour, roughness: 0.5, metalness: 0 },
}))

const solid: Solid = {
  kind: 'solid',
  positions: Float64Array.from([0, 0, 0, 4, 0, 0, 0, 3, 0, 0, 0, 5]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2]),
  surface: Uint32Array.from([2, 0, 0, 1]),
  labels: labelTable([
    { ...PLAIN_ROW, group: FACE, look: FACE, letter: 0 },
    { ...PLAIN_ROW, group: RETURN, look: RETURN },
    { ...PLAIN_ROW, group: BACK, look: BACK },
  ]),
  attributes: {},
  letters: ['x'],
  layers: [],
  bands: [],
  looks: LOOKS,
  lattice: 2 ** -14,
}

/** The corners of a triangle of a mesh, with their normals. */
const corners = ({ positions, normals, indices }: ViewMesh, t: number) =>
  [0, 1, 2].map((k) => {
    const v = 3 * indices[3 * t + k]
    return { at: [...positions.subarray(v, v + 3)], facing: [...normals.subarray(v, v + 3)].map((n) => n / 32767) }
  })

describe('viewMesh', () => {
  it('hands every triangle to its surface, with its letter and the surface’s material', () => {
    const mesh = viewMesh(solid)
    expect(mesh.surfaces.map(({ group, start, count, material }) => [group, start, count, material.colour])).toEqual([
      ['face', 0, 6, '#000000'],
      ['return', 6, 3, '#000002'],
      ['back', 9, 3, '#000003'],
    ])
    expect(corners(mesh, 3).map((c) => c.at)).toEqual([
      [0, 0, 0],
      [0, 3, 0],
      [4, 0, 0],
    ])
    for (const { facing } of corners(mesh, 3)) expect(facing[2]).toBeCloseTo(-1, 3)
    expect([...mesh.letters]).toEqual([0, 0, NONE, NONE])
    expect(mesh.box).toEqual([0, 0, 0, 4, 3, 5])
    expect(meshBuffers(mesh).length).toBe(4)
  })

  it('is indexed: corners that agree are one vertex, those of a crease are not', () => {
    const box = viewMesh(boxSolid([0, 0, 0], [1, 1, 1]))
    expect(box.positions.length / 3).toBe(24)
    expect(meshTriangles(box)).toBe(12)
    // a million triangles stay under what may cross to the page
    const ball = viewMesh(bumpy(200))
    expect((meshBytes(ball) / meshTriangles(ball)) * 1e6).toBeLessThan(60e6)
  })
})

describe('a mesh with a picture on it', () => {
  const picture = { key: 'k', type: 'image/png', bytes: Uint8Array.of(1, 2, 3), tint: '#ffffff' } as const
  const worn = [{ name: 'lid', material: { ...LOOKS[0].material, picture } }]
  const box = boxSolid([0, 0, 0], [1, 1, 1], { look: 0 }, { looks: worn })
  // the left half of one side lies elsewhere in the picture than its right half
  const places = Float32Array.from({ length: 72 }, (_, i) => (i < 6 ? 0.5 : 0.25))
  const pictured: Solid = { ...box, attributes: { pictureUv: places } }

  it('has a vertex for each place in it, which go along when it is made lighter, and are of its shape', async () => {
    const mesh = viewMesh(pictured)
    const vertices = mesh.positions.length / 3
    expect(mesh.pictureUv).toHaveLength(2 * vertices)
    expect(vertices).toBeGreaterThan(24)
    const at = (k: number) => [...(mesh.pictureUv ?? []).slice(2 * mesh.indices[k], 2 * mesh.indices[k] + 2)]
    const found = Array.from({ length: 36 }, (_, k) => at(k)[0])
    expect(found.filter((u) => u === 0.5)).toHaveLength(3)
    expect(found.filter((u) => u === 0.25)).toHaveLength(33)
    expect(meshBuffers(mesh)).toHaveLength(5)
    expect(mesh.shape).not.toBe(viewMesh(box).shape)
    const lighter = await lighterMesh(mesh, 6)
    expect(lighter.pictureUv).toHaveLength((2 * lighter.positions.length) / 3)
    expect(lighter.surfaces[0].material.picture).toBe(picture)
  })

  it('is remembered and laid flat without it', () => {
    const mesh = viewMesh(pictured)
    const flat = flattened(mesh)
    expect([flat.pictureUv, flat.surfaces[0].material]).toEqual([undefined, LOOKS[0].material])
    expect(unpackLook(packLook({ key: 'k', mesh: flat }))?.mesh.surfaces[0].material).toEqual(LOOKS[0].material)
    expect(viewMesh(box).surfaces[0].material).toEqual(LOOKS[0].material)
  })
})

describe('the shape of a mesh', () => {
  const shapeOf = (of: Solid) => viewSurfaces(of).shape

  it('is the same in other materials, whose surfaces then fit the mesh that is there', () => {
    const looks = LOOKS.map((look) => ({ ...look, material: { ...look.material, roughness: 0.9 } }))
    const other: Solid = { ...solid, positions: solid.positions.slice(), looks }
    expect(shapeOf(other)).toBe(shapeOf(solid))
    expect(inMaterials(viewMesh(solid), viewSurfaces(other).surfaces)).toEqual(viewMesh(other))
  })

  it('is another where places, triangles, letters, directions or the grouping into materials differ', () => {
    // face and return in one group and one material are one surface
    const group = solid.labels.group.map((g) => (g === RETURN ? FACE : g))
    const looks = LOOKS.map((look) => ({ ...look, material: LOOKS[0].material }))
    const others: Solid[] = [
      { ...solid, positions: solid.positions.map((v) => v + 1) },
      { ...solid, indices: Uint32Array.from([...solid.indices.subarray(3), ...solid.indices.subarray(0, 3)]) },
      { ...solid, labels: { ...solid.labels, letter: solid.labels.letter.map((v) => v + 1) } },
      { ...solid, attributes: { normal: new Float32Array(36).fill(0.5) } },
      { ...solid, labels: { ...solid.labels, group }, looks },
    ]
    const shapes = [solid, ...others].map(shapeOf)
    expect(new Set(shapes).size).toBe(shapes.length)
  })
})

describe('memory that threads share', () => {
  it('is one object in each thread, however many results lie in it', () => {
    const [here, there] = [new SharedMemory(), new SharedMemory()]
    const positions = new Float64Array(new SharedArrayBuffer(24))
    const result = (n: number) => ({ ok: true, value: { ...solid, positions, lattice: n }, issues: [] }) as StepOutcome
    // structuredClone makes new objects for the same memory with every message, as going to another thread does
    const [first, second] = [1, 2].map((n) => {
      const { outcome } = there.adopted(structuredClone(here.packed(`${n}`, result(n))))
      return outcome.ok ? (outcome.value as Solid).positions : undefined
    })
    expect(first?.buffer).toBeInstanceOf(SharedArrayBuffer)
    expect(second?.buffer).toBe(first?.buffer)
    positions[1] = 7
    expect(second?.[1]).toBe(7)
  })
})

describe('lighterMesh', () => {
  it('has about as many triangles as asked, in the same box and the same surfaces', async () => {
    const mesh = viewMesh(bumpy(160))
    const light = await lighterMesh(mesh, 4000)
    expect(meshTriangles(light)).toBeLessThan(8000)
    expect(meshTriangles(light)).toBeGreaterThan(1000)
    expect(light.surfaces.map((s) => s.group)).toEqual(mesh.surfaces.map((s) => s.group))
    const box = solidBounds(light.positions)
    box.forEach((v, i) => expect(Math.abs(v - mesh.box[i])).toBeLessThan(0.5))
    expect(await lighterMesh(light, 1e6)).toBe(light)
  })
})

describe('the tree for picking', () => {
  it('finds the triangles that trying all of them finds, by the mesh’s own numbers', () => {
    const mesh = viewMesh(bumpy(60))
    const [geometry, plain] = [meshGeometry(mesh), meshGeometry(mesh)]
    plantTree(geometry, structuredClone(buildTree(mesh)))
    const fast = new THREE.Mesh(geometry, new THREE.MeshBasicMaterial())
    fast.raycast = acceleratedRaycast
    const slow = new THREE.Mesh(plain, new THREE.MeshBasicMaterial())
    let hits = 0
    for (let i = 0; i < 40; i++) {
      const from = new THREE.Vector3(Math.sin(i) * 40, Math.cos(i * 1.7) * 40, Math.cos(i) * 40)
      const caster = new THREE.Raycaster(from, new THREE.Vector3(0.37, 0.11, -0.23).sub(from).normalize())
      const [a] = caster.intersectObject(fast)
      const [b] = caster.intersectObject(slow)
      expect(a?.faceIndex).toBe(b?.faceIndex)
      if (a) hits++
    }
    expect(hits).toBe(40)
  })
})

describe('boxAbout', () => {
  it('holds pieces at their places', () => {
    const box = [0, 0, 0, 2, 4, 6] as const
    expect(boxAbout([])).toBeUndefined()
    const turned = matrixOf({ position: [10, 0, 0], turn: [0, 0, 90], size: 2 })
    expect(boxAbout([{ box }, { box, matrix: turned }])?.map((v) => Math.round(v))).toEqual([0, 0, 0, 10, 4, 12])
  })
})

/** A closed skin of 4·n² triangles or so: a ball with bumps. */
function bumpy(n: number): Solid {
  const positions: number[] = []
  const indices: number[] = []
  for (let i = 0; i <= n; i++)
    for (let j = 0; j < 2 * n; j++) {
      const [a, b] = [(Math.PI * i) / n, (Math.PI * j) / n]
      const r = 10 + 0.3 * Math.sin(9 * a) * Math.sin(8 * b)
      positions.push(r * Math.sin(a) * Math.cos(b), r * Math.sin(a) * Math.sin(b), r * Math.cos(a))
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 2 * n; j++) {
      const [a, b] = [2 * n * i + j, 2 * n * i + ((j + 1) % (2 * n))]
      indices.push(a, a + 2 * n, b + 2 * n, a, b + 2 * n, b)
    }
  return solidFromTriangles({ positions, indices })
}

describe('standFor', () => {
  it('stands where the whole piece is in the frame, from every standard view, wide or tall', () => {
    for (const box of [
      [-140, -15, 0, 140, 40, 13],
      [-5, -100, 0, 5, 200, 2],
      [0, 0, 0, 1, 1, 1],
    ] as const) {
      const framing = framingOf(box)
      for (const aspect of [0.6, 1.3, 2.4]) {
        for (const view of STANDARD_VIEWS) {
          const camera = new THREE.PerspectiveCamera(FIELD_OF_VIEW, aspect, 0.1, 1e6)
          camera.position.copy(standFor(view, framing, aspect))
          camera.lookAt(framing.centre)
          camera.updateMatrixWorld()
          for (let corner = 0; corner < 8; corner++) {
            const p = new THREE.Vector3(box[corner & 1 ? 3 : 0], box[corner & 2 ? 4 : 1], box[corner & 4 ? 5 : 2]).project(camera)
            expect(Math.max(Math.abs(p.x), Math.abs(p.y)), `${view} ${aspect}`).toBeLessThan(1)
          }
        }
      }
    }
  })
})

describe('the camera of a project', () => {
  it('sees a piece by itself as it sees it among the others, wherever that stands', () => {
    const number = (most: number) => fc.integer({ min: -most, max: most })
    const three = (most: number) => fc.tuple(number(most), number(most), number(most))
    fc.assert(
      fc.property(three(200), fc.integer({ min: -180, max: 180 }), fc.integer({ min: 3, max: 30 }), three(60), (position, turn, tenths, point) => {
        const place = { position, turn: [0, turn, 0] as [number, number, number], size: tenths / 10 }
        const inProject = { at: [120, 90, 900] as const, aim: [5, 10, -20] as const, lens: 50 }
        const seen = (from: CameraStand, at: THREE.Vector3) => {
          const camera = new THREE.PerspectiveCamera(30, 1.5, 1, 1e5)
          stand(camera, from)
          camera.updateMatrixWorld()
          return at.clone().project(camera)
        }
        const p = new THREE.Vector3(...point)
        const among = seen(inProject, p.clone().applyMatrix4(matrixOf(place)))
        const byItself = seen(standBeside(inProject, place), p)
        expect(byItself.x).toBeCloseTo(among.x, 6)
        expect(byItself.y).toBeCloseTo(among.y, 6)
        const back = standInProject(standBeside(inProject, place), place)
        back.at.forEach((v, k) => expect(v).toBeCloseTo(inProject.at[k], 6))
        back.aim.forEach((v, k) => expect(v).toBeCloseTo(inProject.aim[k], 6))
      }),
    )
  })
})

describe('a section', () => {
  it('is the same plane for whatever stands in it, turned, moved and sized', () => {
    const number = (most: number) => fc.integer({ min: -most, max: most })
    const three = (most: number) => fc.tuple(number(most), number(most), number(most))
    fc.assert(
      fc.property(three(200), three(180), fc.integer({ min: 3, max: 30 }), three(50), three(9), three(80), (position, turn, tenths, point, towards, at) => {
        fc.pre(towards.some((v) => v !== 0))
        const matrix = matrixOf({ position, turn, size: tenths / 10 })
        const normal = new THREE.Vector3(...towards).normalize()
        const own = sectionBeside({ point, normal: normal.toArray() }, matrix)
        expect(new THREE.Vector3(...own.normal).length()).toBeCloseTo(1, 9)
        // as far off the plane, by the size it has there
        const inView = new THREE.Vector3(...at)
          .applyMatrix4(matrix)
          .sub(new THREE.Vector3(...point))
          .dot(normal)
        const beside = new THREE.Vector3(...at).sub(new THREE.Vector3(...own.point)).dot(new THREE.Vector3(...own.normal))
        expect(beside * (tenths / 10)).toBeCloseTo(inView, 6)
      }),
    )
  })
})

describe('the ground', () => {
  it('is drawn wherever a shadow can fall, and little further', () => {
    const side = fc.integer({ min: 1, max: 400 })
    const share = fc.double({ min: 0, max: 1, noNaN: true })
    fc.assert(
      fc.property(fc.tuple(side, side, side), fc.integer({ min: -300, max: 300 }), fc.tuple(share, share, share), ([w, h, d], x, [a, b, c]) => {
        const box = [x, 5, -20, x + w, 5 + h, -20 + d] as const
        const light = keyLight(framingOf(box), 64)
        const { x: middle, z, width, depth } = shadedGround(box, light)
        // a point of the piece, carried on along the light to the ground
        const point = new THREE.Vector3(x + a * w, 5 + b * h, -20 + c * d)
        const way = light.target.position.clone().sub(light.position)
        point.addScaledVector(way, (5 - point.y) / way.y)
        expect(Math.abs(point.x - middle)).toBeLessThan(width / 2)
        expect(Math.abs(point.z - z)).toBeLessThan(depth / 2)
        expect(width).toBeLessThan(w + h + 0.3 * Math.max(w, h, d))
        expect(depth).toBeLessThan(d + h + 0.3 * Math.max(w, h, d))
      }),
    )
  })
})

describe('the finder', () => {
  it('offers a step just where its input is what comes before, and else says why not', () => {
    const route = (...kinds: string[]) => kinds.map((kind) => newStep(kind, kind))
    const fits = (...kinds: string[]) => sortedSteps(route(...kinds), kinds.length, true).here.map(({ kind }) => kind.kind)
    expect(fits()).toEqual(['lettering', 'drawing', 'vector-file', 'model-file', 'traced-picture', 'piece-outline', 'plate', 'block'])
    expect(fits('lettering')).toEqual([
      'layers',
      'redraw',
      'extend',
      'combine',
      'stroke-to-outline',
      'centre-lines',
      'write-on',
      'offset',
      'round-corners',
      'smooth',
      'slice',
      'stencil',
      'warp',
      'simplify',
      'extrude',
      'prismatic',
      'inflate',
      'tube',
      'sweep',
      'brush',
      'channel',
      'relief',
      'insert',
      'along',
      'fill-inside',
      'at-letters',
      'balloon',
    ])
    expect(fits('lettering', 'extrude')).toEqual([
      'voxel-remesh',
      'soften',
      'grow',
      'melt',
      'hollow',
      'rebuild',
      'chisel',
      'even-remesh',
      'reduce',
      'subdivide',
      'smooth-surface',
      'fuse',
      'carve',
      'overlap',
      'carve-lettering',
      'raise-lettering',
      'inlay',
      'cut-flat',
      'bend',
      'twist',
      'taper',
      'stretch',
      'shear',
      'bulge',
      'wave',
      'roughen',
      'swell',
      'run-along',
      'free-cage',
      'grid',
      'row',
      'ring',
      'along',
      'fill-inside',
      'on-surface',
      'at-letters',
      'in-turn',
      'lattice',
      'shatter',
      'burst',
      'drop',
      'jelly',
      'drape',
      'dress',
      'running-light',
    ])
  })

  it('says where on the route the others go in, and which go in nowhere', () => {
    const route = ['lettering', 'extrude', 'dress'].map((kind) => newStep(kind, kind))
    const { elsewhere, nowhere } = sortedSteps(route, 3, true)
    expect(elsewhere.find(({ kind }) => kind.kind === 'offset')?.at).toBe(1)
    expect(elsewhere.every(({ at }) => at === 1)).toBe(true)
    expect(nowhere.map(({ kind }) => kind.kind)).toContain('lettering')
    for (const { why } of nowhere) expect(why).toMatch(/\.$/)
    // in another's place nothing goes elsewhere
    expect(sortedSteps(route, 1, false).elsewhere).toEqual([])
  })

  it('has a picture of every step', () => {
    for (const { kind } of STEPS) {
      const png = readFileSync(new URL(`../public/steps/${kind}.png`, import.meta.url))
      expect([...png.subarray(1, 4)], kind).toEqual([...Buffer.from('PNG')])
    }
  })
})

describe('effectiveParams', () => {
  const lettering = stepKind('lettering')
  if (!lettering) throw new Error('no lettering')

  it('shows defaults for what is missing or bad, and keeps the rest and every text', () => {
    const { params } = newProject().pieces[0].route[0]
    expect(effectiveParams(lettering, params)).toMatchObject({ text: 'Hello', size: 40, kerning: 'face' })
    expect(effectiveParams(lettering, { text: 'Quay', size: -5, tracking: 30 })).toMatchObject({ text: 'Quay', size: 40, tracking: 30 })
    const long = 'x'.repeat(5000)
    expect(effectiveParams(lettering, { text: long })).toMatchObject({ text: long, size: 40 })
  })
})
