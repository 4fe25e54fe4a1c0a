import type { Line } from '../centre/line'
import { checkMesh } from '../check/check'
import { crossingPairs } from '../check/crossings'
import { hullOf } from '../join/hull'
import { united, type United } from '../join/united'
import type { Solid } from '../solid/solid'
import { type PaintStyle, PaintStrip } from './strip'

/** Stations over which parts of a strip reach into each other. */
const SHARED = 3
/** Parts no longer than this that still cross themselves, where a stroke turns on the spot, are filled out to their hull. */
const SHORTEST = 2 * SHARED + 2

/**
 * Strips of paint along lines, each drawn in one go, as one sound solid: a strip that crosses itself is made of parts, and all are united. None where the
 * lines are too short. Needs the manifold kernel loaded.
 */
export function painted(lines: readonly { readonly line: Line; readonly style: PaintStyle }[], lattice: number): United | undefined {
  const parts: Solid[] = []
  for (const { line, style } of lines) {
    if (line.length < 2) continue
    const strip = new PaintStrip(line, style, lattice)
    parts.push(...soundParts(strip, 0, strip.stations - 1))
  }
  return united(parts)
}

/** The first crossing tells. */
const isSound = (solid: Solid) => checkMesh(solid, { deep: false }).sound && crossingPairs(solid.positions, solid.indices, 1).length === 0

/** Parts that are sound by themselves and overlap. */
function soundParts(strip: PaintStrip, from: number, to: number): Solid[] {
  const solid = strip.solid(from, to)
  if (solid.indices.length === 0) return []
  if (isSound(solid)) return [solid]
  if (to - from < SHORTEST) {
    const hull = hullOf(strip.points(from, to), solid.lattice)
    return isSound(hull) ? [hull] : []
  }
  const middle = (from + to) >> 1
  return [...soundParts(strip, from, middle + SHARED - 1), ...soundParts(strip, middle - SHARED + 1, to)]
}
