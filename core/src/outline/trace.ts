import { fitPath } from './fit'
import type { Path } from './path'
import { doubleArea } from './polygon'

/** A field of one number per pixel, rows from the top down. */
export interface Field {
  readonly width: number
  readonly height: number
  readonly values: Float32Array
}

/**
 * The borders of where a field lies above a level, as rings of x, y pairs in pixels (Y upwards from the lower border; a
 * pixel's middle is at half its size): above to the left, so islands run counter-clockwise. Marching squares with linear
 * interpolation (Lorensen and Cline 1987, in the plane); a saddle is parted by the mean of its four values. Outside the
 * field counts as below.
 */
export function levelRings({ width, height, values }: Field, level: number): Float64Array[] {
  const w = width + 2
  const h = height + 2
  const at = (x: number, y: number) => (x < 1 || y < 1 || x > width || y > height ? -1e9 : values[(height - y) * width + x - 1] - level)
  // edges of the grid: 2·(y·w + x) runs right from (x, y), the odd ones run up
  const next = new Int32Array(2 * w * h).fill(-1)
  const right = (x: number, y: number) => 2 * (y * w + x)
  const up = (x: number, y: number) => 2 * (y * w + x) + 1
  for (let y = 0; y + 1 < h; y++) {
    for (let x = 0; x + 1 < w; x++) {
      const [a, b, c, d] = [at(x, y) > 0, at(x + 1, y) > 0, at(x + 1, y + 1) > 0, at(x, y + 1) > 0]
      const code = (a ? 1 : 0) | (b ? 2 : 0) | (c ? 4 : 0) | (d ? 8 : 0)
      if (code === 0 || code === 15) continue
      const [south, east, north, west] = [right(x, y), up(x + 1, y), right(x, y + 1), up(x, y)]
      const go = (from: number, to: number) => {
        next[from] = to
      }
      // the part above lies to the left of the way
      switch (code) {
        case 1: go(south, west); break
        case 2: go(east, south); break
        case 3: go(east, west); break
        case 4: go(north, east); break
        case 6: go(north, south); break
        case 7: go(north, west); break
        case 8: go(west, north); break
        case 9: go(south, north); break
        case 11: go(east, north); break
        case 12: go(west, east); break
        case 13: go(south, east); break
        case 14: go(west, south); break
        default: {
          const joined = at(x, y) + at(x + 1, y) + at(x + 1, y + 1) + at(x, y + 1) > 0
          if (code === 5) {
            go(south, joined ? east : west)
            go(north, joined ? west : east)
          } else {
            go(east, joined ? north : south)
            go(west, joined ? south : north)
          }
        }
      } // biome-ignore format: one line a case
    }
  }
  const place = (edge: number): [number, number] => {
    const k = edge >> 1
    const [x, y] = [k % w, Math.floor(k / w)]
    const [u, v] = edge % 2 === 0 ? [x + 1, y] : [x, y + 1]
    const [p, q] = [Math.max(-1, at(x, y)), Math.max(-1, at(u, v))]
    const f = Math.max(0.001, Math.min(0.999, p / (p - q)))
    return [x + (u - x) * f - 0.5, y + (v - y) * f - 0.5]
  }
  const rings: Float64Array[] = []
  for (let start = 0; start < next.length; start++) {
    if (next[start] < 0) continue
    const ring: number[] = []
    for (let edge = start; next[edge] >= 0; ) {
      ring.push(...place(edge))
      const to = next[edge]
      next[edge] = -1
      edge = to
    }
    if (ring.length >= 6) rings.push(Float64Array.from(ring))
  }
  return rings
}

/** A field blurred by a Gaussian of `sigma` pixels (separable, borders repeated); the same field at 0. */
export function blurred(field: Field, sigma: number): Field {
  if (sigma <= 0) return field
  const { width, height } = field
  const reach = Math.ceil(3 * sigma)
  const kernel = Float32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.exp(-((i - reach) ** 2) / (2 * sigma * sigma)))
  const sum = kernel.reduce((a, b) => a + b, 0)
  const pass = (source: Float32Array, dx: 0 | 1) => {
    const out = new Float32Array(source.length)
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        let value = 0
        for (let i = -reach; i <= reach; i++) {
          const u = dx ? Math.min(width - 1, Math.max(0, x + i)) : x
          const v = dx ? y : Math.min(height - 1, Math.max(0, y + i))
          value += kernel[i + reach] * source[v * width + u]
        }
        out[y * width + x] = value / sum
      }
    }
    return out
  }
  return { width, height, values: pass(pass(field.values, 1), 0) }
}

export interface TraceOptions {
  /** mm of a pixel */
  readonly scale: number
  /** islands and holes smaller than this are dropped, mm² */
  readonly speckle: number
  /** 0 follows every pixel, 1 is as smooth as hand lettering */
  readonly smoothness: number
}

/** Rings in pixels as closed curves in mm, smoothed and fitted; sharp corners of the picture stay corners. */
export function traceRings(rings: readonly Float64Array[], { scale, speckle, smoothness }: TraceOptions): Path[] {
  const paths: Path[] = []
  for (const ring of rings) {
    if ((Math.abs(doubleArea(ring)) / 2) * scale * scale < Math.max(speckle, 1e-4)) continue
    const n = ring.length / 2
    const reach = Math.max(2, Math.round(2 + 4 * smoothness))
    const corners = n > 4 * reach ? cornersOf(ring, reach) : []
    const points = relaxed(ring, corners, Math.round(1 + 5 * smoothness))
    const mm = points.map((v) => v * scale)
    paths.push(fitPath(mm, true, { tolerance: scale * (0.18 + 0.7 * smoothness), corners, fewest: true }))
  }
  return paths
}

const SHARP = 52

/** Indices of points where the ring turns sharply over a few points' distance: the sharpest of each neighbourhood. */
function cornersOf(ring: Float64Array, reach: number): number[] {
  const n = ring.length / 2
  const turn = new Float64Array(n)
  for (let i = 0; i < n; i++) {
    const [p, q] = [(i + n - reach) % n, (i + reach) % n]
    const [ax, ay, bx, by] = [ring[2 * i] - ring[2 * p], ring[2 * i + 1] - ring[2 * p + 1], ring[2 * q] - ring[2 * i], ring[2 * q + 1] - ring[2 * i + 1]]
    turn[i] = (Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by)) * 180) / Math.PI
  }
  const out: number[] = []
  for (let i = 0; i < n; i++) {
    if (turn[i] < SHARP) continue
    let most = true
    for (let k = 1; k <= reach && most; k++) most = turn[i] >= turn[(i + n - k) % n] && turn[i] > turn[(i + k) % n]
    if (most) out.push(i)
  }
  return out
}

/** Points moved towards their neighbours' middle a few times; corners stay. */
function relaxed(ring: Float64Array, corners: readonly number[], rounds: number): Float64Array {
  const n = ring.length / 2
  const still = new Set(corners)
  let from = ring
  for (let r = 0; r < rounds; r++) {
    const to = from.slice()
    for (let i = 0; i < n; i++) {
      if (still.has(i)) continue
      const [p, q] = [(i + n - 1) % n, (i + 1) % n]
      for (const k of [0, 1]) to[2 * i + k] = from[2 * i + k] / 2 + (from[2 * p + k] + from[2 * q + k]) / 4
    }
    from = to
  }
  return from
}
