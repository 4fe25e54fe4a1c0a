import { effectiveParams, fieldsOf } from '@kelvar/core/steps/fields'
import { STEPS } from '@kelvar/core/steps/registry'
import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { type Handle, handlesOf, pulled } from '../src/features/view/pulling'

const BOX = [-40, -10, -6, 60, 30, 6] as const
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
/** every handle of every step, with its step's defaults */
const ALL = STEPS.flatMap((kind) => {
  const params = effectiveParams(kind, {}) as Record<string, unknown>
  return handlesOf(fieldsOf(kind), params, BOX).map((handle) => ({ kind, params, handle, name: `${kind.kind} ${handle.name}` }))
})
const after = ({ name, value }: Handle, params: Record<string, unknown>, next: unknown) => value({ ...params, [name]: next })

describe('values that are pulled in the view', () => {
  it('are there for many steps, on the piece or at its border, each in a direction of its own', () => {
    expect(ALL.length).toBeGreaterThan(8)
    expect(new Set(ALL.map(({ kind }) => kind.family)).size).toBeGreaterThan(2)
    for (const { handle } of ALL) {
      expect(Math.hypot(...handle.along)).toBeCloseTo(1, 9)
      expect(Number.isFinite(handle.by)).toBe(true)
      expect(handle.by).not.toBe(0)
      expect(handle.min).toBeLessThan(handle.max)
      for (let k = 0; k < 2; k++) {
        expect(handle.at[k]).toBeGreaterThanOrEqual(BOX[k])
        expect(handle.at[k]).toBeLessThanOrEqual(BOX[k + 3])
      }
    }
  })

  it.each(ALL)('$name stays within its bounds and its step takes it, however far it is pulled', ({ kind, params, handle }) => {
    fc.assert(
      fc.property(number(-1e5, 1e5), (mm) => {
        const next = pulled(handle, params, mm)
        const value = after(handle, params, next)
        expect(value).toBeGreaterThanOrEqual(handle.min)
        expect(value).toBeLessThanOrEqual(handle.max)
        const parsed = kind.params.safeParse({ ...params, [handle.name]: next })
        expect(parsed.error?.issues).toBeUndefined()
      }),
      { numRuns: 40 },
    )
  })

  it.each(ALL)('$name goes with the hand: a little changes a little, further changes more, and back is back', ({ params, handle }) => {
    const was = handle.value(params)
    fc.assert(
      fc.property(number(-30, 30), number(0, 30), (mm, more) => {
        const [a, b] = [mm, mm + more].map((by) => after(handle, params, pulled(handle, params, by)))
        if (handle.by > 0) expect(b).toBeGreaterThanOrEqual(a)
        else expect(b).toBeLessThanOrEqual(a)
        const wanted = Math.min(handle.max, Math.max(handle.min, was + mm * handle.by))
        // whole half steps
        expect(Math.abs(a - wanted)).toBeLessThanOrEqual(handle.step / 4 + 1e-3)
      }),
      { numRuns: 40 },
    )
    expect(Math.abs(after(handle, params, pulled(handle, params, 0)) - was)).toBeLessThanOrEqual(handle.step / 4 + 1e-3)
  })

  it('edges keep the proportion of height to inset, and have none where there is no edge', () => {
    const edges = ALL.filter(({ handle }) => handle.edge)
    expect(edges.length).toBeGreaterThan(0)
    for (const { kind, handle, params } of edges) {
      const edge: EdgeParams = { ...(params[handle.name] as EdgeParams), height: 4, inset: 2 }
      fc.assert(
        fc.property(number(-3, 60), (mm) => {
          const next = pulled(handle, { ...params, [handle.name]: edge }, mm) as EdgeParams
          expect(next.inset / next.height).toBeCloseTo(0.5, 2)
          expect(next.profile).toBe(edge.profile)
        }),
      )
      const square = { ...params, [handle.name]: { ...edge, profile: 'square' } }
      expect(handlesOf(fieldsOf(kind), square, BOX).some(({ name }) => name === handle.name)).toBe(false)
    }
  })

  it('are not there for values that do not apply, nor for what is no number', () => {
    for (const { kind, handle, params } of ALL) {
      if (handle.edge) continue
      const broken = { ...params, [handle.name]: 'wide' }
      expect(handlesOf(fieldsOf(kind), broken, BOX).some(({ name }) => name === handle.name)).toBe(false)
    }
  })
})
