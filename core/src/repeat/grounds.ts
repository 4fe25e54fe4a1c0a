import { hashNumbers } from '../cache/hash'
import { bordersOf, letterOf } from '../outline/areas'
import type { Outline } from '../outline/outline'
import { type Path, PathBuilder } from '../outline/path'
import { type PolygonSet, regionPolygons } from '../outline/polygon'
import { flatFaces } from '../solid/chisel'
import { labelAt, type Solid } from '../solid/solid'

/** A flat area that copies are set on, in coordinates of its own. */
export interface Ground {
  /** equal keys mean equal areas */
  readonly key: string
  readonly set: () => PolygonSet
  /** its borders, as exactly as they are known */
  readonly borders: () => readonly Path[]
  /** where its origin lies, mm */
  readonly x: number
  readonly y: number
  readonly z: number
  readonly letter: number
}

/** How near curves are followed, mm. */
const FOLLOWED = 0.01

/** The areas of an outline, in the plane z = 0. */
export const outlineGrounds = ({ regions, lattice }: Outline): Ground[] =>
  regions.map((region) => ({
    key: `${region.key}:${lattice}`,
    set: () => regionPolygons(region, FOLLOWED, lattice),
    borders: () => bordersOf({ ...region, dx: 0, dy: 0 }),
    x: region.dx,
    y: region.dy,
    z: 0,
    letter: letterOf(region),
  }))

/** The flat stretches of a solid that look forward and are of these groups. */
export const faceGrounds = (solid: Solid, groups: readonly number[]): Ground[] =>
  flatFaces(solid, groups).map(({ set, triangles, x, y, z }) => ({
    key: `face:${hashNumbers(set.rings.map(({ xy }) => xy))}`,
    set: () => set,
    borders: () =>
      set.rings.map(({ xy }) => {
        const path = new PathBuilder(xy[0], xy[1])
        for (let i = 2; i < xy.length; i += 2) path.lineTo(xy[i], xy[i + 1])
        return path.build(true)
      }),
    x,
    y,
    z,
    letter: labelAt(solid, triangles[0], 'letter'),
  }))
