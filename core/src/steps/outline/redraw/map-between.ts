import type { Affine } from '../../../outline/affine'
import { type NodePath, pointsOf } from '../../../outline/nodes'

/** How far, as a share of the size, a letter may differ from the one that was drawn over and still count as the same. */
const SAME = 0.002

/**
 * The affine map that takes outlines to others of the same nodes, by least squares over nodes and handles; undefined when
 * they are not the same letter in another place, size, slant or turn.
 */
export function mapBetween(from: readonly NodePath[], to: readonly NodePath[]): Affine | undefined {
  if (from.length !== to.length) return undefined
  const p = from.flatMap(pointsOf)
  const q = to.flatMap(pointsOf)
  if (p.length !== q.length || from.some((path, i) => path.nodes.length !== to[i].nodes.length)) return undefined
  const n = p.length / 2
  const mean = (v: readonly number[], k: number) => v.reduce((sum, value, i) => (i % 2 === k ? sum + value : sum), 0) / n
  const [px, py, qx, qy] = [mean(p, 0), mean(p, 1), mean(q, 0), mean(q, 1)]
  let [xx, xy, yy, xu, yu, xv, yv] = [0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < 2 * n; i += 2) {
    const [x, y, u, v] = [p[i] - px, p[i + 1] - py, q[i] - qx, q[i + 1] - qy]
    xx += x * x
    xy += x * y
    yy += y * y
    xu += x * u
    yu += y * u
    xv += x * v
    yv += y * v
  }
  const determinant = xx * yy - xy * xy
  let [a, b, c, d] = [1, 0, 0, 1]
  if (determinant > 1e-9 * (xx + yy) ** 2) {
    a = (xu * yy - yu * xy) / determinant
    c = (yu * xx - xu * xy) / determinant
    b = (xv * yy - yv * xy) / determinant
    d = (yv * xx - xv * xy) / determinant
  }
  const map: Affine = [a, b, c, d, qx - a * px - c * py, qy - b * px - d * py]
  let worst = 0
  for (let i = 0; i < 2 * n; i += 2) {
    const [x, y] = [p[i], p[i + 1]]
    worst = Math.max(worst, Math.hypot(map[0] * x + map[2] * y + map[4] - q[i], map[1] * x + map[3] * y + map[5] - q[i + 1]))
  }
  const size = Math.sqrt(q.reduce((sum, value, i) => sum + (value - (i % 2 === 0 ? qx : qy)) ** 2, 0) / n || 0)
  return worst <= SAME * size + 1e-5 && a * d - b * c > 0 ? map : undefined
}
