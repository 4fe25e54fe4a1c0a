import { createHash } from 'node:crypto'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { FontError, FontFace } from '@kelvar/core/font/face'
import { readFaceFacts } from '@kelvar/core/font/facts'
import { unpackFont } from '@kelvar/core/font/unpack'
import { FormatError } from '@kelvar/core/format/mesh-data'
import { modelKind, readModel } from '@kelvar/core/format/model'
import { pictureKind, readPicture } from '@kelvar/core/format/picture'
import { readDrawing } from '@kelvar/core/steps/source/vector-file/make'
import { readWebp } from '@kelvar/core/webp-on-node'
import { MAX_DRAWING_BYTES } from '../file-limits'
import type { FileFacts, ReadingAnswer, ReadingJob, UnpackedFace } from './messages'

/** A process of its own, started by the pool: reads files that may be anything, one at a time, and is ended when one takes too much. */

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')

async function readFileFacts(bytes: Uint8Array): Promise<FileFacts> {
  if (pictureKind(bytes)) {
    const { width, height } = await readPicture(bytes, readWebp)
    return { type: 'picture', width, height }
  }
  if (modelKind(bytes)) return { type: 'model', triangles: (await readModel(bytes)).indices.length / 3 }
  if (bytes.length > MAX_DRAWING_BYTES) throw new FormatError('The file is larger than 20 MB.', 'Simplify it, or bring in a part of it.')
  const { outline, ignored } = await readDrawing(bytes)
  return { type: 'vector', layers: outline.layers.length, ignored: ignored.slice(0, 100) }
}

async function readFaces(bytes: Uint8Array, folder: string): Promise<UnpackedFace[]> {
  const faces: UnpackedFace[] = []
  for (const face of await unpackFont(bytes)) {
    const name = sha256(face)
    const path = join(folder, name)
    await writeFile(path, face)
    faces.push({ path, sha256: name, facts: readFaceFacts(await FontFace.open(face, name)) })
  }
  return faces
}

async function answer(job: ReadingJob): Promise<ReadingAnswer> {
  const bytes = new Uint8Array(await readFile(job.path))
  try {
    return job.kind === 'file' ? { ok: true, file: await readFileFacts(bytes) } : { ok: true, faces: await readFaces(bytes, job.folder) }
  } catch (error) {
    if (error instanceof FormatError) return { ok: false, problem: { code: 'unreadable', message: error.message, remedy: error.remedy } }
    if (error instanceof FontError) return { ok: false, problem: { code: error.code, message: error.message, remedy: error.remedy } }
    return { ok: false, failed: error instanceof Error ? (error.stack ?? error.message) : String(error) }
  }
}

process.on('message', (job: ReadingJob) => {
  void answer(job).then(
    (result) => process.send?.(result),
    (error: unknown) => process.send?.({ ok: false, failed: String(error) } satisfies ReadingAnswer),
  )
})
// the server is gone: so is whoever asked
process.on('disconnect', () => process.exit())
process.send?.('ready')
