import { scaling } from './affine'
import { latticeFor, snap } from './lattice'
import { type Outline, outlineBounds, type Region } from './outline'
import { transformPath } from './path'

/** An outline so many times as large, from its origin; regions that are alike stay so. Depths and lifts of layers stay as they are. */
export function sizedOutline(outline: Outline, size: number): Outline {
  if (size === 1) return outline
  const map = scaling(size)
  const lattice = latticeFor(size * Math.max(0, ...outlineBounds(outline).filter(Number.isFinite).map(Math.abs)))
  const regions = outline.regions.map(
    (region): Region => ({
      ...region,
      key: `${region.key}*${size}`,
      members: region.members.map((member) => ({ ...member, paths: member.paths.map((path) => transformPath(path, map)) })),
      dx: snap(size * region.dx, lattice),
      dy: snap(size * region.dy, lattice),
    }),
  )
  return {
    ...outline,
    regions,
    strokes: outline.strokes.map((path) => transformPath(path, map)),
    lattice,
    ...(outline.guides ? { guides: outline.guides.map(({ name, y }) => ({ name, y: size * y })) } : {}),
  }
}
