import { createHash, randomBytes } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Asset, type AssetRow } from './entities'
import { shippedFacts } from './fonts'

/** Size of the parts that files are kept in, bytes; the migration 0005 knows it too. */
const PART = 1024 * 1024

/** All that one project carries may take so much. */
export const MAX_PROJECT_ASSETS = 1024 * 1024 * 1024

/** What is kept of a file besides its bytes. */
interface AssetFacts {
  readonly name: string
  readonly type: ProjectDocument['assets'][number]['type']
  readonly facts?: unknown
  readonly listed?: boolean
}

interface StoredAsset {
  readonly sha256: string
  readonly size: number
}

/** A file grew beyond what it may be. */
export class AssetTooLarge extends Error {}

/** Keeps bytes under their SHA-256; those that are there already stay as they are. To be called by any number at the same time. */
export async function storeAsset(em: EntityManager, facts: AssetFacts, bytes: Uint8Array): Promise<StoredAsset> {
  return em.transactional(async (tx) => {
    const sha256 = createHash('sha256').update(bytes).digest('hex')
    if (await insertAsset(tx, sha256, bytes.length, facts))
      for (let i = 0; i === 0 || i * PART < bytes.length; i++) await insertPart(tx, sha256, i, bytes.subarray(i * PART, (i + 1) * PART))
    return { sha256, size: bytes.length }
  })
}

/**
 * The same for bytes that come in one after another, of which never more than a part is held. Nothing is kept when the stream fails, or when
 * it grows beyond `limit` bytes, which rejects with AssetTooLarge.
 */
export async function storeStream(em: EntityManager, facts: AssetFacts, stream: AsyncIterable<Uint8Array>, limit: number): Promise<StoredAsset> {
  return em.transactional(async (tx) => {
    // its true name is known at the end
    const arriving = randomBytes(32).toString('hex')
    await insertAsset(tx, arriving, 0, facts)
    const hash = createHash('sha256')
    const part = Buffer.alloc(PART)
    let [held, parts, size] = [0, 0, 0]
    for await (const chunk of stream) {
      size += chunk.length
      if (size > limit) throw new AssetTooLarge()
      hash.update(chunk)
      for (let at = 0; at < chunk.length; ) {
        const taken = Math.min(PART - held, chunk.length - at)
        part.set(chunk.subarray(at, at + taken), held)
        held += taken
        at += taken
        if (held < PART) continue
        await insertPart(tx, arriving, parts++, part)
        held = 0
      }
    }
    if (held > 0 || parts === 0) await insertPart(tx, arriving, parts, part.subarray(0, held))
    const sha256 = hash.digest('hex')
    // of several that bring the same at once the database lets one be the first
    if (await insertAsset(tx, sha256, size, facts))
      await tx.getConnection().execute('update asset_part set sha256 = ? where sha256 = ?', [sha256, arriving], 'run', tx.getTransactionContext())
    await tx.nativeDelete(Asset, { sha256: arriving })
    return { sha256, size }
  })
}

async function insertAsset(em: EntityManager, sha256: string, size: number, { name, type, facts = null, listed = false }: AssetFacts): Promise<boolean> {
  const rows = await em
    .getConnection()
    .execute<{ sha256: string }[]>(
      'insert into asset (sha256, name, type, size, facts, listed, created_at) values (?, ?, ?, ?, ?::jsonb, ?, now()) on conflict (sha256) do nothing returning sha256',
      [sha256, name, type, size, facts === null ? null : JSON.stringify(facts), listed],
      'all',
      em.getTransactionContext(),
    )
  return rows.length > 0
}

async function insertPart(em: EntityManager, sha256: string, number: number, bytes: Uint8Array): Promise<void> {
  await em
    .getConnection()
    .execute('insert into asset_part (sha256, number, bytes) values (?, ?, ?)', [sha256, number, Buffer.from(bytes)], 'run', em.getTransactionContext())
}

export async function findAsset(em: EntityManager, sha256: string): Promise<AssetRow | null> {
  return em.findOne(Asset, { sha256 })
}

/** One part of a file; undefined beyond its end. */
export async function assetPart(em: EntityManager, sha256: string, number: number): Promise<Buffer | undefined> {
  const [row] = await em
    .getConnection()
    .execute<{ bytes: Buffer }[]>('select bytes from asset_part where sha256 = ? and number = ?', [sha256, number], 'all', em.getTransactionContext())
  return row?.bytes
}

/** A file, part by part. */
export async function* assetParts(em: EntityManager, sha256: string): AsyncGenerator<Buffer> {
  for (let number = 0; ; number++) {
    const part = await assetPart(em, sha256, number)
    if (!part) return
    yield part
  }
}

/** A whole file in memory: for fonts and drawings, which are read whole anyway. */
export async function assetBytes(em: EntityManager, sha256: string): Promise<Uint8Array> {
  const parts: Buffer[] = []
  for await (const part of assetParts(em, sha256)) parts.push(part)
  return new Uint8Array(Buffer.concat(parts))
}

/** What all the files that a document lists take together, bytes, by what is really kept of them. */
export async function carriedBytes(em: EntityManager, document: ProjectDocument): Promise<number> {
  const names = document.assets.map((asset) => asset.sha256)
  if (names.length === 0) return 0
  const rows = await em.find(Asset, { sha256: { $in: names } }, { fields: ['size'] })
  return rows.reduce((sum, { size }) => sum + Number(size), 0)
}

/** Files that no project and no revision names are kept so long all the same: they may just have been added. */
const GRACE = '1 day'

/**
 * Removes the files that no project, also a removed one that can be put back, and no revision of one names any more. What the type case lists
 * stays. Returns how many went.
 */
export async function sweepAssets(em: EntityManager): Promise<number> {
  const rows = await em.getConnection().execute<{ sha256: string }[]>(
    `delete from asset where not listed and created_at < now() - interval '${GRACE}' and sha256 not in (
       select carried->>'sha256' from project, jsonb_array_elements(document->'assets') as carried
       union
       select carried->>'sha256' from revision, jsonb_array_elements(document->'assets') as carried
     ) returning sha256`,
  )
  return rows.length
}

/** Puts the shipped faces into the library of assets; those already there are left alone. `folder` holds the files. */
export async function seedShippedFaces(em: EntityManager, folder: string): Promise<number> {
  let added = 0
  for (const face of SHIPPED_FACES) {
    // facts follow the catalogue, also for files that were there before it knew them
    const known = await em.nativeUpdate(Asset, { sha256: face.sha256 }, { facts: shippedFacts(face), listed: true })
    if (known > 0) continue
    const bytes = await readFile(join(folder, face.file))
    const { sha256 } = await storeAsset(em, { name: face.name, type: 'font', facts: shippedFacts(face), listed: true }, bytes)
    if (sha256 !== face.sha256) throw new Error(`${face.file} is not the file the catalogue names`)
    added++
  }
  return added
}
