import { differences } from '@kelvar/core/project/differences'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import type { WorkbenchState } from '@/state/store'

/** One step of undo or redo as the list shows it. */
export interface Moment {
  /** how many undos (below zero) or redos lead to the state just after it */
  readonly steps: number
  readonly words: string
  readonly undone: boolean
}

/** What a change did, in one line; its label where that says more. */
function changeWords(label: string, before: ProjectDocument, after: ProjectDocument): string {
  const said = differences(before, after)
  if (said.length === 0) return label
  if (said.length > 2 || said[0].endsWith('changed')) return label
  return said.join(' · ')
}

/** The newest `most` changes that can be undone and all that can be redone, the newest first. */
export function moments({ past, future, document }: Pick<WorkbenchState, 'past' | 'future' | 'document'>, most: number): Moment[] {
  const undone = future.map(({ document: after, label }, i): Moment => {
    const before = i + 1 < future.length ? future[i + 1].document : document
    return { steps: future.length - i, words: changeWords(label, before, after), undone: true }
  })
  const first = Math.max(0, past.length - most)
  const done = past.slice(first).map(({ document: before, label }, i): Moment => {
    const after = past[first + i + 1]?.document ?? document
    return { steps: first + i + 1 - past.length, words: changeWords(label, before, after), undone: false }
  })
  return [...undone, ...done.reverse()]
}
