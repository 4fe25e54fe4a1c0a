import { joinInStep, volumeWords } from '../../shared/joining'
import type { overlapParams } from './schema'
import type { Evaluate } from '../../step'

export const evaluate: Evaluate<typeof overlapParams> = async (input, _params, context) => {
  const result = await joinInStep(input, context, { title: 'Overlap', how: 'overlap' })
  if ('failure' in result) return result.failure
  return { ok: true, value: result.joined.solid, issues: [], told: `${volumeWords(result.joined.after)} of ${volumeWords(result.joined.before)}` }
}
