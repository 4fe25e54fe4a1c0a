import { ArcLength } from '../outline/arc-length'
import type { Path } from '../outline/path'
import { type CurvePoint, throughPoints } from '../outline/through-points'
import type { SpaceMap } from './space-map'

export interface RunAlong {
  readonly kind: 'run-along'
  /** a line in the plane of the letters, mm */
  readonly path: Path
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

/** Whether the piece takes all of a closed line, so that its end comes to lie at its start. */
export const isWholeRound = ({ path, length, scale }: RunAlong): boolean => path.closed && Math.abs(length * scale - new ArcLength(path).length) < 1e-6

/** What is so near to the end of a piece that goes once round is at it, mm. */
const END = 1e-9

/** The piece's x along a line, its y to the line's left and its z out of the plane; a line in a plane needs no more of a frame. */
export function runAlongMap(by: RunAlong): SpaceMap {
  const line = new ArcLength(by.path)
  const round = isWholeRound(by)
  const [banking, size] = [throughPoints(by.banking, 0), throughPoints(by.size, 1)]
  return (p, o) => {
    const along = p[o] - by.start
    const share = by.length > 0 ? Math.min(1, Math.max(0, along / by.length)) : 0
    const { x, y, tx, ty } = line.at(by.from + (round && Math.abs(along - by.length) < END ? 0 : along * by.scale))
    const turn = (banking(share) * Math.PI) / 180
    const factor = size(share)
    const [v, w] = [(p[o + 1] - by.level) * factor, (p[o + 2] - by.middle) * factor]
    const [sin, cos] = [Math.sin(turn), Math.cos(turn)]
    const left = v * cos - w * sin + by.offset
    p[o] = x - ty * left
    p[o + 1] = y + tx * left
    p[o + 2] = by.middle + v * sin + w * cos
  }
}
