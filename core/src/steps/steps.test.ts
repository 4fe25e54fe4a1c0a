import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import type { Solid } from '../solid/solid'
import { STEPS, stepKind } from './registry'
import { FAMILIES } from './step'

describe('every step', () => {
  it.each(STEPS.map((s) => [s.kind, s] as const))('%s starts from nothing, describes itself and has a form', (_kind, step) => {
    const params = step.params.parse({})
    expect(step.describe(params).length).toBeGreaterThan(8)
    expect(step.summary).toMatch(/\.$/)
    expect(FAMILIES).toContain(step.family)
    const { properties } = z.toJSONSchema(step.params, { io: 'input' }) as { properties: Record<string, { title?: string; default?: unknown }> }
    for (const [name, field] of Object.entries(properties)) {
      expect(field.title, name).toBeTruthy()
      expect(field.default, name).toBeDefined()
    }
  })

  it('has a name of its own', () => {
    expect(new Set(STEPS.map((s) => s.kind)).size).toBe(STEPS.length)
    expect(stepKind('extrude')?.title).toBe('Extrude')
    expect(stepKind('nothing')).toBeUndefined()
  })
})

describe('Extrude', () => {
  const edge = (profile: string, more: Record<string, unknown> = {}) => ({ profile, inset: 2, height: 2, ...more })
  const run = async (extrude: Record<string, unknown>, text = 'Ho') => evaluateRoute(wordRoute(text, 'archivo-bold', {}, extrude), { assets })

  it('says in words what it does', async () => {
    const describeParams = (params: Record<string, unknown>) => stepKind('extrude')?.describe(stepKind('extrude')?.params.parse(params))
    expect(describeParams({})).toBe('12 mm deep · chamfer 1.5 mm in front')
    expect(describeParams({ depth: 4, front: { profile: 'square' } })).toBe('4 mm deep, plain edges')
    expect(describeParams({ front: edge('ogee', { height: 3 }), back: edge('round') })).toBe('12 mm deep · ogee 2 × 3 mm in front · round 2 mm behind')
  })

  it.each([
    ['a depth of 0', { depth: 0 }, 'bad-value', 'depth'],
    ['a depth that is no number', { depth: Number.NaN }, 'bad-value', 'depth'],
    ['a negative inset', { front: edge('chamfer', { inset: -1 }) }, 'bad-value', 'front.inset'],
    ['a profile of no points', { front: edge('points', { points: [] }) }, 'profile', 'front'],
    ['a profile of one point', { front: edge('points', { points: [[0, 0]] }) }, 'profile', 'front'],
    [
      'a profile that runs backwards',
      {
        back: edge('points', {
          points: [
            [0, 0],
            [2, 1],
            [1, 2],
          ],
        }),
      },
      'profile',
      'back',
    ],
    ['a profile of 10,000 points', { front: edge('points', { points: Array.from({ length: 10_000 }, (_, i) => [i, i]) }) }, 'bad-value', 'front.points'],
    ['a profile it does not know', { front: edge('zigzag') }, 'bad-value', 'front.profile'],
  ])('answers %s at the field', async (_what, params, code, field) => {
    const report = await run(params as Record<string, unknown>)
    expect(report.steps[1]).toMatchObject({ state: 'failed', issues: [{ code, field, remedy: expect.any(String) }] })
    // the outline before it stands
    expect(report.value?.kind).toBe('outline')
  })

  it('is as deep as asked, edges included, and sound, for all profiles in front and behind', async () => {
    for (const front of ['square', 'chamfer', 'round', 'cove', 'ogee', 'stepped']) {
      for (const back of ['square', 'stepped']) {
        const report = await run({ depth: 9, front: edge(front), back: edge(back) })
        expect(checkMesh(report.value as Solid), `${front} ${back}`).toMatchObject({ sound: true, parts: 2, size: [expect.any(Number), expect.any(Number), 9] })
      }
    }
  })

  it('keeps inset and height apart', async () => {
    const volume = async (inset: number, height: number) => checkMesh((await run({ front: { profile: 'chamfer', inset, height } }, 'H')).value as Solid).volume
    const [small, wide, tall] = [await volume(1, 1), await volume(2, 1), await volume(1, 2)]
    expect(wide).toBeLessThan(small)
    expect(tall).toBeLessThan(small)
    expect(wide).not.toBeCloseTo(tall, 1)
  })

  it('follows a finer tolerance with more triangles and a volume that settles', async () => {
    const at = async (tolerance: number) => checkMesh((await run({ tolerance, front: edge('round') }, 'O')).value as Solid)
    const [coarse, fine, finer] = [await at(0.3), await at(0.02), await at(0.005)]
    expect(fine.triangles).toBeGreaterThan(coarse.triangles)
    expect(Math.abs(finer.volume - fine.volume)).toBeLessThan(Math.abs(finer.volume - coarse.volume))
  })

  it('works from very small to very large lettering', async () => {
    for (const size of [1, 5, 200, 2000]) {
      const unit = size / 40
      const front = { profile: 'round', inset: unit, height: unit }
      const report = await evaluateRoute(
        wordRoute('Quay', 'abril-fatface', { size }, { depth: 10 * unit, front, tolerance: Math.min(5, Math.max(0.002, 0.02 * unit)) }),
        { assets },
      )
      expect(checkMesh(report.value as Solid).findings, `${size} mm`).toEqual([])
    }
  })
})

describe('Dress', () => {
  it.each([
    ['a colour that is none', { face: { colour: 'red', roughness: 0.5, metalness: 0 } }, 'face.colour'],
    ['a roughness beyond 1', { edge: { colour: '#ff0000', roughness: 2, metalness: 0 } }, 'edge.roughness'],
  ])('answers %s at the field and leaves the solid standing', async (_what, params, field) => {
    const report = await evaluateRoute([...wordRoute('H', 'archivo-bold'), { id: 'dress-1', kind: 'dress', on: true, params }], { assets })
    expect(report.steps[2]).toMatchObject({ state: 'failed', issues: [{ code: 'bad-value', field }] })
    expect(report.value?.kind).toBe('solid')
  })
})
