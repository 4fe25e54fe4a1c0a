import { lengthsOf, type Line, type Spot } from '../../../centre/line'
import { checkMesh } from '../../../check/check'
import { united } from '../../../join/united'
import { loadManifold } from '../../../kernel/manifold'
import { flattenPath } from '../../../outline/flatten'
import type { Outline, Region } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { painted } from '../../../paint/paint'
import { joinPlaced, type Placed } from '../../../solid/operations'
import { regionStrokes } from '../../shared/centre'
import { eachMade } from '../../shared/each-made'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
import { goneOn, last, NOT_YET, paintRegion, type Params, soFar, styleOf } from './region'
import type { brushParams } from './schema'

export const evaluate: Evaluate<typeof brushParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Brush needs an outline to work on.', 'Put a source such as Lettering or Drawing before it.')
  const { along } = params
  const regions = along === 'strokes' ? [] : input.regions
  const drawn = along === 'letters' ? [] : input.strokes
  if (regions.length + drawn.length === 0)
    return failed(
      'no-strokes',
      along === 'strokes' ? 'The outline has no drawn strokes to paint along.' : 'There is nothing to paint along.',
      along === 'strokes' ? 'Draw some, or paint along the middles of areas.' : 'Put a source such as Lettering before it.',
      'along',
    )
  await loadManifold()
  const placed: Placed[] = []
  const left: Region[] = []
  // how far the brush has come, over all strokes in their order
  const lengths = [...regions.map((region) => lengthOfStrokes(region, input, context)), ...drawn.map((path) => lengthOfPath(path))]
  const reach = (params.drawn / 100) * lengths.reduce((sum, l) => sum + l, 0)
  let before = 0
  /** how much of the next so many lengths is drawn, 0 to 1 */
  const share = (own: number) => {
    const part = params.drawn >= 100 ? 1 : Math.min(1, Math.max(0, (reach - before) / (own || 1)))
    before += own
    return part
  }
  const begun = regions.map((region, i) => ({ region, number: i, part: share(lengths[i]) })).filter(({ part }) => part > 0)
  const { along: _, width, share: shareOfStroke, by, drawn: __, ...rest } = params
  const found = await eachMade(
    paintRegion,
    begun.map(({ region, number, part }) => ({
      // for its shape, its place in the word and the values
      key: `brush:${JSON.stringify([by === 'own' ? shareOfStroke : width, by, rest, part])}:${number}:${region.key}:${input.lattice}`,
      data: { strokes: regionStrokes(context.memo, region, input.lattice), number, part, params, lattice: input.lattice },
      takes: A_LETTER,
    })),
    context,
    0.8,
  )
  for (const [i, { region }] of begun.entries()) {
    const paint = found[i]
    if (paint === NOT_YET) continue
    if (paint?.ok) placed.push({ solid: paint.solid, dx: region.dx, dy: region.dy, dz: 0, letters: [region.members[0]?.letter ?? -1], layer: region.layer })
    else left.push(region)
  }
  if (drawn.length > 0) {
    await context.breathe()
    const found = paintedStrokes(drawn, share(lengths.slice(regions.length).reduce((sum, l) => sum + l, 0)), params, input, context)
    if (found === NOT_YET) context.progress(0.9)
    else if (found?.ok) placed.push({ solid: found.solid, dx: 0, dy: 0, dz: 0, letters: [-1], layer: 0 })
    else if (regions.length === 0) return notUnited(found?.places)
  }
  if (placed.length === 0 && left.length === 0 && params.drawn < 100)
    return {
      ok: true,
      value: {
        ...joinPlaced(
          [],
          input.letters.map((l) => l.text),
          input.lattice,
        ),
        nothingYet: true,
      },
      issues: [NOTHING_YET],
    }
  if (placed.length === 0) return failed('vanished', 'Nothing of this can be painted.', 'Use a thinner face, or a narrower brush.', 'share')
  const issues: StepIssue[] = []
  if (left.length > 0)
    issues.push({
      code: 'parts-vanished',
      severity: 'warning',
      message: `${left.length} ${left.length === 1 ? 'shape has' : 'shapes have'} no stroke that could be painted and ${left.length === 1 ? 'is' : 'are'} left out.`,
      remedy: 'Use a thinner face, or a narrower brush.',
      field: 'share',
    })
  const texts = input.letters.map((l) => l.text)
  const layers = input.layers.length > 0 ? input.layers.map(({ name, colour }) => ({ name, ...(colour ? { colour } : {}) })) : [{ name: 'Paint' }]
  const whole = joinPlaced(placed, texts, input.lattice, layers)
  // letters whose paint runs into their neighbours' are one with them
  if (placed.length === 1 || checkMesh(whole).sound) return { ok: true, value: whole, issues }
  await context.breathe()
  const one = united(placed.map((each) => joinPlaced([each], texts, input.lattice, layers)))
  if (!one?.ok) return notUnited(one?.places)
  return { ok: true, value: one.solid, issues }
}

const notUnited = (places: StepIssue['places'] = []) => ({
  ok: false as const,
  issue: {
    code: 'crosses-itself',
    severity: 'failed' as const,
    message: 'Strips run into each other and could not be united.',
    remedy: 'Give a narrower brush, or more room between letters.',
    field: 'width',
    places,
  },
})

/** About how long the paint of one letter takes, ms. */
const A_LETTER = 600

const NOTHING_YET: StepIssue = {
  code: 'nothing-yet',
  severity: 'note',
  message: 'Nothing is drawn yet.',
  remedy: 'Raise “Drawn so far”, or go to a later frame.',
  field: 'drawn',
}

/** How long a region's strokes are, all together, mm; a dot counts as long as it is wide. */
const lengthOfStrokes = (region: Region, { lattice }: Outline, { memo }: Pick<StepContext, 'memo'>): number =>
  regionStrokes(memo, region, lattice).reduce((sum, { points, dot }) => sum + (dot ? 2 * points[0][2] : last(lengthsOf(points))), 0)

const pointsOf = (path: Path): Spot[] => {
  const { xy } = flattenPath(path, { tolerance: 0.01, maxTurn: 6 })
  return Array.from({ length: xy.length / 2 }, (_, k): Spot => [xy[2 * k], xy[2 * k + 1], 0])
}

const lengthOfPath = (path: Path): number => last(lengthsOf(pointsOf(path)))

function paintedStrokes(strokes: readonly Path[], part: number, params: Params, input: Outline, { memo }: Pick<StepContext, 'memo'>) {
  const key = `brush-strokes:${JSON.stringify({ ...params, drawn: part })}:${JSON.stringify(strokes.map(({ verbs, coords, closed }) => [[...verbs], [...coords], closed]))}:${input.lattice}`
  return memo.get(key, () => {
    const lines = strokes.flatMap((path, i) => {
      const points = pointsOf(path).map(([x, y]): Spot => [x, y, params.width / 2])
      const line = path.closed ? goneOn([...points, points[0]]) : points
      return partedAtTurns(line).map((each, k) => ({ line: each, style: styleOf(params, 31 * i + k) }))
    })
    const there = soFar(lines, part)
    return there.length === 0 ? NOT_YET : painted(there, input.lattice)
  })
}

/** A drawn line parted where it turns a sharp corner: there the brush is put down anew. */
function partedAtTurns(line: Line): Line[] {
  const parts: Spot[][] = [[line[0]]]
  for (let i = 1; i < line.length; i++) {
    parts[parts.length - 1].push(line[i])
    if (i + 1 === line.length) break
    const [ax, ay, bx, by] = [line[i][0] - line[i - 1][0], line[i][1] - line[i - 1][1], line[i + 1][0] - line[i][0], line[i + 1][1] - line[i][1]]
    if (ax * bx + ay * by < 0.5 * Math.hypot(ax, ay) * Math.hypot(bx, by)) parts.push([line[i]])
  }
  return parts
}
