import { NONE } from '../solid/labels'
import { compose, type Matrix } from '../solid/operations'
import { longer } from '../solid/vertex-table'

/**
 * Places that a pattern gives. Each has a name among those of its letter, three numbers, by which single ones are found again after the pattern has
 * changed: columns and rows, or mm from the letter's corner.
 */
export interface Spots {
  readonly count: number
  /** rows of a 3 × 4 matrix a place: what brings a unit, standing on the origin and facing +Z, there */
  readonly matrix: Float64Array
  /** the letter it belongs to, NONE for none */
  readonly letter: Int32Array
  /** its name, three numbers a place */
  readonly spot: Float64Array
}

/** More copies than this are not made. */
export const MOST_COPIES = 50_000

/** Collects places. */
export class SpotList {
  private matrix = new Float64Array(12 * 64)
  private letter = new Int32Array(64)
  private spot = new Float64Array(3 * 64)
  count = 0

  push(m: Matrix, letter: number, a: number, b: number, c: number): void {
    const i = this.count++
    if (i >= this.letter.length) {
      this.matrix = longer(this.matrix, 24 * i)
      this.letter = longer(this.letter, 2 * i)
      this.spot = longer(this.spot, 6 * i)
    }
    this.matrix.set(m, 12 * i)
    this.letter[i] = letter
    this.spot.set([a, b, c], 3 * i)
  }

  finish(): Spots {
    const { count } = this
    return { count, matrix: this.matrix.slice(0, 12 * count), letter: this.letter.slice(0, count), spot: this.spot.slice(0, 3 * count) }
  }
}

/** Moves by mm. */
export const shift = (x: number, y: number, z: number): Matrix => [1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z]

/** Stands at a place of the plane z, turned about Z, degrees. */
export function turnedAt(x: number, y: number, z: number, degrees: number): Matrix {
  const angle = (degrees * Math.PI) / 180
  const [c, s] = [exact(Math.cos(angle)), exact(Math.sin(angle))]
  return [c, -s, 0, x, s, c, 0, y, 0, 0, 1, z]
}

/** Turns by a quarter are whole numbers, so that they round nothing. */
const exact = (v: number): number => (Math.abs(v - Math.round(v)) < 1e-12 ? Math.round(v) + 0 : v)

/** Turned about an axis through the origin, degrees. */
export function turnAbout(axis: 'x' | 'y' | 'z', degrees: number): Matrix {
  const [c, s] = [exact(Math.cos((degrees * Math.PI) / 180)), exact(Math.sin((degrees * Math.PI) / 180))]
  if (axis === 'x') return [1, 0, 0, 0, 0, c, -s, 0, 0, s, c, 0]
  if (axis === 'y') return [c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0]
  return [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0]
}

export const sized = (by: number): Matrix => [by, 0, 0, 0, 0, by, 0, 0, 0, 0, by, 0]

/** First the last one, then the one before, and so on. */
export const through = (...list: Matrix[]): Matrix => list.reduce((a, b) => compose(a, b))

/** One copy that was changed by hand: left out, or moved. */
export interface HandChange {
  /** where its letter begins in the text, UTF-16; −1 for what is no letter's */
  readonly at: number
  readonly spot: readonly [number, number, number]
  readonly out: boolean
  /** mm, in the piece's own directions */
  readonly by: readonly [number, number, number]
}

/**
 * Places without those that are left out by hand, moved where that was done; `numbers` are those they had among all. A change belongs to the nearest place of its
 * letter within `reach` of its name; `letterAt` tells which letter begins at an offset now, undefined where it is gone. `aside` counts those whose place is gone.
 */
export function changedByHand(
  spots: Spots,
  changes: readonly HandChange[],
  reach: number,
  letterAt: (at: number) => number | undefined,
): { readonly spots: Spots; readonly numbers: Int32Array; readonly aside: number } {
  const { count, matrix, letter, spot } = spots
  if (changes.length === 0) return { spots, numbers: Int32Array.from({ length: count }, (_, i) => i), aside: 0 }
  const out = new Uint8Array(count)
  const moved = matrix.slice()
  let aside = 0
  const ofLetter = new Map<number, number[]>()
  for (let i = 0; i < count; i++) {
    const list = ofLetter.get(letter[i])
    if (list) list.push(i)
    else ofLetter.set(letter[i], [i])
  }
  for (const change of changes) {
    const of = change.at < 0 ? NONE : letterAt(change.at)
    let [best, found] = [reach, -1]
    for (const i of (of === undefined ? undefined : ofLetter.get(of)) ?? []) {
      const far = Math.hypot(spot[3 * i] - change.spot[0], spot[3 * i + 1] - change.spot[1], spot[3 * i + 2] - change.spot[2])
      if (far >= best) continue
      ;[best, found] = [far, i]
    }
    if (found < 0) aside++
    else if (change.out) out[found] = 1
    else for (let k = 0; k < 3; k++) moved[12 * found + 4 * k + 3] += change.by[k]
  }
  const list = new SpotList()
  const numbers: number[] = []
  for (let i = 0; i < count; i++) {
    if (out[i]) continue
    list.push(moved.subarray(12 * i, 12 * i + 12) as unknown as Matrix, letter[i], spot[3 * i], spot[3 * i + 1], spot[3 * i + 2])
    numbers.push(i)
  }
  return { spots: list.finish(), numbers: Int32Array.from(numbers), aside }
}
