import { EntitySchema } from '@mikro-orm/core'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import type { Mask } from '@kelvar/core/mask/schema'
import type { NodePath } from '@kelvar/core/outline/nodes'

export interface ProjectRow {
  id: string
  name: string
  document: ProjectDocument
  /** grows by one with every accepted save */
  revision: number
  /** small PNG of the first piece, as the browser drew it; null until then */
  picture: Buffer | null
  createdAt: Date
  updatedAt: Date
  /** when it was taken out of the cabinet; it can be put back for a while */
  removedAt: Date | null
}

export const Project = new EntitySchema<ProjectRow>({
  name: 'Project',
  tableName: 'project',
  properties: {
    id: { type: 'uuid', primary: true },
    name: { type: 'text' },
    document: { type: 'json', columnType: 'jsonb' },
    revision: { type: 'integer' },
    picture: { type: 'blob', nullable: true, lazy: true },
    createdAt: { type: 'datetime', columnType: 'timestamptz' },
    updatedAt: { type: 'datetime', columnType: 'timestamptz' },
    removedAt: { type: 'datetime', columnType: 'timestamptz', nullable: true },
  },
})

/** A project as one accepted save left it, or a version that was set aside because something newer had been saved. */
export interface RevisionRow {
  id: string
  projectId: string
  /** the project's revision it was; of one set aside, the revision it was made from */
  number: number
  aside: boolean
  document: ProjectDocument
  /** what it changed, in words */
  changes: string[]
  /** given by a person; revisions with a name are never thinned out */
  name: string | null
  picture: Buffer | null
  createdAt: Date
}

export const Revision = new EntitySchema<RevisionRow>({
  name: 'Revision',
  tableName: 'revision',
  properties: {
    id: { type: 'uuid', primary: true },
    projectId: { type: 'uuid' },
    number: { type: 'integer' },
    aside: { type: 'boolean' },
    document: { type: 'json', columnType: 'jsonb', lazy: true },
    changes: { type: 'json', columnType: 'jsonb' },
    name: { type: 'text', nullable: true },
    picture: { type: 'blob', nullable: true, lazy: true },
    createdAt: { type: 'datetime', columnType: 'timestamptz' },
  },
})

/** A file that projects refer to, named by its SHA-256; its bytes lie in parts beside it, see assets.ts. */
export interface AssetRow {
  sha256: string
  name: string
  type: string
  /** bytes; as text, since it may be more than 2³¹ */
  size: string
  /** of a font: see core/src/font/facts.ts; null for what was kept before there were any */
  facts: unknown
  /** whether the type case shows it */
  listed: boolean
  createdAt: Date
}

export const Asset = new EntitySchema<AssetRow>({
  name: 'Asset',
  tableName: 'asset',
  properties: {
    sha256: { type: 'text', primary: true },
    name: { type: 'text' },
    type: { type: 'text' },
    size: { type: 'bigint' },
    facts: { type: 'json', columnType: 'jsonb', nullable: true },
    listed: { type: 'boolean', default: true },
    createdAt: { type: 'datetime', columnType: 'timestamptz' },
  },
})

/** An edge profile kept in the cabinet; every project can use it, and copies it when it does. */
interface ProfileRow {
  id: string
  name: string
  /** nodes in mm, see core/src/solid/profile-drawing.ts */
  drawn: NodePath
  createdAt: Date
}

export const Profile = new EntitySchema<ProfileRow>({
  name: 'Profile',
  tableName: 'profile',
  properties: {
    id: { type: 'uuid', primary: true },
    name: { type: 'text' },
    drawn: { type: 'json', columnType: 'jsonb' },
    createdAt: { type: 'datetime', columnType: 'timestamptz' },
  },
})

/** A mask kept in the cabinet; a step that takes it has a copy. */
interface KeptMaskRow {
  id: string
  name: string
  /** see core/src/mask/schema.ts */
  mask: Mask
  createdAt: Date
}

export const KeptMask = new EntitySchema<KeptMaskRow>({
  name: 'KeptMask',
  tableName: 'mask',
  properties: {
    id: { type: 'uuid', primary: true },
    name: { type: 'text' },
    mask: { type: 'json', columnType: 'jsonb' },
    createdAt: { type: 'datetime', columnType: 'timestamptz' },
  },
})
