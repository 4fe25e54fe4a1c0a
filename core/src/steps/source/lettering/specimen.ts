import type { FontFace } from '../../../font/face'
import { drawingOf, type Drawing } from './alternates'
import { graphemes } from '../../../document/letters'
import { letteringParams, type LetteringParams } from './schema'
import { type SetGlyph, setText } from './set-text'

/** Words as a face sets them, for a list of faces: first line only, capitals 10 mm high. */
export function specimen(face: FontFace, words: string): Drawing {
  return drawingOf(face, setText(face, letteringParams.parse({ text: words.split('\n')[0].slice(0, 40), size: 10, align: 'left' })).glyphs)
}

/** One letter of a set text: where it stands in the text, and its shape as it is set. */
export interface SetLetter extends Drawing {
  readonly text: string
  readonly at: number
  /** it has no shape of its own: it is part of a ligature that began before it, and is drawn as it would stand alone */
  readonly joined: boolean
}

/** Every letter of the words as it is set with all its choices, capitals 10 mm high, all on one line. */
export function letterShapes(face: FontFace, params: LetteringParams): SetLetter[] {
  const straight = { ...params, layout: 'straight', fit: 'free', touch: 'off', size: 10 } as const
  // line ends as spaces: every letter keeps its place in the text
  const text = params.text.replace(/[\n\r\v\f\u0085\u2028\u2029]/g, ' ')
  const set = setText(face, { ...straight, text, letters: { ...params.letters, of: params.letters.of === params.text ? text : params.letters.of } })
  const of = new Map<number, SetGlyph[]>()
  for (const g of set.glyphs) of.set(g.letter, [...(of.get(g.letter) ?? []), g])
  return graphemes(params.text).map((letter, i) => {
    const own = of.get(i)
    const joined = own === undefined && letter.text.trim() !== '' && !set.missing.includes(letter.text)
    const glyphs = own ?? (joined ? setText(face, { ...straight, text: letter.text, letters: { of: '', list: [] } }).glyphs : [])
    return { ...letter, ...drawingOf(face, glyphs), joined }
  })
}
