import { Memo } from '../../../cache/memo'
import type { FontFace } from '../../../font/face'
import { offeredFeatures, type OfferedFeature } from '../../../font/features'
import { type Drawing, drawingOf } from './alternates'
import { letteringParams, type LetteringParams } from './schema'
import { type SetGlyph, setText } from './set-text'

/** A feature of the face, and what it does: to the person's own words where it changes them, else to letters it does change. */
export interface FeaturePreview extends OfferedFeature {
  readonly without?: Drawing
  readonly with?: Drawing
  /** whether the words themselves change */
  readonly inWords: boolean
}

/** What features are tried on when they leave the words alone; each word by itself. */
const SAMPLES = [
  'fi ffi fl ffl fj tt st ct Th sp',
  'ABCDEFGHIJKLMNOPQRSTUVWXYZ',
  'abcdefghijklmnopqrstuvwxyz',
  'hamburgefonstiv Quay The and',
  '0123456789',
  '1/2 3/4 1st 2nd 3a H2O x2 (A)-[B]',
]
const MOST_SHOWN = 6

const sampleParams = (words: LetteringParams, text: string, features: Record<string, number>): LetteringParams => ({
  ...letteringParams.parse({}),
  text,
  axes: words.axes,
  size: 10,
  align: 'left',
  features,
})

/** Every feature a person can choose on a face, each shown by shaping with and without it. */
export function featurePreviews(face: FontFace, words: LetteringParams): FeaturePreview[] {
  const memo = new Memo()
  const first = words.text.trim().split('\n')[0].slice(0, 24)
  return offeredFeatures(face).map((feature) => {
    const both = (text: string) => {
      const set = (value: number) => setText(face, sampleParams(words, text, { [feature.tag]: value }), memo)
      return { off: set(0), on: set(1) }
    }
    if (first !== '') {
      const own = both(first)
      if (differ(own.off.glyphs, own.on.glyphs))
        return { ...feature, without: drawingOf(face, own.off.glyphs), with: drawingOf(face, own.on.glyphs), inWords: true }
    }
    const shown = SAMPLES.flatMap((sample) => changedParts(sample, both)).slice(0, MOST_SHOWN)
    if (shown.length === 0) return { ...feature, inWords: false }
    const { off, on } = both(shown.join(' '))
    return { ...feature, without: drawingOf(face, off.glyphs), with: drawingOf(face, on.glyphs), inWords: false }
  })
}

const differ = (a: readonly SetGlyph[], b: readonly SetGlyph[]): boolean => a.length !== b.length || a.some((g, i) => g.glyph !== b[i].glyph)

/** The parts of a sample that a feature changes: whole words where it joins letters, single letters otherwise. */
function changedParts(sample: string, both: (text: string) => { off: { glyphs: readonly SetGlyph[] }; on: { glyphs: readonly SetGlyph[] } }): string[] {
  const { off, on } = both(sample)
  if (!differ(off.glyphs, on.glyphs)) return []
  const parts = sample.includes(' ') ? sample.split(' ') : [...sample]
  return parts.filter((part) => {
    const each = both(part)
    return differ(each.off.glyphs, each.on.glyphs)
  })
}
