import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../test/helpers'
import { checkMesh } from '../../check/check'
import type { Piece } from '../../document/schema'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { unitePaths } from '../../outline/clip'
import { curveBounds, orientedPaths } from '../../outline/areas'
import { type Outline, placedPaths } from '../../outline/outline'
import { pathArea } from '../../outline/path'
import { labelAt, type Solid, solidBounds, triangleCount } from '../../solid/solid'

beforeAll(async () => {
  await loadManifold()
})

const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
const words: Piece = { id: 'words', name: 'Words', route: wordRoute('Quay', 'archivo-bold').slice(0, 1) }
const made = async (route: ReturnType<typeof step>[]) => evaluateRoute(route, { assets, pieces: [words], piece: 'plate' })
const areaOf = (o: Outline) => unitePaths(o.regions.flatMap(orientedPaths)).reduce((sum, path) => sum + pathArea(path), 0)
const boxOf = (o: Outline) => curveBounds(placedPaths(o))

describe('Plate', () => {
  it('has the area of its shape', async () => {
    const area = async (params: Record<string, unknown>) => areaOf((await made([step('plate', { width: 100, height: 40, ...params })])).value as Outline)
    expect(await area({ shape: 'rectangle' })).toBeCloseTo(4000, 6)
    expect(await area({ shape: 'rounded', radius: 8 })).toBeCloseTo(4000 - (4 - Math.PI) * 64, 0)
    expect(await area({ shape: 'rounded', radius: 500 })).toBeCloseTo(await area({ shape: 'pill' }), 4)
    expect(await area({ shape: 'pill' })).toBeCloseTo(60 * 40 + Math.PI * 400, -0.3)
    expect(await area({ shape: 'disc' })).toBeCloseTo(Math.PI * 50 * 20, -0.5)
    expect(await area({ shape: 'arch', width: 40, height: 60 })).toBeCloseTo(40 * 40 + (Math.PI * 400) / 2, -0.3)
    const shield = await area({ shape: 'shield' })
    expect(shield).toBeGreaterThan(2800)
    expect(shield).toBeLessThan(4000)
  })

  it('takes its size from a piece, with room for it inside', async () => {
    const text = (await evaluateRoute(words.route, { assets })).value as Outline
    const [x0, y0, x1, y1] = boxOf(text)
    for (const shape of ['rectangle', 'rounded', 'pill', 'disc', 'arch', 'shield']) {
      const plate = (await made([step('plate', { shape, size: 'piece', margin: 5, other: { piece: 'words' } })])).value as Outline
      const [px0, py0, px1, py1] = boxOf(plate)
      expect([px0 < x0, py0 < y0, px1 > x1, py1 > y1], shape).toEqual([true, true, true, true])
    }
  })

  it('hugs a piece at its margin, its holes filled or kept', async () => {
    const text = (await evaluateRoute(words.route, { assets })).value as Outline
    const [x0, y0, x1, y1] = boxOf(text)
    const hug = async (params: Record<string, unknown>) =>
      (await made([step('plate', { shape: 'hugging', other: { piece: 'words' }, ...params })])).value as Outline
    const filled = await hug({ margin: 1.5 })
    expect(boxOf(filled)).toEqual([x0 - 1.5, y0 - 1.5, x1 + 1.5, y1 + 1.5].map((v) => expect.closeTo(v, 1)))
    expect(areaOf(filled)).toBeGreaterThan(areaOf(await hug({ margin: 1.5, holes: 'kept' })))
    expect(areaOf(await hug({ margin: 0, holes: 'kept' }))).toBeCloseTo(areaOf(text), -0.5)
  })

  it('warns when it is smaller than the words, with the remedy at hand, and says what it lacks', async () => {
    const report = await made([step('plate', { shape: 'rectangle', width: 20, height: 20, other: { piece: 'words' } })])
    const [issue] = report.steps[0].issues
    expect(issue).toMatchObject({ code: 'smaller-than-words', severity: 'warning' })
    const fixed = await made([step('plate', { shape: 'rectangle', other: { piece: 'words' }, ...issue.fixes?.[0].params })])
    expect(fixed.steps[0].issues).toEqual([])
    expect((await made([step('plate', { shape: 'hugging' })])).steps[0].issues).toMatchObject([{ code: 'no-piece', severity: 'failed' }])
    expect((await made([step('plate', { width: 0 })])).steps[0].issues).toMatchObject([{ code: 'bad-value' }])
  })
})

describe('Prismatic', () => {
  const solidOf = async (text: string, font: string, params: Record<string, unknown>) => {
    const report = await evaluateRoute([wordRoute(text, font)[0], step('prismatic', params)], { assets })
    return { solid: report.value as Solid, report }
  }

  it('is sound, however the slopes run', async () => {
    for (const [i, font] of ['archivo-bold', 'abril-fatface', 'pacifico', 'alfa-slab', 'unifraktur-cook', 'cinzel-decorative'].entries())
      for (const [j, slope] of ['chamfer', 'round', 'ogee'].entries()) {
        // every face and every slope both ways, in turn
        const way = (i + j) % 2 === 0 ? 'raised' : 'sunk'
        const { solid } = await solidOf('Quay 8', font, { slope, way })
        const report = checkMesh(solid)
        expect(report, `${font} ${slope} ${way}`).toMatchObject({ sound: true })
        expect(report.volume).toBeGreaterThan(0)
      }
  })

  it('rises to the middle of the widest stroke at its slope, or to its height', async () => {
    // a bar: the I of the grotesque, whose half width is known from its box
    const { solid: bar } = await solidOf('I', 'archivo-bold', { by: 'angle', angle: 45, walls: 2 })
    const [x0, , z0, x1, , z1] = solidBounds(bar.positions)
    expect(z1 - z0).toBeCloseTo(2 + (x1 - x0) / 2, 1)
    const { solid: given } = await solidOf('Q', 'archivo-bold', { by: 'height', height: 7, walls: 2 })
    const box = solidBounds(given.positions)
    expect(box[5] - box[2]).toBeCloseTo(9, 1)
    // nothing is left flat on top
    const flat = Array.from({ length: triangleCount(given) }, (_, t) => t).filter((t) => labelAt(given, t, 'group') === 0)
    expect(flat.length).toBe(0)
  })

  it('stands on its ridges when it is sunk, with the volume it has raised', async () => {
    const [up, down] = [await solidOf('Quay', 'archivo-bold', {}), await solidOf('Quay', 'archivo-bold', { way: 'sunk' })]
    expect(checkMesh(down.solid).volume).toBeCloseTo(checkMesh(up.solid).volume, 3)
    expect(solidBounds(down.solid.positions)[2]).toBeCloseTo(0, 6)
  })
})
