import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { RouteStep } from '../document/schema'
import { GROUPS, type Solid } from '../solid/solid'
import { hashJson } from './hash'
import { Memo } from './memo'
import { evaluateRoute } from './route'

const dress: RouteStep = { id: 'dress-1', kind: 'dress', on: true, params: { face: { colour: '#112233', roughness: 0.5, metalness: 0.25 } } }

describe('evaluateRoute', () => {
  it('keeps every result and does again only what follows a change', async () => {
    const memo = new Memo()
    const route = [...wordRoute('Quay', 'archivo-bold'), dress]
    const first = await evaluateRoute(route, { assets, memo })
    expect(first.steps.map((s) => s.reused)).toEqual([false, false, false])
    const again = await evaluateRoute(route, { assets, memo })
    expect(again.steps.map((s) => s.reused)).toEqual([true, true, true])
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
    expect(solid.group.length).toBe(triangles)
    expect([...new Set(solid.group)].sort()).toEqual([0, 1, 2, 3])
    const used = new Set(solid.letter)
    for (let i = 0; i < 6; i++) expect(used.has(i), solid.letters[i]).toBe(true)
    // a letter's triangles lie where the letter lies
    const middle = (letter: number) => {
      const xs: number[] = []
      for (let t = 0; t < triangles; t++) if (solid.letter[t] === letter) xs.push(solid.positions[3 * solid.indices[3 * t]])
      return xs.reduce((a, b) => a + b, 0) / xs.length
    }
    for (let i = 1; i < 6; i++) expect(middle(i)).toBeGreaterThan(middle(i - 1))
    expect(checkMesh(solid).sound).toBe(true)
  })

  it('passes over steps that are off and stops where it is told to', async () => {
    const route = [...wordRoute('Q', 'archivo-bold'), { ...dress, on: false }]
    const report = await evaluateRoute(route, { assets })
    expect(report.steps.map((s) => s.state)).toEqual(['sound', 'sound', 'off'])
    expect((report.value as Solid).materials).toBeUndefined()
    const part = await evaluateRoute(route, { assets, until: 'lettering-1' })
    expect(part.value?.kind).toBe('outline')
    expect(part.steps[1].state).toBe('waiting')
  })

  it('dresses surface groups without touching the geometry', async () => {
    const report = await evaluateRoute([...wordRoute('Q', 'archivo-bold'), dress], { assets })
    const [plain, dressed] = [report.steps[1].value as Solid, report.value as Solid]
    expect(dressed.positions).toBe(plain.positions)
    expect(dressed.materials?.face).toEqual({ colour: '#112233', roughness: 0.5, metalness: 0.25 })
    expect(Object.keys(dressed.materials ?? {})).toEqual([...GROUPS])
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

describe('Memo', () => {
  it('drops what was used longest ago when it is full', () => {
    const memo = new Memo(10_000)
    for (const key of ['a', 'b', 'c']) memo.put(key, new Uint8Array(3000))
    memo.peek('a')
    memo.put('d', new Uint8Array(3000))
    expect([memo.peek('a'), memo.peek('b')].map((v) => v !== undefined)).toEqual([true, false])
  })

  it('keeps nothing when making fails', () => {
    const memo = new Memo()
    expect(() =>
      memo.get('x', () => {
        throw new Error('no')
      }),
    ).toThrow('no')
    expect(memo.size).toBe(0)
  })
})

describe('hashJson', () => {
  it('does not depend on the order of keys, but on everything else', () => {
    expect(hashJson({ a: 1, b: [2, { c: 3 }] })).toBe(hashJson({ b: [2, { c: 3 }], a: 1 }))
    expect(hashJson({ a: 1 })).not.toBe(hashJson({ a: '1' }))
    expect(hashJson([1, 2])).not.toBe(hashJson([2, 1]))
    // published vector: SHA-256 of the two bytes {}
    expect(hashJson({})).toBe('44136fa355b3678a1146ad16f7e8649e94fb4fc21fe77e8310c060f61caaff8a')
  })
})
