import { z } from 'zod'
import { joinInStep, partnersParam, volumeWords } from '../../shared/joining'
import { defineStep } from '../../step'

export const overlap = defineStep({
  kind: 'overlap',
  version: 1,
  family: 'Join',
  title: 'Overlap',
  summary: 'Keeps what this piece and others have in common, each where it stands.',
  takes: ['solid'],
  gives: 'solid',
  params: z.object({ others: partnersParam }),
  describe: ({ others }) => `What it has in common with ${others.length === 1 ? 'one piece' : `${others.length} pieces`}`,
  async evaluate(input, _params, context) {
    const result = await joinInStep(input, context, { title: 'Overlap', how: 'overlap' })
    if ('failure' in result) return result.failure
    return { ok: true, value: result.joined.solid, issues: [], told: `${volumeWords(result.joined.after)} of ${volumeWords(result.joined.before)}` }
  },
})
