import { isPartKey } from '@kelvar/core/cache/bakes'
import type { EntityManager } from '@mikro-orm/postgresql'

export const MAX_BAKE_BYTES = 48 * 1024 * 1024
/** Of all bakes together those used last are kept, so many bytes. */
const MAX_ALL_BYTES = 2 * 1024 * 1024 * 1024

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
