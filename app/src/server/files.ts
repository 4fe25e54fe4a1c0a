import { hashBytes } from '@kelvar/core/evaluate/hash'
import { FormatError } from '@kelvar/core/format/mesh-data'
import { readDrawing } from '@kelvar/core/steps/vector-file/index'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Asset } from './entities'

export const MAX_DRAWING_BYTES = 20 * 1024 * 1024

export type AddedDrawing =
  | { sha256: string; name: string; bytes: number; layers: number; ignored: readonly string[] }
  | { problem: { code: string; message: string; remedy: string } }

/** Reads a drawing for real and keeps its bytes under their SHA-256; nothing is kept of one that cannot be read. */
export async function addDrawing(em: EntityManager, file: Uint8Array, name: string): Promise<AddedDrawing> {
  try {
    const { outline, ignored } = await readDrawing(file)
    const sha256 = hashBytes(file)
    if (!(await em.count(Asset, { sha256 })))
      await em.insert(Asset, { sha256, name, type: 'vector', bytes: Buffer.from(file), facts: null, listed: false, createdAt: new Date() })
    return { sha256, name, bytes: file.length, layers: outline.layers.length, ignored }
  } catch (error) {
    if (error instanceof FormatError) return { problem: { code: 'unreadable', message: error.message, remedy: error.remedy } }
    throw error
  }
}
