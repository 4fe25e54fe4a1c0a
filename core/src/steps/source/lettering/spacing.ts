import type { Memo } from '../../../cache/memo'
import type { FontFace } from '../../../font/face'
import { type Affine, compose, translation } from '../../../outline/affine'
import { flattenPath } from '../../../outline/flatten'
import { transformPath } from '../../../outline/path'
import { advanceOf, type Cell, type CellShape, cellKey, scaleOf } from './cell'

/** The map of a cell's own change, font units: scaled from its origin, turned about its middle. */
export function changeMap(face: FontFace, cell: Cell): Affine {
  const k = scaleOf(cell)
  const scale: Affine = [k, 0, 0, k, 0, 0]
  const turn = ((cell.change?.turn ?? 0) * Math.PI) / 180
  if (turn === 0) return scale
  const [cx, cy] = [k * cell.middle, (k * face.capHeight) / 2]
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  return compose(translation(cx, cy), compose([c, s, -s, c, 0, 0], compose(translation(-cx, -cy), scale)))
}

/** A cell's shape as straight sides within 1/4000 em, kept in `memo`. */
function cellShape(face: FontFace, cell: Cell, memo: Memo): CellShape {
  return memo.get(`cell:${cellKey(face, cell)}`, () => {
    const change = changeMap(face, cell)
    const sides: number[] = []
    for (const g of cell.glyphs) {
      const map = compose(change, translation(g.x, g.y))
      for (const path of face.outline(g.glyph)) {
        const { xy } = flattenPath(transformPath(path, map), { tolerance: face.unitsPerEm / 4000 })
        for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) sides.push(xy[j], xy[j + 1], xy[i], xy[i + 1])
      }
    }
    let [left, bottom, right, top] = [Infinity, Infinity, -Infinity, -Infinity]
    for (let i = 0; i < sides.length; i += 2) {
      left = Math.min(left, sides[i])
      right = Math.max(right, sides[i])
      bottom = Math.min(bottom, sides[i + 1])
      top = Math.max(top, sides[i + 1])
    }
    return { sides: Float64Array.from(sides), bins: binsOf(sides, bottom, top), left, right, bottom, top }
  })
}

const BINS = 64

const binAt = (y: number, bottom: number, top: number): number => Math.min(BINS - 1, Math.max(0, Math.floor(((y - bottom) / (top - bottom || 1)) * BINS)))

function binsOf(sides: readonly number[], bottom: number, top: number): Uint32Array[] {
  const bins: number[][] = Array.from({ length: BINS }, () => [])
  for (let i = 0; i < sides.length; i += 4) {
    const [low, high] = sides[i + 1] < sides[i + 3] ? [sides[i + 1], sides[i + 3]] : [sides[i + 3], sides[i + 1]]
    for (let b = binAt(low, bottom, top); b <= binAt(high, bottom, top); b++) bins[b].push(i)
  }
  return bins.map((bin) => Uint32Array.from(bin))
}

/** Leftmost (`sign` 1) or rightmost (−1) ink of a shape at a height, or ±Infinity where there is none. */
function extentAt({ sides, bins, bottom, top }: CellShape, y: number, sign: 1 | -1): number {
  if (!(y >= bottom && y <= top)) return sign * Infinity
  let best = Infinity
  for (const i of bins[binAt(y, bottom, top)]) {
    const x0 = sides[i]
    const y0 = sides[i + 1]
    const x1 = sides[i + 2]
    const y1 = sides[i + 3]
    if ((y0 < y && y1 < y) || (y0 > y && y1 > y)) continue
    if (y0 === y1) best = Math.min(best, sign * x0, sign * x1)
    else best = Math.min(best, sign * (x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)))
  }
  return sign * best
}

/**
 * Smallest horizontal distance from the right side of one shape to the left side of the next when their origins
 * coincide, font units; below zero by how much they would have to be parted, Infinity when no height holds both. Both
 * sides are straight between corners, so the smallest distance is at the height of a corner.
 */
function gapBetween(a: CellShape, b: CellShape): number {
  const [low, high] = [Math.max(a.bottom, b.bottom), Math.min(a.top, b.top)]
  let best = Infinity
  for (const { sides } of [a, b]) {
    for (let i = 1; i < sides.length; i += 4) {
      const y = sides[i]
      if (y < low || y > high) continue
      const gap = extentAt(b, y, 1) - extentAt(a, y, -1)
      if (gap < best) best = gap
    }
  }
  return best
}

/** Space to add between two cells so that they overlap by `overlap`, font units; undefined when they cannot meet. */
export function spaceToTouch(face: FontFace, a: Cell, b: Cell, overlap: number, memo: Memo): number | undefined {
  const gap = memo.get(`gap:${cellKey(face, a)}|${cellKey(face, b)}`, () => gapBetween(cellShape(face, a, memo), cellShape(face, b, memo)))
  return Number.isFinite(gap) ? -overlap - gap - advanceOf(a) : undefined
}

const LEVELS = 40
/** A gap counts up to this share of the em: what lies deeper in an open side is not seen as space between letters. */
const DEPTH = 0.22

/** Inset of a shape's right (`sign` −1) or left (1) side from its advance box at even heights over the face, font units. */
function sideProfile(face: FontFace, cell: Cell, sign: 1 | -1, memo: Memo): Float64Array {
  return memo.get(`side:${sign}:${cellKey(face, cell)}`, () => {
    const shape = cellShape(face, cell, memo)
    const edge = sign === 1 ? 0 : advanceOf(cell)
    return Float64Array.from({ length: LEVELS }, (_, i) => {
      const y = face.capHeight * (-0.3 + (1.35 * (i + 0.5)) / LEVELS)
      return sign * (extentAt(shape, y, sign) - edge)
    })
  })
}

/** Mean white between two sides at an added space, gaps counted up to the depth; NaN when no level has ink on both sides. */
function whiteBetween(right: Float64Array, left: Float64Array, space: number, depth: number): number {
  let sum = 0
  let levels = 0
  for (let i = 0; i < LEVELS; i++) {
    const [r, l] = [right[i], left[i]]
    if (r === Infinity && l === Infinity) continue
    sum += Math.max(0, Math.min(depth, Math.min(r, depth) + Math.min(l, depth) + space))
    levels++
  }
  return levels === 0 ? NaN : sum / levels
}

/**
 * Optical kerning: the space to add between two cells so that the white between them equals what the face gives its own
 * straight and round letters, font units. Letters that join by design stay as they are.
 */
export function opticalSpace(face: FontFace, a: Cell, b: Cell, target: number, memo: Memo): number {
  return memo.get(`optical:${cellKey(face, a)}|${cellKey(face, b)}`, () => {
    const [shapeA, shapeB] = [cellShape(face, a, memo), cellShape(face, b, memo)]
    const gap = gapBetween(shapeA, shapeB) + advanceOf(a)
    if (gap <= 0) return 0
    const [right, left] = [sideProfile(face, a, -1, memo), sideProfile(face, b, 1, memo)]
    const depth = DEPTH * face.unitsPerEm
    // letters may come close, but keep a part of the white between two stems
    let low = Math.max(-0.3 * face.unitsPerEm, Number.isFinite(gap) ? target * 0.35 - gap : -0.3 * face.unitsPerEm)
    let high = 0.3 * face.unitsPerEm
    if (low >= high || Number.isNaN(whiteBetween(right, left, 0, depth))) return 0
    for (let i = 0; i < 30; i++) {
      const middle = (low + high) / 2
      if (whiteBetween(right, left, middle, depth) < target) low = middle
      else high = middle
    }
    return (low + high) / 2
  })
}

/** The white the face itself gives its letters: between stems and bowls of the two cases, font units. */
export function usualWhite(face: FontFace, memo: Memo): number {
  return memo.get(`white:${face.id}`, () => {
    const whites: number[] = []
    for (const pair of ['HH', 'HO', 'OO', 'nn', 'no', 'oo']) {
      const cells = face.shape(pair, { rightToLeft: false, features: { kern: 0, liga: 0, calt: 0 } }).map(
        (g): Cell => ({
          letter: 0,
          glyphs: [{ glyph: g.glyph, x: 0, y: 0 }],
          advance: g.xAdvance,
          middle: g.xAdvance / 2,
          blank: false,
          joins: false,
          separate: true,
          change: undefined,
        }),
      )
      if (cells.length !== 2 || cells.some((c) => c.glyphs[0].glyph === 0)) continue
      const white = whiteBetween(sideProfile(face, cells[0], -1, memo), sideProfile(face, cells[1], 1, memo), 0, DEPTH * face.unitsPerEm)
      if (!Number.isNaN(white)) whites.push(white)
    }
    return whites.length === 0 ? 0.1 * face.unitsPerEm : whites.reduce((a, b) => a + b) / whites.length
  })
}
