import { deflateSync, inflateSync, strFromU8 } from 'fflate'
import { z } from 'zod'
import { packChunks } from './bake-chunks'

/**
 * A simulation that was broken off: the frames it recorded since the last such part, as they were recorded, and where it stood after them, to go on from there bit by bit.
 *
 * The file: "KVBP", a format number (1), the length of a JSON head (little endian, 4 bytes each), the head, then the frames' floats (all first bytes, all second ones and so on) and the engine's state,
 * both deflated and each after its length.
 */
export interface BakePart {
  /** a number that the parts of one attempt have in common */
  readonly run: number
  /** frames in the parts before it */
  readonly before: number
  /** numbers a frame */
  readonly stride: number
  /** its frames, one after the other */
  readonly values: Float32Array
  /** the engine's state after the last of them */
  readonly engine: Uint8Array
  /** what the simulation itself has to know besides */
  readonly own: readonly number[]
}

const MAGIC = 0x4b564250
const FORMAT = 1
/** Numbers that a part may hold, bytes of an engine's state, and numbers of the simulation's own. */
const MOST = 24_000_000
const MOST_STATE = 128 * 1024 * 1024
const MOST_OWN = 1_000_000

const headSchema = z.object({
  run: z.number().int().min(0),
  before: z.number().int().min(0).max(100_000),
  frames: z.number().int().min(1).max(100_000),
  stride: z.number().int().min(1).max(MOST),
  state: z.number().int().min(0).max(MOST_STATE),
  own: z.array(z.number()).max(MOST_OWN),
})

/** A part as bytes. */
export function packBakePart({ run, before, stride, values, engine, own }: BakePart): Uint8Array {
  const bytes = new Uint8Array(values.buffer, values.byteOffset, values.byteLength)
  const planes = new Uint8Array(bytes.length)
  for (let i = 0; i < values.length; i++) for (let k = 0; k < 4; k++) planes[k * values.length + i] = bytes[4 * i + k]
  const parts = [planes, engine].map((part) => deflateSync(part, { level: 1 }))
  return packChunks(MAGIC, FORMAT, { run, before, frames: values.length / stride, stride, state: engine.length, own }, parts)
}

/** What a part's head says, nothing else of it read; undefined when the bytes are none, are cut short, or of another format. */
export function bakePartHead(bytes: Uint8Array): (z.infer<typeof headSchema> & { readonly packed: readonly [Uint8Array, Uint8Array] }) | undefined {
  try {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
    if (view.getUint32(0, true) !== MAGIC || view.getUint32(4, true) !== FORMAT) return undefined
    const first = 12 + view.getUint32(8, true)
    const head = headSchema.safeParse(JSON.parse(strFromU8(bytes.subarray(12, first))))
    if (!head.success || head.data.frames * head.data.stride > MOST) return undefined
    const second = first + 4 + view.getUint32(first, true)
    const end = second + 4 + view.getUint32(second, true)
    return end === bytes.length ? { ...head.data, packed: [bytes.subarray(first + 4, second), bytes.subarray(second + 4, end)] } : undefined
  } catch {
    return undefined
  }
}

/** The part that bytes hold; undefined when they are none, are damaged, or of another format. */
export function unpackBakePart(bytes: Uint8Array): BakePart | undefined {
  const head = bakePartHead(bytes)
  if (!head) return undefined
  const { run, before, frames, stride, state, own, packed } = head
  try {
    const count = frames * stride
    const planes = inflateSync(packed[0], { out: new Uint8Array(4 * count) })
    const engine = inflateSync(packed[1], { out: new Uint8Array(state) })
    if (planes.length !== 4 * count || engine.length !== state) return undefined
    const values = new Float32Array(count)
    const into = new Uint8Array(values.buffer)
    for (let i = 0; i < count; i++) for (let k = 0; k < 4; k++) into[4 * i + k] = planes[k * count + i]
    return { run, before, stride, values, engine, own }
  } catch {
    return undefined
  }
}
