import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { type Line, lengthsOf, resampled, type Spot } from './line'
import type { CentreStroke } from './strokes'

/** A stroke as a pen goes along it: places with how far round each of them it writes, mm. A dot is one place. */
export interface PenLine {
  readonly spots: Line
  /** mm; a dot is as long as it is wide */
  readonly length: number
}

/** A stroke's places stand this share of its half width apart. */
const APART = 0.3
/** Sides of the circle a pen writes with. */
const SIDES = 28
/** A point of the border that lies just on the pen's circle counts as under it. */
const ROOM = 1.02

/**
 * Strokes of an area as a pen goes along them that leaves nothing of it unwritten: each point of the border lies under the pen at the place whose own circle is
 * nearest to it, so that serifs and flared ends are written with the end they stand at. `border` is x, y pairs all along the area's borders, mm.
 */
export function penLines(strokes: readonly CentreStroke[], border: ArrayLike<number>): PenLine[] {
  const lines = strokes.map(({ points, closed, dot }): Spot[] => {
    if (dot) return [points[0]]
    const half = points.map(([, , r]) => r).sort((a, b) => a - b)[points.length >> 1]
    return [...resampled(closed ? [...points, points[0]] : points, Math.max(1e-3, APART * half))]
  })
  const radii = lines.map((line) => Float64Array.from(line, ([, , r]) => r))
  for (let i = 0; i + 1 < border.length; i += 2) {
    const [x, y] = [border[i], border[i + 1]]
    let least = Infinity
    let [line, spot, reach] = [0, 0, 0]
    for (let l = 0; l < lines.length; l++)
      for (let s = 0; s < lines[l].length; s++) {
        const [sx, sy, r] = lines[l][s]
        const distance = Math.hypot(x - sx, y - sy)
        if (distance - r >= least) continue
        least = distance - r
        ;[line, spot, reach] = [l, s, distance]
      }
    if (lines.length > 0 && reach > radii[line][spot]) radii[line][spot] = reach
  }
  return lines.map((line, l) => {
    const spots = line.map(([x, y], s): Spot => [x, y, radii[l][s] * ROOM])
    return { spots, length: strokes[l].dot ? 2 * strokes[l].points[0][2] : (lengthsOf(line).at(-1) ?? 0) }
  })
}

export const lengthOfLines = (lines: readonly PenLine[]): number => lines.reduce((sum, { length }) => sum + length, 0)

/** What a pen has covered when it has gone so far along lines, one after another, mm: rings of the area, none where it has not begun. Needs the manifold kernel. */
export function covered(lines: readonly PenLine[], length: number): SimplePolygon[] {
  const rings: SimplePolygon[] = []
  let left = length
  for (const { spots, length: own } of lines) {
    if (!(left > 0)) break
    const part = reached(spots, left)
    // it is put down gently: from nothing to its own width over as long a way
    const down = Math.min(1, left / Math.max(1e-9, Math.min(own, spots[0][2])))
    const circles = part.map(([x, y, r]) => circle(x, y, r * (left < own ? down : 1)))
    if (circles.length === 1) rings.push(circles[0])
    for (let i = 1; i < circles.length; i++) rings.push(hull([...circles[i - 1], ...circles[i]]))
    left -= own
  }
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  return withScope((own) => own(new CrossSection(rings, 'NonZero')).toPolygons())
}

/** The places of a line that are reached after so much of it, the last where that ends. */
function reached(spots: Line, length: number): Line {
  const lengths = lengthsOf(spots)
  const end = lengths.findIndex((l) => l >= length)
  if (end < 1) return end < 0 ? spots : spots.slice(0, 1)
  const f = (length - lengths[end - 1]) / (lengths[end] - lengths[end - 1] || 1)
  const [a, b] = [spots[end - 1], spots[end]]
  return [...spots.slice(0, end), [a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1]), a[2] + f * (b[2] - a[2])]]
}

/** Counter-clockwise, about the circle. */
function circle(x: number, y: number, r: number): SimplePolygon {
  const about = r / Math.cos(Math.PI / SIDES)
  return Array.from({ length: SIDES }, (_, k): [number, number] => {
    const a = (2 * Math.PI * k) / SIDES
    return [x + about * Math.cos(a), y + about * Math.sin(a)]
  })
}

/** The convex hull of points, counter-clockwise (Andrew's monotone chain). */
function hull(points: readonly (readonly [number, number])[]): SimplePolygon {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1])
  const chain = (list: readonly (readonly [number, number])[]) => {
    const out: [number, number][] = []
    for (const [x, y] of list) {
      for (let n = out.length; n >= 2; n = out.length) {
        const [[ax, ay], [bx, by]] = [out[n - 2], out[n - 1]]
        if ((bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0) break
        out.pop()
      }
      out.push([x, y])
    }
    return out.slice(0, -1)
  }
  return [...chain(sorted), ...chain(sorted.reverse())]
}
