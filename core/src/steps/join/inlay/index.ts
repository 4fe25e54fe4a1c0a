import { z } from 'zod'
import { extrude } from '../../form/extrude'
import type { Memo } from '../../../cache/memo'
import { loadManifold } from '../../../kernel/manifold'
import { boxesMeet, curveBounds, regionArea } from '../../../outline/areas'
import { offsetRegions } from '../../../outline/grow'
import { type Outline, regionPaths } from '../../../outline/outline'
import { uniteRegions } from '../../../outline/unite'
import { apply, UNMOVED } from '../../../solid/operations'
import { meta, plain } from '../../meta'
import { BEYOND, layersTold, leaveParam, lessDeep, missing, thinFloor, volumeWords, wordsParam } from '../../shared/joining'
import { type LaidArea, laidWords, layingFields, type LayingParams, layingWords, NOT_LAID, unsized } from '../../shared/laying'
import { defineStep, type StepKind } from '../../step'

export const inlayParams = z.object({
  words: wordsParam,
  depth: z
    .number('The depth must be a number.')
    .min(0.1, 'The pocket must be at least 0.1 mm deep.')
    .max(500)
    .default(3)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, pull: 'forward', pullBy: -1 })),
  clearance: z
    .number('The clearance must be a number.')
    .min(0)
    .max(20)
    .default(0.15)
    .meta(meta({ title: 'Clearance', unit: 'mm', step: 0.05, description: 'Between the pocket and what goes into it, all round.' })),
  beneath: z
    .number('The room beneath must be a number.')
    .min(0)
    .max(50)
    .default(0.1)
    .meta(meta({ title: 'Room beneath', unit: 'mm', step: 0.05, description: 'For glue, and so that the insert comes down to its height.' })),
  lead: z
    .number('The lead-in must be a number.')
    .min(0)
    .max(20)
    .default(0.4)
    .meta(meta({ title: 'Lead-in', unit: 'mm', step: 0.1, description: 'A chamfer at the foot of the insert.' })),
  proud: z
    .number('How far it stands out must be a number.')
    .min(-100)
    .max(200)
    .default(0)
    .meta(meta({ title: 'Stands out', unit: 'mm', step: 0.5, description: 'How far the insert stands over the face; below 0 it lies deeper.' })),
  ...layingFields,
  floor: layingFields.floor.meta(
    meta({
      title: 'Beneath',
      labels: ['Flat', 'As the surface'],
      description: 'The pocket is flat from the highest place under the words, or everywhere as deep as is asked for.',
      when: { field: 'lay', is: ['straight'] },
    }),
  ),
  leave: leaveParam,
})

export const inlay = defineStep({
  kind: 'inlay',
  version: 2,
  family: 'Join',
  title: 'Inlay',
  summary: 'Cuts a pocket that an insert of the same words fits into, with the clearance, lead-in and height of both in one place.',
  takes: ['solid'],
  gives: 'solid',
  params: inlayParams,
  describe: (params) => {
    const { depth, clearance, proud } = params
    const height = proud === 0 ? ', flush' : proud > 0 ? `, ${plain(proud)} mm proud` : `, ${plain(-proud)} mm sunk`
    return `Pocket ${plain(depth)} mm deep, ${plain(clearance)} mm clear${height}${layingWords(params)}`
  },

  async evaluate(input, params, context) {
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
  },
})

/** How the words of a pocket, and what goes into it, are laid: those that stand in front of the body are cut in to a flat floor. */
export const layingOf = (params: z.infer<typeof inlayParams>): LayingParams => (params.lay === 'place' ? NOT_LAID : params)

/** What a pocket takes up of its words' plane, mm, `size` times as large as they. */
export function pocketArea({ regions }: Outline, size: number, clearance: number): LaidArea {
  const boxes = regions.map((region) => curveBounds(regionPaths(region)))
  const least = (k: 0 | 1) => size * Math.min(...boxes.map((box) => box[k])) - clearance
  const greatest = (k: 2 | 3) => size * Math.max(...boxes.map((box) => box[k])) + clearance
  return [least(0), least(1), greatest(2), greatest(3)]
}

/** How far the pocket reaches from the surface, mm. */
export const pocketReach = ({ depth, beneath }: { readonly depth: number; readonly beneath: number }): number => Math.max(BEYOND, depth + beneath)

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
