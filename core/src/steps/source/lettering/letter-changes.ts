import type { LetterChange, LetterChanges } from './schema'

/** The same changes with one letter's replaced; a change that says nothing is taken out. */
export function withChange(changes: LetterChanges, change: LetterChange): LetterChanges {
  const rest = changes.list.filter((c) => c.at !== change.at)
  const { at: _, features, ...values } = change
  const says = Object.entries(values).some(([name, value]) => value !== undefined && value !== (name === 'scale' ? 100 : 0))
  const chooses = features !== undefined && Object.keys(features).length > 0
  if (!says && !chooses) return { of: changes.of, list: rest }
  return { of: changes.of, list: [...rest, change].sort((p, q) => p.at - q.at) }
}
