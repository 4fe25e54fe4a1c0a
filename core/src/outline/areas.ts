import { hashNumbers } from '../cache/hash'
import type { Memo } from '../cache/memo'
import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { Area, unitePaths } from './clip'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import { type Outline, type Region, regionPaths } from './outline'
import { controlBounds, type Path, pathArea, reversePath } from './path'
import { toPairs } from './polygon'

/** How near curves are followed when an outline is offset or smoothed, mm; far under what a cutter or printer can show. */
const CURVE_TOLERANCE = 0.01
/** A turn sharper than this in a fine polyline is a corner, degrees. */
const CORNER = 14

/** The closed paths of a region in the outline's own coordinates, turned so that those of each member bound its area by the non-zero rule. */
export function orientedPaths(region: Region): Path[] {
  return region.members.flatMap((member) => {
    const paths = regionPaths({ ...region, members: [member] }).filter((path) => path.closed)
    // a member's outer rings may run either way
    return paths.reduce((sum, path) => sum + pathArea(path), 0) < 0 ? paths.map(reversePath) : paths
  })
}

/** A region's borders in the outline's own coordinates, members that overlap united: what a cutter follows. */
export const bordersOf = (region: Region): Path[] => (region.members.length > 1 ? unitePaths(orientedPaths(region)) : regionPaths(region))

/** A region's area made ready for clipping. */
export const regionArea = (region: Region): Area => new Area(orientedPaths(region))

/** The area of a region as rings in the outline's own coordinates: outer ones counter-clockwise, holes clockwise. */
export function regionRings(region: Region, tolerance = CURVE_TOLERANCE): SimplePolygon[] {
  const rings = orientedPaths(region)
    .map((path) => toPairs(flattenPath(path, { tolerance: tolerance / 4, maxTurn: 5 }).xy))
    .filter((ring) => ring.length >= 3)
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  return withScope((own) => own(new CrossSection(rings, 'NonZero')).toPolygons())
}

/** Rings as closed paths of fitted curves. */
export const fitRings = (rings: readonly SimplePolygon[], tolerance = CURVE_TOLERANCE): Path[] =>
  rings.filter((ring) => ring.length >= 3).map((ring) => fitPath(Float64Array.from(ring.flat()), true, { tolerance, corner: CORNER }))

/** The area grown (or, below zero, shrunk) by a distance, mm. */
export function offsetRings(rings: readonly SimplePolygon[], distance: number, join: 'mitre' | 'round' | 'square'): SimplePolygon[] {
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  const kind = ({ mitre: 'Miter', round: 'Round', square: 'Square' } as const)[join]
  return withScope((own) => {
    const section = own(new CrossSection(rings.slice(), 'Positive'))
    return own(section.offset(distance, kind, 4, join === 'round' ? 120 : 0)).toPolygons()
  })
}

/** A region of its own key from paths in the outline's coordinates; `letter` −1 for none. */
export function regionFrom(paths: readonly Path[], letter: number, layer: number): Region {
  return { key: keyOf('area', paths), members: [{ letter, paths }], dx: 0, dy: 0, layer }
}

/** A region's key from what its paths are. */
export const keyOf = (name: string, paths: readonly Path[]): string => `${name}:${hashNumbers(paths.flatMap((path) => [path.verbs, path.coords]))}`

/** The letter a region belongs to, for what is made of it: the first of its members'. */
export const letterOf = (region: Region): number => region.members[0]?.letter ?? -1

/**
 * The outline with every region's area put through `change`; regions left without area are dropped. Each is worked on where its own origin
 * is, and kept under `name` and its key, so that equal letters are worked out once, wherever they stand.
 */
export function mapAreas(outline: Outline, name: string, change: (rings: SimplePolygon[]) => SimplePolygon[], memo: Memo): Outline {
  const regions = outline.regions.flatMap((region): Region[] => {
    const { dx, dy, layer } = region
    const key = `${name}:${region.key}`
    const paths = memo.get(key, () => fitRings(change(regionRings({ ...region, dx: 0, dy: 0 }))))
    return paths.length > 0 ? [{ key, members: [{ letter: letterOf(region), paths }], dx, dy, layer }] : []
  })
  return { ...outline, regions }
}

/** Closed paths of an area (holes clockwise) as shapes that hang together: an outer path with the holes in it each. */
export function connectedShapes(paths: readonly Path[]): Path[][] {
  const outer = paths.filter((path) => pathArea(path) > 0).map((path) => ({ paths: [path], box: controlBounds([path]), size: pathArea(path) }))
  // a hole belongs to the smallest outline about it
  outer.sort((a, b) => a.size - b.size)
  for (const hole of paths) {
    if (pathArea(hole) > 0) continue
    const { xy } = flattenPath(hole, { tolerance: 0.01, maxTurn: 10 })
    const home = outer.find(({ paths: [path], box }) => {
      if (xy[0] < box[0] || xy[0] > box[2] || xy[1] < box[1] || xy[1] > box[3]) return false
      // a hole may touch its outline at a corner: most of its points decide
      const ring = flattenPath(path, { tolerance: 0.01, maxTurn: 10 }).xy
      let inside = 0
      for (let i = 0; i < xy.length; i += 2) if (windsAbout(ring, xy[i], xy[i + 1])) inside++
      return inside * 4 > xy.length
    })
    home?.paths.push(hole)
  }
  return outer.map((shape) => shape.paths)
}

/**
 * Closed paths turned so that each bounds what a person means by drawing it: one that lies within another is a hole in it,
 * one within a hole is filled again, and those that only overlap are one area together (by the non-zero rule).
 */
export function nestPaths(paths: readonly Path[]): Path[] {
  const flats = paths.map((path) => ({ path, xy: flattenPath(path, { tolerance: 0.02, maxTurn: 10 }).xy, area: Math.abs(pathArea(path)) }))
  const within = (a: (typeof flats)[number], b: (typeof flats)[number]) => {
    if (a.area >= b.area || b.xy.length < 6) return false
    for (let i = 0; i < a.xy.length; i += 2) if (!windsAbout(b.xy, a.xy[i], a.xy[i + 1])) return false
    return true
  }
  return flats.map((a) => {
    const depth = flats.filter((b) => b !== a && within(a, b)).length
    return pathArea(a.path) > 0 === (depth % 2 === 0) ? a.path : reversePath(a.path)
  })
}

/** Whether a polygon (x, y pairs) winds about a point. */
export function windsAbout(ring: ArrayLike<number>, x: number, y: number): boolean {
  let winding = 0
  for (let i = 0; i < ring.length; i += 2) {
    const [x0, y0, x1, y1] = [ring[i], ring[i + 1], ring[(i + 2) % ring.length], ring[(i + 3) % ring.length]]
    if (y0 <= y !== y1 <= y && x0 + ((y - y0) / (y1 - y0)) * (x1 - x0) > x) winding += y1 > y0 ? 1 : -1
  }
  return winding !== 0
}

/** Whether two boxes [minX, minY, maxX, maxY] come within `gap` of each other. */
export const boxesMeet = (a: readonly number[], b: readonly number[], gap = 0): boolean =>
  a[0] <= b[2] + gap && a[2] >= b[0] - gap && a[1] <= b[3] + gap && a[3] >= b[1] - gap

/** [minX, minY, maxX, maxY] of what curves reach, within 0.01 mm; infinities when there are none. */
export function curveBounds(paths: readonly Path[]): [number, number, number, number] {
  return controlBounds(paths.map((path) => ({ verbs: new Uint8Array(), coords: flattenPath(path, { tolerance: 0.01 }).xy, closed: path.closed })))
}
