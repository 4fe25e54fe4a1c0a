import { describe, expect, it } from 'vitest'
import { assets } from '../../test/helpers'
import { momentOf } from '../document/moment'
import { projectDocument, type RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { newProject, newStep } from './new-project'
import { checkAssembly } from '../repeat/check'
import type { Assembly } from '../solid/assembly'
import { type Solid, solidBounds } from '../solid/solid'
import { checkMesh } from '../check/check'
import { cameraAt, type CameraStand, fieldOfView, lensOf } from '../document/camera'
import { track } from '../motion/track'
import { CAMERA_MOVES, cameraMove, READY_MOVEMENTS } from './movements'

const PLAIN = newProject('Ready').pieces[0].route.map((step) => (step.kind === 'lettering' ? { ...step, params: { ...step.params, text: 'Tea' } } : step))
const BRUSHED: RouteStep[] = [PLAIN[0], newStep('brush-1', 'brush'), newStep('dress-1', 'dress')]
const COUNTED = PLAIN.map((step) => (step.kind === 'lettering' ? { ...step, params: { ...step.params, text: 'Pier 28' } } : step))
const routeFor = (id: string) => (id === 'write-on' ? BRUSHED : id === 'count-up' ? COUNTED : PLAIN)
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
    for (const { id, onto } of READY_MOVEMENTS.filter((movement) => !['rise', 'sway', 'fall'].includes(movement.id))) {
      const route = onto({ route: routeFor(id), size: SIZE, at: 0, frames: 24 }) as RouteStep[]
      const [still, arrived] = [facts((await at(routeFor(id), 0)).value), facts((await at(route, 24)).value)]
      expect(
        arrived.size.map((v) => v.toFixed(6)),
        id,
      ).toEqual(still.size.map((v) => v.toFixed(6)))
      // what was broken is on the lattice again
      expect(Math.abs(arrived.volume / still.volume - 1)).toBeLessThan(1e-6)
    }
  }, 120_000)

  it('say what they want where it is not there, and can be put on one after another', () => {
    for (const { id, onto, needs } of READY_MOVEMENTS) {
      const bare = onto({ route: PLAIN.slice(0, 2), size: SIZE, at: 0, frames: 24 })
      if (needs && id !== 'write-on') expect(bare).toBeUndefined()
      else {
        const twice = onto({ route: bare as RouteStep[], size: SIZE, at: 24, frames: 24 }) as RouteStep[]
        expect(new Set(twice.map(({ id }) => id)).size).toBe(twice.length)
      }
    }
  })

  it('Written on goes between the words and their form, whatever that is, and sets aside nothing', async () => {
    const onto = READY_MOVEMENTS.find(({ id }) => id === 'write-on')?.onto
    for (const form of ['extrude', 'inflate', 'fill-inside']) {
      const still = [PLAIN[0], newStep('offset-1', 'offset', { distance: 0.4 }), newStep('form-1', form)]
      const route = onto?.({ route: still, size: SIZE, at: 0, frames: 24 }) as RouteStep[]
      expect(route.map(({ kind }) => kind)).toEqual(['lettering', 'offset', 'write-on', form])
      const shown = [await at(route, 0), await at(route, 9), await at(route, 24), await at(still, 0)].map(({ value }) => facts(value))
      expect(shown.map(({ sound, triangles }) => sound || triangles === 0)).toEqual([true, true, true, true])
      expect(shown[0].triangles).toBe(0)
      expect(shown[1].volume).toBeLessThan(0.8 * shown[3].volume)
      expect(shown[2].volume).toBeCloseTo(shown[3].volume, 6)
    }
    // a model has nothing that could be written
    expect(onto?.({ route: [newStep('block-1', 'block')], size: SIZE, at: 0, frames: 24 })).toBeUndefined()
  }, 60_000)

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

describe('the camera', () => {
  const stand = { at: [40, 60, 300], aim: [10, 20, 0], lens: 52 } as const
  const far = (a: readonly number[], b: readonly number[]) => Math.hypot(...a.map((v, k) => v - b[k]))

  it.each(CAMERA_MOVES)('%s keeps looking at things, at every frame between', (move) => {
    const camera = cameraMove(move, stand, 10, 60)
    expect(projectDocument.safeParse({ ...newProject('Seen'), camera }).error?.issues ?? []).toEqual([])
    const before = far(stand.at, stand.aim)
    for (let frame = 0; frame <= 90; frame++) {
      const now = cameraAt({ camera }, frame)
      if (!now) throw new Error(`nothing at ${frame}`)
      expect(now.lens).toBe(52)
      const reach = far(now.at, now.aim)
      if (move === 'push') expect(reach).toBeLessThanOrEqual(before + 1e-3)
      // keys along the arc keep it one within a hundredth between them
      else expect(Math.abs(reach / before - 1)).toBeLessThan(0.01)
      if (move !== 'slide') expect(far(now.aim, stand.aim)).toBeLessThan(1e-3)
      expect(now.at[1] - now.aim[1]).toBeCloseTo(move === 'push' ? (40 * reach) / before : 40, 1)
    }
    expect(far((cameraAt({ camera }, 10) as CameraStand).at, (cameraAt({ camera }, 70) as CameraStand).at)).toBeGreaterThan(50)
  })

  it('has a lens that its field of view comes back from, and is none where it could not look', () => {
    for (const lens of [8, 35, 52, 200]) expect(lensOf(fieldOfView(lens))).toBeCloseTo(lens, 9)
    expect(fieldOfView(12)).toBeCloseTo(90, 9)
    const fixed = (value: number | number[]) => track.parse({ keys: [{ at: 0, value }] })
    expect(cameraAt({}, 0)).toBeUndefined()
    expect(cameraAt({ camera: { at: fixed([1, 2, 3]), aim: fixed([1, 2, 3]), lens: fixed(50) } }, 0)).toBeUndefined()
    expect(cameraAt({ camera: { at: fixed([1, 2]), aim: fixed([1, 2, 3]), lens: fixed(50) } }, 0)).toBeUndefined()
    expect(cameraAt({ camera: { at: fixed([1, 2, 9]), aim: fixed([1, 2, 3]), lens: fixed(0) } }, 0)?.lens).toBe(8)
  })
})
