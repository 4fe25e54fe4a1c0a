import { massOf, type Stuff } from '../look/densities'
import { apply, type Matrix } from '../solid/operations'
import { type Assembly, matrixOf, shardNames } from '../solid/assembly'
import type { Solid } from '../solid/solid'
import { volumeOf } from '../solid/volume'

/** One piece of something broken. */
export interface ShardFigures {
  /** "a 3": its letter and its number among the pieces of that letter */
  readonly name: string
  /** mm³ and g */
  readonly volume: number
  readonly mass: number
  /** its centre of mass where it stands, mm */
  readonly centre: readonly [number, number, number]
}

/** What the pieces of an assembly are called, what they weigh and where they balance, in their order. */
export function shardFigures(assembly: Assembly, stuff: Stuff): ShardFigures[] {
  const { units, placements } = assembly
  const names = shardNames(assembly)
  return Array.from(placements.unit, (unit, i): ShardFigures => {
    const solid = units[unit]
    const m = matrixOf(placements, i)
    const volume = volumeOf(solid) * sizeOf(m)
    return { name: names[i], volume, mass: massOf(volume, stuff), centre: apply(m, ...centreOf(solid)) }
  })
}

const sizeOf = (m: Matrix): number => Math.abs(m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8]))

/** Where a solid balances, mm: tetrahedra from its first corner, weighed. */
export function centreOf({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>): [number, number, number] {
  const o = 3 * indices[0]
  const sum = [0, 0, 0]
  let weight = 0
  for (let i = 0; i < indices.length; i += 3) {
    const at = [0, 1, 2].map((k) => [0, 1, 2].map((n) => p[3 * indices[i + k] + n] - p[o + n]))
    const [a, b, c] = at
    const w = a[0] * (b[1] * c[2] - b[2] * c[1]) - a[1] * (b[0] * c[2] - b[2] * c[0]) + a[2] * (b[0] * c[1] - b[1] * c[0])
    weight += w
    for (let n = 0; n < 3; n++) sum[n] += (w * (a[n] + b[n] + c[n])) / 4
  }
  return [0, 1, 2].map((n) => p[o + n] + (weight !== 0 ? sum[n] / weight : 0)) as [number, number, number]
}
