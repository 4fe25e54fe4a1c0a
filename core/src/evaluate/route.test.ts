import { describe, expect, it, vi } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { Piece, RouteStep } from '../document/schema'
import { FACE, GROUPS } from '../solid/labels'
import { labelAt, labelOf, lookOf, type Solid, triangleCount } from '../solid/solid'
import { Memo } from '../cache/memo'
import { STEPS } from '../steps/registry'
import type { StepOutcome, Value } from '../steps/step'
import type { ParamsAt } from '../document/moment'
import { evaluateRoute, resultKey, type RouteReport } from './route'

const dress: RouteStep = { id: 'dress-1', kind: 'dress', on: true, params: { face: { colour: '#112233', roughness: 0.5, metalness: 0.25 } } }

describe('evaluateRoute', () => {
  it('keeps every result and does again only what follows a change', async () => {
    const memo = new Memo()
    const route = [...wordRoute('Quay', 'archivo-bold'), dress]
    const first = await evaluateRoute(route, { assets, memo })
    expect(first.steps.map((s) => s.reused)).toEqual([false, false, false])
    const again = await evaluateRoute(route, { assets, memo })
    expect(again.steps.map((s) => s.reused)).toEqual([true, true, true])
    expect(again.ms).toBe(0)
    expect(again.value).toBe(first.value)
    const deeper = structuredClone(route)
    deeper[1].params.depth = 20
    const changed = await evaluateRoute(deeper, { assets, memo })
    expect(changed.steps.map((s) => s.reused)).toEqual([true, false, false])
    expect(changed.key).not.toBe(first.key)
  })

  it('makes one new glyph for one new letter, and none for a letter it knows', async () => {
    const memo = new Memo()
    const made: string[] = []
    const counting = new Proxy(memo, {
      get(target, name) {
        if (name === 'get')
          return <T>(key: string, make: () => T) =>
            target.get(key, () => {
              if (key.startsWith('extrude@')) made.push(key)
              return make()
            })
        const value = Reflect.get(target, name)
        return typeof value === 'function' ? value.bind(target) : value
      },
    })
    await evaluateRoute(wordRoute('LANTERN', 'archivo-bold'), { assets, memo: counting })
    expect(made.length).toBe(6) // L A N T E R, and N again
    made.length = 0
    await evaluateRoute(wordRoute('LANTERNS', 'archivo-bold'), { assets, memo: counting })
    expect(made.length).toBe(1)
    made.length = 0
    await evaluateRoute(wordRoute('LANTERNSE', 'archivo-bold'), { assets, memo: counting })
    expect(made.length).toBe(0)
  })

  it.each([
    ['an outset', { outset: 0.4 }, []],
    ['an offset', {}, [{ id: 'offset-1', kind: 'offset', on: true, params: { distance: 0.4 } }]],
  ])('does so with %s as well, also when all letters move as in words that are centred', async (_what, extrude, between) => {
    const memo = new Memo()
    const made: string[] = []
    const { get } = memo
    memo.get = (key, make) =>
      get.call(memo, key, () => {
        if (key.startsWith('extrude@')) made.push(key)
        return make()
      }) as ReturnType<typeof make>
    const routeOf = (text: string) => {
      const [words, form] = wordRoute(text, 'archivo-bold', { align: 'centre', tracking: 60 }, extrude)
      return [words, ...between, form]
    }
    await evaluateRoute(routeOf('LANTERN'), { assets, memo })
    expect(made.length).toBe(6)
    await evaluateRoute(routeOf('SLANTERN'), { assets, memo })
    expect(made.length).toBe(7)
  })

  it('gives the same solid with and without kept results', async () => {
    const memo = new Memo()
    for (const text of ['Tern', 'Tern Q', 'Tern Quay']) await evaluateRoute(wordRoute(text, 'abril-fatface'), { assets, memo })
    const kept = await evaluateRoute(wordRoute('Quay', 'abril-fatface'), { assets, memo })
    const fresh = await evaluateRoute(wordRoute('Quay', 'abril-fatface'), { assets })
    expect(kept.value).toEqual(fresh.value)
  })

  it('labels every triangle with its group and letter, united letters included', async () => {
    const solid = (await evaluateRoute(wordRoute('Lanter', 'pacifico'), { assets })).value as Solid
    const triangles = solid.indices.length / 3
    expect(solid.surface.length).toBe(triangles)
    expect([...new Set(labelOf(solid, 'group'))].sort()).toEqual([0, 1, 2, 3])
    const used = new Set(labelOf(solid, 'letter'))
    for (let i = 0; i < 6; i++) expect(used.has(i), solid.letters[i]).toBe(true)
    // a letter's triangles lie where the letter lies
    const middle = (letter: number) => {
      const xs: number[] = []
      for (let t = 0; t < triangles; t++) if (labelAt(solid, t, 'letter') === letter) xs.push(solid.positions[3 * solid.indices[3 * t]])
      return xs.reduce((a, b) => a + b, 0) / xs.length
    }
    for (let i = 1; i < 6; i++) expect(middle(i)).toBeGreaterThan(middle(i - 1))
    expect(checkMesh(solid).sound).toBe(true)
  })

  it('passes over steps that are off and stops where it is told to', async () => {
    const route = [...wordRoute('Q', 'archivo-bold'), { ...dress, on: false }]
    const report = await evaluateRoute(route, { assets })
    expect(report.steps.map((s) => s.state)).toEqual(['sound', 'sound', 'off'])
    expect((report.value as Solid).looks).toEqual([])
    const part = await evaluateRoute(route, { assets, until: 'lettering-1' })
    expect(part.value?.kind).toBe('outline')
    expect(part.steps[1].state).toBe('waiting')
  })

  it('dresses surface groups without touching the geometry', async () => {
    const report = await evaluateRoute([...wordRoute('Q', 'archivo-bold'), dress], { assets })
    const [plain, dressed] = [report.steps[1].value as Solid, report.value as Solid]
    expect(dressed.positions).toBe(plain.positions)
    const face = dressed.labels.group.indexOf(FACE)
    expect(lookOf(dressed, face)).toEqual({ name: GROUPS[FACE], material: { colour: '#112233', roughness: 0.5, metalness: 0.25 } })
    expect(dressed.labels.look.every((look) => look >= 0)).toBe(true)
  })

  it.each([
    ['a step this version does not know', [{ id: 'a', kind: 'levitate', on: true, params: {} }], 'unknown-step'],
    ['a form with nothing before it', [{ id: 'a', kind: 'extrude', on: true, params: {} }], 'nothing-before'],
    ['a form that gets the wrong thing', [...wordRoute('Q', 'archivo-bold'), { id: 'b', kind: 'extrude', on: true, params: {} }], 'wrong-input'],
  ])('says what is wrong with %s', async (_what, route, code) => {
    const report = await evaluateRoute(route, { assets })
    expect(report.complete).toBe(false)
    expect(report.steps.flatMap((s) => s.issues)).toMatchObject([{ code, severity: 'failed', remedy: expect.any(String) }])
  })

  it('tells how far it is, only rising, and ends at once when aborted', async () => {
    const seen: number[] = []
    const controller = new AbortController()
    const run = evaluateRoute(wordRoute('ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz', 'abril-fatface'), {
      assets,
      signal: controller.signal,
      onProgress: (step, done) => {
        if (step !== 'extrude-1') return
        seen.push(done)
        if (seen.length === 3) controller.abort(new Error('enough'))
      },
    })
    await expect(run).rejects.toThrow('enough')
    expect(seen.length).toBeLessThan(30)
    expect([...seen].sort((a, b) => a - b)).toEqual(seen)
  })

  it('never goes back where a step is worked out in two ways, the second of which says what it comes to', async () => {
    const seen: number[] = []
    let expected: string | undefined
    // a thin plate, pushed in by more than it is thick: its surface would run through itself
    const route = [
      { id: 'block-1', kind: 'block', on: true, params: { shape: 'box', width: 8, height: 8, depth: 5 } },
      { id: 'swell-1', kind: 'swell', on: true, params: { by: -3, fit: 'given', edge: 2 } },
    ]
    const { steps } = await evaluateRoute(route, {
      assets,
      onProgress: (step, done, _, words) => {
        if (step !== 'swell-1') return
        seen.push(done)
        expected ??= words
      },
    })
    expect(steps[1].issues.map(({ code }) => code)).toContain('through-volume')
    expect(expected).toMatch(/^about [\d,]+ triangles/)
    expect([...seen].sort((a, b) => a - b)).toEqual(seen)
    expect(seen.length).toBeGreaterThan(4)
  })

  it('turns what a step throws into a failure of that step, and keeps nothing of it', async () => {
    const memo = new Memo()
    const broken = {
      file: () => Promise.reject(new RangeError('none')),
      picture: () => Promise.reject(new RangeError('none')),
      font: () => Promise.reject(new RangeError('path coordinate is not a finite number: NaN')),
    }
    const report = await evaluateRoute(wordRoute('Q', 'archivo-bold'), { assets: broken, memo })
    expect(report.steps.map((s) => s.state)).toEqual(['failed', 'waiting'])
    expect(report.steps[0].issues[0]).toMatchObject({ code: 'internal', message: expect.stringContaining('not a finite number') })
    expect((await evaluateRoute(wordRoute('Q', 'archivo-bold'), { assets, memo })).complete).toBe(true)
  })

  it('reports edges too tall for the depth at the step, with the depth that would do', async () => {
    const report = await evaluateRoute(wordRoute('I', 'archivo-bold', {}, { depth: 2, front: { profile: 'chamfer', inset: 1, height: 5 } }), { assets })
    expect(report.steps[1]).toMatchObject({ state: 'warning', issues: [{ code: 'edge-taller-than-depth', remedy: expect.stringContaining('5 mm') }] })
    expect(checkMesh(report.value as Solid)).toMatchObject({ sound: true, size: [expect.any(Number), expect.any(Number), 2] })
  })
})

/** Counts what is made: the kinds of all steps that are evaluated while `work` runs. */
async function madeDuring(work: () => Promise<unknown>): Promise<string[]> {
  const made: string[] = []
  const spies = STEPS.map((kind) => {
    const { evaluate } = kind
    return vi.spyOn(kind, 'evaluate').mockImplementation((...of) => {
      made.push(kind.kind)
      return evaluate.apply(kind, of)
    })
  })
  try {
    await work()
  } finally {
    for (const spy of spies) spy.mockRestore()
  }
  return made
}

describe('pulling from the end', () => {
  it('takes what is kept without making, or even having, anything before it', async () => {
    const memo = new Memo()
    const route = [...wordRoute('Quay', 'archivo-bold'), dress]
    const first = await evaluateRoute(route, { assets, memo })
    // only the last result is left
    const rest = new Memo()
    for (const step of first.steps) rest.put(`facts:${step.key}`, memo.peek(`facts:${step.key}`))
    rest.put(`step:${first.key}`, memo.peek(`step:${first.key}`))
    let again: RouteReport | undefined
    expect(
      await madeDuring(async () => {
        again = await evaluateRoute(route, { assets, memo: rest })
      }),
    ).toEqual([])
    expect(again?.value).toBe(first.value)
    expect(again?.steps.map((s) => [s.state, s.triangles])).toEqual(first.steps.map((s) => [s.state, s.triangles]))
    expect(again?.steps.map((s) => s.value !== undefined)).toEqual([false, false, true])
  })

  it('makes nothing before the last of twelve steps on a million triangles, however often that is changed, and stays within its bound', async () => {
    const memo = new Memo()
    const dresses = Array.from(
      { length: 10 },
      (_, i): RouteStep => ({ id: `dress-${i}`, kind: 'dress', on: true, params: { face: { colour: '#101010', roughness: i / 10, metalness: 0 } } }),
    )
    // evenly divided for bending: no letter is without many triangles
    const [words, extrude] = wordRoute('The lanterns of Tern Quay', 'abril-fatface', {}, { division: 'triangles', divisionEdge: 0.3 })
    const route = [words, extrude, ...dresses]
    const first = await evaluateRoute(route, { assets, memo })
    expect(triangleCount(first.value as Solid)).toBeGreaterThan(1e6)
    const held = memo.bytes
    const made = await madeDuring(async () => {
      for (let n = 0; n < 100; n++) {
        const edited = structuredClone(route)
        edited[11].params.face = { colour: `#ff00${(100 + n).toString(16).padStart(2, '0')}`, roughness: 0, metalness: 0 }
        const { value } = await evaluateRoute(edited, { assets, memo })
        expect((value as Solid).positions.buffer).toBe((first.value as Solid).positions.buffer)
      }
    })
    expect(made).toEqual(new Array(100).fill('dress'))
    expect(memo.bytes).toBeLessThanOrEqual(memo.limit)
    // other looks of one solid share its buffers
    expect(memo.bytes - held).toBeLessThan(2_000_000)
  })

  it('says what it said before of steps whose results are not kept any more, and has the notes made of them', async () => {
    const memo = new Memo()
    const note = (value: Value) => ({ said: value.kind })
    const route = wordRoute('I', 'archivo-bold', {}, { depth: 2, front: { profile: 'chamfer', inset: 1, height: 5 } })
    const first = await evaluateRoute(route, { assets, memo, note })
    const again = await evaluateRoute(route, { assets, memo, note })
    expect(again.steps.map(({ issues, told, note: n }) => [issues, told, n])).toEqual(first.steps.map(({ issues, told, note: n }) => [issues, told, n]))
    expect(again.steps.map((s) => s.note)).toEqual([{ said: 'outline' }, { said: 'solid' }])
  })

  it('keeps failures as it keeps results, but not those that may pass', async () => {
    const memo = new Memo()
    const failing = wordRoute('', 'archivo-bold')
    expect((await evaluateRoute(failing, { assets, memo })).steps[0].issues[0].code).toBe('empty-text')
    expect(await madeDuring(() => evaluateRoute(failing, { assets, memo }))).toEqual([])
    const lacking = wordRoute('Q', 'archivo-bold', { font: { sha256: '0'.repeat(64), name: 'Gone' } })
    expect((await evaluateRoute(lacking, { assets, memo })).steps[0].issues[0].code).toBe('font-missing')
    expect(await madeDuring(() => evaluateRoute(lacking, { assets, memo }))).toEqual(['lettering'])
  })

  it('makes a thing once for all who ask for it at the same time, and goes on while one of them waits', async () => {
    const memo = new Memo()
    const route = wordRoute('ABCDEFGHIJ', 'abril-fatface')
    const leaving = new AbortController()
    const made = await madeDuring(async () => {
      const asked = [1, 2, 3].map(() => evaluateRoute(route, { assets, memo }))
      const gone = evaluateRoute(route, { assets, memo, signal: leaving.signal, onProgress: () => leaving.abort(new Error('seen enough')) })
      await expect(gone).rejects.toThrow('seen enough')
      const reports = await Promise.all(asked)
      for (const report of reports) expect(report.value).toBe(reports[0].value)
    })
    expect(made.sort()).toEqual(['extrude', 'lettering'])
  })

  it('hands results to others and keeps what it gets back, so that they need not make them', async () => {
    const others = new Memo()
    const share = (key: string, outcome: StepOutcome): StepOutcome => {
      const handed = structuredClone(outcome)
      others.put(resultKey(key), handed)
      return handed
    }
    const route = [...wordRoute('Quay', 'archivo-bold'), dress]
    const first = await evaluateRoute(route, { assets, share })
    let other: RouteReport | undefined
    expect(
      await madeDuring(async () => {
        other = await evaluateRoute(route, { assets, memo: others })
      }),
    ).toEqual([])
    expect(other?.value).toBe(first.value)
    expect(other?.steps.map((s) => [s.state, s.triangles])).toEqual(first.steps.map((s) => [s.state, s.triangles]))
  })

  it('says when a kernel broke down, so that whoever runs it begins afresh', async () => {
    const broken = { ...assets, font: () => Promise.reject(Object.assign(new Error('memory access out of bounds'), { name: 'RuntimeError' })) }
    expect(await evaluateRoute(wordRoute('Q', 'archivo-bold'), { assets: broken })).toMatchObject({ complete: false, kernelLost: true })
    expect((await evaluateRoute(wordRoute('Q', 'archivo-bold'), { assets })).kernelLost).toBeUndefined()
  })
})

describe('pieces made with other pieces', () => {
  const words = { id: 'words', name: 'Words', route: wordRoute('ABCDEFGHIJKLMNOPQRSTUVWXYZ', 'abril-fatface') }
  const plate: Piece = {
    id: 'plate',
    name: 'Plate',
    route: [{ id: 'plate-1', kind: 'plate', on: true, params: { shape: 'hugging', other: { piece: 'words' } } }],
  }
  const pieces = [words, plate]

  it('tells the progress of the other piece at the step that waits for it, by its name, and stops with it', async () => {
    const seen: [string, string | undefined][] = []
    const controller = new AbortController()
    const many = { ...words, route: [...words.route.slice(0, 1), { id: 'slice-1', kind: 'slice', on: true, params: { cut: 'wave', count: 12 } }] }
    const run = evaluateRoute(plate.route, {
      assets,
      pieces: [many, plate],
      piece: 'plate',
      signal: controller.signal,
      onProgress: (step, _, of) => {
        seen.push([step, of])
        if (seen.length === 3) controller.abort(new Error('stopped'))
      },
    })
    await expect(run).rejects.toThrow('stopped')
    expect(seen).toContainEqual(['plate-1', 'Words'])
  })

  it('makes only as much of the other piece as is asked for', async () => {
    const made = await madeDuring(() => evaluateRoute(plate.route, { assets, pieces, piece: 'plate' }))
    expect(made).toEqual(['lettering', 'plate'])
  })

  it('says at the step which piece cannot be made, and why', async () => {
    const broken = { ...words, route: wordRoute('', 'archivo-bold') }
    const report = await evaluateRoute(plate.route, { assets, pieces: [broken, plate], piece: 'plate' })
    expect(report.steps[0]).toMatchObject({ state: 'failed', issues: [{ code: 'piece-failed', field: 'other', message: expect.stringContaining('“Words”') }] })
  })
})

describe('time', () => {
  const paramsAt: ParamsAt = ({ kind, params, on }, { frame }) =>
    kind === 'extrude' ? { params: { ...params, depth: 5 + frame }, on, moving: true } : { params, on, moving: false }

  it('gives steps their values for the frame, makes only what moves anew, and keeps frames apart under a bound of their own', async () => {
    const [memo, frames] = [new Memo(), new Memo(12_000)]
    const route = wordRoute('I', 'archivo-bold')
    const at = (frame: number) => evaluateRoute(route, { assets, memo, frames, paramsAt, moment: { frame, seconds: frame / 24 } })
    const depth = (report: RouteReport) => checkMesh(report.value as Solid).size[2]
    expect(depth(await at(0))).toBe(5)
    const made = await madeDuring(async () => {
      for (let frame = 1; frame <= 6; frame++) expect(depth(await at(frame))).toBe(5 + frame)
    })
    expect(made).toEqual(new Array(6).fill('extrude'))
    expect(await madeDuring(() => at(6))).toEqual([])
    expect(frames.bytes).toBeLessThanOrEqual(12_000)
    // frame 0 was driven out by the others, what stands still was not
    expect(await madeDuring(() => at(0))).toEqual(['extrude'])
  })
})
