import { sidesOfRings } from '../kernel/sides'
import { TooMuchWork } from '../kernel/work-bound'

/** Sides looked at, about 2 s of work. */
const MAX_LOOKS = 400_000_000

/**
 * How many of the other rings (x, y pairs, closed) wind about each ring's first point. Sides are sorted into bands of height, and a ray from
 * each point looks at those of its own band only. Throws TooMuchWork when far too many rings lie beside one another at one height.
 */
export function nestingDepths(rings: readonly ArrayLike<number>[]): Uint32Array {
  const sides = sidesOfRings(rings)
  const count = sides.length / 4
  const ringOf = new Uint32Array(count)
  let [low, high] = [Infinity, -Infinity]
  let k = 0
  rings.forEach((ring, r) => {
    for (let i = 1; i < ring.length; i += 2) {
      ringOf[k++] = r
      low = Math.min(low, ring[i])
      high = Math.max(high, ring[i])
    }
  })
  const bands = Math.max(1, Math.ceil(Math.sqrt(count)))
  const bandOf = (y: number) => Math.min(bands - 1, Math.max(0, Math.floor(((y - low) / (high - low || 1)) * bands)))
  const inBand: number[][] = Array.from({ length: bands }, () => [])
  for (let i = 0; i < count; i++) {
    const y0 = sides[4 * i + 1]
    const y1 = sides[4 * i + 3]
    if (y0 === y1) continue
    const last = bandOf(Math.max(y0, y1))
    for (let b = bandOf(Math.min(y0, y1)); b <= last; b++) inBand[b].push(i)
  }
  const packed = inBand.map((list) => Uint32Array.from(list))
  const depths = new Uint32Array(rings.length)
  const turns = new Int32Array(rings.length)
  let looks = 0
  rings.forEach((ring, own) => {
    if (ring.length < 2) return
    const [x, y] = [ring[0], ring[1]]
    const near = packed[bandOf(y)]
    looks += near.length
    if (looks > MAX_LOOKS) throw new TooMuchWork('Too many closed lines lie beside one another to tell holes from areas.', 'Bring the drawing in in parts.')
    const met: number[] = []
    for (let k = 0; k < near.length; k++) {
      const i = near[k]
      const y0 = sides[4 * i + 1]
      const y1 = sides[4 * i + 3]
      if (y0 <= y === y1 <= y) continue
      const r = ringOf[i]
      if (r === own) continue
      const x0 = sides[4 * i]
      const side = (sides[4 * i + 2] - x0) * (y - y0) - (x - x0) * (y1 - y0)
      if (y1 > y0 ? side <= 0 : side >= 0) continue
      met.push(r)
      turns[r] += y1 > y0 ? 1 : -1
    }
    for (const r of met) {
      if (turns[r] !== 0) depths[own]++
      turns[r] = 0
    }
  })
  return depths
}
