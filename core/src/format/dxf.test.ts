import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { polygonArea, regionPolygons } from '../outline/polygon'
import { readDxf, writeDxf } from './dxf'
import { FormatError } from './mesh-data'

const areaOf = async (o: Outline) => {
  await loadManifold()
  return o.regions.reduce((sum, r) => sum + polygonArea(regionPolygons(r, 0.001, 2 ** -14)), 0)
}
const drawing = (...entities: string[]) => `0\nSECTION\n2\nENTITIES\n${entities.join('\n')}\n0\nENDSEC\n0\nEOF\n`
const polyline = (closed: boolean, ...points: [x: number, y: number, bulge?: number][]) =>
  `0\nLWPOLYLINE\n8\nWall\n90\n${points.length}\n70\n${closed ? 1 : 0}\n${points.map(([x, y, b]) => `10\n${x}\n20\n${y}${b ? `\n42\n${b}` : ''}`).join('\n')}`

describe('DXF', () => {
  it('gives letters back with their curves, counters and layer', async () => {
    const outline = (await evaluateRoute(wordRoute('Böe & 8', 'archivo-bold').slice(0, 1), { assets })).value as Outline
    const { outline: read, ignored } = await readDxf(writeDxf(outline))
    expect(ignored).toEqual([])
    expect(read.layers.map((l) => l.name)).toEqual(['Lettering'])
    expect(await areaOf(read)).toBeCloseTo(await areaOf(outline), 0)
  })

  it('reads lines, arcs, circles, ellipses, bulges and splines', async () => {
    const area = async (...e: string[]) => areaOf((await readDxf(drawing(...e))).outline)
    expect(await area('0\nCIRCLE\n8\n0\n10\n5\n20\n5\n40\n10')).toBeCloseTo(100 * Math.PI, 0)
    expect(await area('0\nELLIPSE\n8\n0\n10\n0\n20\n0\n11\n20\n21\n0\n40\n0.5\n41\n0\n42\n6.283185307179586')).toBeCloseTo(200 * Math.PI, 0)
    expect(await area(polyline(true, [0, 0], [10, 0], [10, 10], [0, 10]))).toBeCloseTo(100, 2)
    // two half circles
    expect(await area(polyline(true, [0, 0, 1], [10, 0, 1]))).toBeCloseTo(25 * Math.PI, 1)
    // a half disc of an arc and the line that closes it, given the other way round
    expect(await area('0\nARC\n8\n0\n10\n0\n20\n0\n40\n10\n50\n0\n51\n180', '0\nLINE\n8\n0\n10\n10\n20\n0\n11\n-10\n21\n0')).toBeCloseTo(50 * Math.PI, 1)
    expect(await area(polyline(true, [0, 0], [30, 0], [30, 30], [0, 30]), polyline(true, [10, 10], [20, 10], [20, 20], [10, 20]))).toBeCloseTo(800, 1)
    const spline =
      '0\nSPLINE\n8\n0\n70\n8\n71\n3\n40\n0\n40\n0\n40\n0\n40\n0\n40\n1\n40\n2\n40\n2\n40\n2\n40\n2\n10\n0\n20\n0\n10\n0\n20\n10\n10\n10\n20\n20\n10\n20\n20\n10\n10\n20\n20\n0'
    const { outline } = await readDxf(drawing(spline))
    expect(outline.strokes[0].verbs).toEqual(Uint8Array.of(3, 3))
    // the knot in the middle: the curve passes through the mean of the two inner control points beside it
    expect([...outline.strokes[0].coords.slice(6, 8)]).toEqual([10, expect.closeTo(15, 6)])
  })

  it('believes the units it states', async () => {
    const inches = `0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n1\n0\nENDSEC\n${drawing(polyline(true, [0, 0], [1, 0], [1, 1], [0, 1]))}`
    expect(await areaOf((await readDxf(inches)).outline)).toBeCloseTo(25.4 ** 2, 1)
  })

  it('names what it passes over and refuses the rest, whatever the damage', async () => {
    expect((await readDxf(drawing('0\nTEXT\n8\n0\n1\nhi', '0\nHATCH\n8\n0'))).ignored).toEqual(['TEXT', 'HATCH'])
    expect((await readDxf(drawing('0\nCIRCLE\n8\n0\n10\n0\n20\n0\n40\n0'))).ignored).toEqual(['a damaged CIRCLE'])
    for (const bad of ['', 'words\nonly', '0\nSECTION\n2\nHEADER\n0\nENDSEC\n0\nEOF\n', 'Some Binary DXF\r\n'])
      await expect(readDxf(bad)).rejects.toThrow(FormatError)
    const whole = drawing(polyline(true, [0, 0, 0.4], [10, 0], [10, 10]), '0\nARC\n8\n0\n10\n0\n20\n0\n40\n10\n50\n0\n51\n180')
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(whole.length), fc.constantFrom('NaN', '-', '9e99', '\n', '0', '42', 'x', '1e-320')), { minLength: 1, maxLength: 4 }),
        async (edits) => {
          let text = whole
          for (const [at, bit] of edits) text = text.slice(0, at) + bit + text.slice(at + bit.length)
          try {
            const { outline } = await readDxf(text)
            for (const p of [...outline.strokes, ...outline.regions.flatMap((r) => r.members.flatMap((m) => m.paths))])
              expect(p.coords.every((v) => Number.isFinite(v))).toBe(true)
          } catch (error) {
            expect(error).toBeInstanceOf(FormatError)
          }
        },
      ),
      { numRuns: 1500 },
    )
  })
})
