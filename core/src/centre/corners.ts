import { type Line, resampled, type Spot, unit } from './line'

export type { Spot } from './line'

/** A line taken through an axis, before its ends are finished. */
export interface Drawn {
  points: Line
  readonly closed: boolean
  /** the joints its ends lie in */
  readonly joints: readonly [Middle | undefined, Middle | undefined]
  /** the corners its ends meet in */
  readonly corners: readonly [readonly [number, number] | undefined, readonly [number, number] | undefined]
}

interface Middle {
  readonly x: number
  readonly y: number
}

/** Turns sharper than this within a stroke's width are corners, degrees. */
const CORNER = 60
/** A spur this many radii away tells of a corner; two lines meet no further than this from it. */
const SPUR = 1.2
const FURTHEST = 4

/** A line parted where it turns a corner within its own width: both halves run on to where they meet. */
export function partedAtCorners(line: Drawn, spurs: readonly Spot[]): Drawn[] {
  const radii = line.points.map(([, , r]) => r).sort((a, b) => a - b)
  const r = radii[radii.length >> 1] ?? 0
  if (!(r > 0)) return [line]
  const step = r / 3
  let points = resampled(line.closed ? [...line.points, line.points[0]] : line.points, step)
  if (line.closed) points = points.slice(0, -1)
  const n = points.length
  if (n < 8) return [line]
  // directions are compared this far either side
  const w = 3
  const at = (i: number) => (line.closed ? points[(i + 4 * n) % n] : points[Math.max(0, Math.min(n - 1, i))])
  const turns = points.map((_, i) => {
    if (!line.closed && (i < w || i >= n - w)) return 0
    const [a, b, c, d] = [at(i - 2 * w), at(i - 1), at(i + 1), at(i + 2 * w)]
    const [[ux, uy], [vx, vy]] = [unit(b[0] - a[0], b[1] - a[1]), unit(d[0] - c[0], d[1] - c[1])]
    return (Math.acos(Math.max(-1, Math.min(1, ux * vx + uy * vy))) * 180) / Math.PI
  })
  const cuts: number[] = []
  for (let i = 0; i < n; i++) {
    if (turns[i] < CORNER || !spurs.some(([x, y]) => Math.hypot(x - points[i][0], y - points[i][1]) < SPUR * points[i][2])) continue
    let top = true
    for (let k = -2 * w; k <= 2 * w && top; k++) {
      const j = line.closed ? (i + k + n) % n : i + k
      if (j >= 0 && j < n && (turns[j] > turns[i] || (turns[j] === turns[i] && k < 0))) top = false
    }
    if (top) cuts.push(i)
  }
  if (cuts.length === 0) return [line]
  if (line.closed) {
    const [first] = cuts
    points = [...points.slice(first), ...points.slice(0, first + 1)]
    return parts(
      points,
      [...cuts.map((c) => c - first), n],
      cuts.map(() => undefined),
      r,
      w,
      true,
    )
  }
  return parts(points, [0, ...cuts, n - 1], line.joints, r, w, false)
}

function parts(points: Line, bounds: readonly number[], joints: readonly (Middle | undefined)[], r: number, w: number, closed: boolean): Drawn[] {
  const last = points.length - 1
  const line = (i: number, way: number) => {
    const clamp = (k: number) => points[Math.max(0, Math.min(last, k))]
    const [a, b] = [clamp(i + way * w), clamp(i + 3 * way * w)]
    return [a[0], a[1], ...unit(a[0] - b[0], a[1] - b[1])]
  }
  const meet = (i: number): readonly [number, number] => {
    const around = closed && (i === 0 || i === last)
    const [ax, ay, adx, ady] = line(around ? last : i, -1)
    const [bx, by, bdx, bdy] = line(around ? 0 : i, 1)
    const d = adx * bdy - ady * bdx
    const f = ((bx - ax) * bdy - (by - ay) * bdx) / d
    const [x, y] = [ax + f * adx, ay + f * ady]
    const here = points[i]
    return Math.abs(d) > 0.1 && Math.hypot(x - here[0], y - here[1]) < FURTHEST * r ? [x, y] : [here[0], here[1]]
  }
  return bounds.slice(0, -1).flatMap((i, k): Drawn[] => {
    const j = bounds[k + 1]
    const [fromCorner, toCorner] = [closed || k > 0, closed || k + 2 < bounds.length]
    const part = points.slice(i + (fromCorner ? w : 0), j + 1 - (toCorner ? w : 0))
    if (part.length < 2) return []
    return [
      {
        points: part,
        closed: false,
        joints: [fromCorner ? undefined : joints[0], toCorner ? undefined : joints[1]],
        corners: [fromCorner ? meet(i) : undefined, toCorner ? meet(j) : undefined],
      },
    ]
  })
}
