import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../../test/helpers'
import { evaluateRoute } from '../../../evaluate/route'
import { loadManifold } from '../../../kernel/manifold'
import { checkAssembly } from '../../../repeat/check'
import { type Assembly, assemblyTriangles } from '../../../solid/assembly'
import { surfacesOf } from '../../../solid/solid'

const ROUTE = [...wordRoute('PIER SIDE', 'archivo-bold'), { id: 'dress', kind: 'dress', on: true, params: {} }]
const run = async (params: Record<string, unknown>) => {
  const { value } = await evaluateRoute([...ROUTE, { id: 'light', kind: 'running-light', on: true, params }], { assets })
  if (value?.kind !== 'assembly') throw new Error('no assembly')
  return value
}

/** How bright the faces of each entry are, from left to right; and what its surfaces of a group wear. */
const glows = ({ units, placements }: Assembly, group = 'face') =>
  Array.from(placements.unit, (u) => {
    const solid = units[u]
    const x = solid.positions.reduce((sum, v, i) => (i % 3 === 0 ? sum + v : sum), 0) / (solid.positions.length / 3)
    const { material } = surfacesOf(solid).surfaces.find((surface) => surface.group === group) ?? { material: { glow: Number.NaN, colour: '' } }
    return { x, glow: material.glow ?? 0, colour: material.colour }
  }).sort((a, b) => a.x - b.x)

beforeAll(async () => void (await loadManifold()))

describe('Running light', () => {
  it('is not there at 0 and has passed at 100 %, brightens one after another, and moves nothing', async () => {
    const plain = await run({ at: 0 })
    for (const at of [0, 100]) expect(glows(await run({ at })).every(({ glow }) => glow === 0)).toBe(true)
    const peaks: number[] = []
    for (const at of [25, 40, 50, 60, 75]) {
      const value = await run({ at, width: 60 })
      const list = glows(value)
      const brightest = list.reduce((best, { glow }, i) => (glow > list[best].glow ? i : best), 0)
      peaks.push(brightest)
      // falls off on both sides of it
      for (let i = 1; i < list.length; i++)
        if (i <= brightest) expect(list[i].glow).toBeGreaterThanOrEqual(list[i - 1].glow)
        else expect(list[i].glow).toBeLessThanOrEqual(list[i - 1].glow)
      expect(list[brightest].glow).toBeGreaterThan(0.5)
      expect(assemblyTriangles(value)).toBe(assemblyTriangles(plain))
      expect(checkAssembly(value)).toMatchObject({ sound: true, volume: checkAssembly(plain).volume })
      // sides are not lit
      expect(glows(value, 'return').every(({ glow }) => glow === 0)).toBe(true)
    }
    expect(peaks).toEqual([...peaks].sort((a, b) => a - b))
    expect(new Set(peaks).size).toBeGreaterThan(3)
  })

  it('runs the other way round as in a mirror, by words as well, in several colours, and over what is not dressed', async () => {
    const [there, back] = [glows(await run({ at: 30, width: 60 })), glows(await run({ at: 30, width: 60, turned: true }))]
    const [brightThere, brightBack] = [there, back].map((list) => list.reduce((best, { glow }, i) => (glow > list[best].glow ? i : best), 0))
    expect(brightThere).toBeLessThan(brightBack)
    const words = glows(await run({ at: 20, by: 'word', width: 100 }))
    expect(new Set(words.map(({ glow }) => glow)).size).toBe(2)
    const two = glows(await run({ at: 50, width: 200, colours: ['#ff0000', '#0000ff'], strength: 100 }))
    const blue = (hex: string) => Number.parseInt(hex.slice(5), 16) > Number.parseInt(hex.slice(1, 3), 16)
    expect(two.filter(({ colour }) => blue(colour)).length).toBeGreaterThan(2)
    expect(two.filter(({ colour }) => !blue(colour)).length).toBeGreaterThan(2)
    const { value } = await evaluateRoute([...ROUTE.slice(0, 2), { id: 'light', kind: 'running-light', on: true, params: { at: 50, width: 80 } }], { assets })
    expect(glows(value as Assembly).some(({ glow }) => glow > 0.5)).toBe(true)
  })

  it('never darkens, and is as bright as asked at most', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 100 }), fc.integer({ min: 1, max: 200 }), fc.integer({ min: 0, max: 100 }), async (at, width, strength) => {
        for (const { glow } of glows(await run({ at, width, strength }))) {
          expect(glow).toBeGreaterThanOrEqual(0)
          expect(glow).toBeLessThanOrEqual(strength / 100 + 1 / 48)
        }
      }),
      { numRuns: 20 },
    )
  })
})
