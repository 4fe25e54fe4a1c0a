import { WebIO } from '@gltf-transform/core'
import { EXTMeshGPUInstancing } from '@gltf-transform/extensions'
import fc from 'fast-check'
import { strFromU8, unzipSync } from 'fflate'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, boxSolid, FULL, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { joinSolid } from '../join/join'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { write3mf } from '../format/3mf'
import { writeGlb } from '../format/glb'
import { readObj, writeObj } from '../format/obj'
import { asOneSolid } from '../repeat/united'
import { type Assembly, copyBoxes, shardNames } from '../solid/assembly'
import { INSIDE, NONE } from '../solid/labels'
import { letterParts } from '../solid/letter-parts'
import { UNMOVED } from '../solid/operations'
import { labelAt, type Solid, triangleCount } from '../solid/solid'
import { cellsOfCourses, cellsOfSites } from './cells'
import { centreOf, shardFigures } from './figures'
import { BREAK } from './fragment'
import { brokenToPieces } from './pieces'
import { placesInside } from './samples'
import { volumeOf } from '../solid/volume'
import { PATTERNS } from './patterns'
import { wallMesh } from './walls'

beforeAll(() => loadManifold())

const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const run = (...route: RouteStep[]) => evaluateRoute(route, { assets })
const words = (text: string, face = 'archivo-bold', depth = 8) => wordRoute(text, face, { size: 40 }, { depth })
const solidOf = async (...route: RouteStep[]): Promise<Solid> => {
  const { value } = await run(...route)
  if (value?.kind !== 'solid') throw new Error(value?.kind)
  return value
}
const shattered = async (route: RouteStep[], params: Record<string, unknown>) => {
  const { value, steps } = await run(...route, step('shatter', params))
  const issues = steps.flatMap(({ issues }) => issues)
  const failed = issues.find(({ severity }) => severity === 'failed')
  if (failed) throw new Error(failed.message)
  if (value?.kind !== 'assembly') throw new Error(value?.kind)
  return { value, issues, told: steps.at(-1)?.told }
}
const total = ({ units }: Assembly) => units.reduce((sum, unit) => sum + volumeOf(unit), 0)

/** The triangles that broke, as their corners' places, the least first. */
function brokenTriangles(solid: Solid): string[] {
  const band = solid.bands.indexOf(BREAK)
  const p = solid.positions
  return Array.from({ length: triangleCount(solid) }, (_, t) => t)
    .filter((t) => labelAt(solid, t, 'group') === INSIDE && labelAt(solid, t, 'band') === band)
    .map((t) => cornersOf(solid, p, t).join(' '))
}
function cornersOf(solid: Solid, p: Float64Array, t: number): string[] {
  const corners = [0, 1, 2].map((k) => [0, 1, 2].map((n) => p[3 * solid.indices[3 * t + k] + n]).join())
  const first = corners.indexOf([...corners].sort()[0])
  return [0, 1, 2].map((k) => corners[(first + k) % 3])
}
const turned = (triangle: string) => {
  const [a, b, c] = triangle.split(' ')
  return `${a} ${c} ${b}`
}

/** Every triangle that broke lies on one that is the same the other way round, of another piece. */
function fitExactly(value: Assembly): boolean {
  const all = value.units.flatMap((unit) => brokenTriangles(unit))
  const set = new Set(all)
  return all.length > 0 && set.size === all.length && all.every((triangle) => set.has(turned(triangle)))
}

describe('Shatter', () => {
  it.each(PATTERNS.filter((pattern) => pattern !== 'letter'))(
    'breaks %s into as many sound pieces as asked, which fit exactly and lose nothing',
    async (pattern) => {
      const whole = await solidOf(...words('Quay'))
      for (const rough of [0, 80]) {
        const { value, issues } = await shattered(words('Quay'), { pattern, pieces: 20, seed: 11, rough, grain: 4 })
        expect(value.units.length).toBe(20)
        for (const unit of value.units) {
          const report = checkMesh(unit)
          expect(report.sound, JSON.stringify(report.findings)).toBe(true)
          expect(report.parts).toBe(1)
        }
        expect(Math.abs(total(value) / volumeOf(whole) - 1)).toBeLessThan(1e-6)
        if (!issues.some(({ code }) => code === 'not-exact')) expect(fitExactly(value)).toBe(true)
        else expect(rough).toBeGreaterThan(0)
      }
    },
  )

  it('gives the same pieces again, other ones for another seed', async () => {
    const made = async (seed: number) => (await shattered(words('Fair'), { pieces: 12, seed })).value.units.map(({ positions }) => Array.from(positions))
    expect(await made(5)).toEqual(await made(5))
    expect(await made(5)).not.toEqual(await made(6))
  })

  it('leaves the pieces of a letter as they are when others are typed', async () => {
    const pieces = async (text: string) => {
      const { value } = await shattered(words(text), { pieces: 5, count: 'letter' })
      // seen from the letter's own corner
      const own = value.units.filter((unit) => labelAt(unit, 0, 'letter') === 0)
      const [x0] = own.map((unit) => copyBoxes({ units: [unit], placements: { ...value.placements, unit: Uint32Array.of(0) } })[0]).sort((a, b) => a - b)
      return own.map((unit) => [volumeOf(unit), centreOf(unit)[0] - x0])
    }
    const before = await pieces('Fair')
    expect(before.length).toBe(5)
    const after = await pieces('Fairway')
    // the word stands elsewhere on the lattice
    before.forEach((piece, i) => piece.forEach((v, k) => expect(after[i][k]).toBeCloseTo(v, 2)))
  })

  it('by letter gives one piece each', async () => {
    const { value } = await shattered(words('Tern'), { pattern: 'letter' })
    expect(value.units.length).toBe(4)
    expect(Array.from(value.placements.shard)).toEqual([0, 1, 2, 3])
  })

  it('is finer about the spot of a blow', async () => {
    const spot = [10, 20, 8]
    const { value } = await shattered(words('HHHH'), { pattern: 'impact', pieces: 60, point: spot, reach: 12 })
    const list = shardFigures(value, 'acrylic').map(({ volume, centre }) => ({ volume, far: Math.hypot(centre[0] - spot[0], centre[1] - spot[1]) }))
    const mean = (of: { volume: number }[]) => of.reduce((sum, { volume }) => sum + volume, 0) / of.length
    expect(mean(list.filter(({ far }) => far < 15))).toBeLessThan(0.5 * mean(list.filter(({ far }) => far > 60)))
  })

  it('leaves the gap that is asked between pieces', async () => {
    const gap = 1
    const { value } = await shattered(words('I'), { pieces: 6, gap })
    // distances by the kernel, which knows nothing of cells
    withScope((own) => {
      const { Manifold, Mesh } = manifold()
      const bodies = value.units.map(({ positions, indices }) =>
        own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(positions), triVerts: indices }))),
      )
      let least = Infinity
      bodies.forEach((body, i) => bodies.slice(i + 1).forEach((other) => (least = Math.min(least, body.minGap(other, 10)))))
      expect(least).toBeGreaterThan(gap - 1e-3)
      expect(least).toBeLessThan(gap + 1e-3)
    })
  })

  it('chips edges, says what they take, and pieces fit nevertheless', async () => {
    const { value, issues } = await shattered(words('Fog'), { pieces: 12, chips: 2.5 })
    expect(value.units.every((unit) => checkMesh(unit).sound)).toBe(true)
    const whole = volumeOf(await solidOf(...words('Fog')))
    expect(total(value)).toBeLessThan(0.999 * whole)
    expect(total(value)).toBeGreaterThan(0.8 * whole)
    expect(issues.map(({ code }) => code)).toContain('chipped')
  })

  it.each([
    ['archivo-bold', 0.3, 1],
    ['fraunces', 1, 1.5],
    ['kaushan-script', 0.6, 1],
  ])('chips pieces of %s that stand %f mm apart, and leaves no hollows within them', async (face, gap, chips) => {
    const { value, issues } = await shattered(words('Quay', face, 10), { pieces: 30, gap, chips, seed: 5 })
    expect(issues.map(({ code }) => code)).toContain('chipped')
    for (const unit of value.units) expect(checkMesh(unit)).toMatchObject({ sound: true, parts: 1 })
    const without = await shattered(words('Quay', face, 10), { pieces: 30, gap, seed: 5 })
    expect(total(value)).toBeLessThan(total(without.value))
  })

  it('chips rough faces as well: every piece is sound, and what does not fit exactly is told', async () => {
    let told = 0
    for (const seed of FULL ? [51, 52, 53, 54] : [51, 52]) {
      const { value, issues } = await shattered(words('Fog', 'archivo-bold', 10), { pieces: 15, chips: 2, rough: 40, grain: 4, seed })
      for (const unit of value.units) expect(checkMesh(unit)).toMatchObject({ sound: true, parts: 1 })
      const codes = issues.map(({ code }) => code)
      expect(codes).toContain('chipped')
      // as rough as was asked
      expect(codes.filter((code) => code !== 'chipped' && code !== 'not-exact')).toEqual([])
      if (codes.includes('not-exact')) told++
    }
    expect(told).toBeGreaterThan(0)
  })

  it('breaks what has a hollow of no letter, such as one that was cut out, with it', async () => {
    const whole = boxSolid([0, 0, 0], [40, 40, 40], { letter: 0 }, { letters: ['I'] })
    const hole = boxSolid([12, 12, 12], [22, 22, 22])
    const joined = joinSolid(whole, [{ solid: hole, matrix: UNMOVED }], 'carve')
    if (!joined.ok) throw new Error(joined.why)
    expect(letterParts(joined.solid).groups).toEqual([[0]])
    expect(new Set(letterParts(joined.solid).of)).toEqual(new Set([0]))
    const broken = await brokenToPieces(
      joined.solid,
      { pattern: 'even', pieces: 5, seed: 3, spot: [0, 0, 0], reach: 9, angle: 0, long: 4, gap: 0, grain: 3, rough: 0, chips: 0, eachLetter: false },
      { breathe: async () => {}, progress: () => {} },
    )
    if (!broken.ok) throw new Error(broken.why)
    expect(total(broken.assembly) / (40 ** 3 - 10 ** 3)).toBeCloseTo(1, 6)
    for (const unit of broken.assembly.units) expect(checkMesh(unit).sound).toBe(true)
  })

  it('says when there are more pieces than asked', async () => {
    const { value, issues } = await shattered(words('Lantern'), { pieces: 3 })
    expect(value.units.length).toBe(7)
    expect(issues.find(({ code }) => code === 'other-count')?.message).toContain('3 pieces were asked for and there are 7')
  })

  it.each([
    ['no pieces', { pieces: 0 }, 'at least 2'],
    ['a million pieces', { pieces: 1_000_000 }, '2,000'],
    ['a grain of no size', { grain: 0 }, '0.2 mm'],
    ['a grain like dust', { rough: 100, grain: 0.2, pieces: 200 }, 'larger grain'],
  ])('refuses %s with a remedy', async (_, params, words_) => {
    const { steps } = await run(...words('Quay'), step('shatter', params))
    const issue = steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')
    expect(`${issue?.message} ${issue?.remedy}`).toContain(words_)
  })

  it('dresses what broke for itself', async () => {
    const { value } = await run(...words('Fog'), step('shatter', { pieces: 8 }), step('dress', { inside: { colour: '#c04020', roughness: 0.5, metalness: 0 } }))
    if (value?.kind !== 'assembly') throw new Error(value?.kind)
    const colours = (inside: boolean) =>
      new Set(
        value.units.flatMap((unit) =>
          Array.from({ length: triangleCount(unit) }, (_, t) => t)
            .filter((t) => (labelAt(unit, t, 'group') === INSIDE) === inside)
            .map((t) => unit.looks[labelAt(unit, t, 'look')]?.material.colour),
        ),
      )
    expect([...colours(true)]).toEqual(['#c04020'])
    expect(colours(false).has('#c04020')).toBe(false)
  })
})

describe('Cells', () => {
  it('of sites fill their box and hold what is nearest to each', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 1, max: 9, noNaN: true }), fc.double({ min: 1, max: 9, noNaN: true }), fc.double({ min: 1, max: 9, noNaN: true })), {
          minLength: 2,
          maxLength: 12,
        }),
        (sites) => {
          const apart = sites.every((a, i) => sites.every((b, j) => i === j || Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) > 0.1))
          if (!apart) return
          const at = Float64Array.from(sites.flat())
          const mesh = wallMesh(cellsOfSites({ at, space: [1, 0, 0, 0, 1, 0, 0, 0, 1] }, [0, 0, 0, 10, 10, 10], 0), 2 ** -14)
          if (typeof mesh === 'string') throw new Error(mesh)
          let sum = 0
          mesh.ofCell.forEach((list, cell) => {
            let volume = 0
            const p = mesh.positions
            for (const signed of list) {
              const t = Math.abs(signed) - 1
              const [a, b, c] = [0, 1, 2].map((k) => 3 * mesh.indices[3 * t + k])
              volume +=
                (Math.sign(signed) *
                  (p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) -
                    p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) +
                    p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]))) /
                6
              // no corner is nearer to another site
              for (const v of [a, b, c]) {
                const far = sites.map((s) => Math.hypot(p[v] - s[0], p[v + 1] - s[1], p[v + 2] - s[2]))
                expect(far[cell]).toBeLessThan(Math.min(...far) + 1e-3)
              }
            }
            expect(volume).toBeGreaterThan(0)
            sum += volume
          })
          expect(sum).toBeCloseTo(1000, 6)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('of courses share every joint', () => {
    for (const seed of [0.1, 0.37, 0.92]) {
      const cells = cellsOfCourses({ high: 3, wide: 6, x: -seed * 6, y: -seed * 3 }, [0, 0, 0, 20, 14, 5], 0)
      expect(typeof wallMesh(cells, 2 ** -14)).toBe('object')
      expect(cells.walls.filter(({ other }) => other !== NONE).length).toBeGreaterThan(cells.count)
    }
  })
})

describe('Places inside', () => {
  it('are inside by winding, and as many as asked for about', async () => {
    const solid = await solidOf(...words('8'))
    const { places, volume } = placesInside(solid, 500, 3)
    expect(places.length / 3).toBeGreaterThan(350)
    expect(places.length / 3).toBeLessThan(650)
    expect((places.length / 3) * volume).toBeGreaterThan(0.7 * volumeOf(solid))
    const p = solid.positions
    for (let i = 0; i < places.length; i += 3) {
      // solid angle (Van Oosterom & Strackee 1983): 4π inside
      let angle = 0
      for (let t = 0; t < solid.indices.length; t += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((n) => p[3 * solid.indices[t + k] + n] - places[i + n]))
        const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
        const [la, lb, lc] = [a, b, c].map((u) => Math.sqrt(dot(u, u)))
        const det = a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])
        angle += 2 * Math.atan2(det, la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb)
      }
      expect(angle).toBeCloseTo(4 * Math.PI, 3)
    }
  })
})

describe('Burst', () => {
  const broken = [...words('Fair'), step('shatter', { pieces: 14 })]
  const burstTo = async (params: Record<string, unknown>, route: RouteStep[] = broken) => {
    const { value } = await run(...route, step('burst', { uneven: 0, turn: 0, ...params }))
    if (value?.kind !== 'assembly') throw new Error(value?.kind)
    return value
  }
  const middles = (assembly: Assembly) => {
    const boxes = copyBoxes(assembly)
    return Array.from({ length: boxes.length / 6 }, (_, i) => [0, 1, 2].map((k) => (boxes[6 * i + k] + boxes[6 * i + 3 + k]) / 2))
  }

  it('at 0 leaves everything where it stands, exactly', async () => {
    const { value } = await shattered(words('Fair'), { pieces: 14 })
    expect((await burstTo({ strength: 0, turn: 90, uneven: 100 })).placements.matrix).toEqual(value.placements.matrix)
  })

  it('moves each as far as asked straight away from the spot, and makes no geometry anew', async () => {
    const still = await burstTo({ strength: 0 })
    const point = [30, 15, 4]
    const flown = await burstTo({ strength: 200, far: 20, point })
    const [from, to] = [middles(still), middles(flown)]
    from.forEach((a, i) => {
      const away = a.map((v, k) => v - point[k])
      const size = Math.hypot(...away)
      away.forEach((v, k) => expect(to[i][k]).toBeCloseTo(a[k] + (40 * v) / size, 6))
    })
    expect(flown.units.length).toBe(14)
  })

  it('below 0 draws everything to the spot, and halfway at half', async () => {
    const still = middles(await burstTo({ strength: 0 }))
    const point = [30, 15, 4]
    for (const [strength, left] of [
      [-100, 0],
      [-50, 0.5],
    ])
      middles(await burstTo({ strength, point })).forEach((m, i) => m.forEach((v, k) => expect(v).toBeCloseTo(point[k] + left * (still[i][k] - point[k]), 6)))
  })

  it('falls off with distance and waits for a mask', async () => {
    const still = middles(await burstTo({ strength: 0 }))
    const point = [0, 0, 0]
    const flown = middles(await burstTo({ strength: 100, far: 10, point, reach: 25 }))
    still.forEach((a, i) => expect(Math.hypot(...a.map((v, k) => flown[i][k] - v))).toBeCloseTo(10 / (1 + Math.hypot(...a) ** 2 / 625), 6))
    const mask = { list: [{ by: 'along', from: 0, to: 100 }] }
    const waiting = middles(await burstTo({ strength: 60, far: 10, point, delay: 100, mask }))
    const moved = still.map((a, i) => Math.hypot(...a.map((v, k) => waiting[i][k] - v)))
    const order = [...still.keys()].sort((i, j) => still[i][0] - still[j][0])
    expect(moved[order[0]]).toBeLessThan(0.5)
    expect(moved[order.at(-1) as number]).toBeGreaterThan(4)
  })

  it('works on letters and copies alike', async () => {
    const letters = await burstTo({ by: 'letter', strength: 100 }, words('Fair'))
    expect(letters.placements.unit.length).toBe(4)
    const copies = await burstTo({ by: 'copy', strength: 100 }, [...words('I'), step('grid', { across: 3, down: 2, gap: 5 })])
    expect(copies.placements.unit.length).toBe(6)
  })

  it('is the same for a piece whatever the strength was before', async () => {
    const a = await burstTo({ strength: 75, turn: 120, uneven: 60, seed: 4 })
    await burstTo({ strength: 10, turn: 120, uneven: 60, seed: 4 })
    expect((await burstTo({ strength: 75, turn: 120, uneven: 60, seed: 4 })).placements.matrix).toEqual(a.placements.matrix)
  })

  it('says so where there is nothing to fly apart', async () => {
    const { steps } = await run(...words('Fair'), step('burst', { by: 'copy' }))
    expect(steps.at(-1)?.issues[0].code).toBe('nothing-apart')
  })
})

describe('What pieces weigh', () => {
  it('is their volume by density, and they balance where the whole does', async () => {
    const route = [step('block', { width: 40, height: 20, depth: 10 })]
    const { value } = await shattered(route, { pieces: 9 })
    const list = shardFigures(value, 'steel')
    const mass = list.reduce((sum, shard) => sum + shard.mass, 0)
    expect(mass).toBeCloseTo(8 * 7.85, 4)
    const whole = centreOf(await solidOf(...route))
    whole.forEach((v, k) => expect(list.reduce((sum, shard) => sum + shard.mass * shard.centre[k], 0) / mass).toBeCloseTo(v, 4))
    expect(new Set(list.map(({ name }) => name)).size).toBe(9)
  })
})

describe('Files of what is broken', () => {
  it('name every piece by its letter and number: OBJ as closed objects, GLB and 3MF as meshes', async () => {
    const { value } = await shattered(words('Fo'), { pieces: 12 })
    const names = shardNames(value)
    expect(new Set(names).size).toBe(names.length)
    expect(names).toContain('F 1')
    expect(names).toContain('o 1')
    const one = await asOneSolid(value, undefined, true)
    if (!one.ok) throw new Error(one.message)
    const { obj, mtl } = writeObj(one.solid, 'Broken', 'broken.mtl', one.bodies)
    expect([...obj.matchAll(/^o (.*)$/gm)].map(([, name]) => name)).toEqual(names.map((name) => name.replaceAll(' ', '_')))
    const { positions, indices, surface, surfaces = [] } = readObj(obj, mtl)
    names.forEach((name, i) => {
      const ids = Array.from(indices).filter((_, k) => surfaces[surface?.[Math.floor(k / 3)] ?? 0].part === name.replaceAll(' ', '_'))
      const body = { positions, indices: Uint32Array.from(ids) }
      expect(checkMesh(body, { deep: false })).toMatchObject({ closed: true })
      // numbers are kept for single precision
      expect(volumeOf({ ...one.solid, ...body })).toBeCloseTo(volumeOf(value.units[value.placements.unit[i]]), 1)
    })
    const model = strFromU8(unzipSync(write3mf(value, 'Broken'))['3D/3dmodel.model'])
    for (const name of names) expect(model).toContain(`name="${name}"`)
    const glb = await new WebIO().registerExtensions([EXTMeshGPUInstancing]).readBinary(await writeGlb(value, 'Broken'))
    expect(
      glb
        .getRoot()
        .listMeshes()
        .map((mesh) => mesh.getName())
        .toSorted(),
    ).toEqual(names.toSorted())
  })
})
