import { zlibSync } from 'fflate'
import compress from 'wawoff2/compress.js'
import { describe, expect, it } from 'vitest'
import { fontBytes, shippedFace } from '../../test/helpers'
import { FontError, FontFace } from './face'
import { readFaceFacts } from './facts'
import { unpackFont } from './unpack'
import { within } from '../../test/within'

const archivo = fontBytes(shippedFace('archivo-bold'))
const knewave = fontBytes(shippedFace('knewave'))

interface Table {
  tag: string
  data: Uint8Array
}

function tablesOf(font: Uint8Array): Table[] {
  const view = new DataView(font.buffer, font.byteOffset, font.byteLength)
  return Array.from({ length: view.getUint16(4) }, (_, i) => {
    const at = 12 + 16 * i
    return {
      tag: String.fromCharCode(...font.subarray(at, at + 4)),
      data: font.slice(view.getUint32(at + 8), view.getUint32(at + 8) + view.getUint32(at + 12)),
    }
  })
}

/** Writes WOFF 1.0 as its specification says; `lie` changes the stated length of the first table. */
function woff(font: Uint8Array, lie = 0): Uint8Array {
  const tables = tablesOf(font).map((t) => ({ ...t, packed: zlibSync(t.data) }))
  let offset = 44 + 20 * tables.length
  const parts = tables.map((t) => {
    const data = t.packed.length < t.data.length ? t.packed : t.data
    const at = offset
    offset += (data.length + 3) & ~3
    return { ...t, bytes: data, at }
  })
  const out = new Uint8Array(offset)
  const view = new DataView(out.buffer)
  out.set(new TextEncoder().encode('wOFF'))
  view.setUint32(4, 0x00010000)
  view.setUint32(8, out.length)
  view.setUint16(12, tables.length)
  parts.forEach((t, i) => {
    const at = 44 + 20 * i
    out.set(new TextEncoder().encode(t.tag), at)
    view.setUint32(at + 4, t.at)
    view.setUint32(at + 8, t.bytes.length)
    view.setUint32(at + 12, t.data.length + (i === 0 ? lie : 0))
    out.set(t.bytes, t.at)
  })
  return out
}

/** A collection of whole fonts, each with tables of its own. */
function collection(...fonts: Uint8Array[]): Uint8Array {
  let offset = 12 + 4 * fonts.length
  const starts = fonts.map((font) => {
    const at = offset
    offset += (font.length + 3) & ~3
    return at
  })
  const out = new Uint8Array(offset)
  const view = new DataView(out.buffer)
  out.set(new TextEncoder().encode('ttcf'))
  view.setUint32(4, 0x00010000)
  view.setUint32(8, fonts.length)
  fonts.forEach((font, i) => {
    view.setUint32(12 + 4 * i, starts[i])
    out.set(font, starts[i])
    const count = new DataView(font.buffer, font.byteOffset).getUint16(4)
    for (let k = 0; k < count; k++) {
      const at = starts[i] + 12 + 16 * k + 8
      view.setUint32(at, view.getUint32(at) + starts[i])
    }
  })
  return out
}

async function drawn(font: Uint8Array): Promise<string> {
  const face = await FontFace.open(font, 'x')
  return JSON.stringify(
    face.shape('Tern Quay 8', { rightToLeft: false, features: {} }).map((g) => [g, [...face.outline(g.glyph).flatMap((p) => [...p.coords])]]),
  )
}

const refusal = async (bytes: Uint8Array): Promise<FontError> => {
  const error = await unpackFont(bytes)
    .then((fonts) => Promise.all(fonts.map((f) => FontFace.open(f, 'x'))))
    .then(
      () => undefined,
      (e) => e,
    )
  expect(error).toBeInstanceOf(FontError)
  expect(error.message.length).toBeGreaterThan(15)
  expect(error.remedy.length).toBeGreaterThan(15)
  return error
}

describe('unpackFont', () => {
  it('gives plain fonts back, and what web fonts and collections hold', async () => {
    expect(await unpackFont(archivo)).toEqual([archivo])
    const plain = await drawn(archivo)
    const [unwoffed] = await unpackFont(woff(archivo))
    expect(tablesOf(unwoffed).map((t) => t.tag)).toEqual(tablesOf(archivo).map((t) => t.tag))
    expect(await drawn(unwoffed)).toBe(plain)
    const [unwoff2ed] = await unpackFont(new Uint8Array(await compress(archivo)))
    expect(await drawn(unwoff2ed)).toBe(plain)
    const both = await unpackFont(collection(archivo, knewave))
    expect(await Promise.all(both.map(drawn))).toEqual([plain, await drawn(knewave)])
    const names = await Promise.all(both.map(async (b) => readFaceFacts(await FontFace.open(b, 'x')).name))
    expect(names).toEqual(['Archivo Bold', 'Knewave'])
  })

  it('says what a file is that is no font', async () => {
    const text = (s: string) => new TextEncoder().encode(s.padEnd(64, ' '))
    expect((await refusal(new Uint8Array())).message).toMatch(/empty/)
    expect((await refusal(text('just some words'))).message).toMatch(/no TrueType or OpenType font/)
    expect((await refusal(Uint8Array.from([0x89, 0x50, 0x4e, 0x47, ...new Array(60).fill(0)]))).message).toMatch(/PNG/)
    expect((await refusal(text('PK\x03\x04'))).message).toMatch(/zip/)
    expect((await refusal(text('%!FontType1-1.0'))).message).toMatch(/Type 1/)
    expect((await refusal(text('STARTFONT 2.1'))).message).toMatch(/bitmap/)
    expect((await refusal(text('<!doctype html>'))).message).toMatch(/web page/)
    expect((await refusal(new Uint8Array(31 * 1024 * 1024))).message).toMatch(/31 MB/)
  })

  it('refuses halves and lies of every wrapping', async () => {
    const packed = woff(archivo)
    const packed2 = new Uint8Array(await compress(archivo))
    const set = collection(archivo, knewave)
    for (const whole of [archivo, packed, packed2, set]) {
      for (const share of [0.5, 0.01, 0.9]) await refusal(whole.slice(0, Math.floor(whole.length * share)))
    }
    expect((await refusal(woff(archivo, 1_000_000))).message).toMatch(/damaged/)
    expect((await refusal(woff(archivo, 0x7fffffff - 2000))).message).toMatch(/96 MB/)
    const many = set.slice()
    new DataView(many.buffer).setUint32(8, 4_000_000)
    expect((await refusal(many)).message).toMatch(/4000000 fonts/)
    const huge = packed2.slice()
    new DataView(huge.buffer).setUint32(16, 0xf0000000)
    expect((await refusal(huge)).message).toMatch(/96 MB/)
  })

  it('bears damaged web fonts and collections', async () => {
    const packed = woff(knewave)
    const packed2 = new Uint8Array(await compress(knewave))
    const set = collection(knewave, knewave)
    let seed = 7
    const random = (n: number) => (seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) % n
    for (const whole of [packed, packed2, set]) {
      for (let i = 0; i < 150; i++) {
        const bytes = whole.slice()
        for (let k = random(6); k >= 0; k--) bytes[random(i % 2 ? bytes.length : 120)] = random(256)
        await within(2000, async () => {
          try {
            for (const font of await unpackFont(bytes)) await FontFace.open(font, 'damaged')
          } catch (error) {
            expect(error).toBeInstanceOf(FontError)
          }
        })
      }
    }
  })

  it('reads a collection of colour pictures as what it is', async () => {
    // outlines emptied: every glyph's entry in the location table says that it has no data
    const empty = archivo.slice()
    const view = new DataView(empty.buffer)
    for (let i = 0; i < view.getUint16(4); i++) {
      const at = 12 + 16 * i
      if (String.fromCharCode(...empty.subarray(at, at + 4)) === 'loca') empty.fill(0, view.getUint32(at + 8), view.getUint32(at + 8) + view.getUint32(at + 12))
    }
    expect(await refusal(empty)).toMatchObject({ code: 'no-outlines', message: expect.stringContaining('colour pictures') })
  })
})
