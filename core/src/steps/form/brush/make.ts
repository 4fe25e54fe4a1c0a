import type { z } from 'zod'
import { firstPart, lengthsOf, type Line, type Spot, spotAt } from '../../../centre/line'
import { checkMesh } from '../../../check/check'
import { united } from '../../../join/united'
import { loadManifold } from '../../../kernel/manifold'
import { fitPath } from '../../../outline/fit'
import { flattenPath } from '../../../outline/flatten'
import type { Outline, Region } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { throughPoints } from '../../../outline/through-points'
import { painted } from '../../../paint/paint'
import type { PaintStyle } from '../../../paint/strip'
import { joinPlaced, type Placed } from '../../../solid/operations'
import { regionStrokes } from '../../shared/centre'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
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
  for (const [i, region] of regions.entries()) {
    await context.breathe()
    const part = share(lengths[i])
    if (part === 0) continue
    const found = paintedRegion(region, i, part, params, input, context)
    if (found === NOT_YET) continue
    if (found?.ok) placed.push({ solid: found.solid, dx: region.dx, dy: region.dy, dz: 0, letters: [region.members[0]?.letter ?? -1], layer: region.layer })
    else left.push(region)
    context.progress((0.8 * (i + 1)) / (regions.length + 1))
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

type Params = z.infer<typeof brushParams>

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

/** Nothing of it is drawn so far. */
const NOT_YET = 'not yet'

const NOTHING_YET: StepIssue = {
  code: 'nothing-yet',
  severity: 'note',
  message: 'Nothing is drawn yet.',
  remedy: 'Raise “Drawn so far”, or go to a later frame.',
  field: 'drawn',
}

const last = (lengths: Float64Array): number => lengths[lengths.length - 1] ?? 0

/** How long a region's strokes are, all together, mm; a dot counts as long as it is wide. */
const lengthOfStrokes = (region: Region, { lattice }: Outline, { memo }: Pick<StepContext, 'memo'>): number =>
  regionStrokes(memo, region, lattice).reduce((sum, { points, dot }) => sum + (dot ? 2 * points[0][2] : last(lengthsOf(points))), 0)

const pointsOf = (path: Path): Spot[] => {
  const { xy } = flattenPath(path, { tolerance: 0.01, maxTurn: 6 })
  return Array.from({ length: xy.length / 2 }, (_, k): Spot => [xy[2 * k], xy[2 * k + 1], 0])
}

const lengthOfPath = (path: Path): number => last(lengthsOf(pointsOf(path)))

/** Lines as far as a share of all their lengths goes, one after another. */
function soFar<T extends { readonly line: Line }>(lines: readonly T[], share: number): T[] {
  if (share >= 1) return [...lines]
  const lengths = lines.map(({ line }) => last(lengthsOf(line)))
  let left = share * lengths.reduce((sum, l) => sum + l, 0)
  return lines.flatMap((each, i) => {
    const line = left > 0 ? firstPart(each.line, left) : undefined
    left -= lengths[i]
    return line ? [{ ...each, line }] : []
  })
}

/** The paint of one region in its own coordinates, as far as it is drawn, kept for its shape, its place in the word and the values. */
function paintedRegion(region: Region, number: number, part: number, params: Params, input: Outline, { memo }: Pick<StepContext, 'memo'>) {
  const { along: _, width, share, by, drawn: __, ...rest } = params
  const key = `brush:${JSON.stringify([by === 'own' ? share : width, by, rest, part])}:${number}:${region.key}:${input.lattice}`
  return memo.get(key, () => {
    const lines = regionStrokes(memo, region, input.lattice).flatMap(({ points, closed, dot }, i) => {
      const wide = (spots: Line): Line => spots.map(([x, y, r]): Spot => [x, y, by === 'own' ? (r * share) / 100 : width / 2])
      const line = dot ? dab(points[0]) : smoothed(points, closed)
      const whole = closed && !dot ? goneOn(line) : overrun(line, 0.35 * Math.min(1, params.pointed))
      return [{ line: wide(whole), style: styleOf(params, 101 * number + i) }]
    })
    const there = soFar(lines, part)
    return there.length === 0 ? NOT_YET : painted(there, input.lattice)
  })
}

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

const styleOf = ({ height, bristles, depth, uneven, pointed, lift, size, bank, seed }: Params, number: number): PaintStyle => {
  const [sizes, banks] = [throughPoints(size, 100), throughPoints(bank, 0)]
  return {
    height,
    bristles,
    depth: depth / 100,
    uneven: uneven / 100,
    pointed,
    lift,
    size: (t) => sizes(t) / 100,
    bank: banks,
    seed: seed + 7919 * number,
  }
}

/** A stroke's middle as one smooth line. */
function smoothed(points: Line, closed: boolean): Line {
  const half = points.map(([, , r]) => r).sort((a, b) => a - b)[points.length >> 1]
  const path = fitPath(
    points.flatMap(([x, y]) => [x, y]),
    closed,
    { tolerance: Math.max(2e-3, 0.04 * half), corner: 60 },
  )
  const { xy } = flattenPath(path, { tolerance: Math.max(1e-3, 0.005 * half), maxTurn: 4 })
  const flat = Array.from({ length: xy.length / 2 }, (_, k): Spot => [xy[2 * k], xy[2 * k + 1], 0])
  if (closed) flat.push(flat[0])
  // widths as they were, by the share of the length
  const ring = closed ? [...points, points[0]] : points
  const [own, now] = [lengthsOf(ring), lengthsOf(flat)]
  const factor = own[own.length - 1] / (now[now.length - 1] || 1)
  return flat.map(([x, y], i): Spot => [x, y, spotAt(ring, own, now[i] * factor)[2]])
}

/** A ring drawn in one go: a little further than where it began. */
function goneOn(line: Line): Line {
  const lengths = lengthsOf(line)
  const whole = lengths[lengths.length - 1]
  const further = Math.min(0.25 * whole, 2.4 * line[0][2])
  const on: Spot[] = []
  for (let i = 1; i < line.length && lengths[i] < further; i++) on.push(line[i])
  return [...line, ...on, spotAt(line, lengths, further)]
}

/** A line run on at both ends by a share of the width, so that its points reach where its blunt ends did. */
function overrun(line: Line, by: number): Line {
  const end = (from: Spot, to: Spot): Spot => {
    const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1
    const on = (2 * by * to[2]) / size
    return [to[0] + (to[0] - from[0]) * on, to[1] + (to[1] - from[1]) * on, to[2]]
  }
  return line.length < 2 || by === 0 ? line : [end(line[1], line[0]), ...line, end(line[line.length - 2], line[line.length - 1])]
}

/** One press of the brush. */
const dab = ([x, y, r]: Spot): Line => [
  [x - 0.9 * r, y + 0.3 * r, r],
  [x + 0.9 * r, y - 0.3 * r, r],
]

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
