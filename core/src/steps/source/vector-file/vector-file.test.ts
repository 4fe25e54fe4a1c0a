import { describe, expect, it } from 'vitest'
import { assetSource } from '../../../../cli/io'
import { hashBytes } from '../../../cache/hash'
import { evaluateRoute } from '../../../evaluate/route'
import { type Outline, outlineBounds } from '../../../outline/outline'
import { named } from '../../shared/forming'

const drawn = (body: string, size = 'width="20mm" height="10mm" viewBox="0 0 20 10"') =>
  new TextEncoder().encode(`<svg xmlns="http://www.w3.org/2000/svg" ${size}>${body}</svg>`)

async function made(bytes: Uint8Array, params: Record<string, unknown> = {}, more: { id: string; kind: string; on: boolean; params: object }[] = []) {
  const sha256 = hashBytes(bytes)
  const route = [{ id: 'vector-file-1', kind: 'vector-file', on: true, params: { file: { sha256, name: 'mark.svg' }, ...params } }, ...more]
  return evaluateRoute(route as Parameters<typeof evaluateRoute>[0], { assets: assetSource(new Map(), new Map([[sha256, bytes]])) })
}

const sizeOf = async (params: Record<string, unknown>, body = '<path d="M2 1h16v8h-16z"/>') => {
  const { value } = await made(drawn(body), params)
  const [x0, y0, x1, y1] = outlineBounds(value as Outline)
  return [x1 - x0, y1 - y0]
}

describe('the size of a drawing', () => {
  it('is its own, a percentage of it, or what it is to be wide or high in mm', async () => {
    const near = (list: number[]) => list.map((v) => expect.closeTo(v, 3))
    expect(await sizeOf({})).toEqual(near([16, 8]))
    expect(await sizeOf({ scale: 250 })).toEqual(near([40, 20]))
    expect(await sizeOf({ sizing: 'width', width: 80, scale: 7 })).toEqual(near([80, 40]))
    expect(await sizeOf({ sizing: 'height', height: 2 })).toEqual(near([4, 2]))
    // one level stroke has no height that could be anything else
    expect(await sizeOf({ sizing: 'width', width: 50 }, '<line x1="1" y1="5" x2="11" y2="5" stroke="#000" stroke-width=".5"/>')).toEqual(near([50, 2.5]))
  })

  it('stands on the ground with its middle over the origin, whatever it is', async () => {
    for (const params of [{}, { sizing: 'width', width: 33 }, { sizing: 'height', height: 71 }]) {
      const [x0, y0, x1] = outlineBounds((await made(drawn('<path d="M2 1h16v8h-16z"/>'), params)).value as Outline)
      expect([x0 + x1, y0]).toEqual([expect.closeTo(0, 3), expect.closeTo(0, 3)])
    }
  })
})

describe('a small mark', () => {
  const body = '<path id="Mast" d="M0 0h1v9h-1z"/><path id="Rope" fill="#c00" d="M3 0h1v9h-1z"/><path id="Flag" fill="#00c" d="M6 0h1v9h-1z"/>'

  it('is offered a depth and an edge that suit its size, in one press, and the offer is good', async () => {
    const extrude = { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 12, front: { profile: 'chamfer', inset: 1.5, height: 1.5 } } }
    const { steps } = await made(drawn(body), {}, [extrude])
    const issue = steps[1].issues.find((i) => i.code === 'no-face-left')
    expect(issue?.message).toContain('the strokes of 1 shape in “Mast”, 1 shape in “Rope” and 1 shape in “Flag”:')
    expect(issue?.places).toHaveLength(3)
    expect(issue?.fixes?.[0].label).toBe('Fit it: 2.7 mm deep, edge 0.34 mm')
    const fixed = await made(drawn(body), {}, [{ ...extrude, params: { ...extrude.params, ...issue?.fixes?.[0].params } }])
    expect(fixed.steps[1].issues).toEqual([])
    // what is large enough for its depth may have its ridges: another remedy
    const large = await made(drawn(body), { scale: 1000 }, [{ ...extrude, params: { depth: 12, front: { profile: 'chamfer', inset: 8, height: 8 } } }])
    expect(large.steps[1].issues.find((i) => i.code === 'no-face-left')?.fixes?.[0].label).toContain('Stop at a flat')
  })
})

describe('what regions are called', () => {
  const region = (layer: number, letter = -1) => ({ key: 'k', members: [{ letter, paths: [] }], dx: 0, dy: 0, layer })
  const layers = [
    { id: 'a', name: 'Sail' },
    { id: 'b', name: 'Hull' },
  ]
  const letters = [{ text: 'A' }, { text: '&' }] as unknown as Outline['letters']

  it('is by their letters, or counted layer by layer', () => {
    expect(named([region(0, 0), region(0, 1)], { letters, layers })).toBe('“A” and “&”')
    expect(named([region(0), region(0), region(0)], { letters: [], layers: layers.slice(0, 1) })).toBe('3 shapes')
    expect(named([region(0), region(1), region(0)], { letters: [], layers })).toBe('2 shapes in “Sail” and 1 shape in “Hull”')
    expect(named([region(0, 1), region(1)], { letters, layers })).toBe('“&” and 1 shape in “Hull”')
    expect(
      named(
        Array.from({ length: 9 }, () => region(0, 0)),
        { letters, layers },
        3,
      ),
    ).toBe('“A”, “A”, “A” and 6 other letters')
    expect(named([], { letters, layers })).toBe('')
  })
})
