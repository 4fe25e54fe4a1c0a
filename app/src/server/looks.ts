import type { EntityManager } from '@mikro-orm/postgresql'

export const MAX_LOOK_BYTES = 8 * 1024 * 1024
/** Pieces of a project whose looks are kept, the last ones. */
const MAX_LOOKS = 24

/** What a piece of a project in the cabinet last looked like, as the page packed it. */
export async function findLook(em: EntityManager, project: string, piece: string): Promise<Buffer | undefined> {
  const [row] = await em
    .getConnection()
    .execute<{ bytes: Buffer }[]>('select bytes from look join project on project.id = project_id where project_id = ? and piece = ? and removed_at is null', [
      project,
      piece,
    ])
  return row?.bytes
}

/** Projects of which nobody has seen a piece yet, the latest first, but for those given. */
export async function withoutLook(em: EntityManager, but: readonly string[], most: number): Promise<string[]> {
  const rows = await em.getConnection().execute<{ id: string }[]>(
    `select id from project where removed_at is null and id::text not in (select jsonb_array_elements_text(?::jsonb))
        and not exists (select 1 from look where project_id = project.id)
      order by updated_at desc limit ?`,
    [JSON.stringify(but), most],
  )
  return rows.map(({ id }) => id)
}

/** Whether there is one, without reading it. */
export async function hasLook(em: EntityManager, project: string, piece: string): Promise<boolean> {
  return (await em.getConnection().execute('select 1 from look where project_id = ? and piece = ?', [project, piece])).length > 0
}

/** Gives a new project the look that one with the very same pieces opens with, as when it is a copy or begins as all do: it stands from the first opening on. */
export async function shareLook(em: EntityManager, project: string): Promise<void> {
  await em.getConnection().execute(
    `insert into look (project_id, piece, bytes, updated_at)
       select mine.id, look.piece, look.bytes, look.updated_at from project mine
         join project twin on md5(twin.document->>'pieces') = md5(mine.document->>'pieces') and twin.id <> mine.id
         join look on look.project_id = twin.id and look.piece = mine.document->'pieces'->0->>'id'
        where mine.id = ? order by look.updated_at desc limit 1`,
    [project],
    'run',
    em.getTransactionContext(),
  )
}

/** Keeps it; false when there is no such project. Of too many the oldest go. */
export async function keepLook(em: EntityManager, project: string, piece: string, bytes: Uint8Array): Promise<boolean> {
  const kept = await em.getConnection().execute<{ piece: string }[]>(
    `insert into look (project_id, piece, bytes, updated_at)
       select id, ?, ?, now() from project where id = ? and removed_at is null
     on conflict (project_id, piece) do update set bytes = excluded.bytes, updated_at = excluded.updated_at returning piece`,
    [piece, Buffer.from(bytes), project],
  )
  await em
    .getConnection()
    .execute('delete from look where project_id = ? and piece not in (select piece from look where project_id = ? order by updated_at desc limit ?)', [
      project,
      project,
      MAX_LOOKS,
    ])
  return kept.length > 0
}
