import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { facesWith, SHIPPED_FACES } from '../../fonts/catalogue'
import { openFace } from '../../test/helpers'
import { Coverage, writeRanges } from './coverage'
import { faceFacts, readFaceFacts } from './facts'
import { FEATURE_GROUPS, offeredFeatures } from './features'
import { scriptName, scriptOf } from './scripts'

describe('Coverage', () => {
  it('has just the characters that were written', () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.oneof(fc.nat(400), fc.nat(0x10ffff)), { maxLength: 200 }), fc.nat(0x10ffff), (codes, other) => {
        const coverage = new Coverage(writeRanges(codes))
        for (const code of codes) expect(coverage.has(code)).toBe(true)
        expect(coverage.has(other)).toBe(codes.includes(other))
      }),
      { numRuns: 300 },
    )
    expect(writeRanges([5, 3, 4, 9, 3])).toBe('3-5,9')
    expect(new Coverage('').has(32)).toBe(false)
    expect(new Coverage('zz,-,7-,20-7e').has(0x41)).toBe(true)
  })

  it('never calls white space, controls and marks of direction missing', () => {
    const none = new Coverage('')
    expect(none.missing('\u200f \n\t\u00ad\u2066')).toEqual([])
    expect(none.missing('aàa🏮')).toEqual(['a', 'à', '🏮'])
  })

  it('finds the faces that have what another lacks', () => {
    expect(facesWith(['م', 'ي']).faces.map((f) => f.id)).toEqual(['lalezar'])
    expect(facesWith(['港', '祭']).faces.map((f) => f.id)).toEqual(['dela-gothic'])
    expect(facesWith(['ल']).faces.map((f) => f.id)).toEqual(['yatra-one'])
    const some = facesWith(['נ', '🏮'])
    expect(some.have).toEqual(['נ'])
    expect(some.faces.map((f) => f.id)).toContain('suez-one')
    expect(facesWith(['🏮'])).toEqual({ faces: [], have: [] })
  })
})

describe('readFaceFacts', () => {
  it('reads every shipped face, and finds the scripts it was drawn for', async () => {
    for (const shipped of SHIPPED_FACES) {
      const facts = faceFacts.parse(readFaceFacts(await openFace(shipped.id)))
      expect(facts.glyphs).toBe(shipped.glyphs)
      for (const script of shipped.scripts) expect(facts.scripts, shipped.id).toContain(script)
      expect(facts.characters).toBe(shipped.characters)
      expect(facts.name.length).toBeGreaterThan(3)
    }
  })

  it('tells kinds by what a font states', async () => {
    const kind = async (id: string) => readFaceFacts(await openFace(id)).kind
    expect(await kind('courier-prime')).toBe('typewriter')
    expect(await kind('saira-stencil')).toBe('stencil')
    expect(await kind('bodoni-moda-italic')).toBe('didone serif')
    expect(await kind('anybody')).toBe('variable')
    expect(await kind('kaushan-script')).toBe('script')
  })
})

describe('offeredFeatures', () => {
  it('offers what a person chooses, in groups, and nothing that shaping needs', async () => {
    for (const shipped of SHIPPED_FACES) {
      const offered = offeredFeatures(await openFace(shipped.id))
      const places = offered.map((f) => FEATURE_GROUPS.indexOf(f.group))
      expect(places).toEqual(places.slice().sort((a, b) => a - b))
      expect(new Set(offered.map((f) => f.tag)).size).toBe(offered.length)
      for (const tag of ['ccmp', 'init', 'medi', 'fina', 'rlig', 'locl', 'akhn', 'half', 'aalt', 'kern']) expect(offered.map((f) => f.tag)).not.toContain(tag)
    }
  })
})

describe('scripts', () => {
  it('are told apart by their letters, shared signs aside', () => {
    expect([...'aЖאمक港なナ7 '].map((c) => scriptOf(c.codePointAt(0) as number))).toEqual([
      'Latn',
      'Cyrl',
      'Hebr',
      'Arab',
      'Deva',
      'Hani',
      'Hira',
      'Kana',
      'Zyyy',
      'Zyyy',
    ])
    expect([scriptName('Deva'), scriptName('Hira'), scriptName('Xxxx')]).toEqual(['Devanagari', 'Kana', 'other'])
  })
})
