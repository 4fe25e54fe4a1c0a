import { DOCUMENT_VERSION } from './schema'

/** Takes a document of version n (its key) to n + 1. It works on its own copy and may change it. */
export type Migration = (document: Record<string, unknown>) => Record<string, unknown>

/** One entry for every version before the present; version 1 is the first. */
export const MIGRATIONS: Readonly<Record<number, Migration>> = {}

/**
 * A copy of the document at `target`. Throws when a migration is missing, which is a mistake in Kelvar and not in the
 * document.
 */
export function migrate(
  source: Record<string, unknown>,
  migrations: Readonly<Record<number, Migration>> = MIGRATIONS,
  target: number = DOCUMENT_VERSION,
): Record<string, unknown> {
  let document = structuredClone(source)
  for (let version = document.version as number; version < target; version++) {
    const step = migrations[version]
    if (!step) throw new Error(`no migration from document version ${version}`)
    document = { ...step(document), version: version + 1 }
  }
  return document
}
