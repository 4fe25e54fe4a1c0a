import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { regionRings } from './areas'
import { ringArea } from './bridges'
import type { Outline } from './outline'

beforeAll(async () => void (await loadManifold()))

const FACES = SHIPPED_FACES.filter((_, i) => FULL || i % 5 === 2)

const counters = (outline: Outline) => outline.regions.reduce((sum, region) => sum + regionRings(region).filter((ring) => ringArea(ring) < 0).length, 0)
const area = (outline: Outline) => outline.regions.reduce((sum, region) => sum + regionRings(region).reduce((s, ring) => s + ringArea(ring), 0), 0)

async function stencilled(text: string, face: string, params: Record<string, unknown> = {}) {
  const [lettering, form] = wordRoute(text, face, { size: 30 }, { depth: 3, front: { profile: 'square' } })
  const plain = await evaluateRoute([lettering], { assets })
  const route = [lettering, { id: 's', kind: 'stencil', on: true, params }, form]
  const cut = await evaluateRoute(route, { assets, until: 's' })
  const solid = await evaluateRoute(route, { assets })
  if (plain.value?.kind !== 'outline' || cut.value?.kind !== 'outline' || solid.value?.kind !== 'solid')
    throw new Error(JSON.stringify(cut.steps.map((s) => s.issues)))
  return { plain: plain.value, cut: cut.value, solid: solid.value, step: cut.steps[1] }
}

describe('bridges', () => {
  it.each(FACES.map(({ id }) => id))('%s: hold every counter, take next to nothing, and leave sound letters', async (face) => {
    const { plain, cut, solid, step } = await stencilled('ABDOPQRabdegopq04689', face, { bridges: 2, width: 0.8 })
    const before = counters(plain)
    if (before > 0) {
      // what hangs together crosswise, as in an ornament, is named
      const left = counters(cut)
      expect(left).toBeLessThanOrEqual(0.2 * before)
      expect(step.issues.length).toBe(left > 0 ? 1 : 0)
      expect(step.told).toContain(`${before - left} counter`)
    }
    expect(area(cut)).toBeLessThanOrEqual(area(plain) + 1e-6)
    expect(area(cut)).toBeGreaterThan(0.7 * area(plain))
    expect(checkMesh(solid).findings).toEqual([])
  })

  it('are as many, as wide and turned as is asked for, and otherwise for some letters', async () => {
    // the ring of an O between two circles: each bridge takes its width times the stroke's
    const { plain, cut } = await stencilled('O', 'archivo-bold', { bridges: 1, width: 2, angle: 0 })
    expect(counters(cut)).toBe(0)
    expect(cut.regions.length).toBe(1)
    const one = area(plain) - area(cut)
    const two = await stencilled('O', 'archivo-bold', { bridges: 2, width: 2, angle: 0 })
    expect(two.cut.regions.length).toBe(2)
    expect((area(two.plain) - area(two.cut)) / one).toBeCloseTo(2, 1)
    const apart = await stencilled('OO8', 'archivo-bold', { bridges: 2, width: 2, otherwise: '8', otherBridges: 1, otherAngle: 0 })
    expect(apart.cut.regions.filter(({ members }) => members[0].letter === 0).length).toBe(2)
    expect(apart.cut.regions.filter(({ members }) => members[0].letter === 2).length).toBe(1)
  })

  it('do nothing to letters without counters', async () => {
    const { plain, cut, step } = await stencilled('ITLK', 'archivo-bold')
    expect(cut.regions).toEqual(plain.regions)
    expect(step.told).toBe('no counters to hold')
  })
})
