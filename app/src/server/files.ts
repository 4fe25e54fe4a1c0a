import { readWebp } from '@kelvar/core/webp-on-node'
import { FormatError } from '@kelvar/core/format/mesh-data'
import { pictureKind, readPicture } from '@kelvar/core/format/picture'
import { readDrawing } from '@kelvar/core/steps/source/vector-file/index'
import type { EntityManager } from '@mikro-orm/postgresql'
import { storeAsset } from './assets'

export const MAX_FILE_BYTES = 20 * 1024 * 1024

type AddedFile =
  | { sha256: string; name: string; bytes: number; width: number; height: number }
  | { sha256: string; name: string; bytes: number; layers: number; ignored: readonly string[] }
  | { problem: { code: string; message: string; remedy: string } }

/** Reads a drawing or a picture for real and keeps its bytes under their SHA-256; nothing is kept of one that cannot be read. */
export async function addFile(em: EntityManager, file: Uint8Array, name: string): Promise<AddedFile> {
  try {
    if (pictureKind(file)) {
      const { width, height } = await readPicture(file, readWebp)
      return { ...(await keep(em, file, name, 'picture')), width, height }
    }
    const { outline, ignored } = await readDrawing(file)
    return { ...(await keep(em, file, name, 'vector')), layers: outline.layers.length, ignored }
  } catch (error) {
    if (error instanceof FormatError) return { problem: { code: 'unreadable', message: error.message, remedy: error.remedy } }
    throw error
  }
}

async function keep(em: EntityManager, file: Uint8Array, name: string, type: 'vector' | 'picture'): Promise<{ sha256: string; name: string; bytes: number }> {
  const { sha256, size } = await storeAsset(em, { name, type }, file)
  return { sha256, name, bytes: size }
}
