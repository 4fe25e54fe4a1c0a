import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../../fonts/catalogue'
import { assets, FULL, SAMPLE_WORD, wordRoute } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import { loadManifold } from '../../../kernel/manifold'
import type { Outline } from '../../../outline/outline'
import { labelOf, type Solid, solidBounds } from '../../../solid/solid'

beforeAll(async () => void (await loadManifold()))

const step = (kind: string, params: Record<string, unknown> = {}) => ({ id: `${kind}-1`, kind, on: true, params })
const drawn = (nodes: readonly (readonly [number, number])[], closed = false) =>
  step('drawing', { shapes: [{ id: 's', layer: 'drawing', closed, width: 0, nodes: nodes.map(([x, y]) => ({ x, y })) }] })

async function made(source: ReturnType<typeof step>, ...steps: ReturnType<typeof step>[]) {
  const report = await evaluateRoute([source, ...steps], { assets })
  return { value: report.value, issues: report.steps.flatMap(({ issues }) => issues) }
}
const words = (text: string, face: string) => wordRoute(text, face, { size: 40 })[0]
const solidOf = async (...route: Parameters<typeof made>) => (await made(...route)).value as Solid

describe('brush lettering', () => {
  it.each(FULL ? SHIPPED_FACES.map(({ id }) => id) : ['kaushan-script', 'jost-bold', 'alfa-slab'])('is sound in %s, letter by letter', async (face) => {
    const { value, issues } = await made(words(SAMPLE_WORD, face), step('brush'))
    expect(checkMesh(value as Solid).findings).toEqual([])
    expect(issues).toEqual([])
    expect(new Set(labelOf(value as Solid, 'letter'))).toEqual(new Set(FULL ? [0, 1, 2, 3, 5] : [0, 1]))
  })

  it.each([
    { pointed: 0 },
    { pointed: 4, uneven: 40 },
    {
      lift: 6,
      bank: [
        [0, -20],
        [1, 35],
      ],
    },
    { bristles: 1, depth: 0 },
    { by: 'brush', width: 9 },
    { bristles: 20, depth: 100 },
  ])('is sound with %o', async (params) => {
    expect(checkMesh(await solidOf(words('Sea', 'fredoka'), step('brush', params))).findings).toEqual([])
  })

  it('is the same for the same seed and another for another', async () => {
    const [a, b, c] = await Promise.all([3, 3, 4].map((seed) => solidOf(words('Q', 'jost-bold'), step('brush', { seed }))))
    expect(b.positions).toEqual(a.positions)
    expect(c.positions).not.toEqual(a.positions)
  })

  it('is as wide, high and long as its values say, and its pictures run along the stroke', async () => {
    const line = drawn([
      [0, 0],
      [60, 0],
    ])
    const even = { size: [[0, 100]], uneven: 0, width: 8, height: 2, depth: 0 }
    const solid = await solidOf(line, step('brush', even))
    const [x0, y0, z0, x1, y1, z1] = solidBounds(solid.positions)
    expect([x0, x1, z0, z1].map((v) => Math.round(100 * v) / 100)).toEqual([0, 60, 0, 2])
    expect(y1 - y0).toBeGreaterThan(7.9)
    expect(y1 - y0).toBeLessThan(8.01)
    const uv = solid.attributes.uv as Float32Array
    // away from the points, whose columns meet in one place
    solid.indices.forEach((v, i) => {
      const [x, y] = [solid.positions[3 * v], solid.positions[3 * v + 1]]
      expect(Math.abs(uv[2 * i] - x)).toBeLessThan(0.01)
      if (x > 1 && x < 59) expect(Math.abs(uv[2 * i + 1] - y)).toBeLessThan(0.01)
    })
    const lifted = solidBounds((await solidOf(line, step('brush', { ...even, lift: 5 }))).positions)
    expect(lifted[5]).toBeGreaterThan(5)
    expect(lifted[5]).toBeLessThan(7.01)
  })

  it('is one sound solid where a drawn stroke crosses itself and turns corners', async () => {
    const loop = Array.from({ length: 40 }, (_, i): [number, number] => [30 * Math.sin((2 * Math.PI * i) / 39), 18 * Math.sin((4 * Math.PI * i) / 39)])
    const star = Array.from({ length: 5 }, (_, i): [number, number] => [25 * Math.sin((4 * Math.PI * i) / 5), 25 * Math.cos((4 * Math.PI * i) / 5)])
    for (const [nodes, closed] of [
      [loop, false],
      [star, true],
    ] as const) {
      const report = checkMesh(await solidOf(drawn(nodes, closed), step('brush', { width: 5 })))
      expect(report.findings).toEqual([])
      expect(report.parts).toBe(1)
    }
  })

  it('says what it lacks', async () => {
    expect((await made(words('A', 'jost-bold'), step('brush', { along: 'strokes' }))).issues[0]).toMatchObject({ code: 'no-strokes', field: 'along' })
    expect(
      (
        await made(
          drawn([
            [0, 0],
            [5, 0],
          ]),
          step('brush', { along: 'letters' }),
        )
      ).issues[0],
    ).toMatchObject({ code: 'no-strokes' })
  })
})

describe('the step Centre lines', () => {
  it('gives strokes that a tube is bent along, and keeps areas when asked to', async () => {
    const lines = (await made(words('THE', 'jost-bold'), step('centre-lines'))).value as Outline
    expect(lines.strokes.length).toBe(9)
    expect(lines.regions).toEqual([])
    expect(((await made(words('THE', 'jost-bold'), step('centre-lines', { keep: 'both' }))).value as Outline).regions.length).toBe(3)
    expect(checkMesh(await solidOf(words('THE', 'jost-bold'), step('centre-lines'), step('tube', { radius: 0.8, along: 'strokes' }))).findings).toEqual([])
  })

  it('leaves short lines and dots out when asked to, and says when nothing is left', async () => {
    const count = async (params: Record<string, unknown>) =>
      ((await made(words('ij', 'jost-bold'), step('centre-lines', params))).value as Outline).strokes.length
    expect([await count({}), await count({ dots: false })]).toEqual([4, 2])
    expect((await made(words('ij', 'jost-bold'), step('centre-lines', { shortest: 400, dots: false }))).issues[0]).toMatchObject({
      code: 'no-lines',
      field: 'shortest',
    })
    expect(
      (
        await made(
          drawn([
            [0, 0],
            [5, 0],
          ]),
          step('centre-lines'),
        )
      ).issues[0],
    ).toMatchObject({ code: 'no-areas' })
  })
})
