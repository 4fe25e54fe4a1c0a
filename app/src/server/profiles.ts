import { type NodePath, toPath } from '@kelvar/core/outline/nodes'
import { nodePath } from '@kelvar/core/outline/node-path'
import { monotoneProfile } from '@kelvar/core/solid/profile'
import { profileSize } from '@kelvar/core/solid/profile-drawing'
import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { Profile } from './entities'
import { full, keepByName, nameToKeep } from './kept'

export const MAX_PROFILES = 500

/** A profile as the browser sends it: an open curve of at most 60 nodes. */
export const profileToKeep = z.object({
  name: nameToKeep('profile'),
  drawn: nodePath.refine(({ closed, nodes }) => !closed && nodes.length >= 2 && nodes.length <= 60, 'A profile is an open curve of 2 to 60 nodes.'),
})

export interface KeptProfile {
  readonly id: string
  readonly name: string
  readonly drawn: NodePath
}

/** The kept profiles by name; what has become unreadable is left out. */
export async function listProfiles(em: EntityManager): Promise<KeptProfile[]> {
  const rows = await em.findAll(Profile, { orderBy: { name: 'asc', createdAt: 'asc' }, limit: MAX_PROFILES })
  return rows.flatMap(({ id, name, drawn }) => (nodePath.safeParse(drawn).success ? [{ id, name, drawn }] : []))
}

type KeepProfileResult = { profile: KeptProfile } | { problem: { code: string; message: string; remedy: string } }

/** Keeps a profile under its name, over an older one of that name. */
export async function keepProfile(em: EntityManager, { name, drawn }: z.infer<typeof profileToKeep>): Promise<KeepProfileResult> {
  const usable = monotoneProfile(toPath(drawn))
  if ('message' in usable) return { problem: { code: 'profile', message: usable.message, remedy: usable.remedy } }
  if (profileSize(drawn).inset <= 0) return { problem: { code: 'profile', message: 'The profile has no width.', remedy: 'Draw it from the wall inwards.' } }
  const id = await keepByName(em, { name: 'profile', column: 'drawn' }, name, drawn, MAX_PROFILES)
  return id === undefined ? full(MAX_PROFILES, 'profiles') : { profile: { id, name, drawn } }
}

/** False when there was none. */
export async function removeProfile(em: EntityManager, id: string): Promise<boolean> {
  return (await em.nativeDelete(Profile, { id })) > 0
}
