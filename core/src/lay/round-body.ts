import { cross, dot, nextOf, type Surface, unit } from './surface'
import type { Point } from '../check/rays'

/** A round body found at a place of a surface, mm. */
export type RoundBody =
  | { readonly shape: 'cylinder'; readonly centre: Point; readonly axis: Point; readonly radius: number; readonly off: number }
  | {
      readonly shape: 'cone'
      readonly apex: Point /** from the apex into the cone */
      readonly axis: Point /** half angle, radians */
      readonly angle: number
      readonly off: number
    }
  | { readonly shape: 'ball'; readonly centre: Point; readonly radius: number; readonly off: number }

/** Rounds of fitting, each over what fits and lies together. */
const ROUNDS = 6
/** Off by less than this share of the radius is round. */
const SHARE = 0.004
/** A body that fits better by less than this counts for no better: a cylinder before a cone, a cone before a ball. */
const AS_GOOD = 0.6
const MOST_POINTS = 900
/** Sides that meet at more than this end a surface, as its cosine. */
const CREASE = Math.cos((32 * Math.PI) / 180)

/**
 * The cylinder, cone or ball that a surface is part of at a triangle: first from what lies nearer than `radius` mm, then over more and more
 * of what fits. By squares: the ball from p² = 2c·p + k, the cylinder's axis against all normals, the cone's apex in all tangent planes; then
 * by Gauss and Newton on distances. `off` is the root mean square of what it misses. Undefined where none fits.
 */
export function findRoundBody(surface: Surface, normals: Float64Array, triangle: number, radius: number): RoundBody | undefined {
  const start = surface.indices[3 * triangle]
  const at = pointOf(surface.positions, start)
  let found: RoundBody | undefined
  const patches = [1, 2].map((times) => patch(surface, normals, triangle, (p) => Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]) < times * radius))
  for (const first of patches) {
    if (first.length < 8) continue
    for (const shape of ['cylinder', 'cone', 'ball'] as const) {
      let list = first
      let body = fit(shape, surface.positions, normals, list)
      for (let round = 0; round < ROUNDS && body; round++) {
        const now: RoundBody = body
        const near = Math.max(3 * now.off, SHARE * sizeOf(now, at))
        const wider = patch(
          surface,
          normals,
          triangle,
          (p) => Math.abs(missOf(now, p)) < near && Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]) < 4 * radius,
        )
        if (wider.length < 8) break
        list = wider
        body = fit(shape, surface.positions, normals, list)
      }
      if (!body || !(body.off < SHARE * sizeOf(body, at)) || list.length < 0.6 * first.length) continue
      // nothing flat, and nothing that curves less than can be told from it
      if (sizeOf(body, at) > 60 * radius) continue
      if (!found || body.off < AS_GOOD * found.off - 1e-5) found = body
    }
    if (found) return found
  }
  return undefined
}

const pointOf = (p: Float64Array, v: number): Point => [p[3 * v], p[3 * v + 1], p[3 * v + 2]]

/** The radius of curvature at a place. */
export function sizeOf(body: RoundBody, at: Point): number {
  return body.shape === 'cone' ? Math.hypot(at[0] - body.apex[0], at[1] - body.apex[1], at[2] - body.apex[2]) * Math.tan(body.angle) : body.radius
}

/** Vertices that hang together with a triangle through triangles that are wanted, over no crease; at most so many, evenly left out. */
function patch({ positions, indices, opposite }: Surface, normals: Float64Array, triangle: number, wanted: (p: Point) => boolean): number[] {
  const seen = new Uint8Array(indices.length / 3)
  const vertices = new Set<number>()
  const stack = [triangle]
  seen[triangle] = 1
  while (stack.length > 0) {
    const t = stack.pop() as number
    const corners = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    if (t !== triangle && !corners.every((v) => wanted(pointOf(positions, v)))) continue
    for (const v of corners) vertices.add(v)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const over = opposite[h]
      if (over < 0) continue
      const s = Math.floor(over / 3)
      if (seen[s]) continue
      const [a, b] = [indices[h], indices[nextOf(h)]]
      if (normals[3 * a] * normals[3 * b] + normals[3 * a + 1] * normals[3 * b + 1] + normals[3 * a + 2] * normals[3 * b + 2] < CREASE) continue
      seen[s] = 1
      stack.push(s)
    }
  }
  const all = [...vertices]
  const step = Math.max(1, Math.ceil(all.length / MOST_POINTS))
  return all.filter((_, i) => i % step === 0)
}

/** How far a point lies off a body's surface, mm, inwards below nought. */
export function missOf(body: RoundBody, p: Point): number {
  if (body.shape === 'ball') return Math.hypot(p[0] - body.centre[0], p[1] - body.centre[1], p[2] - body.centre[2]) - body.radius
  const from = body.shape === 'cylinder' ? body.centre : body.apex
  const d: Point = [p[0] - from[0], p[1] - from[1], p[2] - from[2]]
  const along = dot(d, body.axis)
  const out = Math.sqrt(Math.max(0, dot(d, d) - along * along))
  return body.shape === 'cylinder' ? out - body.radius : out * Math.cos(body.angle) - along * Math.sin(body.angle)
}

function fit(shape: RoundBody['shape'], p: Float64Array, normals: Float64Array, list: readonly number[]): RoundBody | undefined {
  const first = shape === 'ball' ? roughBall(p, list) : shape === 'cylinder' ? roughCylinder(p, normals, list) : roughCone(p, normals, list)
  return first && refined(first, p, list)
}

/** Solves A x = b for a small symmetric matrix given as rows; undefined where it is singular. */
function solve(rows: number[][], right: number[]): number[] | undefined {
  const n = right.length
  const m = rows.map((row, i) => [...row, right[i]])
  for (let c = 0; c < n; c++) {
    let pivot = c
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r][c]) > Math.abs(m[pivot][c])) pivot = r
    if (!(Math.abs(m[pivot][c]) > 1e-14 * Math.max(...m[pivot].map(Math.abs), 1e-300))) return undefined
    ;[m[c], m[pivot]] = [m[pivot], m[c]]
    for (let r = 0; r < n; r++) {
      if (r === c) continue
      const f = m[r][c] / m[c][c]
      for (let k = c; k <= n; k++) m[r][k] -= f * m[c][k]
    }
  }
  return m.map((row, i) => row[n] / row[i])
}

/** Least squares: rows of coefficients and what they should come to. */
function leastSquares(width: number, each: (add: (row: readonly number[], value: number) => void) => void): number[] | undefined {
  const m = Array.from({ length: width }, () => new Array<number>(width).fill(0))
  const right = new Array<number>(width).fill(0)
  each((row, value) => {
    for (let i = 0; i < width; i++) {
      right[i] += row[i] * value
      for (let j = 0; j < width; j++) m[i][j] += row[i] * row[j]
    }
  })
  return solve(m, right)
}

function roughBall(p: Float64Array, list: readonly number[]): RoundBody | undefined {
  const o = pointOf(p, list[0])
  const x = leastSquares(4, (add) => {
    for (const v of list) {
      const [a, b, c] = [p[3 * v] - o[0], p[3 * v + 1] - o[1], p[3 * v + 2] - o[2]]
      add([2 * a, 2 * b, 2 * c, 1], a * a + b * b + c * c)
    }
  })
  if (!x) return undefined
  const radius = Math.sqrt(x[3] + x[0] ** 2 + x[1] ** 2 + x[2] ** 2)
  return Number.isFinite(radius) ? { shape: 'ball', centre: [x[0] + o[0], x[1] + o[1], x[2] + o[2]], radius, off: 0 } : undefined
}

/** The direction that unit vectors have least of: the eigenvector of least eigenvalue of Σ nnᵀ, about their mean where asked (Jacobi's rotations). */
function leastDirection(normals: Float64Array, list: readonly number[], centred: boolean): { axis: Point; mean: Point } {
  const mean = [0, 0, 0]
  for (const v of list) for (let k = 0; k < 3; k++) mean[k] += normals[3 * v + k] / list.length
  const base = centred ? mean : [0, 0, 0]
  const m = [0, 1, 2].map(() => [0, 0, 0])
  for (const v of list) for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) m[i][j] += (normals[3 * v + i] - base[i]) * (normals[3 * v + j] - base[j])
  const e = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ]
  for (let sweep = 0; sweep < 20; sweep++)
    for (const [i, j] of [
      [0, 1],
      [0, 2],
      [1, 2],
    ]) {
      if (Math.abs(m[i][j]) < 1e-300) continue
      const theta = (m[j][j] - m[i][i]) / (2 * m[i][j])
      const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
      const [c, s] = [1 / Math.sqrt(t * t + 1), t / Math.sqrt(t * t + 1)]
      for (let k = 0; k < 3; k++) [m[k][i], m[k][j]] = [c * m[k][i] - s * m[k][j], s * m[k][i] + c * m[k][j]]
      for (let k = 0; k < 3; k++) [m[i][k], m[j][k]] = [c * m[i][k] - s * m[j][k], s * m[i][k] + c * m[j][k]]
      for (let k = 0; k < 3; k++) [e[k][i], e[k][j]] = [c * e[k][i] - s * e[k][j], s * e[k][i] + c * e[k][j]]
    }
  const least = [0, 1, 2].reduce((best, k) => (m[k][k] < m[best][best] ? k : best), 0)
  return { axis: unit([e[0][least], e[1][least], e[2][least]]), mean: mean as unknown as Point }
}

/** Two unit vectors at right angles to an axis. */
export function sideways(axis: Point): readonly [Point, Point] {
  const any: Point = Math.abs(axis[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0]
  const x = unit(cross(any, axis))
  return [x, cross(axis, x)]
}

function roughCylinder(p: Float64Array, normals: Float64Array, list: readonly number[]): RoundBody | undefined {
  const { axis } = leastDirection(normals, list, false)
  const [ex, ey] = sideways(axis)
  const o = pointOf(p, list[0])
  const x = leastSquares(3, (add) => {
    for (const v of list) {
      const d: Point = [p[3 * v] - o[0], p[3 * v + 1] - o[1], p[3 * v + 2] - o[2]]
      const [a, b] = [dot(d, ex), dot(d, ey)]
      add([2 * a, 2 * b, 1], a * a + b * b)
    }
  })
  if (!x) return undefined
  const radius = Math.sqrt(x[2] + x[0] ** 2 + x[1] ** 2)
  if (!Number.isFinite(radius)) return undefined
  return { shape: 'cylinder', centre: [0, 1, 2].map((k) => o[k] + x[0] * ex[k] + x[1] * ey[k]) as unknown as Point, axis, radius, off: 0 }
}

function roughCone(p: Float64Array, normals: Float64Array, list: readonly number[]): RoundBody | undefined {
  const o = pointOf(p, list[0])
  const apex = leastSquares(3, (add) => {
    for (const v of list) {
      const n: Point = [normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]]
      add(n, n[0] * (p[3 * v] - o[0]) + n[1] * (p[3 * v + 1] - o[1]) + n[2] * (p[3 * v + 2] - o[2]))
    }
  })
  if (!apex) return undefined
  const at: Point = [apex[0] + o[0], apex[1] + o[1], apex[2] + o[2]]
  const { axis, mean } = leastDirection(normals, list, true)
  let inside = 0
  for (const v of list) inside += (p[3 * v] - at[0]) * axis[0] + (p[3 * v + 1] - at[1]) * axis[1] + (p[3 * v + 2] - at[2]) * axis[2]
  const into: Point = inside < 0 ? [-axis[0], -axis[1], -axis[2]] : axis
  const angle = Math.abs(Math.asin(Math.max(-1, Math.min(1, dot(mean, into)))))
  return angle > 0.01 && angle < 1.5 ? { shape: 'cone', apex: at, axis: into, angle, off: 0 } : undefined
}

/** Gauss and Newton's rounds on the distances, with slopes by differences and a little damping (Levenberg). */
function refined(first: RoundBody, p: Float64Array, list: readonly number[]): RoundBody | undefined {
  const scale = first.shape === 'cone' ? Math.max(1, Math.hypot(...[0, 1, 2].map((k) => first.apex[k] - p[3 * list[0] + k]))) : Math.max(first.radius, 1e-3)
  const moved = (body: RoundBody, x: readonly number[]): RoundBody => {
    if (body.shape === 'ball')
      return {
        ...body,
        centre: [body.centre[0] + scale * x[0], body.centre[1] + scale * x[1], body.centre[2] + scale * x[2]],
        radius: body.radius + scale * x[3],
      }
    const [ex, ey] = sideways(body.axis)
    const axis = unit([0, 1, 2].map((k) => body.axis[k] + x[0] * ex[k] + x[1] * ey[k]) as unknown as Point)
    if (body.shape === 'cylinder')
      return {
        ...body,
        axis,
        centre: [0, 1, 2].map((k) => body.centre[k] + scale * (x[2] * ex[k] + x[3] * ey[k])) as unknown as Point,
        radius: body.radius + scale * x[4],
      }
    return { ...body, axis, apex: [body.apex[0] + scale * x[2], body.apex[1] + scale * x[3], body.apex[2] + scale * x[4]], angle: body.angle + x[5] }
  }
  const misses = (body: RoundBody) => Float64Array.from(list, (v) => missOf(body, pointOf(p, v)))
  const off = (values: Float64Array) => Math.sqrt(values.reduce((sum, d) => sum + d * d, 0) / values.length)
  const width = first.shape === 'ball' ? 4 : first.shape === 'cylinder' ? 5 : 6
  const STEP = 1e-6
  let body = first
  let now = misses(body)
  let damping = 1e-6
  for (let round = 0; round < 12; round++) {
    const slopes = Array.from({ length: width }, (_, i) =>
      misses(
        moved(
          body,
          Array.from({ length: width }, (_, j) => (i === j ? STEP : 0)),
        ),
      ),
    )
    const m = slopes.map((a, i) =>
      slopes.map((b, j) => {
        let sum = 0
        for (let k = 0; k < a.length; k++) sum += (a[k] - now[k]) * (b[k] - now[k])
        return (sum / STEP / STEP) * (i === j ? 1 + damping : 1) + (i === j ? 1e-12 * list.length * scale * scale : 0)
      }),
    )
    const right = slopes.map((a) => {
      let sum = 0
      for (let k = 0; k < a.length; k++) sum -= ((a[k] - now[k]) / STEP) * now[k]
      return sum
    })
    const x = solve(m, right)
    if (!x?.every(Number.isFinite)) break
    const next = moved(body, x)
    const values = misses(next)
    if (!(off(values) <= off(now))) {
      damping *= 100
      if (damping > 1e6) break
      continue
    }
    const gained = off(now) - off(values)
    ;[body, now, damping] = [next, values, damping / 10]
    if (gained < 1e-9 * scale) break
  }
  const size = body.shape === 'cone' ? body.angle : body.radius
  if (!(size > 0) || (body.shape === 'cone' && body.angle > 1.5)) return undefined
  return { ...body, off: off(now) }
}
