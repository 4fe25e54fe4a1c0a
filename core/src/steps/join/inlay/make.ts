import type { z } from 'zod'
import { extrude } from '../../form/extrude'
import type { Memo } from '../../../cache/memo'
import { loadManifold } from '../../../kernel/manifold'
import { boxesMeet, curveBounds, regionArea } from '../../../outline/areas'
import { offsetRegions } from '../../../outline/grow'
import { type Outline, regionPaths } from '../../../outline/outline'
import { uniteRegions } from '../../../outline/unite'
import { apply, UNMOVED } from '../../../solid/operations'
import { plain } from '../../meta'
import { layersTold, lessDeep, missing, thinFloor, volumeWords } from '../../shared/joining'
import { BEYOND } from '../../shared/join-fields'
import { type LaidArea, laidWords, NOT_LAID, unsized } from '../../shared/laying'
import { type LayingParams } from '../../shared/laying-fields'
import type { Evaluate, StepKind } from '../../step'
import type { inlayParams } from './schema'

export const evaluate: Evaluate<typeof inlayParams> = async (input, params, context) => {
  const { depth, clearance, beneath, leave } = params
  const [words] = context.inputs.words ?? []
  const laying = layingOf(params)
  const size = laying === NOT_LAID ? unsized(context.placed?.words?.[0]?.matrix ?? UNMOVED).size : laying.size / 100
  // shapes whose pockets run into each other are one pocket, whatever layers they are of
  const crowded = words?.kind === 'outline' && comeWithin(words, (2 * clearance) / size)
  if (crowded) await loadManifold()
  const given = crowded ? { ...context, inputs: { ...context.inputs, words: [onePocket(words, clearance / size, context.memo)] } } : context
  const result = await laidWords(input, given, {
    title: 'Inlay',
    how: 'carve',
    forms: [
      {
        kind: extrude as StepKind,
        values: {
          depth: depth + beneath + BEYOND,
          outset: crowded ? 0 : clearance,
          front: { profile: 'square' },
          back: { profile: 'square' },
          corners: 'round',
        },
        face: { belowHighest: BEYOND },
      },
    ],
    laying,
    ...(laying !== NOT_LAID && words?.kind === 'outline' ? { whole: pocketArea(words, size, clearance) } : {}),
  })
  if ('failure' in result) return result.failure
  const { joined, partners, words: laid } = result
  const [{ matrix: m }] = partners
  const marks = {
    ...laid.marks,
    // z of the words is nought on the surface; what is laid stands where the body does
    seat: laying === NOT_LAID ? apply(m, 0, 0, -depth) : ([0, 0, 0] as const),
    layers: layersTold(words),
  }
  await context.breathe()
  const { issues, left } = thinFloor(joined.solid, leave, 'depth', (by) =>
    lessDeep(depth, by) > 0 ? [{ label: `Sink to ${plain(lessDeep(depth, by))} mm`, params: { depth: lessDeep(depth, by) } }] : [],
  )
  return {
    ok: true,
    value: joined.solid,
    issues: [...laid.issues, ...missing(partners, joined.apart, []), ...issues],
    told: [`${volumeWords(joined.before - joined.after)} cut out`, left === undefined ? '' : `${plain(left)} mm left behind`, laid.told]
      .filter(Boolean)
      .join(', '),
    marks,
  }
}

/** How the words of a pocket, and what goes into it, are laid: those that stand in front of the body are cut in to a flat floor. */
export const layingOf = (params: z.infer<typeof inlayParams>): LayingParams => (params.lay === 'place' ? NOT_LAID : params)

/** What a pocket takes up of its words' plane, mm, `size` times as large as they. */
export function pocketArea({ regions }: Outline, size: number, clearance: number): LaidArea {
  const boxes = regions.map((region) => curveBounds(regionPaths(region)))
  const least = (k: 0 | 1) => size * Math.min(...boxes.map((box) => box[k])) - clearance
  const greatest = (k: 2 | 3) => size * Math.max(...boxes.map((box) => box[k])) + clearance
  return [least(0), least(1), greatest(2), greatest(3)]
}

/** Whether any two shapes come within a distance of each other, mm, by their boxes. */
function comeWithin(outline: Outline, distance: number): boolean {
  const boxes = outline.regions.map((region) => curveBounds(regionPaths(region))).sort((a, b) => a[0] - b[0])
  return boxes.some((box, i) => {
    for (let k = i + 1; k < boxes.length && boxes[k][0] <= box[2] + distance; k++) if (boxesMeet(box, boxes[k], distance)) return true
    return false
  })
}

/** The outline grown by so much, mm, as one layer in which nothing overlaps. Needs the manifold kernel loaded. */
function onePocket(outline: Outline, by: number, memo: Memo): Outline {
  const one: Outline = { ...outline, layers: outline.layers.slice(0, 1), regions: outline.regions.map((region) => ({ ...region, layer: 0 })) }
  return by > 0 ? offsetRegions(one, by, 'round', memo) : { ...one, regions: uniteRegions(one.regions.map((region) => ({ region, area: regionArea(region) }))) }
}
