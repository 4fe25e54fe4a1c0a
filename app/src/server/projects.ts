import { randomUUID } from 'node:crypto'
import { newProject } from '@kelvar/core/document/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Project, type ProjectRow } from './entities'

export interface ProjectSummary {
  id: string
  name: string
  pieces: number
  revision: number
  hasPicture: boolean
  updatedAt: string
}

export type SaveResult = { saved: true; revision: number } | { saved: false; reason: 'conflict'; revision: number } | { saved: false; reason: 'gone' }

/** All projects, the one changed last first. */
export async function listProjects(em: EntityManager): Promise<ProjectSummary[]> {
  const rows = await em.getConnection().execute<{ id: string; name: string; pieces: number; revision: number; has_picture: boolean; updated_at: Date }[]>(
    `select id, name, jsonb_array_length(document->'pieces') as pieces, revision, picture is not null as has_picture, updated_at
       from project order by updated_at desc limit 500`,
  )
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    pieces: r.pieces,
    revision: r.revision,
    hasPicture: r.has_picture,
    updatedAt: new Date(r.updated_at).toISOString(),
  }))
}

export async function createProject(em: EntityManager, document: ProjectDocument = newProject()): Promise<ProjectRow> {
  const now = new Date()
  const row = em.create(Project, { id: randomUUID(), name: document.name, document, revision: 1, picture: null, createdAt: now, updatedAt: now })
  await em.persistAndFlush(row)
  return row
}

export async function findProject(em: EntityManager, id: string): Promise<ProjectRow | null> {
  return em.findOne(Project, { id })
}

/** Keeps a document if nothing has been saved over its base revision; one statement, so that of two savers one loses. */
export async function saveProject(em: EntityManager, id: string, baseRevision: number, document: ProjectDocument, picture?: Buffer): Promise<SaveResult> {
  const changed = await em.nativeUpdate(
    Project,
    { id, revision: baseRevision },
    { document, name: document.name, revision: baseRevision + 1, updatedAt: new Date(), ...(picture ? { picture } : {}) },
  )
  if (changed === 1) return { saved: true, revision: baseRevision + 1 }
  const present = await em.findOne(Project, { id }, { fields: ['revision'] })
  return present ? { saved: false, reason: 'conflict', revision: present.revision } : { saved: false, reason: 'gone' }
}

export async function removeProject(em: EntityManager, id: string): Promise<boolean> {
  return (await em.nativeDelete(Project, { id })) === 1
}

/** Whether there is a picture, without reading it. */
export async function hasPicture(em: EntityManager, id: string): Promise<boolean> {
  return (await em.count(Project, { id, picture: { $ne: null } })) === 1
}

export async function projectPicture(em: EntityManager, id: string): Promise<Buffer | null> {
  const row = await em.findOne(Project, { id }, { populate: ['picture'] })
  return row?.picture ?? null
}
