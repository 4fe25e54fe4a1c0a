import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { newProject } from '../project/new-project'
import { readDocument, readDocumentText } from '../project/read'
import { readDxf } from '../format/dxf'
import { readSvg } from '../format/svg'
import { malformed, plainName, wellFormed } from './well-formed'
import { cutText } from './words'

const half = '\ud83d'
const otherHalf = '\ude00'

describe('text that can be kept', () => {
  it('is told from halves of characters and ends of text, wherever they are', () => {
    for (const good of ['', 'Tern Quay', '😀', `${half}${otherHalf}`, 'ä\u0301', '\u0001\n']) expect(malformed({ a: [good] })).toBeUndefined()
    for (const bad of [half, otherHalf, `x${half}`, `${otherHalf}${half}`, 'a\0b', `😀${half}😀`]) {
      expect(malformed(bad)?.path).toEqual([])
      expect(malformed({ pieces: [1, { name: bad }] })?.path).toEqual(['pieces', 1, 'name'])
      expect(malformed({ [`k${bad}`]: 1 })?.what).toContain('name')
    }
  })

  it('is the same as what comes back from UTF-8 unchanged, but for NUL', () => {
    const unit = fc.constantFrom('a', half, otherHalf, '\0', 'ß', '\uffff')
    fc.assert(
      fc.property(fc.array(unit, { maxLength: 8 }), (units) => {
        const text = units.join('')
        const survives = new TextDecoder().decode(new TextEncoder().encode(text)) === text && !text.includes('\0')
        expect(malformed(text) === undefined).toBe(survives)
        const made = wellFormed(text)
        expect(malformed(made)).toBeUndefined()
        if (survives) expect(made).toBe(text)
      }),
      { numRuns: 500 },
    )
  })

  it('nests a hundred deep and no deeper, however deep that is', () => {
    const nested = (depth: number): unknown => {
      let value: unknown = 1
      for (let i = 0; i < depth; i++) value = i % 2 ? [value] : { a: value }
      return value
    }
    expect(malformed(nested(100))).toBeUndefined()
    for (const depth of [101, 5000, 300_000]) expect(malformed(nested(depth))?.what).toContain('nested more than 100 deep')
  })

  it('is cut between letters as they are seen', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom('a', '😀', '👩‍👩‍👧', 'e\u0301', '🇩🇪'), { maxLength: 30 }), fc.integer({ min: 1, max: 40 }), (letters, most) => {
        const text = letters.join('')
        const cut = cutText(text, most)
        expect(cut.length).toBeLessThanOrEqual(most)
        expect(malformed(cut)).toBeUndefined()
        if (cut !== text) {
          const kept = cut.slice(0, -1)
          let whole = ''
          for (const letter of letters) if (kept.startsWith(whole + letter)) whole += letter
          expect(kept).toBe(whole)
        }
      }),
    )
  })
})

describe('names out of files', () => {
  it('can be kept, whatever the file calls its layers', async () => {
    const long = `${'a'.repeat(79)}😀 and more`
    const svg = await readSvg(`<svg><path data-name="${long}" d="M0 0h9v9z"/><path id="Sail" fill="red" d="M9 0h9v9z"/></svg>`)
    const dxf = await readDxf(`0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n8\nWa\0ll ${long}\n10\n0\n20\n0\n40\n5\n0\nENDSEC\n0\nEOF\n`)
    for (const { outline } of [svg, dxf]) {
      expect(malformed(outline.layers.map(({ id, name }) => ({ id, name })))).toBeUndefined()
      expect(outline.layers[0].name.length).toBeLessThanOrEqual(80)
    }
    expect(svg.outline.layers.map((layer) => layer.name)).toEqual([`${'a'.repeat(79)}…`, 'Sail'])
    expect(dxf.outline.layers[0].name).toMatch(/^Wall a/)
    expect(plainName(` Tern${half}\n\u0007Quay `, 20)).toBe('Tern\uFFFDQuay')
  })
})

describe('documents', () => {
  it('with such text or such depth are refused with the place, never by an exception', () => {
    const document = newProject('Tern Quay')
    const named = structuredClone(document) as { pieces: { name: string; route: { params: Record<string, unknown> }[] }[] }
    named.pieces[0].name = `Sign ${half}`
    const refused = readDocument(named)
    expect(!refused.ok && refused.problem.message).toBe(
      'The project is damaged at pieces › 0 › name: a text holds half a character, or an end of text in its middle.',
    )
    for (const depth of [200, 3000, 5000, 100_000]) {
      const deep = structuredClone(document) as typeof named
      let value: unknown = 1
      for (let i = 0; i < depth; i++) value = { a: value }
      deep.pieces[0].route[0].params.extra = value
      const result = readDocument(deep)
      expect(!result.ok && result.problem.code).toBe('invalid')
    }
    const text = JSON.stringify(document)
    for (const depth of [200, 5000]) {
      const result = readDocumentText(text.replace('"name"', `"x":${'['.repeat(depth)}${']'.repeat(depth)},"name"`))
      expect(!result.ok && result.problem.code).toMatch(/invalid|not-json/)
    }
    // a version that one could count up from for ever
    for (const version of [-1e308, -1, 0.5, 1e308]) {
      const old = structuredClone(document) as unknown as { pieces: { route: { version: unknown }[] }[] }
      old.pieces[0].route[0].version = version
      expect(typeof readDocument(old).ok).toBe('boolean')
    }
    expect(readDocument(document).ok).toBe(true)
  })
})
