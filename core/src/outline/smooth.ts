import { fitPath } from './fit'
import { flattenPath } from './flatten'
import type { Path } from './path'
import { doubleArea } from './polygon'

export interface SmoothOptions {
  /** bumps shorter than this are smoothed away, mm */
  readonly amount: number
  /** turns sharper than this stay as they are, degrees; not asked where a brush goes over them */
  readonly corners: number
  /** where it acts: discs in mm whose strength falls off to their rim; everywhere when left out */
  readonly discs?: readonly { readonly x: number; readonly y: number; readonly r: number }[]
}

const TOLERANCE = 0.01
const MAX_SAMPLES = 40_000

/**
 * A path with its bumps smoothed away by a Gaussian filter along its length. What an outline loses in area by it (a filter
 * draws round shapes in) is given back evenly, so that letters do not grow thin. The same path when nothing acts on it.
 */
export function smoothPathBy(path: Path, { amount, corners, discs }: SmoothOptions): Path {
  const flat = flattenPath(path, { tolerance: TOLERANCE / 4, maxTurn: 4 }).xy
  const touched = (x: number, y: number) => {
    if (!discs) return 1
    let most = 0
    for (const d of discs) {
      const f = 1 - Math.hypot(x - d.x, y - d.y) / d.r
      if (f > 0) most = Math.max(most, Math.min(1, f * 2))
    }
    return most * most * (3 - 2 * most)
  }
  if (flat.length < 6) return path
  if (discs && !nearAny(flat, path.closed, discs)) return path
  const { xy, pinned } = resampled(flat, path.closed, Math.max(amount / 6, 0.03), discs ? 181 : corners)
  const n = xy.length / 2
  const weight = Float64Array.from({ length: n }, (_, i) => (pinned[i] ? 0 : touched(xy[2 * i], xy[2 * i + 1])))
  if (weight.every((w) => w === 0)) return path
  const once = filtered(xy, pinned, path.closed, amount)
  const out = xy.slice()
  for (let i = 0; i < n; i++) for (const k of [0, 1]) out[2 * i + k] += weight[i] * (once[2 * i + k] - xy[2 * i + k])
  if (path.closed) giveBack(out, weight, (doubleArea(xy) - doubleArea(out)) / 2)
  return fitPath(out, path.closed, { tolerance: TOLERANCE, corner: discs ? 20 : Math.min(30, corners) })
}

/** Moves a closed line outwards in proportion to the weights until it has gained an area, mm². */
function giveBack(xy: Float64Array, weight: Float64Array, area: number): void {
  const n = weight.length
  const normals = new Float64Array(2 * n)
  let length = 0
  for (let i = 0; i < n; i++) {
    const [p, q] = [(i + n - 1) % n, (i + 1) % n]
    const [dx, dy] = [(xy[2 * q] - xy[2 * p]) / 2, (xy[2 * q + 1] - xy[2 * p + 1]) / 2]
    const l = Math.hypot(dx, dy)
    length += weight[i] * l
    if (l > 0) normals.set([dy / l, -dx / l], 2 * i)
  }
  if (length === 0) return
  // to the right of the way is outside where the ring runs counter-clockwise; a hole's sign is turned by its area's
  for (let i = 0; i < n; i++) for (const k of [0, 1]) xy[2 * i + k] += (weight[i] * area * normals[2 * i + k]) / length
}

function nearAny(xy: Float64Array, closed: boolean, discs: readonly { x: number; y: number; r: number }[]): boolean {
  const n = xy.length / 2
  for (let i = 0; i < n - (closed ? 0 : 1); i++) {
    const [ax, ay, bx, by] = [xy[2 * i], xy[2 * i + 1], xy[(2 * i + 2) % xy.length], xy[(2 * i + 3) % xy.length]]
    const [dx, dy] = [bx - ax, by - ay]
    const square = dx * dx + dy * dy
    for (const d of discs) {
      const f = square === 0 ? 0 : Math.max(0, Math.min(1, ((d.x - ax) * dx + (d.y - ay) * dy) / square))
      if (Math.hypot(ax + f * dx - d.x, ay + f * dy - d.y) < d.r) return true
    }
  }
  return false
}

/** Points evenly along a polyline, its sharp corners among them and pinned. */
function resampled(flat: Float64Array, closed: boolean, step: number, corners: number): { xy: Float64Array; pinned: Uint8Array } {
  const n = flat.length / 2
  const sides = closed ? n : n - 1
  let total = 0
  for (let i = 0; i < sides; i++) total += Math.hypot(flat[(2 * i + 2) % flat.length] - flat[2 * i], flat[(2 * i + 3) % flat.length] - flat[2 * i + 1])
  const spacing = Math.max(step, total / MAX_SAMPLES)
  const limit = Math.cos((Math.min(180, corners) * Math.PI) / 180)
  const isCorner = (i: number) => {
    if (!closed && (i === 0 || i === n - 1)) return true
    const [p, q] = [(i + n - 1) % n, (i + 1) % n]
    const [ax, ay, bx, by] = [flat[2 * i] - flat[2 * p], flat[2 * i + 1] - flat[2 * p + 1], flat[2 * q] - flat[2 * i], flat[2 * q + 1] - flat[2 * i + 1]]
    return corners <= 180 && (ax * bx + ay * by) / (Math.hypot(ax, ay) * Math.hypot(bx, by)) < limit
  }
  const marks: number[] = []
  for (let i = 0; i < n; i++) if (isCorner(i)) marks.push(i)
  const stops = marks.length > 0 ? marks : [0]
  const xy: number[] = []
  const pinned: number[] = []
  const spans = closed ? stops.length : stops.length - 1
  for (let k = 0; k < spans; k++) {
    const from = stops[k]
    const to = k + 1 < stops.length ? stops[k + 1] : stops[0] + n
    let length = 0
    for (let i = from; i < to; i++)
      length += Math.hypot(flat[(2 * i + 2) % flat.length] - flat[(2 * i) % flat.length], flat[(2 * i + 3) % flat.length] - flat[(2 * i + 1) % flat.length])
    const parts = Math.max(2, Math.round(length / spacing))
    xy.push(flat[(2 * from) % flat.length], flat[(2 * from + 1) % flat.length])
    pinned.push(marks.length > 0 ? 1 : 0)
    let along = 0
    let part = 1
    for (let i = from; i < to && part < parts; i++) {
      const [ax, ay, bx, by] = [flat[(2 * i) % flat.length], flat[(2 * i + 1) % flat.length], flat[(2 * i + 2) % flat.length], flat[(2 * i + 3) % flat.length]]
      const l = Math.hypot(bx - ax, by - ay)
      while (part < parts && (part * length) / parts <= along + l + 1e-12) {
        const f = l === 0 ? 0 : ((part * length) / parts - along) / l
        xy.push(ax + (bx - ax) * f, ay + (by - ay) * f)
        pinned.push(0)
        part++
      }
      along += l
    }
  }
  if (!closed) {
    xy.push(flat[flat.length - 2], flat[flat.length - 1])
    pinned.push(1)
  }
  return { xy: Float64Array.from(xy), pinned: Uint8Array.from(pinned) }
}

/** Gaussian along the line; at pinned points the line is continued by its mirror image through them, which holds them still. */
function filtered(xy: Float64Array, pinned: Uint8Array, closed: boolean, amount: number): Float64Array {
  const n = xy.length / 2
  const spacing = meanSpacing(xy, closed)
  const sigma = amount / 2 / spacing
  const reach = Math.max(1, Math.min(Math.ceil(3 * sigma), n))
  const kernel = Float64Array.from({ length: reach + 1 }, (_, k) => Math.exp(-(k * k) / (2 * sigma * sigma)))
  const sum = kernel.reduce((s, v, k) => s + (k === 0 ? v : 2 * v), 0)
  const out = new Float64Array(xy.length)
  for (let i = 0; i < n; i++) {
    if (pinned[i]) {
      out[2 * i] = xy[2 * i]
      out[2 * i + 1] = xy[2 * i + 1]
      continue
    }
    let [x, y] = [kernel[0] * xy[2 * i], kernel[0] * xy[2 * i + 1]]
    for (const sign of [1, -1]) {
      let at = i
      // beyond a pinned point the walk turns back, mirrored through it
      let stop = -1
      let direction = sign
      for (let k = 1; k <= reach; k++) {
        let next = at + direction
        if (closed) next = (next + n) % n
        else if (next < 0 || next >= n) next = at
        at = next
        const [px, py] = stop >= 0 ? [2 * xy[2 * stop] - xy[2 * at], 2 * xy[2 * stop + 1] - xy[2 * at + 1]] : [xy[2 * at], xy[2 * at + 1]]
        x += kernel[k] * px
        y += kernel[k] * py
        if (pinned[at] && at !== i) {
          if (stop < 0) {
            stop = at
            direction = -direction
          } else if (at !== stop) direction = -direction
        }
      }
    }
    out[2 * i] = x / sum
    out[2 * i + 1] = y / sum
  }
  return out
}

function meanSpacing(xy: Float64Array, closed: boolean): number {
  const n = xy.length / 2
  let total = 0
  for (let i = 1; i < n; i++) total += Math.hypot(xy[2 * i] - xy[2 * i - 2], xy[2 * i + 1] - xy[2 * i - 1])
  return total / Math.max(1, closed ? n : n - 1) || 1
}
