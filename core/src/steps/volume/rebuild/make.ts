import { throughVolume } from '../../shared/volumes'
import type { rebuildParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof rebuildParams> = (input, params, context) =>
  throughVolume(input, context, { title: 'Rebuild', params, way: params.way, partsMayChange: true })
