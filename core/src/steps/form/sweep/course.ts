import { type CurvePoint, throughPoints } from '../../../outline/through-points'
import type { SweepParams } from './schema'

/** How a section changes along a line, by how far along it is, 0 to 1. */
export interface Lengthwise {
  /** factor on the section's size */
  size(t: number): number
  /** degrees */
  turn(t: number): number
  /** mm to the left */
  shift(t: number): number
  readonly mostSize: number
  /** whether size and shift are the same all along */
  readonly steady: boolean
  /** by how much the section turns over all, degrees */
  readonly turning: number
}

/** From start, middle and end values or from drawn curves. Along a ring the values go there and come back, so that it closes. */
export function lengthwise(params: SweepParams, closed: boolean): Lengthwise {
  const around = (t: number) => (closed ? 1 - Math.abs(2 * t - 1) : t)
  if (params.course === 'curves') {
    const size = throughPoints(params.sizeCurve, 100)
    const turn = throughPoints(params.turnCurve, 0)
    const shift = throughPoints(params.shiftCurve, 0)
    return {
      size: (t) => size(around(t)) / 100,
      turn: (t) => turn(around(t)),
      shift: (t) => shift(around(t)),
      mostSize: params.sizeCurve.length > 0 ? Math.max(...params.sizeCurve.map(([, v]) => v)) / 100 : 1,
      steady: same(params.sizeCurve) && same(params.shiftCurve),
      turning: params.turnCurve.reduce((sum, [, v], i) => sum + (i > 0 ? Math.abs(v - params.turnCurve[i - 1][1]) : 0), 0) * (closed ? 2 : 1),
    }
  }
  const { sizeStart, sizeMiddle, sizeEnd, turnStart, turnEnd, shiftStart, shiftMiddle, shiftEnd } = params
  const turns = closed ? Math.round((turnEnd - turnStart) / 360) * 360 : turnEnd - turnStart
  const value = (start: number, middle: number, end: number, t: number) =>
    closed ? start + (middle - start) * smooth(around(t)) : between(start, middle, end, t)
  return {
    size: (t) => value(sizeStart, sizeMiddle, sizeEnd, t) / 100,
    turn: (t) => turnStart + turns * t,
    shift: (t) => value(shiftStart, shiftMiddle, shiftEnd, t),
    mostSize: Math.max(sizeStart, sizeMiddle, sizeEnd) / 100,
    steady: sizeStart === sizeMiddle && sizeMiddle === sizeEnd && shiftStart === shiftMiddle && shiftMiddle === shiftEnd,
    turning: Math.abs(turnEnd - turnStart),
  }
}

const same = (points: readonly CurvePoint[]) => points.every(([, v]) => v === points[0][1])

export const smooth = (f: number) => f * f * (3 - 2 * f)

/** A value between start, middle and end, without a corner midway. */
function between(start: number, middle: number, end: number, t: number): number {
  // the parabola through all three (Lagrange), held between them so that it never overshoots
  const v = start * (1 - t) * (1 - 2 * t) + middle * 4 * t * (1 - t) + end * t * (2 * t - 1)
  return Math.max(Math.min(start, middle, end), Math.min(Math.max(start, middle, end), v))
}
