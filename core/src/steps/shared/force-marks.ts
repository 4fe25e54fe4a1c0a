import { type Air, isStill } from '../../physics/wind'
import type { StepKnob, StepMarks } from '../step'

type Vector = readonly [number, number, number]

const RING = 48
/** An arrow of wind is half the size of what it blows on, away from it, and so many m/s are as long as that. */
const LONG = 12

/** A ring about a point, in the plane of two axes. */
const ring = ([x, y, z]: Vector, radius: number, flat: boolean): Vector[] =>
  Array.from({ length: RING + 1 }, (_, i) => {
    const a = (2 * Math.PI * i) / RING
    const [u, v] = [radius * Math.cos(a), radius * Math.sin(a)]
    return flat ? [x + u, y, z - v] : [x + u, y + v, z]
  })

/** A line with a point at its end, in the plane that it has in common with the vertical (or the depth, when it is upright). */
function arrow(from: Vector, to: Vector, head: number): Vector[][] {
  const way = [0, 1, 2].map((k) => to[k] - from[k])
  const size = Math.hypot(...way)
  if (size === 0) return []
  const [dx, dy, dz] = way.map((v) => v / size)
  const flat = Math.hypot(dx, dz)
  // up as seen along it
  const up = flat > 1e-6 ? [(-dy * dx) / flat, flat, (-dy * dz) / flat] : [0, 0, 1]
  const barb = (side: number): Vector => [0, 1, 2].map((k) => to[k] - head * [dx, dy, dz][k] + side * head * 0.5 * up[k]) as unknown as Vector
  return [
    [from, to],
    [barb(1), to, barb(-1)],
  ]
}

/**
 * What the view shows of wind and forces on things in a box, mm, and what of them is taken in hand there: the spot, how far it reaches, and how hard it blows.
 * `fields`: the step's own values.
 */
export function forceMarks(
  fields: { readonly force?: string; readonly power?: number; readonly spot?: Vector | null; readonly reach?: number; readonly wind: number },
  air: Air,
  box: readonly number[],
): { readonly marks?: StepMarks } {
  const knobs: StepKnob[] = []
  const lines: (readonly Vector[])[] = []
  const middle = [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as unknown as Vector
  const size = Math.max(10, Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) / 2)
  if (fields.force === 'pull' || fields.force === 'whirl') {
    const at = fields.spot ?? middle
    const [whirls, reach, small] = [fields.force === 'whirl', fields.reach ?? 0, size / 8]
    knobs.push({ name: 'spot', title: whirls ? 'Whirls about' : (fields.power ?? 0) < 0 ? 'Pushes from' : 'Pulls to', at, spot: { field: 'spot', step: 1 } })
    lines.push(
      ...[0, 1, 2].map((k) => [-small, small].map((far) => at.map((v, i) => (i === k ? v + far : v)) as unknown as Vector)),
      ...(whirls
        ? [
            [
              [at[0], at[1] - size, at[2]],
              [at[0], at[1] + size, at[2]],
            ] as const,
          ]
        : []),
    )
    if (reach > 0) {
      lines.push(ring(at, reach, whirls))
      const way: Vector = [1, 0, 0]
      knobs.push({
        name: 'reach',
        title: 'Half as strong at',
        at: [at[0] + reach, at[1], at[2]],
        line: { field: 'reach', value: reach, unit: 'mm', step: 5, way },
      })
    }
  }
  if (!isStill(air)) {
    const speed = Math.hypot(...air.speed)
    const way = air.speed.map((v) => (v / speed) * (size / LONG)) as unknown as Vector
    const from = middle.map((v, k) => v - (1.3 * size * air.speed[k]) / speed - (speed < LONG ? way[k] * LONG : way[k] * speed)) as unknown as Vector
    const at = from.map((v, k) => v + way[k] * fields.wind) as unknown as Vector
    // its head in front of what takes it in hand
    lines.push(...arrow(from, at.map((v, k) => v + (0.16 * size * air.speed[k]) / speed) as unknown as Vector, size / 10))
    knobs.push({ name: 'wind', title: 'Wind', at, line: { field: 'wind', value: fields.wind, unit: 'm/s', step: 1, way } })
  }
  return knobs.length > 0 ? { marks: { knobs, lines } } : {}
}
