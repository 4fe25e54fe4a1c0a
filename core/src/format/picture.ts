import { FormatError } from './mesh-data'

/** Pixels, rows from the top down, four bytes each: red, green, blue, opacity. */
export interface Picture {
  readonly width: number
  readonly height: number
  readonly rgba: Uint8Array | Uint8ClampedArray
}

const MAX_PICTURE_BYTES = 20 * 1024 * 1024
const MAX_PIXELS = 40_000_000
const MAX_SIDE = 16_384

export type PictureKind = 'png' | 'jpeg' | 'webp'

/** What kind of picture bytes are, by their first ones; undefined when none that Kelvar reads. */
export function pictureKind(bytes: Uint8Array): PictureKind | undefined {
  const text = (from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to))
  if (bytes[0] === 0x89 && text(1, 4) === 'PNG') return 'png'
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return 'jpeg'
  if (text(0, 4) === 'RIFF' && text(8, 12) === 'WEBP') return 'webp'
  return undefined
}

/**
 * Reads a PNG, JPEG or WebP picture (the first image of an animated one). Its size is read and bounded before anything is
 * unpacked. `readWebp` unpacks WebP: a browser has its own reader, Node.js that of cli/webp.ts. Throws FormatError.
 */
export async function readPicture(bytes: Uint8Array, readWebp: (bytes: Uint8Array) => Promise<Picture>): Promise<Picture> {
  if (bytes.length > MAX_PICTURE_BYTES) throw new FormatError('The picture is larger than 20 MB.', 'Save it smaller.')
  const kind = pictureKind(bytes)
  if (!kind) throw new FormatError('The file is no PNG, JPEG or WebP picture.', 'Save it as one of these.')
  const size = { png: pngSize, jpeg: jpegSize, webp: webpSize }[kind](new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength))
  if (!size || size[0] < 1 || size[1] < 1) throw damaged()
  const [width, height] = size
  if (width * height > MAX_PIXELS || Math.max(width, height) > MAX_SIDE)
    throw new FormatError(`The picture has ${width} × ${height} pixels, more than 40 million or ${MAX_SIDE} a side.`, 'Save it smaller.')
  try {
    const picture = await (kind === 'png' ? readPng(bytes) : kind === 'jpeg' ? readJpeg(bytes) : readWebp(bytes))
    if (picture.rgba.length !== 4 * picture.width * picture.height) throw damaged()
    return picture
  } catch (error) {
    throw error instanceof FormatError ? error : damaged()
  }
}

const damaged = () => new FormatError('The picture is damaged.', 'Save it again from the program it comes from.')

async function readPng(bytes: Uint8Array): Promise<Picture> {
  const [{ decode }, { Unzlib }] = await Promise.all([import('fast-png'), import('fflate')])
  const png = decode(neededChunks(bytes, Unzlib))
  const { width, height, palette, channels, depth } = png
  const data = png.data as Uint8Array | Uint16Array
  const rgba = new Uint8Array(4 * width * height)
  if (depth === 8 && !palette && channels === 4) rgba.set(data)
  else if (depth <= 8 && (palette || channels === 1)) {
    // one of at most 256 values a pixel, of which several may share a byte
    const colours = new Uint8Array(4 * 256)
    const most = 2 ** depth - 1
    for (let v = 0; v <= most; v++) {
      const grey = (v * 255) / most
      colours.set(palette ? [palette[v]?.[0] ?? 0, palette[v]?.[1] ?? 0, palette[v]?.[2] ?? 0, palette[v]?.[3] ?? 255] : [grey, grey, grey, 255], 4 * v)
    }
    const [from, to] = [new Uint32Array(colours.buffer), new Uint32Array(rgba.buffer)]
    const perRow = Math.ceil((width * depth) / 8)
    for (let y = 0, o = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const bit = x * depth
        to[o++] = from[(data[y * perRow + (bit >> 3)] >> (8 - depth - (bit & 7))) & most]
      }
    }
  } else {
    const scale = depth === 16 ? 1 / 257 : 1
    const colour = channels >= 3
    const opaque = channels === 1 || channels === 3
    for (let i = 0, o = 0; o < rgba.length; i += channels, o += 4) {
      rgba[o] = data[i] * scale
      rgba[o + 1] = data[colour ? i + 1 : i] * scale
      rgba[o + 2] = data[colour ? i + 2 : i] * scale
      rgba[o + 3] = opaque ? 255 : data[i + channels - 1] * scale
    }
  }
  return { width, height, rgba }
}

/** Bytes of packed data that are unpacked at a time: they become at most 17 MB. */
const PACKED_SLICE = 16 * 1024

/**
 * A PNG with the chunks alone that its pixels need: profiles and texts may be packed as small as one likes. Its pixels are unpacked
 * once to be counted, and dropped: those of a file that holds more than its size says are not unpacked to their end.
 */
function neededChunks(bytes: Uint8Array, Unzlib: typeof import('fflate').Unzlib): Uint8Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const kept: Uint8Array[] = [bytes.subarray(0, 8)]
  const expected = rawSize(bytes, view)
  let unpacked = 0
  const inflator = new Unzlib((chunk) => {
    unpacked += chunk.length
  })
  for (let at = 8; at + 12 <= bytes.length; ) {
    const end = at + 12 + view.getUint32(at)
    if (end > bytes.length) throw damaged()
    const type = String.fromCharCode(bytes[at + 4], bytes[at + 5], bytes[at + 6], bytes[at + 7])
    if (PNG_CHUNKS.has(type)) kept.push(bytes.subarray(at, end))
    if (type === 'IDAT') {
      for (let o = at + 8; o < end - 4; o += PACKED_SLICE) {
        inflator.push(bytes.subarray(o, Math.min(end - 4, o + PACKED_SLICE)))
        if (unpacked > expected) throw new FormatError('The picture holds more than its size says.', 'Save it again from the program it comes from.')
      }
    }
    if (type === 'IEND') break
    at = end
  }
  const whole = new Uint8Array(kept.reduce((sum, chunk) => sum + chunk.length, 0))
  let o = 0
  for (const chunk of kept) {
    whole.set(chunk, o)
    o += chunk.length
  }
  return whole
}

/** Whether bytes are a PNG from its signature to its end chunk, no larger than a side; its pixels are not looked at. */
export function isWholePng(bytes: Uint8Array, side: number): boolean {
  if (pictureKind(bytes) !== 'png' || bytes.length < 57) return false
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const [width, height] = [view.getUint32(16), view.getUint32(20)]
  if (width < 1 || height < 1 || Math.max(width, height) > side) return false
  for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at))
    if (String.fromCharCode(bytes[at + 4], bytes[at + 5], bytes[at + 6], bytes[at + 7]) === 'IEND') return at + 12 === bytes.length
  return false
}

const PNG_CHUNKS = new Set(['IHDR', 'PLTE', 'tRNS', 'IDAT', 'IEND'])
/** Where the passes of an interlaced PNG begin, and their strides (PNG specification, section 8.2): x, y, x stride, y stride. */
const ADAM7 = [[0, 0, 8, 8], [4, 0, 8, 8], [0, 4, 4, 8], [2, 0, 4, 4], [0, 2, 2, 4], [1, 0, 2, 2], [0, 1, 1, 2]] // biome-ignore format: a table

/** Bytes of a PNG's pixels unpacked, filter bytes of the rows included. */
function rawSize(bytes: Uint8Array, view: DataView): number {
  const [width, height] = [view.getUint32(16), view.getUint32(20)]
  const bits = bytes[24] * ([1, 0, 3, 1, 2, 0, 4][bytes[25]] ?? 0)
  const rows = (w: number, h: number) => (w > 0 ? h * (1 + Math.ceil((w * bits) / 8)) : 0)
  if (bytes[28] === 0) return rows(width, height)
  return ADAM7.reduce((sum, [x, y, dx, dy]) => sum + rows(Math.ceil((width - x) / dx), Math.max(0, Math.ceil((height - y) / dy))), 0)
}

async function readJpeg(bytes: Uint8Array): Promise<Picture> {
  const { decode } = await import('jpeg-js')
  const { width, height, data } = decode(bytes, { useTArray: true, formatAsRGBA: true, maxResolutionInMP: MAX_PIXELS / 1e6, maxMemoryUsageInMB: 1024 })
  return { width, height, rgba: data }
}

function pngSize(view: DataView): [number, number] | undefined {
  return view.byteLength >= 24 ? [view.getUint32(16), view.getUint32(20)] : undefined
}

function jpegSize(view: DataView): [number, number] | undefined {
  for (let at = 2; at + 9 < view.byteLength; ) {
    if (view.getUint8(at) !== 0xff) return undefined
    const marker = view.getUint8(at + 1)
    if (marker === 0xff || (marker >= 0xd0 && marker <= 0xd9) || marker === 1) at += marker === 0xff ? 1 : 2
    // start of frame, but not the tables that share its range
    else if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc) return [view.getUint16(at + 7), view.getUint16(at + 5)]
    else at += 2 + view.getUint16(at + 2)
  }
  return undefined
}

function webpSize(view: DataView): [number, number] | undefined {
  if (view.byteLength < 30) return undefined
  const chunk = String.fromCharCode(...[12, 13, 14, 15].map((i) => view.getUint8(i)))
  if (chunk === 'VP8 ') return [view.getUint16(26, true) & 0x3fff, view.getUint16(28, true) & 0x3fff]
  if (chunk === 'VP8L') {
    const bits = view.getUint32(21, true)
    return [(bits & 0x3fff) + 1, ((bits >>> 14) & 0x3fff) + 1]
  }
  const three = (at: number) => view.getUint8(at) | (view.getUint8(at + 1) << 8) | (view.getUint8(at + 2) << 16)
  return chunk === 'VP8X' ? [three(24) + 1, three(27) + 1] : undefined
}

/** A picture made smaller by averaging whole blocks of pixels, so that it has at most `most`; the same one when it has. */
export function averaged(picture: Picture, most: number): Picture {
  const k = Math.ceil(Math.sqrt((picture.width * picture.height) / most))
  if (k <= 1) return picture
  const [width, height] = [Math.ceil(picture.width / k), Math.ceil(picture.height / k)]
  const rgba = new Uint8Array(4 * width * height)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0]
      let count = 0
      for (let v = y * k; v < Math.min(picture.height, (y + 1) * k); v++) {
        for (let u = x * k; u < Math.min(picture.width, (x + 1) * k); u++) {
          const o = 4 * (v * picture.width + u)
          const a = picture.rgba[o + 3]
          for (let c = 0; c < 3; c++) sum[c] += picture.rgba[o + c] * a
          sum[3] += a
          count++
        }
      }
      const o = 4 * (y * width + x)
      for (let c = 0; c < 3; c++) rgba[o + c] = sum[3] > 0 ? sum[c] / sum[3] : 255
      rgba[o + 3] = sum[3] / count
    }
  }
  return { width, height, rgba }
}
