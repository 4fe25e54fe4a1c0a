import { NONE } from './labels'
import { partHomes } from './part-homes'
import { labelOf, type Solid } from './solid'

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
  const [partOf, letterOf] = [labelOf(solid, 'part'), labelOf(solid, 'letter')]
  const parts = 1 + partOf.reduce((most, p) => Math.max(most, p), -1)
  const letters = Array.from({ length: parts }, () => new Set<number>())
  for (let t = 0; t < partOf.length; t++) letters[partOf[t]].add(letterOf[t])
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
  return { of: partOf.map((part) => numberOf[part]), groups: listed.map(({ own }) => own) }
}
