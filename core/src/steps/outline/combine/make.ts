import { loadManifold } from '../../../kernel/manifold'
import { boxesMeet, connectedShapes, letterOf, regionArea, regionFrom } from '../../../outline/areas'
import { Area, clipAreas } from '../../../outline/clip'
import { latticeFor, snap } from '../../../outline/lattice'
import { type Layer, type Outline, outlineBounds, type Region } from '../../../outline/outline'
import { transformPath } from '../../../outline/path'
import { uniteRegions } from '../../../outline/unite'
import { type Evaluate, failed } from '../../step'
import type { combineParams } from './schema'

export const evaluate: Evaluate<typeof combineParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Combine needs an outline to work on.', 'Put a source such as Lettering before it.')
  await loadManifold()
  let first: Outline
  let second: Outline
  if (params.with === 'piece') {
    const [other] = context.inputs.other ?? []
    if (other?.kind !== 'outline')
      return failed('no-piece', 'No piece has been chosen to combine with.', 'Choose one, or combine the outline’s own layers.', 'other')
    first = input
    second = placed(input, other, params)
  } else {
    // the lowest layer against those above it
    const lowest = input.regions.reduce((least, r) => Math.min(least, r.layer), Infinity)
    first = { ...input, regions: input.regions.filter((r) => r.layer === lowest) }
    second = { ...input, regions: input.regions.filter((r) => r.layer !== lowest), strokes: [] }
    if (second.regions.length === 0 && params.how !== 'union')
      return failed('one-layer', 'The outline has one layer only; there is nothing to combine it with.', 'Combine it with another piece.', 'with')
  }
  const value = combineOutlines(first, second, params.how, params.with === 'layers')
  if (value.regions.length === 0)
    return failed(
      'nothing-left',
      params.how === 'overlap' ? 'The two do not overlap.' : 'Nothing is left.',
      'Move one of them, or combine them another way.',
      params.with === 'piece' ? 'x' : 'how',
    )
  return { ok: true, value: { ...value, lattice: latticeFor(Math.max(...outlineBounds(value).map(Math.abs))) }, issues: [] }
}

/** The other outline moved to where it is combined. */
function placed(input: Outline, other: Outline, { x, y, centre }: { x: number; y: number; centre: boolean }): Outline {
  const [a, b] = [outlineBounds(input), outlineBounds(other)]
  const middle = (box: readonly number[], k: 0 | 1) => (box[k] + box[k + 2]) / 2
  const finite = a.every(Number.isFinite) && b.every(Number.isFinite)
  const dx = snap(x + (centre && finite ? middle(a, 0) - middle(b, 0) : 0), other.lattice)
  const dy = snap(y + (centre && finite ? middle(a, 1) - middle(b, 1) : 0), other.lattice)
  return {
    ...other,
    regions: other.regions.map((region) => ({ ...region, dx: region.dx + dx, dy: region.dy + dy })),
    strokes: other.strokes.map((path) => transformPath(path, [1, 0, 0, 1, dx, dy])),
  }
}

/** Combines two outlines area by area; what nothing touches keeps its region, and every curve stays the curve it was. */
export function combineOutlines(a: Outline, b: Outline, how: 'union' | 'cut-out' | 'overlap' | 'exclude', sameLayers = false): Outline {
  const taken = new Set(a.layers.map((layer) => layer.id))
  const fresh = (layer: Layer): Layer => {
    let id = layer.id
    for (let n = 2; taken.has(id); n++) id = `${layer.id} · ${n}`
    taken.add(id)
    return { ...layer, id }
  }
  const layers = sameLayers ? a.layers : [...a.layers, ...b.layers.map(fresh)]
  const shift = sameLayers ? 0 : a.layers.length
  const letters = sameLayers ? a.letters : [...a.letters, ...b.letters]
  const letterShift = sameLayers ? 0 : a.letters.length
  const ours = a.regions.map((region) => ({ region, area: regionArea(region) }))
  const theirs = b.regions.map((region) => {
    const members = region.members.map((m) => ({ ...m, letter: m.letter < 0 ? -1 : m.letter + letterShift }))
    return { region: { ...region, members, layer: region.layer + shift }, area: regionArea(region) }
  })
  const base = { ...a, layers, letters }
  if (how === 'union') return { ...base, regions: uniteRegions([...ours, ...theirs]), strokes: [...a.strokes, ...(sameLayers ? [] : b.strokes)] }
  const cut = (mine: typeof ours, others: typeof ours, keep: 'subtract' | 'intersect') =>
    mine.flatMap(({ region, area }): Region[] => {
      const near = others.filter((other) => boxesMeet(area.box, other.area.box))
      if (near.length === 0) return keep === 'subtract' ? [region] : []
      // turned paths together bound the union of their areas (non-zero rule): nothing need be united before
      const left = clipAreas(area, new Area(near.flatMap((other) => other.area.paths)), keep)
      return connectedShapes(left).map((paths) => regionFrom(paths, letterOf(region), region.layer))
    })
  if (how === 'cut-out') return { ...base, regions: cut(ours, theirs, 'subtract') }
  if (how === 'overlap') return { ...base, regions: cut(ours, theirs, 'intersect') }
  return { ...base, regions: [...cut(ours, theirs, 'subtract'), ...cut(theirs, ours, 'subtract')] }
}
