import { letterTurns } from '../solid/letter-turns'
import { connectedParts, labelAt, type Solid, triangleCount, vertexCount } from '../solid/solid'

export const UNITS = ['whole', 'word', 'letter'] as const
/** What a deformation takes by itself: the whole piece, each word, each letter. */
export type UnitsOf = (typeof UNITS)[number]

export type Box = [number, number, number, number, number, number]

/**
 * Of every vertex the unit it belongs to, 0 to count − 1. What hangs together is of one unit: that of the letter it has most of. What is no
 * letter's is a unit of its own.
 */
export function unitsOf(solid: Solid, of: UnitsOf): { unit: Int32Array; count: number } {
  const unit = new Int32Array(vertexCount(solid))
  if (of === 'whole') return { unit, count: 1 }
  const { part, count: parts } = connectedParts(solid.indices, vertexCount(solid))
  const { word } = letterTurns(solid.letters)
  const votes = Array.from({ length: parts }, () => new Map<number, number>())
  for (let t = 0; t < triangleCount(solid); t++) {
    const letter = labelAt(solid, t, 'letter')
    const key = letter < 0 ? -1 : of === 'word' ? word[letter] : letter
    votes[part[t]].set(key, (votes[part[t]].get(key) ?? 0) + 1)
  }
  const keys = votes.map((vote) => [...vote].reduce((best, one) => (one[1] > best[1] ? one : best), [-1, -1])[0])
  const known = [...new Set(keys)].sort((a, b) => a - b)
  const number = new Map(known.map((key, i) => [key, i]))
  for (let t = 0; t < triangleCount(solid); t++) {
    const n = number.get(keys[part[t]]) ?? 0
    for (let k = 0; k < 3; k++) unit[solid.indices[3 * t + k]] = n
  }
  return { unit, count: known.length }
}

/** The boxes of units, mm. */
export function unitBoxes(positions: Float64Array, unit: Int32Array, count: number): Box[] {
  const boxes = Array.from({ length: count }, (): Box => [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity])
  for (let v = 0; v < unit.length; v++) {
    const box = boxes[unit[v]]
    for (let k = 0; k < 3; k++) {
      const at = positions[3 * v + k]
      if (at < box[k]) box[k] = at
      if (at > box[k + 3]) box[k + 3] = at
    }
  }
  return boxes
}
