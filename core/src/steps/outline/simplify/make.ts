import { loadManifold } from '../../../kernel/manifold'
import { keyOf } from '../../../outline/areas'
import { fitPath } from '../../../outline/fit'
import { flattenPath } from '../../../outline/flatten'
import { nodeCount } from '../../../outline/nodes'
import type { Region } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { unitedWhereChanged } from '../../../outline/unite'
import { type Evaluate, failed } from '../../step'
import type { simplifyParams } from './schema'

export const evaluate: Evaluate<typeof simplifyParams> = async (input, { tolerance, corner }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Simplify needs an outline to work on.', 'Put a source such as Lettering before it.')
  const tally = { before: 0, after: 0, worst: 0 }
  // a tenth is for the flattening's own chords, the rest for the fit, so that the sum stays within
  const redraw = (path: Path): Path => {
    const { xy, closed } = flattenPath(path, { tolerance: tolerance * 0.1, maxTurn: 8 })
    const fitted = fitPath(xy, closed, { tolerance: tolerance * 0.85, corner, fewest: true })
    const simpler = nodeCount(fitted) < nodeCount(path)
    tally.before += nodeCount(path)
    tally.after += nodeCount(simpler ? fitted : path)
    if (simpler) tally.worst = Math.max(tally.worst, deviation(xy, closed, fitted))
    return simpler ? fitted : path
  }
  const changed = input.regions.map((region): Region => {
    const members = region.members.map((member) => ({ ...member, paths: member.paths.map(redraw) }))
    return {
      ...region,
      members,
      key: keyOf(
        'simple',
        members.flatMap((m) => m.paths),
      ),
    }
  })
  await loadManifold()
  const value = { ...input, regions: unitedWhereChanged(input.regions, changed), strokes: input.strokes.map(redraw) }
  return { ok: true, value, issues: [], told: `${tally.before} → ${tally.after} nodes, at most ${Number(tally.worst.toFixed(3))} mm off` }
}

/** Largest distance of the points of a polyline from a curve that follows it, mm. */
function deviation(xy: Float64Array, closed: boolean, curve: Path): number {
  const fine = flattenPath(curve, { tolerance: 0.0005, maxTurn: 3 }).xy
  const n = fine.length / 2
  const sides = closed ? n : n - 1
  let worst = 0
  // both run the same way from the same place or near it, so the nearest side is found near the last one
  let near = -1
  for (let i = 0; i < xy.length; i += 2) {
    const distanceTo = (k: number) => {
      const [ax, ay] = [fine[2 * k], fine[2 * k + 1]]
      const [dx, dy] = [fine[(2 * k + 2) % fine.length] - ax, fine[(2 * k + 3) % fine.length] - ay]
      const square = dx * dx + dy * dy
      const f = square === 0 ? 0 : Math.max(0, Math.min(1, ((xy[i] - ax) * dx + (xy[i + 1] - ay) * dy) / square))
      return Math.hypot(xy[i] - ax - f * dx, xy[i + 1] - ay - f * dy)
    }
    let least = Infinity
    const reach = near < 0 ? sides : Math.min(sides, 60)
    const from = near < 0 ? 0 : near - 20
    let at = 0
    for (let m = 0; m < reach; m++) {
      const k = (((from + m) % sides) + sides) % sides
      const d = distanceTo(k)
      if (d < least) {
        least = d
        at = k
      }
    }
    near = at
    worst = Math.max(worst, least)
  }
  return worst
}
