import { DOCUMENT_VERSION } from '../document/schema'
import { stepKind } from '../steps/registry'
import type { StepKind } from '../steps/step'

/** Takes a document of version n (its key) to n + 1. It works on its own copy and may change it. */
export type Migration = (document: Record<string, unknown>) => Record<string, unknown>

/** One entry for every version before the present; version 1 is the first. */
const MIGRATIONS: Readonly<Record<number, Migration>> = {
  // Lettering learnt optical kerning and features by name
  1: (document) => {
    for (const params of paramsOf(document, 'lettering')) {
      if (typeof params.kerning === 'boolean') params.kerning = params.kerning ? 'face' : 'none'
      if (params.ligatures === false) params.features = { liga: 0, clig: 0 }
      delete params.ligatures
    }
    return document
  },
  // the return of Channel became as high as one likes; it had been as high as its rim is wide
  2: (document) => {
    for (const params of paramsOf(document, 'channel')) if (typeof params.rimSize === 'number') params.rimHeight ??= params.rimSize
    return document
  },
  // pieces got a place, steps the version of their parameters; neither need be there
  3: (document) => document,
}

/** The steps of all routes, those of try-outs too, in a document that may be damaged. */
function stepsOf(document: Record<string, unknown>): Record<string, unknown>[] {
  const list = (value: unknown): Record<string, unknown>[] => (Array.isArray(value) ? value.filter((v) => v !== null && typeof v === 'object') : [])
  return list(document.pieces)
    .flatMap((piece) => [piece, ...list(piece.tryOuts)])
    .flatMap(({ route }) => list(route))
}

const paramsOf = (document: Record<string, unknown>, kind: string): Record<string, unknown>[] =>
  stepsOf(document).flatMap(({ kind: k, params }) => (k === kind && params !== null && typeof params === 'object' ? [params as Record<string, unknown>] : []))

/**
 * Brings the parameters of every step up to its present version, in place, by the step's own migrations; steps of kinds that are not known,
 * and of versions newer than the present, are left as they are.
 */
export function migrateSteps(
  document: Record<string, unknown>,
  kindOf: (kind: string) => Pick<StepKind, 'version' | 'migrations'> | undefined = stepKind,
): void {
  for (const step of stepsOf(document)) {
    const kind = typeof step.kind === 'string' ? kindOf(step.kind) : undefined
    const from = step.version ?? 1
    // a version that is none is left for the schema to refuse: counting up from it might never end
    if (!kind || typeof from !== 'number' || !Number.isInteger(from) || from < 1 || from >= kind.version) continue
    for (let version = from; version < kind.version; version++) {
      const migration = kind.migrations?.[version]
      if (migration && step.params !== null && typeof step.params === 'object') step.params = migration(step.params as Record<string, unknown>)
    }
    step.version = kind.version
  }
}

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
