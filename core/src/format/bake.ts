import { deflateSync, inflateSync, strFromU8 } from 'fflate'
import { z } from 'zod'
import { packChunks } from './bake-chunks'

/**
 * What was recorded of a simulation: numbers, frame by frame, and what is said of it.
 *
 * The file: "KVBK", a format number (1), the length of a JSON head (little endian, 4 bytes each), the head, then chunks of 60 frames, deflated, each after its length. A number is a whole one
 * of 0 to 65,535 between its component's least and greatest in the whole bake; of that the difference to the frame before and to the number of the same component before (the first frame of a
 * chunk: the latter only), zigzag, all low bytes before all high ones: what moves is much like what stood there before, and like its neighbour.
 */
export interface Bake {
  /** what else there is to say; JSON */
  readonly about: Readonly<Record<string, unknown>>
  readonly frames: number
  /** numbers a frame */
  readonly stride: number
  /** after so many numbers the same component comes again: 3 for places */
  readonly period: number
  readonly values: Float32Array
}

const MAGIC = 0x4b42564b
const FORMAT = 1
const CHUNK = 60
const TOP = 65_535
/** Numbers a bake may hold. */
const MOST = 64_000_000

const headSchema = z.object({
  frames: z.number().int().min(1).max(100_000),
  stride: z.number().int().min(0).max(MOST),
  period: z.number().int().min(1).max(16),
  low: z.array(z.number()).max(16),
  high: z.array(z.number()).max(16),
  about: z.record(z.string(), z.unknown()),
})

/** A bake as bytes. Every number comes back within a 131,070th of its component's range; those that do not change come back as they were to a float's own precision. */
export function packBake({ about, frames, stride, period, values }: Bake): Uint8Array {
  const low = new Array<number>(period).fill(Infinity)
  const high = new Array<number>(period).fill(-Infinity)
  for (let i = 0; i < values.length; i++) {
    const k = (i % stride) % period
    if (values[i] < low[k]) low[k] = values[i]
    if (values[i] > high[k]) high[k] = values[i]
  }
  for (let k = 0; k < period; k++) if (low[k] > high[k]) low[k] = high[k] = 0
  const parts: Uint8Array[] = []
  const scale = low.map((v, k) => (high[k] > v ? TOP / (high[k] - v) : 0))
  for (let first = 0; first < frames; first += CHUNK) {
    const count = Math.min(CHUNK, frames - first)
    const raw = new Uint8Array(2 * count * stride)
    let before = new Uint16Array(stride)
    for (let f = 0; f < count; f++) {
      const now = new Uint16Array(stride)
      const o = (first + f) * stride
      for (let i = 0; i < stride; i++) now[i] = Math.round((values[o + i] - low[i % period]) * scale[i % period])
      for (let i = 0; i < stride; i++) {
        const own = now[i] - before[i]
        const beside = i >= period ? now[i - period] - before[i - period] : 0
        const d = ((own - beside) << 16) >> 16
        const zigzag = ((d << 1) ^ (d >> 31)) & 0xffff
        raw[f * stride + i] = zigzag
        raw[count * stride + f * stride + i] = zigzag >> 8
      }
      before = now
    }
    parts.push(deflateSync(raw, { level: 6 }))
  }
  return packChunks(MAGIC, FORMAT, { frames, stride, period, low, high, about }, parts)
}

/** What a bake's head says and where its chunks stand, nothing of them read; undefined when the bytes are no bake, are cut short, or of another format. */
export function bakeHead(bytes: Uint8Array): (z.infer<typeof headSchema> & { readonly chunks: readonly Uint8Array[] }) | undefined {
  try {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    if (view.getUint32(0, true) !== MAGIC || view.getUint32(4, true) !== FORMAT) return undefined
    let at = 12 + view.getUint32(8, true)
    const head = headSchema.safeParse(JSON.parse(strFromU8(bytes.subarray(12, at))))
    if (!head.success) return undefined
    const { frames, stride, period, low, high } = head.data
    if (frames * stride > MOST || low.length !== period || high.length !== period) return undefined
    const chunks: Uint8Array[] = []
    for (let first = 0; first < frames; first += CHUNK) {
      const size = view.getUint32(at, true)
      chunks.push(bytes.subarray(at + 4, at + 4 + size))
      at += 4 + size
    }
    return at === bytes.length ? { ...head.data, chunks } : undefined
  } catch {
    return undefined
  }
}

/** The bake that bytes hold; undefined when they are none, are damaged, or of another format. */
export function unpackBake(bytes: Uint8Array): Bake | undefined {
  const head = bakeHead(bytes)
  if (!head) return undefined
  const { frames, stride, period, low, high, about, chunks } = head
  const values = new Float32Array(frames * stride)
  const step = low.map((v, k) => (high[k] - v) / TOP)
  for (const [c, chunk] of chunks.entries()) {
    const first = c * CHUNK
    const count = Math.min(CHUNK, frames - first)
    let raw: Uint8Array
    try {
      raw = inflateSync(chunk, { out: new Uint8Array(2 * count * stride) })
    } catch {
      return undefined
    }
    if (raw.length !== 2 * count * stride) return undefined
    let before = new Uint16Array(stride)
    for (let f = 0; f < count; f++) {
      const now = new Uint16Array(stride)
      const o = (first + f) * stride
      for (let i = 0; i < stride; i++) {
        const zigzag = raw[f * stride + i] | (raw[count * stride + f * stride + i] << 8)
        const beside = i >= period ? now[i - period] - before[i - period] : 0
        now[i] = before[i] + beside + ((zigzag >>> 1) ^ -(zigzag & 1))
        const k = i % period
        values[o + i] = low[k] + now[i] * step[k]
      }
      before = now
    }
  }
  return { about, frames, stride, period, values }
}
