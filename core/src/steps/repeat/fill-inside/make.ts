import type { z } from 'zod'
import { centreStrokes } from '../../../centre/strokes'
import { loadManifold } from '../../../kernel/manifold'
import { type Fill, type Filled, filled } from '../../../repeat/fill'
import type { Ground } from '../../../repeat/grounds'
import { copyCount } from '../../../solid/assembly'
import { widestInset } from '../../../solid/ridge'
import { plain } from '../../meta'
import { groundsOf, setOnCarrier, spotsOn } from '../../shared/grounds'
import { tooManyCopies, unitOf } from '../../shared/repeating'
import { type Evaluate, failed, type Fix, type StepIssue } from '../../step'
import type { fillParams } from './schema'

export const evaluate: Evaluate<typeof fillParams> = async (input, params, context) => {
  const found = groundsOf(input, params.on, 'Fill inside')
  if ('ok' in found) return found
  const { grounds } = found
  if (grounds.length === 0) return failed('no-areas', 'The outline has no closed areas to fill.', 'Close the lines, or use Along.')
  const unit = unitOf(params, context)
  if ('ok' in unit) return unit
  await loadManifold()
  const { pattern, pitch, edge, rows, corners, angle, seed } = params
  // how many places would have to be looked at, before any is
  const most = grounds.reduce((sum, { set }) => sum + placesLookedAt(set().rings, pattern, pitch), 0)
  if (most > MOST_LOOKED_AT) return tooManyCopies(Math.round(most), 'pitch') as NonNullable<ReturnType<typeof tooManyCopies>>
  const places: Float64Array[] = []
  let narrow = 0
  const fillOf = (ground: Ground, i: number, radius: number, edge: number): Filled => {
    const own: Fill = {
      pattern,
      pitch,
      radius,
      edge,
      corners,
      rows,
      angle,
      through: pattern === 'rows' || pattern === 'hexagons' ? [wrapped(-ground.x), wrapped(-ground.y)] : [0, 0],
      seed: seed + 7919 * i,
    }
    const key = `fill:${JSON.stringify(pattern === 'dots' ? own : { ...own, seed: 0 })}:${ground.key}`
    const set = ground.set()
    return context.memo.get(key, (): Filled => filled(set, () => context.memo.get(`strokes-of:${ground.key}`, () => centreStrokes(set)), own))
  }
  for (const [i, ground] of grounds.entries()) {
    await context.breathe()
    const one = fillOf(ground, i, unit.radius, edge)
    places.push(one.places)
    narrow += one.narrow
    context.progress((i + 1) / (grounds.length + 1))
  }
  const count = places.reduce((sum, list) => sum + list.length / 3, 0)
  const many = tooManyCopies(count * copyCount(unit.assembly), 'pitch')
  if (many) return many
  if (count === 0) {
    const { issue } = failed(
      'no-room',
      `Nothing fits: a unit of ${plain(2 * unit.radius)} mm with ${plain(edge)} mm free at the edge is wider than every stroke.`,
      'Take a smaller unit, or leave less free at the edge.',
      params.unit === 'piece' ? 'size' : 'width',
    )
    const fix = smallerThatFits(params, unit.radius, grounds, (ground, i, radius, free) => fillOf(ground, i, radius, free).places.length > 0)
    return { ok: false, issue: fix ? { ...issue, fixes: [fix] } : issue }
  }
  const spots = spotsOn(grounds, places, params.facing === 'along')
  const issues: StepIssue[] = []
  if (narrow > 0)
    issues.push({
      code: 'narrow-strokes',
      severity: 'note',
      message: `${narrow} stroke${narrow === 1 ? ' has' : 's have'} no room for a unit of ${plain(2 * unit.radius)} mm and ${narrow === 1 ? 'stays' : 'stay'} empty.`,
      remedy: 'Take a smaller unit, or leave less free at the edge.',
      field: 'edge',
    })
  return setOnCarrier({ carrier: found, unit, spots, params, issues }, context)
}

/** Rows go through the whole word; what only shifts them by a hair must not make every letter anew. */
const wrapped = (v: number): number => Math.round(v * 1e6) / 1e6

/** More places than this are not looked at. */
const MOST_LOOKED_AT = 4_000_000

/** About how many places come into question: along borders where the middle of strokes is followed, else over the box about an area. */
function placesLookedAt(rings: readonly { readonly xy: ArrayLike<number> }[], pattern: Fill['pattern'], pitch: number): number {
  let [x0, y0, x1, y1, length] = [Infinity, Infinity, -Infinity, -Infinity, 0]
  for (const { xy } of rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      x0 = Math.min(x0, xy[i])
      x1 = Math.max(x1, xy[i])
      y0 = Math.min(y0, xy[i + 1])
      y1 = Math.max(y1, xy[i + 1])
      length += Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1])
    }
  if (!Number.isFinite(x0)) return 0
  return pattern === 'middle' ? (8 * length) / pitch : ((x1 - x0) * (y1 - y0)) / (0.8 * pitch * pitch)
}

/** Shares of the room in the widest stroke that are tried for a unit, the largest first. */
const SHARES = [0.9, 0.75, 0.6, 0.4]
/** What stays free at the edge, of half of the widest stroke, where more was asked for. */
const FREE = 0.2

/** A size at which units fit somewhere, and what stays free at the edge where that has to be less; undefined where none was found. */
function smallerThatFits(
  { unit, width, size, edge }: Pick<z.infer<typeof fillParams>, 'unit' | 'width' | 'size' | 'edge'>,
  radius: number,
  grounds: readonly Ground[],
  fits: (ground: Ground, i: number, radius: number, free: number) => boolean,
): Fix | undefined {
  const widest = Math.max(...grounds.map((ground) => widestInset(ground.set())))
  const free = edge > FREE * widest ? roundedDown(FREE * widest) : edge
  const given = unit === 'piece' ? size : width
  for (const share of SHARES) {
    const value = roundedDown((share * (widest - free) * given) / radius)
    if (!(value > 0) || !grounds.some((ground, i) => fits(ground, i, (radius * value) / given, free))) continue
    return {
      label: `Take ${plain(value)} ${unit === 'piece' ? '%' : 'mm'}${free < edge ? `, ${plain(free)} mm free at the edge` : ''}`,
      params: { [unit === 'piece' ? 'size' : 'width']: value, ...(free < edge ? { edge: free } : {}) },
    }
  }
  return undefined
}

/** To two digits, toward nought. */
function roundedDown(value: number): number {
  const digits = 10 ** (1 - Math.floor(Math.log10(value || 1)))
  return Math.floor(value * digits) / digits
}
