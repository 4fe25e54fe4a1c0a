import type { EntityManager } from '@mikro-orm/postgresql'
import { Project, Revision, type RevisionRow } from './entities'

/** A revision as the list of them shows it. */
export interface RevisionSummary {
  id: string
  number: number
  aside: boolean
  name?: string
  changes: string[]
  hasPicture: boolean
  createdAt: string
}

/** So many of the newest revisions are all kept, and so many of those set aside. */
export const KEEP_ALL = 100
const MOST = 1000

/** Revisions of a removed project are there again once it is put back. */
const IN_CABINET = 'exists (select 1 from project where project.id = project_id and removed_at is null)'
/** Whether there is such a project, without reading it. */
export const inCabinet = async (em: EntityManager, projectId: string) => (await em.count(Project, { id: projectId, removedAt: null })) === 1

/** The revisions of a project and the versions set aside, the newest first. */
export async function listRevisions(em: EntityManager, projectId: string): Promise<RevisionSummary[]> {
  const rows = await em
    .getConnection()
    .execute<{ id: string; number: number; aside: boolean; name: string | null; changes: string[]; has_picture: boolean; created_at: Date }[]>(
      `select id, number, aside, name, changes, picture is not null as has_picture, created_at
         from revision where project_id = ? and ${IN_CABINET} order by created_at desc, number desc limit ${MOST}`,
      [projectId],
    )
  return rows.map((r) => ({
    id: r.id,
    number: r.number,
    aside: r.aside,
    ...(r.name ? { name: r.name } : {}),
    changes: r.changes,
    hasPicture: r.has_picture,
    createdAt: new Date(r.created_at).toISOString(),
  }))
}

export async function findRevision(em: EntityManager, projectId: string, id: string): Promise<RevisionRow | null> {
  if (!(await inCabinet(em, projectId))) return null
  return em.findOne(Revision, { id, projectId }, { populate: ['document'] })
}

export async function revisionPicture(em: EntityManager, projectId: string, id: string): Promise<Buffer | null> {
  if (!(await inCabinet(em, projectId))) return null
  return (await em.findOne(Revision, { id, projectId }, { populate: ['picture'] }))?.picture ?? null
}

/** Gives a revision a name, or takes it away with null. */
export async function nameRevision(em: EntityManager, projectId: string, id: string, name: string | null): Promise<boolean> {
  if (!(await inCabinet(em, projectId))) return false
  return (await em.nativeUpdate(Revision, { id, projectId }, { name })) === 1
}

/**
 * Of what has no name, keeps the newest KEEP_ALL and, of older ones, the last of every hour, of every day beyond a month;
 * so that autosaving for a year does not fill the disk. What was set aside, which nobody ever saw accepted, is left whole for a month.
 */
export async function thinOut(em: EntityManager, projectId: string): Promise<void> {
  await em.getConnection().execute(
    `delete from revision where id in (
       select id from (
         select id, row_number() over (partition by aside order by created_at desc, number desc) as age,
                row_number() over (partition by aside, date_trunc(case when created_at < now() - interval '30 days' then 'day' else 'hour' end, created_at)
                                   order by created_at desc, number desc) as place
           from revision where project_id = ? and name is null and not (aside and created_at > now() - interval '30 days')
       ) as ranked where age > ${KEEP_ALL} and place > 1
     )`,
    [projectId],
    'run',
    em.getTransactionContext(),
  )
}
