import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import { toTriangle } from '../../../solid/nearest'
import { labelAt, type Solid, solidBounds, triangleCount } from '../../../solid/solid'

async function smoothed(text: string, face: string, extrude: Record<string, unknown> = {}, params: Record<string, unknown> = {}) {
  const words = wordRoute(text, face, {}, extrude)
  const report = await evaluateRoute([...words, { id: 'smooth-1', kind: 'smooth-surface', on: true, params }], { assets })
  const last = report.steps[report.steps.length - 1]
  expect(last.state).toBe('sound')
  const before = (await evaluateRoute(words, { assets })).value as Solid
  return { before, after: report.value as Solid, issues: last.issues }
}

/** How far a place lies from a surface, mm, by looking at every triangle. */
function offSurface({ positions, indices }: Solid, x: number, y: number, z: number): number {
  let least = Infinity
  for (let i = 0; i < indices.length; i += 3) least = Math.min(least, toTriangle(x, y, z, positions, 3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]))
  return Math.sqrt(least)
}

describe('smoothing a word as it was formed', () => {
  it('makes triangles even first where long ones would turn over, and says so', async () => {
    const { before, after, issues } = await smoothed('a', 'saira-stencil')
    expect(issues.map(({ code }) => code)).toEqual(['made-even'])
    const [had, has] = [checkMesh(before), checkMesh(after)]
    expect(has).toMatchObject({ sound: true, parts: had.parts })
    expect(after.letters).toEqual(before.letters)
    expect(Math.abs(has.volume / had.volume - 1)).toBeLessThan(0.01)
    // smooth, not another shape
    for (let o = 0; o < after.positions.length; o += 300)
      expect(offSurface(before, after.positions[o], after.positions[o + 1], after.positions[o + 2])).toBeLessThan(0.4)
  })

  it('leaves it as it was where it would pass through itself even so, and shows where', async () => {
    const { after, issues } = await smoothed('@', 'dela-gothic')
    expect(issues.map(({ code }) => code)).toEqual(['kept-there', 'made-even'])
    expect(checkMesh(after).sound).toBe(true)
    const box = solidBounds(after.positions)
    const places = issues[0].places ?? []
    expect(places.length).toBeGreaterThan(0)
    for (const place of places) for (const k of [0, 1, 2]) expect(place[k] >= box[k] - 0.01 && place[k] <= box[k + 3] + 0.01).toBe(true)
  })

  it('leaves alone what its mask leaves out, triangles made even or not', async () => {
    const mask = { list: [{ by: 'letters', letters: 'a' }] }
    const { before, after, issues } = await smoothed('Qa', 'saira-stencil', {}, { rounds: 30, creases: 180, mask })
    expect(issues.map(({ code }) => code)).toContain('made-even')
    expect(checkMesh(after).sound).toBe(true)
    const moved = [0, 0]
    for (let t = 0; t < triangleCount(after); t += 25) {
      const o = 3 * after.indices[3 * t]
      const letter = labelAt(after, t, 'letter')
      moved[letter] = Math.max(moved[letter], offSurface(before, after.positions[o], after.positions[o + 1], after.positions[o + 2]))
    }
    // even triangles lie within a fiftieth of their sides on what they were made of
    expect(Math.min(...moved)).toBeLessThan(0.04)
    expect(Math.max(...moved)).toBeGreaterThan(0.1)
  })
})
