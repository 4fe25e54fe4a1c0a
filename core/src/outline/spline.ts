import { type Path, PathBuilder } from './path'

/**
 * A smooth path through points: centripetal Catmull–Rom (Yuksel, Schaefer, Keyser 2011, "Parameterization and
 * applications of Catmull–Rom curves"), which neither loops nor overshoots between near points. Coinciding neighbours
 * are dropped. Throws a RangeError when fewer than two points are left or one is not finite.
 */
export function smoothPath(points: readonly (readonly [number, number])[], closed: boolean): Path {
  const p = points.filter(([x, y], i) => i === 0 || x !== points[i - 1][0] || y !== points[i - 1][1])
  if (closed && p.length > 1 && p[0][0] === p[p.length - 1][0] && p[0][1] === p[p.length - 1][1]) p.pop()
  if (p.length < 2) throw new RangeError('a smooth path needs two different points')
  const n = p.length
  const at = (i: number) => (closed ? p[(i + n) % n] : i < 0 ? mirrored(p[0], p[1]) : i >= n ? mirrored(p[n - 1], p[n - 2]) : p[i])
  const builder = new PathBuilder(p[0][0], p[0][1])
  for (let i = 0; i < (closed ? n : n - 1); i++) {
    const [a, b, c, d] = [at(i - 1), at(i), at(i + 1), at(i + 2)]
    const root = (q: readonly number[], r: readonly number[]) => Math.max(1e-6, Math.sqrt(Math.hypot(r[0] - q[0], r[1] - q[1])))
    const [u, v, w] = [root(a, b), root(b, c), root(c, d)]
    const control = (k: 0 | 1, from: readonly number[], mid: readonly number[], to: readonly number[], near: number, span: number) =>
      mid[k] + (span / 3) * ((mid[k] - from[k]) / near - (to[k] - from[k]) / (near + span) + (to[k] - mid[k]) / span)
    builder.cubicTo(control(0, a, b, c, u, v), control(1, a, b, c, u, v), control(0, d, c, b, w, v), control(1, d, c, b, w, v), c[0], c[1])
  }
  return builder.build(closed)
}

const mirrored = (end: readonly [number, number], next: readonly [number, number]): [number, number] => [2 * end[0] - next[0], 2 * end[1] - next[1]]

/**
 * Fewer points of a drawn line, none left out further than `tolerance` from what is left (Ramer 1972, Douglas and
 * Peucker 1973). The first and last stay.
 */
export function simplifyPoints(points: readonly (readonly [number, number])[], tolerance: number): (readonly [number, number])[] {
  if (points.length < 3) return points.slice()
  const keep = new Uint8Array(points.length)
  keep[0] = keep[points.length - 1] = 1
  const spans: [number, number][] = [[0, points.length - 1]]
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span
    const [ax, ay] = points[from]
    const [dx, dy] = [points[to][0] - ax, points[to][1] - ay]
    const square = dx * dx + dy * dy
    let worst = tolerance
    let at = -1
    for (let i = from + 1; i < to; i++) {
      const [px, py] = [points[i][0] - ax, points[i][1] - ay]
      const f = square === 0 ? 0 : Math.max(0, Math.min(1, (px * dx + py * dy) / square))
      const distance = Math.hypot(px - f * dx, py - f * dy)
      if (distance > worst) {
        worst = distance
        at = i
      }
    }
    if (at < 0) continue
    keep[at] = 1
    spans.push([from, at], [at, to])
  }
  return points.filter((_, i) => keep[i] === 1)
}
