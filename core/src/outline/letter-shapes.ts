import { fromPath, type NodePath, pointsOf } from './nodes'
import { type Outline, regionPaths } from './outline'

export interface EditableShape {
  /** UTF-16 offset of the letter, −1 when it is none */
  readonly at: number
  readonly text: string
  /** its outlines where they stand, mm */
  readonly paths: readonly NodePath[]
  /** the members it is made of: region and member index */
  readonly parts: readonly (readonly [region: number, member: number])[]
}

/** What can be drawn anew in an outline: every letter with all its glyphs, and every shape that is none. */
export function editableShapes(outline: Outline): EditableShape[] {
  const letters = new Map<number, [number, number][]>()
  const others: [number, number][][] = []
  outline.regions.forEach((region, r) =>
    region.members.forEach(({ letter }, m) => {
      const known = letter < 0 ? undefined : letters.get(letter)
      if (known) known.push([r, m])
      else if (letter >= 0) letters.set(letter, [[r, m]])
      else others.push([[r, m]])
    }),
  )
  const shape = (at: number, text: string, parts: [number, number][]): EditableShape => ({
    at,
    text,
    parts,
    paths: parts.flatMap(([r, m]) => {
      const region = outline.regions[r]
      return regionPaths({ ...region, members: [region.members[m]] }).map(fromPath)
    }),
  })
  return [
    ...[...letters].map(([letter, parts]) => shape(outline.letters[letter].at, outline.letters[letter].text, parts)),
    ...others.map((parts) => shape(-1, '', parts)),
  ]
}

/** The lower left corner of the box about a shape's nodes and handles, mm: what moves with it when the words change. */
export function lowerLeft(shape: Pick<EditableShape, 'paths'>): [number, number] {
  const points = shape.paths.flatMap(pointsOf)
  let [x, y] = [Infinity, Infinity]
  for (let i = 0; i < points.length; i += 2) {
    x = Math.min(x, points[i])
    y = Math.min(y, points[i + 1])
  }
  return [x, y]
}

/** The text that an outline's letters stand for, with spaces where letters have no outline. */
export function textOf(outline: Outline): string {
  let text = ''
  for (const letter of outline.letters) text = text.padEnd(letter.at, ' ').slice(0, letter.at) + letter.text
  return text
}
