import { randomUUID } from 'node:crypto'
import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'

export const nameToKeep = (what: string) => z.string().trim().min(1, `A ${what} needs a name.`).max(60, 'A name has 60 letters at most.')

/**
 * Keeps a value under its name in a table of the cabinet, over an older one of that name, and gives its id; undefined when there are `most` of them already. The database decides between
 * several of one name, and lets no more in than there is room for.
 */
export async function keepByName(
  em: EntityManager,
  table: { readonly name: 'profile'; readonly column: 'drawn' } | { readonly name: 'mask'; readonly column: 'mask' },
  name: string,
  value: unknown,
  most: number,
): Promise<string | undefined> {
  const rows = await em.getConnection().execute<{ id: string }[]>(
    `insert into ${table.name} (id, name, ${table.column}, created_at)
       select ?, ?, ?::jsonb, now() where (select count(*) from ${table.name}) < ? or exists (select 1 from ${table.name} where name = ?)
     on conflict (name) do update set ${table.column} = excluded.${table.column} returning id`,
    [randomUUID(), name, JSON.stringify(value), most, name],
    'all',
    em.getTransactionContext(),
  )
  return rows[0]?.id
}

/** What is said when there is no room. */
export const full = (most: number, what: string) => ({
  problem: { code: 'full', message: `The cabinet holds ${most} ${what}, and is full.`, remedy: 'Remove some that are no longer wanted.' },
})
