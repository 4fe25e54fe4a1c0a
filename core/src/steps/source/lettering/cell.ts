import type { FontFace } from '../../../font/face'
import type { LetterChange } from './schema'

/** A glyph of a cell, in font units from the cell's origin on the baseline. */
export interface CellGlyph {
  readonly glyph: number
  readonly x: number
  readonly y: number
}

/** One letter of a line with the glyphs it was shaped to: what is spaced, changed and placed as a whole. */
export interface Cell {
  /** index into the text's letters */
  readonly letter: number
  readonly glyphs: readonly CellGlyph[]
  /** font units along the line, as shaped */
  readonly advance: number
  /** middle of its own width, font units: what it turns about and hangs by */
  readonly middle: number
  /** a space: takes word space, and no optical kerning */
  readonly blank: boolean
  /** of a script whose letters join */
  readonly joins: boolean
  /** of a script that optical kerning knows how to judge */
  readonly separate: boolean
  readonly change: LetterChange | undefined
}

/**
 * The straight sides of a cell's shape, [x0, y0, x1, y1] each, as it stands at `size` font units an em share: scaled by
 * its own change and turned, but not nudged (a nudge moves a letter, not its neighbours).
 */
export interface CellShape {
  readonly sides: Float64Array
  /** sides by height: `bins[b]` lists the offsets in `sides` of those that reach into the b-th of equal bands from bottom to top */
  readonly bins: readonly Uint32Array[]
  readonly left: number
  readonly right: number
  readonly bottom: number
  readonly top: number
}

export const scaleOf = (cell: Cell): number => (cell.change?.scale ?? 100) / 100

/** Advance with the letter's own scale, font units. */
export const advanceOf = (cell: Cell): number => cell.advance * scaleOf(cell)

/** Name under which a cell's shape is kept. */
export const cellKey = (face: FontFace, cell: Cell): string =>
  `${face.id}/${cell.glyphs.map((g) => `${g.glyph},${g.x},${g.y}`).join(';')}*${scaleOf(cell)}@${cell.change?.turn ?? 0}`
