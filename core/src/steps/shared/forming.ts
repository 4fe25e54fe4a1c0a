import { snap } from '../../outline/lattice'
import type { Outline, Region } from '../../outline/outline'
import { controlBounds } from '../../outline/path'
import { flattenMember, regionPolygons, winding } from '../../outline/polygon'
import { widestInset } from '../../solid/ridge'
import { NONE } from '../../solid/labels'
import { joinPlaced, type Placed } from '../../solid/operations'
import type { Solid } from '../../solid/solid'
import type { StepContext, StepIssue } from '../step'

/** What a form kernel makes of one region, in the region's own coordinates. */
export interface Formed {
  readonly solid: Solid
}

/** How one region is formed. */
export interface RegionForm<T extends Formed> {
  /** with the region's own key, what the result is kept under: equal keys give equal solids */
  readonly key: string
  readonly make: (region: Region) => T
  /** how far the solid is lifted, mm; the layer's own lift when left out */
  readonly lift?: number
}

/**
 * Forms every region of an outline, each kept in the memo under its key, and joins them with their letters and layers:
 * what all form steps share. The solid is empty when nothing could be formed. Throws the abort reason when cancelled.
 */
export async function formRegions<T extends Formed>(
  input: Outline,
  context: Pick<StepContext, 'memo' | 'breathe' | 'progress'>,
  formOf: (region: Region) => RegionForm<T>,
): Promise<{ solid: Solid; results: T[] }> {
  const placed: Placed[] = []
  const results: T[] = []
  for (const region of input.regions) {
    const { key, make, lift } = formOf(region)
    const whole = `${key}:${region.key}`
    const known = context.memo.peek<T>(whole)
    if (!known) await context.breathe()
    const result = known ?? context.memo.get(whole, () => make(region))
    results.push(result)
    if (result.solid.indices.length > 0)
      placed.push({
        solid: result.solid,
        dx: region.dx,
        dy: region.dy,
        dz: snap(lift ?? input.layers[region.layer]?.lift ?? 0, input.lattice),
        letters: region.members.map((m) => m.letter),
        layer: region.layer,
      })
    context.progress(results.length / input.regions.length)
  }
  const solid = joinPlaced(
    placed,
    input.letters.map((l) => l.text),
    input.lattice,
    input.layers.map(({ name, colour }) => ({ name, ...(colour ? { colour } : {}) })),
  )
  return { solid, results }
}

/** Which member of a region a point of the plane belongs to: the first whose area holds it. */
export function letterFinder(region: Region, tolerance: number, lattice: number): (x: number, y: number) => number {
  if (region.members.length === 1) return () => 0
  const areas = region.members.map((member) => flattenMember(member, tolerance, lattice))
  return (x, y) => {
    const k = areas.findIndex((rings) => winding(rings, x, y) > 0)
    return k < 0 ? NONE : k
  }
}

/** Half of a region's widest stroke, mm, kept under its key. Needs the manifold kernel loaded. */
export const regionRidge = (memo: StepContext['memo'], region: Region, tolerance: number, lattice: number): number =>
  memo.get(`ridge-inset:${region.key}:${tolerance}:${lattice}`, () => widestInset(regionPolygons(region, tolerance, lattice)))

/** The letters a region holds, for what is said of it; undefined for shapes that are none. */
const lettersOf = (region: Region, letters: Outline['letters']) => {
  const texts = region.members.flatMap((m) => letters[m.letter]?.text ?? [])
  return texts.length > 0 ? texts.join('') : undefined
}

/** “A”, “B” and so on, the first few; shapes that are no letters are counted, layer by layer where there are several: “3 shapes in Sail”. */
export function named(regions: readonly Region[], { letters, layers }: Pick<Outline, 'letters' | 'layers'>, most = 6): string {
  const words = regions.flatMap((region) => lettersOf(region, letters) ?? [])
  const said = words.slice(0, most).map((word) => `“${word}”`)
  if (words.length > most) said.push(`${words.length - most} other letter${words.length - most === 1 ? '' : 's'}`)
  const shapes = new Map<number, number>()
  for (const region of regions) if (lettersOf(region, letters) === undefined) shapes.set(region.layer, (shapes.get(region.layer) ?? 0) + 1)
  const several = layers.length > 1
  const counted = [...shapes].map(([layer, count]) => `${count} shape${count === 1 ? '' : 's'}${several && layers[layer] ? ` in “${layers[layer].name}”` : ''}`)
  said.push(...counted.slice(0, most))
  if (counted.length > most) said.push(`shapes in ${counted.length - most} other layers`)
  return said.length > 1 ? `${said.slice(0, -1).join(', ')} and ${said[said.length - 1]}` : (said[0] ?? '')
}

/** Places that are pointed out of one issue, at most. */
export const MOST_PLACES = 24

/** The middles of regions at a height, to be pointed out. */
export const placesOf = (regions: readonly Region[], z: number): [number, number, number][] =>
  regions.slice(0, MOST_PLACES).map((region) => [...middleOf(region), z])

/** The middle of a region's box in the outline's own coordinates, mm. */
export function middleOf(region: Region): [number, number] {
  const [x0, y0, x1, y1] = controlBounds(region.members.flatMap((m) => m.paths))
  return [region.dx + (x0 + x1) / 2, region.dy + (y0 + y1) / 2]
}

/** A warning about open lines, which steps that form areas leave out; none when there are none. */
export function strokesLeft(input: Outline): StepIssue[] {
  const { length } = input.strokes
  if (length === 0) return []
  return [
    {
      code: 'open-strokes',
      severity: 'warning',
      message: `${length} open ${length === 1 ? 'line has' : 'lines have'} no width yet and ${length === 1 ? 'is' : 'are'} left out.`,
      remedy: 'Insert Stroke to outline before this step, close them, or form them with Tube or Sweep.',
    },
  ]
}

/** A warning that names the regions whose edges the fallback kernel made; none when there are none. */
export function approximateIssue(input: Outline, results: readonly { approximate: boolean }[], what: string, z: number, field?: string): StepIssue[] {
  const rough = input.regions.filter((_, i) => results[i].approximate)
  if (rough.length === 0) return []
  return [
    {
      code: 'approximate-edge',
      severity: 'warning',
      message: `The ${what} of ${named(rough, input)} ${what.endsWith('s') ? 'are' : 'is'} approximated: ridges are cut flat.`,
      remedy: 'The solid is sound. A slightly smaller inset, or another size of the letters, gives the exact one.',
      ...(field ? { field } : {}),
      places: placesOf(rough, z),
    },
  ]
}
