import type { EditableShape } from '../../../outline/letter-shapes'
import { ArcLength } from '../../../outline/arc-length'
import { toPath } from '../../../outline/nodes'
import type { Anchor } from './schema'

/** The place on letters' contours that lies nearest to a point, within `reach` mm; in the plane when there is none. */
export function anchorAt(
  shapes: readonly Pick<EditableShape, 'at' | 'paths'>[],
  x: number,
  y: number,
  reach: number,
): Anchor & { readonly x: number; readonly y: number } {
  let best: (Anchor & { x: number; y: number }) | undefined
  let nearest = reach
  for (const { at, paths } of shapes) {
    if (at < 0) continue
    paths.forEach((drawn, contour) => {
      const path = toPath(drawn)
      const length = new ArcLength(path)
      const steps = Math.min(2000, Math.max(64, Math.ceil(length.length * 4)))
      let from = -1
      for (let i = 0; i < steps; i++) {
        const p = length.at((i / steps) * length.length)
        const distance = Math.hypot(p.x - x, p.y - y)
        if (distance >= nearest) continue
        nearest = distance
        from = i
      }
      if (from < 0) return
      let [a, b] = [(from - 1) / steps, (from + 1) / steps]
      const distanceAt = (share: number) => {
        const p = length.at(share * length.length)
        return Math.hypot(p.x - x, p.y - y)
      }
      for (let i = 0; i < 40; i++) {
        const [p, q] = [a + (b - a) / 3, b - (b - a) / 3]
        if (distanceAt(p) < distanceAt(q)) b = q
        else a = p
      }
      const share = ((((a + b) / 2) % 1) + 1) % 1
      const p = length.at(share * length.length)
      nearest = Math.min(nearest, Math.hypot(p.x - x, p.y - y) + 1e-9)
      best = { at, contour, share, x: p.x, y: p.y }
    })
  }
  return best ?? { at: -1, contour: 0, share: 0, x, y }
}
