import { Memo } from '../../../cache/memo'
import type { FontFace } from '../../../font/face'
import { controlBounds, type Path, toSvgPath, transformPath } from '../../../outline/path'
import type { LetterChange, LetteringParams } from './schema'
import { carryOver, graphemes } from '../../../document/letters'
import { type SetGlyph, setText } from './set-text'
import { withChange } from './letter-changes'

/** A drawing for the screen: SVG path data with Y downwards, and its box [x, y, width, height]. */
export interface Drawing {
  readonly path: string
  readonly box: readonly [number, number, number, number]
}

/** One shape a letter can take, and the features that give it. */
export interface Alternate extends Drawing {
  readonly features: Readonly<Record<string, number>>
}

/** Features that are no choice of shape for a letter, but needed to write its script at all. */
const NOT_OFFERED = new Set(
  'ccmp locl rlig rclt rvrn calt clig liga init medi fina isol med2 fin2 fin3 abvf abvs akhn blwf blws cfar cjct half haln nukt pref pres pstf psts rkrf rphf vatu ljmo tjmo vjmo stch vert vrt2 vkna kern frac numr dnom hwid fwid pwid twid qwid'.split(
    ' ',
  ),
)
/** Alternates a feature is asked for one by one. */
const MAX_CHOICES = 24

/**
 * The shapes the letter at a UTF-16 offset can take where it stands: for every feature of the face that changes it, each
 * of its choices, equal ones once, the usual shape first. Found by shaping, so that what is offered is what will be set.
 */
export function alternatesOf(face: FontFace, params: LetteringParams, at: number): Alternate[] {
  const letters = graphemes(params.text)
  const letter = letters.findIndex((l) => l.at === at)
  if (letter < 0) return []
  const line: LetteringParams = { ...params, layout: 'straight', fit: 'free', touch: 'off', align: 'left', kerning: 'none' }
  const changes = carryOver(params.letters, params.text)
  const own = changes.list.find((c) => c.at === at)
  const memo = new Memo()
  const shapeWith = (features: Record<string, number> | undefined): readonly SetGlyph[] => {
    const change: LetterChange = { at, space: own?.space ?? 0, ...(features ? { features } : {}) }
    return setText(face, { ...line, letters: withChange(changes, change) }, memo).glyphs.filter((g) => g.letter === letter)
  }
  const named = (glyphs: readonly SetGlyph[]) => glyphs.map((g) => g.glyph).join()
  const usual = shapeWith(undefined)
  const seen = new Set([named(usual)])
  const found: Alternate[] = [{ features: {}, ...drawingOf(face, usual) }]
  // features with a meaning first: "access all alternates" repeats what they give
  const tags = [...face.substitutions].sort((a, b) => Number(a === 'aalt') - Number(b === 'aalt'))
  for (const tag of tags) {
    if (NOT_OFFERED.has(tag)) continue
    let last = ''
    for (let value = 1; value <= MAX_CHOICES; value++) {
      const glyphs = shapeWith({ [tag]: value })
      const name = named(glyphs)
      // a feature that knows one choice gives it for every value
      if (name === '' || name === last) break
      last = name
      if (seen.has(name)) continue
      seen.add(name)
      const drawing = drawingOf(face, glyphs)
      if (drawing.path !== '') found.push({ features: { [tag]: value }, ...drawing })
    }
  }
  return found
}

/** A drawing of glyphs where they stand. */
export function drawingOf(face: FontFace, glyphs: readonly SetGlyph[]): Drawing {
  const paths = glyphs.flatMap((g): Path[] => face.outline(g.glyph).map((path) => transformPath(path, [...g.linear, g.x, g.y])))
  return drawPaths(paths)
}

/** A drawing of paths, mm, Y upwards in, downwards out. */
export function drawPaths(paths: readonly Path[]): Drawing {
  if (paths.length === 0) return { path: '', box: [0, 0, 0, 0] }
  const [x0, y0, x1, y1] = controlBounds(paths)
  return { path: toSvgPath(paths, 2, true), box: [x0, -y1, x1 - x0, y1 - y0] }
}
