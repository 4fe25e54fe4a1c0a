import { DOCUMENT_VERSION } from './schema'

/** Takes a document of version n (its key) to n + 1. It works on its own copy and may change it. */
export type Migration = (document: Record<string, unknown>) => Record<string, unknown>

/** One entry for every version before the present; version 1 is the first. */
export const MIGRATIONS: Readonly<Record<number, Migration>> = {
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
}

/** The parameters of all steps of a kind, those of try-outs too, in a document that may be damaged. */
function paramsOf(document: Record<string, unknown>, kind: string): Record<string, unknown>[] {
  const list = (value: unknown): Record<string, unknown>[] => (Array.isArray(value) ? value.filter((v) => v !== null && typeof v === 'object') : [])
  return list(document.pieces)
    .flatMap((piece) => [piece, ...list(piece.tryOuts)])
    .flatMap(({ route }) => list(route))
    .flatMap((step) => (step.kind === kind && step.params !== null && typeof step.params === 'object' ? [step.params as Record<string, unknown>] : []))
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
