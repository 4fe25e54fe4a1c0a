import { strFromU8, strToU8, unzipSync, Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import { type DocumentProblem, readDocumentText } from '../project/read'
import type { ProjectDocument } from '../document/schema'
import { hashBytes } from '../cache/hash'
import { PART_DATE } from './archive'

/** Limits of a project file: of the file itself, of what it unpacks to, of its document, and of its number of parts. */
export const MAX_PROJECT_FILE = 200 * 1024 * 1024
const MAX_UNPACKED = 400 * 1024 * 1024
const MAX_DOCUMENT = 16 * 1024 * 1024
const MAX_PARTS = 600

const DOCUMENT = 'project.json'
const assetName = (sha256: string) => `assets/${sha256}`

/**
 * A project as one file, chunk by chunk: a zip of its document, project.json, and of the bytes of all it carries, assets/SHA-256. See
 * docs/project-file.md. The same project gives the same bytes. `contentOf` gives an asset's bytes in any number of chunks, of which one is
 * held at a time; assets it has none of are left out.
 */
export async function* projectFile(
  document: ProjectDocument,
  contentOf: (sha256: string) => AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
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
  zip.end()
  yield* written.splice(0)
}

/** The same whole, of assets in memory. */
export async function writeProjectFile(document: ProjectDocument, bytes: ReadonlyMap<string, Uint8Array>): Promise<Uint8Array> {
  const chunks: Uint8Array[] = []
  const content = (sha256: string) => {
    const found = bytes.get(sha256)
    return found ? [found] : []
  }
  for await (const chunk of projectFile(document, content)) chunks.push(chunk)
  const whole = new Uint8Array(chunks.reduce((sum, chunk) => sum + chunk.length, 0))
  let at = 0
  for (const chunk of chunks) {
    whole.set(chunk, at)
    at += chunk.length
  }
  return whole
}

export type ProjectFileResult =
  | { readonly ok: true; readonly document: ProjectDocument; readonly assets: ReadonlyMap<string, Uint8Array> }
  | { readonly ok: false; readonly problem: { readonly code: string; readonly message: string; readonly remedy: string } }

/**
 * Reads a project file; never throws. Names and sizes are judged by the archive's directory before anything is unpacked, and every
 * asset is checked against its name. Assets that the document lists and the file lacks are left to the caller.
 */
export function readProjectFile(bytes: Uint8Array): ProjectFileResult {
  if (bytes.length > MAX_PROJECT_FILE) return refuse('too-large', 'The project file is larger than 200 MB.', 'Take large pictures out of the project first.')
  let refused: ProjectFileResult | undefined
  let [total, count] = [0, 0]
  let parts: Record<string, Uint8Array>
  try {
    // once through the directory alone, so that nothing of a bomb is ever unpacked
    unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        count++
        total += originalSize
        refused ??= judged(name, originalSize, total, count)
        return false
      },
    })
    if (refused) return refused
    parts = unzipSync(bytes, { filter: ({ name }) => name !== 'assets/' })
  } catch {
    return refused ?? refuse('damaged', 'The project file is damaged or cut short: it is no readable archive.', 'Take it out again where it came from.')
  }
  const text = parts[DOCUMENT]
  if (!text) return refuse('not-a-project', 'This is no Kelvar project file: it holds no project.json.', 'Choose a file that Kelvar wrote.')
  const read = readDocumentText(strFromU8(text))
  if (!read.ok) return { ok: false, problem: read.problem satisfies DocumentProblem }
  const assets = new Map<string, Uint8Array>()
  for (const [name, content] of Object.entries(parts)) {
    if (name === DOCUMENT) continue
    const sha256 = name.slice('assets/'.length)
    if (hashBytes(content) !== sha256)
      return refuse('damaged', `The part ${name.slice(0, 19)}… of the project file is not what its name says.`, 'Take it out again where it came from.')
    assets.set(sha256, content)
  }
  return { ok: true, document: read.document, assets }
}

const refuse = (code: string, message: string, remedy: string): ProjectFileResult => ({ ok: false, problem: { code, message, remedy } })

function judged(name: string, size: number, total: number, count: number): ProjectFileResult | undefined {
  if (count > MAX_PARTS) return refuse('too-many', `The project file holds more than ${MAX_PARTS} parts.`, 'Choose a file that Kelvar wrote.')
  if (name === DOCUMENT) {
    if (size > MAX_DOCUMENT)
      return refuse('too-large', 'The project in the file is larger than 16 MB without what it carries.', 'Split it into several projects.')
  } else if (name !== 'assets/' && !/^assets\/[0-9a-f]{64}$/.test(name))
    return refuse('foreign-part', `The file holds a part that no project has, “${name.slice(0, 60)}”.`, 'Choose a file that Kelvar wrote.')
  if (total > MAX_UNPACKED) return refuse('too-large', 'The project file would unpack to more than 400 MB.', 'Take large pictures out of the project first.')
  return undefined
}
