import { diffArrays } from 'diff'

/** A grapheme of the text: what a person counts as one letter. */
export interface TextLetter {
  readonly text: string
  /** its first UTF-16 unit */
  readonly at: number
}

/** What hangs on letters, and the text it was made in; `at` is the first UTF-16 unit of its letter there. */
export interface OnLetters<T extends { readonly at: number }> {
  readonly of: string
  readonly list: readonly T[]
}

/** Stands for the place of a letter that is gone, in lists of what was drawn on letters. */
export const GONE = -2

const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' })

export function graphemes(text: string): TextLetter[] {
  return Array.from(segmenter.segment(text), ({ segment, index }) => ({ text: segment, at: index }))
}

/** Edits further apart than this are not searched for common letters: the text was replaced, not edited. */
const MAX_EDITS = 600

/**
 * Changes of single letters carried from the text they were made in over to another text: each stays with its letter
 * through whatever was put in, taken out or replaced around it; a letter that is gone takes its changes with it.
 * `caret`, the UTF-16 offset behind what was typed, tells which of several equal letters is the new one.
 * Matching: common ends first, then the shortest edit script between them (Myers 1986, by the package `diff`).
 * The list is a new one, in the order of the letters; the changes in it are shared or copied.
 */
export function carryOver<T extends { readonly at: number }>(changes: OnLetters<T>, text: string, caret?: number): { of: string; list: T[] } {
  if (changes.of === text || changes.list.length === 0) return { of: text, list: [...changes.list] }
  const target = lettersKept(changes.of, text, caret)
  const list = changes.list.flatMap((change) => {
    const at = target.get(change.at)
    return at === undefined ? [] : [{ ...change, at }]
  })
  return { of: text, list: list.sort((p, q) => p.at - q.at) }
}

/** Where the letters of one text stand in another, by UTF-16 offsets; see `carryOver`. Those that are gone are left out. */
export function lettersKept(from: string, text: string, caret?: number): Map<number, number> {
  const before = graphemes(from)
  const after = graphemes(text)
  const same = (i: number, j: number) => before[i].text === after[j].text
  const shorter = Math.min(before.length, after.length)
  // what stands behind the caret was there before; without a caret the ends are matched from the front
  const behind = caret === undefined ? shorter : after.filter((letter) => letter.at >= caret).length
  let tail = 0
  if (caret !== undefined) while (tail < Math.min(shorter, behind) && same(before.length - 1 - tail, after.length - 1 - tail)) tail++
  let head = 0
  while (head < shorter - tail && same(head, head)) head++
  while (tail < shorter - head && same(before.length - 1 - tail, after.length - 1 - tail)) tail++
  const target = new Map<number, number>()
  for (let i = 0; i < head; i++) target.set(before[i].at, after[i].at)
  for (let k = 1; k <= tail; k++) target.set(before[before.length - k].at, after[after.length - k].at)
  const parts = diffArrays(
    before.slice(head, before.length - tail).map((l) => l.text),
    after.slice(head, after.length - tail).map((l) => l.text),
    { maxEditLength: MAX_EDITS },
  )
  let i = head
  let j = head
  for (const part of parts ?? []) {
    if (part.removed) i += part.count
    else if (part.added) j += part.count
    else for (let k = 0; k < part.count; k++, i++, j++) target.set(before[i].at, after[j].at)
  }
  return target
}

/** What hangs on letters, told by another text than the one it was made for: what has lost its letter goes. Entries at −1 are of no letter and stay. */
export function retold<T extends { readonly at: number }>(
  { of, list }: { readonly of: string; readonly list: readonly T[] },
  text: string,
): { of: string; list: T[] } {
  if (of === text || list.length === 0) return { of: text, list: [...list] }
  const kept = lettersKept(of, text)
  return {
    of: text,
    list: list.flatMap((one): T[] => {
      const at = one.at < 0 ? one.at : kept.get(one.at)
      return at === undefined ? [] : [{ ...one, at }]
    }),
  }
}
