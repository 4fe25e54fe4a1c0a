import { boxesMeet, orientedPaths, regionArea } from './areas'
import { type Area, areasOverlap } from './clip'
import type { Member, Region } from './outline'
import { controlBounds } from './path'

/** Regions nearer than this are taken for one, mm: when their curves become polygons they may touch, and their union is right whether they do or not. */
export const NEAR = 0.05

/**
 * Regions that overlap become one, in the layer of the first; its members keep their letters and their exact curves. Others stay
 * the objects they were, and so do two of which `may` says so. Needs the manifold kernel loaded.
 */
export function uniteRegions(list: readonly { readonly region: Region; readonly area: Area }[], may: (i: number, j: number) => boolean = () => true): Region[] {
  const group = list.map((_, i) => i)
  const root = (i: number): number => (group[i] === i ? i : (group[i] = root(group[i])))
  const order = list.map((_, i) => i).sort((i, j) => list[i].area.box[0] - list[j].area.box[0])
  order.forEach((i, k) => {
    for (let m = k + 1; m < order.length; m++) {
      const j = order[m]
      if (list[j].area.box[0] > list[i].area.box[2] + NEAR) break
      if (root(i) === root(j) || !boxesMeet(list[i].area.box, list[j].area.box, NEAR)) continue
      if (areasOverlap(list[i].area, list[j].area, NEAR) && may(i, j)) group[Math.max(root(i), root(j))] = Math.min(root(i), root(j))
    }
  })
  const groups = new Map<number, number[]>()
  list.forEach((_, i) => {
    const known = groups.get(root(i))
    if (known) known.push(i)
    else groups.set(root(i), [i])
  })
  return [...groups.values()].map((indices) => {
    const { region: first } = list[indices[0]]
    if (indices.length === 1) return first
    // about the origin of the first, so that the same letters joined the same way are the same wherever they stand
    const near = indices.map((i) => ({ ...list[i].region, dx: list[i].region.dx - first.dx, dy: list[i].region.dy - first.dy }))
    const members = near.flatMap((region): Member[] =>
      region.members.map((member) => ({ letter: member.letter, paths: orientedPaths({ ...region, members: [member] }) })),
    )
    return { key: `union:${near.map(({ key, dx, dy }) => `${key}@${dx},${dy}`).join('+')}`, members, dx: first.dx, dy: first.dy, layer: first.layer }
  })
}

/**
 * Regions that have come to overlap as their shapes were changed, one for one: those of a layer become one, but for two that did so before, which somebody
 * wanted apart. Needs the manifold kernel loaded.
 */
export function unitedWhereChanged(before: readonly Region[], after: readonly Region[]): Region[] {
  const boxes = after.map((region) => {
    const [x0, y0, x1, y1] = controlBounds(region.members.flatMap(({ paths }) => paths))
    return [x0 + region.dx, y0 + region.dy, x1 + region.dx, y1 + region.dy]
  })
  if (!boxes.some((a, i) => boxes.some((b, j) => j > i && boxesMeet(a, b, NEAR)))) return [...after]
  return uniteRegions(
    after.map((region) => ({ region, area: regionArea(region) })),
    (i, j) => after[i].layer === after[j].layer && !areasOverlap(regionArea(before[i]), regionArea(before[j]), NEAR),
  )
}
