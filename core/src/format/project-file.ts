import { createHash } from 'node:crypto'
import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import { type Entry, fromBufferPromise, openPromise, type ZipFile } from 'yauzl'
import { type DocumentProblem, readDocumentText } from '../project/read'
import { BAKE_KEY, isPartKey, MAX_BAKE_BYTES } from '../cache/bakes'
import type { ProjectDocument } from '../document/schema'
import { cutText } from '../document/words'
import { PART_DATE } from './archive'

/** Limits of a project file: of the file itself, of what it unpacks to, of its document, and of its number of parts. */
export const MAX_PROJECT_FILE = 200 * 1024 * 1024
const MAX_UNPACKED = 400 * 1024 * 1024
const MAX_DOCUMENT = 8 * 1024 * 1024
const MAX_PARTS = 600

const DOCUMENT = 'project.json'
const assetName = (sha256: string) => `assets/${sha256}`
const BAKES = 'bakes/'

/** What simulations of a project recorded, under their keys. */
export type CarriedBakes = Iterable<readonly [key: string, bytes: Uint8Array]> | AsyncIterable<readonly [key: string, bytes: Uint8Array]>

/**
 * A project as one file, chunk by chunk: a zip of its document, project.json, of the bytes of all it carries, assets/SHA-256, and of what its
 * simulations recorded, bakes/KEY. See docs/project-file.md. The same project gives the same bytes. `contentOf` gives an asset's bytes in any
 * number of chunks, of which one is held at a time; assets it has none of are left out.
 */
export async function* projectFile(
  document: ProjectDocument,
  contentOf: (sha256: string) => AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  bakes: CarriedBakes = [],
): AsyncGenerator<Uint8Array> {
  const written: Uint8Array[] = []
  const zip = new Zip((error, chunk) => {
    if (error) throw error
    written.push(chunk)
  })
  const add = <T extends ZipPassThrough | ZipDeflate>(part: T): T => {
    part.mtime = PART_DATE
    zip.add(part)
    return part
  }
  add(new ZipDeflate(DOCUMENT, { level: 6 })).push(strToU8(JSON.stringify(document, null, 1)), true)
  yield* written.splice(0)
  for (const { sha256, type } of document.assets) {
    let part: ZipPassThrough | ZipDeflate | undefined
    for await (const chunk of contentOf(sha256)) {
      // pictures are packed already
      part ??= add(type === 'picture' ? new ZipPassThrough(assetName(sha256)) : new ZipDeflate(assetName(sha256), { level: 6 }))
      part.push(chunk)
      yield* written.splice(0)
    }
    part?.push(new Uint8Array(), true)
    yield* written.splice(0)
  }
  for await (const [key, bytes] of bakes) {
    // packed already, too
    add(new ZipPassThrough(BAKES + key)).push(bytes, true)
    yield* written.splice(0)
  }
  zip.end()
  yield* written.splice(0)
}

/** The same whole, of assets in memory. */
export async function writeProjectFile(document: ProjectDocument, bytes: ReadonlyMap<string, Uint8Array>, bakes: CarriedBakes = []): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  const content = (sha256: string) => {
    const found = bytes.get(sha256)
    return found ? [found] : []
  }
  for await (const chunk of projectFile(document, content, bakes)) chunks.push(chunk)
  const whole = new Uint8Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0))
  let at = 0
  for (const chunk of chunks) {
    whole.set(chunk, at)
    at += chunk.length
  }
  return whole
}

interface Problem {
  readonly code: string
  readonly message: string
  readonly remedy: string
}

/** What is found wrong with a project file while one of its parts is read. */
export class ProjectFileError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.message)
    this.name = 'ProjectFileError'
  }
}

export interface OpenProjectFile {
  readonly ok: true
  readonly document: ProjectDocument
  /** the SHA-256 names of the assets it holds */
  readonly assets: ReadonlySet<string>
  /** an asset's bytes, chunk by chunk; throws ProjectFileError at their end when they are not what their name says, or damaged */
  content(sha256: string): AsyncGenerator<Uint8Array>
  /** the keys of what its simulations recorded */
  readonly bakes: readonly string[]
  /** what was recorded under a key, as it lies there; undefined when it cannot be read, and it is recorded anew */
  bake(key: string): Promise<Uint8Array | undefined>
  close(): void
}

export type ProjectFileResult = OpenProjectFile | { readonly ok: false; readonly problem: Problem }

/**
 * Opens a project file, given by its path or its bytes; never throws. Names, sizes and places of its parts are judged by the archive's
 * directory before anything is unpacked; only the document is read at once. Assets that the document lists and the file lacks are left to
 * the caller, who closes what was opened.
 */
export async function openProjectFile(source: string | Uint8Array): Promise<ProjectFileResult> {
  // names are judged here, not by the package
  const options = { lazyEntries: true, autoClose: false, decodeStrings: false }
  let zip: ZipFile | undefined
  let opened = false
  try {
    zip = await (typeof source === 'string'
      ? openPromise(source, options)
      : fromBufferPromise(Buffer.from(source.buffer, source.byteOffset, source.byteLength), options))
    // a file that is damaged may be heard of at any time
    zip.on('error', () => {})
    if (zip.fileSize > MAX_PROJECT_FILE) return refuse('too-large', 'The project file is larger than 200 MB.', 'Take large pictures out of the project first.')
    const entries = new Map<string, Entry>()
    let [unpacked, packed] = [0, 0]
    for await (const entry of zip.eachEntry()) {
      const { fileNameRaw, uncompressedSize, compressedSize, compressionMethod } = entry
      const name = fileNameRaw.toString('utf8')
      // what is merely stored is as large as it is, whatever else the directory says
      const size = compressionMethod === 0 ? compressedSize : uncompressedSize
      unpacked += size
      packed += compressedSize
      const refused = judged(name, size, unpacked, entries.size + 1)
      if (refused) return refused
      if (packed > zip.fileSize) return refuse('damaged', 'The project file is damaged: its parts share their bytes.', 'Take it out again where it came from.')
      if (entry.isEncrypted()) return refuse('encrypted', 'The project file is locked with a password.', 'Take it out again without one.')
      entries.set(name, entry)
    }
    const listing = entries.get(DOCUMENT)
    if (!listing) return refuse('not-a-project', 'This is no Kelvar project file: it holds no project.json.', 'Choose a file that Kelvar wrote.')
    const chunks: Uint8Array[] = []
    for await (const chunk of (await zip.openReadStreamPromise(listing)) as AsyncIterable<Uint8Array>) chunks.push(chunk)
    const read = readDocumentText(new TextDecoder().decode(Buffer.concat(chunks)))
    if (!read.ok) return { ok: false, problem: read.problem satisfies DocumentProblem }
    opened = true
    const archive = zip
    return {
      ok: true,
      document: read.document,
      assets: new Set([...entries.keys()].filter((name) => name.startsWith('assets/') && name !== 'assets/').map((name) => name.slice('assets/'.length))),
      content: (sha256) => contentOf(archive, entries.get(assetName(sha256)), sha256),
      bakes: [...entries.keys()].filter((name) => name.startsWith(BAKES) && name !== BAKES).map((name) => name.slice(BAKES.length)),
      bake: (key) => bakeOf(archive, entries.get(BAKES + key)),
      close: () => archive.close(),
    }
  } catch {
    return refuse('damaged', DAMAGED, AGAIN)
  } finally {
    if (!opened) zip?.close()
  }
}

/** A project file whole, with all it carries in memory: for the command line. Never throws. */
export async function readProjectFile(source: string | Uint8Array): Promise<
  | {
      readonly ok: true
      readonly document: ProjectDocument
      readonly assets: ReadonlyMap<string, Uint8Array>
      readonly bakes: ReadonlyMap<string, Uint8Array>
    }
  | { ok: false; problem: Problem }
> {
  const file = await openProjectFile(source)
  if (!file.ok) return file
  try {
    const assets = new Map<string, Uint8Array>()
    for (const sha256 of file.assets) {
      const chunks: Uint8Array[] = []
      for await (const chunk of file.content(sha256)) chunks.push(chunk)
      assets.set(sha256, new Uint8Array(Buffer.concat(chunks)))
    }
    const bakes = new Map<string, Uint8Array>()
    for (const key of file.bakes) {
      const bytes = await file.bake(key)
      if (bytes) bakes.set(key, bytes)
    }
    return { ok: true, document: file.document, assets, bakes }
  } catch (error) {
    if (error instanceof ProjectFileError) return { ok: false, problem: error.problem }
    throw error
  } finally {
    file.close()
  }
}

const DAMAGED = 'The project file is damaged or cut short: it is no readable archive.'
const AGAIN = 'Take it out again where it came from.'

async function* contentOf(zip: ZipFile, entry: Entry | undefined, sha256: string): AsyncGenerator<Uint8Array> {
  if (!entry) throw new ProjectFileError({ code: 'assets-missing', message: `The project file lacks the part ${sha256.slice(0, 12)}….`, remedy: AGAIN })
  const hash = createHash('sha256')
  try {
    for await (const chunk of (await zip.openReadStreamPromise(entry)) as AsyncIterable<Uint8Array>) {
      hash.update(chunk)
      yield chunk
    }
  } catch {
    throw new ProjectFileError({ code: 'damaged', message: DAMAGED, remedy: AGAIN })
  }
  if (hash.digest('hex') !== sha256)
    throw new ProjectFileError({ code: 'damaged', message: `The part ${sha256.slice(0, 12)}… of the project file is not what its name says.`, remedy: AGAIN })
}

async function bakeOf(zip: ZipFile, entry: Entry | undefined): Promise<Uint8Array | undefined> {
  if (!entry) return undefined
  const chunks: Uint8Array[] = []
  try {
    for await (const chunk of (await zip.openReadStreamPromise(entry)) as AsyncIterable<Uint8Array>) chunks.push(chunk)
  } catch {
    return undefined
  }
  return new Uint8Array(Buffer.concat(chunks))
}

const refuse = (code: string, message: string, remedy: string): ProjectFileResult => ({ ok: false, problem: { code, message, remedy } })

/** Whole ones alone: what is still being recorded stays where it is. */
const isBake = (key: string) => BAKE_KEY.test(key) && !isPartKey(key)

function judged(name: string, size: number, total: number, count: number): ProjectFileResult | undefined {
  if (count > MAX_PARTS) return refuse('too-many', `The project file holds more than ${MAX_PARTS} parts.`, 'Choose a file that Kelvar wrote.')
  if (name === DOCUMENT) {
    if (size > MAX_DOCUMENT)
      return refuse('too-large', 'The project in the file is larger than 8 MB without what it carries.', 'Split it into several projects.')
  } else if (name.startsWith(BAKES) && isBake(name.slice(BAKES.length))) {
    if (size > MAX_BAKE_BYTES)
      return refuse('too-large', 'What a simulation in the file recorded is larger than 48 MB.', 'Take the project out again where it came from.')
  } else if (name !== 'assets/' && name !== BAKES && !/^assets\/[0-9a-f]{64}$/.test(name))
    return refuse('foreign-part', `The file holds a part that no project has, “${cutText(name, 60)}”.`, 'Choose a file that Kelvar wrote.')
  if (total > MAX_UNPACKED) return refuse('too-large', 'The project file would unpack to more than 400 MB.', 'Take large pictures out of the project first.')
  return undefined
}
