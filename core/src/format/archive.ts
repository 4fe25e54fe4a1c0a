import { type Zippable, Unzip, UnzipInflate, unzipSync, zipSync } from 'fflate'

/** The date of all parts of archives, so that the same parts give the same bytes. */
export const PART_DATE = new Date('2020-01-01T00:00:00Z')

/** A zip of these parts. */
export const archive = (parts: Zippable): Uint8Array => zipSync(parts, { level: 6, mtime: PART_DATE })

/** Packed bytes handed on at a time: they become at most 68 MB. */
const SLICE = 64 * 1024

/**
 * The first part of an archive that is wanted, unpacked; "large" as soon as it grows beyond `most` bytes, whatever the archive says of it.
 * Throws when the archive is damaged.
 */
export function archivePart(bytes: Uint8Array, wanted: (name: string) => boolean, most: number): Uint8Array | 'large' | undefined {
  const chunks: Uint8Array[] = []
  let size = 0
  let found = false
  let whole = false
  const unzip = new Unzip((file) => {
    if (found || !wanted(file.name)) return
    found = true
    file.ondata = (error, chunk, final) => {
      if (error) throw error
      size += chunk.length
      if (size <= most) chunks.push(chunk)
      whole ||= final
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  for (let at = 0; at < bytes.length && !whole; at += SLICE) {
    unzip.push(bytes.subarray(at, at + SLICE), at + SLICE >= bytes.length)
    if (size > most) return 'large'
  }
  if (!found) {
    // what is no archive at all has no parts either
    unzipSync(bytes, { filter: () => false })
    return undefined
  }
  if (!whole) throw new Error('cut short')
  const part = new Uint8Array(size)
  let at = 0
  for (const chunk of chunks) {
    part.set(chunk, at)
    at += chunk.length
  }
  return part
}
