/** Writes facts.ts: what the catalogue says of every shipped file and would otherwise be copied by hand. Run: npm run faces */
import { readFileSync, writeFileSync } from 'node:fs'
import { hashBytes } from '../src/cache/hash'
import { writeRanges } from '../src/font/coverage'
import { FontFace } from '../src/font/face'
import { FACE_FILES } from './files'

const lines: string[] = []
for (const { id, file } of FACE_FILES) {
  const bytes = new Uint8Array(readFileSync(new URL(file, import.meta.url)))
  const sha256 = hashBytes(bytes)
  const face = await FontFace.open(bytes, sha256)
  const key = /^[a-z]+$/.test(id) ? id : `'${id}'`
  lines.push(
    `  ${key}: {\n    bytes: ${bytes.length},\n    sha256: '${sha256}',\n    glyphs: ${face.glyphCount},\n    axes: [${face.axes.map((a) => `'${a.tag}'`).join(', ')}],\n    characters: '${writeRanges(face.codePoints())}',\n  },`,
  )
}
writeFileSync(
  new URL('facts.ts', import.meta.url),
  `/** Written by write-facts.ts: size, SHA-256 and characters of every shipped file. */\nexport const FACE_FACTS = {\n${lines.join('\n')}\n} as const\n`,
)
