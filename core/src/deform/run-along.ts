import { ArcLength } from '../outline/arc-length'
import type { Frames } from '../outline/line-frames'
import type { Path } from '../outline/path'
import { type CurvePoint, throughPoints } from '../outline/through-points'
import { SpaceLine } from '../outline/space-line'
import type { Matrix } from '../solid/operations'
import { byDifferences, type SpaceMap } from './space-map'
import type { Box } from './units'

export interface RunAlong {
  readonly kind: 'run-along'
  /** a line in the plane of the letters, mm */
  readonly path: Path
  /** what makes it a line in space: where its plane stands (turned and moved, sized 1), and how it rises off that */
  readonly space?: LineInSpace
  /** what of the piece lies at the line's start, mm along x, and how many mm of the line one mm of it takes */
  readonly start: number
  readonly scale: number
  /** where on the line it begins, mm, and what height of the piece runs on the line */
  readonly from: number
  readonly level: number
  /** mm to the left of the line */
  readonly offset: number
  /** turn about the line, degrees, and size, by the share of the piece's length */
  readonly banking: readonly CurvePoint[]
  readonly size: readonly CurvePoint[]
  /** the piece's length, mm, and the middle of its depth */
  readonly length: number
  readonly middle: number
}

export interface LineInSpace {
  readonly plane: Matrix
  /** mm off the plane, by the share of the path */
  readonly rise: readonly CurvePoint[]
  readonly frames: Frames
}

/** A line that is run along, measured: in the plane of the letters or in space. */
export const measuredLine = ({ path, space }: Pick<RunAlong, 'path' | 'space'>): ArcLength | SpaceLine =>
  space ? new SpaceLine(path, space.rise, space.frames) : new ArcLength(path)

/** Whether the piece takes all of a closed line, so that its end comes to lie at its start. */
export const isWholeRound = (by: RunAlong): boolean => takesAll(by, measuredLine(by))

const takesAll = ({ length, scale }: RunAlong, line: ArcLength | SpaceLine): boolean => line.closed && Math.abs(length * scale - line.length) < 1e-6

/** What is so near to the end of a piece that goes once round is at it, mm. */
const END = 1e-9

/** The piece's x along a line, its y to the line's left and its z up from it: out of the letters' plane for a line that lies in it. */
export function runAlongMap(by: RunAlong, box?: Box): SpaceMap {
  const line = measuredLine(by)
  const round = takesAll(by, line)
  const [banking, size] = [throughPoints(by.banking, 0), throughPoints(by.size, 1)]
  const set = line instanceof SpaceLine && by.space ? inSpace(line, by.space.plane) : inPlane(line as ArcLength)
  return byDifferences((p, o) => {
    const along = p[o] - by.start
    const share = by.length > 0 ? Math.min(1, Math.max(0, along / by.length)) : 0
    const at = by.from + (round && Math.abs(along - by.length) < END ? 0 : along * by.scale)
    const turn = (banking(share) * Math.PI) / 180
    const factor = size(share)
    const [v, w] = [(p[o + 1] - by.level) * factor, (p[o + 2] - by.middle) * factor]
    const [sin, cos] = [Math.sin(turn), Math.cos(turn)]
    set(p, o, at, v * cos - w * sin + by.offset, by.middle + v * sin + w * cos)
  }, box)
}

/** Sets the point at `o` to what lies so far along a line, left of it and up from it. */
type Setter = (p: Float64Array, o: number, at: number, left: number, up: number) => void

const inPlane =
  (line: ArcLength): Setter =>
  (p, o, at, left, up) => {
    const { x, y, tx, ty } = line.at(at)
    p[o] = x - ty * left
    p[o + 1] = y + tx * left
    p[o + 2] = up
  }

const inSpace =
  (line: SpaceLine, m: Matrix): Setter =>
  (p, o, at, left, up) => {
    const place = line.at(at)
    const [x, y, z] = [0, 1, 2].map((k) => place.at[k] + left * place.left[k] + up * place.up[k])
    for (let k = 0; k < 3; k++) p[o + k] = m[4 * k] * x + m[4 * k + 1] * y + m[4 * k + 2] * z + m[4 * k + 3]
  }
