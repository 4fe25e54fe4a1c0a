import { randomUUID } from 'node:crypto'
import { differences } from '@kelvar/core/project/differences'
import { newProject } from '@kelvar/core/project/new-project'
import { readDocument } from '@kelvar/core/project/read'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import type { EntityManager } from '@mikro-orm/postgresql'
import { carriedBytes, MAX_PROJECT_ASSETS } from './assets'
import { Project, type ProjectRow, Revision } from './entities'
import { shareLook } from './looks'
import { thinOut } from './revisions'

export interface ProjectSummary {
  id: string
  name: string
  pieces: number
  revision: number
  hasPicture: boolean
  updatedAt: string
  /** when it was removed; undefined for those in the cabinet */
  removedAt?: string
}

type SaveResult =
  | { saved: true; revision: number }
  | { saved: false; reason: 'conflict'; revision: number }
  | { saved: false; reason: 'gone' }
  /** it builds on a revision that has never been */
  | { saved: false; reason: 'ahead' }
  | { saved: false; reason: 'too-large'; bytes: number }

/** How long a removed project can be put back, days. */
const KEEP_REMOVED_DAYS = 30

/** The cabinet lists no more, and says so. */
const MOST_LISTED = 2000

/** Projects for the cabinet; `all`: there are no more of them. */
export interface ProjectList {
  projects: ProjectSummary[]
  all: boolean
}

/** The projects changed last, the last one first; in their place those removed not long ago, where they are asked for. */
export async function listProjects(
  em: EntityManager,
  { removed = false, most = MOST_LISTED }: { removed?: boolean; most?: number } = {},
): Promise<ProjectList> {
  const rows = await em
    .getConnection()
    .execute<{ id: string; name: string; pieces: number; revision: number; has_picture: boolean; updated_at: Date; removed_at: Date | null }[]>(
      `select id, name, jsonb_array_length(document->'pieces') as pieces, revision, picture is not null as has_picture, updated_at, removed_at
         from project where ${removed ? 'removed_at is not null' : 'removed_at is null'}
        order by ${removed ? 'removed_at' : 'updated_at'} desc limit ${most + 1}`,
    )
  const projects = rows.slice(0, most).map((r) => ({
    id: r.id,
    name: r.name,
    pieces: r.pieces,
    revision: r.revision,
    hasPicture: r.has_picture,
    updatedAt: new Date(r.updated_at).toISOString(),
    ...(r.removed_at ? { removedAt: new Date(r.removed_at).toISOString() } : {}),
  }))
  return { projects, all: rows.length <= most }
}

export function createProject(
  em: EntityManager,
  document: ProjectDocument = newProject(),
  { id = randomUUID(), picture = null }: { id?: string; picture?: Buffer | null } = {},
): Promise<ProjectRow> {
  return em.transactional(async (tx) => {
    const now = new Date()
    const row = tx.create(Project, { id, name: document.name, document, revision: 1, picture, createdAt: now, updatedAt: now })
    await tx.persistAndFlush(row)
    await tx.insert(Revision, firstOf(row))
    await shareLook(tx, row.id)
    return row
  })
}

const firstOf = ({ id, document, picture, createdAt }: ProjectRow) => ({
  id: randomUUID(),
  projectId: id,
  number: 1,
  aside: false,
  document,
  changes: [],
  name: null,
  picture,
  createdAt,
})

/** A project that is in the cabinet. */
export async function findProject(em: EntityManager, id: string): Promise<ProjectRow | null> {
  return em.findOne(Project, { id, removedAt: null })
}

/**
 * Keeps a document as the project's next revision if nothing has been saved over its base revision. Savers of one project
 * wait for each other, so that of two over the same base one loses; what the loser had is set aside as a version of its own.
 * Both are there as soon as this resolves.
 */
export function saveProject(em: EntityManager, id: string, baseRevision: number, document: ProjectDocument, picture?: Buffer): Promise<SaveResult> {
  return em.transactional(async (tx): Promise<SaveResult> => {
    const now = new Date()
    const [before] = await tx
      .getConnection()
      .execute<{ document: unknown; revision: number }[]>(
        'select document, revision from project where id = ? and removed_at is null for update',
        [id],
        'all',
        tx.getTransactionContext(),
      )
    if (!before) return { saved: false, reason: 'gone' }
    if (baseRevision > before.revision) return { saved: false, reason: 'ahead' }
    const bytes = await carriedBytes(tx, document)
    if (bytes > MAX_PROJECT_ASSETS) return { saved: false, reason: 'too-large', bytes }
    // the row is locked: nobody else changes it before this is done
    const saved = before.revision === baseRevision
    if (saved)
      await tx.nativeUpdate(Project, { id }, { document, name: document.name, revision: baseRevision + 1, updatedAt: now, ...(picture ? { picture } : {}) })
    const known = readDocument(before.document)
    await tx.insert(Revision, {
      id: randomUUID(),
      projectId: id,
      number: saved ? baseRevision + 1 : baseRevision,
      aside: !saved,
      document,
      // of one set aside: how it differs from what is there instead
      changes: known.ok ? differences(known.document, document).slice(0, 40) : [],
      name: null,
      picture: picture ?? null,
      createdAt: now,
    })
    await thinOut(tx, id)
    return saved ? { saved: true, revision: baseRevision + 1 } : { saved: false, reason: 'conflict', revision: before.revision }
  })
}

/** Takes a project out of the cabinet; it can be put back for KEEP_REMOVED_DAYS. */
export async function removeProject(em: EntityManager, id: string): Promise<boolean> {
  await em.getConnection().execute(`delete from project where removed_at < now() - interval '${KEEP_REMOVED_DAYS} days'`)
  return (await em.nativeUpdate(Project, { id, removedAt: null }, { removedAt: new Date() })) === 1
}

export async function putBack(em: EntityManager, id: string): Promise<boolean> {
  return (await em.nativeUpdate(Project, { id, removedAt: { $ne: null } }, { removedAt: null })) === 1
}

/** Whether there is a picture, without reading it. */
export async function hasPicture(em: EntityManager, id: string): Promise<boolean> {
  return (await em.count(Project, { id, picture: { $ne: null } })) === 1
}

/** Gives a revision of a project its picture, where it is still the newest and has none; no new revision comes of it. */
export async function bringPicture(em: EntityManager, id: string, revision: number, picture: Buffer): Promise<boolean> {
  return em.transactional(async (tx) => {
    const changed = await tx.nativeUpdate(Project, { id, revision, removedAt: null, picture: null }, { picture })
    if (changed === 1) await tx.nativeUpdate(Revision, { projectId: id, number: revision, aside: false, picture: null }, { picture })
    return changed === 1
  })
}

export async function projectPicture(em: EntityManager, id: string): Promise<Buffer | null> {
  const row = await em.findOne(Project, { id, removedAt: null }, { populate: ['picture'] })
  return row?.picture ?? null
}
