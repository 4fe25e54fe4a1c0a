import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { block, CALM, quiet, run, step, STILL, valueOf, words } from '../../test/simulating'
import { FULL, wordRoute } from '../../test/helpers'
import { volumeOf } from '../solid/volume'
import { checkMesh } from '../check/check'
import { travelOf } from '../document/travel'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { type Mask, maskSchema } from '../mask/schema'
import { track } from '../motion/track'
import { takenApart } from '../repeat/apart'
import { type Assembly, copySolid } from '../solid/assembly'
import { refineSolid } from '../solid/refine'
import { type Solid, solidBounds } from '../solid/solid'
import { CarriedSkin } from './carried-skin'
import { cellLattice } from './cell-lattice'
import { type Jellying, type Jelly, jellyAt, makeJelly, wobble } from './jelly'
import { FARTHEST } from './recording'

beforeAll(() => loadManifold())

const NOTHING = maskSchema.parse({ list: [] })
const lowest = (percent: number): Mask => maskSchema.parse({ list: [{ by: 'height', from: percent, to: percent - 0.1 }] })
const how = (more: Partial<Jellying> = {}): Jellying => ({
  gravity: 9.81,
  metre: 50,
  friction: 0.6,
  bounce: 0,
  obstacles: [],
  stiffness: 0.5,
  damping: 0.6,
  swell: 1,
  density: 0.2,
  air: STILL,
  forces: CALM,
  seconds: 2,
  ...more,
})
async function jellyOf(value: Solid | Assembly, cell: number, pins: Mask = NOTHING, firm: Mask = NOTHING, by: 'letter' | 'part' = 'letter'): Promise<Jelly> {
  const made = await makeJelly(takenApart(value, by), cell, pins, firm, quiet.breathe)
  if (!made.ok) throw new Error(made.why)
  return made.jelly
}
async function wobbled(jelly: Jelly, more: Partial<Jellying>) {
  const recording = await wobble(jelly, how(more), quiet)
  if (!recording) throw new Error('blown up')
  return recording
}
const skinOf = (solid: Solid, cell: number): Solid =>
  refineSolid(solid, (p, a, b) => (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > (0.8 * cell) ** 2, { longest: true }) as Solid

/** Connected sets of cells that share a corner. */
function piecesOf(cells: Uint32Array): number {
  const parent = new Map<number, number>()
  const root = (v: number): number => {
    const up = parent.get(v) ?? v
    return up === v ? v : root(up)
  }
  for (let i = 0; i < cells.length; i += 8) for (let k = 1; k < 8; k++) parent.set(root(cells[i + k]), root(cells[i]))
  return new Set([...cells].map(root)).size
}

describe('A lattice', () => {
  it('is one body for one letter, and does not glue strokes that only come near each other', async () => {
    // two prongs 1 mm apart within cells of 6 mm, joined at the foot alone
    const apart = await valueOf(step('block', { width: 30, height: 40, depth: 10 }))
    const slit = withScope((own) => {
      const { Manifold, Mesh } = manifold()
      const box = solidBounds((apart as Solid).positions)
      const body = own(
        Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from((apart as Solid).positions), triVerts: (apart as Solid).indices })),
      )
      const cut = own(own(Manifold.cube([1.6, 30, 40], true)).translate([(box[0] + box[3]) / 2 + 0.3, box[4], 0]))
      const mesh = own(body.subtract(cut)).getMesh()
      return { positions: Float64Array.from(mesh.vertProperties), indices: Uint32Array.from(mesh.triVerts) }
    })
    const { solidFromTriangles } = await import('../solid/from-triangles')
    const solid = skinOf(solidFromTriangles(slit), 6)
    const { cells, points, carrier } = cellLattice(solid, 6)
    expect(piecesOf(cells)).toBe(1)
    // at the top no cell that carries the left prong shares a corner with one that carries the right
    const box = solidBounds(solid.positions)
    const middle = (box[0] + box[3]) / 2 + 0.3
    const corners = (side: number) => {
      const out = new Set<number>()
      for (let v = 0; v < carrier.length; v++)
        if (solid.positions[3 * v + 1] > box[4] - 4 && Math.sign(solid.positions[3 * v] - middle) === side)
          for (let c = 0; c < 8; c++) out.add(cells[8 * carrier[v] + c])
      return out
    }
    const left = corners(-1)
    expect([...corners(1)].some((corner) => left.has(corner))).toBe(false)
    expect(points.length / 3).toBeGreaterThan(8)
  })

  it('carries its skin exactly through any even movement, and its directions with it', async () => {
    const solid = skinOf((await valueOf(...words('R'))) as Solid, 5)
    const lattice = cellLattice(solid, 5)
    const skin = new CarriedSkin(lattice, solid.positions, new Uint8Array(lattice.points.length / 3))
    const ends = new Float64Array(solid.positions.length)
    const turns = new Float64Array(3 * ends.length)
    fc.assert(
      fc.property(fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 12, maxLength: 12 }), (m) => {
        const map = (p: ArrayLike<number>, o: number) => [0, 4, 8].map((r) => m[r] * p[o] + m[r + 1] * p[o + 1] + m[r + 2] * p[o + 2] + 20 * m[r + 3])
        const at = new Float64Array(lattice.points.length)
        for (let o = 0; o < at.length; o += 3) at.set(map(lattice.points, o), o)
        skin.carried(at, ends, turns)
        let off = 0
        for (let o = 0; o < ends.length; o += 3) {
          const exact = map(solid.positions, o)
          for (let k = 0; k < 3; k++) off = Math.max(off, Math.abs(ends[o + k] - exact[k]))
          for (let k = 0; k < 9; k++) off = Math.max(off, Math.abs(turns[3 * o + k] - m[4 * Math.floor(k / 3) + (k % 3)]))
        }
        expect(off).toBeLessThan(1e-8)
      }),
      { numRuns: 12 },
    )
  })
})

describe('Jelly', () => {
  it('keeps its volume, comes to rest on the floor, and gives the same bytes twice', async () => {
    const jelly = await jellyOf(await valueOf(...words('Q')), 5)
    const low = solidBounds(jelly.bodies[0].skin.positions)[1]
    const made = () => wobbled(jelly, { floor: low - 30, damping: 2, seconds: 6, stiffness: 0.7 })
    const [a, b] = [await made(), await made()]
    expect(Buffer.from(a.points.buffer).equals(Buffer.from(b.points.buffer))).toBe(true)
    expect(a.rest).toBeLessThan(6)
    const end = jellyAt(jelly, 0, a, 6)
    expect(Math.abs(volumeOf(end) / volumeOf(jelly.bodies[0].skin) - 1)).toBeLessThan(0.02)
    expect(solidBounds(end.positions)[1]).toBeCloseTo(low - 30, 0)
  })

  it('comes to rest after a force has ended, not before', async () => {
    const jelly = await jellyOf(await valueOf(...words('I')), 5)
    const low = solidBounds(jelly.bodies[0].skin.positions)[1]
    const shaken = (acts: readonly [number, number]) =>
      wobbled(jelly, { floor: low, damping: 3, seconds: 6, stiffness: 0.7, forces: { ...CALM, spot: [0, 1e4, 0], pull: 3, acts } })
    const { rest = 0 } = await shaken([0, 1.5])
    expect(rest).toBeGreaterThan(1.5)
    expect(rest).toBeLessThan(6)
    expect((await shaken([0, 30])).rest).toBeUndefined()
  })

  it('is as stiff within as a mask makes its skin', async () => {
    const cube = await block(40, 40, 40)
    const all = maskSchema.parse({ list: [{ by: 'ball', centre: [0, 0, 0], radius: 500, soft: 0 }] })
    const made = await makeJelly(takenApart(cube, 'part'), 5, NOTHING, all, quiet.breathe)
    if (!made.ok) throw new Error(made.why)
    const [{ stiff, lattice }] = made.jelly.bodies
    // corners of cells that carry nothing of the skin
    const carried = new Set(Array.from(lattice.carrier).flatMap((cell) => [0, 1, 2, 3, 4, 5, 6, 7].map((c) => lattice.cells[8 * cell + c])))
    expect(stiff.length - carried.size).toBeGreaterThan(50)
    for (const share of stiff) expect(share).toBe(1)
  })

  it('swells to the volume it wants', async () => {
    const jelly = await jellyOf(await valueOf(...words('o')), 5)
    const recording = await wobbled(jelly, { gravity: 0, swell: 1.5, damping: 3, stiffness: 0.2, seconds: 2 })
    expect(volumeOf(jellyAt(jelly, 0, recording, 2)) / volumeOf(jelly.bodies[0].skin)).toBeGreaterThan(1.3)
  })

  it('stays where a mask holds it while the wind bends the rest, less where another makes it stiff', async () => {
    const value = await valueOf(...words('I'))
    const air = { speed: [14, 0, 0] as const, gusts: 0.5, turbulence: 0.4, seed: 2 }
    const bent = async (firm: Mask) => {
      const jelly = await jellyOf(value, 4, lowest(15), firm)
      expect(jelly.pinned).toBeGreaterThan(10)
      const recording = await wobbled(jelly, { air, seconds: 2, stiffness: 0.2 })
      const [{ skin }] = jelly.bodies
      const box = solidBounds(skin.positions)
      let [held, moved] = [0, 0]
      for (let s = 0.1; s <= 2; s += 0.1) {
        const { positions } = jellyAt(jelly, 0, recording, s)
        for (let v = 0; v < positions.length; v += 3) {
          const far = Math.hypot(...[0, 1, 2].map((k) => positions[v + k] - skin.positions[v + k]))
          if (skin.positions[v + 1] < box[1] + 0.149 * (box[4] - box[1])) held = Math.max(held, far)
          moved = Math.max(moved, far)
        }
      }
      expect(held).toBeLessThan(1e-4)
      return moved
    }
    const soft = await bent(NOTHING)
    expect(soft).toBeGreaterThan(3)
    expect(await bent(maskSchema.parse({ list: [{ by: 'height', from: 0, to: 0 }] }))).toBeLessThan(0.6 * soft)
  })

  it('follows where its piece is moved and turned: what is held goes along, the rest comes after', async () => {
    const keys = (list: [number, number][]) => track.parse({ keys: list.map(([at, value]) => ({ at, value })), after: 'stays' })
    const travel = travelOf(
      undefined,
      {
        x: keys([
          [0, 0],
          [10, 60],
        ]),
        turnY: keys([
          [20, 0],
          [40, 90],
        ]),
      },
      24,
    )
    const jelly = await jellyOf(await valueOf(...words('I')), 4, lowest(15))
    const recording = await wobbled(jelly, { travel, gravity: 0, stiffness: 0.35, damping: 3, seconds: 5 })
    const [{ lattice, held, skin }] = jelly.bodies
    // the engine itself takes along what is held, as near as its floats are
    let off = 0
    for (let frame = 0; frame < recording.frames; frame++)
      for (let i = 0; i < held.length; i++)
        if (held[i]) for (let k = 0; k < 3; k++) off = Math.max(off, Math.abs(recording.points[3 * (jelly.points * frame + i) + k] - lattice.points[3 * i + k]))
    expect(off).toBeLessThan(0.02)
    const tip = (seconds: number) => {
      const { positions } = jellyAt(jelly, 0, recording, seconds)
      const box = solidBounds(skin.positions)
      let [sum, n] = [0, 0]
      for (let v = 0; v < positions.length; v += 3)
        if (skin.positions[v + 1] > box[4] - 0.1) {
          sum += positions[v] - skin.positions[v]
          n++
        }
      return sum / n
    }
    expect(tip(0.2)).toBeLessThan(-2)
    expect(Math.abs(tip(5))).toBeLessThan(0.5)
  })

  it('does not come into itself or its neighbours', async () => {
    const value = await valueOf(step('block', { width: 16, height: 16, depth: 16 }), step('row', { count: 2, way: 'up', gap: 8 }))
    const made = await makeJelly(takenApart(value, 'copy'), 4, NOTHING, NOTHING, quiet.breathe)
    if (!made.ok) throw new Error(made.why)
    const low = Math.min(...made.jelly.bodies.map(({ skin }) => solidBounds(skin.positions)[1]))
    const recording = await wobbled(made.jelly, { floor: low, damping: 1, seconds: 2 })
    for (const seconds of [0.4, 0.8, 2]) {
      const [a, b] = made.jelly.bodies.map((_, i) => jellyAt(made.jelly, i, recording, seconds))
      withScope((own) => {
        const { Manifold, Mesh } = manifold()
        const [p, q] = [a, b].map(({ positions, indices }) =>
          own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(positions), triVerts: indices }))),
        )
        expect(own(p.intersect(q)).volume()).toBeLessThan(0.02 * p.volume())
      })
    }
  })

  it.each(SHIPPED_FACES.filter((_, i) => FULL || i % 6 === 1).map(({ id }) => id))(
    'wobbles in %s for 60 frames: nothing is no number or flies away, and what it shows is sound',
    async (id) => {
      const { value, steps } = await run(...words('Qa&', id), step('jelly', { at: 0.9, length: 1, fall: 20 }))
      expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
      const assembly = value as Assembly
      for (let i = 0; i < assembly.placements.unit.length; i++) {
        const solid = copySolid(assembly, i)
        expect(checkMesh(solid).sound).toBe(true)
        expect(solidBounds(solid.positions).every((v) => Math.abs(v) < FARTHEST / 20)).toBe(true)
      }
    },
  )

  it.each([
    ['a mask that is nowhere', { mask: { list: [{ by: 'height', from: 300, to: 301 }] }, length: 0.2, at: 0.1 }, 'mask-nowhere'],
    ['nothing to fall upon', { floor: 'none', length: 0.2, at: 0.1 }, 'no-floor'],
    ['cells that are too fine', { cell: 0.5 }, 'too-fine'],
    ['nothing to take apart', { by: 'copy' }, 'nothing-apart'],
  ])('says what is the matter with %s', async (_, params, code) => {
    const { steps } = await run(...wordRoute('Fog', 'archivo-bold', { size: 40 }, { depth: 10 }), step('jelly', params))
    expect(steps.at(-1)?.issues.map((issue) => issue.code)).toContain(code)
  })

  it('gives a moment that a further step works on', async () => {
    const { value, steps } = await run(...words('Fo'), step('jelly', { at: 0.7, length: 1, fall: 10 }), step('cut-flat', { axis: 'across', keep: 'first' }))
    expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
    expect(value?.kind).toBe('solid')
    expect(checkMesh(value as Solid).sound).toBe(true)
  })

  it('lands on another piece', async () => {
    const jelly = await jellyOf(await block(16, 16, 16), 4, NOTHING, NOTHING, 'part')
    const box = solidBounds(jelly.bodies[0].skin.positions)
    const table = (await valueOf(step('block', { width: 60, height: 4, depth: 60 }))) as Solid
    const own = solidBounds(table.positions)
    const under: Solid = { ...table, positions: table.positions.map((v, i) => (i % 3 === 1 ? v - own[4] + box[1] - 20 : v)) }
    const recording = await wobbled(jelly, { obstacles: [under], damping: 2, seconds: 2 })
    expect(solidBounds(jellyAt(jelly, 0, recording, 2).positions)[1]).toBeGreaterThan(box[1] - 20 - 0.6)
  })
})
