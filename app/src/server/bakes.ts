import { bakeKind, isPartKey } from '@kelvar/core/cache/bakes'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { bakeHead } from '@kelvar/core/format/bake'
import type { EntityManager } from '@mikro-orm/postgresql'

/** Of all bakes together those used last are kept, so many bytes. */
const MAX_ALL_BYTES = 2 * 1024 * 1024 * 1024
/** Of a project so many are known to be its own. */
const MOST_OF_PROJECT = 64
/** So many, and so many bytes, travel in a project's file; with what else it carries it stays below what a file may be. */
const MOST_CARRIED = 24
const MAX_CARRIED_BYTES = 96 * 1024 * 1024
const MAX_WITH_ASSETS = 190 * 1024 * 1024

/** The bake under a key; it counts as used. */
export async function findBake(em: EntityManager, key: string): Promise<Buffer | undefined> {
  const [row] = await em.getConnection().execute<{ bytes: Buffer }[]>('update bake set used_at = now() where key = ? returning bytes', [key])
  return row?.bytes
}

/** Keeps a bake, or a part of one; when it is whole its parts go. Of too many those that were not used for longest go. */
export async function keepBake(em: EntityManager, key: string, bytes: Uint8Array, most = MAX_ALL_BYTES): Promise<void> {
  const connection = em.getConnection()
  await connection.execute(
    'insert into bake (key, bytes, used_at) values (?, ?, clock_timestamp()) on conflict (key) do update set bytes = excluded.bytes, used_at = excluded.used_at',
    [key, Buffer.from(bytes)],
  )
  if (!isPartKey(key)) await connection.execute('delete from bake where starts_with(key, ?)', [`${key}-p`])
  await connection.execute(
    `delete from bake where key in (
       select key from (select key, sum(length(bytes)) over (order by used_at desc, key) as whole from bake) as ordered where whole > ?
     )`,
    [most],
  )
}

/** Notes that a project uses a bake. One of a project that is gone is nobody's. */
export async function noteUse(em: EntityManager, project: string, key: string): Promise<void> {
  const connection = em.getConnection()
  await connection.execute(
    `insert into project_bake (project_id, key, used_at) select id, ?, clock_timestamp() from project where id = ?
     on conflict (project_id, key) do update set used_at = excluded.used_at`,
    [key, project],
  )
  await connection.execute(
    `delete from project_bake where project_id = ? and key in (
       select key from project_bake where project_id = ? order by used_at desc, key offset ?
     )`,
    [project, project, MOST_OF_PROJECT],
  )
}

/** Notes that a copy of a project uses what that one does. */
export async function shareUse(em: EntityManager, project: string, copy: string): Promise<void> {
  await em
    .getConnection()
    .execute('insert into project_bake (project_id, key, used_at) select ?, key, used_at from project_bake where project_id = ? on conflict do nothing', [
      copy,
      project,
    ])
}

/** What a project's simulations recorded, of each kind of step as many as it has, those used last; in the order of their keys. */
export async function* bakesOf(em: EntityManager, project: string, document: ProjectDocument): AsyncGenerator<readonly [string, Uint8Array]> {
  const left = new Map<string, number>()
  for (const { route } of document.pieces) for (const { kind } of route) left.set(kind, (left.get(kind) ?? 0) + 1)
  let room = Math.min(MAX_CARRIED_BYTES, MAX_WITH_ASSETS - document.assets.reduce((sum, { bytes }) => sum + bytes, 0))
  const rows = await em
    .getConnection()
    .execute<{ key: string; size: number }[]>(
      'select own.key, length(bake.bytes) as size from project_bake own join bake on bake.key = own.key where own.project_id = ? order by own.used_at desc, own.key',
      [project],
    )
  const keys: string[] = []
  for (const { key, size } of rows) {
    const kind = bakeKind(key)
    const more = left.get(kind) ?? 0
    if (more === 0 || size > room || keys.length === MOST_CARRIED) continue
    left.set(kind, more - 1)
    room -= size
    keys.push(key)
  }
  for (const key of keys.sort()) {
    const bytes = await findBake(em, key)
    if (bytes) yield [key, bytes]
  }
}

/** Keeps what came with a project's file; what is no bake is left out, and recorded anew when it is wanted. */
export async function keepCarried(em: EntityManager, project: string, bakes: AsyncIterable<readonly [string, Uint8Array]>): Promise<void> {
  let [room, left] = [MAX_CARRIED_BYTES, MOST_CARRIED]
  for await (const [key, bytes] of bakes) {
    if (!bakeHead(bytes) || bytes.length > room || left === 0) continue
    room -= bytes.length
    left--
    // what is here already was made here
    const [here] = await em.getConnection().execute('update bake set used_at = now() where key = ? returning key', [key])
    if (!here) await keepBake(em, key, bytes)
    await noteUse(em, project, key)
  }
}
