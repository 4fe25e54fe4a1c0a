import { z } from 'zod'
import { triangleCount } from '../../../solid/solid'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { reduced } from '../../../volume/reduce'
import { meta, plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { millimetres } from '../../shared/lengths'
import { certified } from '../../shared/surfaces'
import { defineStep, failed } from '../../step'

/** How often less is taken away, when too much makes the surface cross itself. */
const TRIES = 5

const reduceParams = z.object({
  to: z
    .enum(['error', 'count'])
    .default('error')
    .meta(meta({ title: 'Down to', labels: ['An error', 'A number'] })),
  error: millimetres('The error', 0.001, 100)
    .default(0.05)
    .meta(meta({ title: 'Within', unit: 'mm', step: 0.01, when: { field: 'to', is: ['error'] }, description: 'How far the surface may move.' })),
  triangles: z
    .number('The number of triangles must be a number.')
    .int('Triangles are counted whole.')
    .min(4, 'A solid has at least 4 triangles.')
    .max(2_000_000)
    .default(5000)
    .meta(meta({ title: 'Triangles', step: 500, when: { field: 'to', is: ['count'] } })),
})

export const reduce = defineStep({
  kind: 'reduce',
  version: 1,
  family: 'Volume',
  title: 'Reduce',
  summary: 'Fewer triangles where the surface is flat enough, colours and borders kept.',
  takes: ['solid'],
  gives: 'solid',
  params: reduceParams,
  describe: ({ to, error, triangles }) => (to === 'error' ? `Within ${plain(error)} mm` : `To ${triangles.toLocaleString('en')} triangles`),
  async evaluate(input, { to, error, triangles }, context) {
    const solid = solidOf(input)
    if (!solid) return failed('no-solid', 'Reduce needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
    const before = triangleCount(solid)
    const mesh = labelled(solid)
    let aim = to === 'error' ? { triangles: 4, error } : { triangles: Math.min(triangles, before) }
    for (let tried = 0; tried < TRIES; tried++) {
      await context.breathe()
      const { mesh: fewer, error: made } = await reduced(mesh, aim)
      const result = certified(solidOfMesh(fewer, solid, solid.lattice))
      context.progress((tried + 1) / TRIES)
      if (!result.ok) {
        // less is taken away
        aim = 'error' in aim ? { triangles: 4, error: (aim.error as number) / 2 } : { triangles: Math.min(before, Math.ceil(aim.triangles * 1.4)) }
        continue
      }
      const after = triangleCount(result.solid)
      const short = to === 'count' && after > triangles * 1.1 && after > triangles + 8
      return {
        ok: true,
        value: result.solid,
        issues: short
          ? [
              {
                code: 'not-so-few',
                severity: 'warning',
                message: `${after.toLocaleString('en')} triangles are left: with fewer the piece would lose its form, or cross itself.`,
                remedy: 'Ask for more triangles.',
                field: 'triangles',
              },
            ]
          : [],
        told: `${before.toLocaleString('en')} → ${after.toLocaleString('en')} triangles, within ${plain(Math.max(made, 0.001))} mm`,
      }
    }
    return failed(
      'not-certified',
      'With so few triangles the surface would cross itself.',
      'Ask for more triangles, or a smaller error.',
      to === 'error' ? 'error' : 'triangles',
    )
  },
})
