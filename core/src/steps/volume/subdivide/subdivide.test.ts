import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import type { Solid } from '../../../solid/solid'

async function divided(text: string, face: string, params: Record<string, unknown>, extrude: Record<string, unknown> = {}) {
  const words = wordRoute(text, face, {}, extrude)
  const { value, steps } = await evaluateRoute([...words, { id: 'subdivide-1', kind: 'subdivide', on: true, params }], { assets })
  const last = steps[steps.length - 1]
  expect(last.state).toBe('sound')
  const before = (await evaluateRoute(words, { assets })).value as Solid
  return { had: checkMesh(before), has: checkMesh(value as Solid), letters: (value as Solid).letters, issues: last.issues }
}

describe('subdividing a word as it was formed', () => {
  it('takes slivers whose middles are rounded over their other sides', async () => {
    const { had, has, issues } = await divided('Q', 'monoton', { how: 'plain' })
    expect(issues).toEqual([])
    expect(has).toMatchObject({ sound: true, parts: had.parts })
    expect(has.triangles).toBeGreaterThan(3.9 * had.triangles)
    expect(Math.abs(has.volume / had.volume - 1)).toBeLessThan(1e-5)
  })

  it('rounds it where slivers would cross, as other triangles of the same shape do not', async () => {
    const { had, has, issues } = await divided('8', 'cinzel-decorative', {}, { front: { profile: 'ogee', inset: 1.5, height: 1.5 } })
    expect(issues).toEqual([])
    expect(has).toMatchObject({ sound: true, parts: had.parts, triangles: 4 * had.triangles })
  })

  it('leaves it as it was where it would pass through itself even so, and shows where', async () => {
    const { had, has, letters, issues } = await divided('Q', 'monoton', {})
    expect(issues.map(({ code, severity, field }) => [code, severity, field])).toEqual([['kept-there', 'note', 'creases']])
    expect(issues[0].places?.length).toBeGreaterThan(0)
    expect(has).toMatchObject({ sound: true, parts: had.parts })
    expect(letters).toEqual(['Q'])
    // rounded elsewhere, and not another shape
    expect(has.volume).not.toBeCloseTo(had.volume, 3)
    expect(Math.abs(has.volume / had.volume - 1)).toBeLessThan(0.02)
  })
})
