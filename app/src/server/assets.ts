import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { hashBytes } from '@kelvar/core/evaluate/hash'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Asset, type AssetRow } from './entities'
import { shippedFacts } from './fonts'

export async function findAsset(em: EntityManager, sha256: string): Promise<AssetRow | null> {
  return em.findOne(Asset, { sha256 }, { populate: ['bytes'] })
}

/** Puts the shipped faces into the library of assets; those already there are left alone. `folder` holds the files. */
export async function seedShippedFaces(em: EntityManager, folder: string): Promise<number> {
  let added = 0
  for (const face of SHIPPED_FACES) {
    // facts follow the catalogue, also for files that were there before it knew them
    const known = await em.nativeUpdate(Asset, { sha256: face.sha256 }, { facts: shippedFacts(face), listed: true })
    if (known > 0) continue
    const bytes = await readFile(join(folder, face.file))
    if (hashBytes(bytes) !== face.sha256) throw new Error(`${face.file} is not the file the catalogue names`)
    em.create(Asset, { sha256: face.sha256, name: face.name, type: 'font', bytes, facts: shippedFacts(face), listed: true, createdAt: new Date() })
    added++
  }
  await em.flush()
  return added
}
