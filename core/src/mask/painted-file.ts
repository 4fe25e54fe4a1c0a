import { LRUCache } from 'lru-cache'
import { z } from 'zod'
import { GONE, lettersKept } from '../document/letters'
import { FormatError } from '../format/mesh-data'
import type { Dab, Painted } from './painted'
import { dabSchema, MOST_DABS } from './painted-schema'

/** A dab in a file: `at` is the number of its letter among those that the document names; −1 for what is no letter's. */
const file = z.object({ kelvar: z.literal('dabs'), dabs: z.array(dabSchema).max(MOST_DABS) })

/** Dabs as the bytes of an asset. */
export const writeDabs = (dabs: readonly Dab[]): Uint8Array => new TextEncoder().encode(JSON.stringify({ kelvar: 'dabs', dabs }))

/** The dabs in an asset's bytes. Throws FormatError when they are none. */
export function readDabs(bytes: Uint8Array): Dab[] {
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder().decode(bytes))
  } catch {
    value = undefined
  }
  const parsed = file.safeParse(value)
  if (!parsed.success) throw new FormatError('What was painted cannot be read: it is damaged.', 'Wipe it off, or restore an earlier revision.')
  return parsed.data.dabs
}

/** All that are kept at hand together, dabs. */
const AT_HAND = 50 * MOST_DABS

/** Dabs of files, by SHA-256: masks are measured in one go, so that they must be there before. */
const atHand = new LRUCache<string, readonly Dab[]>({ maxSize: AT_HAND, sizeCalculation: (dabs) => dabs.length + 1 })

export const areDabsAtHand = (sha256: string): boolean => atHand.has(sha256)

/** Keeps the dabs of a file at hand. */
export const holdDabs = (sha256: string, dabs: readonly Dab[]): void => void atHand.set(sha256, dabs)

/** All dabs of a painted entry, the first laid first, at letters of the text `of`; what is in a file counts when that was brought to hand. */
export const dabsOf = (painted: Painted): readonly Dab[] => allDabs(painted, (painted.file && atHand.get(painted.file.sha256)) ?? [])

/** Those in an entry's file, at the letters they are on, and those beside it; without those whose letter was given up. */
const allDabs = ({ list, letters = [] }: Painted, inFile: readonly Dab[]): readonly Dab[] => [
  ...inFile.flatMap((dab): Dab[] => {
    const at = dab.at < 0 ? dab.at : (letters[dab.at]?.at ?? GONE)
    return at === GONE ? [] : [{ ...dab, at }]
  }),
  ...list,
]

/** How many dabs an entry holds, in its file and beside it. */
export const dabCount = ({ list, file }: Painted): number => list.length + (file?.count ?? 0)

/** What was painted, told by another text than the one it was made for: what is on letters that are gone is given up. */
export function toldBy(painted: Painted, text: string): Painted {
  const { of, list, letters } = painted
  if (of === text || (list.length === 0 && !letters)) return { ...painted, of: text }
  const kept = lettersKept(of, text)
  return {
    ...painted,
    of: text,
    list: list.flatMap((dab) => {
      const at = dab.at < 0 ? dab.at : kept.get(dab.at)
      return at === undefined ? [] : [{ ...dab, at }]
    }),
    ...(letters ? { letters: letters.map(({ at }) => ({ at: at < 0 ? at : (kept.get(at) ?? GONE) })) } : {}),
  }
}

/** An entry whose dabs beside the file are taken into it: what the file then holds, and what the document then says but for the file. `before` are those in its file. */
export function intoFile(painted: Painted, before: readonly Dab[]): { readonly dabs: readonly Dab[]; readonly painted: Painted } {
  const letters: { at: number }[] = []
  const numbers = new Map<number, number>()
  const dabs = allDabs(painted, before).map((dab) => {
    if (dab.at < 0) return dab
    let number = numbers.get(dab.at)
    if (number === undefined) numbers.set(dab.at, (number = letters.push({ at: dab.at }) - 1))
    return { ...dab, at: number }
  })
  return { dabs, painted: { of: painted.of, list: [], letters } }
}
