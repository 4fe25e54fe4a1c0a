import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { hullOfDiscs } from '../outline/brush'
import { toPairs } from '../outline/polygon'
import { firstPart, type Line, lengthsOf, resampled, type Spot } from './line'
import type { CentreStroke } from './strokes'

/** A stroke as a pen goes along it: places with how far round each of them it writes, mm. A dot is one place. */
export interface PenLine {
  readonly spots: Line
  /** mm; a dot is as long as it is wide */
  readonly length: number
}

/** A stroke's places stand this share of its half width apart. */
const APART = 0.3
/** How near the pen's circle is followed, mm. */
const ROUND = 0.02
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
    const part = firstPart(spots, left) ?? spots.slice(0, 1)
    // it is put down gently: from nothing to its own width over as long a way
    const down = Math.min(1, left / Math.max(1e-9, Math.min(own, spots[0][2])))
    const discs = part.flatMap(([x, y, r]) => [x, y, r * (left < own ? down : 1)])
    for (let i = 0; i < Math.max(1, part.length - 1); i++) rings.push(toPairs(hullOfDiscs(discs, 3 * i, Math.min(3 * i + 3, discs.length - 3), ROUND)))
    left -= own
  }
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  return withScope((own) => own(new CrossSection(rings, 'NonZero')).toPolygons())
}
