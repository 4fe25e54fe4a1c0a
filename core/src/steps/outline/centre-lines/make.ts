import { lengthsOf } from '../../../centre/line'
import type { CentreStroke } from '../../../centre/strokes'
import { loadManifold } from '../../../kernel/manifold'
import { fitPath } from '../../../outline/fit'
import { type Path, PathBuilder } from '../../../outline/path'
import { regionStrokes } from '../../shared/centre'
import { type Evaluate, failed } from '../../step'
import type { centreLinesParams } from './schema'

export const evaluate: Evaluate<typeof centreLinesParams> = async (input, { keep, dots, shortest }, { memo, breathe, progress }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Centre lines needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no areas to find the middle of.', 'Put a source such as Lettering before it.')
  await loadManifold()
  const strokes: Path[] = [...input.strokes]
  for (const [i, region] of input.regions.entries()) {
    await breathe()
    for (const stroke of regionStrokes(memo, region, input.lattice)) {
      if (stroke.dot && !dots) continue
      const path = pathOf(stroke, region.dx, region.dy)
      if (shortest === 0 || stroke.dot || lengthOf(stroke) >= shortest) strokes.push(path)
    }
    progress((i + 1) / input.regions.length)
  }
  if (strokes.length === 0) return failed('no-lines', 'No line is as long as that.', 'Let shorter ones be kept.', 'shortest')
  return { ok: true, value: { ...input, strokes, regions: keep === 'both' ? input.regions : [] }, issues: [] }
}

/** How far from the middle a fitted curve may be, against half the width. */
const NEAR = 0.01

const lengthOf = ({ points }: CentreStroke) => lengthsOf(points)[points.length - 1]

/** A stroke as a curve; a dot as a line as long as it is wide within. */
function pathOf({ points, closed, dot }: CentreStroke, dx: number, dy: number): Path {
  if (dot) {
    const [[x, y, r]] = points
    const line = new PathBuilder(x + dx - r / 4, y + dy)
    line.lineTo(x + dx + r / 4, y + dy)
    return line.build(false)
  }
  const half = points.map(([, , r]) => r).sort((a, b) => a - b)[points.length >> 1]
  return fitPath(
    points.flatMap(([x, y]) => [x + dx, y + dy]),
    closed,
    { tolerance: Math.max(1e-3, NEAR * half), corner: 60 },
  )
}
