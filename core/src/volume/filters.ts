import { TILE, type SparseField } from './field'
import { type Filter } from './filter-names'

/** Middle and side of a filter's row of three. */
const ROWS = { gaussian: [0.5, 0.25], mean: [1 / 3, 1 / 3] } as const

/** How much one pass of each softens, as the variance of a Gaussian in squared voxels. A median is taken for a mean. */
export const VARIANCE: Readonly<Record<Filter, number>> = { gaussian: 0.5, mean: 2 / 3, median: 2 / 3, flow: 1 / 3 }

/** Tiles after which a pass asks whether to go on. */
const TURN = 256

/**
 * One pass of a filter over a field's samples: rows of three along each axis (Gaussian, mean), the median of 27, or a step of mean curvature
 * flow (Osher & Sethian, 1988). Gives the field with the new distances; they are no distances any more, see `redistanced`.
 */
export async function filtered(field: SparseField, filter: Filter, breathe: () => Promise<void>): Promise<SparseField> {
  const out = new Float32Array(field.distance.length)
  const block = new Float32Array(1000)
  const other = new Float32Array(1000)
  const pass = filter === 'median' ? median : filter === 'flow' ? flow : rows
  for (let s = 0; s < field.count; s++) {
    if (s % TURN === 0) await breathe()
    field.block(s, block, 1)
    pass(block, other, out, s * TILE, filter, field.voxel)
  }
  return field.withDistances(out)
}

type Pass = (block: Float32Array, other: Float32Array, out: Float32Array, at: number, filter: Filter, voxel: number) => void

const rows: Pass = (block, other, out, at, filter) => {
  const [middle, side] = ROWS[filter as keyof typeof ROWS]
  for (let i = 1; i < 999; i++) other[i] = side * (block[i - 1] + block[i + 1]) + middle * block[i]
  for (let i = 10; i < 990; i++) block[i] = side * (other[i - 10] + other[i + 10]) + middle * other[i]
  for (let z = 1, p = at; z < 9; z++)
    for (let y = 1; y < 9; y++)
      for (let x = 1; x < 9; x++, p++) {
        const i = x + 10 * y + 100 * z
        out[p] = side * (block[i - 100] + block[i + 100]) + middle * block[i]
      }
}

/** Ten slabs of nine samples across a row, each in order, with a stop behind them. */
const slabs = new Float32Array(100).fill(Infinity)

const median: Pass = (block, _, out, at) => {
  for (let z = 1, p = at; z < 9; z++)
    for (let y = 1; y < 9; y++) {
      for (let x = 0; x < 10; x++) {
        const first = 10 * x
        let end = first
        for (let c = -100; c <= 100; c += 100)
          for (let b = -10; b <= 10; b += 10) {
            const v = block[x + 10 * y + 100 * z + b + c]
            let i = end++
            for (; i > first && slabs[i - 1] > v; i--) slabs[i] = slabs[i - 1]
            slabs[i] = v
          }
      }
      // the fourteenth of three slabs
      for (let x = 1; x < 9; x++, p++) {
        let i = 10 * x - 10
        let j = 10 * x
        let k = 10 * x + 10
        let u = slabs[i]
        let v = slabs[j]
        let w = slabs[k]
        for (let passed = 0; passed < 13; passed++) {
          if (u <= v) {
            if (u <= w) u = slabs[++i]
            else w = slabs[++k]
          } else if (v <= w) v = slabs[++j]
          else w = slabs[++k]
        }
        out[p] = u <= v ? (u <= w ? u : w) : v <= w ? v : w
      }
    }
}

/** The time of one step of the flow, in squared voxels: as long as is stable. */
const STEP = 1 / 6

const flow: Pass = (block, _, out, at, __, h) => {
  for (let z = 1, p = at; z < 9; z++)
    for (let y = 1; y < 9; y++)
      for (let x = 1; x < 9; x++, p++) {
        const i = x + 10 * y + 100 * z
        const v = block[i]
        const dx = (block[i + 1] - block[i - 1]) / 2
        const dy = (block[i + 10] - block[i - 10]) / 2
        const dz = (block[i + 100] - block[i - 100]) / 2
        const size = dx * dx + dy * dy + dz * dz
        const xx = block[i + 1] - 2 * v + block[i - 1]
        const yy = block[i + 10] - 2 * v + block[i - 10]
        const zz = block[i + 100] - 2 * v + block[i - 100]
        const xy = (block[i + 11] - block[i + 9] - block[i - 9] + block[i - 11]) / 4
        const xz = (block[i + 101] - block[i + 99] - block[i - 99] + block[i - 101]) / 4
        const yz = (block[i + 110] - block[i + 90] - block[i - 90] + block[i - 110]) / 4
        // what is flat has no curvature
        const change =
          size < 1e-6 * h * h
            ? 0
            : (xx * (dy * dy + dz * dz) + yy * (dx * dx + dz * dz) + zz * (dx * dx + dy * dy) - 2 * (xy * dx * dy + xz * dx * dz + yz * dy * dz)) / size
        out[p] = v + STEP * change
      }
}
