import { encode } from 'fast-png'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { pngBomb, pngChunk, pngOf, pngPixels, pngProfileBomb, pngStripes } from '../../test/hostile-pictures'
import { FormatError } from './mesh-data'
import { averaged, isWholePng, type Picture, readPicture } from './picture'
import { FULL } from '../../test/helpers'
import { within } from '../../test/within'

const noWebp = (): Promise<Picture> => Promise.reject(new Error('no WebP here'))
const read = (bytes: Uint8Array) => readPicture(bytes, noWebp)

/** The same picture as an independent writer packs it. */
async function roundTrip(width: number, height: number, channels: 1 | 2 | 3 | 4, depth: 8 | 16, samples: number[]) {
  const data = depth === 8 ? Uint8Array.from(samples) : Uint16Array.from(samples)
  return [...(await read(encode({ width, height, channels, depth, data }))).rgba]
}

describe('PNG pictures', () => {
  it('come as red, green, blue and opacity, however many channels of whatever depth they have', async () => {
    expect(await roundTrip(2, 1, 4, 8, [1, 2, 3, 4, 5, 6, 7, 8])).toEqual([1, 2, 3, 4, 5, 6, 7, 8])
    expect(await roundTrip(2, 1, 3, 8, [1, 2, 3, 4, 5, 6])).toEqual([1, 2, 3, 255, 4, 5, 6, 255])
    expect(await roundTrip(2, 1, 2, 8, [9, 8, 7, 6])).toEqual([9, 9, 9, 8, 7, 7, 7, 6])
    expect(await roundTrip(3, 1, 1, 8, [0, 128, 255])).toEqual([0, 0, 0, 255, 128, 128, 128, 255, 255, 255, 255, 255])
    const wide = (values: number[]) => values.map((v) => v * 257)
    expect(await roundTrip(1, 2, 4, 16, wide([10, 20, 30, 40, 50, 60, 70, 80]))).toEqual([10, 20, 30, 40, 50, 60, 70, 80])
    expect(await roundTrip(2, 1, 1, 16, wide([11, 22]))).toEqual([11, 11, 11, 255, 22, 22, 22, 255])
    expect(await roundTrip(1, 1, 3, 16, wide([1, 2, 3]))).toEqual([1, 2, 3, 255])
  })

  it('of less than a byte a pixel are taken bit by bit, grey and by palette', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(1, 2, 4),
        fc.integer({ min: 1, max: 19 }),
        fc.integer({ min: 1, max: 5 }),
        fc.boolean(),
        fc.infiniteStream(fc.nat(15)),
        async (depth, width, height, byPalette, values) => {
          const most = 2 ** depth
          const pixels = Array.from({ length: width * height }, () => (values.next().value as number) % most)
          const perRow = Math.ceil((width * depth) / 8)
          const rows = new Uint8Array(height * (1 + perRow))
          pixels.forEach((v, i) => {
            const [x, y] = [i % width, Math.floor(i / width)]
            rows[y * (1 + perRow) + 1 + ((x * depth) >> 3)] |= v << (8 - depth - ((x * depth) & 7))
          })
          const palette = Array.from({ length: most }, (_, i) => [i * 3, 200 - i, (i * 57) % 256])
          const chunks = byPalette ? [pngChunk('PLTE', Uint8Array.from(palette.flat()))] : []
          const { rgba } = await read(pngOf({ width, height, depth, colour: byPalette ? 3 : 0 }, ...chunks, pngPixels(rows)))
          const expected = pixels.flatMap((v) => (byPalette ? [...palette[v], 255] : [...new Array(3).fill(Math.floor((v * 255) / (most - 1))), 255]))
          expect([...rgba]).toEqual(expected)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('with palettes keep their opacity', async () => {
    const chunks = [pngChunk('PLTE', Uint8Array.of(1, 2, 3, 4, 5, 6)), pngChunk('tRNS', Uint8Array.of(77)), pngPixels(Uint8Array.of(0, 0, 1))]
    expect([...(await read(pngOf({ width: 2, height: 1, colour: 3 }, ...chunks))).rgba]).toEqual([1, 2, 3, 77, 4, 5, 6, 255])
  })

  it('that unpack to more than they say are refused before they are', async () => {
    for (const bomb of [pngBomb(60_000_000), pngOf({ width: 10, height: 10, interlace: 1 }, pngPixels(new Uint8Array(50_000_000)))]) {
      await within(1500, () => expect(read(bomb)).rejects.toThrow('more than its size says'))
    }
    // what is in a colour profile is none of a picture's business
    const profiled = pngProfileBomb(60_000_000)
    expect((await within(1000, () => read(profiled))).rgba).toEqual(new Uint8Array(16))
  })

  it('interlaced ones are read, and their rows are counted as they are laid', async () => {
    // 5 × 3 in seven passes: rows of 1, 1, 2, 1, 3, 2 and 5 pixels with a filter byte each
    const passes = [[1, 1], [1, 1], [2, 0], [1, 1], [3, 1], [2, 2], [5, 1]] // biome-ignore format: a table
    let value = 0
    const rows = passes.flatMap(([w, h]) => Array.from({ length: h }, () => [0, ...Array.from({ length: w }, () => ++value)]).flat())
    const picture = await read(pngOf({ width: 5, height: 3, colour: 0, interlace: 1 }, pngPixels(Uint8Array.from(rows))))
    expect(picture.rgba.filter((_, i) => i % 4 === 0).toSorted()).toEqual(Uint8Array.from({ length: 15 }, (_, i) => i + 1))
    await expect(read(pngOf({ width: 5, height: 3, colour: 0, interlace: 1 }, pngPixels(Uint8Array.from([...rows, 1]))))).rejects.toThrow(FormatError)
  })

  it('of 40 million pixels of one bit are read in a moment', async () => {
    const { width, height, rgba } = await within(4000, () => read(pngStripes(5000, 8000)))
    expect([width, height]).toEqual([5000, 8000])
    expect([...rgba.subarray(4 * 4999, 4 * 5001)]).toEqual([0, 0, 0, 255, 255, 255, 255, 255])
  })

  it('bear damage in every field', async () => {
    const whole = pngOf({ width: 7, height: 5 }, pngChunk('tEXt', Uint8Array.of(65, 0, 66)), pngPixels(new Uint8Array(5 * 29)))
    await fc.assert(
      fc.asyncProperty(
        fc.nat(whole.length - 1),
        fc.constantFrom(0, 1, 3, 0x7f, 0x80, 0xff),
        fc.nat(whole.length),
        fc.boolean(),
        async (at, value, cut, shorten) => {
          const bytes = whole.slice(0, shorten ? cut : whole.length)
          if (at < bytes.length) bytes[at] = value
          try {
            const picture = await read(bytes)
            expect(picture.rgba.length).toBe(4 * picture.width * picture.height)
          } catch (error) {
            expect(error).toBeInstanceOf(FormatError)
          }
        },
      ),
      { numRuns: FULL ? 5000 : 600 },
    )
  })

  it('that a page sends as its look are whole and small, or none', () => {
    const png = encode({ width: 30, height: 20, channels: 4, data: new Uint8Array(2400) })
    expect(isWholePng(png, 1024)).toBe(true)
    expect(isWholePng(png, 29)).toBe(false)
    expect(isWholePng(png.subarray(0, png.length - 1), 1024)).toBe(false)
    expect(isWholePng(Uint8Array.from([...png, 1]), 1024)).toBe(false)
    expect(isWholePng(pngOf({ width: 0, height: 9 }, pngPixels(new Uint8Array(9))), 1024)).toBe(false)
    expect(isWholePng(new TextEncoder().encode(`\u0089PNG${'<script>'.repeat(20)}`), 1024)).toBe(false)
    expect(isWholePng(pngOf({ width: 9, height: 9 }, pngChunk('IDAT', new Uint8Array(60), 4_000_000_000)), 1024)).toBe(false)
  })
})

describe('a picture made smaller', () => {
  it('has the mean of its blocks, opacity counted', () => {
    const rgba = Uint8Array.from([200, 0, 0, 255, 100, 0, 0, 255, 0, 0, 0, 0, 0, 0, 0, 0])
    const small = averaged({ width: 2, height: 2, rgba }, 1)
    expect([small.width, small.height, ...small.rgba]).toEqual([1, 1, 150, 0, 0, 127])
    expect(averaged({ width: 2, height: 2, rgba }, 4).rgba).toBe(rgba)
  })
})
