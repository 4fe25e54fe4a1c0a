import { createReadStream } from 'node:fs'
import { type FaceFacts, faceFacts } from '@kelvar/core/font/facts'
import { SHIPPED_FACES, type ShippedFace } from '@kelvar/core/fonts'
import type { EntityManager } from '@mikro-orm/postgresql'
import { storeStream } from './assets'
import { Asset } from './entities'
import type { ReadProblem, UnpackedFace } from './reading/messages'
import { readApart } from './reading/pool'
import type { Spooled } from './spool'

/** A face as the type case lists it. */
export interface ListedFace extends FaceFacts {
  readonly sha256: string
  readonly bytes: number
  /** the catalogue's id, for faces that ship with Kelvar */
  readonly shipped?: string
}

export function shippedFacts(face: ShippedFace): FaceFacts {
  return {
    name: face.name,
    kind: face.kind,
    scripts: [...face.scripts],
    characters: face.characters,
    glyphs: face.glyphs,
    axes: [...face.axes],
    licence: 'SIL Open Font License 1.1',
  }
}

/** All faces of the type case: the shipped ones in their order, then a person's own by name. */
export async function listFaces(em: EntityManager): Promise<ListedFace[]> {
  const rows = await em
    .getConnection()
    .execute<{ sha256: string; length: number; facts: unknown }[]>(
      `select sha256, size::int as length, facts from asset where type = 'font' and listed and facts is not null`,
      [],
      'all',
      em.getTransactionContext(),
    )
  const order = new Map(SHIPPED_FACES.map((face, i) => [face.sha256, { place: i, id: face.id }]))
  return rows
    .flatMap((row): ListedFace[] => {
      const facts = faceFacts.safeParse(row.facts)
      const shipped = order.get(row.sha256)
      return facts.success ? [{ ...facts.data, sha256: row.sha256, bytes: row.length, ...(shipped ? { shipped: shipped.id } : {}) }] : []
    })
    .sort((a, b) => {
      const place = (face: ListedFace) => order.get(face.sha256)?.place ?? SHIPPED_FACES.length
      return place(a) - place(b) || a.name.localeCompare(b.name, 'en')
    })
}

/** Unpacks a font file into a folder and reads every face in it for real, in a process of its own. Rejects with ReadersBusy. */
export async function readFacesApart(
  { path, folder }: Pick<Spooled, 'path' | 'folder'>,
  signal?: AbortSignal,
): Promise<{ faces: readonly UnpackedFace[] } | { problem: ReadProblem }> {
  const answer = await readApart({ kind: 'font', path, folder }, signal)
  if (answer.ok && 'faces' in answer) return answer
  if ('problem' in answer) return answer
  // the engine could not cope with it: that is the file's fault, but the log should know
  console.error('failed' in answer ? answer.failed : answer)
  return {
    problem: { code: 'unreadable', message: 'The font file is damaged: it cannot be read to its end.', remedy: 'Get the file again from where it came.' },
  }
}

/** Takes faces that have been read into the type case, each under the SHA-256 of its own bytes. */
export function keepFaces(em: EntityManager, unpackedFaces: readonly UnpackedFace[]): Promise<{ faces: ListedFace[]; notes: string[] }> {
  return em.transactional(async (tx) => {
    // names are given one after another: two fonts that call themselves alike may come in at the same time
    await tx.getConnection().execute('select pg_advisory_xact_lock(?)', [TYPE_CASE], 'run', tx.getTransactionContext())
    const present = await listFaces(tx)
    const faces: ListedFace[] = []
    const notes: string[] = []
    for (const { path: unpacked, sha256, facts } of unpackedFaces) {
      const same = [...present, ...faces].find((f) => f.sha256 === sha256)
      if (same) {
        notes.push(`${same.name} is in the type case already.`)
        if (!faces.includes(same)) faces.push(same)
        continue
      }
      // a name is only what a font says of itself: another file of the same name is another face
      const name = freeName(facts.name, [...present, ...faces])
      if (name !== facts.name) notes.push(`Another face calls itself ${facts.name}; this one is listed as ${name}.`)
      const kept = { ...facts, name }
      const { size } = await storeStream(tx, { name, type: 'font', facts: kept, listed: true }, createReadStream(unpacked), MAX_FACE_BYTES)
      // one that was there before, taken out of the type case
      await tx.nativeUpdate(Asset, { sha256 }, { listed: true, facts: kept, name })
      faces.push({ ...kept, sha256, bytes: size })
    }
    return { faces, notes }
  })
}

/** The number of the lock that names in the type case are given under. */
const TYPE_CASE = 7_401
/** What a face may be, unpacked. */
const MAX_FACE_BYTES = 128 * 1024 * 1024

function freeName(name: string, taken: readonly { name: string }[]): string {
  const is = (candidate: string) => taken.some((f) => f.name.toLowerCase() === candidate.toLowerCase())
  if (!is(name)) return name
  let number = 2
  while (is(`${name} (${number})`)) number++
  return `${name} (${number})`
}

/** Takes a person's own face out of the type case; projects that use it keep it. */
export async function unlistFace(em: EntityManager, sha256: string): Promise<'done' | 'shipped' | 'gone'> {
  if (SHIPPED_FACES.some((f) => f.sha256 === sha256)) return 'shipped'
  return (await em.nativeUpdate(Asset, { sha256, type: 'font', listed: true }, { listed: false })) === 1 ? 'done' : 'gone'
}
