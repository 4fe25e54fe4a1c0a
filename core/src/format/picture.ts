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
  const { decode } = await import('fast-png')
  const png = decode(bytes)
  const { width, height, palette } = png
  const rgba = new Uint8Array(4 * width * height)
  if (png.depth === 8 && !palette && (png.channels === 4 || png.channels === 3)) {
    if (png.channels === 4) return { width, height, rgba: Uint8Array.from(png.data) }
    for (let i = 0, o = 0; o < rgba.length; i += 3, o += 4) {
      rgba[o] = png.data[i]
      rgba[o + 1] = png.data[i + 1]
      rgba[o + 2] = png.data[i + 2]
      rgba[o + 3] = 255
    }
    return { width, height, rgba }
  }
  const scale = png.depth === 16 ? 1 / 257 : png.depth < 8 ? 255 / (2 ** png.depth - 1) : 1
  const { channels } = png
  // grey and palette pictures of less than a byte a pixel are packed
  const packed = png.depth < 8
  const perRow = packed ? Math.ceil((width * channels * png.depth) / 8) : 0
  const sample = (x: number, y: number, k: number): number => {
    if (!packed) return png.data[channels * (y * width + x) + k]
    const bit = x * png.depth
    return (png.data[y * perRow + (bit >> 3)] >> (8 - png.depth - (bit & 7))) & (2 ** png.depth - 1)
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const o = 4 * (y * width + x)
      if (palette) {
        const entry = palette[sample(x, y, 0)] ?? [0, 0, 0]
        rgba.set([entry[0], entry[1], entry[2], entry[3] ?? 255], o)
      } else {
        const v = [0, 1, 2, 3].map((k) => (k < channels ? sample(x, y, k) * scale : 0))
        rgba.set(channels < 3 ? [v[0], v[0], v[0], channels === 2 ? v[1] : 255] : [v[0], v[1], v[2], channels === 4 ? v[3] : 255], o)
      }
    }
  }
  return { width, height, rgba }
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
