import { z } from 'zod'

export const MOST_CURVE_POINTS = 24

/** Points [how far along, 0 to 1; value] of a curve that a value follows along a line, in their order. */
export const curvePoints = (what: string, least: number, most: number) =>
  z
    .array(
      z.tuple([
        z.number(`${what}: a point must be a number.`).min(0, `${what}: a point lies before the start.`).max(1, `${what}: a point lies beyond the end.`),
        z.number(`${what}: a value must be a number.`).min(least, `${what} is at least ${least}.`).max(most, `${what} is at most ${most}.`),
      ]),
    )
    .max(MOST_CURVE_POINTS, `${what} takes ${MOST_CURVE_POINTS} points at most.`)
    .refine(
      (points) => points.every(([t], i) => i === 0 || t > points[i - 1][0]),
      `${what}: the points must go from the start to the end, each at a place of its own.`,
    )
