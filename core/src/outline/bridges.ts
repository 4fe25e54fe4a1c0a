import type { SimplePolygon } from '../kernel/manifold'
import { Area, clipAreas } from './clip'
import { windsAbout } from './areas'
import { LINE, type Path, pathArea } from './path'

export interface BridgeOptions {
  /** bridges to each counter, evenly round it */
  readonly count: number
  /** mm */
  readonly width: number
  /** of the first one, degrees against the clock from the right */
  readonly angle: number
}

/** How far beyond the stroke a bridge is cut, in shares of its width: slanting sides must be parted whole. */
const BEYOND = 0.6

/**
 * Cuts bridges through the strokes about each counter of an area: from the counter's middle outwards until the stroke ends over the bridge's
 * whole width. `paths` are the area's curves, turned so that they bound it by the non-zero rule; `rings` the same flattened, holes clockwise.
 * What comes back keeps its curves. Needs the manifold kernel loaded.
 */
export function cutBridges(paths: readonly Path[], rings: readonly SimplePolygon[], { count, width, angle }: BridgeOptions): Path[] {
  const holes = rings.filter((ring) => ringArea(ring) < 0)
  if (holes.length === 0) return [...paths]
  const bands = holes.flatMap((hole) => {
    const middle = middleOf(hole)
    return Array.from({ length: count }, (_, i) => bandFrom(middle, ((angle + (360 * i) / count) * Math.PI) / 180, width, rings))
  })
  return clipAreas(new Area(paths), new Area(bands), 'subtract')
}

/** How many counters an area's paths have. */
export const countersOf = (paths: readonly Path[]): number => paths.filter((path) => pathArea(path) < 0).length

/** Below nought for a ring that runs with the clock. */
export function ringArea(ring: SimplePolygon): number {
  let twice = 0
  for (let i = 0; i < ring.length; i++) {
    const [a, b] = [ring[i], ring[(i + 1) % ring.length]]
    twice += a[0] * b[1] - b[0] * a[1]
  }
  return twice / 2
}

/** The middle of mass of a ring, or, where that lies outside of it, the middle of its widest level chord. */
function middleOf(ring: SimplePolygon): readonly [number, number] {
  let [x, y, twice] = [0, 0, 0]
  for (let i = 0; i < ring.length; i++) {
    const [a, b] = [ring[i], ring[(i + 1) % ring.length]]
    const cross = a[0] * b[1] - b[0] * a[1]
    x += (a[0] + b[0]) * cross
    y += (a[1] + b[1]) * cross
    twice += cross
  }
  const middle = [x / (3 * twice), y / (3 * twice)] as const
  if (windsAbout(ring.flat(), middle[0], middle[1])) return middle
  const ys = ring.map(([, v]) => v)
  const [low, high] = [Math.min(...ys), Math.max(...ys)]
  let best: readonly [number, number] = middle
  let widest = 0
  for (let k = 1; k < 24; k++) {
    const level = low + ((high - low) * k) / 24
    const crossings = ring
      .flatMap((a, i) => {
        const b = ring[(i + 1) % ring.length]
        return a[1] > level === b[1] > level ? [] : [a[0] + ((level - a[1]) / (b[1] - a[1])) * (b[0] - a[0])]
      })
      .sort((u, v) => u - v)
    for (let i = 0; i + 1 < crossings.length; i += 2)
      if (crossings[i + 1] - crossings[i] > widest) {
        widest = crossings[i + 1] - crossings[i]
        best = [(crossings[i] + crossings[i + 1]) / 2, level]
      }
  }
  return best
}

/** A band from a counter's middle through the stroke about it. */
function bandFrom([x, y]: readonly [number, number], angle: number, width: number, rings: readonly SimplePolygon[]): Path {
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  let length = 0
  for (const side of [-0.5, -0.25, 0, 0.25, 0.5]) {
    const [ox, oy] = [x - side * width * s, y + side * width * c]
    const crossings = rings
      .flatMap((ring) =>
        ring.flatMap((a, i) => {
          const b = ring[(i + 1) % ring.length]
          const [p, q] = [(a[0] - ox) * -s + (a[1] - oy) * c, (b[0] - ox) * -s + (b[1] - oy) * c]
          if (p > 0 === q > 0) return []
          const share = p / (p - q)
          const along = (a[0] + share * (b[0] - a[0]) - ox) * c + (a[1] + share * (b[1] - a[1]) - oy) * s
          return along > 0 ? [along] : []
        }),
      )
      .sort((u, v) => u - v)
    // out of the counter into the stroke, and out of the stroke; a line that begins in the stroke leaves it at once
    const leaves = crossings.length % 2 === 0 ? crossings[1] : crossings[0]
    length = Math.max(length, leaves ?? 0)
  }
  const end = length + BEYOND * width
  const at = (along: number, side: number) => [x + along * c - side * width * s, y + along * s + side * width * c]
  return {
    verbs: Uint8Array.from([LINE, LINE, LINE]),
    coords: Float64Array.from([...at(0, -0.5), ...at(end, -0.5), ...at(end, 0.5), ...at(0, 0.5)]),
    closed: true,
  }
}
