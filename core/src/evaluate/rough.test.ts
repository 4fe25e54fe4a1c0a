import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { Memo } from '../cache/memo'
import { paramsAtMoment, START } from '../document/moment'
import type { RouteStep } from '../document/schema'
import { partCount, type Solid, triangleCount } from '../solid/solid'
import { STEPS } from '../steps/registry'
import { planRoute } from './plan'
import { evaluateRoute } from './route'

const PIER = wordRoute('L', 'archivo-bold', { size: 30 }, { depth: 10 })
const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const keysOf = (route: RouteStep[], rough?: number) =>
  planRoute(route, { pieces: [], behind: [], rough, paramsAt: (each) => paramsAtMoment(each, START) }).map(({ key }) => key)
const solidOf = async (route: RouteStep[], options: { rough?: number; memo?: Memo } = {}) => {
  const { value, steps } = await evaluateRoute(route, { assets, ...options })
  if (value?.kind !== 'solid') throw new Error(JSON.stringify(steps.at(-1)?.issues))
  return value
}
const bytes = ({ positions, indices }: Solid) => [Buffer.from(positions.buffer), Buffer.from(indices.buffer)]

/** What each step is given that can be made coarser; those of one's own come to be tried by being there. */
const PARAMS: Record<string, Record<string, unknown>> = {
  'voxel-remesh': { fit: 'given', voxel: 0.5 },
  'even-remesh': { edge: 1 },
  soften: { fit: 'given', voxel: 0.6 },
  swell: { by: 0.5, fit: 'given', edge: 2 },
  roughen: { height: 0.3, scale: 6, detail: 1 },
}
const ROUGHLY = STEPS.filter(({ roughly }) => roughly).map(({ kind }) => kind)

describe('A first sight', () => {
  it('is another from the first step on that can be made coarser, and the same before it', () => {
    const route = [...PIER, step('soften'), step('bend')]
    const [fine, rough] = [keysOf(route), keysOf(route, 3)]
    expect(rough.slice(0, 2)).toEqual(fine.slice(0, 2))
    expect(rough[2]).not.toBe(fine[2])
    expect(rough[3]).not.toBe(fine[3])
    expect(new Set([...fine, ...rough]).size).toBe(6)
    expect(keysOf(route, 1)).toEqual(fine)
    // nothing in it can be coarser
    expect(keysOf([...PIER, step('bend')], 3)).toEqual(keysOf([...PIER, step('bend')]))
  })

  it.each(ROUGHLY)('of %s is sound, with far fewer triangles', async (kind) => {
    const route = [...PIER, step(kind, PARAMS[kind])]
    const memo = new Memo()
    const rough = await solidOf(route, { rough: 3, memo })
    expect(checkMesh(rough)).toMatchObject({ sound: true })
    expect(triangleCount(rough)).toBeLessThan(0.5 * triangleCount(await solidOf(route, { memo })))
  })

  it('leaves what comes after it as it is', async () => {
    const route = [...PIER, step('voxel-remesh', { fit: 'given', voxel: 0.8 }), step('bend')]
    const memo = new Memo()
    await solidOf(route, { rough: 3, memo })
    expect(bytes(await solidOf(route, { memo }))).toEqual(bytes(await solidOf(route)))
  })

  it('has some steps to be tried with', () => expect(ROUGHLY.length).toBeGreaterThan(6))

  it('does not break thin strokes up', async () => {
    const light = wordRoute('Qu', 'monoton', { size: 30 }, { depth: 4 })
    const route = [...light, step('voxel-remesh')]
    const [rough, fine] = [await solidOf(route, { rough: 3 }), await solidOf(route)]
    expect(triangleCount(rough)).toBeLessThan(triangleCount(fine))
    expect(partCount(rough)).toBe(partCount(fine))
  })
})
