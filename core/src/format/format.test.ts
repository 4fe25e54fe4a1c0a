import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import validator from 'gltf-validator'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, boxMesh, FULL, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import type { Outline } from '../outline/outline'
import { polygonArea, regionPolygons } from '../outline/polygon'
import { linearColour } from '../look/material'
import { FACE } from '../solid/labels'
import { lookOf, type Solid } from '../solid/solid'
import { writeGlb } from './glb'
import { readGltf } from './gltf'
import { FormatError } from './mesh-data'
import { readStl, writeStl } from './stl'
import { readSvg, writeSvg } from './svg'
import { within } from '../../test/within'

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
    const [before, after] = [checkMesh(solid), checkMesh(await readGltf(bytes))]
    expect(after).toMatchObject({ sound: true, triangles: before.triangles, volume: before.volume, size: before.size })
    const view = new DataView(bytes.buffer, bytes.byteOffset)
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + view.getUint32(12, true))))
    expect(json.materials.map((m: { name: string }) => m.name)).toEqual(['face', 'edge', 'return', 'back'])
    expect(json.materials[0].pbrMetallicRoughness.baseColorFactor.slice(0, 3)).toEqual(
      linearColour(lookOf(solid, solid.labels.group.indexOf(FACE)).material.colour),
    )
    expect(json.nodes[0].scale).toEqual([0.001, 0.001, 0.001])
  })

  it('refuses what is no GLB', async () => {
    await expect(readGltf(new TextEncoder().encode('not a model'))).rejects.toBeInstanceOf(FormatError)
  })

  it('turns colours linear by the sRGB curve', () => {
    expect(linearColour('#ffffff')).toEqual([1, 1, 1])
    expect(linearColour('#808080')[0]).toBeCloseTo(0.2158605, 6)
  })
})

describe('SVG', () => {
  it('gives back the same shapes in mm', async () => {
    const { outline: read, ignored } = await readSvg(writeSvg(outline))
    expect(ignored).toEqual([])
    const area = (o: Outline) => o.regions.reduce((sum, r) => sum + polygonArea(regionPolygons(r, 0.005, 2 ** -14)), 0)
    expect(area(read)).toBeCloseTo(area(outline), 0)
    // letters that cross are cut anew, so control points may lie elsewhere: compare what the curves reach
    const extent = (o: Outline) => {
      const rings = o.regions.flatMap((r) =>
        regionPolygons(r, 0.005, 2 ** -14).rings.map((ring) => Array.from(ring.xy, (v, i) => v + (i % 2 === 0 ? r.dx : r.dy))),
      )
      return [0, 1].map(
        (k) =>
          Math.max(...rings.flatMap((ring) => ring.filter((_, i) => i % 2 === k))) - Math.min(...rings.flatMap((ring) => ring.filter((_, i) => i % 2 === k))),
      )
    }
    const [a, b] = [extent(outline), extent(read)]
    expect(b[0]).toBeCloseTo(a[0], 1)
    expect(b[1]).toBeCloseTo(a[1], 1)
  })

  const areaOf = async (body: string, attributes = 'width="100mm" height="100mm" viewBox="0 0 100 100"') => {
    const { outline: read } = await readSvg(`<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${body}</svg>`)
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
  ])('reads %s', async (_what, body, area) => {
    expect(await areaOf(body)).toBeCloseTo(area, 0)
  })

  it('believes physical units', async () => {
    expect(await areaOf('<rect width="72" height="72"/>', 'width="1in" height="1in" viewBox="0 0 72 72"')).toBeCloseTo(25.4 ** 2, 1)
    expect(await areaOf('<rect width="96" height="96"/>', '')).toBeCloseTo(25.4 ** 2, 1)
  })

  it('names what it passes over and refuses what is hostile', async () => {
    const ignored = async (body: string) => (await readSvg(`<svg>${body}</svg>`)).ignored
    expect(await ignored('<text>hi</text><image href="http://example.invalid/x.png"/><rect width="1" height="1"/>')).toEqual([
      'text (set it as Lettering, or turn it into outlines first)',
      'a picture',
    ])
    expect(await ignored('<script>alert(1)</script><use href="http://example.invalid/a.svg#b"/>')).toEqual([
      'a script (not run)',
      'a part of another file (not fetched)',
    ])
    expect(await ignored('<g id="a"><use href="#a"/></g>')).toEqual(['“a”, which contains itself'])
    expect(await ignored('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>')).toEqual(expect.arrayContaining(['“a”, which contains itself']))
    expect(await ignored('<path d="M0 0 Lx"/><path d="M0 0 L1e300 1e400 L5 5"/>')).toEqual(['a path that cannot be read'])
    const refused = (text: string) => expect(readSvg(text)).rejects
    await refused('<!DOCTYPE svg [<!ENTITY a "aaa"><!ENTITY b "&a;&a;&a;">]><svg>&b;</svg>').toThrow(/entities/)
    await refused('<svg><g></svg>').toThrow(/well-formed/)
    await refused('<html></html>').toThrow(/no SVG/)
    await refused('').toThrow(FormatError)
    await refused(`<svg>${'<g>'.repeat(100_000)}`).toThrow(/400 deep/)
    await refused('<svg><path d="M0 0 L1e300 1e300 L5 5"/></svg>').toThrow(/kilometre/)
    await refused('<svg><g transform="scale(1e200)"><g transform="scale(1e200)"><rect width="1" height="1"/></g></g></svg>').toThrow(FormatError)
    await refused(`<svg><path d="${'M0 0L1 1'.repeat(13_000_000)}"/></svg>`).toThrow(/20 MB/)
    // one clip path for thousands of elements
    const clipped = Array.from({ length: 8000 }, (_, i) => `<rect id="r${i}" clip-path="url(#c)" width="9" height="9"/>`).join('')
    await within(8000, () => readSvg(`<svg><clipPath id="c"><circle r="5"/></clipPath>${clipped}</svg>`))
    // a thousand million copies of one another
    const bomb = Array.from({ length: 9 }, (_, i) => `<g id="b${i + 1}">${`<use href="#b${i}"/>`.repeat(10)}</g>`).join('')
    await within(2000, () => refused(`<svg><rect id="b0" width="1" height="1"/>${bomb}</svg>`).toThrow(/20,000 times/))
  })

  it('reads strokes with caps, joins and dashes as areas', async () => {
    const line = (more: string) => areaOf(`<path d="M10 10H50V40" fill="none" stroke="#000" stroke-width="4" ${more}/>`)
    expect(await line('')).toBeCloseTo(280, 1)
    expect(await line('stroke-linejoin="bevel"')).toBeCloseTo(278, 1)
    expect(await line('stroke-linejoin="round" stroke-linecap="round"')).toBeCloseTo(276 + 5 * Math.PI, 0)
    expect(await line('stroke-linecap="square"')).toBeCloseTo(296, 1)
    expect(await line('stroke-dasharray="5 5"')).toBeCloseTo(7 * 5 * 4, 0)
    // a mitre too long for its limit is bevelled
    const sharp = (limit: number) => areaOf(`<path d="M0 0L40 4L0 8" fill="none" stroke="#000" stroke-width="2" stroke-miterlimit="${limit}"/>`)
    expect(await sharp(20)).toBeGreaterThan((await sharp(2)) + 5)
    expect(await areaOf('<path d="M5 5z" fill="none" stroke="#000" stroke-width="10" stroke-linecap="round"/>')).toBeCloseTo(25 * Math.PI, 0)
  })

  it('follows style sheets, inheritance, use, symbols, clip paths and fill rules', async () => {
    const colours = async (text: string) => (await readSvg(text)).outline.layers.map((l) => l.colour)
    const sheet = '<style>.a rect{fill:red} #b{fill:rgb(0,128,0)!important} g > circle{fill:none}</style>'
    expect(
      await colours(`<svg>${sheet}<g class="a"><rect width="1" height="1"/></g><rect id="b" fill="blue" width="1" height="1"/><g><circle r="4"/></g></svg>`),
    ).toEqual(['#ff0000', '#008000'])
    expect(
      await colours('<svg><g fill="#123456" color="lime"><rect width="1" height="1"/><rect style="fill:currentColor" width="1" height="1"/></g></svg>'),
    ).toEqual(['#123456', '#00ff00'])
    const symbol = '<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol><use href="#s" x="5" y="5" width="20" height="20"/>'
    expect(await areaOf(symbol)).toBeCloseTo(400, 1)
    expect(await areaOf('<clipPath id="c"><circle cx="10" cy="10" r="10"/></clipPath><rect clip-path="url(#c)" width="20" height="20"/>')).toBeCloseTo(
      100 * Math.PI,
      0,
    )
    expect(await areaOf('<path fill-rule="evenodd" d="M0 0H20V20H0ZM5 5H15V15H5Z"/>')).toBeCloseTo(300, 1)
    expect(await areaOf('<path fill-rule="evenodd" d="M0 0H20V20H0ZM10 10H30V30H10Z"/>')).toBeCloseTo(600, 0)
    expect(await areaOf('<path d="M0 0H20V20H0ZM5 5H15V15H5Z"/>')).toBeCloseTo(400, 1)
    expect(await areaOf('<svg x="10" width="50" height="50" viewBox="0 0 10 20" preserveAspectRatio="none"><rect width="10" height="20"/></svg>')).toBeCloseTo(
      2500,
      0,
    )
  })

  const MUTATIONS = FULL ? 5000 : 1200
  it(`bears ${MUTATIONS} mutations of a drawing: an outline or a FormatError, never a hang`, async () => {
    const whole = readFileSync(new URL('../../test/mark.svg', import.meta.url), 'utf8')
    let seed = 11
    const random = (n: number) => (seed = (Math.imul(seed, 48271) >>> 0) % 0x7fffffff || 1) % n
    const bits = [
      '<g>',
      '</g>',
      '"',
      '<use href="#lamp"/>',
      'NaN',
      '1e999',
      '-',
      ' ',
      'z',
      'A',
      'matrix(0 0 0 0 0 0)',
      '%',
      '<!--',
      ']]>',
      '&amp;',
      '9999999999',
      'url(#lamp)',
    ]
    let read = 0
    let slowest = 0
    for (let i = 0; i < MUTATIONS; i++) {
      let text = whole
      for (let k = random(4); k >= 0; k--) {
        const at = random(text.length)
        const bit = random(3) === 0 ? bits[random(bits.length)] : String.fromCharCode(32 + random(95))
        text = text.slice(0, at) + bit + text.slice(at + random(6))
      }
      const begun = performance.now()
      try {
        const { outline } = await readSvg(text, 0.1)
        for (const region of outline.regions)
          for (const m of region.members) for (const p of m.paths) if (p.coords.some((v) => !Number.isFinite(v))) throw new Error('not finite')
        read++
      } catch (error) {
        expect(error, `${i}: ${(error as Error).stack}`).toBeInstanceOf(FormatError)
      }
      slowest = Math.max(slowest, performance.now() - begun)
    }
    expect(read).toBeGreaterThan(MUTATIONS / 5)
    expect(slowest).toBeLessThan(2000)
  }, 240_000)
})
