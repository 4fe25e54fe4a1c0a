import type { Point } from '../check/rays'
import type { Area, Chart } from './chart'
import { atWeights, type Surface, unit } from './surface'

/** Weights of a uniform cubic B-spline's four values at a share of its middle stretch. */
function basis(t: number, into: Float64Array): void {
  const s = 1 - t
  into[0] = (s * s * s) / 6
  into[1] = (3 * t * t * t - 6 * t * t + 4) / 6
  into[2] = (3 * s * s * s - 6 * s * s + 4) / 6
  into[3] = (t * t * t) / 6
}

function slopes(t: number, into: Float64Array): void {
  const s = 1 - t
  into[0] = (-s * s) / 2
  into[1] = (3 * t * t - 4 * t) / 2
  into[2] = (4 * s - 3 * s * s) / 2
  into[3] = (t * t) / 2
}

/**
 * A smooth sheet through a chart's surface: cubic B-splines of its points and directions over an even net, by the quasi-interpolant with weights
 * −1/6, 8/6, −1/6 (de Boor & Fix, "Spline approximation by quasiinterpolants", 1973). A chart is made of triangles and bends at every side; what
 * is bent over it would cross itself where it is finer than that.
 */
export class Sheet {
  private readonly columns: number
  private readonly rows: number
  private readonly points: Float64Array
  private readonly normals: Float64Array
  private readonly b = [new Float64Array(4), new Float64Array(4), new Float64Array(4)]

  /** `net`: how far its lines lie apart, mm. Values are three numbers a vertex. Where the chart has nothing the net goes on as its neighbours do. */
  constructor(
    chart: Chart,
    { indices }: Pick<Surface, 'indices'>,
    points: Float64Array,
    normals: Float64Array,
    private readonly area: Area,
    private readonly net: number,
  ) {
    const [u0, v0, u1, v1] = area
    const columns = (this.columns = Math.max(2, Math.ceil((u1 - u0) / net)) + 3)
    const rows = (this.rows = Math.max(2, Math.ceil((v1 - v0) / net)) + 3)
    const count = columns * rows
    const values = new Float64Array(6 * count)
    const known = new Uint8Array(count)
    for (let j = 0; j < rows; j++)
      for (let i = 0; i < columns; i++) {
        const place = chart.at(u0 + (i - 1) * net, v0 + (j - 1) * net)
        if (!place) continue
        const o = j * columns + i
        known[o] = 1
        values.set(atWeights(points, indices, place.triangle, place.weights), 6 * o)
        values.set(atWeights(normals, indices, place.triangle, place.weights), 6 * o + 3)
      }
    fill(values, known, columns, rows)
    const across = filtered(values, count, (o) => o % columns, columns, 1)
    const both = filtered(across, count, (o) => Math.floor(o / columns), rows, columns)
    this.points = new Float64Array(3 * count)
    this.normals = new Float64Array(3 * count)
    for (let o = 0; o < count; o++)
      for (let k = 0; k < 3; k++) {
        this.points[3 * o + k] = both[6 * o + k]
        this.normals[3 * o + k] = both[6 * o + 3 + k]
      }
  }

  /** The sheet's point and unit direction at a place of the plane, and where u grows. */
  at(u: number, v: number): { point: [number, number, number]; normal: Point; along: [number, number, number] } {
    const { area, net, columns, rows, points, normals } = this
    const [x, y] = [(u - area[0]) / net, (v - area[1]) / net]
    const i = Math.min(columns - 4, Math.max(0, Math.floor(x)))
    const j = Math.min(rows - 4, Math.max(0, Math.floor(y)))
    const [bu, bv, du] = this.b
    basis(x - i, bu)
    basis(y - j, bv)
    slopes(x - i, du)
    const point: [number, number, number] = [0, 0, 0]
    const normal: [number, number, number] = [0, 0, 0]
    const along: [number, number, number] = [0, 0, 0]
    for (let r = 0; r < 4; r++)
      for (let c = 0; c < 4; c++) {
        const o = 3 * ((j + r) * columns + i + c)
        const [w, d] = [bu[c] * bv[r], du[c] * bv[r]]
        for (let k = 0; k < 3; k++) {
          point[k] += w * points[o + k]
          along[k] += d * points[o + k]
          normal[k] += w * normals[o + k]
        }
      }
    return { point, normal: unit(normal), along }
  }
}

/** Gives places without a value those that their neighbours lead to: twice the nearest less the one behind it; ring by ring. */
function fill(values: Float64Array, known: Uint8Array, columns: number, rows: number): void {
  let open = Array.from({ length: known.length }, (_, o) => o).filter((o) => !known[o])
  if (open.length === known.length) return
  while (open.length > 0) {
    const found: { o: number; value: number[] }[] = []
    for (const o of open) {
      const [i, j] = [o % columns, Math.floor(o / columns)]
      const sum = [0, 0, 0, 0, 0, 0]
      let count = 0
      for (const [di, dj] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        const [a, b] = [i + di, j + dj]
        if (a < 0 || b < 0 || a >= columns || b >= rows || !known[b * columns + a]) continue
        const [c, d] = [a + di, b + dj]
        const second = c >= 0 && d >= 0 && c < columns && d < rows && known[d * columns + c] ? d * columns + c : b * columns + a
        for (let k = 0; k < 6; k++) sum[k] += 2 * values[6 * (b * columns + a) + k] - values[6 * second + k]
        count++
      }
      if (count > 0) found.push({ o, value: sum.map((s) => s / count) })
    }
    for (const { o, value } of found) {
      values.set(value, 6 * o)
      known[o] = 1
    }
    open = open.filter((o) => !known[o])
  }
}

/** Values with −1/6 of their neighbours on a line and 8/6 of themselves; at the ends as they are. */
function filtered(values: Float64Array, count: number, at: (o: number) => number, length: number, stride: number): Float64Array {
  const out = values.slice()
  for (let o = 0; o < count; o++) {
    const i = at(o)
    if (i === 0 || i === length - 1) continue
    for (let k = 0; k < 6; k++) out[6 * o + k] = (8 * values[6 * o + k] - values[6 * (o - stride) + k] - values[6 * (o + stride) + k]) / 6
  }
  return out
}
