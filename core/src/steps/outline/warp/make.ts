import type { z } from 'zod'
import { ArcLength } from '../../../outline/arc-length'
import { loadManifold } from '../../../kernel/manifold'
import { keyOf } from '../../../outline/areas'
import { fitPath } from '../../../outline/fit'
import { flattenPath } from '../../../outline/flatten'
import { latticeFor } from '../../../outline/lattice'
import { outlineBounds, type Region, regionPaths } from '../../../outline/outline'
import { toPath } from '../../../outline/nodes'
import { type Path, transformPath } from '../../../outline/path'
import { unitedWhereChanged } from '../../../outline/unite'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { warpParams } from './schema'

export const evaluate: Evaluate<typeof warpParams> = async (input, params) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Warp needs an outline to work on.', 'Put a source such as Lettering before it.')
  const box = outlineBounds(input)
  if (!box.every(Number.isFinite)) return failed('no-areas', 'The outline is empty.', 'Set some words, or choose a drawing.')
  if (params.shape === 'corners' && !isConvex(params.corners))
    return failed(
      'corners-cross',
      'The four corners do not bound a convex area, so that the letters would turn inside out.',
      'Draw the corners apart.',
      'corners',
    )
  const map = mapOf(params, box)
  const issues = folds(map, box)
  const bend = (path: Path): Path => {
    // sides that are straight bend too: they are divided finely before
    const { xy, closed } = flattenPath(divided(path, (box[2] - box[0]) / 160), { tolerance: 0.003, maxTurn: 4 })
    const out = new Float64Array(xy.length)
    for (let i = 0; i < xy.length; i += 2) out.set(map(xy[i], xy[i + 1]), i)
    return fitPath(out, closed, { tolerance: 0.01, corner: 14 })
  }
  const changed = input.regions.map((region): Region => {
    const members = region.members.map((member) => ({ ...member, paths: regionPaths({ ...region, members: [member] }).map(bend) }))
    return {
      ...region,
      members,
      dx: 0,
      dy: 0,
      key: keyOf(
        'warp',
        members.flatMap((m) => m.paths),
      ),
    }
  })
  await loadManifold()
  const value = { ...input, regions: unitedWhereChanged(input.regions, changed), strokes: input.strokes.map(bend) }
  return { ok: true, value: { ...value, lattice: latticeFor(Math.max(...outlineBounds(value).map(Math.abs))) }, issues }
}

type WarpParams = z.infer<typeof warpParams>

/** The path with its straight sides cut into pieces of at most `longest` mm. */
function divided(path: Path, longest: number): Path {
  const verbs: number[] = []
  const coords: number[] = [path.coords[0], path.coords[1]]
  let o = 0
  const side = (x1: number, y1: number) => {
    const [x0, y0] = [coords[coords.length - 2], coords[coords.length - 1]]
    const n = Math.min(400, Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) / longest)))
    for (let k = 1; k <= n; k++) {
      verbs.push(1)
      coords.push(x0 + ((x1 - x0) * k) / n, y0 + ((y1 - y0) * k) / n)
    }
  }
  for (const verb of path.verbs) {
    if (verb === 1) side(path.coords[o + 2], path.coords[o + 3])
    else {
      verbs.push(verb)
      for (let k = 2; k < 2 + 2 * verb; k++) coords.push(path.coords[o + k])
    }
    o += 2 * verb
  }
  if (path.closed && (path.coords[o] !== path.coords[0] || path.coords[o + 1] !== path.coords[1])) side(path.coords[0], path.coords[1])
  return { verbs: Uint8Array.from(verbs), coords: Float64Array.from(coords), closed: path.closed }
}

/** The plane map of a warp over a box. */
function mapOf(params: WarpParams, [x0, y0, x1, y1]: readonly number[]): (x: number, y: number) => [number, number] {
  const [w, h, cx, cy] = [Math.max(1e-6, x1 - x0), Math.max(1e-6, y1 - y0), (x0 + x1) / 2, (y0 + y1) / 2]
  const k = params.amount / 100
  switch (params.shape) {
    case 'arch': {
      const angle = (params.angle * Math.PI) / 180
      if (Math.abs(angle) < 1e-3) return (x, y) => [x, y]
      // the middle line keeps its length
      const radius = w / angle
      return (x, y) => {
        const t = ((x - cx) / w) * angle
        const r = radius + (y - cy)
        return [cx + r * Math.sin(t), cy + r * Math.cos(t) - radius]
      }
    }
    case 'ripple':
      return (x, y) => [x, y + k * h * 0.5 * Math.sin((2 * Math.PI * params.waves * (x - cx)) / w)]
    case 'swell':
      return (x, y) => [x, cy + (y - cy) * (1 + k * Math.cos((Math.PI * (x - cx)) / w) ** 2)]
    case 'perspective':
      // the left side shrinks as the right one grows
      return (x, y) => [x, cy + (y - cy) * Math.max(0.02, 1 + (k * (x - cx)) / w)]
    case 'corners': {
      const m = squareToQuad(params.corners.map(([u, v]) => [x0 + u * w, y0 + v * h]))
      return (x, y) => {
        const [u, v] = [(x - x0) / w, (y - y0) / h]
        const d = m[6] * u + m[7] * v + 1
        return [(m[0] * u + m[1] * v + m[2]) / d, (m[3] * u + m[4] * v + m[5]) / d]
      }
    }
    case 'envelope': {
      const [low, high] = [params.bottom, params.top].map((line) => {
        const path = transformPath(toPath({ ...line, closed: false }), [w, 0, 0, h, x0, y0])
        return new ArcLength(path)
      })
      return (x, y) => {
        const [u, v] = [(x - x0) / w, (y - y0) / h]
        const [a, b] = [low.at(u * low.length), high.at(u * high.length)]
        return [a.x + (b.x - a.x) * v, a.y + (b.y - a.y) * v]
      }
    }
  }
}

/** The projective map of the unit square to four corners (Heckbert 1989, "Fundamentals of texture mapping", 2.2.3), nine numbers less the last. */
function squareToQuad([[ax, ay], [bx, by], [cx, cy], [dx, dy]]: readonly (readonly number[])[]): number[] {
  const [sx, sy] = [ax - bx + cx - dx, ay - by + cy - dy]
  const [px, py, qx, qy] = [bx - cx, by - cy, dx - cx, dy - cy]
  const determinant = px * qy - qx * py
  const g = (sx * qy - qx * sy) / determinant
  const h = (px * sy - sx * py) / determinant
  return [bx - ax + g * bx, dx - ax + h * dx, ax, by - ay + g * by, dy - ay + h * dy, ay, g, h]
}

/** Whether four corners go round to the left, with room at each. */
function isConvex(corners: readonly (readonly number[])[]): boolean {
  return corners.every(([x, y], i) => {
    const [px, py] = corners[(i + 3) % 4]
    const [qx, qy] = corners[(i + 1) % 4]
    return (x - px) * (qy - y) - (y - py) * (qx - x) > 1e-4
  })
}

/** A warning where a map turns areas over, with the first place. */
function folds(map: (x: number, y: number) => [number, number], [x0, y0, x1, y1]: readonly number[]): StepIssue[] {
  const [dx, dy] = [(x1 - x0) / 60, (y1 - y0) / 12]
  for (let i = 0; i < 60; i++) {
    for (let j = 0; j < 12; j++) {
      const [x, y] = [x0 + (i + 0.5) * dx, y0 + (j + 0.5) * dy]
      const [a, b, c] = [map(x, y), map(x + dx / 10, y), map(x, y + dy / 10)]
      if ((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) > 0) continue
      return [
        {
          code: 'folded',
          severity: 'warning',
          message: 'The warp folds over itself in places; letters there come out turned inside out.',
          remedy: 'Draw the lines apart, or bend less.',
          places: [[a[0], a[1], 0]],
        },
      ]
    }
  }
  return []
}
