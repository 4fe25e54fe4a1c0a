import type { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { connectedShapes, letterOf, regionArea, regionFrom } from '../../../outline/areas'
import { Area, clipAreas, splitArea } from '../../../outline/clip'
import { toPath } from '../../../outline/nodes'
import type { Layer, Region } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { strokeOutlines } from '../../../outline/stroker'
import { bandsAcross, extended, leftOf } from './bands'
import { type Evaluate, failed } from '../../step'
import type { sliceParams } from './schema'

export const evaluate: Evaluate<typeof sliceParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Slice needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to cut.', 'Close the strokes, or set some words.')
  if (params.cut === 'drawn' && params.lines.length === 0)
    return failed('no-lines', 'No line to cut along has been drawn yet.', 'Open the Draw view and draw one across the shapes.', 'lines')
  await loadManifold()
  const areas = input.regions.map((region) => ({ region, area: regionArea(region) }))
  const box = areas.reduce(
    (b, { area }) => [Math.min(b[0], area.box[0]), Math.min(b[1], area.box[1]), Math.max(b[2], area.box[2]), Math.max(b[3], area.box[3])],
    [Infinity, Infinity, -Infinity, -Infinity],
  )
  const cutter = params.cut === 'drawn' ? alongLines(params.lines.map(toPath), box, params.gap) : alongBands(box, params)
  const pieces: { layer: number; part: string; region: Region; paths: Path[] }[] = []
  let done = 0
  for (const { region, area } of areas) {
    for (const { part, paths } of cutter(area)) pieces.push({ layer: region.layer, part, region, paths })
    await context.breathe()
    context.progress(++done / areas.length)
  }
  const layers: Layer[] = []
  const regions: Region[] = []
  input.layers.forEach((layer, source) => {
    const own = pieces.filter((piece) => piece.layer === source)
    // parts are numbered in their order: from the top down, or by the lines they lie left of
    const parts = [...new Set(own.map((piece) => piece.part))].sort()
    parts.forEach((part, i) => {
      const number = params.cut === 'drawn' ? i + 1 : Number(part) + 1
      layers.push({ ...layer, id: `${layer.id} · ${number}`, name: `${layer.name} · ${number}` })
      for (const piece of own)
        if (piece.part === part) for (const shape of connectedShapes(piece.paths)) regions.push(regionFrom(shape, letterOf(piece.region), layers.length - 1))
    })
  })
  if (regions.length === 0) return failed('vanished', 'The gap takes away everything.', 'Make the gap smaller, or the cuts fewer.', 'gap')
  return { ok: true, value: { ...input, regions, layers }, issues: [], told: `${layers.length} parts` }
}

type SliceParams = z.infer<typeof sliceParams>

interface Part {
  /** sorts and names the layer */
  readonly part: string
  readonly paths: Path[]
}

/** Cuts an area into the bands between even cuts: by every other band at once, so that each shape is clipped once, however many bands there are. */
function alongBands(box: readonly number[], params: SliceParams): (area: Area) => Part[] {
  const { bands, linesNear, bandOf } = bandsAcross(box, { ...params, cut: params.cut as 'straight' | 'wave' | 'zigzag' })
  return (area) => {
    let whole = area
    if (params.gap > 0) {
      const gaps = strokeOutlines(linesNear(area.box), { width: params.gap, cap: 'flat', join: 'mitre' }, 0.01)
      if (gaps.length > 0) whole = new Area(clipAreas(area, new Area(gaps), 'subtract'))
    }
    const every = bands(area.box).filter(({ index }) => index % 2 === 0)
    const parts = new Map<number, Path[]>()
    const { inside, outside } = splitArea(whole, new Area(every.map((band) => band.path)))
    for (const path of [...inside, ...outside]) {
      const index = bandOf(path)
      const known = parts.get(index)
      if (known) known.push(path)
      else parts.set(index, [path])
    }
    return [...parts].map(([index, paths]) => ({ part: String(index).padStart(3, '0'), paths }))
  }
}

/** Cuts an area along lines, each carried on straight beyond its ends; a closed line cuts out what it surrounds. */
function alongLines(lines: readonly Path[], box: readonly number[], gap: number): (area: Area) => Part[] {
  const sides = lines.map((line) => new Area([line.closed ? line : leftOf(line, box)]))
  const gaps =
    gap > 0
      ? new Area(
          strokeOutlines(
            lines.map((line) => (line.closed ? line : extended(line, box))),
            { width: gap, cap: 'flat', join: 'mitre' },
            0.01,
          ),
        )
      : undefined
  return (area) => {
    let parts: { part: string; area: Area }[] = [{ part: '', area: gaps ? new Area(clipAreas(area, gaps, 'subtract')) : area }]
    for (const side of sides) {
      parts = parts.flatMap(({ part, area: rest }) => {
        const { inside, outside } = splitArea(rest, side)
        return [inside, outside].flatMap((paths, k) => (paths.length > 0 ? [{ part: part + k, area: new Area(paths) }] : []))
      })
    }
    return parts.map(({ part, area: rest }) => ({ part, paths: rest.paths.slice() }))
  }
}
