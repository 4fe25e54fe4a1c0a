import { displaceInStep, sideFor } from '../../shared/displacing'
import type { swellParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof swellParams> = (input, { by, fit, edge, strength, mask }, context) =>
  displaceInStep(input, context, {
    title: 'Swell',
    mask,
    strength: strength / 100,
    edge: fit === 'given' ? edge : sideFor(input),
    along: 'normal',
    by: () => by,
    atMost: Math.abs(by),
    main: { field: 'by', value: by },
  })
