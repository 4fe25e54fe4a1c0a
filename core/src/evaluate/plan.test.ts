import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { shippedFace, wordRoute } from '../../test/helpers'
import { paramsAtMoment, START } from '../document/moment'
import type { Piece, RouteStep } from '../document/schema'
import { type Planned, planRoute } from './plan'

const step = (id: string, kind: string, params: object = {}, on = true): RouteStep => ({ id, kind, on, params: params as RouteStep['params'] })

const plan = (
  route: readonly RouteStep[],
  pieces: readonly Piece[] = [],
  more: { until?: string; wants?: 'outline' | 'solid' | 'assembly'; behind?: string[] } = {},
) => planRoute(route, { pieces, behind: more.behind ?? [], until: more.until, wants: more.wants, paramsAt: (s) => paramsAtMoment(s, START) })

const states = (planned: readonly Planned[]) => planned.map((p) => p.state)
const keys = (planned: readonly Planned[]) => planned.map((p) => p.key)

describe('the keys of a route', () => {
  const route = [...wordRoute('Tern', 'archivo-bold'), step('dress-1', 'dress'), step('dress-2', 'dress')]

  it('follow from what a step does, not from what it is called or how its values are written down', () => {
    const renamed = route.map((s, i) => ({ ...s, id: `other-${i}` }))
    expect(keys(plan(renamed))).toEqual(keys(plan(route)))
    // defaults spelt out, and in another order
    const spelt = plan(route).map((p, i) => ({ ...route[i], params: Object.fromEntries(Object.entries(p.params as object).reverse()) }))
    expect(keys(plan(spelt))).toEqual(keys(plan(route)))
  })

  it('change with a value from its step on, and not before it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 0, max: 1000 }), (at, n) => {
        const edited = structuredClone(route)
        edited[at].params = at === 1 ? { depth: 20 + n } : { face: { colour: '#123456', roughness: n / 1000, metalness: 0 } }
        const [before, after] = [keys(plan(route)), keys(plan(edited))]
        for (let i = 0; i < route.length; i++) expect(after[i] === before[i]).toBe(i < at)
      }),
      { numRuns: 50 },
    )
  })

  it('differ for equal steps one behind another, and pass over those that are off', () => {
    const all = keys(plan(route))
    expect(new Set(all).size).toBe(route.length)
    const off = plan(route.map((s) => (s.id === 'dress-1' ? { ...s, on: false } : s)))
    expect(states(off)).toEqual(['ready', 'ready', 'off', 'ready'])
    // the second then works on what the first worked on
    expect(off[3].key).toBe(all[2])
  })

  it('take in the pieces a step is made with, as far as these matter', () => {
    const words: Piece = { id: 'words', name: 'Words', route: wordRoute('Tern', 'archivo-bold') }
    const plate = [step('plate-1', 'plate', { shape: 'hugging', other: { piece: 'words' } })]
    const key = (piece: Piece) => plan(plate, [piece])[0].key
    const known = key(words)
    expect(known).toBeDefined()
    expect(key({ ...words, name: 'Renamed' })).toBe(known)
    // a plate asks for the outline: what is done to the solid does not concern it
    expect(key({ ...words, route: wordRoute('Tern', 'archivo-bold', {}, { depth: 40 }) })).toBe(known)
    expect(key({ ...words, route: wordRoute('Quay', 'archivo-bold') })).not.toBe(known)
  })
})

describe('what cannot be made', () => {
  const code = (planned: readonly Planned[], i = 0) => planned[i].issue?.code
  const words = wordRoute('Tern', 'archivo-bold')

  it('is said at its step, and what follows waits', () => {
    const wrong = plan([...words, step('offset-1', 'offset'), step('dress-1', 'dress')])
    expect(states(wrong)).toEqual(['ready', 'ready', 'wrong', 'waiting'])
    expect(wrong[2].issue).toMatchObject({ code: 'wrong-input', message: expect.stringContaining('gets a solid') })
    expect(code(plan([step('extrude-1', 'extrude')]))).toBe('nothing-before')
    expect(code(plan([step('x', 'no-such-step')]))).toBe('unknown-step')
    expect(code(plan([{ ...words[0], version: 99 }]))).toBe('newer-step')
  })

  it('names the parameter whose value is out of its range', () => {
    const { sha256, name } = shippedFace('archivo-bold')
    const bad = plan([step('lettering-1', 'lettering', { text: 'T', font: { sha256, name }, size: -4 })])
    expect(bad[0].issue).toMatchObject({ code: 'bad-value', field: 'size' })
  })

  it('are pieces that are gone, give nothing fitting, cannot be made themselves, or lead back to where they began', () => {
    const other = (piece: string) => [step('plate-1', 'plate', { shape: 'hugging', other: { piece } })]
    const piece = (id: string, route: RouteStep[]): Piece => ({ id, name: id.toUpperCase(), route })
    expect(plan(other('gone'))[0].issue).toMatchObject({ code: 'piece-gone', field: 'other' })
    expect(code(plan(other('a'), [piece('a', [step('block-1', 'block')])]))).toBe('piece-unfit')
    expect(code(plan(other('a'), [piece('a', [step('x', 'no-such-step')])]))).toBe('piece-failed')
    const ring = plan(other('b'), [piece('a', other('b')), piece('b', other('c')), piece('c', other('a'))], { behind: ['a'] })
    expect(ring[0].issue?.message).toContain('none of them could ever be done')
    // through two other pieces, told at the first
    expect(ring[0].issue?.message).toMatch(/“A”.*“B”|“B”.*“C”|“C”.*“A”/)
  })
})

describe('how far a route is wanted', () => {
  const route = [...wordRoute('Tern', 'archivo-bold'), step('dress-1', 'dress')]

  it('ends with a step, or with the last that gives a kind of value', () => {
    expect(states(plan(route, [], { until: 'extrude-1' }))).toEqual(['ready', 'ready', 'waiting'])
    expect(states(plan(route, [], { wants: 'outline' }))).toEqual(['ready', 'waiting', 'waiting'])
    expect(states(plan(route, [], { wants: 'solid' }))).toEqual(['ready', 'ready', 'ready'])
    // whatever comes after does not change what was wanted
    expect(keys(plan(route, [], { wants: 'outline' }))[0]).toBe(keys(plan(route))[0])
  })
})
