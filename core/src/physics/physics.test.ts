import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { FULL, wordRoute } from '../../test/helpers'
import { block, falling, quiet, run, step, valueOf, words } from '../../test/simulating'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { takenApart } from '../repeat/apart'
import { type Assembly, assemblyBounds, copyCount, copySolid } from '../solid/assembly'
import { solidFromTriangles } from '../solid/from-triangles'
import { joinSolids, transformed } from '../solid/operations'
import { type Solid, solidBounds } from '../solid/solid'
import { volumeOf } from '../solid/volume'
import { convexParts, hullOf } from './convex-parts'
import { drop, type Recording, seenAt } from './drop'
import { RATE } from './recording'
import { bodyShape } from './shape'

beforeAll(() => loadManifold())

const heightAt = ({ poses, things }: Recording, frame: number, thing = 0) => poses[7 * (frame * things + thing) + 1]

/** A slope through the middle that falls to the right by so many degrees, mm. */
function slope(degrees: number): Solid {
  const t = Math.tan((degrees * Math.PI) / 180)
  const far = 4000
  const corners = [-far, far].flatMap((z) => [
    [-far, far * t, z],
    [far, -far * t, z],
    [far, -far * t - 500, z],
    [-far, far * t - 500, z],
  ])
  const quads = [
    [0, 4, 5, 1],
    [1, 5, 6, 2],
    [2, 6, 7, 3],
    [3, 7, 4, 0],
    [0, 1, 2, 3],
    [7, 6, 5, 4],
  ]
  return solidFromTriangles({ positions: corners.flat(), indices: quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d]) })
}

describe('Falling', () => {
  it('is free fall by the law of falling bodies, within 1 %', async () => {
    const rec = await drop(takenApart(await block(10, 10, 10), 'part'), falling({ seconds: 2 }), quiet)
    for (const seconds of [1, 1.5, 2]) {
      const fallen = heightAt(rec, 0) - heightAt(rec, seconds * RATE)
      expect(Math.abs(fallen / (0.5 * 9.81 * 50 * seconds ** 2) - 1)).toBeLessThan(0.01)
    }
  })

  it('bounces as high as its bounce says, and never higher than it was', async () => {
    for (const bounce of [0.5, 0.8]) {
      const rec = await drop(takenApart(await block(10, 10, 10), 'part'), falling({ seconds: 3, bounce, floor: -400 }), quiet)
      const low = -400 + 5
      const start = heightAt(rec, 0) - low
      const heights = Array.from({ length: rec.frames }, (_, i) => heightAt(rec, i) - low)
      const first = heights.findIndex((h, i) => i > 0 && i + 1 < heights.length && heights[i + 1] > h && h < heights[i - 1])
      const top = Math.max(...heights.slice(first, first + 100))
      expect(Math.abs(top / start / bounce ** 2 - 1)).toBeLessThan(0.01)
      expect(Math.max(...heights)).toBeLessThanOrEqual(start + 1e-3)
    }
  })

  it('slides at the angle of friction, to a degree', async () => {
    const friction = 0.4
    const angle = (Math.atan(friction) * 180) / Math.PI
    const slid = async (degrees: number) => {
      // the block is stood on the slope, turned with it
      const { value } = await run(step('block', { width: 20, height: 6, depth: 20 }))
      const body = value as Solid
      const [c, s] = [Math.cos((-degrees * Math.PI) / 180), Math.sin((-degrees * Math.PI) / 180)]
      const box = solidBounds(body.positions)
      const turned: Solid = {
        ...body,
        positions: body.positions.map((_, i) => {
          const o = i - (i % 3)
          const [x, y] = [body.positions[o] - (box[0] + box[3]) / 2, body.positions[o + 1] - box[1] + 0.02]
          return i % 3 === 0 ? c * x - s * y : i % 3 === 1 ? s * x + c * y : body.positions[i]
        }),
      }
      const rec = await drop(takenApart(turned, 'part'), falling({ friction, obstacles: [slope(degrees)], seconds: 2 }), quiet)
      const last = 7 * (rec.frames - 1)
      return Math.hypot(rec.poses[last] - rec.poses[0], rec.poses[last + 1] - rec.poses[1])
    }
    expect(await slid(angle - 1)).toBeLessThan(2)
    expect(await slid(angle + 1)).toBeGreaterThan(8)
  })

  it('gives the same bytes twice, and others for another seed', async () => {
    const apart = takenApart(await valueOf(...words('Fog')), 'letter')
    const made = (seed: number) => drop(apart, falling({ floor: -60, spin: 90, seed }), quiet)
    const [a, b, c] = [await made(1), await made(1), await made(2)]
    expect(Buffer.from(a.poses.buffer).equals(Buffer.from(b.poses.buffer))).toBe(true)
    expect(Buffer.from(a.poses.buffer).equals(Buffer.from(c.poses.buffer))).toBe(false)
  })

  it('comes to rest in a pile, in which no two sink into each other or the floor by a hundredth of their size', async () => {
    const [across, down] = FULL ? [10, 20] : [6, 6]
    const lines = Array.from({ length: down }, () => 'Rg'.repeat(across / 2)).join('\n')
    const value = await valueOf(...wordRoute(lines, 'archivo-bold', { size: 20, tracking: 60 }, { depth: 6 }))
    const apart = takenApart(value, 'letter')
    expect(apart.things.length).toBe(across * down)
    const box = assemblyBounds(apart.assembly)
    // as the step sets them up: nothing begins in the floor or in a wall
    const floor = box[1] - 40
    const pen = [(box[3] - box[0]) / 2 + 20, (box[5] - box[2]) / 2 + 20] as const
    const rec = await drop(apart, falling({ floor, pen, spin: 120, seconds: 10 }), quiet)
    expect(rec.rest).toBeLessThan(10)
    const end = seenAt(apart, rec, 10)
    const solids = Array.from({ length: copyCount(end) }, (_, i) => copySolid(end, i))
    expect(Math.min(...solids.map((solid) => solidBounds(solid.positions)[1]))).toBeGreaterThan(floor - 0.2)
    withScope((own) => {
      const { Manifold, Mesh } = manifold()
      const bodies = solids.map(({ positions, indices }) =>
        own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(positions), triVerts: indices }))),
      )
      const boxes = solids.map(({ positions }) => solidBounds(positions))
      bodies.forEach((body, i) => {
        for (let j = 0; j < i; j++) {
          if ([0, 1, 2].some((k) => boxes[i][k] > boxes[j][k + 3] || boxes[j][k] > boxes[i][k + 3])) continue
          expect(own(body.intersect(bodies[j])).volume()).toBeLessThan(0.01 * Math.min(volumeOf(solids[i]), volumeOf(solids[j])))
        }
      })
    })
  })

  it('leaves what is not let go where it is, until something falls on it', async () => {
    const value = await valueOf(step('block', { width: 20, height: 6, depth: 20 }), step('grid', { across: 1, down: 2, gap: 30 }))
    const apart = takenApart(value, 'copy')
    const lower = apart.things[0].box[1] < apart.things[1].box[1] ? 0 : 1
    const still = await drop(apart, falling({ letGo: [false, false] }), quiet)
    expect(heightAt(still, still.frames - 1, lower)).toBe(heightAt(still, 0, lower))
    const rec = await drop(apart, falling({ letGo: [0, 1].map((i) => i !== lower), floor: -200 }), quiet)
    // 30 mm to fall take half a second
    expect(heightAt(rec, 20, lower)).toBe(heightAt(rec, 0, lower))
    expect(heightAt(rec, rec.frames - 1, lower)).toBeLessThan(heightAt(rec, 0, lower) - 50)
  })

  it.each(SHIPPED_FACES.filter((_, i) => FULL || i % 4 === 0).map(({ id }) => id))(
    'holds in %s for a second: nothing is no number or flies away',
    async (id) => {
      const apart = takenApart(await valueOf(...words('Qa&', id)), 'part')
      const rec = await drop(apart, falling({ floor: -60, spin: 180, seconds: 1 }), quiet)
      expect(rec.poses.every((v) => Number.isFinite(v) && Math.abs(v) < 2000)).toBe(true)
    },
  )
})

describe('What was seen', () => {
  it('begins exactly as it stood, holds the last after its end, and lies between two frames in between', async () => {
    const apart = takenApart(await valueOf(...words('Fo')), 'letter')
    const rec = await drop(apart, falling({ floor: -60, spin: 90, seconds: 2 }), quiet)
    expect(seenAt(apart, rec, 0)).toBe(apart.assembly)
    expect(seenAt(apart, rec, 99).placements.matrix).toEqual(seenAt(apart, rec, (rec.frames - 1) / RATE).placements.matrix)
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 1.9, noNaN: true }), (seconds) => {
        const m = seenAt(apart, rec, seconds).placements.matrix
        // rigid: rows stay unit and at right angles
        for (let o = 0; o < m.length; o += 12) {
          const rows = [0, 4, 8].map((r) => [m[o + r], m[o + r + 1], m[o + r + 2]])
          rows.forEach((a, i) => rows.forEach((b, j) => expect(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]).toBeCloseTo(i === j ? 1 : 0, 6)))
        }
      }),
      { numRuns: 40 },
    )
  })
})

describe('Bodies', () => {
  it('cover the letter they stand for, and hardly more', async () => {
    for (const unit of takenApart(
      await valueOf(...wordRoute('Ro&8g', 'abril-fatface', { size: 40 }, { depth: 10, front: { profile: 'square', inset: 0, height: 0 } })),
      'part',
    ).assembly.units) {
      const { parts, off } = bodyShape(unit)
      expect(off).toBeLessThan(0.03)
      // every corner of the solid lies in a part, by their planes in the plane of the face
      const p = unit.positions
      for (let v = 0; v < p.length; v += 3) {
        const inside = parts.some((part) => {
          const flat = hullOf(Array.from({ length: part.length / 3 }, (_, i) => [part[3 * i], part[3 * i + 1]] as const))
          return flat.every(([x, y], i) => {
            const [u, w] = flat[(i + 1) % flat.length]
            return ((u - x) * (p[v + 1] - y) - (w - y) * (p[v] - x)) / Math.hypot(u - x, w - y) > -0.1
          })
        })
        expect(inside).toBe(true)
      }
    }
  })

  it.each(['archivo-bold', 'knewave'])('cover inflated letters of %s, and leave their counters open', async (face) => {
    const inflated = await valueOf(wordRoute('Ro8', face, { size: 40 }, {})[0], step('inflate'))
    for (const unit of takenApart(inflated, 'letter').assembly.units) {
      const { parts, off } = bodyShape(unit)
      expect(off).toBeLessThan(0.08)
      withScope((own) => {
        const { Manifold, Mesh } = manifold()
        const hulls = parts.map((part) =>
          own(Manifold.hull(Array.from({ length: part.length / 3 }, (_, i): [number, number, number] => [part[3 * i], part[3 * i + 1], part[3 * i + 2]]))),
        )
        const all = own(Manifold.union(hulls))
        const letter = own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(unit.positions), triVerts: unit.indices })))
        expect(own(all.subtract(letter)).volume()).toBeLessThan(0.09 * letter.volume())
        expect(own(letter.subtract(all)).volume()).toBeLessThan(0.05 * letter.volume())
      })
    }
  })

  it('are found one by one, so that it can be stopped between them', async () => {
    const apart = takenApart(await valueOf(...words('Ro8')), 'letter')
    let breaths = 0
    const stopped = drop(apart, falling({ seconds: 1 }), {
      ...quiet,
      breathe: async () => {
        if (++breaths === 2) throw new Error('stopped')
      },
    })
    await expect(stopped).rejects.toThrow('stopped')
    // before the last of them
    expect(breaths).toBeLessThan(apart.things.length)
  })

  it('that are specks fall as well', async () => {
    const [big, speck] = [await block(10, 10, 10), await block(0.1, 0.1, 0.1)]
    if (big.kind !== 'solid' || speck.kind !== 'solid') throw new Error('no solid')
    const apart = takenApart(joinSolids([big, transformed(speck, [1, 0, 0, 20, 0, 1, 0, 0, 0, 0, 1, 0])]), 'part')
    expect(apart.things.length).toBe(2)
    const rec = await drop(apart, falling({ seconds: 1, floor: -100 }), quiet)
    for (const thing of [0, 1]) expect(heightAt(rec, 0, thing) - heightAt(rec, RATE, thing)).toBeGreaterThan(50)
  })

  it('of a ring do not fill its hole', () => {
    const ring = (r: number, turn: number) =>
      Float64Array.from({ length: 48 }, (_, i) => r * (i % 2 ? Math.sin : Math.cos)((turn * 2 * Math.PI * (i >> 1)) / 24))
    const parts = convexParts([ring(10, 1), ring(6, -1)], 0.002)
    expect(parts?.length).toBeGreaterThan(5)
    for (const part of parts ?? []) for (const [x, y] of part) expect(Math.hypot(x, y)).toBeGreaterThan(5.9)
  })
})

describe('Drop', () => {
  it('shows any moment of one recording, and says what it did', async () => {
    const at = async (seconds: number) => {
      const { value, steps } = await run(...words('HET'), step('drop', { at: seconds }))
      return { value: value as Assembly, told: steps.at(-1)?.told ?? '', issues: steps.at(-1)?.issues ?? [] }
    }
    expect((await at(0)).told).toContain('3 letters, at rest after')
    expect((await at(1)).value.placements.matrix).not.toEqual((await at(0.5)).value.placements.matrix)
    expect((await at(9)).issues.map(({ code }) => code)).toContain('beyond')
  })

  it('shows what things are taken for, when asked, where they are then', async () => {
    const shown = async (what: string) => (await run(...words('Ro'), step('drop', { at: 0.5, length: 0.6, shown: what }))).value as Assembly
    const [things, bodies] = [await shown('things'), await shown('bodies')]
    expect(copyCount(bodies)).toBeGreaterThan(copyCount(things))
    const volume = (assembly: Assembly) => Array.from({ length: copyCount(assembly) }, (_, i) => volumeOf(copySolid(assembly, i))).reduce((a, b) => a + b)
    // parts may lie in each other a little
    expect(Math.abs(volume(bodies) / volume(things) - 1)).toBeLessThan(0.12)
    const [a, b] = [assemblyBounds(things), assemblyBounds(bodies)]
    a.forEach((v, k) => expect(Math.abs(v - b[k])).toBeLessThan(1))
  })

  it('lets shards fall upon another piece, and a further step work on what lies there', async () => {
    const { value, steps } = await run(
      ...words('Fog'),
      step('shatter', { pieces: 9 }),
      step('drop', { by: 'copy', at: 3 }),
      step('cut-flat', { axis: 'across', keep: 'first' }),
    )
    expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
    expect(value?.kind).toBe('solid')
  })

  it.each([
    ['nothing to take apart', { by: 'copy' }, 'nothing-apart'],
    ['a moment that is none', { at: -1 }, 'bad-parameters'],
    ['no floor', { floor: 'none', length: 0.5 }, 'no-floor'],
  ])('says what is the matter with %s', async (_, params, code) => {
    const { steps } = await run(...words('Fo'), step('drop', params))
    const issue = steps.at(-1)?.issues.find(({ remedy }) => remedy.length > 0)
    expect(issue?.code === code || (code === 'bad-parameters' && issue?.severity === 'failed')).toBe(true)
  })
})
