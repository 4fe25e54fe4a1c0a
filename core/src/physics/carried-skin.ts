import type { CellLattice } from './cell-lattice'

/**
 * What a lattice carries: each vertex follows the corners of its cell, and how the lattice is turned and stretched about each of them. The map has no creases where cells meet, and is exact for
 * whatever moves, turns, shears or stretches evenly (affine maps, blended by smooth weights: a partition of unity).
 */
export class CarriedSkin {
  private readonly steps: readonly Uint32Array[]
  private readonly before: readonly Float32Array[]
  private readonly after: readonly Float32Array[]
  private readonly gradients: Float64Array

  /** `held`: corners that do not move, with what is about them. */
  constructor(
    private readonly lattice: CellLattice,
    private readonly rest: Float64Array,
    private readonly held: Uint8Array,
  ) {
    const { cells, points } = lattice
    const count = points.length / 3
    this.steps = [0, 1, 2].map((k) => stepsAlong(cells, k))
    this.after = this.steps.map((steps) => tally(steps, count, 0))
    this.before = this.steps.map((steps) => tally(steps, count, 1))
    this.gradients = new Float64Array(9 * count)
  }

  /** Where the skin is when the corners are at `at` (x, y, z, mm), into `out`; and the map's derivative at every vertex, nine numbers each by rows, into `turns`. */
  carried(at: ArrayLike<number>, out: Float64Array, turns: Float64Array): void {
    this.turned(at)
    const { cells, points, places, size, low, carrier } = this.lattice
    const { rest, gradients } = this
    const w = new Float64Array(6)
    const d = new Float64Array(3)
    for (let v = 0; v < carrier.length; v++) {
      const cell = carrier[v]
      for (let k = 0; k < 3; k++) {
        const t = Math.min(1, Math.max(0, (rest[3 * v + k] - low[k]) / size[k] - places[3 * cell + k]))
        w[2 * k + 1] = t * t * (3 - 2 * t)
        w[2 * k] = 1 - w[2 * k + 1]
        d[k] = (6 * t * (1 - t)) / size[k]
      }
      let [x, y, z] = [0, 0, 0]
      const o = 9 * v
      turns.fill(0, o, o + 9)
      for (let c = 0; c < 8; c++) {
        const [i, j, k] = [c & 1, (c >> 1) & 1, c >> 2]
        const corner = cells[8 * cell + c]
        const [wx, wy, wz] = [w[i], w[2 + j], w[4 + k]]
        const weight = wx * wy * wz
        const g = 9 * corner
        const [rx, ry, rz] = [rest[3 * v] - points[3 * corner], rest[3 * v + 1] - points[3 * corner + 1], rest[3 * v + 2] - points[3 * corner + 2]]
        const px = at[3 * corner] + gradients[g] * rx + gradients[g + 1] * ry + gradients[g + 2] * rz
        const py = at[3 * corner + 1] + gradients[g + 3] * rx + gradients[g + 4] * ry + gradients[g + 5] * rz
        const pz = at[3 * corner + 2] + gradients[g + 6] * rx + gradients[g + 7] * ry + gradients[g + 8] * rz
        x += weight * px
        y += weight * py
        z += weight * pz
        const [dx, dy, dz] = [(i ? d[0] : -d[0]) * wy * wz, (j ? d[1] : -d[1]) * wx * wz, (k ? d[2] : -d[2]) * wx * wy]
        for (let r = 0; r < 9; r++) turns[o + r] += weight * gradients[g + r]
        turns[o] += px * dx
        turns[o + 1] += px * dy
        turns[o + 2] += px * dz
        turns[o + 3] += py * dx
        turns[o + 4] += py * dy
        turns[o + 5] += py * dz
        turns[o + 6] += pz * dx
        turns[o + 7] += pz * dy
        turns[o + 8] += pz * dz
      }
      out[3 * v] = x
      out[3 * v + 1] = y
      out[3 * v + 2] = z
    }
  }

  /** How the lattice is turned and stretched about each corner, by rows: differences to its neighbours. */
  private turned(at: ArrayLike<number>): void {
    const { gradients, lattice, held } = this
    gradients.fill(0)
    for (let k = 0; k < 3; k++) {
      const [steps, before, after, h] = [this.steps[k], this.before[k], this.after[k], lattice.size[k]]
      for (let i = 0; i < steps.length; i += 2) {
        const [a, b] = [steps[i], steps[i + 1]]
        // the mean of what comes before and behind, where there are both
        const wa = (before[a] > 0 ? 0.5 : 1) / after[a] / h
        const wb = (after[b] > 0 ? 0.5 : 1) / before[b] / h
        for (let r = 0; r < 3; r++) {
          const step = at[3 * b + r] - at[3 * a + r]
          gradients[9 * a + 3 * r + k] += wa * step
          gradients[9 * b + 3 * r + k] += wb * step
        }
      }
    }
    for (let c = 0; c < held.length; c++)
      if (held[c]) {
        gradients.fill(0, 9 * c, 9 * c + 9)
        gradients[9 * c] = gradients[9 * c + 4] = gradients[9 * c + 8] = 1
      }
  }
}

/** The sides of all cells along an axis, two corners each, every one once. */
function stepsAlong(cells: Uint32Array, axis: number): Uint32Array {
  const seen = new Set<number>()
  const out: number[] = []
  for (let i = 0; i < cells.length; i++) {
    if ((i >> axis) & 1) continue
    const [a, b] = [cells[i], cells[i + (1 << axis)]]
    const key = a * 0x4000000 + b
    if (seen.has(key)) continue
    seen.add(key)
    out.push(a, b)
  }
  return Uint32Array.from(out)
}

/** How many steps begin (0) or end (1) at each corner. */
function tally(steps: Uint32Array, count: number, end: 0 | 1): Float32Array {
  const out = new Float32Array(count)
  for (let i = end; i < steps.length; i += 2) out[steps[i]]++
  return out
}
