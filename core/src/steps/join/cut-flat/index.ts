import { z } from 'zod'
import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { solidFromTriangles } from '../../../solid/from-triangles'
import type { Matrix } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { solidOf, volumeWords } from '../../shared/joining'
import { millimetres } from '../../shared/lengths'
import { defineStep, failed } from '../../step'

const AXES = ['across', 'up', 'forward'] as const
type Axis = (typeof AXES)[number]

const cutFlatParams = z.object({
  axis: z
    .enum(AXES)
    .default('up')
    .meta(meta({ title: 'Cut', labels: ['Left from right', 'Top from foot', 'Front from back'] })),
  at: millimetres('The place of the cut', -100_000, 100_000)
    .default(0)
    .meta(meta({ title: 'Off the middle', unit: 'mm', step: 1, description: 'Of the cut from the middle of the piece.' })),
  keep: z
    .enum(['first', 'second', 'both'])
    .default('both')
    .meta(meta({ title: 'Keep', labels: ['Left, foot or back', 'Right, top or front', 'Both, parted'] })),
  gap: millimetres('The gap', 0.02, 1000)
    .default(1)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.5, when: { field: 'keep', is: ['both'] } })),
})

export const cutFlat = defineStep({
  kind: 'cut-flat',
  version: 1,
  family: 'Join',
  title: 'Cut flat',
  summary: 'Cuts the piece along a plane and keeps one side or both: for what is larger than a bed, or needs a flat back.',
  takes: ['solid', 'assembly'],
  gives: 'solid',
  params: cutFlatParams,
  describe: ({ axis, at, keep, gap }) =>
    `${{ across: 'Left from right', up: 'Top from foot', forward: 'Front from back' }[axis]}${at === 0 ? ' in the middle' : `, ${plain(at)} mm off the middle`}${keep === 'both' ? `, parted by ${plain(gap)} mm` : ''}`,

  async evaluate(input, { axis, at, keep, gap }, context) {
    const body = solidOf(input)
    if (!body) return failed('no-solid', 'Cut flat needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
    await loadManifold()
    await context.breathe()
    const box = solidBounds(body.positions)
    const k = AXES.indexOf(axis)
    const plane = (box[k] + box[k + 3]) / 2 + at
    if (!(plane > box[k] && plane < box[k + 3]))
      return failed(
        'misses',
        `The cut lies beside the piece, which reaches ${plain((box[k + 3] - box[k]) / 2)} mm to each side of its middle.`,
        'Bring it nearer to the middle.',
        'at',
      )
    const [from, to] = keep === 'first' ? [plane, box[k + 3] + BESIDE] : keep === 'second' ? [box[k] - BESIDE, plane] : [plane - gap / 2, plane + gap / 2]
    const joined = joinSolid(body, [{ solid: slab(box, k, from, to), matrix: UPRIGHT[axis] }], 'carve')
    if (!joined.ok)
      return joined.why === 'empty'
        ? failed('nothing-left', 'Nothing is left of the piece.', 'Make the gap narrower.', 'gap')
        : {
            ok: false,
            issue: {
              code: 'not-certified',
              severity: 'failed',
              message: 'The cut crosses itself where it was rounded, and could not be mended.',
              remedy: 'Move it by a tenth of a millimetre. The place is shown in the view.',
              places: joined.places,
              field: 'at',
            },
          }
    return { ok: true, value: joined.solid, issues: [], told: `${volumeWords(joined.after)} of ${volumeWords(joined.before)} left` }
  },
})

/** How far what is cut away reaches beyond the piece, mm. */
const BESIDE = 1

/** What brings a slab's own z to the axis that is cut across. */
const UPRIGHT: Readonly<Record<Axis, Matrix>> = {
  across: [0, 0, 1, 0, 1, 0, 0, 0, 0, 1, 0, 0],
  up: [0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 0],
  forward: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
}

/** A box over the whole of a piece between two heights of an axis, which is its own z. */
function slab(box: readonly number[], axis: number, from: number, to: number): Solid {
  const [i, j] = [(axis + 1) % 3, (axis + 2) % 3]
  const x = [box[i] - BESIDE, box[i + 3] + BESIDE]
  const y = [box[j] - BESIDE, box[j + 3] + BESIDE]
  const positions = [from, to].flatMap((z) => [x[0], y[0], z, x[1], y[0], z, x[1], y[1], z, x[0], y[1], z])
  const indices = [0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7]
  return solidFromTriangles({ positions, indices })
}
