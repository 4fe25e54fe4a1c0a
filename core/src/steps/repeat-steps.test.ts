import { NodeIO } from '@gltf-transform/core'
import { ALL_EXTENSIONS, type InstancedMesh } from '@gltf-transform/extensions'
import { unzipSync } from 'fflate'
import { DOMParser } from 'linkedom'
import { SaxesParser } from 'saxes'
import { Mesh, Vector3 } from 'three'
import { ThreeMFLoader } from 'three/examples/jsm/loaders/3MFLoader.js'
import { describe, expect, it, vi } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { Piece, RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { read3mf, write3mf } from '../format/3mf'
import { writeGlb } from '../format/glb'
import { readModel } from '../format/model'
import { checkAssembly } from '../repeat/check'
import { UNITS } from '../repeat/unit-names'
import { type Assembly, assemblyTriangles, copyCount } from '../solid/assembly'
import type { Solid } from '../solid/solid'
import { placeFor } from './fitting'
import { stepKind } from './registry'
import type { StepKind } from './step'

const step = (kind: string, params: Record<string, unknown> = {}, id = `${kind}-1`): RouteStep => ({ id, kind, on: true, params })
const run = (route: RouteStep[], pieces: Piece[] = []) => evaluateRoute(route, { assets, pieces })
const made = async (route: RouteStep[], pieces: Piece[] = []) => {
  const report = await run(route, pieces)
  const failed = report.steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')
  if (failed) throw new Error(failed.message)
  return report
}
const cube = (size = 10) => step('block', { shape: 'box', width: size, height: size, depth: size })
const PIER = wordRoute('PIER', 'archivo-bold', { size: 60 }, { depth: 10 })
const told = async (route: RouteStep[], pieces: Piece[] = []) => (await run(route, pieces)).steps.findLast(({ state }) => state === 'failed')?.issues[0]
const numbers = ({ placements }: Assembly) => [...new Set(placements.copy)].filter((n) => n >= 0).sort((a, b) => a - b)

describe('steps that repeat', () => {
  it('a grid of nine has the gaps that were asked for, and as one solid nine times the volume', async () => {
    const { value } = await made([...PIER, step('grid', { across: 3, down: 3, gap: 10 })])
    const grid = value as Assembly
    const word = (await made(PIER)).value as Solid
    const [one, all] = [checkMesh(word), checkAssembly(grid)]
    expect(copyCount(grid)).toBe(9)
    expect(all.size[0]).toBeCloseTo(3 * one.size[0] + 20, 6)
    expect(all.size[1]).toBeCloseTo(3 * one.size[1] + 20, 6)
    expect(all.volume).toBeCloseTo(9 * one.volume, 3)
    expect(all).toMatchObject({ sound: true, parts: 9 * one.parts, triangles: 9 * one.triangles })
    // later steps get one solid, and say so
    const { steps, value: cut } = await made([...PIER, step('grid', { across: 3, down: 3, gap: 10 }), step('dress'), step('bend', { angle: 40 })])
    expect(steps[4].issues.map(({ code }) => code)).toContain('made-one')
    expect(checkMesh(cut as Solid)).toMatchObject({ sound: true, parts: 9 * one.parts })
    expect(steps[3].issues).toEqual([])
  }, 60_000)

  it.each(UNITS)('a %s on every side of a letter is deformed with it', async (unit) => {
    const route = [...wordRoute('o', 'archivo-bold'), step('on-surface', { unit, pitch: 6 })]
    const before = checkMesh((await made([...route, step('stretch', { amount: 0 })])).value as Solid)
    const { value } = await made([...route, step('stretch', { amount: 30 })])
    const after = checkMesh(value as Solid)
    expect(after).toMatchObject({ sound: true, parts: before.parts })
    // nothing is turned over: what is longer by so much holds so much more
    expect(after.volume / before.volume).toBeCloseTo(1.3, 3)
    expect(checkMesh((await made([...route, step('bend')])).value as Solid)).toMatchObject({ sound: true, parts: before.parts })
  })

  it('units that overlap at hardly any angle are bent with their letter', async () => {
    const route = [...wordRoute('s', 'fraunces', { size: 25 }), step('on-surface', { unit: 'rivet', width: 4, pitch: 3.2 })]
    expect(checkMesh((await made([...route, step('bend')])).value as Solid).sound).toBe(true)
  })

  it.each(['middle', 'rows', 'dots'])('says what would fit where nothing does, and that does: %s', async (pattern) => {
    for (const [face, params] of [
      ['pacifico', {}],
      ['kaushan-script', { edge: 3 }],
      ['im-fell-italic', { unit: 'pearl', width: 9 }],
    ] as const) {
      const words = wordRoute('k8', face)
      const asked = { ...params, pattern, pitch: 2 }
      const issue = await told([...words, step('fill-inside', asked)])
      expect(issue).toMatchObject({ code: 'no-room' })
      const fix = issue?.fixes?.[0]
      expect(fix?.label).toMatch(/^Take [\d.]+ mm/)
      expect(numbers((await made([...words, step('fill-inside', { ...asked, ...fix?.params })])).value as Assembly).length).toBeGreaterThan(0)
    }
  })

  it('fills a figure whose outlines all but touch', async () => {
    expect(numbers((await made([...wordRoute('8', 'fraunces'), step('fill-inside', { width: 2, pitch: 4 })])).value as Assembly).length).toBeGreaterThan(10)
  })

  it('sets bulbs on letters, bores holes for them, and takes letters that come', async () => {
    const fill = step('fill-inside', { unit: 'bulb', width: 5, pitch: 8, holes: 'through', power: 2 })
    const { value, steps } = await made([...PIER, fill])
    const sign = value as Assembly
    const count = numbers(sign).length
    expect(steps[2].told).toMatch(new RegExp(`^${count} bulbs, [78](\\.\\d+)? mm apart, ${2 * count} W$`))
    const word = checkMesh((await made(PIER)).value as Solid)
    const body = checkMesh(sign.units[0])
    expect(body.sound).toBe(true)
    // a round hole right through for each: its volume is that of a bar of 24 sides
    const radius = 0.3 * 5 + 0.15
    expect((word.volume - body.volume) / count).toBeCloseTo(12 * radius * radius * Math.sin((2 * Math.PI) / 24) * 10, 2)
    const more = (await made([...wordRoute('PIERS', 'archivo-bold', { size: 60 }, { depth: 10 }), fill])).value as Assembly
    expect(numbers(more).length).toBeGreaterThan(count)
    // bulbs keep their own look under a Dress step, unless a rule names them
    const dressed = (await made([...PIER, fill, step('dress', { face: { colour: '#112233', roughness: 0.5, metalness: 0 } })])).value as Assembly
    expect(dressed.units[1].looks.map(({ name }) => name).sort()).toEqual(['brass', 'bulb core', 'bulb glass'])
  }, 60_000)

  it('leaves copies out and moves them by hand, also when the words change', async () => {
    const at = async (text: string, hand: unknown) =>
      (await made([...wordRoute(text, 'archivo-bold', { size: 60 }).slice(0, 1), step('fill-inside', { width: 4, pitch: 8, hand })])).value as Assembly
    const plain = await at('PIER', undefined)
    const of = (i: number) => [...(plain.placements.spot as Float64Array).subarray(3 * i, 3 * i + 3)]
    const inR = plain.placements.letter.lastIndexOf(3)
    const inP = plain.placements.letter.indexOf(0)
    const hand = {
      of: 'PIER',
      list: [
        { at: 3, spot: of(inR), out: true, by: [0, 0, 0] },
        { at: 0, spot: of(inP), out: false, by: [1, 2, 0] },
      ],
    }
    const changed = await at('PIER', hand)
    expect(copyCount(changed)).toBe(copyCount(plain) - 1)
    expect(changed.placements.matrix[12 * inP + 3] - plain.placements.matrix[12 * inP + 3]).toBeCloseTo(1, 9)
    // the R stands elsewhere now
    const later = await at('A PIER', hand)
    expect(copyCount(later)).toBe(copyCount(await at('A PIER', undefined)) - 1)
    const { steps } = await made([...wordRoute('PIE', 'archivo-bold', { size: 60 }).slice(0, 1), step('fill-inside', { width: 4, pitch: 8, hand })])
    expect(steps[1].issues.map(({ code }) => code)).toContain('set-aside')
  })

  it('repeats another piece, for every letter, word and line', async () => {
    const hook: Piece = { id: 'hook', name: 'Hook', route: [step('block', { shape: 'ring', width: 8, bar: 2 }), step('grid', { across: 2, down: 1 })] }
    const count = async (by: string) => {
      const { value } = await made(
        [...wordRoute('ON THE\nQUAY', 'archivo-bold', { size: 30 }), step('at-letters', { by, unit: 'piece', piece: { piece: 'hook' } })],
        [hook],
      )
      return numbers(value as Assembly).length
    }
    expect([await count('letter'), await count('word'), await count('line')]).toEqual([9, 3, 2])
  })

  it('are taken as one solid by a join of another piece, which says how many that are', async () => {
    const carved = async (...repeat: RouteStep[]) => {
      const pegs = [step('block', { shape: 'box', width: 5, height: 5, depth: 20 }), ...repeat]
      const body = [step('block', { shape: 'box', width: 60, height: 60, depth: 4 }), step('carve', { others: [{ piece: 'pegs' }] })]
      const pieces: Piece[] = [
        { id: 'body', name: 'Body', route: body },
        { id: 'pegs', name: 'Pegs', route: pegs },
      ]
      const { steps, value } = await evaluateRoute(body, { assets, pieces, piece: 'body' })
      return { notes: steps[1].issues.filter(({ code }) => code === 'made-one'), lost: 60 * 60 * 4 - checkMesh(value as Solid).volume }
    }
    const [one, three] = [await carved(), await carved(step('grid', { across: 3, down: 1, gap: 3 }))]
    expect(one.notes).toEqual([])
    expect(three.notes).toMatchObject([
      { severity: 'note', message: 'Takes all 3 copies of “Pegs” as one solid of 36 triangles before copies that meet are united.' },
    ])
    expect(one.lost).toBeGreaterThan(1)
    expect(three.lost).toBeCloseTo(3 * one.lost, 6)
  })

  it('scatters over what a mask leaves, and varies copies by it', async () => {
    const pearls = (mask: unknown) => made([...PIER, step('on-surface', { unit: 'pearl', width: 2, pitch: 4, ...(mask ? { mask } : {}) })])
    const upper = { list: [{ by: 'height', from: 50, to: 50 }] }
    const [all, some] = [(await pearls(undefined)).value as Assembly, (await pearls(upper)).value as Assembly]
    expect(numbers(some).length).toBeLessThan(0.7 * numbers(all).length)
    for (let i = 0; i < copyCount(some); i++) if (some.placements.copy[i] >= 0) expect(some.placements.matrix[12 * i + 7]).toBeGreaterThan(29)
    const varied = (
      await made([
        cube(),
        step('grid', { across: 5, down: 1, gap: 10 }),
        step('vary', { by: 'mask', size: 100, mask: { list: [{ by: 'along', from: 50, to: 50 }] } }),
      ])
    ).value as Assembly
    const sizes = Array.from({ length: 5 }, (_, i) => Number(varied.placements.matrix[12 * i].toFixed(6)))
    expect(sizes).toEqual([1, 1, 2, 2, 2])
  })

  it('is offered where it fits: an assembly serves where a solid is wanted', () => {
    const route = [...PIER, step('grid')]
    expect(placeFor(stepKind('vary') as StepKind, route, 3)).toBe(3)
    expect(placeFor(stepKind('bend') as StepKind, route, 3)).toBe(3)
    expect(placeFor(stepKind('vary') as StepKind, PIER, 2)).toBeUndefined()
  })

  it('says what is wrong, and where', async () => {
    const word = PIER.slice(0, 1)
    expect(await told([...PIER, step('grid', { across: 1000, down: 1000, deep: 10 })])).toMatchObject({ code: 'too-many-copies' })
    expect(await told([...PIER, step('grid', { across: 1e7 })])).toMatchObject({ code: 'bad-value', field: 'across' })
    expect(await told([...word, step('fill-inside', { pitch: 0 })])).toMatchObject({ code: 'bad-value', field: 'pitch' })
    expect(await told([...word, step('fill-inside', { width: 80 })])).toMatchObject({ code: 'no-room', field: 'width' })
    expect(await told([step('plate', { width: 5000, height: 5000 }), step('fill-inside', { pattern: 'rows', pitch: 0.1, width: 0.1 })])).toMatchObject({
      code: 'too-many-copies',
      field: 'pitch',
    })
    expect(await told([...word, step('along', { inset: 200 })])).toMatchObject({ code: 'no-line-left' })
    expect(await told([...word, step('along', { along: 'strokes' })])).toMatchObject({ code: 'no-lines' })
    expect(await told([...word, step('fill-inside', { unit: 'piece' })])).toMatchObject({ code: 'no-piece' })
    expect(await told([...wordRoute('', 'archivo-bold').slice(0, 1), step('fill-inside')])).toBeDefined()
    expect(await told([cube(), step('ring', { sweep: 0 })])).toMatchObject({ code: 'no-angle' })
    expect(await told([cube(), step('row', { by: 'over', length: 5 })])).toMatchObject({ code: 'too-short' })
    expect(await told([cube(), step('at-letters')])).toMatchObject({ code: 'no-letters' })
    // a unit that is made with the piece it is to stand on
    const self: Piece = { id: 'self', name: 'Self', route: [cube(), step('fill-inside', { unit: 'piece', piece: { piece: 'self' } })] }
    const report = await evaluateRoute(self.route, { assets, pieces: [self], piece: 'self' })
    expect(report.steps[1].issues[0]).toMatchObject({ code: 'ring' })
  })
})

describe('files of copies', () => {
  const many = async (): Promise<Assembly> =>
    (await made([step('block', { shape: 'ball', width: 4, tolerance: 0.3 }), step('grid', { across: 200, down: 100, gap: 1 })])).value as Assembly

  it('GLB has 20,000 instances of one mesh, under a megabyte, and reads back; a node each on request', async () => {
    const value = await many()
    const bytes = await writeGlb(value, 'many')
    expect(bytes.length).toBeLessThan(1e6)
    const document = await new NodeIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes)
    expect(document.getRoot().listMeshes().length).toBe(1)
    const batches = document
      .getRoot()
      .listNodes()
      .flatMap((node) => node.getExtension<InstancedMesh>('EXT_mesh_gpu_instancing') ?? [])
    expect(batches.length).toBe(1)
    const at = batches[0].getAttribute('TRANSLATION')
    expect(at?.getCount()).toBe(20_000)
    for (const i of [0, 199, 12_345]) expect(at?.getElement(i, [])).toEqual([3, 7, 11].map((k) => Math.fround(value.placements.matrix[12 * i + k])))
    const few = (await made([cube(), step('ring', { count: 5 }), step('vary', { size: 30, lean: 20, colours: ['#ff0000', '#00ff00'] })])).value as Assembly
    for (const how of ['instances', 'nodes'] as const) {
      const read = await readModel(await writeGlb(few, 'few', how))
      const { positions, indices } = read
      expect(checkMesh({ positions, indices }).volume).toBeCloseTo(checkAssembly(few).volume, 1)
    }
  }, 60_000)

  it('3MF has components of one mesh, as many as copies, with their volume', async () => {
    const value = (await made([...PIER, step('grid', { across: 4, down: 3 }), step('vary', { turn: 30, size: 20 })])).value as Assembly
    const bytes = write3mf(value, 'few')
    const xml = new TextDecoder().decode(unzipSync(bytes)['3D/3dmodel.model'])
    const found = { object: 0, component: 0, item: 0, triangle: 0 }
    const parser = new SaxesParser()
    parser.on('opentag', ({ name }) => {
      if (name in found) found[name as 'item']++
    })
    parser.write(xml).close()
    expect(found).toMatchObject({ object: 2, component: 12, item: 1, triangle: assemblyTriangles(value) / 12 })
    const mesh = read3mf(bytes)
    expect(mesh.indices.length / 3).toBe(assemblyTriangles(value))
    const [is, was] = [checkMesh(mesh), checkAssembly(value)]
    expect(Math.abs(is.volume / was.volume - 1)).toBeLessThan(1e-6)
    for (const k of [0, 1, 2]) expect(is.size[k]).toBeCloseTo(was.size[k], 6)
  })

  it('3MF is read back by a reader that is not ours, with as many copies and the same volume', async () => {
    const value = (await made([...PIER, step('grid', { across: 4, down: 3 }), step('vary', { turn: 30, size: 20 })])).value as Assembly
    const file = write3mf(value, 'few')
    vi.stubGlobal('DOMParser', DOMParser)
    try {
      const group = new ThreeMFLoader().parse(file.slice().buffer)
      group.updateMatrixWorld(true)
      let [count, volume] = [0, 0]
      const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()]
      group.traverse((object) => {
        if (!(object instanceof Mesh)) return
        count++
        const at = object.geometry.getAttribute('position')
        const index = object.geometry.getIndex()
        for (let i = 0; i < (index?.count ?? at.count); i += 3) {
          ;[a, b, c].forEach((corner, k) => corner.fromBufferAttribute(at, index ? index.getX(i + k) : i + k).applyMatrix4(object.matrixWorld))
          volume += a.dot(b.clone().cross(c)) / 6
        }
      })
      // it makes a mesh of each surface’s colour; all of them are there twelve times
      expect(count % 12).toBe(0)
      expect(count).toBeGreaterThan(0)
      expect(Math.abs(volume / checkAssembly(value).volume - 1)).toBeLessThan(1e-4)
    } finally {
      vi.unstubAllGlobals()
    }
  })
})
