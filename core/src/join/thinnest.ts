import { rayLength } from '../check/rays'
import { buildBoxTree } from '../check/tree'
import { INSIDE } from '../solid/labels'
import type { Solid } from '../solid/solid'
import { FLOOR } from './join'

/** So many places of a cut's floor are looked at. */
const MOST_PLACES = 1500
/** A triangle less high than this over its longest side says nothing of where the floor looks, mm. */
const SLIVER = 0.01
/** What lies nearer behind a floor than this is the floor itself, mm. */
const ITSELF = 1e-3

export interface Thinnest {
  readonly thickness: number
  readonly place: readonly [number, number, number]
}

/**
 * The least thickness that stands behind the floor of what was cut, mm, and where: by rays from the middles of its triangles straight into
 * the body, the larger triangles first. Undefined where no floor was laid bare.
 */
export function thinnestFloor(solid: Solid): Thinnest | undefined {
  const floor = solid.bands.indexOf(FLOOR)
  const { surface, labels } = solid
  return floor < 0 ? undefined : thinnest(solid, (t) => labels.group[surface[t]] === INSIDE && labels.band[surface[t]] === floor)
}

/** The least thickness of a closed mesh, mm, and where: by rays from the middles of its larger triangles straight into it. */
export const thinnestWall = (mesh: Pick<Solid, 'positions' | 'indices'>): Thinnest | undefined => thinnest(mesh, () => true)

function thinnest({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>, wanted: (triangle: number) => boolean): Thinnest | undefined {
  const found: { t: number; area: number; n: [number, number, number] }[] = []
  for (let t = 0; t < indices.length / 3; t++) {
    if (!wanted(t)) continue
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    const n: [number, number, number] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const area = Math.hypot(...n)
    // slivers look anywhere
    const longest = Math.max(Math.hypot(ux, uy, uz), Math.hypot(vx, vy, vz), Math.hypot(vx - ux, vy - uy, vz - uz))
    if (area < SLIVER * longest) continue
    found.push({ t, area, n })
  }
  if (found.length === 0) return undefined
  found.sort((a, b) => b.area - a.area)
  const tree = buildBoxTree(p, indices)
  let best: Thinnest | undefined
  for (const { t, area, n } of found.slice(0, MOST_PLACES)) {
    const place = [0, 1, 2].map((k) => (p[3 * indices[3 * t] + k] + p[3 * indices[3 * t + 1] + k] + p[3 * indices[3 * t + 2] + k]) / 3) as [
      number,
      number,
      number,
    ]
    const thickness = rayLength(tree, p, indices, place, [-n[0] / area, -n[1] / area, -n[2] / area], ITSELF, best?.thickness)
    if (!best || thickness < best.thickness) best = { thickness, place }
  }
  return best
}
