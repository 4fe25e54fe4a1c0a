import { describe, expect, it } from 'vitest'
import { assets } from '../../test/helpers'
import { momentOf } from '../document/moment'
import { projectDocument, type RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { newProject, newStep } from '../project/new-project'
import { checkAssembly } from '../repeat/check'
import type { Assembly } from '../solid/assembly'
import { type Solid, solidBounds } from '../solid/solid'
import { checkMesh } from '../check/check'
import { READY_MOVEMENTS } from './ready'

const PLAIN = newProject('Ready').pieces[0].route.map((step) => (step.kind === 'lettering' ? { ...step, params: { ...step.params, text: 'Tea' } } : step))
const BRUSHED: RouteStep[] = [PLAIN[0], newStep('brush-1', 'brush'), newStep('dress-1', 'dress')]
const routeFor = (id: string) => (id === 'write-on' ? BRUSHED : PLAIN)
const SIZE = [60, 30, 12] as const

const at = async (route: RouteStep[], frame: number) => {
  const report = await evaluateRoute(route, { assets, moment: momentOf(frame, 24) })
  const said = report.steps.flatMap(({ issues }) => issues).find(({ severity }) => severity === 'failed')
  if (said || !report.value || report.value.kind === 'outline') throw new Error(`frame ${frame}: ${said?.message}`)
  return { value: report.value, key: report.key }
}
const facts = (value: Solid | Assembly) => (value.kind === 'solid' ? checkMesh(value) : checkAssembly(value))

describe('ready movements', () => {
  it.each(READY_MOVEMENTS)(
    '$title moves, is sound at every frame, and is kept as any other',
    async ({ id, onto }) => {
      for (const frames of [4, 36]) {
        const route = onto({ route: routeFor(id), size: SIZE, at: 5, frames })
        if (!route) throw new Error('nothing to move')
        const document = { ...newProject('Ready'), pieces: [{ id: 'word', name: 'Word', route }] }
        expect(projectDocument.safeParse(document).error?.issues ?? []).toEqual([])
        const keys = new Set<string | undefined>()
        for (const share of frames === 4 ? [0, 1] : [0, 0.2, 0.4, 0.65, 1]) {
          const { value, key } = await at(route, 5 + Math.round(share * frames))
          keys.add(key)
          // of what is written nothing is there at first
          expect(facts(value).sound || (id === 'write-on' && facts(value).triangles === 0)).toBe(true)
        }
        if (frames === 36) expect(keys.size).toBeGreaterThan(id === 'strike-up' ? 2 : 3)
      }
    },
    120_000,
  )

  it('end where the piece stands, but those that go on', async () => {
    for (const { id, onto } of READY_MOVEMENTS.filter((movement) => !['rise', 'sway'].includes(movement.id))) {
      const route = onto({ route: routeFor(id), size: SIZE, at: 0, frames: 24 }) as RouteStep[]
      const [still, arrived] = [facts((await at(routeFor(id), 0)).value), facts((await at(route, 24)).value)]
      expect(
        arrived.size.map((v) => v.toFixed(6)),
        id,
      ).toEqual(still.size.map((v) => v.toFixed(6)))
      expect(arrived.volume).toBeCloseTo(still.volume, 4)
    }
  }, 120_000)

  it('say what they want where it is not there, and can be put on one after another', () => {
    for (const { onto, needs } of READY_MOVEMENTS) {
      const bare = onto({ route: PLAIN.slice(0, 2), size: SIZE, at: 0, frames: 24 })
      if (needs) expect(bare).toBeUndefined()
      else {
        const twice = onto({ route: bare as RouteStep[], size: SIZE, at: 24, frames: 24 }) as RouteStep[]
        expect(new Set(twice.map(({ id }) => id)).size).toBe(twice.length)
      }
    }
  })

  it('Written on paints as much of all strokes as it says', async () => {
    const area = async (drawn: number) => {
      const { value } = await evaluateRoute([PLAIN[0], newStep('brush-1', 'brush', { drawn, pointed: 0, uneven: 0 })], { assets })
      return value as Solid
    }
    const whole = await area(100)
    let before = 0
    for (const drawn of [0, 10, 35, 60, 85, 100]) {
      const { volume } = checkMesh(await area(drawn))
      expect(volume).toBeGreaterThanOrEqual(before - 1e-9)
      before = volume
    }
    expect(before).toBeCloseTo(checkMesh(whole).volume, 9)
    expect(checkMesh(await area(50)).volume / before).toBeGreaterThan(0.3)
    expect(checkMesh(await area(50)).volume / before).toBeLessThan(0.7)
    // the first letter comes first
    expect(solidBounds((await area(20)).positions)[3]).toBeLessThan((solidBounds(whole.positions)[0] + solidBounds(whole.positions)[3]) / 2)
    expect((await area(0)).indices).toHaveLength(0)
  })
})
