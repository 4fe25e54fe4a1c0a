import { type Zippable, Unzip, UnzipInflate, unzipSync, zipSync } from 'fflate'

/** The date of all parts of archives, so that the same parts give the same bytes. */
export const PART_DATE = new Date('2020-01-01T00:00:00Z')

/** A zip of these parts. */
export const archive = (parts: Zippable): Uint8Array => zipSync(parts, { level: 6, mtime: PART_DATE })

/** Of an archive's parts no more are taken. */
const MOST_PARTS = 1000

/** Packed bytes handed on at a time: they become at most 68 MB. */
const SLICE = 64 * 1024

/**
 * The parts of an archive that are wanted, unpacked, in its order; "large" as soon as they grow beyond `most` bytes together, whatever the
 * archive says of them. Throws when the archive is damaged or cut short in one of them.
 */
export function archiveParts(bytes: Uint8Array, wanted: (name: string) => boolean, most: number): { name: string; bytes: Uint8Array }[] | 'large' {
  const found: { name: string; chunks: Uint8Array[]; size: number; whole: boolean }[] = []
  let size = 0
  const unzip = new Unzip((file) => {
    if (found.length >= MOST_PARTS || !wanted(file.name)) return
    const part = { name: file.name, chunks: [] as Uint8Array[], size: 0, whole: false }
    found.push(part)
    file.ondata = (error, chunk, final) => {
      if (error) throw error
      size += chunk.length
      part.size += chunk.length
      if (size <= most) part.chunks.push(chunk)
      part.whole ||= final
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  for (let at = 0; at < bytes.length; at += SLICE) {
    unzip.push(bytes.subarray(at, at + SLICE), at + SLICE >= bytes.length)
    if (size > most) return 'large'
  }
  // what is no archive at all has no parts either
  if (found.length === 0) unzipSync(bytes, { filter: () => false })
  if (!found.every(({ whole }) => whole)) throw new Error('cut short')
  return found.map(({ name, chunks, size: length }) => {
    const part = new Uint8Array(length)
    let at = 0
    for (const chunk of chunks) {
      part.set(chunk, at)
      at += chunk.length
    }
    return { name, bytes: part }
  })
}
