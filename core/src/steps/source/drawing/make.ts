import { loadManifold } from '../../../kernel/manifold'
import { boxesMeet, nestPaths, regionArea, regionFrom } from '../../../outline/areas'
import { brushOutlines } from '../../../outline/brush'
import { latticeFor } from '../../../outline/lattice'
import { toPath } from '../../../outline/nodes'
import { type Outline, outlineBounds, type Region } from '../../../outline/outline'
import { controlBounds, type Path, pathArea } from '../../../outline/path'
import { uniteRegions } from '../../../outline/unite'
import { cutToVisible } from '../../../outline/visible'
import { type Evaluate, failed } from '../../step'
import type { drawingParams } from './schema'

export const evaluate: Evaluate<typeof drawingParams> = async (_input, { shapes, layers, overlaps, gap }) => {
  if (shapes.length === 0)
    return failed('nothing-drawn', 'Nothing has been drawn yet.', 'Open the Draw view and draw a line with the pen or the pencil.', 'shapes')
  await loadManifold()
  let regions: Region[] = []
  const strokes: Path[] = []
  layers.forEach((layer, number) => {
    const own: Region[] = []
    const areas: Path[] = []
    for (const shape of shapes) {
      const { layer: on, nodes, width, closed } = shape
      if (on !== layer.id || nodes.length < 2) continue
      if (width > 0) own.push(regionFrom(brushOutlines(shape, width), -1, number))
      else if (closed) areas.push(toPath(shape))
      else strokes.push(toPath(shape))
    }
    for (const paths of groupsOf(nestPaths(areas.filter((path) => Math.abs(pathArea(path)) > 1e-4)))) own.push(regionFrom(paths, -1, number))
    // what overlaps on one layer is one area: a brushed line over an outline, lines that cross
    regions = [...regions, ...uniteRegions(own.map((region) => ({ region, area: regionArea(region) })))]
  })
  if (regions.length === 0 && strokes.length === 0)
    return failed('nothing-drawn', 'What is drawn has no extent yet.', 'Draw on: a line needs two nodes, an outline three.', 'shapes')
  const value: Outline = {
    kind: 'outline',
    regions,
    strokes,
    letters: [],
    layers: layers.map(({ id, name, colour }) => ({ id, name, ...(colour ? { colour } : {}) })),
    lattice: 1,
  }
  const shown = overlaps === 'visible' && new Set(regions.map((r) => r.layer)).size > 1 ? cutToVisible(value, gap) : value
  return { ok: true, value: { ...shown, lattice: latticeFor(Math.max(...outlineBounds(value).map(Math.abs))) }, issues: [] }
}

/** Paths whose boxes meet, together: they can be holes of one another or overlap, and then are one region. */
function groupsOf(paths: readonly Path[]): Path[][] {
  const groups: { paths: Path[]; box: number[] }[] = []
  for (const path of paths) {
    const group = { paths: [path], box: [...controlBounds([path])] }
    for (let i = groups.length - 1; i >= 0; i--) {
      if (!boxesMeet(groups[i].box, group.box)) continue
      const [other] = groups.splice(i, 1)
      group.paths.unshift(...other.paths)
      group.box = [0, 1, 2, 3].map((k) => (k < 2 ? Math.min : Math.max)(group.box[k], other.box[k]))
    }
    groups.push(group)
  }
  return groups.map((group) => group.paths)
}
