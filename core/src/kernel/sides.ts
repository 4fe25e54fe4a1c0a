import { TooMuchWork } from './work-bound'

/** The sides of closed rings given as x, y numbers: x0, y0, x1, y1 each. */
export function sidesOfRings(rings: readonly ArrayLike<number>[]): Float64Array {
  const sides = new Float64Array(2 * rings.reduce((sum, ring) => sum + ring.length, 0))
  let o = 0
  for (const ring of rings) {
    const n = ring.length
    for (let i = 0; i < n; i += 2) {
      sides[o++] = ring[i]
      sides[o++] = ring[i + 1]
      sides[o++] = ring[(i + 2) % n]
      sides[o++] = ring[(i + 3) % n]
    }
  }
  return sides
}

/** The same of rings given as pairs. */
export function sidesOfPairs(rings: readonly (readonly (readonly number[])[])[]): Float64Array {
  const sides = new Float64Array(4 * rings.reduce((sum, ring) => sum + ring.length, 0))
  let o = 0
  for (const ring of rings) {
    for (let i = 0; i < ring.length; i++) {
      const next = ring[i + 1 === ring.length ? 0 : i + 1]
      sides[o++] = ring[i][0]
      sides[o++] = ring[i][1]
      sides[o++] = next[0]
      sides[o++] = next[1]
    }
  }
  return sides
}

/** Looks at boxes, about 2 s of work: sides that run along each other over and over are more than can be gone through. */
const MAX_LOOKS = 600_000_000
/** What a pair costs that is visited, in looks. */
const VISIT = 12

/**
 * Calls `visit` with every pair of sides whose boxes meet, until it says false; returns whether it went through. A plane sweep along the axis in
 * which the sides are shorter (Shamos & Hoey 1976, with a plain list of those in reach). Throws TooMuchWork when that list stays too long.
 */
export function visitMeetingSides(sides: Float64Array, visit: (i: number, j: number) => boolean): boolean {
  const count = sides.length / 4
  let [wide, tall] = [0, 0]
  for (let o = 0; o < sides.length; o += 4) {
    wide += Math.abs(sides[o + 2] - sides[o])
    tall += Math.abs(sides[o + 3] - sides[o + 1])
  }
  const along = wide <= tall ? 0 : 1
  const across = 1 - along
  const low = new Float64Array(count)
  const high = new Float64Array(count)
  const under = new Float64Array(count)
  const over = new Float64Array(count)
  const order = new Uint32Array(count)
  for (let i = 0; i < count; i++) {
    const [a, b, c, d] = [sides[4 * i + along], sides[4 * i + 2 + along], sides[4 * i + across], sides[4 * i + 2 + across]]
    low[i] = Math.min(a, b)
    high[i] = Math.max(a, b)
    under[i] = Math.min(c, d)
    over[i] = Math.max(c, d)
    order[i] = i
  }
  order.sort((i, j) => low[i] - low[j])
  const active = new Uint32Array(count)
  let held = 0
  let looks = 0
  for (let k = 0; k < count; k++) {
    const i = order[k]
    const start = low[i]
    const [bottom, top] = [under[i], over[i]]
    let kept = 0
    looks += held
    if (looks > MAX_LOOKS)
      throw new TooMuchWork('The lines run along one another too often to be worked with.', 'Simplify the drawing, or bring it in in parts.')
    for (let h = 0; h < held; h++) {
      const j = active[h]
      if (high[j] < start) continue
      active[kept++] = j
      if (under[j] > top || over[j] < bottom) continue
      looks += VISIT
      if (!visit(i, j)) return false
    }
    active[kept++] = i
    held = kept
  }
  return true
}

/** So many crossings are united in about 3 s; their number grows with the square of the sides'. */
export const MAX_CROSSINGS = 200_000
/** Rings of fewer sides cannot cross more often. */
const FEW = Math.floor(Math.sqrt(2 * MAX_CROSSINGS))

/** Throws TooMuchWork when sides cross one another more than MAX_CROSSINGS times: the clipping kernel would take minutes and gigabytes. */
export function boundCrossings(sides: Float64Array): void {
  if (sides.length / 4 <= FEW) return
  const turn = (i: number, x: number, y: number) =>
    (sides[4 * i + 2] - sides[4 * i]) * (y - sides[4 * i + 1]) - (sides[4 * i + 3] - sides[4 * i + 1]) * (x - sides[4 * i])
  // strictly: neighbours only touch
  const part = (i: number, j: number) => turn(i, sides[4 * j], sides[4 * j + 1]) * turn(i, sides[4 * j + 2], sides[4 * j + 3]) < 0
  let crossings = 0
  visitMeetingSides(sides, (i, j) => {
    if (part(i, j) && part(j, i) && ++crossings > MAX_CROSSINGS)
      throw new TooMuchWork(
        `The lines cross one another more than ${MAX_CROSSINGS.toLocaleString('en')} times.`,
        'Simplify the drawing, or leave out what is scribbled over itself.',
      )
    return true
  })
}
