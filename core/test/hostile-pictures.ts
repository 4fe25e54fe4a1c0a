import { zlibSync } from 'fflate'

/** PNG files put together chunk by chunk (PNG specification, third edition), so that each can be wrong in a way of its own. */

const table = Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})

function crc(bytes: Uint8Array): number {
  let c = 0xffffffff
  for (const byte of bytes) c = table[(c ^ byte) & 255] ^ (c >>> 8)
  return (c ^ 0xffffffff) >>> 0
}

/** One chunk; its length can be made to lie. */
export function pngChunk(type: string, data: Uint8Array, length = data.length): Uint8Array {
  const out = new Uint8Array(12 + data.length)
  const view = new DataView(out.buffer)
  view.setUint32(0, length)
  for (let i = 0; i < 4; i++) out[4 + i] = type.charCodeAt(i)
  out.set(data, 8)
  view.setUint32(8 + data.length, crc(out.subarray(4, 8 + data.length)))
  return out
}

export interface PngHeader {
  readonly width: number
  readonly height: number
  readonly depth?: number
  /** 0 grey, 2 colour, 3 palette, 4 grey with opacity, 6 colour with opacity */
  readonly colour?: number
  readonly interlace?: number
}

/** A PNG of these chunks between its header and its end. */
export function pngOf({ width, height, depth = 8, colour = 6, interlace = 0 }: PngHeader, ...chunks: readonly Uint8Array[]): Uint8Array {
  const header = new Uint8Array(13)
  const view = new DataView(header.buffer)
  view.setUint32(0, width)
  view.setUint32(4, height)
  header.set([depth, colour, 0, 0, interlace], 8)
  const parts = [Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10), pngChunk('IHDR', header), ...chunks, pngChunk('IEND', new Uint8Array())]
  const whole = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    whole.set(part, at)
    at += part.length
  }
  return whole
}

const packed = (bytes: Uint8Array): Uint8Array => zlibSync(bytes, { level: 9 })

/** Pixels, rows with their filter bytes, as the chunk that holds them. */
export const pngPixels = (rows: Uint8Array): Uint8Array => pngChunk('IDAT', packed(rows))

/** Says ten pixels by ten, and unpacks to so many bytes. */
export const pngBomb = (bytes: number): Uint8Array => pngOf({ width: 10, height: 10 }, pngPixels(new Uint8Array(bytes)))

/** Two pixels by two, with a colour profile that unpacks to so many bytes. */
export const pngProfileBomb = (bytes: number): Uint8Array =>
  pngOf({ width: 2, height: 2 }, pngChunk('iCCP', Uint8Array.from([0x78, 0, 0, ...packed(new Uint8Array(bytes))])), pngPixels(new Uint8Array(18)))

/** A picture of one bit a pixel, upright stripes two pixels apart. */
export function pngStripes(width: number, height: number): Uint8Array {
  const perRow = 1 + Math.ceil(width / 8)
  const rows = new Uint8Array(perRow * height).fill(0xaa)
  for (let y = 0; y < height; y++) rows[y * perRow] = 0
  return pngOf({ width, height, depth: 1, colour: 0 }, pngChunk('IDAT', zlibSync(rows, { level: 1 })))
}
