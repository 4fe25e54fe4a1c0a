import { z } from 'zod'
import { gather } from '../../../solid/operations'
import { connectedParts, labelOf, type Solid, triangleCount, vertexCount } from '../../../solid/solid'
import { melted, type Body } from '../../../volume/melt'
import { meta, plain } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { throughVolume, voxelFields } from '../../shared/volumes'
import { defineStep, failed } from '../../step'

/** More bodies than this do not melt by themselves. */
const MOST_BODIES = 200

/** A fillet of more voxels than this is not made. */
const MOST_VOXELS = 60

const meltParams = z.object({
  radius: millimetres('The radius', 0, 200)
    .default(2)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 0.25, tried: true, most: 20, description: 'How far from each other they begin to flow together.' })),
  between: z
    .enum(['letters', 'layers', 'parts'])
    .default('letters')
    .meta(meta({ title: 'Between', labels: ['Letters', 'Layers', 'Loose parts'] })),
  ...voxelFields,
})

export const melt = defineStep({
  kind: 'melt',
  version: 1,
  family: 'Volume',
  title: 'Melt together',
  summary: 'Letters that are near each other flow into one body, like dough or jelly.',
  takes: ['solid', 'assembly'],
  gives: 'solid',
  params: meltParams,
  describe: ({ radius, between }) => `${between === 'letters' ? 'Letters' : between === 'layers' ? 'Layers' : 'Loose parts'}, ${plain(radius)} mm`,
  async evaluate(input, params, context) {
    const { radius, between } = params
    let beyond: 'radius' | 'bodies' | undefined
    const outcome = await throughVolume(input, context, {
      title: 'Melt together',
      params,
      way: 'smooth',
      partsMayChange: true,
      async field({ solid, voxel }) {
        // what has no letters, as a file of bare triangles, melts by its loose parts
        const named = bodiesOf(solid, between)
        const bodies = named.length > 1 ? named : bodiesOf(solid, 'parts')
        if (bodies.length > MOST_BODIES) beyond = 'bodies'
        else if (radius / voxel > MOST_VOXELS) beyond = 'radius'
        if (beyond) return melted(bodies.slice(0, 1), voxel, 0, 'together', () => context.breathe())
        return melted(bodies, voxel, radius, 'together', () => context.breathe())
      },
    })
    if (beyond === 'bodies')
      return failed(
        'too-many',
        `More than ${MOST_BODIES} bodies cannot be melted in one step.`,
        'Melt layers instead of letters, or set fewer words.',
        'between',
      )
    if (beyond === 'radius')
      return failed('too-wide', `A radius of ${plain(radius)} mm is more than ${MOST_VOXELS} voxels.`, 'Give a larger voxel, or a smaller radius.', 'radius')
    return outcome
  },
})

/** The bodies that melt: what belongs to no letter is one of its own. */
function bodiesOf(solid: Solid, between: 'letters' | 'layers' | 'parts'): Body[] {
  const of = between === 'parts' ? connectedParts(solid.indices, vertexCount(solid)).part : labelOf(solid, between === 'letters' ? 'letter' : 'layer')
  const lists = new Map<number, number[]>()
  for (let t = 0; t < triangleCount(solid); t++) {
    const list = lists.get(of[t])
    if (list) list.push(t)
    else lists.set(of[t], [t])
  }
  return [...lists.keys()]
    .sort((a, b) => a - b)
    .map((key) => {
      const list = lists.get(key) as number[]
      return { mesh: gather(solid, list), numbers: Uint32Array.from(list) }
    })
}
