import { Migrator } from '@mikro-orm/migrations'
import { MikroORM, type Options } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { Asset, KeptMask, Profile, Project, Revision } from './entities'
import { ProjectsAndAssets } from './migrations/0001-projects-and-assets'
import { TypeCase } from './migrations/0002-type-case'
import { Profiles } from './migrations/0003-profiles'
import { Revisions } from './migrations/0004-revisions'
import { AssetParts } from './migrations/0005-asset-parts'
import { OneProfileOfAName } from './migrations/0006-one-profile-of-a-name'
import { Looks } from './migrations/0007-looks'
import { Bakes } from './migrations/0008-bakes'
import { Masks } from './migrations/0009-masks'
import { BakesOfProjects } from './migrations/0010-bakes-of-projects'
import { PiecesOfProjects } from './migrations/0011-pieces-of-projects'

const environment = z.object({
  /** postgresql://user@127.0.0.1:port/database; set by ./start and ./test */
  KELVAR_DATABASE_URL: z.string().url(),
})

export function databaseOptions(url: string): Options {
  return {
    clientUrl: url,
    entities: [Project, Revision, Asset, Profile, KeptMask],
    extensions: [Migrator],
    migrations: {
      tableName: 'migration',
      migrationsList: [
        { name: '0001-projects-and-assets', class: ProjectsAndAssets },
        { name: '0002-type-case', class: TypeCase },
        { name: '0003-profiles', class: Profiles },
        { name: '0004-revisions', class: Revisions },
        { name: '0005-asset-parts', class: AssetParts },
        { name: '0006-one-profile-of-a-name', class: OneProfileOfAName },
        { name: '0007-looks', class: Looks },
        { name: '0008-bakes', class: Bakes },
        { name: '0009-masks', class: Masks },
        { name: '0010-bakes-of-projects', class: BakesOfProjects },
        { name: '0011-pieces-of-projects', class: PiecesOfProjects },
      ],
      snapshot: false,
    },
    pool: { min: 0, max: 8 },
    discovery: { warnWhenNoEntities: false },
  }
}

let opening: Promise<MikroORM> | undefined

/** The application's connection pool; opened at first use. A failed opening is tried again by the next caller. */
export function database(): Promise<MikroORM> {
  opening ??= MikroORM.init(databaseOptions(environment.parse(process.env).KELVAR_DATABASE_URL)).catch((error) => {
    opening = undefined
    throw error
  })
  return opening
}
