import { describe, expect, it } from 'vitest'
import { assets, FULL, wordRoute } from '../../../../test/helpers'
import { SHIPPED_FACES } from '../../../../fonts/catalogue'
import { checkMesh } from '../../../check/check'
import type { RouteStep } from '../../../document/schema'
import { evaluateRoute } from '../../../evaluate/route'
import { orientedPaths } from '../../../outline/areas'
import { Area, clipAreas, unitePaths } from '../../../outline/clip'
import type { Outline } from '../../../outline/outline'
import { type Path, pathArea, segmentsOf } from '../../../outline/path'
import { ArcLength } from '../../../outline/arc-length'
import type { Solid } from '../../../solid/solid'
import { STEPS } from '../../registry'
import { givenBy } from '../../step'

const step = (kind: string, params: Record<string, unknown> = {}, id = `${kind}-1`): RouteStep => ({ id, kind, on: true, params })
const run = async (route: RouteStep[]) => {
  const report = await evaluateRoute(route, { assets, pieces: [] })
  return { ...report, failed: report.steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')?.message }
}
const words = (text: string, face: string) => wordRoute(text, face, { size: 40 }).slice(0, 1)
const written = async (text: string, face: string, params: Record<string, unknown>) =>
  (await run([...words(text, face), step('write-on', params)])).value as Outline
const area = (paths: readonly Path[]) => paths.reduce((sum, path) => sum + pathArea(path), 0)
const bordersIn = ({ regions }: Outline) => regions.flatMap(orientedPaths)
/** Of overlapping letters together, mm². */
const areaOf = (outline: Outline) => area(unitePaths(bordersIn(outline)))
const without = (a: Outline, b: Outline) => area(clipAreas(new Area(bordersIn(a)), new Area(bordersIn(b)), 'subtract'))

const FACES = FULL ? SHIPPED_FACES.map(({ id }) => id) : ['archivo-bold', 'pacifico', 'im-fell-italic', 'dela-gothic']

describe('writing letters on', () => {
  it.each(FACES)(
    '%s: what is written lies in the letters, only grows, and is the letters at last',
    async (face) => {
      const whole = (await run(words('Rage', face))).value as Outline
      let before: Outline | undefined
      for (const share of [1, 12, 30, 47, 68, 85, 99, 100]) {
        const now = await written('Rage', face, { written: share })
        // nothing of it beyond the letters, and all that was written before is still there
        const room = 2e-3 * areaOf(now) + 0.01
        expect(without(now, whole)).toBeLessThan(room)
        if (before) {
          expect(without(before, now)).toBeLessThan(room)
          expect(areaOf(now)).toBeGreaterThan(areaOf(before))
        }
        if (share === 99) expect(areaOf(now)).toBeGreaterThan(0.93 * areaOf(whole))
        if (share === 100) expect(now.regions.map(({ key }) => key)).toEqual(whole.regions.map(({ key }) => key))
        before = now
      }
    },
    60_000,
  )

  it('is sound in every form, with an edge, while it is written', async () => {
    for (const form of [step('extrude', { edge: { profile: 'round', size: 1 } }), step('inflate'), step('relief')])
      for (const share of FULL ? [3, 20, 41, 66, 93] : [20, 66]) {
        const { value, failed } = await run([...words('Quay', 'pacifico'), step('write-on', { written: share }), form])
        expect(failed).toBeUndefined()
        expect(checkMesh(value as Solid)).toMatchObject({ sound: true })
      }
  }, 60_000)

  it('writes one letter after another, the last first, or all at once; a letter that is done is the one it was', async () => {
    const whole = (await run(words('iiii', 'archivo-bold'))).value as Outline
    const lettersIn = ({ regions }: Outline) => regions.map(({ members }) => members[0].letter)
    const half = await written('iiii', 'archivo-bold', { written: 50 })
    expect(lettersIn(half)).toEqual([0, 1])
    expect(half.regions.map(({ key }) => key)).toEqual(whole.regions.slice(0, 2).map(({ key }) => key))
    expect(lettersIn(await written('iiii', 'archivo-bold', { written: 50, backwards: true }))).toEqual([2, 3])
    const atOnce = await written('iiii', 'archivo-bold', { written: 50, by: 'letter' })
    expect(lettersIn(atOnce)).toEqual([0, 1, 2, 3])
    expect(areaOf(atOnce)).toBeLessThan(0.85 * areaOf(whole))
    // equal letters are equally far
    expect(new Set(atOnce.regions.map(({ key }) => key)).size).toBe(1)
  })

  it('draws lines as far as they go, each curve the one it was', async () => {
    const node = (x: number, y: number) => ({ x, y })
    const shapes = [
      { id: 'a', layer: 'drawing', closed: false, width: 0, nodes: [node(0, 0), node(30, 0), node(30, 40)] },
      { id: 'b', layer: 'drawing', closed: false, width: 0, nodes: [node(50, 0), node(50, 30)] },
    ]
    const drawing = step('drawing', { shapes })
    const lines = (await run([drawing])).value as Outline
    expect(lines.strokes.map((path) => new ArcLength(path).length)).toEqual([70, 30])
    for (const share of [10, 50, 75, 100]) {
      const now = (await run([drawing, step('write-on', { written: share })])).value as Outline
      expect(now.strokes.reduce((sum, path) => sum + new ArcLength(path).length, 0)).toBeCloseTo(share, 6)
      expect(now.strokes.flatMap((path) => segmentsOf(path)).every(({ straight }) => straight)).toBe(true)
    }
    const tube = await run([drawing, step('write-on', { written: 60 }), step('tube')])
    expect(tube.failed).toBeUndefined()
    expect(checkMesh(tube.value as Solid)).toMatchObject({ sound: true })
  })

  it('is empty before it begins, and nothing that is made of it fails', async () => {
    const nothing = [...words('Pier', 'archivo-bold'), step('write-on', { written: 0 })]
    const empty = await run(nothing)
    expect(empty.value).toMatchObject({ regions: [], strokes: [], nothingYet: true })
    expect(empty.steps[1].issues.map(({ code }) => code)).toEqual(['nothing-yet'])
    for (const kind of STEPS.filter(({ takes }) => takes.includes('outline'))) {
      const { value, failed } = await run([...nothing, step(kind.kind)])
      expect(failed, kind.kind).toBeUndefined()
      expect(value?.kind, kind.kind).toBe(givenBy(kind, 'outline', {}))
    }
    // words that are carved into something are not there yet either
    const pieces = [
      { id: 'words', name: 'Words', route: nothing },
      { id: 'formed', name: 'Formed', route: [...nothing, step('extrude')] },
    ]
    const board = step('block', { shape: 'box', width: 80, height: 40, depth: 10 })
    for (const carve of [step('carve-lettering', { words: { piece: 'words' } }), step('fuse', { others: [{ piece: 'formed' }] })]) {
      const report = await evaluateRoute([board, carve], { assets, pieces })
      expect(report.steps[1].state, carve.kind).toBe('sound')
      expect(checkMesh(report.value as Solid).volume).toBeCloseTo(80 * 40 * 10, 3)
    }
    const { value, failed } = await run([...nothing, step('extrude'), step('dress'), step('bend', { angle: 40 }), step('in-turn')])
    expect(failed).toBeUndefined()
    expect(value?.kind).toBe('assembly')
  })
})
