import { z } from 'zod'
import { cutText } from '../document/words'
import { plainName, wellFormed } from '../document/well-formed'
import { writeRanges } from './coverage'
import type { FontFace } from './face'
import { FACE_KINDS, type FaceKind } from './kinds'
import { scriptOf } from './scripts'

/** What the type case knows of a face without opening it. */
export const faceFacts = z.object({
  name: z.string().min(1).max(200),
  kind: z.enum(FACE_KINDS),
  /** ISO 15924 codes, the best covered first */
  scripts: z.array(z.string().length(4)).max(60),
  /** see coverage.ts */
  characters: z.string().max(200_000),
  glyphs: z.number().int().nonnegative(),
  /** tags of its variable axes */
  axes: z.array(z.string()).max(64),
  /** what it says of its licence, shortened */
  licence: z.string().max(500),
})

export type FaceFacts = z.infer<typeof faceFacts>

/** A script counts when a face has at least this many of its letters. */
const LETTERS_OF_A_SCRIPT = 10

/** Reads the facts of an opened face. What a font says of itself is shown, never relied on. */
export function readFaceFacts(face: FontFace): FaceFacts {
  const style = plainName(face.name(17) || face.name(2), 40)
  const family = plainName(face.family, 150)
  const counts = new Map<string, number>()
  for (const code of face.codePoints()) {
    const script = scriptOf(code)
    if (script !== 'Zyyy' && script !== 'Zzzz') counts.set(script, (counts.get(script) ?? 0) + 1)
  }
  // Latin is in nearly every font: another script with as many letters is what it was drawn for
  const weight = ([script, count]: [string, number]) => (script === 'Latn' ? Math.min(count, 40) : count)
  const scripts = [...counts].filter(([, count]) => count >= LETTERS_OF_A_SCRIPT).sort((a, b) => weight(b) - weight(a))
  const usual = /^(regular|normal|roman|book|standard)$/i
  return {
    name: style && !usual.test(style) && !family.toLowerCase().includes(style.toLowerCase()) ? `${family} ${style}` : family || 'Unnamed font',
    kind: kindOf(face),
    scripts: scripts.map(([script]) => script),
    characters: writeRanges(face.codePoints()),
    glyphs: face.glyphCount,
    axes: face.axes.map((a) => a.tag),
    licence: cutText(wellFormed(face.name(13) || face.name(14) || 'The font states no licence.'), 500),
  }
}

/** The kind by what the font states: its pitch, its PANOSE class (OpenType `OS/2`), and words in its name. */
function kindOf(face: FontFace): FaceKind {
  const name = `${face.family} ${face.name(4)}`
  const words: [RegExp, FaceKind][] = [
    [/stencil/i, 'stencil'],
    [/inline|outline|prismatic|engraved/i, 'multi-line'],
    [/brush|marker|paint/i, 'brush'],
    [/blackletter|fraktur|textura|gothic text/i, 'blackletter'],
    [/typewriter|courier/i, 'typewriter'],
    [/rounded/i, 'rounded'],
    [/slab|egypt/i, 'slab serif'],
    [/script|hand|calligraph/i, 'script'],
    [/didot|bodoni/i, 'didone serif'],
    [/grotes[qk]/i, 'grotesque'],
  ]
  for (const [word, kind] of words) if (word.test(name)) return kind
  if (face.axes.length > 0) return 'variable'
  const post = face.table('post')
  if (post.length >= 16 && (post[12] | post[13] | post[14] | post[15]) !== 0) return 'typewriter'
  const os2 = face.table('OS/2')
  if (os2.length < 42) return 'other'
  const [family, serif] = [os2[32], os2[33]]
  if (family === 3) return 'script'
  if (family === 4) return 'decorative'
  if (family !== 2) return 'other'
  if (serif >= 11) return serif === 15 ? 'rounded' : 'sans'
  if (serif === 6 || serif === 7 || serif === 8) return 'slab serif'
  return serif >= 2 ? 'serif' : 'other'
}
