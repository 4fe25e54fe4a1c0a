import fc from 'fast-check'
import validator from 'gltf-validator'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, boxMesh, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { outlineBounds } from '../outline/outline'
import { polygonArea, regionPolygons } from '../outline/polygon'
import type { Solid } from '../solid/solid'
import { linearColour, readGlb, writeGlb } from './glb'
import { FormatError } from './mesh-data'
import { readStl, writeStl } from './stl'
import { readSvg, writeSvg } from './svg'

let solid: Solid
let outline: Outline

beforeAll(async () => {
  await loadManifold()
  const route = [...wordRoute('Quäy &', 'fraunces', { size: 25 }), { id: 'dress-1', kind: 'dress', on: true, params: {} }]
  const report = await evaluateRoute(route, { assets })
  solid = report.value as Solid
  outline = report.steps[0].value as Outline
})

describe('STL', () => {
  it('gives back the very coordinates: same triangles, volume and soundness', () => {
    const read = readStl(writeStl(solid))
    const [before, after] = [checkMesh(solid), checkMesh(read)]
    expect(after.sound).toBe(true)
    expect(after.triangles).toBe(before.triangles)
    expect(after.volume).toBe(before.volume)
    expect(after.size).toEqual(before.size)
  })

  it('reads the ASCII form', () => {
    const { positions, indices } = boxMesh(0, 0, 0, 1, 2, 3)
    const facets = Array.from(
      { length: 12 },
      (_, t) =>
        `facet normal 0 0 0\nouter loop\n${[0, 1, 2].map((i) => `vertex ${[0, 1, 2].map((k) => positions[3 * indices[3 * t + i] + k].toExponential()).join(' ')}`).join('\n')}\nendloop\nendfacet`,
    )
    expect(checkMesh(readStl(new TextEncoder().encode(`solid box\n${facets.join('\n')}\nendsolid box\n`)))).toMatchObject({ sound: true, volume: 6 })
  })

  it('refuses files that are cut short or no STL, and survives any bytes', () => {
    const bytes = writeStl(solid)
    expect(() => readStl(bytes.slice(0, bytes.length - 30))).toThrow(/damaged/)
    expect(() => readStl(new Uint8Array(10))).toThrow(/cut short/)
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 400 }), (noise) => {
        try {
          readStl(noise)
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError)
        }
      }),
    )
  })
})

describe('GLB', () => {
  it('passes the Khronos validator without an error or a warning', async () => {
    const report = await validator.validateBytes(await writeGlb(solid, 'Quay'))
    // what is left is information: texture coordinates that no texture uses yet
    expect(report.issues.messages.filter((m) => m.severity < 2)).toEqual([])
    expect(report.issues).toMatchObject({ numErrors: 0, numWarnings: 0 })
  })

  it('carries one material per surface group and the very coordinates', async () => {
    const bytes = await writeGlb(solid, 'Quay')
    const [before, after] = [checkMesh(solid), checkMesh(await readGlb(bytes))]
    expect(after).toMatchObject({ sound: true, triangles: before.triangles, volume: before.volume, size: before.size })
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + view.getUint32(12, true))))
    expect(json.materials.map((m: { name: string }) => m.name)).toEqual(['face', 'edge', 'return', 'back'])
    expect(json.materials[0].pbrMetallicRoughness.baseColorFactor.slice(0, 3)).toEqual(linearColour(solid.materials?.face.colour ?? ''))
    expect(json.nodes[0].scale).toEqual([0.001, 0.001, 0.001])
  })

  it('refuses what is no GLB', async () => {
    await expect(readGlb(new TextEncoder().encode('not a model'))).rejects.toBeInstanceOf(FormatError)
  })

  it('turns colours linear by the sRGB curve', () => {
    expect(linearColour('#ffffff')).toEqual([1, 1, 1])
    expect(linearColour('#808080')[0]).toBeCloseTo(0.2158605, 6)
  })
})

describe('SVG', () => {
  it('gives back the same shapes in mm', () => {
    const { outline: read, ignored } = readSvg(writeSvg(outline))
    expect(ignored).toEqual([])
    const area = (o: Outline) => o.regions.reduce((sum, r) => sum + polygonArea(regionPolygons(r, 0.005, 2 ** -14)), 0)
    expect(area(read)).toBeCloseTo(area(outline), 0)
    const [a, b] = [outlineBounds(outline), outlineBounds(read)]
    expect(b[2] - b[0]).toBeCloseTo(a[2] - a[0], 3)
    expect(b[3] - b[1]).toBeCloseTo(a[3] - a[1], 3)
  })

  const areaOf = (body: string, attributes = 'width="100mm" height="100mm" viewBox="0 0 100 100"') => {
    const { outline: read } = readSvg(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`)
    return read.regions.reduce((sum, r) => sum + polygonArea(regionPolygons(r, 0.001, 2 ** -14)), 0)
  }

  it.each([
    ['a rectangle', '<rect x="1" y="2" width="10" height="5"/>', 50],
    ['a circle', '<circle cx="20" cy="20" r="10"/>', Math.PI * 100],
    ['an ellipse', '<ellipse cx="20" cy="20" rx="10" ry="5"/>', Math.PI * 50],
    ['a polygon', '<polygon points="0,0 10,0 0,10"/>', 50],
    ['rounded corners', '<rect width="10" height="10" rx="2"/>', 100 - (4 - Math.PI) * 4],
    ['nested transforms', '<g transform="translate(5 5) rotate(30)"><g transform="scale(2 3)"><rect width="4" height="5"/></g></g>', 120],
    ['rotation about a point', '<rect width="4" height="5" transform="rotate(45 10 10)"/>', 20],
    ['relative commands and arcs', '<path d="m10 10h10v10h-10z m20 0 a5 5 0 1 0 10 0 a5 5 0 1 0 -10 0z"/>', 100 + Math.PI * 25],
    ['what is defined but not used', '<defs><rect width="50" height="50"/></defs><rect width="2" height="2"/>', 4],
  ])('reads %s', (_what, body, area) => {
    expect(areaOf(body)).toBeCloseTo(area, 0)
  })

  it('believes physical units', () => {
    expect(areaOf('<rect width="72" height="72"/>', 'width="1in" height="1in" viewBox="0 0 72 72"')).toBeCloseTo(25.4 ** 2, 1)
    expect(areaOf('<rect width="96" height="96"/>', '')).toBeCloseTo(25.4 ** 2, 1)
  })

  it('names what it passes over and refuses what is hostile', () => {
    expect(readSvg('<svg><text>hi</text><image href="http://example.invalid/x.png"/><rect width="1" height="1"/></svg>').ignored).toEqual(['text', 'image'])
    expect(() => readSvg('<!DOCTYPE svg [<!ENTITY a "aaa">]><svg>&a;</svg>')).toThrow(/entities/)
    expect(() => readSvg('<svg><g></svg>')).toThrow(/well-formed/)
    expect(() => readSvg('<html></html>')).toThrow(/no SVG/)
    expect(() => readSvg(`<svg>${'<g>'.repeat(100_000)}`)).toThrow(FormatError)
    expect(() => readSvg('<svg><path d="M0 0 L1e300 1e300 L5 5"/></svg>')).toThrow(FormatError)
    expect(() => readSvg('<svg><path d="M0 0 Lx"/></svg>')).toThrow(/path/)
  })
})
