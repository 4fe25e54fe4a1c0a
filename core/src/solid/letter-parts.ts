import { NONE } from './labels'
import { partHomes } from './part-homes'
import type { Solid } from './solid'

/** Whole connected parts of a solid that belong together. */
export interface LetterParts {
  /** which of the groups each triangle belongs to, by its number in `groups` */
  readonly of: Int32Array
  /** their letters in order; none where a group belongs to no letter, such as a plate */
  readonly groups: readonly (readonly number[])[]
}

/**
 * Which parts of a solid go together by its letters, so that each group is closed: parts that share a letter, such as the dot of an i, and letters that are joined.
 * `unitOf` may gather letters, e.g. to words: what it gives the same number stays together. Groups are in the order of their first letters, those of no letter last.
 */
export function letterParts(solid: Solid, unitOf: (letter: number) => number = (letter) => letter): LetterParts {
  const { surface, labels } = solid
  // a row is of one part and one letter
  const used = new Uint8Array(labels.part.length)
  for (let t = 0; t < surface.length; t++) used[surface[t]] = 1
  const parts = labels.part.reduce((most, part, row) => (used[row] ? Math.max(most, part + 1) : most), 0)
  const letters = Array.from({ length: parts }, () => new Set<number>())
  for (let row = 0; row < used.length; row++) if (used[row]) letters[labels.part[row]].add(labels.letter[row])
  const group = Int32Array.from({ length: parts }, (_, i) => i)
  const root = (i: number): number => (group[i] === i ? i : root(group[i]))
  const first = new Map<number, number>()
  letters.forEach((list, part) => {
    for (const letter of list) {
      if (letter === NONE) continue
      const unit = unitOf(letter)
      const other = first.get(unit)
      if (other === undefined) first.set(unit, part)
      else group[root(part)] = root(other)
    }
  })
  // a hollow of no letter, such as one that was cut out, belongs to what it lies in
  if (parts > 1 && letters.some((list) => list.size === 1 && list.has(NONE)))
    partHomes(solid).forEach((home, part) => {
      if (home !== part && [...letters[part]].every((letter) => letter === NONE)) group[root(part)] = root(home)
    })
  const members = new Map<number, Set<number>>()
  letters.forEach((list, part) => {
    const own = members.get(root(part)) ?? new Set()
    members.set(root(part), own)
    for (const letter of list) if (letter !== NONE) own.add(letter)
  })
  const listed = [...members].map(([of, own]) => ({ of, own: [...own].sort((a, b) => a - b) }))
  listed.sort((a, b) => (a.own[0] ?? Infinity) - (b.own[0] ?? Infinity) || a.of - b.of)
  const numbers = new Map(listed.map(({ of }, i) => [of, i]))
  const numberOf = Int32Array.from({ length: parts }, (_, part) => numbers.get(root(part)) as number)
  const ofRow = labels.part.map((part) => numberOf[part] ?? 0)
  const of = new Int32Array(surface.length)
  for (let t = 0; t < of.length; t++) of[t] = ofRow[surface[t]]
  return { of, groups: listed.map(({ own }) => own) }
}
