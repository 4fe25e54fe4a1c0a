import { unzlibSync } from 'fflate'
import { FontError } from './face'

/** What a person may hand in. */
export const MAX_FONT_FILE_BYTES = 30 * 1024 * 1024
/** What a compressed font or a collection may grow to. */
const MAX_UNPACKED_BYTES = 96 * 1024 * 1024
const MAX_FACES = 64
const MAX_TABLES = 128

const unreadable = (message: string, remedy = 'Choose a font file: .ttf, .otf, .ttc, .woff or .woff2.') => new FontError('unreadable', message, remedy)

const tagAt = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))
const viewOf = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)

/**
 * The single TrueType or OpenType fonts in a font file: itself, the fonts of a collection, or what a web font (WOFF 1.0,
 * WOFF 2.0; W3C Recommendations) holds. New arrays, except for a plain font, which is returned as it is. Only the
 * wrapping is checked here; `FontFace.open` reads the fonts. Throws a FontError that says what the file is instead.
 */
export async function unpackFont(bytes: Uint8Array): Promise<Uint8Array[]> {
  if (bytes.length === 0) throw unreadable('The font file is empty.', 'Choose the file again; it may not have been copied whole.')
  if (bytes.length > MAX_FONT_FILE_BYTES)
    throw unreadable(
      `The font file is ${Math.ceil(bytes.length / 1048576)} MB; Kelvar takes up to 30 MB.`,
      'Choose a font with fewer characters, or a subset of it.',
    )
  if (bytes.length < 12) throw unreadable('The font file is cut short.')
  switch (tagAt(bytes, 0)) {
    case 'ttcf':
      return splitCollection(bytes)
    case 'wOFF':
      return [unpackWoff(bytes)]
    case 'wOF2': {
      const plain = await unpackWoff2(bytes)
      return tagAt(plain, 0) === 'ttcf' ? splitCollection(plain) : [plain]
    }
    case '\0\x01\0\0':
    case 'OTTO':
    case 'true':
      return [bytes]
  }
  throw unreadable(`The file is no TrueType or OpenType font${whatElse(bytes)}.`)
}

/** Names the commonest other things that people drop on a type case. */
function whatElse(bytes: Uint8Array): string {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 64))
  if (head.startsWith('\x89PNG')) return ': it is a PNG picture'
  if (head.startsWith('\xff\xd8\xff')) return ': it is a JPEG picture'
  if (head.startsWith('PK\x03\x04')) return ': it is a zip archive; take the font out of it first'
  if (head.startsWith('%PDF')) return ': it is a PDF document'
  if (head.startsWith('%!') || head.startsWith('\x80\x01')) return ': it is a PostScript Type 1 font, a format that is not read'
  if (head.startsWith('STARTFONT') || head.startsWith('\x01fcp')) return ': it is a bitmap font, which has no outlines'
  if (/^\s*<(!doctype|html|svg|\?xml)/i.test(head)) return ': it is a web page or an XML file'
  return ''
}

/** Every font of a collection (OpenType 1.9, "TrueType Collection"), each with its own copy of the tables. */
function splitCollection(bytes: Uint8Array): Uint8Array[] {
  const view = viewOf(bytes)
  const count = view.getUint32(8)
  if (count === 0 || count > MAX_FACES) throw unreadable(`The collection states ${count} fonts; Kelvar takes up to ${MAX_FACES}.`)
  if (12 + 4 * count > bytes.length) throw unreadable('The collection of fonts is cut short.')
  let total = 0
  return Array.from({ length: count }, (_, i) => {
    const at = view.getUint32(12 + 4 * i)
    if (at + 12 > bytes.length) throw unreadable(`The collection is cut short: its font ${i + 1} lies past the end.`)
    const number = view.getUint16(at + 4)
    if (number > MAX_TABLES || at + 12 + 16 * number > bytes.length) throw unreadable(`The directory of the collection’s font ${i + 1} is damaged.`)
    const tables = Array.from({ length: number }, (_, k) => {
      const entry = at + 12 + 16 * k
      const [offset, length] = [view.getUint32(entry + 8), view.getUint32(entry + 12)]
      if (offset + length > bytes.length) throw unreadable(`The collection is cut short: a table of its font ${i + 1} runs past the end.`)
      total += length
      if (total > MAX_UNPACKED_BYTES) throw unreadable('The collection unpacks to more than 96 MB.')
      return { tag: tagAt(bytes, entry), data: bytes.subarray(offset, offset + length) }
    })
    return writeSfnt(view.getUint32(at), tables)
  })
}

function unpackWoff(bytes: Uint8Array): Uint8Array {
  const view = viewOf(bytes)
  if (bytes.length < 44) throw unreadable('The web font is cut short.')
  if (view.getUint32(8) > bytes.length) throw unreadable('The web font is cut short: it states more bytes than there are.')
  const number = view.getUint16(12)
  if (number > MAX_TABLES || 44 + 20 * number > bytes.length) throw unreadable('The table directory of the web font is damaged.')
  let total = 0
  const tables = Array.from({ length: number }, (_, k) => {
    const at = 44 + 20 * k
    const tag = tagAt(bytes, at)
    const [offset, packed, length] = [view.getUint32(at + 4), view.getUint32(at + 8), view.getUint32(at + 12)]
    total += length
    if (total > MAX_UNPACKED_BYTES) throw unreadable('The web font unpacks to more than 96 MB.')
    if (offset + packed > bytes.length || packed > length) throw unreadable(`The web font’s “${tag.trim()}” table is damaged.`)
    const data = bytes.subarray(offset, offset + packed)
    return { tag, data: packed === length ? data : inflate(data, length, tag) }
  })
  return writeSfnt(view.getUint32(4), tables)
}

function inflate(data: Uint8Array, length: number, tag: string): Uint8Array {
  const damaged = () => unreadable(`The web font’s “${tag.trim()}” table cannot be unpacked: it is damaged.`)
  let out: Uint8Array
  try {
    // the given buffer bounds what a lying table can grow to
    out = unzlibSync(data, { out: new Uint8Array(length) })
  } catch {
    throw damaged()
  }
  if (out.length !== length) throw damaged()
  return out
}

async function unpackWoff2(bytes: Uint8Array): Promise<Uint8Array> {
  if (bytes.length < 48) throw unreadable('The web font is cut short.')
  const view = viewOf(bytes)
  if (view.getUint32(8) !== bytes.length) throw unreadable('The web font is cut short: it states another length than it has.')
  if (view.getUint32(16) > MAX_UNPACKED_BYTES) throw unreadable('The web font unpacks to more than 96 MB.')
  try {
    const { default: decompress } = await import('wawoff2/decompress.js')
    return new Uint8Array(await decompress(bytes))
  } catch {
    throw unreadable('The web font cannot be unpacked: it is damaged.')
  }
}

/** A font file of the given tables, in the order of their tags, each at a multiple of four bytes. */
function writeSfnt(version: number, tables: readonly { tag: string; data: Uint8Array }[]): Uint8Array {
  const sorted = tables.slice().sort((a, b) => (a.tag < b.tag ? -1 : 1))
  const size = sorted.reduce((sum, t) => sum + ((t.data.length + 3) & ~3), 12 + 16 * sorted.length)
  const out = new Uint8Array(size)
  const view = viewOf(out)
  const power = 31 - Math.clz32(Math.max(1, sorted.length))
  view.setUint32(0, version)
  view.setUint16(4, sorted.length)
  view.setUint16(6, 16 << power)
  view.setUint16(8, power)
  view.setUint16(10, 16 * sorted.length - (16 << power))
  let offset = 12 + 16 * sorted.length
  sorted.forEach(({ tag, data }, i) => {
    out.set(data, offset)
    const at = 12 + 16 * i
    for (let k = 0; k < 4; k++) out[at + k] = tag.charCodeAt(k)
    view.setUint32(at + 4, checksum(view, offset, data.length))
    view.setUint32(at + 8, offset)
    view.setUint32(at + 12, data.length)
    offset += (data.length + 3) & ~3
  })
  return out
}

function checksum(view: DataView, offset: number, length: number): number {
  let sum = 0
  for (let at = offset; at < offset + length; at += 4) sum = (sum + view.getUint32(at)) >>> 0
  return sum
}
