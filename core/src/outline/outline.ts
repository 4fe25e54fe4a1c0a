import { type Affine, IDENTITY } from './affine'
import { controlBounds, type Path, transformPath } from './path'

/** One letter as a person sees it: a grapheme of the text, however many glyphs it took. */
export interface Letter {
  /** the characters it stands for, e.g. "é" or "ffi" for a ligature */
  readonly text: string
  /** index of its first UTF-16 unit in the text */
  readonly at: number
}

/** The contours one letter contributes to a region, filled by the non-zero rule. */
export interface Member {
  /** index into Outline.letters, −1 when the shape is no letter */
  readonly letter: number
  /** closed contours in mm, in the region's own coordinates */
  readonly paths: readonly Path[]
}

/**
 * An area that is formed as one. Usually one glyph; several where overlapping letters are united. The area is the union
 * of its members' areas: uniting is left to whoever flattens it, so that the curves stay exact.
 */
export interface Region {
  /** equal keys mean equal members: what a form kernel caches under */
  readonly key: string
  readonly members: readonly Member[]
  /** where the region's origin lies in the outline, mm, on the outline's lattice */
  readonly dx: number
  readonly dy: number
  /** index into Outline.layers */
  readonly layer: number
}

/** A set of areas that are coloured, lifted and formed together. */
export interface Layer {
  /** names it in what is said about it; unique in its outline */
  readonly id: string
  readonly name: string
  /** "#rrggbb"; without one it is dressed like everything else */
  readonly colour?: string
  /** its own depth and front edge where it differs from what a form step is told, and how far it is lifted, mm */
  readonly depth?: number
  readonly edge?: number
  readonly lift?: number
}

/** Closed Bézier areas with holes, tagged by letter and layer, plus open strokes. XY plane, Y up, millimetres. */
export interface Outline {
  readonly kind: 'outline'
  readonly regions: readonly Region[]
  readonly strokes: readonly Path[]
  readonly letters: readonly Letter[]
  readonly layers: readonly Layer[]
  /** heights of the type's own lines, mm, for drawing along them */
  readonly guides?: readonly { readonly name: string; readonly y: number }[]
  /** lattice step in mm (a power of two): placed coordinates are multiples of it, see lattice.ts */
  readonly lattice: number
  /** it is empty because its time has not come: what is made of it is empty, too, and that is no failure */
  readonly nothingYet?: boolean
}

/** Every closed contour in the outline's own coordinates, region by region. */
export function placedPaths(outline: Outline): Path[] {
  return outline.regions.flatMap((region) => regionPaths(region))
}

/** The contours of one region, placed. */
export function regionPaths(region: Region): Path[] {
  const m: Affine = [IDENTITY[0], 0, 0, 1, region.dx, region.dy]
  return region.members.flatMap((member) => member.paths.map((path) => transformPath(path, m)))
}

/** [minX, minY, maxX, maxY] by control points, mm; infinities when there is nothing. */
export function outlineBounds(outline: Outline): [number, number, number, number] {
  return controlBounds([...placedPaths(outline), ...outline.strokes])
}
