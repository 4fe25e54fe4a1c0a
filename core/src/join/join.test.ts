import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { noise } from '../../test/bodies'
import { assets, boxSolid, FULL, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { trianglesCross } from '../check/triangles'
import { placeMatrix } from '../document/place'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { BACK, FACE, INSIDE, labelTable, NONE, PLAIN_ROW } from '../solid/labels'
import { transformed, UNMOVED } from '../solid/operations'
import { roundedBox, turnedBar, turnedRing } from '../solid/revolve'
import { labelAt, type Solid, triangleCount } from '../solid/solid'
import { JOINS, joinSolid } from './join'
import { depthOfCrossing, type LooseMesh, mendRounded, REMOVED } from './mend'
import { thinnestFloor } from './thinnest'

const LATTICE = 2 ** -14
beforeAll(async () => void (await loadManifold()))

/** What letters are set on and cut into; all but the slab stand on y = 0 about the upright axis. */
const bodies: Record<string, { solid: Solid; at: [number, number, number] }> = {
  ball: { solid: roundedBox(70, 70, 70, 35, 32, LATTICE), at: [-15, 30, 28] },
  slab: { solid: roundedBox(160, 60, 20, 3, 8, LATTICE), at: [-15, 20, 4] },
  cylinder: { solid: turnedBar(30, 30, 80, 96, LATTICE), at: [-15, 30, 22] },
  cone: { solid: turnedBar(40, 10, 80, 96, LATTICE), at: [-15, 30, 18] },
  ring: { solid: turnedRing(25, 15, 64, 32, LATTICE), at: [-15, -5, -4] },
}

async function word(face: (typeof SHIPPED_FACES)[number]): Promise<Solid> {
  const route = wordRoute('Fäh8&g', face.id, { size: 14 }, { depth: 12, front: { profile: 'chamfer', inset: 0.6, height: 0.6 } })
  const { value } = await evaluateRoute(route, { assets })
  if (value?.kind !== 'solid') throw new Error(`${face.id} makes no solid`)
  return value
}

const FACES = FULL ? SHIPPED_FACES : SHIPPED_FACES.filter((_, i) => i % 10 === 2)
/** every body with every face in full, else each body with one face */
const bodiesFor = (face: string) => Object.entries(bodies).filter((_, i) => FULL || (i + FACES.findIndex(({ id }) => id === face)) % 2 === 0)

const volumeOf = (solid: Solid) => checkMesh(solid, { deep: false }).volume

describe('joins of words and bodies', () => {
  it.each(FACES.map((face) => [face.id, face] as const))(
    '%s: what comes out is sound, and volumes add up',
    async (_, face) => {
      const letters = await word(face)
      let turn = 0
      for (const [name, { solid: body, at }] of bodiesFor(face.id)) {
        turn++
        const place = {
          position: at,
          turn: (turn % 3 === 0 ? [0, 0, 0] : [7.3 * turn, 5.1 * turn, -5.7 * turn]) as [number, number, number],
          size: turn % 2 ? 1 : 1.137,
        }
        const partner = { solid: letters, matrix: placeMatrix(place) }
        const results = JOINS.map((how) => joinSolid(body, [partner], how))
        const volumes = results.map((joined, i) => {
          if (!joined.ok) throw new Error(`${name}, ${JOINS[i]}: ${joined.why}`)
          expect(checkMesh(joined.solid).findings, `${name}, ${JOINS[i]}`).toEqual([])
          expect(joined.after / volumeOf(joined.solid)).toBeCloseTo(1, 5)
          return joined.after
        })
        const [fused, carved, common] = volumes
        const [a, b] = [volumeOf(body), volumeOf(transformed(letters, partner.matrix, LATTICE))]
        expect(common).toBeGreaterThan(1)
        expect(Math.abs((fused + common) / (a + b) - 1)).toBeLessThan(1e-6)
        expect(Math.abs((carved + common) / a - 1)).toBeLessThan(1e-6)
      }
    },
    240_000,
  )

  it('leaves what lies elsewhere bit for bit as it was', () => {
    const body = bodies.ball.solid
    const joined = joinSolid(body, [{ solid: boxSolid([-5, 30, 30], [5, 40, 50]), matrix: UNMOVED }], 'carve')
    if (!joined.ok) throw new Error(joined.why)
    const corners = (solid: Solid, t: number) =>
      [0, 1, 2]
        .map((k) => [0, 1, 2].map((i) => solid.positions[3 * solid.indices[3 * t + k] + i]).join())
        .sort()
        .join(' ')
    const after = new Set(Array.from({ length: triangleCount(joined.solid) }, (_, t) => corners(joined.solid, t)))
    let gone = 0
    for (let t = 0; t < triangleCount(body); t++) {
      const [x, y, z] = [0, 1, 2].map((i) => body.positions[3 * body.indices[3 * t] + i])
      const near = Math.abs(x) < 8 && Math.abs(y - 35) < 8 && z > 25
      if (!after.has(corners(body, t))) {
        gone++
        expect(near).toBe(true)
      }
    }
    expect(gone).toBeGreaterThan(0)
  })
})

describe('surfaces of a join', () => {
  const plate = boxSolid(
    [-20, -20, 0],
    [20, 20, 10],
    { group: FACE, look: 0 },
    { looks: [{ name: 'oak', material: { colour: '#aa7744', roughness: 1, metalness: 0 } }] },
  )
  const cutter = boxSolid(
    [-5, -5, 6],
    [5, 5, 14],
    { group: BACK, letter: 0, look: 0 },
    { letters: ['K'], looks: [{ name: 'red', material: { colour: '#ff0000', roughness: 1, metalness: 0 } }] },
  )

  it('what is laid bare is inside, in floor and wall, of the letter that cut it, and undressed; the rest keeps its own', () => {
    const joined = joinSolid(plate, [{ solid: cutter, matrix: UNMOVED }], 'carve')
    if (!joined.ok) throw new Error(joined.why)
    const { solid } = joined
    const area: Record<string, number> = {}
    for (let t = 0; t < triangleCount(solid); t++) {
      const group = labelAt(solid, t, 'group')
      const band = solid.bands[labelAt(solid, t, 'band')] ?? 'none'
      const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((i) => solid.positions[3 * solid.indices[3 * t + k] + i]))
      const [u, v] = [b.map((x, i) => x - a[i]), c.map((x, i) => x - a[i])]
      const key = `${group} ${band} ${labelAt(solid, t, 'letter')} ${labelAt(solid, t, 'look') === NONE ? 'bare' : 'dressed'}`
      area[key] = (area[key] ?? 0) + Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
    }
    expect(solid.letters).toEqual(['K'])
    expect(area).toEqual({
      [`${INSIDE} floor 0 bare`]: expect.closeTo(100, 6),
      [`${INSIDE} wall 0 bare`]: expect.closeTo(160, 6),
      [`${FACE} none ${NONE} dressed`]: expect.closeTo(2 * 1600 - 100 + 4 * 400, 6),
    })
    expect(thinnestFloor(solid)?.thickness).toBeCloseTo(6, 9)
    expect(thinnestFloor(plate)).toBeUndefined()
  })

  it('fused ones keep the groups, letters and looks of both', () => {
    const joined = joinSolid(plate, [{ solid: cutter, matrix: UNMOVED }], 'fuse')
    if (!joined.ok) throw new Error(joined.why)
    const rows = new Set(
      Array.from({ length: triangleCount(joined.solid) }, (_, t) => `${labelAt(joined.solid, t, 'group')} ${labelAt(joined.solid, t, 'letter')}`),
    )
    expect([...rows].sort()).toEqual([`${FACE} ${NONE}`, `${BACK} 0`])
    expect(joined.solid.looks.map(({ name }) => name).sort()).toEqual(['oak', 'red'])
  })

  it('says which of them have nothing in common with the body, and when nothing is left', () => {
    const away = placeMatrix({ position: [100, 0, 0], turn: [0, 0, 0], size: 1 })
    for (const how of ['fuse', 'carve'] as const) {
      const joined = joinSolid(
        plate,
        [
          { solid: cutter, matrix: UNMOVED },
          { solid: cutter, matrix: away },
        ],
        how,
      )
      expect(joined.ok && joined.apart).toEqual([1])
    }
    expect(joinSolid(plate, [{ solid: cutter, matrix: away }], 'overlap')).toMatchObject({ ok: false, why: 'empty' })
    expect(joinSolid(cutter, [{ solid: plate, matrix: placeMatrix({ position: [0, 0, -5], turn: [0, 0, 0], size: 3 }) }], 'carve')).toMatchObject({
      ok: false,
      why: 'empty',
    })
  })

  it('holds for faces that lie in one plane, and for cutters that only touch', () => {
    const flush = boxSolid([-5, -5, 4], [5, 5, 10])
    const joined = joinSolid(plate, [{ solid: flush, matrix: UNMOVED }], 'carve')
    expect(joined.ok && checkMesh(joined.solid)).toMatchObject({ sound: true, volume: expect.closeTo(16_000 - 600, 6) })
    const touching = boxSolid([-5, -5, 10], [5, 5, 14])
    const fused = joinSolid(plate, [{ solid: touching, matrix: UNMOVED }], 'fuse')
    expect(fused.ok && checkMesh(fused.solid)).toMatchObject({ sound: true, volume: expect.closeTo(16_400, 6) })
  })
})

describe('mending', () => {
  /** A solid as a mesh that may be mended, corners being what they are. */
  const loose = (solid: Solid): LooseMesh => ({
    positions: solid.positions.slice(),
    indices: Int32Array.from(solid.indices),
    corners: Uint32Array.from({ length: solid.indices.length }, (_, i) => i),
    surface: solid.surface.slice(),
  })
  const everywhere = [-1e6, -1e6, -1e6, 1e6, 1e6, 1e6] as const
  const kept = ({ positions, indices }: LooseMesh) => ({
    positions,
    indices: Uint32Array.from(
      Array.from({ length: indices.length / 3 }, (_, t) => t)
        .filter((t) => indices[3 * t] !== REMOVED)
        .flatMap((t) => [...indices.subarray(3 * t, 3 * t + 3)]),
    ),
  })

  it('makes sound again what was moved by a few steps of the lattice, or says that it could not', () => {
    const ball = roundedBox(2, 2, 2, 1, 6, LATTICE)
    let mended = 0
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(), fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 })), {
          maxLength: 12,
        }),
        (moves) => {
          // sides of a thirtieth of a step and up: some triangles turn over
          const small = { ...ball, positions: ball.positions.map((v) => Math.round(v / 128 / LATTICE) * LATTICE) }
          const mesh = loose(small)
          for (const [v, ...by] of moves) by.forEach((n, k) => (mesh.positions[3 * (v % (small.positions.length / 3)) + k] += n * LATTICE))
          const was = checkMesh(kept(mesh))
          const result = mendRounded(mesh, LATTICE, everywhere)
          const now = checkMesh(kept(mesh))
          // whoever is told that it is sound can rely on it
          if (result.sound) expect(now.findings.filter(({ code }) => code !== 'inside-out')).toEqual([])
          if (!was.sound && result.sound) mended++
        },
      ),
      { numRuns: 150, seed: 7 },
    )
    expect(mended).toBeGreaterThan(30)
  })

  it('tells how deep triangles reach through each other: no shorter way parts them, and one as long does', () => {
    let crossed = 0
    fc.assert(
      fc.property(fc.integer(), (seed) => {
        const next = noise(seed)
        const places = Array.from({ length: 18 }, next)
        const ids = Uint32Array.from([0, 1, 2, 3, 4, 5])
        fc.pre(trianglesCross(places, ids, 0, 1))
        const depth = depthOfCrossing(places, ids, 0, 1)
        crossed++
        const crossesMoved = (by: number) => {
          const [a, b] = [Math.acos(Math.max(-1, Math.min(1, next()))), Math.PI * next()]
          const way = [Math.sin(a) * Math.cos(b), Math.sin(a) * Math.sin(b), Math.cos(a)]
          return trianglesCross(
            places.map((v, i) => (i < 9 ? v : v + by * way[i % 3])),
            ids,
            0,
            1,
          )
        }
        for (let i = 0; i < 200; i++) expect(crossesMoved(0.999 * depth)).toBe(true)
        // some way that is hardly longer parts them
        let parted = false
        for (let i = 0; i < 4000 && !parted; i++) parted = !crossesMoved(1.05 * depth + 1e-9)
        expect(parted).toBe(true)
      }),
      { numRuns: 120, seed: 5 },
    )
    expect(crossed).toBeGreaterThan(100)
  })

  it('does not begin on what reaches deep through itself, and says where that is', () => {
    const [a, b] = [bodies.ball.solid, { ...bodies.ball.solid, positions: bodies.ball.solid.positions.map((v, i) => (i % 3 === 0 ? v + 1 : v)) }]
    const n = a.positions.length / 3
    const mesh = loose({
      ...a,
      positions: Float64Array.from([...a.positions, ...b.positions]),
      indices: Uint32Array.from([...a.indices, ...b.indices.map((v) => v + n)]),
      surface: Uint32Array.from([...a.surface, ...b.surface]),
    })
    const was = mesh.positions.slice()
    const result = mendRounded(mesh, LATTICE, everywhere)
    expect(result).toMatchObject({ sound: false, collapsed: 0, flipped: 0, nudged: 0 })
    expect(result.places.length).toBeGreaterThan(0)
    expect(mesh.positions).toEqual(was)
  })

  it('leaves what is sound as it is', () => {
    const mesh = loose(bodies.ring.solid)
    expect(mendRounded(mesh, LATTICE, everywhere)).toEqual({ sound: true, collapsed: 0, flipped: 0, nudged: 0, places: [] })
    expect(mesh.positions).toEqual(bodies.ring.solid.positions)
    expect([...mesh.indices]).toEqual([...bodies.ring.solid.indices])
  })

  it('keeps labels in step with triangles', () => {
    const solid = {
      ...bodies.ball.solid,
      labels: labelTable([PLAIN_ROW, { ...PLAIN_ROW, group: BACK }]),
      surface: bodies.ball.solid.surface.map((_, t) => (bodies.ball.solid.positions[3 * bodies.ball.solid.indices[3 * t] + 2] > 0 ? 0 : 1)),
    }
    const joined = joinSolid(
      solid,
      [{ solid: boxSolid([-10, 20, -60], [10, 50, 60]), matrix: placeMatrix({ position: [0, 0, 0], turn: [1, 2, 3], size: 1 }) }],
      'carve',
    )
    if (!joined.ok) throw new Error(joined.why)
    for (let t = 0; t < triangleCount(joined.solid); t++) {
      const group = labelAt(joined.solid, t, 'group')
      const z = [0, 1, 2].map((k) => joined.solid.positions[3 * joined.solid.indices[3 * t + k] + 2])
      if (group === BACK) expect(Math.min(...z)).toBeLessThan(0.1)
      if (group === FACE) expect(Math.max(...z)).toBeGreaterThan(0)
    }
  })
})
