import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { newStep } from '../project/new-project'
import { misfit, placeFor, valuesAlong } from './fitting'
import { STEPS, stepKind } from './registry'
import type { StepKind } from './step'

const route = ['lettering', 'slice', 'extrude', 'dress'].map((kind) => newStep(kind, kind))
const kind = (name: string) => stepKind(name) as StepKind

describe('where a step fits', () => {
  it('is told by what stands before each place', () => {
    expect(valuesAlong(route)).toEqual([undefined, 'outline', 'outline', 'solid', 'solid'])
    expect(valuesAlong([{ ...route[0], on: false }])).toEqual([undefined, undefined])
    expect(misfit(kind('dress'), 'outline')).toContain('Needs a solid; here it would get an outline')
    expect(misfit(kind('offset'), 'outline')).toBeUndefined()
    expect(misfit(kind('lettering'), 'solid')).toContain('begins a route')
  })

  it('is the nearest place that spoils nothing after it', () => {
    expect(placeFor(kind('offset'), route, 4)).toBe(2)
    expect(placeFor(kind('offset'), route, 0)).toBe(1)
    expect(placeFor(kind('dress'), route, 1)).toBe(3)
    // another form would take the outline away from the one that is there
    expect(placeFor(kind('inflate'), route, 4)).toBeUndefined()
    expect(placeFor(kind('lettering'), route, 4)).toBeUndefined()
    expect(placeFor(kind('lettering'), [], 0)).toBe(0)
  })

  it('never leaves a route of which a step gets what it cannot take', () => {
    const kinds = fc.array(fc.constantFrom(...STEPS.map((s) => s.kind)), { maxLength: 6 })
    const fits = (names: readonly string[]) => {
      const values = valuesAlong(names.map((name) => newStep(name, name)))
      return names.every((name, i) => !misfit(kind(name), values[i]))
    }
    fc.assert(
      fc.property(kinds, fc.constantFrom(...STEPS), fc.nat(6), (names, step, at) => {
        if (!fits(names)) return
        const place = placeFor(
          step,
          names.map((name) => newStep(name, name)),
          at,
        )
        if (place !== undefined) expect(fits([...names.slice(0, place), step.kind, ...names.slice(place)])).toBe(true)
      }),
      { numRuns: 2000 },
    )
  })
})
