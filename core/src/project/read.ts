import { migrate, migrateSteps } from './migrations'
import { malformed } from '../document/well-formed'
import { DOCUMENT_VERSION, type ProjectDocument, projectDocument } from '../document/schema'

export interface DocumentProblem {
  readonly code: 'not-json' | 'not-a-project' | 'newer-version' | 'invalid'
  readonly message: string
  readonly remedy: string
}

export type DocumentResult = { readonly ok: true; readonly document: ProjectDocument } | { readonly ok: false; readonly problem: DocumentProblem }

const refuse = (code: DocumentProblem['code'], message: string, remedy: string): DocumentResult => ({ ok: false, problem: { code, message, remedy } })

/** A project from JSON text; never throws. */
export function readDocumentText(text: string): DocumentResult {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch {
    return refuse('not-json', 'The file is not valid JSON.', 'Choose a Kelvar project file.')
  }
  return readDocument(value)
}

/** A project from any value: brought up to the present version, then checked whole. The value itself is not changed. */
export function readDocument(value: unknown): DocumentResult {
  if (value === null || typeof value !== 'object' || (value as { format?: unknown }).format !== 'kelvar')
    return refuse('not-a-project', 'This is not a Kelvar project.', 'Choose a file that Kelvar wrote.')
  const version = (value as { version?: unknown }).version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return refuse('invalid', 'The project states no version.', 'Choose a file that Kelvar wrote.')
  if (version > DOCUMENT_VERSION)
    return refuse(
      'newer-version',
      `The project was made by a newer Kelvar (document version ${version}; this one reads up to ${DOCUMENT_VERSION}).`,
      'Open it with the newer version. Nothing in it has been changed.',
    )
  const broken = malformed(value)
  if (broken)
    return refuse(
      'invalid',
      `The project is damaged at ${broken.path.join(' › ') || 'its top'}: ${broken.what}.`,
      'Restore an earlier revision, or correct the file there.',
    )
  const present = migrate(value as Record<string, unknown>)
  migrateSteps(present)
  const parsed = projectDocument.safeParse(present)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    return refuse(
      'invalid',
      `The project is damaged at ${issue.path.join(' › ') || 'its top'}: ${issue.message}`,
      'Restore an earlier revision, or correct the file there.',
    )
  }
  const duplicate = firstDuplicate(parsed.data)
  if (duplicate) return refuse('invalid', `The project is damaged: the id “${duplicate}” is used twice.`, 'Give one of them another id.')
  return { ok: true, document: parsed.data }
}

function firstDuplicate(document: ProjectDocument): string | undefined {
  const repeated = (ids: string[]) => ids.find((id, i) => ids.indexOf(id) !== i)
  return repeated(document.pieces.map((p) => p.id)) ?? document.pieces.map((p) => repeated(p.route.map((s) => s.id))).find((id) => id !== undefined)
}
