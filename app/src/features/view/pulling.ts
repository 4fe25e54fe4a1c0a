import type { ViewMesh } from '@/workers/view-mesh'
import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import { applies, type Field } from '@kelvar/core/steps/fields'

type Point = readonly [number, number, number]
type Params = Readonly<Record<string, unknown>>

/** A value of a step that is pulled in the view. */
export interface Handle {
  readonly name: string
  readonly title: string
  readonly unit: string
  readonly step: number
  readonly min: number
  readonly max: number
  /** where it sits on the piece, mm, and the direction in which it is pulled, 1 mm long */
  readonly at: Point
  readonly along: Point
  /** how much the value changes per mm pulled */
  readonly by: number
  readonly edge: boolean
  value(params: Params): number
}

const DIRECTIONS = { forward: [0, 0, 1], right: [1, 0, 0], up: [0, 1, 0], edge: [0, 0, -1] } as const satisfies Record<string, Point>

/** The handles of a step with these parameters, on a piece that fills a box. */
export function handlesOf(fields: readonly (readonly [string, Field])[], params: Params, box: ViewMesh['box']): Handle[] {
  const [x0, y0, , x1, y1, z1] = box
  const size = { forward: box[5] - box[2], right: x1 - x0, up: y1 - y0, edge: 1 }
  return fields.flatMap(([name, field]): Handle[] => {
    const { pull, pullBy = 1, title = name, unit = '', step = 0.5, minimum = 0, maximum = 1e4 } = field
    if (!pull || !applies(field, params)) return []
    const edge = pull === 'edge'
    if (edge && (params[name] as EdgeParams | undefined)?.profile === 'square') return []
    const value = (of: Params) => (edge ? (of[name] as EdgeParams).height : Number(of[name]))
    const now = value(params)
    if (!Number.isFinite(now)) return []
    const at = {
      forward: [x1, y1, z1],
      right: [x1, (y0 + y1) / 2, z1],
      up: [(x0 + x1) / 2, y1, z1],
      edge: [x0, y1, z1 - now],
    }[pull] as unknown as Point
    const by = pullBy === 'scale' ? Math.max(now, step) / Math.max(size[pull], 0.1) : pullBy
    return [
      edge
        ? { name, title, unit: 'mm', step: 0.1, min: 0.1, max: 500, at, along: DIRECTIONS.edge, by: 1, edge, value }
        : { name, title, unit, step, min: minimum, max: maximum, at, along: DIRECTIONS[pull], by, edge, value },
    ]
  })
}

/** A parameter after its handle was pulled by so many mm: in whole steps, within its bounds. An edge keeps its proportions. */
export function pulled({ name, step, min, max, by, edge, value }: Handle, before: Params, mm: number): unknown {
  const was = value(before)
  const wanted = Math.min(max, Math.max(min, was + mm * by))
  const grid = step / 2
  const next = Math.min(max, Math.max(min, Number((Math.round(wanted / grid) * grid).toFixed(4))))
  if (!edge) return next
  const old = before[name] as EdgeParams
  const ratio = old.height > 0 ? next / old.height : 1
  return { ...old, height: next, inset: Number((old.height > 0 ? old.inset * ratio : next).toFixed(3)) }
}
