import { type HingeEdge, hingeLine } from '../../physics/drop'
import type { Tether } from '../../physics/tethers'
import type { StepMarks } from '../step'

type Vector = readonly [number, number, number]
type Marked = { readonly marks?: StepMarks }

/** The floor reaches so far beyond what falls, shares of its size. */
const BEYOND = 0.1

const asIs = (at: Vector): Vector => at

/** The floor that things in a box fall upon, mm, and how deep it lies, taken in hand in its middle. `seen`: where places and directions are that count with down as −y. */
export function floorMarks(
  { floor, fall, room }: { readonly floor: string; readonly fall: number; readonly room: number },
  [x0, y0, z0, x1, , z1]: readonly number[],
  seen: (at: Vector) => Vector = asIs,
): Marked {
  if (floor === 'none') return {}
  const beyond = floor === 'pen' ? room : BEYOND * Math.max(10, x1 - x0, z1 - z0)
  const y = y0 - fall
  const corners = (
    [
      [x0 - beyond, y, z0 - beyond],
      [x1 + beyond, y, z0 - beyond],
      [x1 + beyond, y, z1 + beyond],
      [x0 - beyond, y, z1 + beyond],
    ] as const
  ).map(seen)
  const at = seen([(x0 + x1) / 2, y, (z0 + z1) / 2])
  const way = seen([0, -1, 0])
  return {
    marks: { knobs: [{ name: 'fall', title: 'Floor', at, line: { field: 'fall', value: fall, unit: 'mm', step: 5, way } }], lines: [[...corners, corners[0]]] },
  }
}

/** Ropes that hang straight, taken in hand for their length at the far end of the first. */
export function ropeMarks(tethers: readonly Tether[], field: string): Marked {
  const [first] = tethers
  if (!first) return {}
  const way = [0, 1, 2].map((k) => (first.from.at[k] - first.to.at[k]) / first.length) as unknown as Vector
  return {
    marks: {
      knobs: [{ name: field, title: 'Length', at: first.from.at, line: { field, value: first.length, unit: 'mm', step: 5, way } }],
      lines: tethers.map(({ from, to }) => [from.at, to.at]),
    },
  }
}

/** The lines that things turn about. */
export const hingeMarks = (boxes: readonly (readonly number[])[], edge: HingeEdge): Marked => ({ marks: { lines: boxes.map((box) => hingeLine(box, edge)) } })

/** Marks of several as one. */
export function allMarks(...list: readonly Marked[]): Marked {
  const knobs = list.flatMap(({ marks }) => marks?.knobs ?? [])
  const lines = list.flatMap(({ marks }) => marks?.lines ?? [])
  return knobs.length + lines.length > 0 ? { marks: { knobs, lines } } : {}
}
