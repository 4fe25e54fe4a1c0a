import { ArcLength, type Place } from '../../../outline/arc-length'
import { smoothPath } from '../../../outline/spline'
import type { LetteringParams } from './schema'

/** The extent of a set line along its baseline, and how far it lies under the first, mm. */
export interface LineExtent {
  readonly width: number
  readonly below: number
}

/** What lines are bent along. */
export interface Baseline {
  /** Where the point `s` mm along a line lies: on the baseline, with the direction of travel. */
  place(line: number, s: number): Place
  /** where a line begins, mm along it, by the alignment */
  begin(line: number): number
  /** length there is for a line, mm; Infinity when there is no end */
  room(line: number): number
  /** whether a line that fills the room meets its own beginning */
  readonly round: boolean
}

export class BaselineError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly remedy: string,
    readonly field: string,
  ) {
    super(message)
    this.name = 'BaselineError'
  }
}

/** The baseline the parameters ask for; throws a BaselineError when the lines cannot lie on it. */
export function baselineFor(params: LetteringParams, lines: readonly LineExtent[], capHeight: number): Baseline {
  switch (params.layout) {
    case 'straight':
    case 'stack':
      throw new Error('straight lines need no baseline')
    case 'circle':
      return circle(params, lines)
    case 'arc':
      return arc(params, lines)
    case 'stroke':
      return alongStroke(params, lines, capHeight)
  }
}

const aligned = (params: LetteringParams, from: number, to: number, width: number): number =>
  params.align === 'left' || params.align === 'justified' ? from : params.align === 'centre' ? (from + to - width) / 2 : to - width

/** Place on a circle about (0, centreY), `phi` radians clockwise from its top; travelling clockwise or against it. */
function onCircle(radius: number, centreY: number, phi: number, clockwise: boolean): Place {
  const [s, c] = [Math.sin(phi), Math.cos(phi)]
  const sign = clockwise ? 1 : -1
  return { x: radius * s, y: centreY + radius * c, tx: sign * c, ty: -sign * s }
}

function radiiFor(radius: number, lines: readonly LineExtent[], outside: boolean, field: string): number[] {
  const radii = lines.map(({ below }) => (outside ? radius - below : radius + below))
  const bad = radii.findIndex((r) => !(r > 1e-3))
  if (bad >= 0)
    throw new BaselineError(
      'radius-too-small',
      `Line ${bad + 1} would lie at or beyond the middle of the circle.`,
      `Give a radius above ${Math.ceil(lines[bad].below)} mm, a smaller leading, or fewer lines.`,
      field,
    )
  return radii
}

function circle(params: LetteringParams, lines: readonly LineExtent[]): Baseline {
  const outside = params.side === 'outside'
  const radii = radiiFor(params.radius, lines, outside, 'radius')
  const start = (params.startAngle * Math.PI) / 180 + (outside ? 0 : Math.PI)
  return {
    round: true,
    room: (line) => 2 * Math.PI * radii[line],
    begin: (line) => (params.align === 'justified' ? 0 : aligned(params, 0, 0, lines[line].width)),
    place: (line, s) => onCircle(radii[line], 0, start + ((outside ? 1 : -1) * s) / radii[line], outside),
  }
}

function arc(params: LetteringParams, lines: readonly LineExtent[]): Baseline {
  const angle = (params.sweep * Math.PI) / 180
  const rises = angle > 0
  const radius = lines.reduce((most, l) => Math.max(most, l.width), 0) / Math.abs(angle)
  const radii = radiiFor(radius, lines, rises, 'sweep')
  const half = (line: number) => (Math.abs(angle) / 2) * radii[line]
  return {
    round: false,
    room: (line) => (params.align === 'justified' ? 2 * half(line) : Infinity),
    begin: (line) => aligned(params, -half(line), half(line), lines[line].width),
    place: (line, s) => onCircle(radii[line], rises ? -radius : radius, (rises ? 0 : Math.PI) + ((rises ? 1 : -1) * s) / radii[line], rises),
  }
}

function alongStroke(params: LetteringParams, lines: readonly LineExtent[], capHeight: number): Baseline {
  let measured: ArcLength
  try {
    measured = new ArcLength(smoothPath(params.stroke.points, params.stroke.closed))
  } catch {
    throw new BaselineError('empty-stroke', 'The stroke has no length: its points coincide.', 'Draw it again, or move its points apart.', 'stroke')
  }
  const under = params.side === 'inside' ? capHeight : 0
  return {
    round: measured.closed,
    room: () => measured.length,
    begin: (line) => params.startAt + aligned(params, 0, measured.length, lines[line].width),
    place(line, s) {
      const { x, y, tx, ty } = measured.at(s)
      const down = under + lines[line].below
      return { x: x + ty * down, y: y - tx * down, tx, ty }
    },
  }
}
