import type { Point } from '../../../check/rays'
import { sectionLoops } from '../../../solid/section'
import type { Solid } from '../../../solid/solid'

/** What must stand about a socket, mm. */
const WALL = 0.8
/** So many places to a side of the section are looked at. */
const NET = 48

/**
 * Middles of pegs across a flat cut, in the plane's own x and y: as deep inside the section as can be and far from each other; none where a
 * peg of that radius would come nearer to the rim than a wall needs. Fewer than asked for where no more have room.
 */
export function pegPlaces(body: Solid, point: Point, x: Point, y: Point, count: number, radius: number): [number, number][] {
  const loops = sectionLoops(body, point, x, y)
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { xy } of loops)
    for (let i = 0; i < xy.length; i += 2) {
      x0 = Math.min(x0, xy[i])
      x1 = Math.max(x1, xy[i])
      y0 = Math.min(y0, xy[i + 1])
      y1 = Math.max(y1, xy[i + 1])
    }
  const free: { at: [number, number]; room: number }[] = []
  for (let i = 0; i < NET; i++)
    for (let j = 0; j < NET; j++) {
      const at: [number, number] = [x0 + ((i + 0.5) * (x1 - x0)) / NET, y0 + ((j + 0.5) * (y1 - y0)) / NET]
      const room = roomAt(loops, at[0], at[1])
      if (room >= radius + WALL) free.push({ at, room })
    }
  const chosen: [number, number][] = []
  while (chosen.length < count) {
    let best: [number, number] | undefined
    let most = 0
    for (const { at, room } of free) {
      const apart = chosen.reduce((least, other) => Math.min(least, Math.hypot(at[0] - other[0], at[1] - other[1])), Infinity)
      if (apart < 2 * radius + WALL) continue
      const score = Math.min(room * 2, apart)
      if (score <= most) continue
      most = score
      best = at
    }
    if (!best) break
    chosen.push(best)
  }
  return chosen
}

/** How far a place lies from the nearest rim of a section, mm; below nought outside of it. */
function roomAt(loops: ReturnType<typeof sectionLoops>, px: number, py: number): number {
  let [least, inside] = [Infinity, false]
  for (const { xy } of loops)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const [dx, dy] = [xy[i] - xy[j], xy[i + 1] - xy[j + 1]]
      const share = Math.min(1, Math.max(0, ((px - xy[j]) * dx + (py - xy[j + 1]) * dy) / (dx * dx + dy * dy || 1)))
      least = Math.min(least, Math.hypot(px - xy[j] - share * dx, py - xy[j + 1] - share * dy))
      if (xy[i + 1] > py !== xy[j + 1] > py && px < ((xy[j] - xy[i]) * (py - xy[i + 1])) / (xy[j + 1] - xy[i + 1]) + xy[i]) inside = !inside
    }
  return inside ? least : -least
}
