import { volumeOf } from '../solid/volume'
import { randomShares } from '../cache/random'
import { type Solid, solidBounds } from '../solid/solid'

/** Places inside a solid, spread evenly by volume. */
export interface Samples {
  /** x, y, z each, mm */
  readonly places: Float64Array
  /** about the volume each stands for, mm³ */
  readonly volume: number
}

/** A place inside is looked for so often on a finer grid. */
const FINER = 6

/**
 * About `count` places inside a closed solid, on a grid that is shaken by lot: columns along z are cut with its triangles, and between where one
 * enters and leaves places stand at even steps. The grid hangs on the solid's own box, so that a solid that is moved gets the same places. At least one, but for a solid of no volume.
 */
export function placesInside(solid: Pick<Solid, 'positions' | 'indices'>, count: number, seed: number): Samples {
  const volume = Math.abs(volumeOf(solid))
  if (!(volume > 0)) return { places: new Float64Array(), volume: 0 }
  let step = Math.cbrt(volume / count)
  for (let round = 0; ; round++) {
    const places = inColumns(solid, step, seed + round)
    if (places.length > 0 || round === FINER) return { places, volume: step ** 3 }
    step /= 2
  }
}

function inColumns({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>, step: number, seed: number): Float64Array {
  const [x0, y0, z0, x1, y1] = solidBounds(p)
  const [wide, high] = [Math.max(1, Math.ceil((x1 - x0) / step)), Math.max(1, Math.ceil((y1 - y0) / step))]
  const next = randomShares(seed ^ 0x3f84d5b5)
  const cx = new Float64Array(wide * high)
  const cy = new Float64Array(wide * high)
  for (let i = 0; i < wide * high; i++) {
    cx[i] = x0 + ((i % wide) + 0.1 + 0.8 * next()) * step
    cy[i] = y0 + (Math.floor(i / wide) + 0.1 + 0.8 * next()) * step
  }
  const heights: (number[] | undefined)[] = []
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    const turn = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
    if (turn === 0) continue
    const [ax, ay, bx, by, ex, ey] = [p[a], p[a + 1], p[b], p[b + 1], p[c], p[c + 1]]
    const i0 = Math.max(0, Math.floor((Math.min(ax, bx, ex) - x0) / step))
    const i1 = Math.min(wide - 1, Math.floor((Math.max(ax, bx, ex) - x0) / step))
    const j0 = Math.max(0, Math.floor((Math.min(ay, by, ey) - y0) / step))
    const j1 = Math.min(high - 1, Math.floor((Math.max(ay, by, ey) - y0) / step))
    for (let j = j0; j <= j1; j++)
      for (let k = i0; k <= i1; k++) {
        const column = j * wide + k
        const x = cx[column]
        const y = cy[column]
        const u = ((bx - x) * (ey - y) - (by - y) * (ex - x)) / turn
        if (u < 0) continue
        const v = ((ex - x) * (ay - y) - (ey - y) * (ax - x)) / turn
        const w = 1 - u - v
        if (v < 0 || w < 0) continue
        ;(heights[column] ??= []).push(u * p[a + 2] + v * p[b + 2] + w * p[c + 2])
      }
  }
  const out: number[] = []
  for (let column = 0; column < cx.length; column++) {
    const list = heights[column]
    if (!list || list.length % 2 !== 0) continue
    list.sort((a, b) => a - b)
    const shaken = next()
    for (let i = 0; i < list.length; i += 2)
      for (let n = Math.ceil((list[i] - z0) / step - shaken); ; n++) {
        const z = z0 + (n + shaken) * step
        if (z >= list[i + 1]) break
        if (z > list[i]) out.push(cx[column], cy[column], z)
      }
  }
  return Float64Array.from(out)
}
