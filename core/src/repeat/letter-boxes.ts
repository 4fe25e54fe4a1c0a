import type { Outline } from '../outline/outline'
import { regionPaths } from '../outline/outline'
import { controlBounds } from '../outline/path'
import { letterTurns } from '../solid/letter-turns'
import { labelOf, type Solid } from '../solid/solid'

/** [minX, minY, minZ, maxX, maxY, maxZ], mm */
export type LetterBox = [number, number, number, number, number, number]

const none = (): LetterBox => [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]

/** The boxes of an outline's letters, those without ink left out. */
export function outlineBoxes({ regions }: Outline): Map<number, LetterBox> {
  const boxes = new Map<number, LetterBox>()
  for (const region of regions)
    for (const member of region.members) {
      const [x0, y0, x1, y1] = controlBounds(regionPaths({ ...region, members: [member] }))
      widen(boxes, member.letter, [x0, y0, 0, x1, y1, 0])
    }
  return boxes
}

/** The boxes of a solid's letters. */
export function solidBoxes(solid: Solid): Map<number, LetterBox> {
  const boxes = new Map<number, LetterBox>()
  const { positions: p, indices } = solid
  labelOf(solid, 'letter').forEach((letter, t) => {
    const box = boxes.get(letter) ?? none()
    boxes.set(letter, box)
    for (let i = 3 * t; i < 3 * t + 3; i++)
      for (let k = 0; k < 3; k++) {
        const at = p[3 * indices[i] + k]
        if (at < box[k]) box[k] = at
        if (at > box[k + 3]) box[k + 3] = at
      }
  })
  return boxes
}

/** The box about two. */
export const around = (a: ArrayLike<number>, b: ArrayLike<number>): LetterBox =>
  [0, 1, 2, 3, 4, 5].map((k) => (k < 3 ? Math.min(a[k], b[k]) : Math.max(a[k], b[k]))) as LetterBox

function widen(boxes: Map<number, LetterBox>, key: number, by: LetterBox): void {
  boxes.set(key, around(boxes.get(key) ?? none(), by))
}

/** What stands for a group: the letter it begins with, and the box about all of it. */
export interface LetterGroup {
  readonly letter: number
  readonly box: LetterBox
}

/** Letters as they are, or their words, or their lines; a line begins at a line break, or where a word stands below the one before it. */
export function letterGroups(letters: readonly string[], boxes: ReadonlyMap<number, LetterBox>, by: 'letter' | 'word' | 'line'): LetterGroup[] {
  const list = [...boxes].filter(([letter]) => letter >= 0).sort(([a], [b]) => a - b)
  if (by === 'letter') return list.map(([letter, box]) => ({ letter, box }))
  const { word } = letterTurns(letters)
  const words = grouped(list, ([letter]) => word[letter])
  if (by === 'word') return words
  let line = -1
  let before: LetterGroup | undefined
  return grouped(
    words.map((group): [number, LetterBox] => [group.letter, group.box]),
    ([letter, box]) => {
      const broken = before && letters.slice(before.letter, letter).some((text) => /[\n\r\u2028\u2029]/.test(text))
      const below = before && box[4] < (before.box[1] + before.box[4]) / 2 && box[0] < before.box[3]
      if (!before || broken || below) line++
      before = { letter, box }
      return line
    },
  )
}

function grouped(list: readonly (readonly [number, LetterBox])[], keyOf: (entry: readonly [number, LetterBox]) => number): LetterGroup[] {
  const boxes = new Map<number, LetterBox>()
  const first = new Map<number, number>()
  for (const entry of list) {
    const key = keyOf(entry)
    if (!first.has(key)) first.set(key, entry[0])
    widen(boxes, key, entry[1])
  }
  return [...boxes].map(([key, box]) => ({ letter: first.get(key) as number, box }))
}
