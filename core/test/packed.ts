import { crc32, deflateRawSync } from 'node:zlib'
import { Zip, type ZipInputFile } from 'fflate'

/** A zip of these entries, every one of them the same bytes. They are packed once: packing them over and over takes longer than all else of a test. */
export function packedAlike(names: readonly string[], bytes: Uint8Array): Uint8Array {
  const parts: Uint8Array[] = []
  const zip = new Zip((error, part) => {
    if (error) throw error
    parts.push(part)
  })
  const packed = deflateRawSync(bytes, { level: 9 })
  for (const filename of names) {
    const entry: ZipInputFile = { filename, compression: 8, size: bytes.length, crc: crc32(bytes) }
    zip.add(entry)
    entry.ondata?.(null, packed, true)
  }
  zip.end()
  return Buffer.concat(parts)
}
