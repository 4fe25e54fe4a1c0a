import { strToU8 } from 'fflate'

/** Bytes as bakes and their parts are kept: four letters, a format number, the length of a JSON head (little endian, 4 bytes each), the head, then chunks, each after its length. */
export function packChunks(magic: number, format: number, head: unknown, chunks: readonly Uint8Array[]): Uint8Array {
  const text = strToU8(JSON.stringify(head))
  const out = new Uint8Array(12 + text.length + chunks.reduce((sum, chunk) => sum + 4 + chunk.length, 0))
  const view = new DataView(out.buffer)
  view.setUint32(0, magic, true)
  view.setUint32(4, format, true)
  view.setUint32(8, text.length, true)
  out.set(text, 12)
  let at = 12 + text.length
  for (const chunk of chunks) {
    view.setUint32(at, chunk.length, true)
    out.set(chunk, at + 4)
    at += 4 + chunk.length
  }
  return out
}
