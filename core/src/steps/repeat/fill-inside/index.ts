import { z } from 'zod'
import { centreStrokes } from '../../../centre/strokes'
import { loadManifold } from '../../../kernel/manifold'
import { type Fill, filled, type Filled, FILLS } from '../../../repeat/fill'
import { copyCount } from '../../../solid/assembly'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { groundField, groundsOf, setOnCarrier, spotsOn } from '../../shared/grounds'
import { millimetres } from '../../shared/lengths'
import { byHandParam, holeFields, powerField, tooManyCopies, unitFields, unitOf, unitsNamed } from '../../shared/repeating'
import { defineStep, failed, type StepIssue } from '../../step'

const fillParams = z.object({
  pattern: z
    .enum(FILLS)
    .default('middle')
    .meta(meta({ title: 'Pattern', labels: ['Down the middle of strokes', 'Rows', 'Honeycomb', 'Scattered dots'] })),
  ...unitFields,
  pitch: millimetres('The spacing', 0.1, 5000)
    .default(6)
    .meta(
      meta({
        title: 'Spacing',
        unit: 'mm',
        step: 0.5,
        pull: 'right',
        strengths: [4, 5, 6, 8, 12],
        description: 'From one to the next; fitted evenly along each stroke.',
      }),
    ),
  edge: millimetres('The distance', 0, 500)
    .default(0.5)
    .meta(meta({ title: 'Free at the edge', unit: 'mm', step: 0.25, description: 'Between a unit and the edge of the letter, at least.' })),
  rows: z
    .int('Rows come in whole numbers.')
    .min(1, 'At least one row.')
    .max(12, 'At most 12 rows.')
    .default(2)
    .meta(meta({ title: 'Rows side by side', step: 1, when: { field: 'pattern', is: ['middle'] }, description: 'At most; as many as a stroke has room for.' })),
  corners: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'One in every corner', when: { field: 'pattern', is: ['middle'] } })),
  angle: z
    .number('The angle must be a number.')
    .min(-180)
    .max(180)
    .default(0)
    .meta(meta({ title: 'Rows turned by', unit: '°', step: 5, when: { field: 'pattern', is: ['rows', 'hexagons'] } })),
  seed: seedParam({ when: { field: 'pattern', is: ['dots'] } }),
  facing: z
    .enum(['upright', 'along'])
    .default('upright')
    .meta(meta({ title: 'Facing', labels: ['Upright', 'Along the stroke'], advanced: true })),
  on: groundField,
  ...holeFields,
  power: powerField,
  hand: byHandParam,
})

const WORDS = { middle: 'down the middle', rows: 'in rows', hexagons: 'in a honeycomb', dots: 'scattered' } as const

export const fillInside = defineStep({
  kind: 'fill-inside',
  version: 1,
  family: 'Repeat',
  title: 'Fill inside',
  summary: 'Sets bulbs, rivets or any piece inside letters: down the middle of each stroke, in rows, in a honeycomb or scattered.',
  takes: ['outline', 'solid', 'assembly'],
  gives: 'assembly',
  params: fillParams,
  describe: ({ pattern, pitch, unit, width, size }) =>
    `${unitsNamed(unit)} ${unit === 'piece' ? `at ${plain(size)} %` : `of ${plain(width)} mm`}, ${WORDS[pattern]}, every ${plain(pitch)} mm`,

  async evaluate(input, params, context) {
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
    for (const [i, ground] of grounds.entries()) {
      await context.breathe()
      const own: Fill = {
        pattern,
        pitch,
        radius: unit.radius,
        edge,
        corners,
        rows,
        angle,
        through: pattern === 'rows' || pattern === 'hexagons' ? [wrapped(-ground.x), wrapped(-ground.y)] : [0, 0],
        seed: seed + 7919 * i,
      }
      const key = `fill:${JSON.stringify(pattern === 'dots' ? own : { ...own, seed: 0 })}:${ground.key}`
      const set = ground.set()
      const one = context.memo.get(key, (): Filled => filled(set, () => context.memo.get(`strokes-of:${ground.key}`, () => centreStrokes(set)), own))
      places.push(one.places)
      narrow += one.narrow
      context.progress((i + 1) / (grounds.length + 1))
    }
    const count = places.reduce((sum, list) => sum + list.length / 3, 0)
    const many = tooManyCopies(count * copyCount(unit.assembly), 'pitch')
    if (many) return many
    if (count === 0)
      return failed(
        'no-room',
        `Nothing fits: a unit of ${plain(2 * unit.radius)} mm with ${plain(edge)} mm free at the edge is wider than every stroke.`,
        'Take a smaller unit, or leave less free at the edge.',
        params.unit === 'piece' ? 'size' : 'width',
      )
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
  },
})

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
