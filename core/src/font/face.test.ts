import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fontBytes, openFace, shippedFace } from '../../test/helpers'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { hashBytes } from '../cache/hash'
import { writeRanges } from './coverage'
import { FontError, FontFace } from './face'

const refused = async (bytes: Uint8Array): Promise<FontError> => {
  const error = await FontFace.open(bytes, 'x').then(
    () => undefined,
    (e) => e,
  )
  expect(error).toBeInstanceOf(FontError)
  return error
}

describe('FontFace', () => {
  it('opens every shipped face; each is the file the catalogue names and has its licence beside it', async () => {
    for (const shipped of SHIPPED_FACES) {
      const bytes = fontBytes(shipped)
      expect(hashBytes(bytes)).toBe(shipped.sha256)
      const face = await openFace(shipped.id)
      expect(face.glyphCount).toBe(shipped.glyphs)
      expect(face.axes.map((a) => a.tag)).toEqual(shipped.axes)
      expect(writeRanges(face.codePoints())).toBe(shipped.characters)
      expect(face.capHeight).toBeGreaterThan(0.2 * face.unitsPerEm)
      const licence = fontBytes({ ...shipped, file: shipped.licence })
      expect(new TextDecoder().decode(licence)).toContain('SIL Open Font License')
    }
  })

  it('refuses what is no usable font, and says why', async () => {
    expect((await refused(new Uint8Array())).message).toMatch(/empty/)
    expect((await refused(new TextEncoder().encode('this is no font, only text'))).message).toMatch(/no TrueType/)
    const whole = fontBytes(shippedFace('archivo-bold'))
    expect((await refused(whole.slice(0, whole.length / 2))).message).toMatch(/cut short/)
    expect((await refused(whole.slice(0, 40))).message).toMatch(/cut short/)
    expect((await refused(new Uint8Array(97 * 1024 * 1024))).message).toMatch(/96 MB/)
    const bitmapOnly = whole.slice()
    const at = Buffer.from(bitmapOnly.buffer).indexOf('glyf')
    bitmapOnly.set(new TextEncoder().encode('EBDT'), at)
    expect(await refused(bitmapOnly)).toMatchObject({ code: 'no-outlines' })
  })

  it('survives any damage: an error or a font, never a crash or a hang', async () => {
    const whole = fontBytes(shippedFace('unifraktur-cook'))
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 40 }), async (changes) => {
        const bytes = whole.slice()
        for (const [at, value] of changes) bytes[at] = value
        try {
          const face = await FontFace.open(bytes, 'damaged')
          for (const g of face.shape('Quay', { rightToLeft: false, features: {} })) face.outline(g.glyph)
        } catch (error) {
          expect(error instanceof FontError || error instanceof RangeError).toBe(true)
        }
      }),
      { numRuns: 200 },
    )
  })

  it('offers axes with their names and ranges', async () => {
    const face = await openFace('fraunces')
    expect(face.axes.map((a) => a.tag)).toEqual(['opsz', 'wght', 'SOFT', 'WONK'])
    expect(face.axes.find((a) => a.tag === 'wght')).toMatchObject({ name: 'Weight', min: 100, max: 900 })
    expect(face.at({ wght: 100 }).id).not.toBe(face.at({ wght: 200 }).id)
    expect(face.at({ none: 3 })).toBe(face)
  })
})
