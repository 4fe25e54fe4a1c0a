import { z } from 'zod'
import { lettersKept } from '../document/letters'
import { labelOf, type Solid, vertexCount } from '../solid/solid'
import { type Box, laidAt, smoothedDabs } from './dabs'
import { dabsOf } from './painted-file'
import { dabSchema, paintedSchema } from './painted-schema'

export type Dab = z.infer<typeof dabSchema>

export type Painted = z.infer<typeof paintedSchema>

/** Letters as one text, and where each begins in it, UTF-16. */
export function textOfLetters(letters: readonly string[]): { readonly text: string; readonly offsets: readonly number[] } {
  const offsets: number[] = []
  let text = ''
  for (const letter of letters) {
    offsets.push(text.length)
    text += letter
  }
  return { text, offsets }
}

/** The letters of a solid: their text, where each begins in it, which one every vertex is of, and where its box begins and ends. */
export function lettersIn(solid: Pick<Solid, 'letters' | 'positions' | 'indices' | 'labels' | 'surface'>) {
  const { text, offsets } = textOfLetters(solid.letters)
  const letterOf = new Int32Array(vertexCount(solid as Solid)).fill(-1)
  const corners = new Map<number, [number, number, number, number, number, number]>()
  labelOf(solid as Solid, 'letter').forEach((letter, t) => {
    const corner = corners.get(letter) ?? [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    corners.set(letter, corner)
    for (let i = 3 * t; i < 3 * t + 3; i++) {
      const v = solid.indices[i]
      letterOf[v] = letter
      for (let k = 0; k < 3; k++) {
        corner[k] = Math.min(corner[k], solid.positions[3 * v + k])
        corner[k + 3] = Math.max(corner[k + 3], solid.positions[3 * v + k])
      }
    }
  })
  return { text, offsets, letterOf, corners }
}

/**
 * What was painted, on a solid: each dab stays with its letter, wherever that now stands. `at` gives the value, 0 to 1, at a place of a letter;
 * `aside` tells how many dabs have lost theirs.
 */
export function paintedOn(solid: Solid, painted: Painted) {
  const { of } = painted
  const { text, offsets, letterOf, corners } = lettersIn(solid)
  const kept = of === text ? undefined : lettersKept(of, text)
  const numbers = new Map(offsets.map((at, i) => [at, i]))
  const byLetter = new Map<number, number[]>()
  let aside = 0
  for (const { at, place, radius, soft, amount, smooths } of dabsOf(painted)) {
    const now = at < 0 ? -1 : kept ? kept.get(at) : at
    const letter = now === undefined ? undefined : now < 0 ? -1 : numbers.get(now)
    const corner = letter === undefined ? undefined : corners.get(letter)
    if (letter === undefined || !corner) {
      aside++
      continue
    }
    const dabs = byLetter.get(letter) ?? []
    byLetter.set(letter, dabs)
    dabs.push(corner[0] + place[0], corner[1] + place[1], corner[2] + place[2], radius, radius * (1 - soft / 100), amount / 100, smooths ? 1 : 0)
  }
  const values = new Map(
    [...byLetter].map(([letter, list]) => {
      const dabs = Float64Array.from(list)
      return [letter, smoothedDabs(dabs, corners.get(letter) as Box) ?? ((x: number, y: number, z: number) => laidAt(dabs, x, y, z))]
    }),
  )
  return { letterOf, aside, at: (p: Float64Array, o: number, letter: number): number => values.get(letter)?.(p[o], p[o + 1], p[o + 2]) ?? 0 }
}
