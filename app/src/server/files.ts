import { createReadStream } from 'node:fs'
import type { EntityManager } from '@mikro-orm/postgresql'
import { storeStream } from './assets'
import { MAX_FILE_BYTES } from './file-limits'
import type { FileFacts, ReadProblem } from './reading/messages'
import { readApart } from './reading/pool'

type AddedFile =
  | { sha256: string; name: string; bytes: number; width: number; height: number }
  | { sha256: string; name: string; bytes: number; triangles: number }
  | { sha256: string; name: string; bytes: number; layers: number; ignored: readonly string[] }

/** Reads a drawing or a picture for real, in a process of its own. Rejects with ReadersBusy. */
export async function readFileApart(path: string, signal?: AbortSignal): Promise<{ file: FileFacts } | { problem: ReadProblem }> {
  const answer = await readApart({ kind: 'file', path }, signal)
  if (answer.ok && 'file' in answer) return answer
  if ('problem' in answer) return answer
  // what a reader could not cope with is the file's fault, but the log should know
  console.error('failed' in answer ? answer.failed : answer)
  return {
    problem: { code: 'unreadable', message: 'The file is damaged: it cannot be read to its end.', remedy: 'Save it again from the program it comes from.' },
  }
}

/** Keeps what has been read, under its SHA-256. */
export async function keepFile(em: EntityManager, path: string, name: string, { type, ...facts }: FileFacts): Promise<AddedFile> {
  const { sha256, size } = await storeStream(em, { name, type }, createReadStream(path), MAX_FILE_BYTES)
  return { sha256, name, bytes: size, ...(facts as { width: number; height: number }) }
}
