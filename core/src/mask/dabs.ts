/** Numbers of one dab in a row: its middle, its radius and how far it is whole, mm; how much it lays on, −1 to 1; whether it smooths (1) instead. */
const DAB = 7

/** How much of the brush is at a place, 0 to 1, by the square of how far that is from its middle. */
function under(dabs: Float64Array, i: number, square: number): number {
  const radius = dabs[i + 3]
  if (square >= radius * radius) return 0
  const [distance, hard] = [Math.sqrt(square), dabs[i + 4]]
  const t = distance <= hard ? 1 : (radius - distance) / (radius - hard)
  return t * t * (3 - 2 * t)
}

const laidOn = (value: number, by: number) => value + (by > 0 ? (1 - value) * by : value * by)

/** What dabs that lay on and take away come to at a place, one after the other. */
export function laidAt(dabs: Float64Array, x: number, y: number, z: number): number {
  let value = 0
  for (let i = 0; i < dabs.length; i += DAB) {
    if (dabs[i + 6] !== 0) continue
    const t = under(dabs, i, (x - dabs[i]) ** 2 + (y - dabs[i + 1]) ** 2 + (z - dabs[i + 2]) ** 2)
    if (t > 0) value = laidOn(value, t * dabs[i + 5])
  }
  return value
}

/** How many nodes a grid has at most; a dab goes over all that it reaches. */
const MOST_NODES = 120_000
/** Nodes over the radius of the smallest brush. */
const NODES = 8
/** Half the width of the mean, of the radius. It is taken three times, which is a bell curve in all but name. */
const REACH = 1 / 6
/** Where this much of a smoothing dab was, the grid alone counts: at its border it takes over softly. */
const TAKES_OVER = 0.08

/** minX, minY, minZ, maxX, maxY, maxZ, mm. */
export type Box = readonly [number, number, number, number, number, number]

/**
 * What dabs come to where some of them smooth. Each of those draws the values under it towards their mean round about, by what was laid before it, on
 * a grid over the places smoothed, which begins and is as fine as the dabs and the box say; where none smoothed it is exact as ever.
 *
 * @param box what is painted, mm: there is nothing beside it that could be smoothed in
 * @returns undefined where none smooths
 */
export function smoothedDabs(dabs: Float64Array, box: Box): ((x: number, y: number, z: number) => number) | undefined {
  const [low, high] = [
    [Infinity, Infinity, Infinity],
    [-Infinity, -Infinity, -Infinity],
  ]
  let smallest = Infinity
  for (let i = 0; i < dabs.length; i += DAB) {
    if (dabs[i + 6] === 0) continue
    smallest = Math.min(smallest, dabs[i + 3])
    for (let k = 0; k < 3; k++) {
      low[k] = Math.min(low[k], dabs[i + k] - (1 + 3 * REACH) * dabs[i + 3])
      high[k] = Math.max(high[k], dabs[i + k] + (1 + 3 * REACH) * dabs[i + 3])
    }
  }
  for (let k = 0; k < 3; k++) {
    low[k] = Math.max(low[k], box[k])
    high[k] = Math.min(high[k], box[k + 3])
    if (!(low[k] <= high[k])) return undefined
  }
  let apart = smallest / NODES
  const count = () => [0, 1, 2].map((k) => Math.max(1, Math.ceil((high[k] - low[k]) / apart)) + 1)
  while (count().reduce((a, b) => a * b) > MOST_NODES) apart *= 1.1
  const grid = new Grid(low, apart, count())
  for (let i = 0; i < dabs.length; i += DAB) grid.press(dabs, i)
  return (x, y, z) => grid.at(x, y, z, () => laidAt(dabs, x, y, z))
}

class Grid {
  private readonly values: Float64Array
  /** how much the grid counts, 0 to 1 */
  private readonly counts: Float64Array

  constructor(
    private readonly low: readonly number[],
    private readonly apart: number,
    private readonly n: readonly number[],
  ) {
    this.values = new Float64Array(n[0] * n[1] * n[2])
    this.counts = new Float64Array(this.values.length)
  }

  press(dabs: Float64Array, i: number): void {
    const { low, apart, n, values, counts } = this
    const first: number[] = []
    const last: number[] = []
    for (let k = 0; k < 3; k++) {
      first.push(Math.max(0, Math.ceil((dabs[i + k] - dabs[i + 3] - low[k]) / apart)))
      last.push(Math.min(n[k] - 1, Math.floor((dabs[i + k] + dabs[i + 3] - low[k]) / apart)))
      if (first[k] > last[k]) return
    }
    const smooths = dabs[i + 6] !== 0
    const mean = smooths ? this.mean(first, last, Math.max(1, Math.round((REACH * dabs[i + 3]) / apart))) : undefined
    let m = 0
    for (let z = first[2]; z <= last[2]; z++)
      for (let y = first[1]; y <= last[1]; y++)
        for (let x = first[0], v = first[0] + n[0] * (y + n[1] * z); x <= last[0]; x++, v++, m++) {
          const square = (low[0] + x * apart - dabs[i]) ** 2 + (low[1] + y * apart - dabs[i + 1]) ** 2 + (low[2] + z * apart - dabs[i + 2]) ** 2
          const t = under(dabs, i, square)
          if (t === 0) continue
          if (!mean) {
            values[v] = laidOn(values[v], t * dabs[i + 5])
            continue
          }
          values[v] += t * Math.abs(dabs[i + 5]) * (mean[m] - values[v])
          counts[v] = Math.max(counts[v], Math.min(1, t / TAKES_OVER))
        }
  }

  /** The values from one node to another, x first, each the mean of those round about; the outermost go on beyond the grid. */
  private mean(first: readonly number[], last: readonly number[], half: number): Float64Array {
    const from = [0, 1, 2].map((k) => Math.max(0, first[k] - 3 * half))
    const size = [0, 1, 2].map((k) => Math.min(this.n[k] - 1, last[k] + 3 * half) - from[k] + 1)
    const steps = [1, size[0], size[0] * size[1]]
    const part = new Float64Array(size[0] * size[1] * size[2])
    for (let z = 0, m = 0; z < size[2]; z++)
      for (let y = 0; y < size[1]; y++, m += size[0]) {
        const v = from[0] + this.n[0] * (from[1] + y + this.n[1] * (from[2] + z))
        part.set(this.values.subarray(v, v + size[0]), m)
      }
    for (let k = 0; k < 3; k++) {
      const [along, [a, b]] = [steps[k], [0, 1, 2].filter((other) => other !== k)]
      const row = new Float64Array(size[k])
      for (let j = 0; j < size[b]; j++)
        for (let i = 0; i < size[a]; i++)
          for (let times = 0; times < 3; times++) {
            const start = i * steps[a] + j * steps[b]
            for (let s = 0; s < size[k]; s++) row[s] = part[start + s * along]
            const within = (s: number) => row[s < 0 ? 0 : s >= row.length ? row.length - 1 : s]
            let sum = 0
            for (let s = -half; s <= half; s++) sum += within(s)
            for (let s = 0; s < row.length; s++) {
              part[start + s * along] = sum / (2 * half + 1)
              sum += within(s + half + 1) - within(s - half)
            }
          }
    }
    const out = new Float64Array((last[0] - first[0] + 1) * (last[1] - first[1] + 1) * (last[2] - first[2] + 1))
    let m = 0
    for (let z = first[2]; z <= last[2]; z++)
      for (let y = first[1]; y <= last[1]; y++)
        for (let x = first[0]; x <= last[0]; x++) out[m++] = part[x - from[0] + size[0] * (y - from[1] + size[1] * (z - from[2]))]
    return out
  }

  /** The value at a place: the exact one where the grid does not count. */
  at(x: number, y: number, z: number, exact: () => number): number {
    const { low, apart, n, values, counts } = this
    const [fx, fy, fz] = [(x - low[0]) / apart, (y - low[1]) / apart, (z - low[2]) / apart]
    // what lies before the first nodes by rounding alone lies at them
    if (fx < -1e-6 || fy < -1e-6 || fz < -1e-6 || fx > n[0] - 1 || fy > n[1] - 1 || fz > n[2] - 1) return exact()
    const within = (f: number, size: number) => Math.min(Math.max(0, Math.floor(f)), size - 2)
    const [i, j, k] = [within(fx, n[0]), within(fy, n[1]), within(fz, n[2])]
    const [tx, ty, tz] = [Math.max(0, fx - i), Math.max(0, fy - j), Math.max(0, fz - k)]
    let [value, count] = [0, 0]
    for (let corner = 0; corner < 8; corner++) {
      const [a, b, c] = [corner & 1, (corner >> 1) & 1, corner >> 2]
      const share = (a ? tx : 1 - tx) * (b ? ty : 1 - ty) * (c ? tz : 1 - tz)
      const v = i + a + n[0] * (j + b + n[1] * (k + c))
      value += share * values[v]
      count += share * counts[v]
    }
    return count <= 0 ? exact() : count >= 1 ? value : exact() + count * (value - exact())
  }
}
