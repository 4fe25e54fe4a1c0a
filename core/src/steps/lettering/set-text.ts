import bidiFactory from 'bidi-js'
import type { FontFace } from '../../font/face'
import type { LetteringParams } from './schema'

/** A glyph where it stands: mm, its letter, its line. */
export interface SetGlyph {
  readonly glyph: number
  readonly letter: number
  readonly x: number
  readonly y: number
  readonly line: number
}

export interface SetText {
  readonly glyphs: readonly SetGlyph[]
  /** graphemes of the text with their UTF-16 offsets; SetGlyph.letter indexes them */
  readonly letters: readonly { readonly text: string; readonly at: number }[]
  /** characters the face has no glyph for, each once */
  readonly missing: readonly string[]
  /** mm per font unit */
  readonly scale: number
}

const bidi = bidiFactory()

/** Sets text in lines: bidirectional order (Unicode UAX #9), shaping by HarfBuzz, tracking, alignment. First baseline at y = 0. */
export function setText(face: FontFace, params: LetteringParams): SetText {
  const scale = params.size / face.capHeight
  const letters = graphemes(params.text)
  const missing = new Set<string>()
  const glyphs: SetGlyph[] = []
  const features: Record<string, number> = {}
  if (!params.kerning) features.kern = 0
  if (!params.ligatures) Object.assign(features, { liga: 0, clig: 0, dlig: 0 })
  const tracking = (params.tracking / 1000) * face.unitsPerEm
  const lineHeight = (params.leading / 100) * face.lineHeight
  let start = 0
  params.text.split('\n').forEach((line, number) => {
    const row: { glyph: number; letter: number; x: number; y: number }[] = []
    let pen = 0
    for (const run of visualRuns(line)) {
      for (const g of face.shape(run.text, { rightToLeft: run.rightToLeft, features })) {
        const at = start + run.start + g.cluster
        const letter = letterAt(letters, at)
        if (g.glyph === 0) {
          const text = letters[letter].text
          if (text.trim() !== '') missing.add(text)
          continue
        }
        row.push({ glyph: g.glyph, letter, x: pen + g.xOffset, y: g.yOffset })
        // marks without an advance of their own take no tracking
        pen += g.xAdvance === 0 ? 0 : g.xAdvance + tracking
      }
    }
    const width = Math.max(0, pen - tracking)
    const shift = params.align === 'left' ? 0 : params.align === 'centre' ? -width / 2 : -width
    for (const g of row) glyphs.push({ ...g, x: (g.x + shift) * scale, y: (g.y - number * lineHeight) * scale, line: number })
    start += line.length + 1
  })
  return { glyphs, letters, missing: [...missing], scale }
}

interface Run {
  readonly text: string
  /** UTF-16 offset in the line */
  readonly start: number
  readonly rightToLeft: boolean
}

/** The line cut into runs of one direction, in the order they stand from left to right (rule L2 on whole runs). */
function visualRuns(line: string): Run[] {
  if (line === '') return []
  const { levels } = bidi.getEmbeddingLevels(line)
  const runs: (Run & { level: number })[] = []
  for (let i = 0; i < line.length; ) {
    let j = i + 1
    while (j < line.length && levels[j] === levels[i]) j++
    runs.push({ text: line.slice(i, j), start: i, rightToLeft: levels[i] % 2 === 1, level: levels[i] })
    i = j
  }
  const highest = Math.max(...runs.map((r) => r.level))
  for (let level = highest; level > 0; level--) {
    for (let i = 0; i < runs.length; ) {
      if (runs[i].level < level) {
        i++
        continue
      }
      let j = i
      while (j < runs.length && runs[j].level >= level) j++
      runs.splice(i, j - i, ...runs.slice(i, j).reverse())
      i = j
    }
  }
  return runs
}

function graphemes(text: string): { text: string; at: number }[] {
  const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' })
  return Array.from(segmenter.segment(text), ({ segment, index }) => ({ text: segment, at: index }))
}

/** The last letter starting at or before a UTF-16 offset. */
function letterAt(letters: readonly { at: number }[], offset: number): number {
  let lo = 0
  let hi = letters.length - 1
  while (lo < hi) {
    const mid = (lo + hi + 1) >> 1
    if (letters[mid].at <= offset) lo = mid
    else hi = mid - 1
  }
  return lo
}
