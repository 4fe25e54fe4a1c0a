import type { Surface } from './surface'

export interface ChartPlace {
  readonly triangle: number
  readonly weights: readonly [number, number, number]
}

/** [minU, minV, maxU, maxV] mm */
export type Area = readonly [number, number, number, number]

/** Triangles whose corners all have places in the plane, found by place. */
export class Chart {
  private readonly cell: number
  private readonly columns: number
  private readonly rows: number
  private readonly start: Int32Array
  private readonly list: Int32Array
  /** triangles in the area that are turned over in the plane: the map folds there */
  readonly turned: readonly number[]
  /** those that are not */
  readonly shown: readonly number[]

  /**
   * `uv`: two numbers a vertex, NaN for none; `area`: what will be asked for. Triangles that are turned over are never found. Of several at one
   * place the one is found whose corners lie highest by `height`; the first where that is left out. `widest`: triangles longer than this
   * in the plane are left out, as those that close a cylinder.
   */
  constructor(
    private readonly surface: Surface,
    private readonly uv: Float64Array,
    private readonly area: Area,
    private readonly height?: Float64Array,
    widest = Infinity,
  ) {
    const { indices } = surface
    const [u0, v0, u1, v1] = area
    const count = indices.length / 3
    this.cell = Math.max(1e-6, Math.sqrt(((u1 - u0) * (v1 - v0)) / 20_000), (u1 - u0) / 2000, (v1 - v0) / 2000)
    this.columns = Math.max(1, Math.ceil((u1 - u0) / this.cell))
    this.rows = Math.max(1, Math.ceil((v1 - v0) / this.cell))
    const turned: number[] = []
    const shown: number[] = []
    const cells = new Int32Array(4 * count)
    const starts = new Int32Array(this.columns * this.rows + 1)
    for (let t = 0; t < count; t++) {
      const [a, b, c] = [2 * indices[3 * t], 2 * indices[3 * t + 1], 2 * indices[3 * t + 2]]
      const [lu, hu] = [Math.min(uv[a], uv[b], uv[c]), Math.max(uv[a], uv[b], uv[c])]
      const [lv, hv] = [Math.min(uv[a + 1], uv[b + 1], uv[c + 1]), Math.max(uv[a + 1], uv[b + 1], uv[c + 1])]
      cells[4 * t] = 1
      cells[4 * t + 1] = 0
      // also false where one of them is none
      if (!(hu >= u0 && lu <= u1 && hv >= v0 && lv <= v1) || hu - lu > widest) continue
      const twice = (uv[b] - uv[a]) * (uv[c + 1] - uv[a + 1]) - (uv[c] - uv[a]) * (uv[b + 1] - uv[a + 1])
      if (twice <= 0) {
        turned.push(t)
        continue
      }
      shown.push(t)
      cells[4 * t] = this.column(lu)
      cells[4 * t + 1] = this.column(hu)
      cells[4 * t + 2] = this.row(lv)
      cells[4 * t + 3] = this.row(hv)
      for (let j = cells[4 * t + 2]; j <= cells[4 * t + 3]; j++) for (let i = cells[4 * t]; i <= cells[4 * t + 1]; i++) starts[j * this.columns + i + 1]++
    }
    for (let i = 0; i + 1 < starts.length; i++) starts[i + 1] += starts[i]
    const list = new Int32Array(starts[starts.length - 1])
    const at = starts.slice()
    for (let t = 0; t < count; t++)
      for (let j = cells[4 * t + 2]; j <= cells[4 * t + 3]; j++) for (let i = cells[4 * t]; i <= cells[4 * t + 1]; i++) list[at[j * this.columns + i]++] = t
    this.start = starts
    this.list = list
    this.turned = turned
    this.shown = shown
  }

  /** which of several triangles at one place is found: where it is the highest, others may well be turned over */
  get found(): 'first' | 'highest' {
    return this.height ? 'highest' : 'first'
  }

  private column(u: number): number {
    return Math.min(this.columns - 1, Math.max(0, Math.floor((u - this.area[0]) / this.cell)))
  }

  private row(v: number): number {
    return Math.min(this.rows - 1, Math.max(0, Math.floor((v - this.area[1]) / this.cell)))
  }

  /** The triangle over a place of the plane; undefined where the surface has none there. */
  at(u: number, v: number): ChartPlace | undefined {
    const { uv, height } = this
    const { indices } = this.surface
    const cell = this.row(v) * this.columns + this.column(u)
    let best: ChartPlace | undefined
    let highest = -Infinity
    for (let k = this.start[cell]; k < this.start[cell + 1]; k++) {
      const t = this.list[k]
      const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
      const [au, av] = [uv[2 * a], uv[2 * a + 1]]
      const [bu, bv] = [uv[2 * b] - au, uv[2 * b + 1] - av]
      const [cu, cv] = [uv[2 * c] - au, uv[2 * c + 1] - av]
      const twice = bu * cv - cu * bv
      const w1 = ((u - au) * cv - cu * (v - av)) / twice
      const w2 = (bu * (v - av) - (u - au) * bv) / twice
      if (w1 < -1e-9 || w2 < -1e-9 || w1 + w2 > 1 + 1e-9) continue
      const weights = [1 - w1 - w2, w1, w2] as const
      if (!height) return { triangle: t, weights }
      const z = weights[0] * height[a] + weights[1] * height[b] + weights[2] * height[c]
      if (z <= highest) continue
      highest = z
      best = { triangle: t, weights }
    }
    return best
  }

  /** Where u grows on a triangle in space. */
  direction(t: number, positions: Float64Array): [number, number, number] {
    const { uv } = this
    const [a, b, c] = [0, 1, 2].map((k) => this.surface.indices[3 * t + k])
    const [bu, bv] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]]
    const [cu, cv] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]]
    const twice = bu * cv - cu * bv
    return [0, 1, 2].map((k) => ((positions[3 * b + k] - positions[3 * a + k]) * cv - (positions[3 * c + k] - positions[3 * a + k]) * bv) / twice) as [
      number,
      number,
      number,
    ]
  }

  /** How much longer or shorter than in the plane a triangle lies in space, in the directions where that is least and most. */
  stretch(t: number, positions: Float64Array): readonly [number, number] {
    const { uv } = this
    const [a, b, c] = [0, 1, 2].map((k) => this.surface.indices[3 * t + k])
    const [bu, bv] = [uv[2 * b] - uv[2 * a], uv[2 * b + 1] - uv[2 * a + 1]]
    const [cu, cv] = [uv[2 * c] - uv[2 * a], uv[2 * c + 1] - uv[2 * a + 1]]
    const twice = bu * cv - cu * bv
    let [e, f, g] = [0, 0, 0]
    for (let k = 0; k < 3; k++) {
      const [x, y] = [positions[3 * b + k] - positions[3 * a + k], positions[3 * c + k] - positions[3 * a + k]]
      const [du, dv] = [(x * cv - y * bv) / twice, (y * bu - x * cu) / twice]
      e += du * du
      f += du * dv
      g += dv * dv
    }
    const middle = (e + g) / 2
    const off = Math.hypot((e - g) / 2, f)
    return [Math.sqrt(Math.max(0, middle - off)), Math.sqrt(middle + off)]
  }
}
