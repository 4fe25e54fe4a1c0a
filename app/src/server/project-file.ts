import { createReadStream, createWriteStream } from 'node:fs'
import { mkdtemp, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { type OpenProjectFile, openProjectFile, ProjectFileError, projectFile } from '@kelvar/core/format/project-file'
import { MAX_FONT_FILE_BYTES } from '@kelvar/core/font/unpack'
import type { EntityManager } from '@mikro-orm/postgresql'
import { assetParts, MAX_PROJECT_ASSETS, storeStream } from './assets'
import { bakesOf, keepCarried } from './bakes'
import { Asset } from './entities'
import { MAX_DRAWING_BYTES } from './file-limits'
import { keepFile, readFileApart } from './files'
import { keepFaces, readFacesApart } from './fonts'
import { createProject, findProject } from './projects'
import type { ReadProblem } from './reading/messages'
import type { Spooled } from './spool'

/** A project with all it carries as one file, chunk by chunk, and its name; undefined when there is none. */
export async function takeOut(em: EntityManager, id: string): Promise<{ name: string; chunks: AsyncGenerator<Uint8Array> } | undefined> {
  const row = await findProject(em, id)
  return row ? { name: row.name, chunks: projectFile(row.document, (sha256) => assetParts(em, sha256), bakesOf(em, id, row.document)) } : undefined
}

type BroughtIn = { id: string } | { problem: ReadProblem }

/**
 * Makes a project of a file that was taken out, here or elsewhere. All it carries is read for real, as if it had been added by hand, one after
 * another and never whole in memory; nothing is kept unless all of it can be,
 * in the `transaction` given. What it lists but lacks must be in this library already.
 */
export async function bringIn(
  em: EntityManager,
  { path, folder }: Pick<Spooled, 'path' | 'folder'>,
  transaction: (work: (tx: EntityManager) => Promise<BroughtIn>) => Promise<BroughtIn>,
  signal?: AbortSignal,
): Promise<BroughtIn> {
  const file = await openProjectFile(path)
  if (!file.ok) return { problem: file.problem }
  const { document } = file
  try {
    const present = new Set((await em.find(Asset, { sha256: { $in: document.assets.map((a) => a.sha256) } }, { fields: ['sha256'] })).map((a) => a.sha256))
    const lacking = document.assets.filter((asset) => !present.has(asset.sha256) && !file.assets.has(asset.sha256))
    if (lacking.length > 0)
      return {
        problem: {
          code: 'assets-missing',
          message: `The project file lacks ${lacking
            .slice(0, 5)
            .map((a) => `“${a.name}”`)
            .join(', ')}${lacking.length > 5 ? ` and ${lacking.length - 5} more` : ''}, which the project is made with.`,
          remedy: 'Take the project out again where it is whole.',
        },
      }
    // all is read before anything is kept: nobody waits for the library meanwhile
    const keeping: ((tx: EntityManager) => Promise<unknown>)[] = []
    for (const asset of document.assets) {
      if (present.has(asset.sha256)) continue
      const inside = await mkdtemp(join(folder, 'part-'))
      const path = join(inside, 'file')
      await pipeline(file.content(asset.sha256), createWriteStream(path), { signal })
      const read = await readAsset(asset, { path, folder: inside }, signal)
      if (typeof read !== 'function') return { problem: { ...read, message: `“${asset.name}” in the project file: ${read.message}` } }
      keeping.push(read)
    }
    const made = await transaction(async (tx) => {
      for (const keep of keeping) await keep(tx)
      return { id: (await createProject(tx, document)).id }
    })
    // the project stands without them as well: they are recorded anew
    if ('id' in made) await keepCarried(em, made.id, carriedBakes(file)).catch(() => {})
    return made
  } catch (error) {
    if (error instanceof ProjectFileError) return { problem: error.problem }
    throw error
  } finally {
    file.close()
  }
}

async function* carriedBakes(file: OpenProjectFile): AsyncGenerator<readonly [string, Uint8Array]> {
  for (const key of file.bakes) {
    const bytes = await file.bake(key)
    if (bytes) yield [key, bytes]
  }
}

type CarriedAsset = ProjectDocument['assets'][number]

/** Reads an asset for real, from a file of its own; gives back what keeps it, or what is wrong with it. */
async function readAsset({ sha256, name, type }: CarriedAsset, unpacked: Pick<Spooled, 'path' | 'folder'>, signal: AbortSignal | undefined) {
  const { path } = unpacked
  if (type === 'font') {
    if ((await stat(path)).size > MAX_FONT_FILE_BYTES) return tooLarge
    const read = await readFacesApart(unpacked, signal)
    if ('problem' in read) return read.problem
    return read.faces.some((face) => face.sha256 === sha256) ? (tx: EntityManager) => keepFaces(tx, read.faces) : notWhatItSays(type)
  }
  if (type === 'picture' || type === 'vector') {
    if ((await stat(path)).size > MAX_DRAWING_BYTES) return tooLarge
    const read = await readFileApart(path, signal)
    if ('problem' in read) return read.problem
    return read.file.type === type ? (tx: EntityManager) => keepFile(tx, path, name, read.file) : notWhatItSays(type)
  }
  // the rest is read where it is used, in workers that can be ended
  return (tx: EntityManager) => storeStream(tx, { name, type }, createReadStream(path), MAX_PROJECT_ASSETS)
}

const tooLarge: ReadProblem = { code: 'too-large', message: 'it is too large.', remedy: 'Take it out of the project first.' }
const notWhatItSays = (type: string): ReadProblem => ({
  code: 'damaged',
  message: `it is not the ${type} it is said to be.`,
  remedy: 'Take the project out again where it came from.',
})
