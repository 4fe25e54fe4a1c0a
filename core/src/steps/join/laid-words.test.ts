import { describe, expect, it } from 'vitest'
import { ballBody, bottleBody, bumps, turnedBody } from '../../../test/bodies'
import { assets, boxSolid, FULL, wordRoute } from '../../../test/helpers'
import { within } from '../../../test/within'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { Memo } from '../../cache/memo'
import { checkMesh } from '../../check/check'
import type { Piece } from '../../document/schema'
import { evaluateRoute } from '../../evaluate/route'
import { joinSolid } from '../../join/join'
import { UNMOVED } from '../../solid/operations'
import type { Solid } from '../../solid/solid'
import type { StepContext } from '../step'
import { insert } from '../form/insert'
import { carveLettering } from './carve-lettering'
import { inlay } from './inlay'
import { raiseLettering } from './raise-lettering'

const FACES = SHIPPED_FACES.filter((_, i) => (FULL ? i % 2 === 0 : i % 11 === 3)).slice(0, 12)

const WORD = FULL ? 'Fäh8&' : 'F8'

/** Bodies of about 100,000 triangles in full, of 20,000 in the sample; where words are laid on them, and how. */
const fine = FULL ? 1 : 0.45
const bodies: Record<string, { body: Solid; spot: [number, number, number]; lays: readonly string[] }> = {
  slab: { body: boxSolid([-60, -40, -12], [60, 40, 0]), spot: [0, 0, 60], lays: ['straight', 'any'] },
  ball: { body: ballBody(45, Math.round(130 * fine)), spot: [10, 12, 60], lays: ['round', 'any', 'straight'] },
  bottle: { body: bottleBody(Math.round(300 * fine), Math.round(160 * fine)), spot: [5, 38, 40], lays: ['round', 'any'] },
  cone: { body: turnedBody(90, (y) => 45 - 0.3 * y, Math.round(330 * fine), Math.round(150 * fine)), spot: [0, 40, 60], lays: ['round', 'any'] },
  stone: { body: ballBody(45, Math.round(130 * fine), bumps(3)), spot: [4, 8, 60], lays: ['any'] },
}

const memo = new Memo()
async function outline(text: string, face: string, size = 8) {
  const [first] = wordRoute(text, face, { size })
  const made = await evaluateRoute([first], { assets, memo })
  if (made.value?.kind !== 'outline') throw new Error('no outline')
  return made.value
}
const context = (words: Awaited<ReturnType<typeof outline>>, more: Partial<StepContext> = {}): StepContext => ({
  assets,
  inputs: { words: [words] },
  placed: {},
  memo,
  progress: () => {},
  breathe: async () => {},
  ...more,
})

describe('words laid on bodies', () => {
  const combinations = FACES.flatMap((face, i) =>
    Object.entries(bodies).flatMap(([name, { lays }], j) => (FULL ? lays : [lays[(i + j) % lays.length]]).map((lay) => [face.id, name, lay] as const)),
  )
  it.each(combinations)(
    '%s on the %s, %s: carved and raised soundly',
    async (face, name, lay) => {
      const { body, spot } = bodies[name]
      const words = await outline(WORD, face)
      const cuts = [
        [carveLettering, { cut: 'v', tool: 90 }],
        [carveLettering, { cut: 'flat', depth: 1.2, draft: 8 }],
        [raiseLettering, { height: 1.5, front: { profile: 'chamfer', inset: 0.15, height: 0.3 } }],
      ] as const
      for (const [kind, values] of FULL ? cuts : [cuts[(face.length + name.length) % 2], cuts[2]]) {
        const params = kind.params.parse({ words: { piece: 'w' }, lay, point: spot, angle: 12, ...values } as never)
        const outcome = await kind.evaluate(body, params as never, context(words))
        if (!outcome.ok) throw new Error(`${kind.kind}: ${outcome.issue.message}`)
        if (outcome.value.kind !== 'solid') throw new Error('no solid')
        const report = checkMesh(outcome.value)
        expect(report.findings).toEqual([])
        const before = checkMesh(body, { deep: false }).volume
        if (kind === raiseLettering) expect(report.volume).toBeGreaterThan(before + 20)
        // a ball falls away by 1.7 mm under half of the words: a groove that lies flat under their highest place, and is as deep as thin strokes are, hardly meets it
        else expect(report.volume).toBeLessThan(before - (lay === 'straight' && name === 'ball' ? 0.1 : 2 * WORD.length))
        expect(outcome.issues.filter(({ code }) => code !== 'stretched')).toEqual([])
      }
    },
    120_000,
  )

  it('show where they lie and what they are wrapped round, and follow the words', async () => {
    const { body } = bodies.bottle
    const params = raiseLettering.params.parse({ words: { piece: 'w' }, lay: 'round', point: [0, 30, 40] })
    const volumes: number[] = []
    for (const text of ['Tern', 'Tern Quay']) {
      const outcome = await raiseLettering.evaluate(body, params, context(await outline(text, 'archivo-bold')))
      if (!outcome.ok || outcome.value.kind !== 'solid') throw new Error('not made')
      expect(outcome.told).toContain('round a cylinder, radius 30 mm')
      expect(outcome.marks?.frame?.point[1]).toBeCloseTo(30, 3)
      const { from, to } = outcome.marks?.axis ?? { from: [1, 1, 1], to: [1, 1, 1] }
      for (const end of [from, to]) expect(Math.hypot(end[0], end[2])).toBeLessThan(0.05)
      expect(outcome.value.letters.join('')).toBe(text)
      volumes.push(checkMesh(outcome.value, { deep: false }).volume)
    }
    expect(volumes[1]).toBeGreaterThan(volumes[0] + 50)
  })

  it('keep their depth when they are sized, and say with a remedy when they find no surface', async () => {
    const body = bodies.bottle.body
    const words = await outline('Quay', 'archivo-bold', 12)
    const at = async (params: Record<string, unknown>) =>
      raiseLettering.evaluate(body, raiseLettering.params.parse({ words: { piece: 'w' }, lay: 'round', point: [0, 35, 40], ...params }), context(words))
    const highest = async (size: number) => {
      const outcome = await at({ size, front: { profile: 'square' } })
      if (!outcome.ok || outcome.value.kind !== 'solid') throw new Error('not made')
      let most = 0
      for (let i = 0; i < outcome.value.positions.length; i += 3) most = Math.max(most, Math.hypot(outcome.value.positions[i], outcome.value.positions[i + 2]))
      return most
    }
    expect(await highest(100)).toBeCloseTo(33, 1)
    expect(await highest(50)).toBeCloseTo(33, 1)
    const off = await at({ point: [0, 68, 40] })
    expect(off).toMatchObject({
      ok: false,
      issue: { code: 'runs-off', field: 'point', message: expect.stringContaining('“Q”') },
      marks: { frame: expect.anything() },
    })
    if (!off.ok) {
      expect(off.issue.fixes?.map(({ label }) => label)).toEqual(['Size to 80 %', 'Over the surface'])
      expect((await at({ point: [0, 68, 40], ...off.issue.fixes?.[1].params })).ok).toBe(true)
    }
  })

  it('are refused at once where they find no surface beneath them or lie in each other, bent or each as it is', async () => {
    const words = await outline('WELLE', 'alfa-slab', 30)
    const { body } = bodies.bottle
    for (const letters of ['bent', 'whole']) {
      const params = raiseLettering.params.parse({ words: { piece: 'w' }, lay: 'any', letters, point: [-10, 19, 31], angle: 163, smooth: 2 })
      const outcome = await within(5000, () => raiseLettering.evaluate(body, params, context(words)))
      expect(outcome.ok ? 'made' : outcome.issue.code).toMatch(/runs-off|folds/)
    }
  })

  it('are carved as a round groove, and raised with a fillet at their foot', async () => {
    const words = await outline('Quay', 'abril-fatface', 14)
    const { body, spot } = bodies.slab
    const volume = async (kind: typeof raiseLettering | typeof carveLettering, params: Record<string, unknown>) => {
      const outcome = await kind.evaluate(
        body,
        kind.params.parse({ words: { piece: 'w' }, lay: 'any', point: spot, ...params } as never) as never,
        context(words),
      )
      if (!outcome.ok) throw new Error(outcome.issue.message)
      if (outcome.value.kind !== 'solid') throw new Error('no solid')
      const report = checkMesh(outcome.value)
      expect(report.findings).toEqual([])
      return report.volume
    }
    const whole = checkMesh(body, { deep: false }).volume
    const flat = whole - (await volume(carveLettering, { cut: 'flat', depth: 1.5 }))
    const round = whole - (await volume(carveLettering, { cut: 'round', depth: 1.5 }))
    expect(round).toBeGreaterThan(0.3 * flat)
    expect(round).toBeLessThan(flat)
    const plain = await volume(raiseLettering, { height: 2 })
    const filleted = await volume(raiseLettering, { height: 2, fillet: 0.6 })
    expect(filleted).toBeGreaterThan(plain + 5)
  })
})

describe('an inlay that is laid on a surface', () => {
  const combinations = Object.entries(bodies).flatMap(([name, { lays }], i) =>
    (FULL ? FACES : FACES.slice(i % FACES.length, (i % FACES.length) + 1)).flatMap((face) => lays.map((lay) => [face.id, name, lay] as const)),
  )
  it.each(combinations)(
    '%s on the %s, %s: pocket and insert are sound, and fit into each other',
    async (face, name, lay) => {
      const { body, spot } = bodies[name]
      const words = await outline(WORD, face)
      const clearance = 0.1
      const params = inlay.params.parse({ words: { piece: 'w' }, lay, point: spot, angle: -8, depth: 1.5, clearance, beneath: 0.15, lead: 0.2 } as never)
      const pocket = await inlay.evaluate(body, params as never, context(words))
      if (!pocket.ok) throw new Error(JSON.stringify(pocket.issue))
      const fits = await insert.evaluate(
        words,
        insert.params.parse({ pocket: { piece: 'b' } }),
        context(words, { inputs: { body: [body], words: [words] }, settings: { pocket: { params, size: 1 } } }),
      )
      if (!fits.ok) throw new Error(JSON.stringify(fits.issue))
      const [cut, put] = [pocket.value as Solid, fits.value as Solid]
      for (const solid of [cut, put]) expect(checkMesh(solid).findings).toEqual([])
      // nothing of it reaches into the body that the pocket was cut into, and all of it lay in that before
      expect(joinSolid(cut, [{ solid: put, matrix: UNMOVED }], 'overlap')).toMatchObject({ ok: false, why: 'empty' })
      const within = joinSolid(body, [{ solid: put, matrix: UNMOVED }], 'overlap')
      const volume = checkMesh(put, { deep: false }).volume
      // flat on a round body it begins at the highest place, in the air
      if (lay !== 'straight') expect(within.ok && within.after / volume).toBeGreaterThan(0.98)
      const gone = checkMesh(body, { deep: false }).volume - checkMesh(cut, { deep: false }).volume
      expect(volume).toBeLessThan(gone + (lay === 'straight' ? volume : 0))
      if (lay !== 'straight') expect(volume / gone).toBeGreaterThan(0.5)
      // a part of it, for a colour of its own, lies where it lies in the whole
      if (name !== 'bottle') return
      const part = { ...words, regions: words.regions.slice(0, 2) }
      const one = await insert.evaluate(
        part,
        insert.params.parse({ pocket: { piece: 'b' } }),
        context(words, { inputs: { body: [body], words: [words] }, settings: { pocket: { params, size: 1 } } }),
      )
      if (!one.ok) throw new Error(JSON.stringify(one.issue))
      const common = joinSolid(put, [{ solid: one.value as Solid, matrix: UNMOVED }], 'overlap')
      expect(common.ok && common.after / checkMesh(one.value as Solid, { deep: false }).volume).toBeGreaterThan(0.998)
    },
    120_000,
  )
})

describe('Inlay and Insert', () => {
  const words: Piece = {
    id: 'w',
    name: 'Words',
    route: [wordRoute('Ö7', 'archivo-bold', { size: 20 })[0], { id: 'i', kind: 'insert', on: true, params: { pocket: { piece: 'b' } } }],
  }
  const body = (params: Record<string, unknown> = {}): Piece => ({
    id: 'b',
    name: 'Board',
    route: [
      { id: 'block', kind: 'block', on: true, params: { shape: 'box', width: 80, height: 40, depth: 12 } },
      { id: 'inlay', kind: 'inlay', on: true, params: { words: { piece: 'w' }, ...params } },
    ],
  })
  const made = async (pieces: readonly Piece[], id: string) => {
    const piece = pieces.find((p) => p.id === id) as Piece
    const report = await evaluateRoute(piece.route, { assets, memo: new Memo(), pieces, piece: id, place: piece.place })
    return { report, last: report.steps[report.steps.length - 1], solid: report.value?.kind === 'solid' ? report.value : undefined }
  }
  const height = (solid: Solid) => {
    const z = solid.positions.filter((_, i) => i % 3 === 2)
    return Math.max(...z) - Math.min(...z)
  }

  it('fit into each other with the clearance that is asked for, and follow each other', async () => {
    for (const [clearance, proud, depth] of [
      [0.15, 0, 3],
      [0.4, 1.5, 5],
      [0, -0.5, 2],
    ]) {
      const pieces = [
        body({ clearance, proud, depth, beneath: 0.2, lead: 0.3 }),
        { ...words, place: { position: [0, 10, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number], size: 1 } },
      ]
      const pocket = await made(pieces, 'b')
      const fits = await made(pieces, 'w')
      if (!pocket.solid || !fits.solid) throw new Error(JSON.stringify([pocket.last.issues, fits.last.issues]))
      expect(checkMesh(pocket.solid).findings).toEqual([])
      expect(checkMesh(fits.solid).findings).toEqual([])
      expect(height(fits.solid)).toBeCloseTo(depth + proud, 3)
      // the insert at its place in the pocket has nothing in common with the body

      const low = Math.min(...fits.solid.positions.filter((_, i) => i % 3 === 2))
      const placed = [1, 0, 0, 0, 0, 1, 0, 10, 0, 0, 1, 6 - depth - low] as const
      const common = joinSolid(pocket.solid, [{ solid: fits.solid, matrix: placed }], 'overlap')
      if (clearance > 0) expect(common).toMatchObject({ ok: false, why: 'empty' })
      // and where the body had not been cut it would lie in it whole, but for what stands out
      const plain = (await made([{ ...body(), route: body().route.slice(0, 1) }], 'b')).solid as Solid
      const whole = joinSolid(plain, [{ solid: fits.solid, matrix: placed }], 'overlap')
      expect(whole.ok && whole.after).toBeGreaterThan(0.3 * checkMesh(fits.solid).volume)
    }
  })

  it('lie on a round body together, wherever that stands and however large, and follow it', async () => {
    const round: Piece = {
      id: 'b',
      name: 'Post',
      place: { position: [30, 0, -20], turn: [0, 25, 0], size: 2 },
      route: [
        { id: 'block', kind: 'block', on: true, params: { shape: 'cylinder', width: 50, height: 60 } },
        { id: 'inlay', kind: 'inlay', on: true, params: { words: { piece: 'w' }, lay: 'round', point: [0, 30, 25], depth: 2, size: 90, clearance: 0.2 } },
      ],
    }
    const far = { ...words, place: { position: [0, 200, 0] as [number, number, number], turn: [0, 0, 0] as [number, number, number], size: 3 } }
    const pocket = await made([round, far], 'b')
    // after words of its own piece, and after words from another one, which stand there at another size
    const beside: Piece = {
      id: 'n',
      name: 'Insert',
      place: round.place,
      route: [{ id: 'o', kind: 'piece-outline', on: true, params: { of: { piece: 'w' } } }, words.route[1]],
    }
    const inserts = [await made([round, { ...far, place: round.place }], 'w'), await made([round, far, beside], 'n')]
    for (const { solid, last } of inserts) {
      if (!solid || !pocket.solid) throw new Error(JSON.stringify([pocket.last.issues, last.issues]))
      expect(checkMesh(solid).findings).toEqual([])
      expect(checkMesh(solid).volume / checkMesh(inserts[0].solid as Solid).volume).toBeCloseTo(1, 4)
      expect(joinSolid(pocket.solid, [{ solid, matrix: UNMOVED }], 'overlap')).toMatchObject({ ok: false, why: 'empty' })
    }
    // the same surface is made as before the step, and a late change of the words or of the body is followed
    const wider = { ...round, route: [{ ...round.route[0], params: { shape: 'cylinder', width: 56, height: 60 } }, round.route[1]] }
    const follows = await made([wider, far, beside], 'n')
    const radius = (solid: Solid | undefined) =>
      Math.max(
        ...Array.from({ length: (solid?.positions.length ?? 0) / 3 }, (_, i) => Math.hypot(solid?.positions[3 * i] ?? 0, solid?.positions[3 * i + 2] ?? 0)),
      )
    expect(radius(inserts[1].solid)).toBeCloseTo(25, 1)
    expect(radius(follows.solid)).toBeCloseTo(28, 1)
    const bare = { ...round, route: round.route.slice(1) }
    expect((await made([bare, far, beside], 'n')).last.issues[0].severity).toBe('failed')
  })

  it('say what is missing', async () => {
    expect((await made([words], 'w')).last.issues).toMatchObject([{ code: 'piece-gone', field: 'pocket' }])
    expect((await made([{ ...body(), route: body().route.slice(0, 1) }, words], 'w')).last.issues).toMatchObject([
      { code: 'piece-unfit', message: expect.stringContaining('Inlay') },
    ])
    const none = { ...words, route: [words.route[0], { ...words.route[1], params: {} }] }
    expect((await made([none], 'w')).last.issues).toMatchObject([{ code: 'no-pocket', field: 'pocket' }])
    expect((await made([body({ depth: 1, proud: -2 }), words], 'w')).last.issues).toMatchObject([{ code: 'no-height' }])
  })
})
