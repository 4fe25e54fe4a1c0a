import { manifold, type SimplePolygon, withScope } from '../kernel/manifold'
import { fitPath } from './fit'
import { flattenPath } from './flatten'
import { type Outline, type Region, regionPaths } from './outline'
import { controlBounds, type Path, toSvgPath } from './path'
import { doubleArea, toPairs } from './polygon'

/** How near curves are followed when an outline is cut anew, mm; far under what a cutter or printer can show. */
export const CURVE_TOLERANCE = 0.01
/** A turn sharper than this in a fine polyline is a corner, degrees. */
const CORNER = 14

/** The area of a region as rings in the outline's own coordinates: outer ones counter-clockwise, holes clockwise. */
export function regionRings(region: Region, tolerance = CURVE_TOLERANCE): SimplePolygon[] {
  const rings = region.members.flatMap((member) => {
    const flats = regionPaths({ ...region, members: [member] })
      .filter((path) => path.closed)
      .map((path) => flattenPath(path, { tolerance: tolerance / 4, maxTurn: 5 }).xy)
      .filter((xy) => xy.length >= 6)
    const total = flats.reduce((sum, xy) => sum + doubleArea(xy), 0)
    // a member's outer rings may run either way
    return total < 0 ? flats.map((xy) => toPairs(xy).reverse()) : flats.map(toPairs)
  })
  if (rings.length === 0) return []
  const { CrossSection } = manifold()
  return withScope((own) => own(new CrossSection(rings, 'NonZero')).toPolygons())
}

/** Area within rings, mm². */
export const ringsArea = (rings: readonly SimplePolygon[]): number => rings.reduce((sum, ring) => sum + doubleArea(ring.flat()) / 2, 0)

/** Rings as closed paths of fitted curves. */
export const fitRings = (rings: readonly SimplePolygon[], tolerance = CURVE_TOLERANCE): Path[] =>
  rings.filter((ring) => ring.length >= 3).map((ring) => fitPath(Float64Array.from(ring.flat()), true, { tolerance, corner: CORNER }))

export type Boolean2d = 'add' | 'subtract' | 'intersect'

/** The union, difference or intersection of two areas. */
export function combineRings(a: readonly SimplePolygon[], b: readonly SimplePolygon[], how: Boolean2d): SimplePolygon[] {
  if (a.length === 0) return how === 'add' ? b.slice() : []
  if (b.length === 0) return how === 'intersect' ? [] : a.slice()
  const { CrossSection } = manifold()
  return withScope((own) => {
    const [first, second] = [own(new CrossSection(a.slice(), 'Positive')), own(new CrossSection(b.slice(), 'Positive'))]
    return own(how === 'add' ? first.add(second) : how === 'subtract' ? first.subtract(second) : first.intersect(second)).toPolygons()
  })
}

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
  return { key: `area:${toSvgPath(paths)}`, members: [{ letter, paths }], dx: 0, dy: 0, layer }
}

/** The letter a region belongs to, for what is made of it: the first of its members'. */
export const letterOf = (region: Region): number => region.members[0]?.letter ?? -1

/** The outline with every region's area put through `change`; regions left without area are dropped. */
export function mapAreas(outline: Outline, change: (rings: SimplePolygon[], region: Region) => SimplePolygon[]): Outline {
  const regions = outline.regions.flatMap((region) => {
    const paths = fitRings(change(regionRings(region), region))
    return paths.length > 0 ? [regionFrom(paths, letterOf(region), region.layer)] : []
  })
  return { ...outline, regions }
}

/** [minX, minY, maxX, maxY] of what curves reach, within 0.01 mm; infinities when there are none. */
export function curveBounds(paths: readonly Path[]): [number, number, number, number] {
  return controlBounds(paths.map((path) => ({ verbs: new Uint8Array(), coords: flattenPath(path, { tolerance: 0.01 }).xy, closed: path.closed })))
}

/** [minX, minY, maxX, maxY] of rings. */
export function ringsBounds(rings: readonly SimplePolygon[]): [number, number, number, number] {
  return controlBounds(rings.map((ring) => ({ verbs: new Uint8Array(), coords: Float64Array.from(ring.flat()), closed: true })))
}
