import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { colourOf, linearColour, materialKey, rgbOf, sameMaterial } from './material'
import { PALETTES, STARTERS } from './materials'

const HEX = /^#[0-9a-f]{6}$/

describe('the library of materials', () => {
  it('has each name and each look once, with values that glTF takes', () => {
    expect(new Set(STARTERS.map(({ name }) => name)).size).toBe(STARTERS.length)
    expect(new Set(STARTERS.map(({ material }) => materialKey(material))).size).toBe(STARTERS.length)
    for (const { name, kind, material } of STARTERS) {
      expect(name.trim()).toBe(name)
      expect(material.colour).toMatch(HEX)
      for (const share of [material.roughness, material.metalness, material.glow ?? 0, material.clear ?? 0]) {
        expect(share).toBeGreaterThanOrEqual(0)
        expect(share).toBeLessThanOrEqual(1)
      }
      // what is called metal looks it, what is called light glows, and nothing else does
      expect(material.metalness > 0.5).toBe(kind === 'Metal')
      expect((material.glow ?? 0) > 0).toBe(kind === 'Light')
    }
  })

  it('has rows of colours whose neighbours can be told apart', () => {
    expect(new Set(PALETTES.map(({ name }) => name)).size).toBe(PALETTES.length)
    for (const { colours } of PALETTES) {
      expect(colours.length).toBeGreaterThan(2)
      colours.forEach((colour, i) => {
        expect(colour).toMatch(HEX)
        const next = rgbOf(colours[(i + 1) % colours.length])
        expect(Math.hypot(...rgbOf(colour).map((v, k) => v - next[k]))).toBeGreaterThan(40)
      })
    }
  })
})

describe('colours', () => {
  const channel = fc.integer({ min: 0, max: 255 })
  it('are read and written alike', () => {
    fc.assert(
      fc.property(channel, channel, channel, (r, g, b) => {
        const colour = colourOf([r, g, b])
        expect(colour).toMatch(HEX)
        expect(rgbOf(colour)).toEqual([r, g, b])
        expect(rgbOf(colour.toUpperCase())).toEqual([r, g, b])
      }),
    )
  })

  it('grow steadily from black to white in linear light, half of it at 188', () => {
    const linear = Array.from({ length: 256 }, (_, v) => linearColour(colourOf([v, v, v]))[0])
    expect(linear[0]).toBe(0)
    expect(linear[255]).toBeCloseTo(1, 12)
    for (let v = 1; v < 256; v++) expect(linear[v]).toBeGreaterThan(linear[v - 1])
    // sRGB's own way back (IEC 61966-2-1)
    linear.forEach((l, v) => expect(255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055)).toBeCloseTo(v, 3))
    expect(linear[188]).toBeCloseTo(0.5, 2)
  })
})

describe('equal materials', () => {
  const share = fc.constantFrom(0, 0.25, 0.5, 1)
  const material = fc.record({
    colour: fc.constantFrom('#aa0000', '#00aa00'),
    roughness: share,
    metalness: share,
    glow: fc.option(share, { nil: undefined }),
    clear: fc.option(share, { nil: undefined }),
  })
  it('are those with equal values; what is left out is none', () => {
    fc.assert(
      fc.property(material, material, (a, b) => {
        const values = ({ colour, roughness, metalness, glow = 0, clear = 0 }: typeof a) => [colour, roughness, metalness, glow, clear]
        expect(sameMaterial(a, b)).toBe(JSON.stringify(values(a)) === JSON.stringify(values(b)))
        expect(materialKey(a) === materialKey(b)).toBe(sameMaterial(a, b))
      }),
    )
  })
})
