import { triangleCount } from '../../../solid/solid'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { reduced } from '../../../volume/reduce'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { certified } from '../../shared/surfaces'
import { type Evaluate, failed } from '../../step'
import type { reduceParams } from './schema'

export const evaluate: Evaluate<typeof reduceParams> = async (input, { to, error, triangles }, context) => {
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
      aim = 'error' in aim ? { triangles: 4, error: (aim.error as number) / 2 } : { triangles: Math.min(before, Math.ceil(aim.triangles * MORE)) }
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
}

/** How often less is taken away, when too much makes the surface cross itself. */
const TRIES = 8
/** And how many more triangles are left each time. */
const MORE = 1.5
